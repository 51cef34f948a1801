//! The editor: one text with its cursors, history and syntax, and the one way in which verbs reach them.
//!
//! A verb is given a scene and returns an outcome; the editor carries it out, remembers it, and hands the
//! change to whoever follows the text. Times are milliseconds of the caller's clock.

mod noted;
mod states;

use crate::bookmarks::Bookmarks;
use crate::changes::since::Since;
use crate::changes::{Bias, Change, ChangeBuilder, Mapper};
use crate::cursors::{CursorSet, Selection};
use crate::folds::Folds;
use crate::halves::FOR_TWO;
use crate::history::{Done, Grouping, History, USUAL_LIMIT};
use crate::languages::Language;
use crate::languages::lexical::{Lexical, LexicalView};
use crate::marks::{MarkId, Marks};
use crate::structure::{Paints, Tree};
use crate::text::cells::TabWidth;
use crate::text::indent::{IndentUnit, unit_of};
use crate::text::{LineEnd, Text};
use crate::units::{Byte, Line, Span};
use crate::verbs::clip::Clip;
use crate::verbs::clipboard::{Depth, paste};
use crate::verbs::scene::{Layer, Layout, Memory, Outcome, Scene, Widening};
use crate::verbs::{Group, Request, Run, Verb};
pub use noted::Noted;
use std::sync::Arc;

/// A text under edit.
#[derive(Debug)]
pub struct Editor {
    text: Text,
    cursors: Arc<CursorSet>,
    history: History,
    lexical: Lexical,
    tree: Option<Box<dyn Tree>>,
    layout: Layout,
    manner: Manner,
    memory: Memory,
    since: Since,
    /// The same of the text that is being written.
    since_saving: Option<Since>,
    marks: Marks,
    bookmarks: Bookmarks,
    folds: Folds,
    revision: u64,
    /// What was changed, for who follows the text from outside.
    noted: Option<Noted>,
    /// Whether more of the text is still to come: nothing is changed until then.
    is_growing: bool,
}

/// What holds where neither the text nor `.editorconfig` says anything.
#[derive(Clone, Copy, Debug)]
pub struct Manner {
    /// The distance between tab stops.
    pub tabs: TabWidth,
    /// One step of indentation.
    pub unit: IndentUnit,
    /// Whether brackets and quotes close themselves.
    pub closes_pairs: bool,
    /// The width of text, in cells.
    pub text_width: u32,
    /// What the history may hold, in bytes.
    pub history_bytes: usize,
}

impl Default for Manner {
    /// The design's figures.
    fn default() -> Manner {
        Manner {
            tabs: TabWidth(4),
            unit: IndentUnit::Spaces(4),
            closes_pairs: true,
            text_width: 80,
            history_bytes: USUAL_LIMIT,
        }
    }
}

/// What is put in order before a save.
#[derive(Clone, Copy, Debug, Default)]
pub struct Tidy {
    /// White space at line ends goes.
    pub trims: bool,
    /// The last line gets a line end.
    pub ends_last_line: bool,
}

/// How a verb is called.
#[derive(Clone, Copy, Debug)]
pub struct Call<'a> {
    /// The verb.
    pub verb: &'static Verb,
    /// Its argument, empty where it has none.
    pub argument: &'a str,
    /// How many times.
    pub times: u32,
    /// What was copied last.
    pub clip: &'a Clip,
    /// Now, in milliseconds.
    pub now_ms: u64,
}

/// What a call did, beside the text and the cursors.
#[derive(Debug, Default)]
pub struct Effects {
    /// What happened, or why nothing did.
    pub message: Option<String>,
    /// What is on the clipboard now.
    pub clip: Option<Clip>,
    /// The layer that begins.
    pub layer: Option<Layer>,
    /// What the program around is asked to do.
    pub request: Option<Request>,
}

impl Effects {
    fn saying(message: &str) -> Effects {
        Effects { message: Some(message.to_owned()), ..Effects::default() }
    }
}

/// Why a text is not changed of which more is to come.
pub const STILL_GROWING: &str =
    "more of the file is still to come: move, read and find meanwhile; then it can be changed";

/// Lines in view until a screen says how many it has.
const VIEW_LINES: usize = 35;

