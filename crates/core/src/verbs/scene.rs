//! What a verb is given, and what it gives back: a verb is a pure function from one to the other.

use crate::bookmarks::Bookmarks;
use crate::changes::{Bias, Change, Mapper};
use crate::cursors::{CursorSet, Selection};
use crate::folds::Folds;
use crate::history::Grouping;
use crate::languages::Language;
use crate::languages::lexical::Syntax;
use crate::parallel::split_in_two;
use crate::rows::RowMap;
use crate::structure::{Known, Roles, Visited};
use crate::templates::session::Stops;
use crate::text::cells::TabWidth;
use crate::text::indent::IndentUnit;
use crate::text::reader::Reader;
use crate::text::words::WordRule;
use crate::text::{LineEnd, Text};
use crate::units::{Byte, Cell, Direction, Line, Span};
use crate::verbs::clipboard::clip::Clip;
use std::ops::ControlFlow;
use std::sync::Arc;

/// How a text is laid out, and how much of it a view shows.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct TextSettings {
    /// The distance between tab stops.
    pub tabs: TabWidth,
    /// One step of indentation.
    pub unit: IndentUnit,
    /// The kind that new line ends get.
    pub line_end: LineEnd,
    /// How many lines the view shows.
    pub view_lines: usize,
    /// Whether brackets and quotes close themselves.
    pub closes_pairs: bool,
    /// The width of text, in cells.
    pub text_width: u32,
    /// How wide rows are where the view wraps lines, in cells.
    pub wrap: Option<u32>,
}

/// What earlier verbs left for the next one.
#[derive(Clone, Debug, Default)]
pub struct Memory {
    /// The lines on which the verb before this one asked for a second press before it does anything.
    pub needs_confirmation: Option<Vec<Run>>,
    /// The verb before this one, its count and the bytes that were copied last, where it would have made the text very much larger:
    /// a second press does that.
    pub asked_to_grow: Option<(&'static str, u32, usize)>,
    /// How many bytes a verb may put in before a second press is asked for; no limit where it was pressed twice.
    pub most_inserted: Option<usize>,
    /// What was typed last, as long as nothing else was done: its places, one for each of a few cursors.
    pub typed: Vec<Span>,
    /// What cycling through cases has to know.
    pub cycle: Option<Cycle>,
    /// The sets that widening came from, each with what it became.
    pub widened: Vec<[CursorSet; 2]>,
    /// What the cursors of this text are among those of several texts that act together.
    pub together: Together,
    /// The lines that the verb before this one worked on, where its cursors may not touch all of them any more.
    pub kept_lines: Option<KeptLines>,
}

/// What the cursors of a text are among those of several texts.
#[derive(Clone, Debug, Default)]
pub struct Together {
    /// How many cursors there are in the texts before this one.
    pub first: usize,
    /// What the cursors of all texts hold, where the verb hands that on from text to text.
    pub texts: Option<Arc<Vec<String>>>,
}

/// Lines that a verb goes on with: moving text in and out can take the end of a selection into the first column of a line, which it
/// would not touch then.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct KeptLines {
    /// The cursors that were left: with others, the lines count no more.
    pub after: CursorSet,
    /// The first and the last line of each run, and which cursors touch it.
    pub runs: Vec<(Line, Line, std::ops::Range<usize>)>,
}

/// Places that the view remembers: they move with edits, so that they are those of the text as it is.
#[derive(Clone, Copy)]
pub struct Remembered<'a> {
    /// Gives the places set aside. Cost: linear in them.
    pub pins: &'a dyn Fn() -> Option<CursorSet>,
    /// The insides of pairs that closed themselves and that a caret has not left.
    pub pairs: &'a [Span],
    /// Gives the pins that were dropped after the last set of cursors was. Cost: linear in them.
    pub dropped_pins: &'a dyn Fn() -> Option<CursorSet>,
    /// Gives the last set of more than one cursor that was dropped. Cost: linear in that set.
    pub dropped_cursors: &'a dyn Fn() -> Option<CursorSet>,
    /// Gives the lines that differ from what was saved, in order. Cost: linear in them.
    pub changed_lines: &'a dyn Fn() -> Vec<Line>,
}

/// What cycling through cases has to know at its next press.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Cycle {
    /// The cursors that the last press left.
    pub after: CursorSet,
    /// The texts as they were at first, one for each cursor.
    pub first: Vec<String>,
    /// How many of upper, lower and first have been gone through.
    pub stage: usize,
}

