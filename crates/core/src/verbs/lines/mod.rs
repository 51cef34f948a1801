//! Whole lines as objects: carrying, duplicating, deleting, opening.
//!
//! Line verbs rearrange the list of contents; line ends stay where they were in the list, so that a last line
//! without a line end keeps being one. Cost: linear in runs and in the bytes that move.

mod aligned;
mod blank_lines;
pub mod breaks;
mod by_lines;
mod by_tree;
pub mod code;
pub mod cut;
mod depth;
pub mod elements;
pub mod filtering;
pub mod finish;
pub mod imports;
pub mod indent;
pub mod join;
pub mod joinable;
mod leaving;
mod levels;
mod line_edit;
mod line_words;
pub mod lists;
pub mod literals;
mod looked;
pub mod markup;
pub mod mending;
pub mod merging;
pub mod reindent;
pub mod siblings;
pub mod sorting;
pub mod spread;
pub mod statements;
pub mod steps;
pub mod trim;
pub mod unwrapping;
pub mod wrapping;

use crate::changes::{Bias, BuiltPart, Change, ChangeBuilder, Mapper, build_parallel};
use crate::cursors::{CursorSet, GoalColumn, Selection};
use crate::folds::Folds;
use crate::parallel::split_in_two;
use crate::text::cells::TabWidth;
use crate::text::reader::Reader;
use crate::text::{LineEnd, Text};
use crate::units::{Byte, Cell, Direction, Line, Span};
use crate::verbs::lines::indent::depth_after;
use crate::verbs::scene::{Outcome, Run, Scene, counted};

fn end_text(reader: &mut Reader, line: Line) -> &'static str {
    reader.line_end(line).map_or("", LineEnd::as_str)
}

fn end_span(reader: &mut Reader, line: Line) -> Span {
    Span::new(reader.content_span(line).end, reader.line_span(line).end)
}

fn replace_end(builder: &mut ChangeBuilder, line: Line, with: &str) {
    if end_text(builder.reader(), line) != with {
        let end = end_span(builder.reader(), line);
        builder.replace(end, with);
    }
}

fn total_lines(runs: &[Run]) -> usize {
    runs.iter().map(Run::len).sum()
}

/// Each run changes places with the line before or after it. A run at the file's edge stays.
pub fn carry(scene: &Scene, direction: Direction) -> Outcome {
    let (text, folds) = (scene.text, scene.folds);
    let real = text.real_line_count();
    let runs: Vec<Run> = scene.runs().into_iter().filter(|run| has_neighbour(run, direction, real)).collect();
    let (change, _) = build_parallel(text, runs.len(), |builder, part| {
        runs[part].iter().for_each(|run| match direction {
            Direction::Back => swap_with_lines_above(builder, folds, run),
            Direction::Forward => swap_with_lines_below(builder, folds, run),
        });
    });
    if change.is_empty() {
        return Outcome::nothing(match direction {
            Direction::Back => "already at the top of the file",
            Direction::Forward => "already at the end of the file",
        });
    }
    let mut moved = vec![false; scene.cursors.len()];
    runs.iter().for_each(|run| moved[run.cursors.clone()].fill(true));
    let bias = if direction == Direction::Back { Bias::Before } else { Bias::After };
    let cursors = scene.remap(&change, |index| if moved[index] { [bias; 2] } else { [Bias::After; 2] });
    let cursors = with_line_starts(scene, &runs, direction, (&change, cursors));
    let message = format!("carried {}", counted(total_lines(&runs), "line"));
    leaving::told(scene, &runs, direction, Outcome::edit(change, keep_wants(scene, cursors)).saying(message))
}

/// A selection that ended in the first column of the line after its run does so again: the line ends between may be of other lengths.
fn with_line_starts(
    scene: &Scene,
    runs: &[Run],
    direction: Direction,
    (change, cursors): (&Change, CursorSet),
) -> CursorSet {
    let text = scene.text;
    let ends = |each: &Selection, run: &Run| {
        !each.is_caret() && each.end() == text.line_span(run.last).end && text.line_end(run.last).is_some()
    };
    let list = scene.cursors.list();
    let is_any = runs.iter().any(|run| list[run.cursors.clone()].iter().any(|each| ends(each, run)));
    if !is_any || cursors.len() != list.len() {
        return cursors;
    }
    let after = text.applied(change);
    let mut moved = cursors.list().to_vec();
    for run in runs {
        let passed = match direction {
            Direction::Back => run.first.0 - scene.folds.shown(text, Line(run.first.0 - 1)).0,
            Direction::Forward => scene.folds.last_under(text, run.last.next()).0 - run.last.0,
        };
        let last = if direction == Direction::Back { run.last.0 - passed } else { run.last.0 + passed };
        let end = after.line_span(Line(last)).end;
        for index in run.cursors.clone().filter(|index| ends(&list[*index], run)) {
            let each = &mut moved[index];
            if each.head > each.anchor { each.head = end } else { each.anchor = end }
        }
    }
    CursorSet::of(moved, cursors.primary_index()).taking_as(&cursors)
}

