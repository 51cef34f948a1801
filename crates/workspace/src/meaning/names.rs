//! The names of the project: what the index is told and asked, and what its answers are for.

use super::finding::{By, Finding, Relation, Topic};
use crate::buffer::Buffer;
use crate::event::Payload;
use crate::ids::BufferId;
use crate::notice::Notice;
use crate::state::meaning::{Errand, Inquiry, Stage};
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::units::{Byte, Line};
use snarvel_files::search::{FileHit, FileHits};
use snarvel_index::definitions::Definition;
use snarvel_index::store::Entry;
use snarvel_index::worker::{Answer, Found, Index, News, Question, Reach, Scope, Watching, told};
use snarvel_servers::ask::Ask;
use snarvel_servers::news::Answer as ServerAnswer;
use snarvel_syntax::names::NameKind;
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

impl Workspace {
    /// The names of the project are kept in the file at `path` from now on.
    pub fn keep_names_in(&mut self, path: PathBuf) {
        self.past.meaning.names.kept = Some(path);
    }

    /// Begins to gather the names of the project, where that is not done yet.
    pub fn gather_names(&mut self) {
        if self.past.meaning.names.index.is_some() {
            return;
        }
        let sink = self.tasks.worker_sink(About::new("the names of the project"), Payload::Names);
        let names = &mut self.past.meaning.names;
        let watching = if names.kept.is_some() { Watching::On } else { Watching::Off };
        let folder = self.project.folder.clone();
        // The root of all files, and all of a person's, are no project.
        let is_all =
            folder.parent().is_none() || std::env::var_os("HOME").is_some_and(|home| Path::new(&home) == folder);
        let reach = if is_all { Reach::OpenTexts } else { Reach::Folder };
        let kept = names.kept.clone().filter(|_| !is_all);
        let scope = Scope { folder, kept, watching, reach };
        names.began = Some(Instant::now());
        names.index = Some(Index::start(scope, sink));
        names.growing = Some(0);
    }

    /// Gathers the names of the project where they are kept: to be called once a frame is drawn.
    pub fn keep_names(&mut self) {
        if self.past.meaning.names.kept.is_some() {
            self.gather_names();
        }
    }

    /// How many files the index has looked at while it is growing; none once it has seen all.
    #[must_use]
    pub fn names_growing(&self) -> Option<usize> {
        self.past.meaning.names.growing
    }

    /// How many files and names of the project are known.
    #[must_use]
    pub fn name_counts(&self) -> [usize; 2] {
        self.past.meaning.names.counts
    }

    /// A file as the index names it: from the folder of the project.
    fn index_path(&self, buffer: &Buffer) -> Option<PathBuf> {
        let path = buffer.path()?;
        Some(path.strip_prefix(&self.project.folder).unwrap_or(path).to_owned())
    }