/// Everything that a verb may look at.
pub struct Scene<'a> {
    /// The text.
    pub text: &'a Text,
    /// The cursors.
    pub cursors: &'a CursorSet,
    /// What is code, string and comment.
    pub syntax: &'a dyn Syntax,
    /// What is known of the structure.
    pub structure: Known<'a>,
    /// What is not shown.
    pub folds: &'a Folds,
    /// The bookmarks.
    pub bookmarks: &'a Bookmarks,
    /// The language of the file.
    pub language: &'a Language,
    /// How it is laid out.
    pub settings: &'a TextSettings,
    /// What was copied last.
    pub clip: &'a Clip,
    /// What earlier verbs left.
    pub memory: &'a Memory,
    /// Places that the view remembers.
    pub remembered: Remembered<'a>,
    /// How many lines each run has at least: the count before a verb that counts lines, else 1.
    pub reach: usize,
}

/// What a verb makes of a scene.
#[derive(Debug, Default)]
pub struct Outcome {
    /// What changes in the text.
    pub change: Change,
    /// The cursors afterwards, in the changed text; the old ones where it is none.
    pub cursors: Option<CursorSet>,
    /// What happened, or why nothing did.
    pub message: Option<String>,
    /// What is on the clipboard now.
    pub clip: Option<Clip>,
    /// Whether text is to be typed next.
    pub starts_typing: bool,
    /// Lines on which the verb asks for a second press.
    pub needs_confirmation: Option<Vec<Run>>,
    /// What happened to the sets that widening came from.
    pub widening: Widening,
    /// The insides of pairs that closed themselves.
    pub pairs: Vec<Span>,
    /// What the next press of cycling through cases has to know.
    pub cycle: Option<Cycle>,
    /// The folds afterwards, where they change.
    pub folds: Option<Folds>,
    /// The bookmarks afterwards, where they change.
    pub bookmarks: Option<Bookmarks>,
    /// What becomes of the pins, where they change.
    pub pins: Option<PinsAfter>,
    /// With which steps of the history this one grows together.
    pub grouping: Option<Grouping>,
    /// The lines that the next verb works on, if it comes at once.
    pub kept_lines: Option<KeptLines>,
    /// The stops of a template that was put in.
    pub stops: Option<Stops>,
    /// How many bytes it would put in, where those are too many to do that unasked: then nothing else is in it.
    pub would_insert: Option<usize>,
    /// Whether it could not be done; not where all is as asked for already.
    pub is_refused: bool,
}

/// What a verb makes of the pins.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum PinsAfter {
    /// They are these, or none.
    Are(Option<CursorSet>),
    /// They are dropped, and can be recalled.
    Dropped,
}

/// What a verb does with the memory of widening.
#[derive(Debug, Default, PartialEq, Eq)]
pub enum Widening {
    /// Nothing.
    #[default]
    None,
    /// The set before is to be remembered.
    Wider,
    /// The last one remembered was gone back to.
    Narrower,
}

impl Outcome {
    /// It cannot be done; `why` says so.
    pub fn nothing(why: impl Into<String>) -> Outcome {
        Outcome { is_refused: true, ..Outcome::already(why) }
    }

    /// All is as asked for already; `how` says so.
    pub fn already(how: impl Into<String>) -> Outcome {
        Outcome { message: Some(how.into()), ..Outcome::default() }
    }

    /// Nothing yet, if `bytes` are too many to be put in unasked.
    #[must_use]
    pub fn unless_asked(scene: &Scene, bytes: usize) -> Option<Outcome> {
        let is_too_much = scene.memory.most_inserted.is_some_and(|most| bytes > most);
        is_too_much.then(|| Outcome { would_insert: Some(bytes), ..Outcome::default() })
    }

    /// Other cursors.
    #[must_use]
    pub fn cursors(cursors: CursorSet) -> Outcome {
        Outcome { cursors: Some(cursors), ..Outcome::default() }
    }

    /// Another text, and the cursors in it.
    #[must_use]
    pub fn edit(change: Change, cursors: CursorSet) -> Outcome {
        Outcome { change, cursors: Some(cursors), ..Outcome::default() }
    }

    /// The same, saying `message`.
    #[must_use]
    pub fn saying(self, message: impl Into<String>) -> Outcome {
        Outcome { message: Some(message.into()), ..self }
    }

