//! Selecting on purpose: the word, the line and the next one, blocks, everything, each line of a selection.

pub mod blocks;
pub mod brackets;
pub mod columns;
pub mod pointed;
pub mod widen;

use crate::cursors::{CursorSet, Selection};
use crate::structure::Roles;
use crate::units::{Byte, Direction, Line, Span};
use crate::verbs::scene::{Outcome, Scene, counted};

/// The word at each head; carets on lines without a word stay.
pub fn word(scene: &Scene) -> Outcome {
    Outcome::cursors(scene.cursors.map(|each| word_of(scene, each).unwrap_or(each)))
}

/// The word at the head of `each`, selected forward.
#[must_use]
pub fn word_of(scene: &Scene, each: Selection) -> Option<Selection> {
    scene.text.word_at(each.head, scene.words()).map(|span| Selection::over(span, Direction::Forward))
}

/// The whole line with its line end; where whole lines are selected already, also the next one. A count is a number of lines.
pub fn line(scene: &Scene) -> Outcome {
    let text = scene.text;
    Outcome::cursors(scene.cursors.map(|each| {
        let [first, last] = scene.touched(each);
        let last = last.max(Line(first.0 + scene.reach - 1).min(text.last_line()));
        let whole = Span::new(text.line_start(first), text.line_span(last).end);
        let is_whole = scene.reach == 1 && !each.is_caret() && each.span() == whole;
        let end = if is_whole && last < text.last_line() { text.line_span(last.next()).end } else { whole.end };
        Selection::over(Span::new(whole.start, end), each.direction())
    }))
}

/// Everything.
pub fn all(scene: &Scene) -> Outcome {
    Outcome::cursors(CursorSet::one(Selection::over(scene.text.span(), Direction::Forward)))
}

/// Every selection that spans lines becomes one for each line, line ends left out; an empty line wholly
/// inside gets a caret. The piece with the head is the primary one.
pub fn per_line(scene: &Scene) -> Outcome {
    let born = scene.cursors.next_birth();
    let mut list = Vec::with_capacity(scene.cursors.len());
    let mut primary = 0;
    for (index, each) in scene.cursors.iter().enumerate() {
        let pieces = pieces_of(scene, each);
        let with_head = if each.direction() == Direction::Back { 0 } else { pieces.len() - 1 };
        if index == scene.cursors.primary_index() {
            primary = list.len() + with_head;
        }
        let aged = |(at, piece): (usize, Selection)| piece.aged(if at == with_head { each.born } else { born });
        list.extend(pieces.into_iter().enumerate().map(aged));
    }
    if list.iter().zip(scene.cursors.iter()).all(|(piece, each)| piece.span() == each.span()) {
        return Outcome::nothing("no selection spans lines");
    }
    let message = counted(list.len(), "cursor") + ", one a line";
    Outcome::cursors(CursorSet::of(list, primary)).saying(message)
}

/// A caret at the end of every line that a selection touches: what is typed there takes nothing away. Carets stay.
pub fn line_ends(scene: &Scene) -> Outcome {
    if scene.cursors.iter().all(Selection::is_caret) {
        return Outcome::nothing("select several lines first: each of them gets a caret at its end");
    }
    let text = scene.text;
    let (mut list, mut primary) = (Vec::new(), 0);
    for (index, each) in scene.cursors.iter().enumerate() {
        let [first, last] = scene.touched(each);
        match each.is_caret() {
            true => list.push(each),
            false => list.extend((first.0..=last.0).map(|line| Selection::caret(text.content_span(Line(line)).end))),
        }
        if index == scene.cursors.primary_index() {
            primary = list.len() - 1;
        }
    }
    let count = list.len();
    Outcome::cursors(CursorSet::of(list, primary)).saying(format!("{} at line ends", counted(count, "caret")))
}

fn pieces_of(scene: &Scene, each: Selection) -> Vec<Selection> {
    let text = scene.text;
    let [first, last] = scene.touched(each);
    let piece = |line: Line| {
        let (whole, content) = (text.line_span(line), text.content_span(line));
        let start = content.start.max(each.start());
        let end = content.end.min(each.end()).max(start);
        let is_empty_inside = content.is_empty() && each.start() <= whole.start && whole.end <= each.end();
        let counts = start < end || is_empty_inside;
        counts.then(|| Selection::over(Span::new(start, end), each.direction()))
    };
    let pieces: Vec<Selection> = (first.0..=last.0).map(Line).filter_map(piece).collect();
    if pieces.is_empty() { vec![each] } else { pieces }
}

/// The lines of the paragraph around `at`, with their line ends; none on a blank line.
#[must_use]
pub fn paragraph(scene: &Scene, at: Byte) -> Option<Span> {
    let text = scene.text;
    let line = text.line_of(at);
    if text.is_blank(line) {
        return None;
    }
    let full = |line: &Line| !text.is_blank(*line);
    let first = (0..line.0).rev().map(Line).take_while(full).last().unwrap_or(line);
    let last = (line.0 + 1..text.line_count()).map(Line).take_while(full).last().unwrap_or(line);
    Some(Span::new(text.line_start(first), text.line_span(last).end))
}

