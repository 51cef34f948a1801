//! Typing: characters, line ends, Backspace, Delete, Tab; the same at every cursor, in one step.

use super::indent::indentation_behind;
use super::scene::{Outcome, Scene};
use crate::changes::{Bias, ChangeBuilder};
use crate::cursors::Selection;
use crate::history::Grouping;
use crate::languages::scanner::Kind;
use crate::text::indent::IndentUnit;
use crate::units::{Byte, Cell, Direction, Span};

/// `characters` replace every selection.
pub fn type_text(scene: &Scene, characters: &str) -> Outcome {
    let mut builder = ChangeBuilder::new(scene.text);
    let cursors = scene.cursors.map(|each| {
        let at = builder.now(each.start()) + characters.len();
        builder.replace(each.span(), characters);
        Selection::caret(at)
    });
    Outcome::edit(builder.finish(), cursors).grouped(Grouping::Typing)
}

/// What a line break at a place removes and puts in.
struct Break {
    gap: Span,
    with: String,
    /// Where in `with` the caret goes.
    caret: usize,
}

/// A line end at every cursor; the next line gets the indentation, one unit more after an opener, and a
/// closer that follows goes on a line of its own.
pub fn line_break(scene: &Scene) -> Outcome {
    let breaks = |each: Selection| {
        let gap = without_blanks(scene, each.span());
        let end = scene.layout.line_end.as_str();
        let outer = scene.text.slice(scene.text.indentation_span(scene.text.line_of(gap.start))).into_owned();
        let inner = indentation_behind(scene, gap.start);
        let first = format!("{end}{inner}");
        let closes = closes_pair(scene, gap) && inner != outer;
        let with = if closes { format!("{first}{end}{outer}") } else { first.clone() };
        Break { gap, with, caret: first.len() }
    };
    break_lines(scene, breaks).grouped(Grouping::LineEnd)
}

/// A line end behind every caret, which stays before it; the rest keeps the indentation. A selection stays,
/// and is split at its head.
pub fn split_line(scene: &Scene) -> Outcome {
    let outcome = break_lines(scene, |each| {
        let gap = without_blanks(scene, Span::at(each.head));
        let line = scene.text.line_of(gap.start);
        let nothing_left = gap.end == scene.text.content_span(line).end;
        let indentation = scene.text.slice(scene.text.indentation_span(line)).into_owned();
        let end = scene.layout.line_end.as_str();
        let with = if nothing_left { end.to_owned() } else { format!("{end}{indentation}") };
        Break { gap, with, caret: 0 }
    });
    let Some(heads) = outcome.cursors else { return outcome };
    let mut index = 0;
    let cursors = scene.cursors.map(|each| {
        let head = heads.list()[index].head;
        index += 1;
        let anchor = if each.is_caret() { head } else { outcome.change.map(each.anchor, Bias::Before) };
        Selection::new(anchor, head)
    });
    Outcome::edit(outcome.change, cursors).saying("split the line")
}

fn break_lines(scene: &Scene, breaks: impl Fn(Selection) -> Break) -> Outcome {
    let mut builder = ChangeBuilder::new(scene.text);
    let mut reach = Byte(0);
    let cursors = scene.cursors.map(|each| {
        let made = breaks(each);
        let gap = Span::new(made.gap.start.max(reach), made.gap.end.max(reach));
        reach = gap.end;
        let at = builder.now(gap.start) + made.caret;
        builder.replace(gap, &made.with);
        Selection::caret(at)
    });
    Outcome::edit(builder.finish(), cursors)
}

/// `span` and the white space on both sides of it, within its lines.
fn without_blanks(scene: &Scene, span: Span) -> Span {
    let text = scene.text;
    let is_blank = |c: Option<char>| c.is_some_and(|c| c == ' ' || c == '\t');
    let (mut start, mut end) = (span.start, span.end);
    while is_blank(text.char_before(start)) {
        start = start - 1;
    }
    while is_blank(text.char_at(end)) {
        end += 1;
    }
    Span::new(start, end)
}