    /// The same, as part of a step of that kind.
    #[must_use]
    pub fn grouped(self, grouping: Grouping) -> Outcome {
        Outcome { grouping: Some(grouping), ..self }
    }

    /// The same, after which text is typed.
    #[must_use]
    pub fn then_typing(self) -> Outcome {
        Outcome { starts_typing: true, ..self }
    }
}

/// Neighbouring lines that cursors touch: line verbs take them as one object.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Run {
    /// Its first line.
    pub first: Line,
    /// Its last line.
    pub last: Line,
    /// Where its first line begins.
    pub start: Byte,
    /// Which cursors touch it, in the order of the text.
    pub cursors: std::ops::Range<usize>,
}

impl Run {
    /// How many lines it has.
    #[must_use]
    pub fn len(&self) -> usize {
        self.last.0 - self.first.0 + 1
    }

    /// Never: a run has a line at least.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        false
    }

    /// Its lines.
    pub fn lines(&self) -> impl DoubleEndedIterator<Item = Line> + use<> {
        (self.first.0..=self.last.0).map(Line)
    }
}

impl Scene<'_> {
    /// The rows of the text where the view wraps lines.
    #[must_use]
    pub fn rows(&self) -> Option<RowMap<'_>> {
        let width = self.settings.wrap?;
        Some(RowMap::new((self.text, self.folds), self.settings.tabs, Some(width)))
    }

    /// What belongs to a word here.
    #[must_use]
    pub fn words(&self) -> WordRule<'_> {
        self.language.word_rule()
    }

    /// The language at `at`.
    #[must_use]
    pub fn language_at(&self, at: Byte) -> Arc<Language> {
        self.syntax.language_at(at)
    }

    /// The first thing that `look` makes of the nodes around `span`, the smallest first; none where the structure is not known.
    /// Cost: the nodes that are looked at, and those that are not around the place that was asked for last.
    pub fn find_around<T>(&self, span: Span, look: impl FnMut(&Visited) -> Option<T>) -> Option<T> {
        self.find_wanted(span, None, look)
    }

    /// The same among the nodes that have any of `roles`.
    pub fn find_having<T>(&self, roles: Roles, span: Span, look: impl FnMut(&Visited) -> Option<T>) -> Option<T> {
        self.find_wanted(span, Some(roles), look)
    }

    fn find_wanted<T>(
        &self,
        span: Span,
        wanted: Option<Roles>,
        mut look: impl FnMut(&Visited) -> Option<T>,
    ) -> Option<T> {
        let mut found = None;
        self.structure.structure()?.visit_around(span, wanted, &mut |visited| {
            found = look(&visited);
            if found.is_some() { ControlFlow::Break(()) } else { ControlFlow::Continue(()) }
        });
        found
    }

    /// The display column of `at`.
    #[must_use]
    pub fn cell(&self, at: Byte) -> Cell {
        self.text.cell_of(at, self.settings.tabs)
    }

    /// The first and the last line that `selection` touches: one that ends in column 0 of a line does not
    /// touch that line. What is folded under its last line goes with that.
    #[must_use]
    pub fn touched(&self, selection: Selection) -> [Line; 2] {
        let Touched { first, last, .. } = touched_by(&mut Reader::new(self.text), self.folds, selection);
        [first, last]
    }

    /// The runs of touched lines. The empty line after a final line end belongs to none.
    #[must_use]
    pub fn runs(&self) -> Vec<Run> {
        let real = self.text.real_line_count();
        self.runs_below(real)
    }

    /// The runs of touched lines, the empty line after a final line end included: comments and opening take
    /// it as a blank line.
    #[must_use]
    pub fn runs_with_last(&self) -> Vec<Run> {
        self.runs_below(self.text.line_count())
    }

    fn runs_below(&self, lines: usize) -> Vec<Run> {
        let mut runs: Vec<Run> = Vec::new();
        if let Some(kept) = self.memory.kept_lines.as_ref().filter(|kept| kept.after == *self.cursors) {
            let run = |(first, last, cursors): &(Line, Line, std::ops::Range<usize>)| {
                let last = Line(last.0.min(lines.saturating_sub(1)));
                Run { first: *first, last, start: self.text.line_start(*first), cursors: cursors.clone() }
            };
            runs = kept.runs.iter().filter(|(first, ..)| first.0 < lines).map(run).collect();
            return if self.reach > 1 { reaching(runs, self.reach, lines) } else { runs };
        }
        let (text, folds, list) = (self.text, self.folds, self.cursors.list());
        let touched = split_in_two(list.len(), |part| {
            let mut reader = Reader::new(text);
            list[part].iter().map(|each| touched_by(&mut reader, folds, *each)).collect::<Vec<_>>()
        });
        for (index, Touched { first, last, start }) in touched.into_iter().flatten().enumerate() {
            if first.0 >= lines {
                continue;
            }
            let last = last.min(Line(lines - 1));
            match runs.last_mut() {
                Some(run) if first.0 <= run.last.0 + 1 => {
                    run.last = run.last.max(last);
                    run.cursors.end = index + 1;
                }
                _ => runs.push(Run { first, last, start, cursors: index..index + 1 }),
            }
        }
        if self.reach > 1 { reaching(runs, self.reach, lines) } else { runs }
    }

    /// The lines that `runs` are, for the verb that follows with the cursors `after`; the number of lines is the same.
    #[must_use]
    pub fn keep_lines(runs: Vec<Run>, after: &CursorSet) -> KeptLines {
        let runs = runs.into_iter().map(|run| (run.first, run.last, run.cursors)).collect();
        KeptLines { after: after.clone(), runs }
    }

    /// The cursors after `change`; `bias` says, for each one and for its start and its end, where it goes
    /// when text is put in right there.
    pub fn remap(&self, change: &Change, mut bias: impl FnMut(usize) -> [Bias; 2]) -> CursorSet {
        let mut mapper = Mapper::new(change);
        let mut index = 0;
        self.cursors.map(|each| {
            let [at_start, at_end] = bias(index);
            index += 1;
            if each.is_caret() {
                let at = mapper.map(each.head, at_start);
                return Selection { anchor: at, head: at, ..each.unwanting() };
            }
            let start = mapper.map(each.start(), at_start);
            let end = mapper.map(each.end(), at_end).max(start);
            Selection::over(Span::new(start, end), each.direction())
        })
    }

    /// The column that the head of `selection` would like to have.
    #[must_use]
    pub fn wanted(&self, selection: Selection) -> Cell {
        selection.goal_head.get().unwrap_or_else(|| self.cell(selection.head))
    }

    /// The neighbouring line that is shown, if there is one.
    #[must_use]
    pub fn neighbour(&self, line: Line, direction: Direction) -> Option<Line> {
        match direction {
            Direction::Back => line.previous().map(|previous| self.folds.shown(self.text, previous)),
            Direction::Forward => {
                let next = self.folds.last_under(self.text, line).next();
                Some(next).filter(|next| next.0 < self.text.line_count())
            }
        }
    }
}

