//! Blocks: functions, classes and the like, each with what belongs to it directly above it.

use crate::cursors::Selection;
use crate::languages::scanner::Kind;
use crate::structure::{Node, Roles};
use crate::units::{Byte, Cell, Direction, Line, Span};
use crate::verbs::scene::{Outcome, Scene};
use crate::verbs::selects::Paragraphs;

/// The function, method, class or the like around each head; where there is none, the paragraph.
pub fn block(scene: &Scene) -> Outcome {
    let mut paragraphs = Paragraphs::default();
    let mut around = |at: Byte| block_around(scene, Span::at(at)).or_else(|| paragraphs.around(scene, at));
    Outcome::cursors(scene.cursors.map(|each| match around(each.head) {
        Some(span) => Selection::over(span, Direction::Forward),
        None => each,
    }))
}

/// The lines of the smallest function, method, class or the like that holds more than `span`, with the comments, attributes and
/// decorators directly above it.
#[must_use]
pub fn block_around(scene: &Scene, span: Span) -> Option<Span> {
    let holds_more = |block: &Span| block.start <= span.start && span.end <= block.end && *block != span;
    let around = |place: Span| {
        scene.find_having(Roles::BLOCK, place, |visited| Some(lines_of(scene, visited.node)).filter(holds_more))
    };
    // What is directly above a block belongs to it.
    let below = below_attached(scene, span).and_then(around);
    [around(span), below].into_iter().flatten().min_by_key(|block| block.len())
}

/// The lines of a block, with those directly above it that belong to it.
fn lines_of(scene: &Scene, block: Node) -> Span {
    let text = scene.text;
    let last = text.line_of(text.trimmed(block.span).end);
    let mut first = text.line_of(block.span.start);
    while let Some(above) = first.previous().and_then(|above| attached_from(scene, above)) {
        first = above;
    }
    Span::new(text.line_start(first), text.line_span(last).end)
}

/// The outermost blocks within `scope`, in order, each with the lines that belong to it. A block that is all of `scope` is none of
/// them. Cost: the lines outside of blocks, and the blocks.
pub fn outermost_in<'s>(scene: &'s Scene, scope: Span) -> impl Iterator<Item = Span> + 's {
    let text = scene.text;
    let mut line = text.line_of(scope.start);
    let mut last = Span::at(scope.start);
    std::iter::from_fn(move || {
        while line <= text.last_line() && text.line_start(line) < scope.end {
            let at = text.indentation_span(line).end;
            let block = (!text.is_blank(line)).then(|| outermost_around(scene, at, scope)).flatten();
            line = line.next();
            if let Some(block) = block.filter(|block| *block != last) {
                line = text.line_of(block.end).max(line);
                last = block;
                return Some(block);
            }
        }
        None
    })
}

/// The largest block around `at` that lies within `scope` and is less than that.
fn outermost_around(scene: &Scene, at: Byte, scope: Span) -> Option<Span> {
    let mut outermost = None;
    scene.find_having(Roles::BLOCK, Span::at(at), |visited| {
        let lines = lines_of(scene, visited.node);
        let is_within = scope.start <= lines.start && lines.end <= scope.end && lines != scope;
        if is_within || (scope == scene.text.span() && lines == scope) {
            outermost = Some(lines);
        }
        None::<()>
    });
    outermost
}

/// Where what is on `line`, and belongs to what follows it, begins: a comment alone on its line, an attribute, a decorator. None
/// where something else is there.
fn attached_from(scene: &Scene, line: Line) -> Option<Line> {
    let text = scene.text;
    let content = text.content_span(line);
    let start = text.indentation_span(line).end;
    let end = text.trimmed(Span::new(start, content.end.max(start))).end;
    if start >= end {
        return None;
    }
    let attached = scene.find_having(Roles::ATTACHED, Span::at(start), |visited| {
        let own = text.trimmed(visited.node.span);
        let begins_line = text.indentation_span(text.line_of(own.start)).end == own.start;
        (own.end >= end && begins_line).then(|| text.line_of(own.start))
    });
    let is_comment = || {
        let pieces = scene.syntax.pieces(line);
        let only = pieces.first().filter(|piece| piece.span.start <= start && piece.span.end >= end);
        only.is_some_and(|piece| piece.token.kind == Kind::Comment)
    };
    attached.or_else(|| is_comment().then_some(line))
}

/// The first place below the lines of `span` that they belong to; none where something on them belongs to nothing else.
fn below_attached(scene: &Scene, span: Span) -> Option<Span> {
    let text = scene.text;
    let first = text.line_of(span.start);
    let mut line = first;
    while line <= text.last_line() {
        if attached_from(scene, line).is_none() {
            let is_below = line > first && !text.is_blank(line);
            return is_below.then(|| Span::at(text.indentation_span(line).end));
        }
        line = line.next();
    }
    None
}

/// The block around each selection, then the next outer one, at last everything. Without a tree: the paragraph, then
/// header and body of what encloses it by indentation.
pub fn outer_block(scene: &Scene) -> Outcome {
    let mut paragraphs = Paragraphs::default();
    let set = scene.cursors.map(|each| {
        let paragraph = || paragraphs.around(scene, each.start());
        Selection::over(outer_of(scene, each.span(), paragraph), each.direction())
    });
    if set == *scene.cursors {
        return Outcome::nothing("everything is selected");
    }
    Outcome::cursors(set)
}

/// The smallest block that holds more than `span`, which `paragraph` is around.
fn outer_of(scene: &Scene, span: Span, paragraph: impl FnOnce() -> Option<Span>) -> Span {
    let holds_more = |block: &Span| block.start <= span.start && span.end <= block.end && *block != span;
    if let Some(block) = block_around(scene, span).or_else(|| paragraph().filter(holds_more)) {
        return block;
    }
    if scene.structure.structure().is_some() {
        return scene.text.span();
    }
    let mut around = span;
    while let Some(block) = enclosing_by_depth(scene, around) {
        if holds_more(&block) {
            return block;
        }
        around = block;
    }
    scene.text.span()
}

/// The line above `span` that is less deep than all of its lines, what is deeper below that line, and the line that
/// closes it. None where no line is less deep.
fn enclosing_by_depth(scene: &Scene, span: Span) -> Option<Span> {
    let text = scene.text;
    let depth = |line: Line| text.depth_of(line, scene.settings.tabs);
    let full = |line: &Line| !text.is_blank(*line);
    let [first, last] = scene.touched(Selection::over(span, Direction::Forward));
    // A blank line is as deep as the deeper one of those around it.
    let around = || [(0..first.0).rev().map(Line).find(full), (last.0 + 1..text.line_count()).map(Line).find(full)];
    let inner = (first.0..=last.0).map(Line).filter(full).map(depth).min();
    let inner = inner.or_else(|| around().into_iter().flatten().map(depth).max());
    if inner == Some(Cell(0)) {
        return None;
    }
    let header =
        (0..first.0).rev().map(Line).filter(full).find(|line| inner.is_none_or(|inner| depth(*line) < inner))?;
    let below = |from: Line| (from.0 + 1..text.line_count()).map(Line).filter(full);
    let body = below(header).take_while(|line| depth(*line) > depth(header)).last().unwrap_or(header).max(last);
    let closes =
        |line: &Line| depth(*line) == depth(header) && text.content(*line).trim_start().starts_with([')', ']', '}']);
    let end = below(body).next().filter(closes).unwrap_or(body);
    Some(Span::new(text.line_start(header), text.line_span(end).end))
}
