//! Marking lines: all of them are counted, what is done to each part of a run is decided, and the change is built.
//! Counting and building go over the lines in their order, by halves where there are many.

use super::escaping;
use super::look::{self, Here, Looked, Marked};
use super::style::{LineMarking, Style, style_of};
use crate::changes::{Change, ChangeBuilder, build_parallel};
use crate::languages::Language;
use crate::parallel::split_in_two;
use crate::text::Text;
use crate::text::cells::TabWidth;
use crate::text::reader::Reader;
use crate::units::{Byte, Cell, Line, Span};
use std::borrow::Cow;
use std::ops::Range;
use std::sync::Arc;

/// The lines of a run that are in one language.
pub(super) struct LanguagePart {
    pub language: Arc<Language>,
    /// Whether the run has nothing but blank lines: then they count.
    pub all_blank: bool,
}

impl LanguagePart {
    fn wraps(&self) -> bool {
        matches!(style_of(&self.language), Some(Style::Wrap(_)))
    }
}

/// Neighbouring lines of one part.
struct Stretch {
    lines: Range<usize>,
    part: usize,
    /// How many lines there are before it.
    before: usize,
}

/// Lines to be marked, in their order, and of which part each is.
#[derive(Default)]
pub(super) struct Lines {
    pub parts: Vec<LanguagePart>,
    stretches: Vec<Stretch>,
}

/// What came of marking lines.
pub(super) struct Marking {
    pub change: Change,
    pub on: usize,
    pub off: usize,
    /// How many were comments already that should become some.
    pub were: usize,
}

/// What was seen of a line when it was counted.
#[derive(Clone, Copy)]
struct SeenLine {
    start: Byte,
    glance: Glance,
}

/// By this alone most lines can be marked, or left.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Glance {
    Blank,
    /// Text without marks after nothing but spaces.
    Plain,
    /// Anything else: it must be looked at again.
    Other,
}

impl Glance {
    fn of(looked: &Looked) -> Glance {
        match looked.marked {
            _ if looked.is_blank => Glance::Blank,
            None if looked.is_spaced => Glance::Plain,
            _ => Glance::Other,
        }
    }
}

/// What is known of the lines of a part.
#[derive(Clone, Copy)]
struct Tally {
    lines: usize,
    marked: usize,
    /// The least depth of all lines, and of those without marks.
    least: Cell,
    least_unmarked: Cell,
    /// Whether a space is inside the marks wherever anything does, after the opening and before the closing ones.
    spaced: [bool; 2],
    /// Whether any of them begins with a tab.
    any_tab: bool,
    /// The greatest common divisor of the spaces after marks in the first column: 0 at first, 1 where a mark is elsewhere.
    spaces: u32,
}

impl Tally {
    const NONE: Tally = Tally {
        lines: 0,
        marked: 0,
        least: Cell(u32::MAX),
        least_unmarked: Cell(u32::MAX),
        spaced: [true; 2],
        any_tab: false,
        spaces: 0,
    };

    fn add(&mut self, here: Here, looked: &Looked) {
        let any_tab = here.content.starts_with('\t');
        let one = Tally { lines: 1, least: looked.depth, any_tab, ..Tally::NONE };
        *self = self.with(match looked.marked {
            Some(marked) => Tally { marked: 1, spaced: here.spaced(marked), spaces: here.spaces_after(marked), ..one },
            None => Tally { least_unmarked: looked.depth, ..one },
        });
    }

    fn with(self, other: Tally) -> Tally {
        Tally {
            lines: self.lines + other.lines,
            marked: self.marked + other.marked,
            least: self.least.min(other.least),
            least_unmarked: self.least_unmarked.min(other.least_unmarked),
            spaced: [self.spaced[0] && other.spaced[0], self.spaced[1] && other.spaced[1]],
            any_tab: self.any_tab || other.any_tab,
            spaces: divisor(self.spaces, other.spaces),
        }
    }

    /// Whether `wish` takes the marks off all lines that have some.
    fn takes_off(&self, wish: LineMarking) -> bool {
        wish == LineMarking::Off || (wish == LineMarking::Toggle && self.marked == self.lines)
    }
}

