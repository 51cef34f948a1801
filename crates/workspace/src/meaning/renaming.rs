//! Another name over the project: by meaning where a server can, else by name in code.
//!
//! By name: a local in its own function or block only; else every whole word of that name in code that the tree does not tell apart. After
//! `.`, `->` and `::` a name is a part of what is before it, so that fields of other types stay. Holes of strings are code.

use super::applying::Plan;
use super::asking::NO_NAME;
use super::words::whole_word;
use crate::buffer::parsing::Taken;
use crate::editing::Effects;
use crate::event::Payload;
use crate::ids::TaskId;
use crate::open_texts::OpenText;
use crate::state::meaning::{Errand, Renaming};
use crate::structure::structure;
use crate::tasks::About;
use crate::workspace::{StructureWait, Workspace};
use snarvel_core::languages::Language;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::search::pattern::Pattern;
use snarvel_core::structure::Known;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use snarvel_core::verbs::bare::with_bare_scene;
use snarvel_core::verbs::cursors::conflicts::{conflict, conflict_of};
use snarvel_core::verbs::cursors::names::{Belongs, belongs_to, kind_of_name};
use snarvel_core::verbs::cursors::rename::is_last_stage;
use snarvel_files::folder::each_file;
use snarvel_files::search::{language_of, text_at};
use snarvel_index::locals::local_at;
use snarvel_servers::ask::{Ask, At};
use snarvel_servers::news::{Base, Edits, FileEdit};
use snarvel_syntax::background::parsed_now;
use snarvel_syntax::names::{NameKind, Named, Namer};
use snarvel_task::{Cancel, waits};
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::time::Duration;

/// A file is parsed for so long at most.
const PARSE_LIMIT: Duration = Duration::from_secs(2);

/// What is given another name.
#[derive(Debug)]
struct Subject {
    path: PathBuf,
    text: Text,
    language: Arc<Language>,
    word: Span,
    name: String,
}

/// What the name is, as its own file tells.
#[derive(Clone, Debug, PartialEq, Eq)]
enum What {
    /// A local: its uses are in this span.
    Local(Span),
    /// It is part of something.
    Part,
    /// It is known by itself: a function, a type.
    Whole,
}

impl Workspace {
    /// Whether every use of the name in the file is a cursor already: what comes next is the project.
    #[must_use]
    pub fn is_renamed_everywhere_here(&self) -> bool {
        let (buffer, view) = (self.active(), self.view());
        let primary = view.cursors().primary();
        !primary.is_caret() && view.with_scene(buffer, is_last_stage)
    }

    /// What it would break in this file to call what the name at the caret means `name`.
    #[must_use]
    pub fn conflict_of_name(&self, name: &str) -> Option<String> {
        let word = self.name_at_caret()?;
        let found = self.view().with_scene(self.active(), |scene| conflict(scene, word, name));
        found.map(|found| found.told(name).to_string())
    }

    /// The name that is typed at all cursors: the word before the primary one.
    #[must_use]
    pub fn typed_name(&self) -> Option<String> {
        self.name_at_caret().map(|word| self.active().text().slice(word).into_owned())
    }

    /// What the name that is typed at all cursors would break. None while the structure of the text is not known.
    pub fn conflict_of_typed(&mut self, wait: StructureWait) -> Option<Option<String>> {
        let word = self.name_at_caret()?;
        let (tasks, views, buffers) = (&mut self.tasks, &self.views, &mut self.buffers);
        let view = views.get(views.focus())?;
        let buffer = buffers.known_mut(view.buffer)?;
        if wait == StructureWait::Short {
            structure(tasks, buffer, view, waits::STRUCTURE);
        }
        if matches!(buffer.parsing.structure(word, buffer.revision()), Taken::NotYet) {
            return None;
        }
        let (text, rule) = (buffer.text(), buffer.language().word_rule());
        let name = text.slice(word).into_owned();
        let spans: Vec<Span> = view.cursors().iter().filter_map(|each| text.word_at(each.head, rule)).collect();
        let found = view.with_scene(buffer, |scene| conflict_of(scene, &spans, &name));
        Some(found.map(|found| found.told(&name).to_string()))
    }

