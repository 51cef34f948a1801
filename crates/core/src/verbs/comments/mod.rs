//! Line comments: on, off, toggled, turned over line by line.
//!
//! Which marks are used follows from the table of the language in which the line is: a line mark where it has one,
//! else the line is wrapped in its block marks. Every language's lines of a run are decided by themselves. Cost:
//! linear in the touched lines.

mod apart;
mod around;
pub mod block;
mod children;
mod edges;
mod embedded;
pub mod escaping;
mod found;
mod groups;
mod look;
mod marking;
pub mod marks;
pub mod open;
pub mod reflow;
mod rows;
mod style;

use super::scene::{Outcome, Run, Scene, counted};
use crate::changes::{Bias, Change, ChangeBuilder, Edit, Mapper};
use crate::cursors::{CursorSet, Selection};
use crate::languages::Language;
use crate::languages::scanner::Kind;
use crate::parallel::split_in_two;
use crate::text::indent::IndentUnit;
use crate::text::reader::Reader;
use crate::units::{Byte, Line, Span};
use apart::Apart;
use children::Edits;
use marking::{Lines, Marking};
pub use style::LineMarking;
use style::{Style, style_of};

/// Carries `wish` out on every run; in each, every language's lines by themselves.
pub fn lines(scene: &Scene, wish: LineMarking) -> Outcome {
    let runs = scene.runs_with_last();
    if let Some(outcome) = around::marked(scene, &runs, wish) {
        return outcome;
    }
    let runs = around::without_code_tags(scene, runs);
    if runs.is_empty() {
        return Outcome::nothing("the tags around code stay: between comment marks they would still end it");
    }
    let is_lone =
        |run: &Run| around::has_lone_code_element(scene, Span::new(run.start, scene.text.content_span(run.last).end));
    if runs.iter().any(is_lone) {
        return Outcome::nothing(around::LONE_TAG);
    }
    if let Some(refusal) = refusal(scene, &runs) {
        return refusal;
    }
    let mut lines = Lines::default();
    let mut apart = Apart::default();
    for (run, all_blank) in runs.iter().zip(are_blank(scene, &runs)) {
        for usual in usual_lines(scene, run, wish, &mut apart) {
            groups::add(scene, &usual, all_blank, &mut lines);
        }
    }
    let unit = match scene.settings.unit {
        IndentUnit::Spaces(unit) => unit,
        IndentUnit::Tab => 0,
    };
    let mut marking = lines.marked(scene.text, scene.settings.tabs, (wish, unit));
    marking.on += apart.on;
    marking.off += apart.off;
    marking.were += apart.were;
    let widened = if apart.is_widened { ", widened to whole elements" } else { "" };
    let message = message(&marking, &lines) + widened;
    let ends =
        apart.edits.iter().filter(|(span, with)| span.is_empty() && with.starts_with(' ')).map(|(span, _)| span.start);
    let ends: Vec<Byte> = ends.collect();
    let change = with_edits(scene, marking.change, apart.edits);
    if change.is_empty() {
        return Outcome::nothing(message);
    }
    let wraps_any = lines.wraps_any();
    let mut cursors = scene.remap(&change, |index| {
        let each = scene.cursors.list()[index];
        let line = || scene.text.line_of(each.head);
        let at_end = || scene.text.content_span(line()).end == each.head;
        let wraps = || (wraps_any && lines.wraps(line())) || ends.binary_search(&each.head).is_ok();
        let before_close = each.is_caret() && at_end() && wraps();
        [if before_close { Bias::Before } else { Bias::After }, Bias::Before]
    });
    if lines.marks_blank() {
        cursors = behind_marks(scene, &cursors, &change);
    }
    Outcome::edit(change, cursors).saying(message)
}

/// The lines of `run` that get the marks of their language, as runs; what is done to the others is added to `apart`.
fn usual_lines(scene: &Scene, run: &Run, wish: LineMarking, apart: &mut Apart) -> Vec<Run> {
    if !Apart::may_have(scene) {
        return vec![run.clone()];
    }
    let mut usual: Vec<Run> = Vec::new();
    for line in apart.take(scene, run, wish) {
        match usual.last_mut() {
            Some(last) if last.last.next() == line => last.last = line,
            _ => usual.push(Run { first: line, last: line, start: scene.text.line_start(line), ..run.clone() }),
        }
    }
    usual
}