/// Whether a closer stands right behind `gap` that answers the opener before it.
fn closes_pair(scene: &Scene, gap: Span) -> bool {
    let pair = (scene.text.char_before(gap.start), scene.text.char_at(gap.end));
    matches!(pair, (Some('('), Some(')')) | (Some('['), Some(']')) | (Some('{'), Some('}')))
        && scene.syntax.kind_at(gap.start) == Kind::Code
}

/// Removes the selections, or the cluster beside each caret.
pub fn delete(scene: &Scene, direction: Direction) -> Outcome {
    let mut builder = ChangeBuilder::new(scene.text);
    for each in scene.cursors.iter() {
        builder.remove(match (each.is_caret(), direction) {
            (false, _) => each.span(),
            (true, Direction::Back) => Span::new(back_from(scene, each.head), each.head),
            (true, Direction::Forward) => scene.text.cluster_at(each.head),
        });
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::nothing(match direction {
            Direction::Back => "nothing before the cursor",
            Direction::Forward => "nothing behind the cursor",
        });
    }
    let cursors = scene.remap(&change, |_| [Bias::Before; 2]);
    let grouping = if direction == Direction::Back { Grouping::Backspacing } else { Grouping::Deleting };
    Outcome::edit(change, cursors).grouped(grouping)
}

/// Where Backspace from `at` reaches: one unit stop in leading spaces, else one cluster.
fn back_from(scene: &Scene, at: Byte) -> Byte {
    let text = scene.text;
    let line = text.line_of(at);
    let before = text.slice(Span::new(text.line_start(line), at));
    let IndentUnit::Spaces(unit) = scene.layout.unit else { return text.previous_boundary(at) };
    if before.is_empty() || !before.chars().all(|c| c == ' ' || c == '\t') {
        return text.previous_boundary(at);
    }
    let column = scene.cell(at);
    let stop = (column.0.saturating_sub(1) / unit.max(1)) * unit.max(1);
    let mut place = at;
    while text.char_before(place) == Some(' ') && scene.cell(place).0 > stop {
        place = place - 1;
    }
    if place == at { text.previous_boundary(at) } else { place }
}

/// The selected texts go.
pub fn delete_selected(scene: &Scene) -> Outcome {
    if scene.cursors.iter().all(Selection::is_caret) {
        return Outcome::nothing("nothing is selected");
    }
    let mut builder = ChangeBuilder::new(scene.text);
    scene.cursors.iter().for_each(|each| builder.remove(each.span()));
    let change = builder.finish();
    let cursors = scene.remap(&change, |_| [Bias::Before; 2]);
    Outcome::edit(change, cursors).saying("deleted what was selected")
}

/// White space up to the next stop of its own column replaces each selection; selections over lines are
/// indented instead.
pub fn tab_stop(scene: &Scene) -> Outcome {
    let spans_lines = |each: Selection| {
        let [first, last] = [each.start(), each.end()].map(|at| scene.text.line_of(at));
        first != last
    };
    if scene.cursors.iter().any(spans_lines) {
        return super::indent::indent(scene);
    }
    let mut builder = ChangeBuilder::new(scene.text);
    let mut shifted = (crate::units::Line(0), 0i64);
    let cursors = scene.cursors.map(|each| {
        let line = scene.text.line_of(each.start());
        if shifted.0 != line {
            shifted = (line, 0);
        }
        let column = Cell((i64::from(scene.cell(each.start()).0) + shifted.1).max(0) as u32);
        let (white, cells) = white_to_stop(scene, column);
        let removed = i64::from(scene.cell(each.end()).0) - i64::from(scene.cell(each.start()).0);
        shifted.1 += i64::from(cells) - removed;
        let at = builder.now(each.start()) + white.len();
        builder.replace(each.span(), &white);
        Selection::caret(at)
    });
    Outcome::edit(builder.finish(), cursors).grouped(Grouping::Typing)
}

fn white_to_stop(scene: &Scene, column: Cell) -> (String, u32) {
    let unit = scene.layout.unit.cells(scene.layout.tabs);
    let cells = unit - column.0 % unit;
    match scene.layout.unit {
        IndentUnit::Tab => ("\t".to_owned(), cells),
        IndentUnit::Spaces(_) => (" ".repeat(cells as usize), cells),
    }
}
