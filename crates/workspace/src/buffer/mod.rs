//! A buffer: one text with its history, its saved state, its encoding and language, and the feed of its changes. One for each
//! file, however many views show it.
//!
//! A change of the text is carried out here and nowhere else. What follows the text reads the feed. Costs of a change: its
//! edits, and the spans that move with it.

pub mod defaults;
pub mod layout;
pub mod names;
mod of_file;
pub mod parsing;
pub mod saved;

use crate::ids::BufferId;
use defaults::{EditorDefaults, Tidy};
use layout::Layout;
pub use names::{Origin, name_of};
use names::{detected, words_of};
use parsing::Parsing;
use saved::{DiskStatus, SavedState};
use snarvel_core::bookmarks::Bookmarks;
use snarvel_core::changes::feed::ChangeFeed;
use snarvel_core::changes::{Change, ChangeBuilder};
use snarvel_core::cursors::CursorSet;
use snarvel_core::history::{Grouping, History, NewStep, StepId};
use snarvel_core::languages::Language;
use snarvel_core::parallel::PARALLEL_THRESHOLD;
use snarvel_core::spans::{Owner, SpanStore};
use snarvel_core::text::indent::unit_of;
use snarvel_core::text::{LineEnd, Text};
use snarvel_core::units::{Byte, Line, Span};
use snarvel_core::verbs::scene::TextSettings;
use snarvel_files::layout::FileLayout;
use snarvel_files::load::{self, Encoding, Loaded};
use snarvel_files::loading::Opened;
use snarvel_files::save::Rights;
use snarvel_files::saving::{Overwrite, SaveDone, SaveRequest};
use snarvel_syntax::background::{Need, Parsed, Requested, Sink};
use std::path::Path;
use std::sync::Arc;

/// How much of a text is there.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Completeness {
    /// More of it is to come: nothing is changed until then.
    Partial,
    /// All of it.
    Whole,
}

/// A text under edit.
#[derive(Debug)]
pub struct Buffer {
    /// What it is known by.
    pub id: BufferId,
    /// Where it comes from.
    pub origin: Origin,
    /// What its file holds.
    pub saved: SavedState,
    /// What there is to say about how it was opened.
    pub warning: Option<String>,
    /// Everything that moves with its edits.
    pub spans: SpanStore,
    /// What is known of its language.
    pub parsing: Parsing,
    text: Text,
    history: History,
    feed: ChangeFeed,
    layout: Layout,
    completeness: Completeness,
}

/// The verb that makes a text one that is written as UTF-8.
const TO_UTF8: &str = "to-utf-8";

/// Why a text is not changed of which more is to come.
pub const STILL_LOADING: &str =
    "more of the file is still to come: move, read and find meanwhile; then it can be changed";

/// The bookmarks of a text.
const BOOKMARKS: Owner = Owner::of_text("bookmarks");

/// The kind of the folds of a view.
pub const FOLDS: &str = "folds";

impl Buffer {
    /// Of `loaded`, with its origin; its parser reports to `sink`, and without one there is none.
    #[must_use]
    pub fn new(loaded: Loaded, origin: Origin, defaults: EditorDefaults, sink: Option<Sink>) -> Buffer {
        let Loaded { text, encoding, read_only } = loaded;
        let language = detected(&origin, &text);
        let settings = defaults.settings_for(&text, &language);
        let mut history = History::default();
        history.set_limit(defaults.history_bytes);
        let parsing = match sink {
            Some(sink) => Parsing::new(&language, &text, 0, sink),
            None => Parsing::without_parser(&language),
        };
        Buffer {
            id: BufferId::fresh(),
            origin,
            saved: SavedState { read_only, ..SavedState::new(&text, encoding) },
            warning: None,
            spans: SpanStore::default(),
            parsing,
            text,
            history,
            feed: ChangeFeed::default(),
            layout: Layout { settings, defaults, file: FileLayout::default(), by_hand: [false; 4] },
            completeness: Completeness::Whole,
        }
    }

    /// The text with its history and all that moves with its edits, without its parser: what is done to it is done to nothing else.
    #[must_use]
    pub fn twin(&self) -> Buffer {
        Buffer {
            spans: self.spans.clone(),
            history: self.history.clone(),
            completeness: self.completeness,
            ..self.copy_to_look_at()
        }
    }