/// `change`, and `edits` in places that it leaves alone.
fn with_edits(scene: &Scene, change: Change, edits: Edits) -> Change {
    if edits.is_empty() {
        return change;
    }
    let marks = change.edits().iter().map(|edit| {
        let span = Span::new(edit.start(), edit.start() + edit.removed_len());
        (span, change.inserted(edit).to_owned())
    });
    let mut all: Edits = marks.chain(edits).collect();
    all.sort_by_key(|(span, _)| *span);
    let mut builder = ChangeBuilder::new(scene.text);
    all.into_iter().for_each(|(span, with)| builder.replace(span, &with));
    builder.finish()
}

/// For each run, whether it has nothing but blank lines.
fn are_blank(scene: &Scene, runs: &[Run]) -> Vec<bool> {
    let text = scene.text;
    let halves = split_in_two(runs.len(), |part| {
        let mut reader = Reader::new(text);
        let mut is_blank = |line| reader.content(line).trim_start().is_empty();
        runs[part].iter().map(|run| run.lines().all(&mut is_blank)).collect::<Vec<_>>()
    });
    halves.concat()
}

fn message(marking: &Marking, lines: &Lines) -> String {
    let done = match (marking.on, marking.off) {
        (0, 0) => lines.without_marks().map_or_else(|| "nothing to change here".to_owned(), no_marks),
        (on, 0) => format!("commented {}", counted(on, "line")),
        (0, off) => format!("uncommented {}", counted(off, "line")),
        (on, off) => format!("commented {}, uncommented {off}", counted(on, "line")),
    };
    match marking.were {
        0 => done,
        were => format!("{done}, {were} of {} were comments already", marking.on.max(were)),
    }
}

fn no_marks(language: &Language) -> String {
    match &language.commented_variant {
        Some(variant) => format!("{} has no comments; {variant} has", language.title),
        None => format!("{} has no comments", language.title),
    }
}

/// Why nothing may be done, or not yet: a string reaches over the edge of a run, and the text of a program
/// may need that line; a line wrapped inside a comment would end it.
fn refusal(scene: &Scene, runs: &[Run]) -> Option<Outcome> {
    // What is cut by an edge is asked of the line after it, and told of that inside the run.
    let both = |run: &Run| [[run.first; 2], [run.last.next(), run.last]];
    let edges: Vec<[Line; 2]> = runs.iter().flat_map(both).filter(|[at, _]| *at <= scene.text.last_line()).collect();
    let asked: Vec<Line> = edges.iter().map(|[at, _]| *at).collect();
    let kinds = scene.syntax.kinds_before(&asked);
    let first_in = |kind: Kind| kinds.iter().position(|found| *found == kind).map(|index| edges[index][1]);
    let in_string = first_in(Kind::String);
    if let Some(line) = in_string.filter(|_| scene.memory.needs_confirmation.as_deref() != Some(runs)) {
        let message = format!("line {} is inside a string: press again to do it all the same", line.0 + 1);
        return Some(Outcome { needs_confirmation: Some(runs.to_vec()), ..Outcome::nothing(message) });
    }
    let wraps = |line: &Line| {
        let language = scene.language_at(scene.text.indentation_span(*line).end);
        matches!(style_of(&language), Some(Style::Wrap(_)))
    };
    first_in(Kind::Comment).filter(wraps).map(|line| {
        let line = line.0 + 1;
        Outcome::nothing(format!("line {line} is part of a comment over several lines: marks inside would end it"))
    })
}

/// Carets of lines that were blank go after the mark that was put there (inside the marks of a wrapped line).
fn behind_marks(scene: &Scene, cursors: &CursorSet, change: &Change) -> CursorSet {
    let mut index = 0;
    let is_sole = cursors.len() == scene.cursors.len();
    let mut mapper = Mapper::new(change);
    cursors.map(|each| {
        let old = scene.cursors.list()[index.min(scene.cursors.len() - 1)];
        index += 1;
        let line = scene.text.line_of(old.head);
        if !is_sole || !old.is_caret() || !scene.text.is_blank(line) {
            return each;
        }
        let end = scene.text.content_span(line).end;
        let first = change.edits().partition_point(|edit| edit.start() < end);
        let here = change.edits()[first..].iter().take_while(|edit| edit.start() == end);
        let mark = here.into_iter().find(|edit| edit.inserted_len() > 0);
        let start = mapper.map(end, Bias::Before);
        Selection::caret(start + mark.map_or(0, Edit::inserted_len))
    })
}
