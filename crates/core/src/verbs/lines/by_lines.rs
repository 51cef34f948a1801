//! Statements where no tree tells them: a line with the lines that go on with it.
//!
//! A statement goes on after a backslash, while a bracket is open, in a deeper block below it, and to the line that closes that; comments
//! directly above it belong to it. It never leaves its block. Cost: the lines of the statement and of its neighbour.

use crate::changes::ChangeBuilder;
use crate::cursors::{CursorSet, Selection};
use crate::languages::scanner::Kind;
use crate::units::{Byte, Cell, Direction, Line, Span};
use crate::verbs::lines::code::code_of;
use crate::verbs::scene::{Outcome, Run, Scene, counted};

/// Lines of a statement, without blank ones around them.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Statement {
    first: Line,
    last: Line,
}

/// Carries the statement of every run.
pub fn carry_statement(scene: &Scene, direction: Direction) -> Outcome {
    let mut swaps: Vec<([Statement; 2], Run)> = Vec::new();
    let mut refused = "no statement here";
    for run in scene.runs() {
        let Some(own) = statement_of(scene, &run) else { continue };
        let other = match direction {
            Direction::Back => before(scene, own),
            Direction::Forward => after(scene, own),
        };
        let Some(other) = other else {
            refused = "already at the edge of its block";
            continue;
        };
        let pair = if direction == Direction::Back { [other, own] } else { [own, other] };
        match swaps.last().is_none_or(|([_, lower], _)| lower.last < pair[0].first) {
            true => swaps.push((pair, run)),
            false => refused = "two of them would change places with the same one",
        }
    }
    if swaps.is_empty() {
        return Outcome::nothing(refused);
    }
    let text = scene.text;
    let span_of =
        |statement: Statement| Span::new(text.line_start(statement.first), text.content_span(statement.last).end);
    let mut builder = ChangeBuilder::new(text);
    let mut placed: Vec<Option<Selection>> = vec![None; scene.cursors.len()];
    for ([upper, lower], run) in &swaps {
        let (upper, lower) = (span_of(*upper), span_of(*lower));
        let texts = [upper, lower].map(|span| text.slice(span).into_owned());
        let new_upper = builder.now(upper.start);
        builder.replace(upper, &texts[1]);
        builder.note_move(lower, new_upper);
        let new_lower = builder.now(lower.start);
        builder.replace(lower, &texts[0]);
        builder.note_move(upper, new_lower);
        let (from, to) = if direction == Direction::Back { (lower, new_upper) } else { (upper, new_lower) };
        for index in run.cursors.clone() {
            let each = scene.cursors.list()[index];
            let moved = |at: Byte| to + (at.max(from.start).min(from.end) - from.start);
            placed[index] = Some(Selection { anchor: moved(each.anchor), head: moved(each.head), ..each });
        }
    }
    let change = builder.finish();
    let elsewhere = scene.cursors.mapped_each(&change, crate::changes::Bias::After);
    let list = placed.into_iter().zip(elsewhere).map(|(placed, other)| placed.unwrap_or(other)).collect();
    Outcome::edit(change, CursorSet::of(list, scene.cursors.primary_index()))
        .saying(format!("carried {}", counted(swaps.len(), "statement")))
}

fn depth(scene: &Scene, line: Line) -> Cell {
    scene.text.depth_of(line, scene.settings.tabs)
}

fn is_comment(scene: &Scene, line: Line) -> bool {
    let pieces = scene.syntax.pieces(line);
    !scene.text.is_blank(line)
        && code_of(scene, line).trim().is_empty()
        && pieces.iter().all(|piece| piece.token.kind == Kind::Comment)
}

/// Whether `line` closes what is above it.
fn closes(scene: &Scene, line: Line) -> bool {
    let code = scene.text.content(line);
    let code = code.trim_start();
    let word: String = code.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
    code.starts_with([')', ']', '}'])
        || ["</", "{/", "{:", "-->", "*/", "{% end", "{%- end", "{% el"].iter().any(|mark| code.starts_with(mark))
        || matches!(word.as_str(), "end" | "fi" | "done" | "esac" | "else" | "elif" | "elsif" | "endif" | "endfunction")
}

