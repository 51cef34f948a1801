//! The thread that keeps the names of a project up to date and answers.
//!
//! When it starts, two threads walk, read and parse the files that are new or other ones than were kept; what they find comes in
//! between questions, so that answers come at once, from what is known so far. A text under edit takes the place of its file. Nothing here is
//! waited for by a key.

use crate::definitions::{Definition, definitions};
use crate::locals::{import_of, local_at};
use crate::ranking::{self, ranked, use_of};
use crate::reading::{AHEAD, FileRead, LARGEST_FILE, PARSE_LIMIT, Seen, look_at_all, read, stamp_of};
use crate::store::{Entry, Error, FileStamp, Store};
use nucleo_matcher::pattern::{CaseMatching, Normalization, Pattern};
use nucleo_matcher::{Config, Matcher, Utf32Str};
use snarvel_core::languages::Language;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use snarvel_files::tree_watch::watch_tree;
use snarvel_syntax::names::{NameKind, Named, Namer};
use snarvel_task::{Cancel, Context, Report};
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::mpsc::{Receiver, Sender, SyncSender, channel, sync_channel};

/// So many files are put in between two looks for questions.
const IN_A_ROW: usize = 16;

/// So many definitions are given for a name.
const MOST_CANDIDATES: usize = 200;

/// Where names are looked for and kept.
#[derive(Clone, Debug)]
pub struct Scope {
    /// The folder of the project.
    pub folder: PathBuf,
    /// The database; none where nothing is kept.
    pub kept: Option<PathBuf>,
    /// Whether files that others change are read again.
    pub watching: Watching,
    /// Which files are looked at.
    pub reach: Reach,
}

/// Which files are looked at.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Reach {
    /// Those of the folder.
    Folder,
    /// Only texts that are under edit: the folder is no project.
    OpenTexts,
}

/// Whether the disk is watched.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Watching {
    /// It is.
    On,
    /// It is not.
    Off,
}

/// What is asked.
#[derive(Clone, Debug)]
pub enum Question {
    /// Where the name at a place of a text is defined.
    Definition {
        /// The file of the text, from the folder of the project; as a whole path where it is elsewhere.
        path: PathBuf,
        /// The language of the text.
        language: Arc<Language>,
        /// The text.
        text: Text,
        /// Where the name is.
        at: Byte,
    },
    /// Names that letters fit, the best first.
    Like(String),
    /// What a file defines.
    File(PathBuf),
}

/// What a name at a place is, and where it may be defined.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Found {
    /// The name.
    pub name: String,
    /// Where it is.
    pub word: Span,
    /// Where it may be defined, the best first. A local is one of a kind.
    pub candidates: Vec<Entry>,
}

/// An answer.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Answer {
    /// Where a name is defined; none where there is no name at the place.
    Definition(Option<Found>),
    /// Definitions.
    Entries(Vec<Entry>),
}

/// What is told.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum News {
    /// It is growing: so many files were looked at.
    Growing(usize),
    /// All files were looked at: how many there are, and how many names.
    Whole([usize; 2]),
    /// The answer to the question of that number.
    Answer(u64, Answer),
    /// Names cannot be kept or found; why.
    Trouble(String),
}

/// What the thread is given.
enum Message {
    /// A text under edit: its file, from the folder of the project.
    Text(PathBuf, Arc<Language>, Text),
    /// A text is no longer under edit.
    Closed(PathBuf),
    /// Files that others have changed, as whole paths.
    Disk(Vec<PathBuf>),
    Ask(u64, Question),
    /// Something of the walk through the files.
    Seen(Seen),
    End,
}

/// The names of a project. Dropping it ends its thread.
#[derive(Debug)]
pub struct Index {
    inbox: Sender<Message>,
    cancel: Cancel,
}