/// The paragraphs that each cursor touches; on a blank line the caret stays.
pub fn paragraphs(scene: &Scene) -> Outcome {
    let mut known = Paragraphs::default();
    let set = scene.cursors.map(|each| {
        let [first, last] = scene.touched(each).map(|line| scene.text.line_start(line));
        let spans = [known.around(scene, first), known.around(scene, last)];
        match spans
            .into_iter()
            .flatten()
            .reduce(|one, other| Span::new(one.start.min(other.start), one.end.max(other.end)))
        {
            Some(span) => Selection::over(span, each.direction()),
            None => each,
        }
    });
    if set == *scene.cursors { Outcome::nothing("no paragraph here") } else { Outcome::cursors(set) }
}

/// The statement around each cursor, from inside nested arguments too: without the comments above it; on a comment, the statement
/// below. Without a tree, the line.
pub fn statements(scene: &Scene) -> Outcome {
    let text = scene.text;
    let set = scene.cursors.map(|each| {
        let line = text.line_of(each.start());
        let start =
            each.start().max(text.indentation_span(line).end).min(each.end().max(text.indentation_span(line).end));
        let span = Span::new(start, each.end().max(start));
        let line_of_it = || {
            let content = text.content_span(line);
            let trimmed = text.trimmed(Span::new(text.indentation_span(line).end, content.end));
            (!trimmed.is_empty()).then_some(trimmed)
        };
        let found = match scene.structure.structure() {
            Some(_) => statement_around(scene, span),
            None => line_of_it(),
        };
        found.map_or(each, |found| Selection::over(found, Direction::Forward))
    });
    if set == *scene.cursors { Outcome::nothing("no statement here") } else { Outcome::cursors(set) }
}

/// The smallest statement that holds `span`: what lies in a holder that is no list and no declaration.
fn statement_around(scene: &Scene, span: Span) -> Option<Span> {
    let text = scene.text;
    scene.find_having(Roles::HOLDER, span, |holder| {
        let is_bracketed = text.char_at(holder.node.span.start).is_some_and(|c| "([<".contains(c));
        let children = (holder.children)();
        // Of a whole file, which may be called a module, nothing is the body.
        let has_body = children.iter().any(|child| child.is(Roles::HOLDER) && !child.is(Roles::BLOCK));
        if is_bracketed || holder.node.is(Roles::TAG | Roles::VALUE) || (holder.node.is(Roles::BLOCK) && has_body) {
            return None;
        }
        let is_list = children.iter().any(|child| child.is(Roles::SEPARATOR) && !child.is(Roles::SEMICOLON));
        let own = |index: usize| {
            let whole = text.trimmed(children[index].span);
            let semicolon = children.get(index + 1).filter(|next| next.is(Roles::SEMICOLON));
            semicolon.map_or(whole, |semicolon| Span::new(whole.start, semicolon.span.end))
        };
        let counts = |index: &usize| children[*index].is_named && !children[*index].is(Roles::FURNITURE);
        let holds = |index: &usize| own(*index).start <= span.start && span.end <= own(*index).end;
        let index = (0..children.len()).filter(counts).find(holds).filter(|_| !is_list)?;
        let below = (index..children.len()).filter(counts).find(|index| !children[*index].is(Roles::ATTACHED));
        Some(own(below.unwrap_or(index)))
    })
}

/// [`paragraph`] for many places in their order: the one found last may hold the next place, too.
#[derive(Default)]
pub(super) struct Paragraphs {
    last: Option<Span>,
}

impl Paragraphs {
    /// The lines of the paragraph around `at`.
    pub fn around(&mut self, scene: &Scene, at: Byte) -> Option<Span> {
        let is_in_last = self.last.is_some_and(|last| last.start <= at && at < last.end);
        if !is_in_last {
            self.last = paragraph(scene, at);
        }
        self.last
    }
}

/// The paragraphs that lie within `scope`, in order.
#[must_use]
pub fn paragraphs_in(scene: &Scene, scope: Span) -> Vec<Span> {
    let text = scene.text;
    let (mut list, mut line) = (Vec::new(), text.line_of(scope.start));
    while line <= text.last_line() && text.line_start(line) < scope.end {
        let found = (!text.is_blank(line)).then(|| paragraph(scene, text.line_start(line))).flatten();
        line = found.map_or(line, |span| text.line_of(span.end)).max(line.next());
        list.extend(found.filter(|span| scope.start <= span.start && span.end <= scope.end));
    }
    list
}

/// The first line of the function, class or the like around `at`, as a name for where it is; none outside of all.
#[must_use]
pub fn stands_in(scene: &Scene, at: Byte) -> Option<String> {
    let start = scene.find_having(Roles::BLOCK, Span::at(at), |visited| Some(visited.node.span.start))?;
    let line = scene.text.content(scene.text.line_of(start));
    let head = line.trim().split(['(', '{', ':']).next().unwrap_or("").trim();
    (!head.is_empty()).then(|| head.to_owned())
}