/// The greatest common divisor, where 0 is nothing yet.
fn divisor(one: u32, other: u32) -> u32 {
    if other == 0 { one } else { divisor(other, one % other) }
}

/// What is done to the lines of a part.
struct Plan<'a> {
    style: Style<'a>,
    part: &'a LanguagePart,
    /// Whether lines get marks that have some, and that have none.
    puts_on: [bool; 2],
    takes_off: bool,
    /// The column of marks that are put on.
    column: Cell,
    /// Whether a space goes with the marks that are taken off.
    spaced: [bool; 2],
    /// What goes in before a line, usually, and after it.
    opening: String,
    closing: String,
}

impl<'a> Plan<'a> {
    fn of(part: &'a LanguagePart, tally: Tally, (wish, unit): (LineMarking, u32)) -> Option<Plan<'a>> {
        let style = style_of(&part.language)?;
        let takes_off = tally.takes_off(wish);
        let on_marked = wish == LineMarking::Toggle && !takes_off;
        let (opening, closing) = match style {
            Style::Mark(marks, _) => (format!("{} ", marks[0]), String::new()),
            Style::Wrap(marks) => (format!("{} ", marks.open), format!(" {}", marks.close)),
        };
        Some(Plan {
            style,
            part,
            puts_on: [on_marked, on_marked || matches!(wish, LineMarking::On | LineMarking::Flip)],
            takes_off: takes_off || wish == LineMarking::Flip,
            column: match on_marked {
                _ if tally.any_tab && part.language.tab_begins_command => Cell(0),
                true => tally.least,
                false => tally.least_unmarked,
            },
            // Marks that a hand put into the first column: the spaces after them are the depth.
            spaced: [
                tally.spaced[0] && !(takes_off && unit > 1 && tally.spaces > 0 && tally.spaces.is_multiple_of(unit)),
                tally.spaced[1],
            ],
            opening,
            closing,
        })
    }

    /// Whether a line of which so much was seen need not be looked at again.
    fn knows(&self, glance: Glance) -> bool {
        match glance {
            Glance::Blank => !self.part.all_blank,
            Glance::Plain => matches!(self.style, Style::Mark(_, None)),
            Glance::Other => false,
        }
    }

    /// Where the line `here` gets which mark: the first one at `at`, or in its own column. A line that has something else than a
    /// number before that column, or does not reach it, gets one that may be anywhere.
    fn where_marked(&self, here: Here, at: Byte) -> (Byte, Cow<'_, str>) {
        let usual = Cow::Borrowed(self.opening.as_str());
        let Style::Mark(marks, Some(fixed)) = self.style else { return (at, usual) };
        if !fixed.marks.contains(&marks[0]) {
            return (at, usual);
        }
        let Here { text, tabs, line, start, .. } = here;
        let place = text.place_at(line, Cell(fixed.column), tabs).at;
        let before = text.slice(Span::new(start, place));
        let is_free = before.chars().all(|c| c.is_whitespace() || c.is_ascii_digit());
        let reaches =
            text.width_of(line, tabs) >= Cell(fixed.column) && text.cell_of(place, tabs) == Cell(fixed.column);
        let floating = marks.iter().find(|mark| !fixed.marks.contains(mark));
        match floating.filter(|_| !is_free || !reaches) {
            Some(mark) => (at, Cow::Owned(format!("{mark} "))),
            None => (place, usual),
        }
    }
}

impl Lines {
    /// Adds `count` lines from `first` on, which are of `part`, after those there are.
    pub fn add(&mut self, first: Line, count: usize, part: usize) {
        let lines = first.0..first.0 + count;
        match self.stretches.last_mut() {
            Some(last) if last.lines.end == first.0 && last.part == part => last.lines.end = lines.end,
            _ => self.stretches.push(Stretch { lines, part, before: self.len() }),
        }
    }

    fn len(&self) -> usize {
        self.stretches.last().map_or(0, |last| last.before + last.lines.len())
    }

