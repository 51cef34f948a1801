//! Asks the sources for offers: by typing, by key, and again when the structure of the text is known.

use super::answering::{self, Job, OtherText, Wanted};
use super::settings::When;
use crate::buffer::Buffer;
use crate::buffer::parsing::Taken;
use crate::editing::Effects;
use crate::event::Payload;
use crate::ids::BufferId;
use crate::state::meaning::Errand;
use crate::state::offering::{About, Asked, Called};
use crate::tasks;
use crate::view::View;
use crate::workspace::Workspace;
use snarvel_core::languages::lexical::Syntax;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::offers::local::{Place, Question};
use snarvel_core::offers::matching::Letters;
use snarvel_core::offers::paths::{TypedPath, typed_path};
use snarvel_core::offers::ranked;
use snarvel_core::structure::{Roles, Structure};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use snarvel_core::verbs::text::putting::letters_before;
use snarvel_syntax::background::Need;
use snarvel_task::Worker;
use std::path::{Path, PathBuf};
use std::sync::atomic::Ordering;

/// Offers come by themselves after so many letters.
const FEWEST_LETTERS: usize = 2;

/// A line with more bytes of white space before its first word is none that a template begins.
const DEEPEST: usize = 1_000;

/// So much of a string is looked at for a path.
pub(super) const LONGEST_PATH: usize = 4_096;

/// So far back the start of a tag is looked for.
const LONGEST_TAG: usize = 4_096;

/// So many rows are narrowed by a letter at once.
const ROWS_KEPT: usize = 100;

/// The words of so many other texts are looked at.
const MOST_OTHERS: usize = 50;

/// Where the primary caret is.
pub(super) struct Around {
    pub(super) kind: Kind,
    pub(super) letters: Span,
}

impl Around {
    pub(super) fn of(buffer: &Buffer, view: &View) -> Around {
        let (text, head) = (buffer.text(), view.cursors().primary().head);
        let kinds = buffer.parsing.kinds(text);
        let letters = letters_before(text, head, kinds.language_at(head).word_rule());
        Around { kind: kinds.kind_at(letters.start.max(text.line_start(text.line_of(head)))), letters }
    }
}

impl Workspace {
    /// A word is being typed, or letters of it were taken back: asks for offers where they come by themselves, or are shown already.
    pub(super) fn ask_by_typing(&mut self) {
        let called = self.past.offering.shown.as_ref().map(|shown| shown.called);
        let asked = self.past.offering.asked.as_ref().filter(|asked| asked.is_pending).map(|asked| asked.called);
        let called = called.max(asked).unwrap_or(Called::ByTyping);
        let (buffer, view) = (self.active(), self.view());
        let Around { kind, letters } = Around::of(buffer, view);
        let typed = buffer.text().slice(letters).into_owned();
        let word = (buffer.id, letters.start);
        let is_put_away = self.past.offering.put_away == Some(word);
        let begins_word = typed.chars().next().is_some_and(|c| !c.is_numeric());
        let comes = self.project.offers == When::Auto
            && typed.chars().count() >= FEWEST_LETTERS
            && begins_word
            && kind == Kind::Code
            && !is_prose(buffer, letters.start)
            && !is_put_away
            && view.cursors().primary().is_caret();
        if !is_put_away {
            self.past.offering.put_away = None;
        }
        if called > Called::ByTyping || comes {
            self.ask_sources(called.min(Called::ByKey));
            self.keep_choice(called);
        } else {
            self.drop_offers();
        }
    }

    /// A row that was chosen stays chosen while letters narrow the list, as long as it fits.
    fn keep_choice(&mut self, called: Called) {
        let Some(asked) = &mut self.past.offering.asked else { return };
        let letters = asked.letters.clone();
        if let Some(shown) = &mut self.past.offering.shown {
            // What is beyond is not seen before the sources answer again.
            shown.list.truncate((shown.chosen + 1).max(ROWS_KEPT));
            let kept = shown.chosen().filter(|each| called == Called::Chosen && each.fits(&letters).is_some()).cloned();
            shown.list = ranked(std::mem::take(&mut shown.list), &letters);
            shown.letters = letters;
            let at = kept.and_then(|kept| shown.list.iter().position(|each| each.text == kept.text));
            shown.chosen = at.unwrap_or(0);
            if at.is_some() {
                asked.called = Called::Chosen;
            }
            if shown.list.is_empty() {
                self.past.offering.shown = None;
            }
        }
    }

    /// Asks for everything that can be put here.
    pub fn ask_for_offers(&mut self) -> Effects {
        self.past.offering.put_away = None;
        let has_selection = self.view().cursors().iter().any(|each| !each.is_caret());
        if has_selection {
            let effects = self.offer_around();
            let question = self.open_around();
            self.ask_servers_for_fixes(question);
            return effects;
        }
        if self.fault_at_caret().is_some() {
            let question = self.open_fixes(Called::ByKey);
            if self.ask_servers_for_fixes(question) {
                return Effects::default();
            }
        }
        self.ask_sources(Called::ByKey);
        Effects::default()
    }