    /// The text as it is, without history, parser and spans: to be looked at.
    #[must_use]
    pub fn copy_to_look_at(&self) -> Buffer {
        let saved = SavedState {
            diff: self.saved.diff.clone(),
            read_only: self.saved.read_only,
            ..SavedState::new(&self.saved.on_disk, self.saved.encoding)
        };
        Buffer {
            id: self.id,
            origin: self.origin.clone(),
            saved,
            warning: None,
            spans: self.spans.retaining(|owner| owner.kind == BOOKMARKS.kind || owner.kind == FOLDS),
            parsing: self.parsing.copy_to_look_at(),
            text: self.text.clone(),
            history: History::default(),
            feed: ChangeFeed::default(),
            layout: self.layout,
            completeness: Completeness::Whole,
        }
    }

    /// The text.
    #[must_use]
    pub fn text(&self) -> &Text {
        &self.text
    }

    /// The history.
    #[must_use]
    pub fn history(&self) -> &History {
        &self.history
    }

    /// The history, to be gone through: the changes that it gives must be carried out.
    pub(crate) fn history_mut(&mut self) -> &mut History {
        &mut self.history
    }

    /// The changes of the text.
    #[must_use]
    pub fn feed(&self) -> &ChangeFeed {
        &self.feed
    }

    /// A number that every change of the text raises.
    #[must_use]
    pub fn revision(&self) -> u64 {
        self.feed.revision()
    }

    /// What holds where nothing else says anything.
    #[must_use]
    pub fn defaults(&self) -> &EditorDefaults {
        &self.layout.defaults
    }

    /// How the text is laid out.
    #[must_use]
    pub fn settings(&self) -> &TextSettings {
        &self.layout.settings
    }

    /// The language of the file.
    #[must_use]
    pub fn language(&self) -> &Arc<Language> {
        self.parsing.language()
    }

    /// Whether more of the text is to come.
    #[must_use]
    pub fn is_partial(&self) -> bool {
        self.completeness == Completeness::Partial
    }

    /// Carries `change` out, and moves what moves with it. The step that it belongs to is to be recorded.
    pub(crate) fn apply(&mut self, change: &Arc<Change>) {
        if change.is_empty() {
            return;
        }
        let (saved, text) = (&mut self.saved, &mut self.text);
        if change.edits().len() < PARALLEL_THRESHOLD {
            saved.follow(change);
            text.apply(change);
        } else {
            std::thread::scope(|scope| {
                scope.spawn(|| saved.follow(change));
                text.apply(change);
            });
        }
        self.parsing.follow(change);
        self.spans.follow(change, &self.text);
        self.feed.push(change.clone());
    }

    /// Records what was done as a step.
    pub(crate) fn record(&mut self, step: NewStep, now_ms: u64) {
        self.history.record(step, now_ms);
    }

    /// What is large or old of the feed is forgotten: all subscribers had the time to read.
    pub(crate) fn trim_feed(&mut self) {
        self.feed.trim();
    }

    /// Has the text parsed, and painted where that is needed, around `span`.
    pub fn request(&mut self, span: Span, need: Need) -> Requested {
        self.parsing.request((&self.text, &self.feed), span, need)
    }

    /// Takes in what the parser has found.
    pub fn take_parsed(&mut self, parsed: Parsed) {
        self.parsing.take((&self.text, &self.feed), parsed);
    }

    /// The bookmarks.
    #[must_use]
    pub fn bookmarks(&self) -> Bookmarks {
        Bookmarks::at(self.spans.get(BOOKMARKS))
    }

    /// Sets other bookmarks.
    pub fn set_bookmarks(&mut self, bookmarks: &Bookmarks) {
        self.spans.set(BOOKMARKS, Bookmarks::POLICY, bookmarks.spans());
    }

    /// Whether the text differs from what was saved, going by steps.
    #[must_use]
    pub fn is_modified(&self) -> bool {
        self.history.is_modified()
    }

    /// Whether closing it would lose something.
    #[must_use]
    pub fn is_unsaved(&self) -> bool {
        let saved = &self.saved;
        (self.is_modified() || saved.is_recoded() || matches!(saved.status, Some(DiskStatus::Gone)))
            && self.origin != Origin::Pipe
    }