/// Whether `run` can change places with a line, of `real` ones.
fn has_neighbour(run: &Run, direction: Direction, real: usize) -> bool {
    match direction {
        Direction::Back => run.first.0 > 0,
        Direction::Forward => run.last.0 + 1 < real,
    }
}

/// Lines that change places with a run: their contents one after the other, each with the end that the line so many below it
/// has, and where each content was and is within that.
struct Passing {
    characters: String,
    contents: Vec<(Span, usize)>,
}

impl Passing {
    fn of(reader: &mut Reader, lines: impl Iterator<Item = Line>, below: isize) -> Passing {
        let mut passing = Passing { characters: String::new(), contents: Vec::new() };
        for line in lines {
            passing.contents.push((reader.content_span(line), passing.characters.len()));
            passing.characters.push_str(&reader.content(line));
            passing.characters.push_str(end_text(reader, Line(line.0.saturating_add_signed(below))));
        }
        passing
    }

    /// Notes where the contents went: they begin at `start` in the changed text.
    fn note(&self, builder: &mut ChangeBuilder, start: Byte) {
        self.contents.iter().for_each(|(from, at)| builder.note_move(*from, start + *at));
    }
}

/// The line above, with what it is folded with, goes after the run. Line ends stay where they were in the list, and
/// the run's last one stays last.
fn swap_with_lines_above(builder: &mut ChangeBuilder, folds: &Folds, run: &Run) {
    let reader = builder.reader();
    let first = folds.shown(reader.text(), Line(run.first.0 - 1));
    let count = run.first.0 - first.0;
    let above = Span::new(reader.line_start(first), reader.line_start(run.first));
    let passing = Passing::of(reader, (first.0..run.first.0).map(Line), run.len() as isize);
    builder.remove(above);
    for line in run.lines().take(run.len() - 1) {
        let end = end_text(builder.reader(), Line(line.0 - count));
        replace_end(builder, line, end);
    }
    let reader = builder.reader();
    let (last_end, new_end) = (end_text(reader, run.last), end_text(reader, Line(run.last.0 - count)));
    let old = end_span(reader, run.last);
    if last_end == new_end {
        let start = builder.now(old.end);
        passing.note(builder, start);
        builder.insert(old.end, &passing.characters);
    } else {
        let start = builder.now(old.start) + new_end.len();
        passing.note(builder, start);
        builder.replace(old, &format!("{new_end}{}", passing.characters));
    }
}

/// The line below, with what is folded under it, goes before the run.
fn swap_with_lines_below(builder: &mut ChangeBuilder, folds: &Folds, run: &Run) {
    let first = run.last.next();
    let reader = builder.reader();
    let last = folds.last_under(reader.text(), first);
    let count = last.0 - run.last.0;
    let start = reader.line_start(run.first);
    let below = Span::new(reader.line_start(first), reader.line_span(last).end);
    let passing = Passing::of(reader, (first.0..=last.0).map(Line), -(run.len() as isize));
    let above = builder.now(start);
    passing.note(builder, above);
    builder.insert(start, &passing.characters);
    for line in run.lines() {
        let end = end_text(builder.reader(), Line(line.0 + count));
        replace_end(builder, line, end);
    }
    builder.remove(below);
}

/// Lines that move keep their cursors' columns, and so what those wanted.
fn keep_wants(scene: &Scene, cursors: CursorSet) -> CursorSet {
    if cursors.len() != scene.cursors.len() {
        return cursors;
    }
    let mut before = scene.cursors.iter();
    cursors.map(|each| match before.next() {
        Some(old) => Selection { goal_anchor: old.goal_anchor, goal_head: old.goal_head, ..each },
        None => each,
    })
}