impl Index {
    /// Starts it: what it has to tell goes to `sink`.
    #[must_use]
    pub fn start(scope: Scope, sink: impl Fn(Report<News>) + Send + 'static) -> Index {
        let (inbox, messages) = channel();
        let cancel = Cancel::default();
        let (own, to_self) = (cancel.clone(), inbox.clone());
        let task = snarvel_task::spawn(sink, move |context| {
            match Store::open(scope.kept.as_deref()).or_else(|_| Store::open(None)) {
                Ok(store) => {
                    let mut work = Work {
                        folder: scope.folder.clone(),
                        store,
                        namer: Namer::default(),
                        edited: HashMap::new(),
                        names: None,
                        looked_at: 0,
                        parsed: None,
                        is_growing: true,
                        early: Vec::new(),
                    };
                    let known = Work::told(work.store.files(), context).unwrap_or_default();
                    let credits = match scope.reach {
                        Reach::Folder => work.begin(&to_self, &own, known.clone()),
                        Reach::OpenTexts => {
                            let _ = to_self.send(Message::Seen(Seen::All));
                            sync_channel(AHEAD).0
                        }
                    };
                    let _watch = (scope.watching == Watching::On).then(|| watch(&work.folder, to_self.clone()));
                    drop(to_self);
                    work.run(&messages, (&credits, known), context);
                }
                Err(error) => context.send(News::Trouble(error.to_string())),
            }
        });
        drop(task.detached());
        Index { inbox, cancel }
    }

    /// Tells that the text of a file, named from the folder of the project, is under edit.
    pub fn edited(&self, path: PathBuf, language: Arc<Language>, text: Text) {
        self.give(Message::Text(path, language, text));
    }

    /// Tells that the text of a file is no longer under edit.
    pub fn closed(&self, path: PathBuf) {
        self.give(Message::Closed(path));
    }

    /// Tells that files, named by whole paths, have changed.
    pub fn changed_on_disk(&self, paths: Vec<PathBuf>) {
        self.give(Message::Disk(paths));
    }

    /// Asks something; the answer bears the number.
    pub fn ask(&self, number: u64, question: Question) {
        self.give(Message::Ask(number, question));
    }

    fn give(&self, message: Message) {
        // One that has panicked was told of.
        let _ = self.inbox.send(message);
    }
}

impl Drop for Index {
    fn drop(&mut self) {
        self.cancel.cancel();
        self.give(Message::End);
    }
}

/// Leave to read files ahead: one for each that may wait.
type Credits = SyncSender<()>;

/// What is kept of files: how each looked.
type Known = HashMap<PathBuf, FileStamp>;

struct Work {
    folder: PathBuf,
    store: Store,
    namer: Namer,
    /// What texts under edit define, which counts in place of their files.
    edited: HashMap<PathBuf, Vec<Definition>>,
    /// All names, while nothing was put in since.
    names: Option<Arc<Vec<String>>>,
    looked_at: usize,
    /// Whether files are still being looked at for the first time.
    is_growing: bool,
    /// Questions that found nothing yet: they are answered once all files were looked at.
    early: Vec<(u64, Question)>,
    /// The names of the text that was asked about last.
    parsed: Option<(Text, Vec<Named>)>,
}

impl Work {
    /// Begins to look at the files.
    fn begin(&mut self, inbox: &Sender<Message>, cancel: &Cancel, known: Known) -> Credits {
        let (credits, to_use) = sync_channel(AHEAD);
        // They may fail only where the other end is gone.
        (0..AHEAD).for_each(|_| {
            let _ = credits.send(());
        });
        let (folder, inbox, cancel) = (self.folder.clone(), inbox.clone(), cancel.clone());
        std::thread::spawn(move || {
            let tell = |seen| inbox.send(Message::Seen(seen)).is_ok();
            let is_known = |path: &Path, stamp| known.get(path) == Some(&stamp);
            look_at_all(&folder, &is_known, (&tell, to_use), &cancel);
        });
        credits
    }

    fn run(&mut self, messages: &Receiver<Message>, (credits, mut gone): (&Credits, Known), context: &Context<News>) {
        while let Ok(first) = messages.recv() {
            // Questions go before files.
            let mut files = Vec::new();
            for message in std::iter::once(first).chain(messages.try_iter().take(IN_A_ROW)) {
                match message {
                    Message::End => {
                        let _ = self.store.finish();
                        return;
                    }
                    Message::Seen(seen) => files.push(seen),
                    other => self.take(other, context),
                }
            }
            for seen in files {
                match seen {
                    Seen::Read(file) => {
                        gone.remove(&file.path);
                        let _ = credits.try_send(());
                        self.put(&file, context);
                    }
                    Seen::Same(path) => {
                        gone.remove(&path);
                        self.looked_at += 1;
                    }
                    Seen::All => {
                        self.is_growing = false;
                        self.forget_gone(&mut gone, context);
                        for (number, question) in std::mem::take(&mut self.early) {
                            self.take(Message::Ask(number, question), context);
                        }
                    }
                }
            }
            if self.is_growing && self.looked_at.is_multiple_of(64) {
                context.send(News::Growing(self.looked_at));
            }
        }
    }