    /// Its name, as the tab bar shows it.
    #[must_use]
    pub fn name(&self) -> String {
        match &self.origin {
            Origin::File(path) => {
                path.file_name().map_or_else(|| path.to_string_lossy(), |name| name.to_string_lossy()).into_owned()
            }
            Origin::Pipe => "standard input".to_owned(),
            Origin::None => "new text".to_owned(),
        }
    }

    /// The file that it is of.
    #[must_use]
    pub fn path(&self) -> Option<&Path> {
        match &self.origin {
            Origin::File(path) => Some(path),
            Origin::Pipe | Origin::None => None,
        }
    }

    /// Whether it is of the file at `path`.
    #[must_use]
    pub fn is_of(&self, path: &Path) -> bool {
        self.path() == Some(path)
    }

    /// The bytes that a save would write.
    #[must_use]
    pub fn bytes(&self) -> Vec<u8> {
        load::encode(&self.text, self.saved.encoding)
    }

    /// Takes it as a text in `language`; its parser reports to `sink`.
    pub fn set_language(&mut self, language: &Arc<Language>, sink: Option<Sink>) {
        self.parsing = match sink {
            Some(sink) => Parsing::new(language, &self.text, self.revision(), sink),
            None => Parsing::without_parser(language),
        };
    }

    /// Takes `text`, which begins with the text as it is, in its place.
    ///
    /// # Panics
    /// In debug builds, if the text is shorter than before.
    pub fn extend_loaded(&mut self, text: Text, completeness: Completeness) {
        debug_assert!(text.len() >= self.text.len(), "{} bytes after {}", text.len(), self.text.len());
        self.saved.is_same(&text);
        self.text = text;
        self.completeness = completeness;
        self.feed.skip();
        if completeness == Completeness::Whole {
            let settings = &mut self.layout.settings;
            settings.line_end = LineEnd::most_frequent(&self.text);
            settings.unit = unit_of(&self.text, settings.tabs).unwrap_or(settings.unit);
        }
    }

    /// Takes in all of its file.
    pub fn take_opened(&mut self, opened: Opened, sink: Option<Sink>) {
        let is_new = || Loaded { text: Text::default(), encoding: Encoding::default(), read_only: false };
        let loaded = opened.loaded.unwrap_or_else(is_new);
        (self.saved.read_only, self.saved.stamp) = (loaded.read_only, opened.stamp);
        (self.saved.encoding, self.saved.file_encoding) = (loaded.encoding, loaded.encoding);
        self.saved.on_disk = loaded.text.clone();
        self.extend_loaded(loaded.text, Completeness::Whole);
        self.take_layout(opened.layout);
        self.set_language(&detected(&self.origin, &self.text), sink);
    }

    /// The change that puts the text in order before a save: white space off the ends of lines that were changed, an end on the
    /// last line. What `.editorconfig` says goes before `usual`.
    #[must_use]
    pub fn tidying(&self, usual: Tidy) -> Change {
        let file = &self.layout.file;
        let trims = file.trims.unwrap_or(usual.trims);
        let ends_last_line = file.ends_last_line.unwrap_or(usual.ends_last_line);
        if !trims && !ends_last_line {
            return Change::default();
        }
        let mut builder = ChangeBuilder::new(&self.text);
        if trims {
            for line in self.saved.diff.changed_lines(&self.text) {
                let span = self.text.content_span(line);
                let kept = self.text.slice(span).trim_end().len();
                builder.remove(Span::new(span.start + kept, span.end));
            }
        }
        let last = self.text.content(self.text.last_line());
        let is_unended = if trims { !last.trim_end().is_empty() } else { !last.is_empty() };
        if ends_last_line && is_unended {
            builder.insert(self.text.end(), self.layout.settings.line_end.as_str());
        }
        builder.finish()
    }

    /// Begins a save to `path`, over whatever is there. Work may go on until [`Buffer::finish_save`] or
    /// [`Buffer::abandon_save`].
    pub fn begin_save(&mut self, path: &Path) -> SaveRequest {
        self.history.begin_save();
        self.saved.begin(&self.text);
        SaveRequest {
            path: path.to_owned(),
            text: self.text.clone(),
            encoding: self.saved.encoding,
            over: Overwrite::Anything,
            rights: Rights::Minded,
            is_elsewhere: !self.is_of(path),
        }
    }

