//! Elements of lists that commas part: each cursor's changes places with its neighbour.
//!
//! A list is what is in the innermost brackets around the cursor, else its line. What is around the elements (commas, white
//! space, comments) stays where it is. Cost: the lines of the lists.

use crate::changes::ChangeBuilder;
use crate::cursors::{CursorSet, Selection};
use crate::text::Text;
use crate::units::{Byte, Direction, Line, Span};
use crate::verbs::scene::{Outcome, Scene, counted};

/// How many lines in each direction the brackets of a list are looked for.
const LIST_LINES: usize = 500;

/// Two neighbours, and which cursor goes along with which of the two.
struct Swap {
    elements: [Span; 2],
    cursor: usize,
    own: usize,
}

/// The element at each cursor changes places with the next or the previous one; the cursors go along.
pub fn swap(scene: &Scene, direction: Direction) -> Outcome {
    let mut swaps: Vec<Swap> = Vec::new();
    let mut refused = "no list with commas here";
    for (cursor, each) in scene.cursors.iter().enumerate() {
        match neighbours(scene, each, direction) {
            Ok((elements, own)) if swaps.last().is_none_or(|last| last.elements[1].end <= elements[0].start) => {
                swaps.push(Swap { elements, cursor, own });
            }
            Ok(_) => refused = "two of them would change places with the same one",
            Err(why) => refused = why,
        }
    }
    if swaps.is_empty() {
        return Outcome::nothing(refused);
    }
    let text = scene.text;
    let mut builder = ChangeBuilder::new(text);
    let mut placed: Vec<Option<Selection>> = vec![None; scene.cursors.len()];
    for Swap { elements, cursor, own } in &swaps {
        let [first, second] = *elements;
        let texts = [first, second].map(|span| text.slice(span).into_owned());
        let new_first = builder.now(first.start);
        builder.replace(first, &texts[1]);
        let new_second = builder.now(second.start);
        builder.replace(second, &texts[0]);
        let (from, to) = if *own == 0 { (first, new_second) } else { (second, new_first) };
        let each = scene.cursors.list()[*cursor];
        let moved = |at: Byte| to + (at.max(from.start).min(from.end) - from.start);
        placed[*cursor] = Some(Selection { anchor: moved(each.anchor), head: moved(each.head), ..each });
    }
    let change = builder.finish();
    let elsewhere = scene.cursors.mapped_each(&change, crate::changes::Bias::After);
    let list = placed.into_iter().zip(elsewhere).map(|(moved, other)| moved.unwrap_or(other)).collect();
    Outcome::edit(change, CursorSet::of(list, scene.cursors.primary_index()))
        .saying(format!("swapped {}", counted(swaps.len(), "element")))
}

/// The element at a cursor and the one that it changes places with, in order; and which of the two is the cursor's.
fn neighbours(scene: &Scene, each: Selection, direction: Direction) -> Result<([Span; 2], usize), &'static str> {
    let list = list_around(scene, each.span());
    let elements = elements_of(scene, list);
    let at = each.start();
    let own = elements.iter().rposition(|element| element.start <= at).unwrap_or(0);
    if elements.len() < 2 {
        return Err("no list with commas here");
    }
    match direction {
        Direction::Forward if own + 1 < elements.len() => Ok(([elements[own], elements[own + 1]], 0)),
        Direction::Back if own > 0 => Ok(([elements[own - 1], elements[own]], 1)),
        _ => Err("already at the edge of its list"),
    }
}

/// The brackets, commas and other characters of code between two places, with where they are.
fn code(scene: &Scene, span: Span) -> Vec<(Byte, char)> {
    let text = scene.text;
    let (first, last) = (text.line_of(span.start), text.line_of(span.end));
    let mut found = Vec::new();
    for line in (first.0..=last.0).map(Line) {
        let content = text.content_span(line);
        let pieces = scene.syntax.pieces(line);
        for (offset, c) in text.slice(content).char_indices() {
            let at = content.start + offset;
            let is_code = || !pieces.iter().any(|piece| piece.span.start <= at && at < piece.span.end);
            if span.start <= at && at < span.end && !c.is_whitespace() && is_code() {
                found.push((at, c));
            }
        }
    }
    found
}

/// What is in the innermost brackets around `span`; its line where there are none.
fn list_around(scene: &Scene, span: Span) -> Span {
    let text = scene.text;
    let line = text.line_of(span.start);
    let near = Span::new(
        text.line_start(Line(line.0.saturating_sub(LIST_LINES))),
        text.content_span(Line((line.0 + LIST_LINES).min(text.last_line().0))).end,
    );
    let mut depth = 0;
    let before = code(scene, Span::new(near.start, span.start)).into_iter().rev().find(|(_, c)| {
        depth += i32::from(")]}".contains(*c)) - i32::from("([{".contains(*c));
        depth < 0
    });
    let Some((open, _)) = before else { return text.content_span(line) };
    depth = 0;
    let after = code(scene, Span::new(span.end, near.end)).into_iter().find(|(_, c)| {
        depth += i32::from("([{".contains(*c)) - i32::from(")]}".contains(*c));
        depth < 0
    });
    after.map_or_else(|| text.content_span(line), |(close, _)| Span::new(text.next_boundary(open), close))
}

/// What commas part in `list`, without what is around it.
fn elements_of(scene: &Scene, list: Span) -> Vec<Span> {
    let text = scene.text;
    let mut depth = 0;
    let mut edges = vec![list.start];
    for (at, c) in code(scene, list) {
        depth += i32::from("([{".contains(c)) - i32::from(")]}".contains(c));
        if c == ',' && depth == 0 {
            edges.extend([at, text.next_boundary(at)]);
        }
    }
    edges.push(list.end);
    edges
        .chunks(2)
        .map(|ends| without_comments(scene, Span::new(ends[0], ends[1])))
        .filter(|span| !span.is_empty())
        .collect()
}

/// `span` without white space and comments at its ends.
fn without_comments(scene: &Scene, span: Span) -> Span {
    let text: &Text = scene.text;
    let (first, last) = (text.line_of(span.start), text.line_of(span.end));
    let comments: Vec<Span> = (first.0..=last.0)
        .map(Line)
        .flat_map(|line| scene.syntax.pieces(line))
        .filter(|piece| piece.token.kind == crate::languages::scanner::Kind::Comment)
        .map(|piece| piece.span)
        .filter(|span| !span.is_empty())
        .collect();
    let mut kept = trimmed(text, span);
    while !kept.is_empty() {
        let starts = comments.iter().find(|comment| comment.start == kept.start && comment.end <= kept.end);
        let ends = comments.iter().find(|comment| comment.end == kept.end && comment.start > kept.start);
        let next = match (starts, ends) {
            (Some(comment), _) => trimmed(text, Span::new(comment.end, kept.end)),
            (None, Some(comment)) => trimmed(text, Span::new(kept.start, comment.start)),
            (None, None) => break,
        };
        kept = next;
    }
    kept
}

/// `span` without white space at its ends.
fn trimmed(text: &Text, span: Span) -> Span {
    let content = text.slice(span);
    let head = content.len() - content.trim_start().len();
    if head == content.len() {
        Span::at(span.end)
    } else {
        Span::new(span.start + head, span.start + content.trim_end().len())
    }
}