impl Editor {
    /// Begins to edit `text`, which is in `language`, with a caret at its start.
    #[must_use]
    pub fn new(text: Text, language: Arc<Language>) -> Editor {
        Editor::with_manner(text, language, Manner::default())
    }

    /// Begins to edit `text` in the manner of somebody.
    #[must_use]
    pub fn with_manner(text: Text, language: Arc<Language>, manner: Manner) -> Editor {
        let fallback = if language.tabs { IndentUnit::Tab } else { manner.unit };
        let layout = Layout {
            tabs: manner.tabs,
            unit: unit_of(&text, manner.tabs).unwrap_or(fallback),
            line_end: LineEnd::most_frequent(&text),
            view_lines: VIEW_LINES,
            closes_pairs: manner.closes_pairs,
            text_width: manner.text_width,
        };
        let mut history = History::default();
        history.set_limit(manner.history_bytes);
        Editor {
            history,
            since: Since::new(text.clone()),
            since_saving: None,
            cursors: Arc::new(CursorSet::caret(crate::units::Byte(0))),
            lexical: Lexical::new(language),
            tree: None,
            memory: Memory::default(),
            marks: Marks::default(),
            bookmarks: Bookmarks::default(),
            folds: Folds::default(),
            layout,
            manner,
            text,
            revision: 0,
            noted: None,
            is_growing: false,
        }
    }

    /// The text.
    #[must_use]
    pub fn text(&self) -> &Text {
        &self.text
    }

    /// The cursors.
    #[must_use]
    pub fn cursors(&self) -> &CursorSet {
        &self.cursors
    }

    /// The places set aside.
    #[must_use]
    pub fn pins(&self) -> &[Selection] {
        self.memory.pins.as_ref().map_or(&[], CursorSet::list)
    }

    /// Takes all pins away; whether there were any.
    pub fn drop_pins(&mut self) -> bool {
        self.memory.pins.take().is_some()
    }

    /// Sets `pins` aside in place of those that there are.
    pub fn set_pins(&mut self, pins: Option<CursorSet>) {
        self.memory.pins = pins;
    }

    /// What is not shown.
    #[must_use]
    pub fn folds(&self) -> &Folds {
        &self.folds
    }

    /// Opens the fold under `line`; whether there was one.
    pub fn open_fold(&mut self, line: Line) -> bool {
        let under = self.folds.under(&self.text, line);
        under.into_iter().for_each(|span| self.folds = self.folds.retaining(|other| other != span));
        under.is_some()
    }

    /// The bookmarks.
    #[must_use]
    pub fn bookmarks(&self) -> &Bookmarks {
        &self.bookmarks
    }

    /// Sets other bookmarks.
    pub fn set_bookmarks(&mut self, bookmarks: Bookmarks) {
        self.bookmarks = bookmarks;
    }

    /// Folds otherwise; what a cursor stands in is not folded.
    pub fn set_folds(&mut self, folds: Folds) {
        self.folds = folds;
        self.folds.reveal(&self.cursors);
    }

    /// The history.
    #[must_use]
    pub fn history(&self) -> &History {
        &self.history
    }

    /// How the text is laid out.
    #[must_use]
    pub fn layout(&self) -> &Layout {
        &self.layout
    }

    /// The language of the file.
    #[must_use]
    pub fn language(&self) -> &Arc<Language> {
        self.lexical.language()
    }

    /// What differs from the text as it was saved, line by line.
    #[must_use]
    pub fn since_saved(&self) -> &Since {
        &self.since
    }