    fn told<T>(result: Result<T, Error>, context: &Context<News>) -> Option<T> {
        result.map_err(|error| context.send(News::Trouble(error.to_string()))).ok()
    }

    fn put(&mut self, file: &FileRead, context: &Context<News>) {
        self.looked_at += 1;
        self.names = None;
        let result = self.store.begin().and_then(|()| self.store.put(&file.path, file.stamp, &file.definitions));
        Work::told(result, context);
    }

    /// All files were looked at: what was kept and is there no more goes.
    fn forget_gone(&mut self, gone: &mut HashMap<PathBuf, FileStamp>, context: &Context<News>) {
        for (path, _) in gone.drain() {
            Work::told(self.store.begin().and_then(|()| self.store.forget(&path)), context);
        }
        Work::told(self.store.finish(), context);
        if let Some(counts) = Work::told(self.store.counts(), context) {
            context.send(News::Whole(counts));
        }
    }

    fn take(&mut self, message: Message, context: &Context<News>) {
        match message {
            Message::Text(path, language, text) => {
                let found = definitions(&mut self.namer, (&language, &text), PARSE_LIMIT);
                self.edited.insert(path, found);
                self.names = None;
            }
            Message::Closed(path) => {
                self.edited.remove(&path);
                self.names = None;
            }
            Message::Disk(paths) => paths.iter().for_each(|path| self.read_again(path, context)),
            Message::Ask(number, question) => {
                let answer = Work::told(self.answer(question.clone()), context);
                let finds_nothing =
                    |answer: &Answer| matches!(answer, Answer::Definition(Some(found)) if found.candidates.is_empty());
                if self.is_growing && answer.as_ref().is_some_and(finds_nothing) {
                    self.early.push((number, question));
                } else if let Some(answer) = answer {
                    context.send(News::Answer(number, answer));
                }
            }
            Message::Seen(_) | Message::End => {}
        }
    }

    fn read_again(&mut self, path: &Path, context: &Context<News>) {
        let Ok(own) = path.strip_prefix(&self.folder).map(Path::to_owned) else { return };
        let about = std::fs::metadata(path).ok().filter(|about| about.is_file() && about.len() <= LARGEST_FILE);
        let result = match about {
            Some(about) => {
                let file = read(&mut self.namer, path, own, stamp_of(&about));
                self.names = None;
                self.store.put(&file.path, file.stamp, &file.definitions)
            }
            None => self.store.forget(&own),
        };
        Work::told(result, context);
    }

    fn answer(&mut self, question: Question) -> Result<Answer, Error> {
        match question {
            Question::Definition { path, language, text, at } => {
                Ok(Answer::Definition(self.definition((&path, &language), &text, at)?))
            }
            Question::Like(letters) => Ok(Answer::Entries(self.like(&letters)?)),
            Question::File(path) => Ok(Answer::Entries(self.of_file(&path)?)),
        }
    }

    fn of_file(&self, path: &Path) -> Result<Vec<Entry>, Error> {
        match self.edited.get(path) {
            Some(definitions) => Ok(entries(path, definitions)),
            None => self.store.of_file(path),
        }
    }

    /// The definitions of `name`, those of texts under edit in place of their files'; of a name that very many have, those near a file.
    fn named(&self, name: &str, near: Option<&Path>) -> Result<Vec<Entry>, Error> {
        let mut found = self.store.named(name)?;
        if let Some(folder) = near
            .and_then(Path::parent)
            .filter(|folder| !folder.as_os_str().is_empty() && found.len() >= MOST_CANDIDATES)
        {
            let known = |entry: &Entry| found.contains(entry);
            let near: Vec<Entry> =
                self.store.named_near(name, folder)?.into_iter().filter(|entry| !known(entry)).collect();
            found.extend(near);
        }
        found.retain(|entry| !self.edited.contains_key(&entry.path));
        for (path, definitions) in &self.edited {
            found.extend(entries(path, definitions).into_iter().filter(|entry| entry.definition.name == name));
        }
        Ok(found)
    }