/// Where the lines of a copy begin, for cursors that go along into it.
struct CopiedLines {
    /// Start of each line in the original and in the copy, and the places after the last line.
    lines: Vec<[Byte; 2]>,
}

impl CopiedLines {
    fn place(&self, at: Byte) -> Byte {
        let index = self.lines.partition_point(|[original, _]| *original <= at).saturating_sub(1);
        let [original, copied] = self.lines[index];
        copied + (at - original)
    }
}

/// A copy of each run above or below it, with the cursors on the copy.
pub fn duplicate(scene: &Scene, direction: Direction) -> Outcome {
    let text = scene.text;
    let runs = scene.runs();
    if runs.is_empty() {
        return Outcome::nothing("no line here to duplicate");
    }
    let (cursors, line_end) = (scene.cursors.list(), scene.settings.line_end);
    let (change, parts) = build_parallel(text, runs.len(), |builder, part| {
        let mut onto: Vec<Selection> = Vec::with_capacity(part.len());
        for run in &runs[part] {
            let copy = put_copy(builder, run, direction, line_end);
            let there =
                |each: &Selection| Selection { anchor: copy.place(each.anchor), head: copy.place(each.head), ..*each };
            onto.extend(cursors[run.cursors.clone()].iter().map(there));
        }
        onto
    });
    let moved = parts.iter().flat_map(|BuiltPart { made, shift }| {
        made.iter().map(|each| Selection { anchor: shift.of(each.anchor), head: shift.of(each.head), ..*each })
    });
    let mut list: Vec<Option<Selection>> = vec![None; cursors.len()];
    runs.iter().flat_map(|run| run.cursors.clone()).zip(moved).for_each(|(index, each)| list[index] = Some(each));
    let elsewhere = scene.cursors.mapped_each(&change, Bias::After);
    let list = list.iter().zip(elsewhere).map(|(copied, other)| copied.unwrap_or(other)).collect();
    let message = format!("duplicated {}", counted(total_lines(&runs), "line"));
    Outcome::edit(change, CursorSet::of(list, scene.cursors.primary_index())).saying(message)
}

/// Puts a copy of `run` in beside it, its lines parted by `line_end`.
fn put_copy(builder: &mut ChangeBuilder, run: &Run, direction: Direction, line_end: LineEnd) -> CopiedLines {
    let new_end = line_end.as_str();
    let reader = builder.reader();
    let first = reader.line_start(run.first);
    let is_unended = reader.line_end(run.last).is_none();
    let end = reader.line_span(run.last).end;
    let below_unended = direction == Direction::Forward && is_unended;
    let place = if direction == Direction::Back { first } else { end };
    let mut characters = if below_unended { new_end.to_owned() } else { String::new() };
    let start = builder.now(place);
    let reader = builder.reader();
    let mut copy = CopiedLines { lines: Vec::with_capacity(run.len() + 1) };
    for line in run.lines() {
        copy.lines.push([reader.line_start(line), start + characters.len()]);
        characters.push_str(&reader.content(line));
        if !(below_unended && line == run.last) {
            characters.push_str(new_end);
        }
    }
    if !is_unended {
        copy.lines.push([end, start + characters.len()]);
    }
    builder.insert(place, &characters);
    copy
}

/// A copy of each selection's text right before or after it, selected; a caret: a copy of its line.
pub fn duplicate_text(scene: &Scene, direction: Direction) -> Outcome {
    if scene.cursors.iter().all(Selection::is_caret) {
        return duplicate(scene, direction);
    }
    let copies = copies_of(scene, direction);
    let mut builder = ChangeBuilder::new(scene.text);
    let mut list: Vec<Option<Selection>> = vec![None; scene.cursors.len()];
    for copy in &copies {
        let start = builder.now(copy.at) + copy.lead.len();
        builder.insert(copy.at, &format!("{}{}{}", copy.lead, copy.characters, copy.tail));
        let moved = |at: Byte| start + (at - copy.original);
        for &index in &copy.cursors {
            let each = scene.cursors.list()[index];
            list[index] = Some(Selection { anchor: moved(each.anchor), head: moved(each.head), ..each });
        }
    }
    let change = builder.finish();
    let elsewhere = scene.cursors.mapped_each(&change, Bias::After);
    let list = list.iter().zip(elsewhere).map(|(copied, other)| copied.unwrap_or(other)).collect();
    let message = format!("duplicated {}", counted(copies.len(), "text"));
    Outcome::edit(change, CursorSet::of(list, scene.cursors.primary_index())).saying(message)
}