    /// Gives the name at the caret another one in the whole project.
    pub fn rename(&mut self, name: &str) -> Effects {
        let refused = |why: String| Effects { is_refused: true, ..Effects::saying(why) };
        let Some(word) = self.name_at_caret() else { return refused(NO_NAME.to_owned()) };
        let buffer = self.active();
        let (id, revision) = (buffer.id, buffer.revision());
        let rule = buffer.language().word_rule();
        let is_name = !name.is_empty()
            && name.chars().all(|c| rule.class(c).is_word() || c == '$' || c == '-')
            && !name.starts_with(|c: char| c.is_numeric());
        if !is_name {
            return refused(format!("{name:?} is no name: letters, digits and _ are, and no digit first"));
        }
        if *buffer.text().slice(word) == *name {
            return refused(format!("it is called {name} already"));
        }
        if let Some(path) = buffer.path().map(Path::to_owned) {
            let ask = Ask::Rename(At { path, byte: word.start }, name.to_owned());
            if self.send_errand(id, ask, |_| Errand::Edits { verb: "rename", buffer: id, revision }) {
                return Effects::default();
            }
        }
        self.rename_by_name(word, name.to_owned());
        Effects::default()
    }

    fn rename_by_name(&mut self, word: Span, new: String) {
        let buffer = self.active();
        let of = (buffer.id, buffer.revision());
        let subject = Subject {
            path: buffer.path().map_or_else(|| PathBuf::from(buffer.name()), Path::to_owned),
            text: buffer.text().clone(),
            language: buffer.language().clone(),
            word,
            name: buffer.text().slice(word).into_owned(),
        };
        let (folder, open) = (self.project.folder.clone(), self.open_texts());
        let name = new.clone();
        let about = About::new("looking for uses");
        let task = self.tasks.start(about, Payload::Renamed, move |sink| {
            snarvel_task::spawn(sink, move |context| {
                context.send(edits(&subject, &new, (&folder, &open), context.cancel()));
            })
        });
        self.past.meaning.jobs.renaming = Some(Renaming { task, name, of });
    }

    /// The uses by name are found.
    pub(crate) fn take_renamed(&mut self, task: TaskId, edits: Edits) {
        let Some(renaming) = self.past.meaning.jobs.renaming.take_if(|each| each.task.id == task) else { return };
        if !self.is_still(renaming.of) {
            self.say("nothing was changed: the text was changed meanwhile");
            return;
        }
        let said = format!("renamed to {}, by name in code", renaming.name);
        self.begin_edits(edits, Plan::of("rename", said));
    }
}

/// Every use of the subject that gets the name `new`.
fn edits(subject: &Subject, new: &str, (folder, open): (&Path, &HashMap<PathBuf, OpenText>), cancel: &Cancel) -> Edits {
    let mut edits = Edits::default();
    let Some(pattern) = whole_word(&subject.name) else { return edits };
    let mut namer = Namer::default();
    let what = what_is(subject, &mut namer);
    let mut add = |path: &Path, text: &Text, language: &Arc<Language>| {
        let is_own = path == subject.path;
        let spans = uses((text, language), (&pattern, subject, &what), is_own, &mut namer);
        if spans.is_empty() {
            return;
        }
        let base = match open.get(path) {
            Some(open) => Base::Open(open.revision),
            None => Base::Disk(text.clone()),
        };
        let put =
            |span: Use| (span.span, if span.is_both { format!("{}: {new}", subject.name) } else { new.to_owned() });
        edits.files.push(FileEdit { path: path.to_owned(), base, edits: spans.into_iter().map(put).collect() });
    };
    add(&subject.path, &subject.text, &subject.language);
    if matches!(what, What::Local(_)) {
        return edits;
    }
    let family = snarvel_index::ranking::family(&subject.language.name);
    each_file(folder, &mut |own, about| {
        let path = folder.join(own);
        if path != subject.path && about.len() <= snarvel_index::reading::LARGEST_FILE {
            let text = open.get(&path).map(|open| open.text.clone()).or_else(|| text_at(&path));
            if let Some(text) = text.filter(|text| text_may_hold(text, &subject.name)) {
                let language = language_of(&path, &text);
                if snarvel_index::ranking::family(&language.name) == family {
                    add(&path, &text, &language);
                }
            }
        }
        !cancel.is_cancelled()
    });
    edits
}

fn text_may_hold(text: &Text, name: &str) -> bool {
    snarvel_core::search::Matches::within(text, name, text.span()).next().is_some()
}

/// What the name is, as its own file tells.
fn what_is(subject: &Subject, namer: &mut Namer) -> What {
    let Subject { text, language, word, .. } = subject;
    let names = namer.names(language, text, PARSE_LIMIT).unwrap_or_default();
    let parsed = parsed_now(language, text, PARSE_LIMIT);
    let known = parsed.as_ref().map_or(Known::NoGrammar, |parsed| Known::Parsed(parsed));
    let belongs = with_bare_scene((text, language), known, |scene| belongs_to(scene, *word));
    let is_part = matches!(belongs, Belongs::Member | Belongs::Key);
    if let Some(local) = local_at(&names, text, *word).filter(|_| !is_part) {
        return What::Local(local.scope.unwrap_or_else(|| text.span()));
    }
    let defined = names.iter().find(|named| named.name == *word);
    let is_field = defined.is_some_and(|named| named.kind == NameKind::Field);
    let is_method = defined.is_some_and(|named| named.kind == NameKind::Function && named.container.is_some());
    if is_part || is_field || is_method { What::Part } else { What::Whole }
}