    fn ask_sources(&mut self, called: Called) {
        let id = self.active().id;
        let (around, path) = {
            let (buffer, view) = (self.active(), self.view());
            let around = Around::of(buffer, view);
            let path = (around.kind == Kind::String).then(|| path_before(buffer, view)).flatten();
            (around, path)
        };
        let head = self.view().cursors().primary().head;
        let (about, letters) = match &path {
            Some(path) => (About::Path, Letters::of(&path.name)),
            None => (About::Word, Letters::of(&self.active().text().slice(around.letters))),
        };
        let (wanted, lacks_structure) = match path {
            Some(path) => {
                let folders = self.folders_of(&path);
                (Wanted::Paths(path, folders), false)
            }
            None => self.question(&around, head, letters.clone()),
        };
        let number = self.past.offering.newest.fetch_add(1, Ordering::Relaxed) + 1;
        let of = (id, self.active().revision());
        self.past.offering.asked =
            Some(Asked { number, of, called, about, letters, is_pending: true, lacks_structure, early: Vec::new() });
        self.past.offering.queued = Some(Job { number, wanted, is_hurried: self.tasks.has_screen });
    }

    /// Asks the sources what was to be asked: to be called once the frame is drawn.
    pub fn ask_queued(&mut self) {
        let Some(job) = self.past.offering.queued.take() else { return };
        let (buffer, view) = self.active_pair_mut();
        let head = Span::at(view.cursors().primary().head);
        buffer.request(head, Need::Structure);
        if !self.offer_worker().give(job) {
            // The worker has panicked: that was told, and another one begins with the next question.
            self.past.offering.worker = None;
            self.drop_offers();
        }
        self.ask_others_for_offers();
    }

    /// Begins a question that only servers answer: there are no letters of a word.
    pub(crate) fn begin_server_question(&mut self, called: Called) {
        self.open_question_about(About::Word, called);
        self.ask_others_for_offers();
        let has_asked =
            self.past.meaning.asked.errands.values().any(|(_, errand)| matches!(errand, Errand::Offers { .. }));
        if !has_asked {
            self.drop_offers();
        }
    }

    /// Begins a question for what mends what is wrong; its number.
    pub(crate) fn open_fixes(&mut self, called: Called) -> u64 {
        self.open_question_about(About::Fixes, called)
    }

    /// What goes around the lines is shown: fixes join it under the number of this question.
    fn open_around(&mut self) -> u64 {
        let shown = self.past.offering.shown.take();
        let number = self.open_question_about(About::Around, Called::ByKey);
        self.past.offering.shown = shown;
        if let Some(asked) = &mut self.past.offering.asked {
            asked.is_pending = false;
        }
        number
    }

    /// No fix is known: what can be put here is asked for in its place.
    pub(crate) fn ask_instead_of_fixes(&mut self) {
        self.ask_sources(Called::ByKey);
    }

    fn open_question_about(&mut self, about: About, called: Called) -> u64 {
        let number = self.past.offering.newest.fetch_add(1, Ordering::Relaxed) + 1;
        let of = (self.active().id, self.active().revision());
        let letters = Letters::default();
        self.past.offering.shown = None;
        self.past.offering.queued = None;
        self.past.offering.asked = Some(Asked {
            number,
            of,
            called,
            about,
            letters,
            is_pending: true,
            lacks_structure: false,
            early: Vec::new(),
        });
        number
    }

    /// The servers have answered a question that only they were asked.
    pub(crate) fn finish_only_servers(&mut self, question: u64) {
        let queued = self.past.offering.queued.is_some();
        if let Some(asked) = self.past.offering.asked.as_mut().filter(|asked| asked.number == question && !queued) {
            asked.is_pending &= !asked.letters.as_str().is_empty() || asked.called > Called::ByTyping;
        }
    }

    fn offer_worker(&mut self) -> &Worker<Job> {
        let sink = self.tasks.worker_sink(tasks::About::new("looking for offers"), Payload::Offered);
        let newest = self.past.offering.newest.clone();
        self.past
            .offering
            .worker
            .get_or_insert_with(|| Worker::start(sink, move |inbox, context| answering::work(inbox, &newest, context)))
    }