    /// Those of the lines from one place among them to another, with their parts.
    fn within(&self, range: Range<usize>) -> impl Iterator<Item = (Range<usize>, usize)> {
        let first = self.stretches.partition_point(|each| each.before + each.lines.len() <= range.start);
        self.stretches[first..].iter().take_while(move |each| each.before < range.end).map(move |each| {
            let skipped = range.start.saturating_sub(each.before);
            let end = (each.lines.start + (range.end - each.before)).min(each.lines.end);
            (each.lines.start + skipped..end, each.part)
        })
    }

    /// Marks the lines of `text` as `wish` says.
    pub fn marked(&self, text: &Text, tabs: TabWidth, (wish, unit): (LineMarking, u32)) -> Marking {
        let (tallies, seen) = self.counted(text, tabs);
        let plans = self.parts.iter().zip(&tallies).map(|(part, tally)| Plan::of(part, *tally, (wish, unit)));
        let plans: Vec<Option<Plan>> = plans.collect();
        let (change, counts) = build_parallel(text, self.len(), |builder, range| {
            let mut pen = Pen { reader: Reader::new(text), tabs, builder, counts: [0; 2] };
            let mut begin = 0;
            for half in &seen {
                let here = range.start.max(begin)..range.end.min(begin + half.len());
                let mut known = if here.is_empty() { &[] } else { &half[here.start - begin..] };
                begin += half.len();
                for (lines, part) in self.within(here) {
                    let (those, rest) = known.split_at(lines.len());
                    known = rest;
                    if let Some(plan) = &plans[part] {
                        plan.mark(lines.start, those, &mut pen);
                    }
                }
            }
            pen.counts
        });
        let count = |which: usize| counts.iter().map(|part| part.made[which]).sum();
        let kept = tallies.iter().filter(|tally| wish != LineMarking::Flip && !tally.takes_off(wish));
        Marking { change, on: count(0), off: count(1), were: kept.map(|tally| tally.marked).sum() }
    }

    /// What is known of the lines of each part, and what was seen of each line, by halves.
    fn counted(&self, text: &Text, tabs: TabWidth) -> (Vec<Tally>, Vec<Vec<SeenLine>>) {
        let styles: Vec<Option<Style>> = self.parts.iter().map(|part| style_of(&part.language)).collect();
        let halves = split_in_two(self.len(), |range| {
            let (mut reader, mut seen) = (Reader::new(text), Vec::with_capacity(range.len()));
            let mut tallies = vec![Tally::NONE; self.parts.len()];
            for (lines, at) in self.within(range) {
                let (part, tally) = (&self.parts[at], &mut tallies[at]);
                look::each(&mut reader, tabs, lines, |here| {
                    let looked = styles[at].as_ref().map(|style| here.looked(style, &part.language));
                    if let Some(looked) = looked.as_ref().filter(|looked| part.all_blank || !looked.is_blank) {
                        tally.add(here, looked);
                    }
                    seen.push(SeenLine {
                        start: here.start,
                        glance: looked.as_ref().map_or(Glance::Other, Glance::of),
                    });
                });
            }
            (tallies, seen)
        });
        let both = |first: Vec<Tally>, second: Vec<Tally>| {
            first.into_iter().zip(second).map(|(one, other)| one.with(other)).collect()
        };
        let (tallies, seen): (Vec<_>, Vec<_>) = halves.into_iter().unzip();
        (tallies.into_iter().reduce(both).unwrap_or_default(), seen)
    }

    /// The language of a part that has no comments, if there is one.
    pub fn without_marks(&self) -> Option<&Language> {
        let without = |part: &&LanguagePart| style_of(&part.language).is_none();
        self.parts.iter().rev().find(without).map(|part| &*part.language)
    }

    /// Whether blank lines get marks.
    pub fn marks_blank(&self) -> bool {
        self.parts.iter().any(|part| part.all_blank && style_of(&part.language).is_some())
    }

    /// Whether any of the lines get marks around them.
    pub fn wraps_any(&self) -> bool {
        self.parts.iter().any(LanguagePart::wraps)
    }

