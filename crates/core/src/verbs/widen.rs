//! Widening a selection to what encloses it, and going back exactly the same way.
//!
//! Word, inside the enclosing quotes or brackets, with them, node by node of the structure (without a tree: the
//! paragraph), file: always the smallest that is more than what is selected. Cost: the lines up to the enclosing
//! brackets, and what a parse costs.

use super::scene::{Outcome, Scene, Widening};
use super::selects::paragraph;
use crate::cursors::Selection;
use crate::languages::lexical::Piece;
use crate::languages::scanner::Kind;
use crate::units::{Byte, Direction, Line, Span};

/// How many lines in each direction a bracket is looked for: functions are shorter.
const LINES_LOOKED_AT: usize = 3_000;

const BRACKETS: [(char, char); 3] = [('(', ')'), ('[', ']'), ('{', '}')];

/// Every selection becomes the next larger thing around it.
pub fn widen(scene: &Scene) -> Outcome {
    let set = scene.cursors.map(|each| match wider(scene, each.span()) {
        Some(span) => Selection::over(span, each.direction()),
        None => each,
    });
    if set == *scene.cursors {
        return Outcome::nothing("everything is selected");
    }
    Outcome { widening: Widening::Wider, ..Outcome::cursors(set) }
}

/// Back to what was widened last.
pub fn narrow(scene: &Scene) -> Outcome {
    match scene.memory.widened.last() {
        Some([before, after]) if after == scene.cursors => {
            Outcome { widening: Widening::Narrower, ..Outcome::cursors(before.clone()) }
        }
        _ => Outcome::nothing("nothing was widened"),
    }
}

/// The smallest enclosing thing that is more than `span`.
fn wider(scene: &Scene, span: Span) -> Option<Span> {
    let text = scene.text;
    let word = text.word_at(span.start, scene.words());
    let mut candidates: Vec<Span> = word.into_iter().collect();
    candidates.extend(string_around(scene, span));
    candidates.extend(brackets_around(scene, span));
    let nodes = scene.nodes_around(span);
    match nodes.is_empty() {
        true => candidates.extend(paragraph(scene, span.start)),
        false => candidates.extend(nodes.iter().map(|node| trimmed(scene, node.span))),
    }
    candidates.push(text.span());
    let is_wider = |each: &Span| each.start <= span.start && span.end <= each.end && *each != span && !each.is_empty();
    candidates.into_iter().filter(is_wider).min_by_key(|each| each.len())
}

/// `span` without the white space at its end: some grammars take line ends into their nodes.
fn trimmed(scene: &Scene, span: Span) -> Span {
    let content = scene.text.slice(span);
    Span::new(span.start, span.start + content.trim_end().len())
}

/// The inside of the literal around `span` on its line, and the whole of it.
fn string_around(scene: &Scene, span: Span) -> Vec<Span> {
    let holds = |piece: &&Piece| {
        piece.token.kind == Kind::String && piece.span.start <= span.start && span.end <= piece.span.end
    };
    let pieces = scene.syntax.pieces(scene.text.line_of(span.start));
    let Some(piece) = pieces.iter().find(holds).filter(|piece| piece.token.opens && piece.token.closes) else {
        return Vec::new();
    };
    let content = scene.text.slice(piece.span);
    let is_quote = |c: char| matches!(c, '"' | '\'' | '`' | '#' | '/');
    let head = content.len() - content.trim_start_matches(|c: char| c.is_alphabetic()).len();
    let open = head + (content.len() - head - content[head..].trim_start_matches(is_quote).len());
    let close = content.len() - content.trim_end_matches(is_quote).len();
    let inner = (open + close <= content.len()).then(|| Span::new(piece.span.start + open, piece.span.end - close));
    inner.into_iter().chain([piece.span]).collect()
}

/// The inside of the brackets around `span`, and the whole; those around them where `span` is the whole.
fn brackets_around(scene: &Scene, span: Span) -> Vec<Span> {
    let mut inside = span;
    loop {
        let Some((open, bracket)) = unmatched(scene, inside.start, Direction::Back) else { return Vec::new() };
        let Some((close, other)) = unmatched(scene, inside.end, Direction::Forward) else { return Vec::new() };
        let whole = Span::new(open, close + 1);
        if BRACKETS.contains(&(bracket, other)) {
            return vec![Span::new(open + 1, close), whole];
        }
        // Brackets that do not answer each other: what is broken is passed over.
        inside = whole;
    }
}

/// The first bracket in `direction` from `at` that no other on the way answers.
fn unmatched(scene: &Scene, at: Byte, direction: Direction) -> Option<(Byte, char)> {
    let text = scene.text;
    let line = text.line_of(at).0;
    let mut depth = 0i32;
    for step in 0..LINES_LOOKED_AT {
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