    /// Tells the index of texts that have changed since it was told last.
    fn tell_names(&mut self) {
        let changed: Vec<(BufferId, PathBuf, u64)> = self
            .buffers
            .iter()
            .filter(|buffer| !buffer.is_partial() && buffer.text().len() <= LARGEST_TOLD)
            .filter_map(|buffer| Some((buffer.id, self.index_path(buffer)?, buffer.revision())))
            .filter(|(id, path, revision)| {
                let known = self.past.meaning.names.told.get(id);
                let is_as_on_disk = known.is_none() && self.buffer(*id).is_some_and(|buffer| !buffer.is_unsaved());
                !is_as_on_disk && known.is_none_or(|(old, seen)| (old, seen) != (path, revision))
            })
            .collect();
        let open: Vec<BufferId> = self.buffers.iter().map(|buffer| buffer.id).collect();
        let names = &mut self.past.meaning.names;
        let Some(index) = &names.index else { return };
        names.told.retain(|id, (path, _)| {
            let stays = open.contains(id);
            if !stays {
                index.closed(path.clone());
            }
            stays
        });
        for (id, path, revision) in changed {
            let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == id) else { continue };
            if let Some(index) = &self.past.meaning.names.index {
                index.edited(path.clone(), buffer.language().clone(), buffer.text().clone());
            }
            self.past.meaning.names.told.insert(id, (path, revision));
        }
    }

    /// Files of the project have changed on the disk.
    pub(crate) fn tell_names_of_disk(&mut self, paths: Vec<PathBuf>) {
        if let Some(index) = &self.past.meaning.names.index {
            index.changed_on_disk(paths);
        }
    }

    /// Asks the index, which is told of all changes before.
    pub(crate) fn ask_names(&mut self, number: u64, question: Question) {
        self.gather_names();
        self.tell_names();
        let has_screen = self.tasks.has_screen;
        let names = &mut self.past.meaning.names;
        match &names.index {
            Some(index) if has_screen || names.growing.is_none() => index.ask(number, question),
            _ => names.waiting.push((number, question)),
        }
    }

    /// Whether a script waits for the index.
    pub(crate) fn awaits_names(&self) -> bool {
        let meaning = &self.past.meaning;
        let is_asked = meaning.asked.inquiries.iter().any(|each| !matches!(each.stage, Stage::Server(_)));
        let names = &meaning.names;
        // Offers come without names where those take long: in a folder of many files.
        let is_late = names.growing.is_some() && names.began.is_some_and(|began| began.elapsed() > LONGEST_FOR_OFFERS);
        is_asked || names.like.is_some() || (names.offers.is_some() && !is_late)
    }

    /// Asks for names of the project that letters fit, for a panel; the number that the answer bears.
    pub fn ask_for_names(&mut self, letters: &str) -> u64 {
        let number = self.next_question();
        self.past.meaning.names.like = Some(number);
        self.ask_names(number, Question::Like(letters.to_owned()));
        self.cancel_errands(|errand| matches!(errand, Errand::Names { .. }));
        self.past.meaning.names.of_server = (number, Vec::new());
        let id = self.active().id;
        self.send_errand(id, Ask::Names(letters.to_owned()), |_| Errand::Names { number });
        number
    }

    /// A server knows names of the project, too: those that the index lacks come after its own.
    pub(crate) fn take_server_names(&mut self, number: u64, answer: ServerAnswer) {
        let ServerAnswer::Symbols(symbols) = answer else { return };
        let known = std::mem::take(&mut self.past.meaning.names.of_server);
        if known.0 != number {
            self.past.meaning.names.of_server = known;
            return;
        }
        let mut entries = known.1;
        let had = entries.len();
        for symbol in symbols {
            let place = self.in_folder(symbol.place);
            let Some(hit) = place.hits.first() else { continue };
            let is_known = |entry: &Entry| {
                entry.path == place.path && entry.definition.line.0 == hit.line && entry.definition.name == symbol.name
            };
            if !entries.iter().any(is_known) {
                let definition = Definition {
                    name: symbol.name.clone(),
                    kind: NameKind::by_name(symbol.kind).unwrap_or(NameKind::Variable),
                    container: symbol.container.clone(),
                    span: hit.span,
                    line: Line(hit.line),
                    signature: hit.excerpt.clone(),
                    comment: String::new(),
                };
                entries.push(Entry { path: place.path.clone(), definition });
            }
        }
        let is_more = entries.len() > had;
        self.past.meaning.names.of_server = (number, entries.clone());
        if is_more && self.past.meaning.names.like != Some(number) {
            self.told.notices.push(Notice::Names(number, entries));
        }
    }

    /// An inquiry goes on by name: no server knows the answer.
    pub(crate) fn inquire_by_name(&mut self, inquiry: Inquiry) {
        let Some(buffer) = self.buffer(inquiry.buffer) else { return };
        let path = self.index_path(buffer).unwrap_or_else(|| PathBuf::from(buffer.name()));
        let question = match inquiry.topic {
            Topic::Uses => return self.look_for_uses(inquiry),
            Topic::Relations => {
                self.past.meaning.names.told.remove(&inquiry.buffer);
                Question::File(path)
            }
            _ => Question::Definition {
                path,
                language: buffer.language().clone(),
                text: buffer.text().clone(),
                at: inquiry.word.start,
            },
        };
        let number = inquiry.number;
        self.past.meaning.asked.inquiries.push(Inquiry { stage: Stage::Index, ..inquiry });
        self.ask_names(number, question);
    }

    /// Takes in what the index tells.
    pub(crate) fn take_names(&mut self, news: News) {
        match news {
            News::Growing(files) => self.past.meaning.names.growing = Some(files),
            News::Whole(counts) => {
                let names = &mut self.past.meaning.names;
                (names.growing, names.counts) = (None, counts);
                for (number, question) in std::mem::take(&mut names.waiting) {
                    names.index.iter().for_each(|index| index.ask(number, question.clone()));
                }
            }
            News::Trouble(why) => self.say(why),
            News::Answer(number, answer) => self.take_names_answer(number, answer),
        }
    }

    fn take_names_answer(&mut self, number: u64, answer: Answer) {
        let names = &mut self.past.meaning.names;
        if names.like == Some(number) {
            names.like = None;
            if let Answer::Entries(mut entries) = answer {
                // What a server told before.
                let told = std::mem::take(&mut names.of_server.1);
                entries.extend(told.into_iter().filter(|told| !entries.contains(told)).collect::<Vec<_>>());
                names.of_server = (number, entries.clone());
                self.told.notices.push(Notice::Names(number, entries));
            }
            return;
        }
        if let Some((_, question)) = names.offers.take_if(|(asked, _)| *asked == number) {
            if let Answer::Entries(entries) = answer {
                self.offer_names(question, entries);
            }
            return;
        }
        let Some(inquiry) = self.take_inquiry(number) else { return };
        match answer {
            Answer::Definition(found) => self.finish_definition(&inquiry, found),
            Answer::Entries(entries) => self.finish_outline(&inquiry, &entries),
        }
    }

    fn finish_definition(&mut self, inquiry: &Inquiry, found: Option<Found>) {
        let candidates = found.map(|found| found.candidates).unwrap_or_default();
        let mut finding = inquiry.nothing(By::Index);
        if let Some(first) = candidates.first() {
            finding.text = described(first);
        }
        if inquiry.topic != Topic::Describe {
            finding.files = candidates.iter().map(hits_of).collect();
        }
        self.finish(inquiry, finding);
    }

    /// What has to do with a name, by the outline of its file: the parts of a type, else all that the file defines.
    fn finish_outline(&mut self, inquiry: &Inquiry, entries: &[Entry]) {
        let is_part = |entry: &&Entry| entry.definition.container == inquiry.name;
        let parts = entries.iter().any(|entry| is_part(&entry));
        let relation = |entry: &Entry| Relation {
            how: if parts { "part" } else { "in this file" },
            name: entry.definition.name.clone(),
            kind: told(&entry.definition),
            depth: usize::from(!parts && !entry.definition.container.is_empty()),
            place: hits_of(entry),
        };
        let relations = entries.iter().filter(|entry| !parts || is_part(entry)).map(relation).collect();
        let finding = Finding { relations, ..inquiry.nothing(By::Outline) };
        self.finish(inquiry, finding);
    }

    pub(crate) fn keep_finding(&mut self, finding: Finding) {
        self.past.meaning.asked.findings.insert(finding.number, finding);
    }

    pub(crate) fn kept_finding(&mut self, number: u64) -> Option<Finding> {
        self.past.meaning.asked.findings.remove(&number)
    }
}

