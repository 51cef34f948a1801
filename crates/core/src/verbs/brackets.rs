//! Brackets: those around a place, and the one that answers another. Only those that are code count.
//!
//! Cost: the lines between the brackets.

use super::scene::Scene;
use crate::units::{Byte, Direction, Line, Span};

/// How many lines in each direction a bracket is looked for: functions are shorter.
const LINES_LOOKED_AT: usize = 3_000;

/// Longer lines, in bytes, are not looked through: they hold data, and a caret may stand on one for long.
const LONGEST_LINE: usize = 256 << 10;

const BRACKETS: [(char, char); 3] = [('(', ')'), ('[', ']'), ('{', '}')];

/// The bracket at the caret `at`, or right before it, and the one that answers it; looked for on `lines` lines in each
/// direction. None where there is no bracket, or none that answers.
#[must_use]
pub fn pair_at(scene: &Scene, at: Byte, lines: usize) -> Option<[Byte; 2]> {
    let line = scene.text.line_of(at);
    let here = brackets_on(scene, line, Direction::Forward);
    let (own, bracket) =
        here.iter().find(|(place, _)| *place == at).or_else(|| here.iter().find(|(place, _)| *place + 1 == at))?;
    let opens = BRACKETS.iter().any(|(open, _)| open == bracket);
    let (other, answer) = match opens {
        true => unmatched(scene, *own + 1, Direction::Forward, lines)?,
        false => unmatched(scene, *own, Direction::Back, lines)?,
    };
    let pair = if opens { (*bracket, answer) } else { (answer, *bracket) };
    BRACKETS.contains(&pair).then_some([*own, other])
}

/// The inside of the brackets around `span`, and the whole; those around them where `span` is the whole.
pub fn brackets_around(scene: &Scene, span: Span) -> Vec<Span> {
    let mut inside = span;
    loop {
        let Some((open, bracket)) = unmatched(scene, inside.start, Direction::Back, LINES_LOOKED_AT) else {
            return Vec::new();
        };
        let Some((close, other)) = unmatched(scene, inside.end, Direction::Forward, LINES_LOOKED_AT) else {
            return Vec::new();
        };
        let whole = Span::new(open, close + 1);
        if BRACKETS.contains(&(bracket, other)) {
            return vec![Span::new(open + 1, close), whole];
        }
        // Brackets that do not answer each other: what is broken is passed over.
        inside = whole;
    }
}

/// The first bracket in `direction` from `at` that no other on the way answers, on so many lines.
fn unmatched(scene: &Scene, at: Byte, direction: Direction, lines: usize) -> Option<(Byte, char)> {
    let text = scene.text;
    let line = text.line_of(at).0;
    let mut depth = 0i32;
    for step in 0..lines {
        let line = match direction {
            Direction::Back => Line(line.checked_sub(step)?),
            Direction::Forward => Some(Line(line + step)).filter(|line| *line <= text.last_line())?,
        };
        for (place, c) in brackets_on(scene, line, direction) {
            let is_ahead = if direction == Direction::Back { place < at } else { place >= at };
            let opens = BRACKETS.iter().any(|(open, _)| *open == c);
            let nests = opens == (direction == Direction::Forward);
            match (is_ahead, nests, depth) {
                (false, ..) => {}
                (true, true, _) => depth += 1,
                (true, false, 0) => return Some((place, c)),
                (true, false, _) => depth -= 1,
            }
        }
    }
    None
}

/// The brackets of a line that are code, in the order of `direction`.
fn brackets_on(scene: &Scene, line: Line, direction: Direction) -> Vec<(Byte, char)> {
    let span = scene.text.content_span(line);
    if span.len() > LONGEST_LINE {
        return Vec::new();
    }
    let content = scene.text.slice(span);
    let is_bracket = |c: char| BRACKETS.iter().any(|(open, close)| c == *open || c == *close);
    if !content.contains(is_bracket) {
        return Vec::new();
    }
    let pieces = scene.syntax.pieces(line);
    let is_code = |at: Byte| !pieces.iter().any(|piece| piece.span.start <= at && at < piece.span.end);
    let places = content.char_indices().map(|(offset, c)| (span.start + offset, c));
    let mut found: Vec<(Byte, char)> = places.filter(|(at, c)| is_bracket(*c) && is_code(*at)).collect();
    if direction == Direction::Back {
        found.reverse();
    }
    found
}