/// A copy that is about to be put in, and whose cursors go along into it.
struct Copy {
    at: Byte,
    /// A line end that parts it from the unterminated line before it, or from the line after it.
    lead: &'static str,
    characters: String,
    tail: &'static str,
    /// Where what is copied begins.
    original: Byte,
    cursors: Vec<usize>,
}

/// The copies of selections and of carets' lines, in the order of where they go in.
fn copies_of(scene: &Scene, direction: Direction) -> Vec<Copy> {
    let (text, new_end) = (scene.text, scene.settings.line_end.as_str());
    let (mut texts, mut lines): (Vec<Copy>, Vec<Copy>) = (Vec::new(), Vec::new());
    for (index, each) in scene.cursors.iter().enumerate() {
        let line = text.line_of(each.head);
        let original = if each.is_caret() { text.line_start(line) } else { each.start() };
        let is_unended = text.line_end(line).is_none();
        let cursors = vec![index];
        match (each.is_caret(), direction) {
            (false, _) => {
                let at = if direction == Direction::Back { each.start() } else { each.end() };
                let characters = text.slice(each.span()).into_owned();
                texts.push(Copy { at, lead: "", characters, tail: "", original, cursors });
            }
            (true, _) if text.is_after_final_end(line) => {}
            // Several carets in one line: one copy, and all of them on it.
            (true, _) if lines.last().is_some_and(|other| other.original == original) => {
                lines.iter_mut().rev().take(1).for_each(|other| other.cursors.push(index));
            }
            (true, _) => {
                let characters = text.content(line).into_owned();
                let (at, lead, tail) = match direction {
                    Direction::Back => (original, "", new_end),
                    Direction::Forward if is_unended => (text.end(), new_end, ""),
                    Direction::Forward => (text.line_span(line).end, "", new_end),
                };
                lines.push(Copy { at, lead, characters, tail, original, cursors });
            }
        }
    }
    // At one place a line's copy lies outside of a text's.
    let [first, second] = if direction == Direction::Back { [lines, texts] } else { [texts, lines] };
    let mut copies: Vec<Copy> = first.into_iter().chain(second).collect();
    copies.sort_by_key(|copy| copy.at);
    copies
}

/// The change that makes the runs vanish, with their line ends. A last line without one takes the line end
/// before it along, so that the new last line has none either.
#[must_use]
pub fn deletion(text: &Text, runs: &[Run]) -> Change {
    let remove = |builder: &mut ChangeBuilder, run: &Run| {
        let reader = builder.reader();
        let whole = Span::new(reader.line_start(run.first), reader.line_span(run.last).end);
        let is_unended = reader.line_end(run.last).is_none();
        let start = match run.first.previous().filter(|_| is_unended) {
            Some(previous) => reader.content_span(previous).end,
            None => whole.start,
        };
        builder.remove(Span::new(start, whole.end));
    };
    build_parallel(text, runs.len(), |builder, part| runs[part].iter().for_each(|run| remove(builder, run))).0
}

/// The runs vanish; carets keep their columns on the line that moved up.
pub fn delete(scene: &Scene) -> Outcome {
    let runs = scene.runs();
    if runs.is_empty() {
        return Outcome::nothing("no line here to delete");
    }
    let change = deletion(scene.text, &runs);
    let cursors = cursors_after_deletion(scene, &runs, &change);
    Outcome::edit(change, cursors).saying(format!("deleted {}", counted(total_lines(&runs), "line")))
}

/// Where the carets go when the runs have vanished.
#[must_use]
pub fn cursors_after_deletion(scene: &Scene, runs: &[Run], change: &Change) -> CursorSet {
    let (text, tabs, cursors) = (scene.text, scene.settings.tabs, scene.cursors.list());
    let landed = split_in_two(runs.len(), |part| {
        let mut reader = Reader::new(text);
        runs[part].iter().flat_map(|run| landings(&mut reader, run, cursors, tabs)).collect::<Vec<_>>()
    });
    let landed: Vec<Landing> = landed.into_iter().flatten().collect();
    if landed.is_empty() {
        return CursorSet::caret(Byte(0));
    }
    let mut list: Vec<Selection> = scene.cursors.mapped_each(change, Bias::After);
    let mut mapper = Mapper::new(change);
    for (index, landing) in runs.iter().flat_map(|run| run.cursors.clone()).zip(landed) {
        let caret = Selection::caret(mapper.map(landing.line, Bias::Before) + landing.offset).aged(cursors[index].born);
        list[index] = Selection { goal_head: GoalColumn::cell(landing.wanted), ..caret };
    }
    CursorSet::of(list, scene.cursors.primary_index())
}