/// The lines that a selection touches, and where the first one begins.
struct Touched {
    first: Line,
    last: Line,
    start: Byte,
}

/// [`Scene::touched`] of one of many, which are asked for in the order of the text.
/// The runs, each from its first line on as many lines as `reach`; those that meet then are one.
fn reaching(runs: Vec<Run>, reach: usize, lines: usize) -> Vec<Run> {
    let mut longer: Vec<Run> = Vec::with_capacity(runs.len());
    for mut run in runs {
        run.last = run.last.max(Line(run.first.0 + reach - 1).min(Line(lines - 1)));
        match longer.last_mut() {
            Some(before) if run.first.0 <= before.last.0 + 1 => {
                before.last = before.last.max(run.last);
                before.cursors.end = run.cursors.end;
            }
            _ => longer.push(run),
        }
    }
    longer
}

fn touched_by(reader: &mut Reader, folds: &Folds, selection: Selection) -> Touched {
    let (first, start) = reader.line_around(selection.start());
    let last = if selection.is_caret() { first } else { reader.line_of(selection.end()) };
    let ends_before = last > first && reader.line_start(last) == selection.end();
    let last = if ends_before { Line(last.0 - 1) } else { last };
    Touched { first, last: folds.last_under(reader.text(), last), start }
}

/// "1 line", "3 lines".
#[must_use]
pub fn counted(count: usize, what: &str) -> String {
    match count {
        1 => format!("1 {what}"),
        _ if what.ends_with("ch") => format!("{count} {what}es"),
        _ => format!("{count} {what}s"),
    }
}