    /// Whether `line` is one that gets marks around it.
    pub fn wraps(&self, line: Line) -> bool {
        let near = self.stretches.partition_point(|each| each.lines.end <= line.0);
        self.stretches.get(near).is_some_and(|each| each.lines.contains(&line.0) && self.parts[each.part].wraps())
    }
}

/// Puts marks into the change of a text.
struct Pen<'p, 't> {
    reader: Reader<'t>,
    tabs: TabWidth,
    builder: &'p mut ChangeBuilder<'t>,
    /// How many lines got marks, and lost them.
    counts: [usize; 2],
}

impl Plan<'_> {
    /// Marks the lines from `first` on, of which `seen` is known.
    fn mark(&self, first: usize, seen: &[SeenLine], pen: &mut Pen) {
        let mut first = first;
        for alike in seen.chunk_by(|one, other| self.knows(one.glance) == self.knows(other.glance)) {
            if self.knows(alike[0].glance) {
                for seen in alike.iter().filter(|seen| self.puts_on[1] && seen.glance == Glance::Plain) {
                    pen.builder.insert(seen.start + self.column.0 as usize, &self.opening);
                    pen.counts[0] += 1;
                }
            } else {
                let Pen { reader, tabs, builder, counts: [all_on, all_off] } = pen;
                look::each(reader, *tabs, first..first + alike.len(), |here| {
                    let [on, off] = Marker { here, plan: self, builder }.mark();
                    (*all_on, *all_off) = (*all_on + usize::from(on), *all_off + usize::from(off));
                });
            }
            first += alike.len();
        }
    }
}

/// Marks one line.
struct Marker<'m, 'b, 'a> {
    here: Here<'m>,
    plan: &'m Plan<'m>,
    builder: &'b mut ChangeBuilder<'a>,
}

impl Marker<'_, '_, '_> {
    /// Whether marks were put on, or taken off.
    fn mark(mut self) -> [bool; 2] {
        let looked = self.here.looked(&self.plan.style, &self.plan.part.language);
        if looked.is_blank && !self.plan.part.all_blank {
            return [false; 2];
        }
        let [on_marked, on_unmarked] = self.plan.puts_on;
        match looked.marked {
            None if on_unmarked => self.put_on(&looked),
            Some(_) if on_marked => self.put_on(&looked),
            Some(marked) if self.plan.takes_off => {
                self.take_off(marked);
                return [false, true];
            }
            _ => return [false; 2],
        }
        [true, false]
    }

    fn put_on(&mut self, looked: &Looked) {
        let (plan, Here { line, start, content, tabs, .. }) = (self.plan, self.here);
        let at = match looked.is_blank {
            true => start + content.len(),
            false if looked.is_spaced => start + plan.column.0 as usize,
            false => self.builder.reader().place_at(line, plan.column, tabs).at,
        };
        match plan.style {
            Style::Mark(..) => {
                let (at, mark) = plan.where_marked(self.here, at);
                self.builder.insert(at, &mark);
            }
            Style::Wrap(marks) => {
                self.builder.insert(at, &plan.opening);
                for place in escaping::places_to_escape(
                    &content[at - start..],
                    marks,
                    escaping::Nesting::of(&plan.part.language),
                ) {
                    self.builder.insert(at + place, "\\");
                }
                self.builder.insert(start + content.len(), &plan.closing);
            }
        }
    }

    fn take_off(&mut self, marked: Marked) {
        let (plan, here) = (self.plan, self.here);
        let [behind_open, before_close] = plan.spaced;
        let place = |span: Span| Span::new(here.start + span.start.0, here.start + span.end.0);
        let mut inner = here.inner(marked);
        if behind_open && !inner.is_empty() {
            inner.start += 1;
        }
        self.builder.remove(place(Span::new(marked.open.start, inner.start)));
        let (Some(close), Style::Wrap(marks)) = (marked.close, &plan.style) else { return };
        if before_close && !inner.is_empty() {
            inner = Span::new(inner.start, inner.end - 1);
        }
        let characters = &here.content[inner.start.0..inner.end.0];
        for at in escaping::places_to_unescape(characters, marks, escaping::Nesting::of(&plan.part.language)) {
            self.builder.remove(place(Span::new(inner.start + at, inner.start + at + 1)));
        }
        self.builder.remove(place(Span::new(inner.end, close.end)));
    }
}