/// Where a caret is put whose line vanishes.
struct Landing {
    /// Where the line begins, before the change.
    line: Byte,
    offset: usize,
    wanted: Cell,
}

/// Where the cursors of `run` land; nowhere if no line is left.
fn landings(reader: &mut Reader, run: &Run, cursors: &[Selection], tabs: TabWidth) -> Vec<Landing> {
    let following = Some(run.last.next()).filter(|&line| line <= reader.text().last_line());
    let Some(landing) = following.or(run.first.previous()) else { return Vec::new() };
    let line = reader.line_start(landing);
    let land = |each: &Selection| {
        let wanted = each.goal_head.get().unwrap_or_else(|| reader.cell_of(each.head, tabs));
        Landing { line, offset: reader.place_at(landing, wanted, tabs).at - line, wanted }
    };
    cursors[run.cursors.clone()].iter().map(land).collect()
}

/// An empty line above or below each run, at the depth that Enter would give there, and text is typed next.
pub fn open(scene: &Scene, direction: Direction) -> Outcome {
    let depth = |run: &Run| match direction {
        Direction::Back => run.first.previous().and_then(|above| full_line_at_or_above(scene, above)),
        Direction::Forward => full_line_at_or_above(scene, run.last),
    };
    // Where nothing tells what opens a block, a line above another one is as deep as that.
    let keeps_own = |run: &Run| {
        let language = scene.language_at(run.start);
        let is_told = language.structure.is_some() || !language.openers.is_empty();
        let is_own = direction == Direction::Back && !is_told && !scene.text.is_blank(run.first);
        is_own.then(|| scene.text.slice(scene.text.indentation_span(run.first)).into_owned())
    };
    let mut builder = ChangeBuilder::new(scene.text);
    let mut list = Vec::new();
    let runs = scene.runs_with_last();
    let primary = runs.iter().position(|run| run.cursors.contains(&scene.cursors.primary_index())).unwrap_or(0);
    for run in &runs {
        let indentation =
            keeps_own(run).or_else(|| depth(run).map(|line| depth_after(scene, line))).unwrap_or_default();
        let born = scene.cursors.list()[run.cursors.start].born;
        list.push(Selection::caret(put_line(scene, &mut builder, (run, direction), &indentation)).aged(born));
    }
    let message = format!("opened {}", counted(runs.len(), "line"));
    Outcome::edit(builder.finish(), CursorSet::of(list, primary)).saying(message).then_typing()
}

fn full_line_at_or_above(scene: &Scene, line: Line) -> Option<Line> {
    (0..=line.0).rev().map(Line).find(|line| !scene.text.is_blank(*line))
}

/// Puts a line that holds `content` beside the run; gives the place after `content`, in the changed text.
fn put_line(scene: &Scene, builder: &mut ChangeBuilder, (run, direction): (&Run, Direction), content: &str) -> Byte {
    let new_end = scene.settings.line_end.as_str();
    let is_unended = scene.text.line_end(run.last).is_none();
    match direction {
        Direction::Back => {
            let at = scene.text.line_start(run.first);
            let start = builder.now(at);
            builder.insert(at, &format!("{content}{new_end}"));
            start + content.len()
        }
        Direction::Forward => {
            let at = scene.text.line_span(run.last).end;
            let start = builder.now(at) + if is_unended { new_end.len() } else { 0 };
            let line = if is_unended { format!("{new_end}{content}") } else { format!("{content}{new_end}") };
            builder.insert(at, &line);
            start + content.len()
        }
    }
}

/// An empty line above or below each run; the cursors stay where they were.
pub fn blank(scene: &Scene, direction: Direction) -> Outcome {
    let mut builder = ChangeBuilder::new(scene.text);
    let runs = scene.runs_with_last();
    for run in &runs {
        put_line(scene, &mut builder, (run, direction), "");
    }
    let change = builder.finish();
    let bias = if direction == Direction::Back { Bias::After } else { Bias::Before };
    let cursors = keep_wants(scene, scene.remap(&change, |_| [bias; 2]));
    let message = format!("{} put in", counted(runs.len(), "blank line"));
    Outcome::edit(change, cursors).saying(message)
}