    /// What is code, string and comment.
    #[must_use]
    pub fn syntax(&self) -> LexicalView<'_> {
        self.lexical.of(&self.text)
    }

    /// A number that every change of the text raises.
    #[must_use]
    pub fn revision(&self) -> u64 {
        self.revision
    }

    /// Lays the text out as something outside it says; what is none stays as the text shows it.
    pub fn set_layout(&mut self, tabs: Option<u32>, unit: Option<IndentUnit>, line_end: Option<LineEnd>) {
        if let Some(tabs) = tabs {
            self.layout.tabs = TabWidth(tabs.max(1));
        }
        let shown = unit_of(&self.text, self.layout.tabs);
        self.layout.unit = match unit {
            // Spaces, as many as the text shows.
            Some(IndentUnit::Spaces(0)) => {
                let spaces = |unit: &IndentUnit| *unit != IndentUnit::Tab;
                shown.filter(spaces).or(Some(self.manner.unit).filter(spaces)).unwrap_or(Manner::default().unit)
            }
            Some(unit) => unit,
            None => shown.unwrap_or(self.layout.unit),
        };
        self.layout.line_end = line_end.unwrap_or(self.layout.line_end);
    }

    /// Takes `width` cells as the width of text.
    pub fn set_text_width(&mut self, width: u32) {
        self.layout.text_width = width.max(1);
    }

    /// Puts the text in order before a save, as a step of its own: white space off line ends, an end on the
    /// last line.
    pub fn tidy(&mut self, rules: Tidy, now_ms: u64) {
        let mut builder = ChangeBuilder::new(&self.text);
        for line in (0..self.text.line_count()).map(Line) {
            let span = self.text.content_span(line);
            let content = self.text.slice(span);
            if rules.trims {
                builder.remove(Span::new(span.start + content.trim_end().len(), span.end));
            }
        }
        let last = self.text.content(self.text.last_line());
        let is_unended = if rules.trims { !last.trim_end().is_empty() } else { !last.is_empty() };
        if rules.ends_last_line && is_unended {
            builder.insert(self.text.end(), self.layout.line_end.as_str());
        }
        let change = builder.finish();
        self.carry("save", change, now_ms);
    }

    /// Changes the text as a step of its own, called `verb`; cursors stay with what they stand at.
    pub fn carry(&mut self, verb: &'static str, change: Change, now_ms: u64) {
        if change.is_empty() || self.is_growing {
            return;
        }
        let before = self.cursors.clone();
        self.memory.held = None;
        self.apply(&change);
        self.cursors = Arc::new(before.mapped(&change, Bias::Before).snapped(&self.text));
        self.folds.reveal(&self.cursors);
        let (after, grouping) = (self.cursors.clone(), Grouping::Alone);
        self.history.record(Done { verb, changes: vec![change], before, after, grouping }, now_ms);
        self.check();
    }

    /// Takes `text`, which begins with the text as it is, in its place: more of it is there. While more is to come nothing
    /// is changed.
    ///
    /// # Panics
    /// In debug builds, if the text is shorter than before.
    pub fn grow(&mut self, text: Text, has_more: bool) {
        debug_assert!(text.len() >= self.text.len(), "{} bytes after {}", text.len(), self.text.len());
        self.since = Since::new(text.clone());
        self.text = text;
        self.is_growing = has_more;
        self.revision += 1;
        if !has_more {
            self.layout.line_end = LineEnd::most_frequent(&self.text);
            self.layout.unit = unit_of(&self.text, self.layout.tabs).unwrap_or(self.layout.unit);
        }
    }

    /// Whether more of the text is to come.
    #[must_use]
    pub fn is_growing(&self) -> bool {
        self.is_growing
    }

    /// Tells how many lines the view shows.
    pub fn set_view_lines(&mut self, lines: usize) {
        self.layout.view_lines = lines.max(1);
    }

    /// Takes the text as one in `language` from now on, without a tree until one is given.
    pub fn set_language(&mut self, language: Arc<Language>) {
        self.lexical = Lexical::new(language);
        self.tree = None;
    }

    /// Goes by the structure that `tree` finds in the text.
    pub fn set_tree(&mut self, tree: Option<Box<dyn Tree>>) {
        self.tree = tree;
    }

    /// How the text of `span` is drawn by its structure; none where that is not known, or not yet.
    #[must_use]
    pub fn painted(&self, span: Span) -> Option<Paints> {
        self.tree.as_ref()?.painted(&self.text, span)
    }

    /// Waits until the structure of the text as it is is known, or it is clear that it will not be.
    pub fn settle_tree(&self) {
        self.tree.iter().for_each(|tree| tree.settle(&self.text));
    }

    /// Puts the cursors elsewhere, as a click does.
    ///
    /// # Panics
    /// In debug builds, if a cursor is outside the text or inside a cluster.
    pub fn set_cursors(&mut self, cursors: CursorSet) {
        self.history.close_step();
        self.memory.held = None;
        self.memory.pairs.clear();
        if *self.cursors != cursors {
            self.memory.past.remember(&self.cursors.clone(), false);
        }
        if self.cursors.len() > 1 && cursors.len() == 1 {
            self.memory.given_up = Some((*self.cursors).clone());
        }
        self.cursors = Arc::new(cursors);
        self.folds.reveal(&self.cursors);
        self.check();
    }

    /// What verbs are given now.
    #[must_use]
    pub fn with_scene<T>(&self, clip: &Clip, look: impl FnOnce(&Scene) -> T) -> T {
        look(&Scene {
            text: &self.text,
            cursors: &self.cursors,
            syntax: &self.syntax(),
            tree: self.tree.as_deref(),
            folds: &self.folds,
            bookmarks: &self.bookmarks,
            language: self.language(),
            layout: &self.layout,
            clip,
            memory: &self.memory,
        })
    }

    /// Runs a verb, as one step however often it is to run.
    pub fn run(&mut self, call: Call) -> Effects {
        let effects = match call.verb.run {
            Run::Edit(function) => self.edit(call, |scene| function(scene, call.argument)),
            Run::Undo => self.travel(call.times, History::undo, "nothing to undo"),
            Run::Redo => self.travel(call.times, History::redo, "nothing to redo"),
            Run::CursorsUndo => self.cursors_undo(call.times),
            Run::Ask(request) => Effects { request: Some(request), ..Effects::default() },
        };
        self.check();
        effects
    }

    /// Pastes text that came from the terminal in one piece, line ends converted, at the depth of the place.
    pub fn paste_text(&mut self, call: Call, characters: &str) -> Effects {
        // Terminals send a carriage return for each line end of what is pasted.
        let lines = characters.replace("\r\n", "\n").replace('\r', "\n");
        let clip = Clip::of_text(&lines);
        let effects = self.edit(Call { times: 1, ..call }, |scene| paste(scene, &clip, Depth::OfPlace));
        self.check();
        effects
    }

    fn edit(&mut self, call: Call, function: impl Fn(&Scene) -> Outcome) -> Effects {
        let before = self.cursors.clone();
        let (mut changes, mut effects, mut grouping) = (Vec::new(), Effects::default(), None);
        for _ in 0..call.times.max(1) {
            let clip = effects.clip.clone();
            let mut outcome = self.with_scene(clip.as_ref().unwrap_or(call.clip), &function);
            if self.is_growing && !outcome.change.is_empty() {
                outcome = Outcome::nothing(STILL_GROWING);
            }
            let (set, folds) = (self.cursors.clone(), self.folds.clone());
            grouping = outcome.grouping;
            let change = self.carry_out(outcome, &mut effects);
            let is_still = change.is_empty() && set == self.cursors && folds == self.folds;
            if !change.is_empty() {
                changes.push(change);
            }
            if is_still {
                break;
            }
        }
        if changes.is_empty() && before != self.cursors {
            self.memory.past.remember(&before, call.verb.group == Group::Moves);
        }
        // A closer that is stepped over was typed like any other character.
        let goes_on = grouping == Some(Grouping::Typing) && before != self.cursors;
        if changes.is_empty() && !goes_on {
            self.history.close_step();
        } else if !changes.is_empty() {
            let grouping = grouping.unwrap_or(Grouping::Alone);
            let after = self.cursors.clone();
            self.history.record(Done { verb: call.verb.name, changes, before, after, grouping }, call.now_ms);
        }
        effects
    }

    fn carry_out(&mut self, outcome: Outcome, effects: &mut Effects) -> Change {
        let old = self.cursors.clone();
        self.apply(&outcome.change);
        let cursors = match outcome.cursors {
            Some(cursors) => cursors.snapped(&self.text),
            None => (*self.cursors).clone(),
        };
        match outcome.widening {
            Widening::Wider => self.memory.widened.push([(*old).clone(), cursors.clone()]),
            Widening::Narrower => drop(self.memory.widened.pop()),
            Widening::None if cursors != *old || !outcome.change.is_empty() => self.memory.widened.clear(),
            Widening::None => {}
        }
        if old.len() > 1 && cursors.len() == 1 {
            let kept = old.mapped(&outcome.change, Bias::After).snapped(&self.text);
            self.memory.given_up = Some(kept).filter(|set| set.len() > 1).or(self.memory.given_up.take());
        }
        self.cursors = Arc::new(cursors);
        self.folds = outcome.folds.unwrap_or_else(|| std::mem::take(&mut self.folds));
        self.folds.reveal(&self.cursors);
        self.bookmarks = outcome.bookmarks.unwrap_or_else(|| std::mem::take(&mut self.bookmarks));
        self.memory.held = outcome.held;
        self.memory.cycle = outcome.cycle;
        self.memory.pairs.extend(outcome.pairs);
        self.forget_pairs_left();
        if let Some(pins) = outcome.pins {
            self.memory.pins = pins;
        }
        effects.message = outcome.message.or(effects.message.take());
        effects.clip = outcome.clip.or(effects.clip.take());
        effects.layer = outcome.layer.or(effects.layer);
        outcome.change
    }

    /// Changes the text, and whatever follows it.
    fn apply(&mut self, change: &Change) {
        if change.is_empty() {
            return;
        }
        let before = self.tree.as_ref().map(|_| self.text.clone());
        let since = [Some(&mut self.since), self.since_saving.as_mut()].into_iter().flatten();
        let follow = || since.for_each(|since| since.follow(change));
        if change.edits().len() < FOR_TWO {
            follow();
            self.text.apply(change);
        } else {
            std::thread::scope(|scope| {
                scope.spawn(follow);
                self.text.apply(change);
            });
        }
        if let (Some(tree), Some(before)) = (&mut self.tree, before) {
            tree.follow(&before, change, &self.text);
        }
        self.lexical.follow(change);
        self.note(change);
        self.revision += 1;
        self.marks.follow(change);
        self.bookmarks.follow(change, &self.text);
        self.folds.follow(change, &self.text);
        let memory = &mut self.memory;
        let mut mapper = Mapper::new(change);
        for pair in &mut memory.pairs {
            let start = mapper.map(pair.start, Bias::Before);
            *pair = Span::new(start, mapper.map(pair.end, Bias::After).max(start));
        }
        for set in memory.past.sets_mut() {
            *set = set.mapped(change, Bias::After).snapped(&self.text);
        }
        for set in [&mut memory.given_up, &mut memory.pins].into_iter().flatten() {
            *set = set.mapped(change, Bias::After).snapped(&self.text);
        }
    }

    /// Back through the sets and places that stood before.
    fn cursors_undo(&mut self, times: u32) -> Effects {
        self.history.close_step();
        let mut steps = 0;
        while steps < times.max(1) {
            let Some(set) = self.memory.past.take() else { break };
            self.cursors = Arc::new(set);
            self.folds.reveal(&self.cursors);
            steps += 1;
        }
        if steps == 0 { Effects::saying("no cursors stood before") } else { Effects::default() }
    }

    /// A pair counts only while a caret is in it.
    fn forget_pairs_left(&mut self) {
        let carets = self.cursors.list();
        self.memory.pairs.retain(|pair| {
            let near = carets.partition_point(|each| each.head < pair.start);
            carets.get(near).is_some_and(|each| each.head <= pair.end)
        });
    }

    /// Remembers the place `at`, which moves with edits from now on.
    pub fn mark(&mut self, at: Byte) -> MarkId {
        self.marks.set(at)
    }

    /// Where a remembered place is now; none for one that was forgotten.
    #[must_use]
    pub fn marked(&self, id: MarkId) -> Option<Byte> {
        self.marks.get(id).map(|at| self.text.snap_forward(at))
    }

    /// Forgets a remembered place.
    pub fn unmark(&mut self, id: MarkId) {
        self.marks.forget(id);
    }

    fn check(&self) {
        if cfg!(debug_assertions) {
            self.assert_invariants();
        }
    }

    /// Checks what always holds.
    ///
    /// # Panics
    /// If the cursor set or the history has lost one of its invariants.
    pub fn assert_invariants(&self) {
        self.cursors.assert_invariants(&self.text);
        self.folds.assert_invariants(&self.text, &self.cursors);
        self.history.assert_invariants();
    }
}