/// A use.
struct Use {
    span: Span,
    /// Whether one word is the name of a field as well: the field keeps its name.
    is_both: bool,
}

/// The uses in a text.
fn uses(
    (text, language): (&Text, &Arc<Language>),
    (pattern, subject, what): (&Pattern, &Subject, &What),
    is_own: bool,
    namer: &mut Namer,
) -> Vec<Use> {
    let names = namer.names(language, text, PARSE_LIMIT).unwrap_or_default();
    let parsed = parsed_now(language, text, PARSE_LIMIT);
    let known = parsed.as_ref().map_or(Known::NoGrammar, |parsed| Known::Parsed(parsed));
    let reach = match what {
        What::Local(scope) => *scope,
        What::Part | What::Whole => text.span(),
    };
    with_bare_scene((text, language), known, |scene| {
        let found = pattern.all(text, reach, language.word_rule()).into_iter();
        let is_use = |span: &Span| {
            if kind_of_name(scene, *span) != Kind::Code {
                return false;
            }
            let belongs = belongs_to(scene, *span);
            match what {
                What::Local(_) => {
                    let own = || local_at(&names, text, subject.word).map(|local| local.scope);
                    let here = || local_at(&names, text, *span).map(|local| local.scope);
                    matches!(belongs, Belongs::Local | Belongs::LocalAndKey) && (!is_own || own() == here())
                }
                What::Part => is_part_there(belongs, &names, (text, *span)),
                What::Whole => is_whole_there(belongs, &names, (text, *span), subject),
            }
        };
        let both = |span: Span| belongs_to(scene, span) == Belongs::LocalAndKey && *what != What::Part;
        found.filter(is_use).map(|span| Use { span, is_both: both(span) }).collect()
    })
}

/// Whether a name is a part of something: after an accessor, as a key, or where it is defined in a type.
fn is_part_there(belongs: Belongs, names: &[Named], (_, span): (&Text, Span)) -> bool {
    let is_defined = names.iter().any(|named| {
        let is_part = named.kind == NameKind::Field || named.container.is_some();
        named.name == span && is_part && named.kind != NameKind::Local
    });
    matches!(belongs, Belongs::Member | Belongs::Key | Belongs::LocalAndKey) || is_defined
}

/// Whether a name is that of something that is known by itself. After an accessor only where that is of its own module.
fn is_whole_there(belongs: Belongs, names: &[Named], (text, span): (&Text, Span), subject: &Subject) -> bool {
    match belongs {
        Belongs::Local | Belongs::LocalAndKey => {
            local_at(names, text, span).is_none() && !is_defined_as_part(names, span)
        }
        Belongs::Key => false,
        Belongs::Member => {
            let owner = owner_before(text, span.start);
            // What is before `::` is a module where it is no type: those begin with a large letter.
            let is_path = span.start.0 >= 2 && text.has_at(span.start - 2, "::");
            if is_path && owner.starts_with(|c: char| c.is_lowercase() || c == '_') {
                return true;
            }
            let stem = subject.path.file_stem().unwrap_or_default().to_string_lossy().into_owned();
            let is_import = names.iter().any(|named| {
                named.kind == NameKind::Import && *text.slice(named.name) == *owner && owner != subject.name
            });
            owner == stem || is_import || matches!(owner.as_str(), "crate" | "super")
        }
    }
}

fn is_defined_as_part(names: &[Named], span: Span) -> bool {
    names.iter().any(|named| {
        named.name == span
            && (named.kind == NameKind::Field || named.container.is_some() && named.kind == NameKind::Function)
    })
}

/// The word before the accessor that ends at `at`.
fn owner_before(text: &Text, at: Byte) -> String {
    let line = text.line_start(text.line_of(at));
    let before = text.slice(Span::new(line, at));
    let owner = before.trim_end_matches([':', '.', '>', '-']);
    let start = owner.rfind(|c: char| !c.is_alphanumeric() && c != '_');
    let start = start.map_or(0, |at| at + owner[at..].chars().next().map_or(1, char::len_utf8));
    owner[start..].to_owned()
}