    /// `request` was carried out: its file is the buffer's now. Whether that is another one than before.
    pub fn finish_save(&mut self, request: &SaveRequest, done: SaveDone, sink: Option<Sink>) -> bool {
        self.history.finish_save();
        self.saved.finish();
        self.saved.stamp = done.stamp;
        self.saved.on_disk = request.text.clone();
        self.saved.status = None;
        self.saved.file_encoding = request.encoding;
        let is_moved = !self.is_of(&request.path);
        if is_moved {
            self.origin = Origin::File(request.path.clone());
            done.layout.into_iter().for_each(|layout| self.take_layout(layout));
            self.set_language(&detected(&self.origin, &self.text), sink);
        }
        is_moved
    }

    /// Nothing was written.
    pub fn abandon_save(&mut self) {
        self.history.abandon_save();
        self.saved.abandon();
    }

    /// What the text is now is what is saved.
    pub fn mark_saved(&mut self) {
        self.history.begin_save();
        self.history.finish_save();
        self.saved.is_same(&self.text);
    }

    /// Its file holds `loaded`, which is the text as it is, and looks like `stamp`.
    pub fn is_on_disk(&mut self, loaded: Loaded, stamp: Option<snarvel_files::stamp::Stamp>) {
        self.mark_saved();
        self.saved.on_disk = loaded.text;
        self.saved.take_encoding(loaded.encoding);
        self.saved.stamp = stamp;
        self.saved.status = None;
    }

    /// Takes the changes of a way through the history, which led to a state that may be the saved one.
    pub(crate) fn travel(&mut self, changes: &[Arc<Change>]) {
        changes.iter().for_each(|change| self.apply(change));
        if !self.history.is_modified() {
            self.saved.is_same(&self.text);
        }
        if let Some(before) = self.saved.before_utf8 {
            // Where the step was forgotten, no undo leads to before it.
            let is_utf8 = self.history.has_come_by(TO_UTF8).unwrap_or(true);
            self.saved.encoding = if is_utf8 { Encoding::Utf8 } else { before };
        }
    }

    /// Makes the text one that is written as UTF-8, as a step; whether it was not so before.
    pub fn make_utf8(&mut self, cursors: &Arc<CursorSet>, now_ms: u64) -> bool {
        let before = std::mem::replace(&mut self.saved.encoding, Encoding::Utf8);
        if before == Encoding::Utf8 {
            return false;
        }
        self.saved.before_utf8 = Some(before);
        let (before, after) = (cursors.clone(), cursors.clone());
        let grouping = Grouping::Alone;
        self.record(
            NewStep { verb: TO_UTF8, group: None, changes: Vec::new(), before, after, grouping, amount: None },
            now_ms,
        );
        true
    }

    /// A copy of the text as it was at a place of its history, with the cursors of then.
    ///
    /// Cost: linear in the steps between and in what they changed, never in the text.
    ///
    /// # Panics
    /// If `id` is of another history.
    #[must_use]
    pub fn at_step(&self, id: StepId) -> (Buffer, Option<CursorSet>) {
        let mut then = self.copy_to_look_at();
        let way = self.history.way_to(id);
        way.iter().flat_map(|travel| &travel.changes).for_each(|change| then.apply(change));
        if self.history.saved() == Some(id) {
            let text = then.text.clone();
            then.saved.is_same(&text);
        }
        (then, way.map(|travel| (*travel.cursors).clone()))
    }

    /// A copy of the text as `change` would make it.
    #[must_use]
    pub fn preview_of(&self, change: Change) -> Buffer {
        let mut then = self.copy_to_look_at();
        then.apply(&Arc::new(change));
        then
    }

    /// The lines around `at` that a wait for structure is about.
    #[must_use]
    pub fn line_around(&self, at: Byte) -> Span {
        let line = self.text.line_of(at);
        Span::new(self.text.line_start(line), self.text.content_span(line).end)
    }

    /// The words of `line`, as bookmarks are found again by them.
    #[must_use]
    pub fn words_of(&self, line: Line) -> String {
        words_of(&self.text, line)
    }
}