/// Whether the code of `line` goes on in the next.
fn is_continued(scene: &Scene, line: Line) -> bool {
    scene.language.backslash_continues && code_of(scene, line).ends_with('\\')
}

/// The last line of the statement that begins at `first`.
fn end_of(scene: &Scene, first: Line) -> Line {
    let text = scene.text;
    let last_line = text.real_line_count().saturating_sub(1);
    let own = depth(scene, first);
    let (mut last, mut line, mut brackets) = (first, first, 0i32);
    loop {
        for c in code_of(scene, line).chars() {
            brackets += i32::from("([{".contains(c)) - i32::from(")]}".contains(c));
        }
        last = last.max(line);
        let goes_on = brackets > 0 || is_continued(scene, line);
        let Some(next) = Some(line.next()).filter(|next| next.0 <= last_line) else { return last };
        let next_full = (next.0..=last_line).map(Line).find(|line| !text.is_blank(*line));
        let Some(full) = next_full else { return last };
        let is_inside = scene.syntax.kind_before_line(full) != Kind::Code;
        let is_deeper = depth(scene, full) > own;
        let is_closer =
            depth(scene, full) == own && closes(scene, full) && last >= first && (last > first || full == next);
        if !(goes_on || is_inside || is_deeper || is_closer) {
            return last;
        }
        line = full;
    }
}

/// The first line of the statement that `line` is in at its depth: comments directly above it included.
fn start_of(scene: &Scene, line: Line) -> Line {
    let mut first = line;
    while let Some(above) = first.previous() {
        let goes_on = is_continued(scene, above) || closes(scene, first);
        let is_attached = is_comment(scene, above) && depth(scene, above) == depth(scene, line);
        if !goes_on && !is_attached {
            break;
        }
        first = above;
    }
    first
}

/// The statement that the lines of a run are.
fn statement_of(scene: &Scene, run: &Run) -> Option<Statement> {
    let text = scene.text;
    let full = |line: &Line| !text.is_blank(*line);
    let (mut first, last) = (run.lines().find(full)?, run.lines().rfind(full)?);
    // A closing line, and a line that goes on, belong to the line that opens.
    while (closes(scene, first) || first.previous().is_some_and(|above| is_continued(scene, above)))
        && let Some(above) =
            (0..first.0).rev().map(Line).filter(full).find(|line| depth(scene, *line) <= depth(scene, first))
    {
        first = above;
    }
    let begin = (first.0..=last.0).map(Line).find(|line| full(line) && !is_comment(scene, *line)).unwrap_or(first);
    Some(Statement { first: start_of(scene, first), last: end_of(scene, begin).max(last) })
}

/// The statement after `own` in its block.
fn after(scene: &Scene, own: Statement) -> Option<Statement> {
    let text = scene.text;
    let full = |line: &Line| !text.is_blank(*line);
    let first = (own.last.0 + 1..text.real_line_count()).map(Line).find(full)?;
    if depth(scene, first) != depth(scene, own.first) || closes(scene, first) {
        return None;
    }
    let begin = (first.0..text.real_line_count())
        .map(Line)
        .find(|line| full(line) && !is_comment(scene, *line))
        .filter(|line| depth(scene, *line) == depth(scene, first));
    Some(Statement { first, last: begin.map_or(first, |begin| end_of(scene, begin)) })
}

/// The statement before `own` in its block.
fn before(scene: &Scene, own: Statement) -> Option<Statement> {
    let text = scene.text;
    let full = |line: &Line| !text.is_blank(*line);
    let last = (0..own.first.0).rev().map(Line).find(full)?;
    let begins = |line: &Line| depth(scene, *line) <= depth(scene, own.first);
    let mut first = (0..=last.0).rev().map(Line).filter(full).find(begins)?;
    while depth(scene, first) == depth(scene, own.first)
        && (closes(scene, first) || first.previous().is_some_and(|above| is_continued(scene, above)))
    {
        first = (0..first.0).rev().map(Line).filter(full).find(begins)?;
    }
    let is_beside = depth(scene, first) == depth(scene, own.first) && end_of(scene, first) == last;
    is_beside.then(|| Statement { first: start_of(scene, first), last })
}