    fn definition(
        &mut self,
        (path, language): (&Path, &Arc<Language>),
        text: &Text,
        at: Byte,
    ) -> Result<Option<Found>, Error> {
        let Some(word) = text.word_at(at.min(text.end()), language.word_rule()) else { return Ok(None) };
        let name = text.slice(word).into_owned();
        if !name.chars().any(char::is_alphanumeric) {
            return Ok(None);
        }
        let names = self.names_of(language, text);
        let of = use_of((text, language), path, word);
        let is_part = of.part_of.as_deref().is_some_and(|owner| !owner.is_empty());
        if let Some(local) = local_at(&names, text, word).filter(|_| !is_part) {
            let entry = Entry { path: path.to_owned(), definition: crate::definitions::local(text, local) };
            return Ok(Some(Found { name, word, candidates: vec![entry] }));
        }
        let inside = names
            .iter()
            .filter(|named| named.whole.start <= word.start && word.end <= named.whole.end)
            .filter_map(|named| named.container)
            .next_back()
            .map(|container| text.slice(container).into_owned());
        let of = ranking::Use { inside, ..of };
        let mut candidates = ranked(self.named(&name, Some(path))?, &of);
        candidates.truncate(MOST_CANDIDATES);
        // Where nothing else is known the import says at least where it comes from.
        if candidates.is_empty()
            && let Some(import) = import_of(&names, text, &name)
        {
            candidates.push(Entry { path: path.to_owned(), definition: crate::definitions::local(text, import) });
        }
        Ok(Some(Found { name, word, candidates }))
    }

    fn names_of(&mut self, language: &Arc<Language>, text: &Text) -> Vec<Named> {
        if let Some((known, names)) = &self.parsed
            && known == text
        {
            return names.clone();
        }
        let names = self.namer.names(language, text, PARSE_LIMIT).unwrap_or_default();
        self.parsed = Some((text.clone(), names.clone()));
        names
    }

    /// Definitions whose names `letters` fit, the best first.
    fn like(&mut self, letters: &str) -> Result<Vec<Entry>, Error> {
        let names = match &self.names {
            Some(names) => names.clone(),
            None => {
                let mut names = self.store.names()?;
                let edited = self.edited.values().flatten().map(|definition| definition.name.clone());
                names.extend(edited);
                names.sort_unstable();
                names.dedup();
                let names = Arc::new(names);
                self.names = Some(names.clone());
                names
            }
        };
        let mut matcher = Matcher::new(Config::DEFAULT);
        let pattern = Pattern::parse(letters, CaseMatching::Smart, Normalization::Smart);
        let mut buffer = Vec::new();
        let mut fitting: Vec<(u32, &String)> = names
            .iter()
            .filter_map(|name| Some((pattern.score(Utf32Str::new(name, &mut buffer), &mut matcher)?, name)))
            .collect();
        fitting.sort_by_key(|(score, name)| (std::cmp::Reverse(*score), name.len()));
        let mut found = Vec::new();
        for (_, name) in fitting {
            if found.len() >= MOST_CANDIDATES {
                break;
            }
            found.extend(self.named(name, None)?);
        }
        found.truncate(MOST_CANDIDATES);
        Ok(found)
    }
}

fn entries(path: &Path, definitions: &[Definition]) -> Vec<Entry> {
    definitions.iter().map(|definition| Entry { path: path.to_owned(), definition: definition.clone() }).collect()
}

/// Watches the folder on a thread of its own, as long as the handle lives.
fn watch(folder: &Path, inbox: Sender<Message>) -> Sender<()> {
    let folder = folder.to_owned();
    let (alive, ended) = channel::<()>();
    std::thread::spawn(move || {
        let watching = watch_tree(&folder, move |paths| {
            let _ = inbox.send(Message::Disk(paths));
        });
        // It ends when the handle is dropped.
        let _ = ended.recv();
        drop(watching);
    });
    alive
}

/// The kind of a definition in words, with what it is in.
#[must_use]
pub fn told(definition: &Definition) -> String {
    match (definition.kind, definition.container.as_str()) {
        (NameKind::Section, _) => "section".to_owned(),
        (kind, "") => kind.name().to_owned(),
        (kind, container) => format!("{} of {container}", kind.name()),
    }
}