    fn question(&mut self, around: &Around, head: Byte, letters: Letters) -> (Wanted, bool) {
        let others = self.other_texts();
        let buffer = self.active();
        let text = buffer.text().clone();
        let language = buffer.parsing.kinds(&text).language_at(head);
        let taken = buffer.parsing.structure(around.letters, buffer.revision());
        let (mut function, mut is_type) = (None, false);
        if let Taken::Parsed(parsed) = &taken {
            let nodes = parsed.around(around.letters);
            function = nodes.iter().find(|node| node.is(Roles::FUNCTION)).map(|node| node.span);
            let is_name = |span: Span| span == around.letters;
            is_type = nodes.iter().any(|node| is_name(node.span) && node.is(Roles::TYPE_NAME));
        }
        let lacks_structure = matches!(taken, Taken::NotYet);
        let line = text.line_start(text.line_of(head));
        let before = Span::new(line, around.letters.start.max(line));
        let begins_line = before.len() <= DEEPEST && text.slice(before).trim().is_empty();
        let place = Place { is_code: around.kind == Kind::Code, begins_line, is_type };
        let cursors = self.view().shared_cursors();
        let templates = self.templates_of(&language);
        let question = Question { text, at: head, cursors, letters, language, function, place, templates };
        (Wanted::Words(Box::new(question), others), lacks_structure)
    }

    /// The active text is the one that was used last.
    pub(crate) fn note_use(&mut self) {
        let active = self.active().id;
        let used = &mut self.past.offering.used;
        if used.first() != Some(&active) {
            used.retain(|id| *id != active);
            used.insert(0, active);
        }
    }

    /// The other open texts, the one used last first.
    fn other_texts(&mut self) -> Vec<OtherText> {
        let active = self.active().id;
        self.note_use();
        let used = &self.past.offering.used;
        let rank = |id: BufferId| used.iter().position(|other| *other == id).unwrap_or(usize::MAX);
        let mut others: Vec<&Buffer> =
            self.buffers.iter().filter(|buffer| buffer.id != active && !buffer.text().is_empty()).collect();
        others.sort_by_key(|buffer| rank(buffer.id));
        let at = |id: BufferId| {
            let view = self.views.iter().find(|view| view.buffer == id);
            view.map_or(Byte(0), |view| view.cursors().primary().head)
        };
        let other = |buffer: &&Buffer| OtherText {
            id: buffer.id,
            revision: buffer.revision(),
            name: buffer.name(),
            text: buffer.text().clone(),
            at: at(buffer.id).min(buffer.text().end()),
            language: buffer.language().clone(),
        };
        others.iter().take(MOST_OTHERS).map(other).collect()
    }

    /// The folders that a path that is typed may go on in.
    fn folders_of(&self, path: &TypedPath) -> Vec<PathBuf> {
        if let Some(rest) = path.folder.strip_prefix("~/") {
            let home = std::env::var_os("HOME").map(PathBuf::from);
            return home.into_iter().map(|home| home.join(rest)).collect();
        }
        let own = self.active().path().and_then(Path::parent).map(Path::to_owned);
        own.into_iter().chain([self.project.folder.clone()]).map(|folder| folder.join(&path.folder)).collect()
    }

    /// The structure of a text has come: what was asked without it is asked again.
    pub(crate) fn ask_with_structure(&mut self, id: BufferId) {
        let Some(asked) = &self.past.offering.asked else { return };
        let buffer = self.active();
        let head = Span::at(self.view().cursors().primary().head);
        let is_known = || matches!(buffer.parsing.structure(head, buffer.revision()), Taken::Parsed(_));
        if asked.lacks_structure && asked.of == (buffer.id, buffer.revision()) && id == buffer.id && is_known() {
            let called = asked.called;
            self.ask_sources(called);
        }
    }
}

/// Whether words are offered only by key at `at`: in plain text, in prose, and between tags.
fn is_prose(buffer: &Buffer, at: Byte) -> bool {
    let language = buffer.parsing.kinds(buffer.text()).language_at(at);
    language.prose && !(language.finish.tags && is_in_tag(buffer.text(), at))
}

/// Whether `at` is inside a tag: the last bracket before it opens one.
fn is_in_tag(text: &Text, at: Byte) -> bool {
    let start = text.snap_back(Byte(at.0.saturating_sub(LONGEST_TAG)));
    let before = text.slice(Span::new(start, at));
    before.rfind(['<', '>']).is_some_and(|bracket| before[bracket..].starts_with('<'))
}

/// The path in the string before the primary caret.
fn path_before(buffer: &Buffer, view: &View) -> Option<TypedPath> {
    let (text, head) = (buffer.text(), view.cursors().primary().head);
    let pieces = buffer.parsing.kinds(text).pieces(text.line_of(head));
    let piece = pieces.iter().rev().find(|piece| piece.span.start < head)?;
    let start = text.snap_back(piece.span.start.max(Byte(head.0.saturating_sub(LONGEST_PATH))));
    typed_path(&text.slice(Span::new(start, head)))
}