/// A script waits so long for the names of a project when something is offered.
const LONGEST_FOR_OFFERS: Duration = Duration::from_secs(2);

/// Larger texts are not told to the index, in bytes.
const LARGEST_TOLD: usize = snarvel_index::reading::LARGEST_FILE as usize;

/// A definition as a place.
#[must_use]
pub fn hits_of(entry: &Entry) -> FileHits {
    let definition = &entry.definition;
    let start = definition.signature.find(&definition.name).unwrap_or(0);
    let within = start..(start + definition.name.len()).min(definition.signature.len());
    let hit = FileHit {
        span: definition.span,
        kind: Kind::Code,
        line: definition.line.0,
        excerpt: definition.signature.clone(),
        within,
    };
    FileHits { path: entry.path.clone(), hits: vec![hit] }
}

/// What there is to read of a definition: its line as code, and its comment.
fn described(entry: &Entry) -> String {
    let definition = &entry.definition;
    let place = format!("{}:{}", entry.path.display(), definition.line.0 + 1);
    let parts = [format!("`{}`", definition.signature), definition.comment.clone(), place];
    parts.into_iter().filter(|part| !part.is_empty()).collect::<Vec<_>>().join("\n\n")
}

/// A path as it is shown: from the folder of the project where it is in there.
#[must_use]
pub fn shown_path(path: &Path, folder: &Path) -> String {
    path.strip_prefix(folder).unwrap_or(path).display().to_string()
}

/// Where an entry is, as a byte.
#[must_use]
pub fn start_of(entry: &Entry) -> Byte {
    entry.definition.span.start
}
