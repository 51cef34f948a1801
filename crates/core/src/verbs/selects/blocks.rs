//! Blocks: functions, classes and the like, each with what belongs to it directly above it.

use crate::cursors::Selection;
use crate::languages::scanner::Kind;
use crate::structure::{Node, Roles};
use crate::units::{Byte, Cell, Direction, Line, Span};
use crate::verbs::lines::siblings::{Element, siblings_in};
use crate::verbs::scene::{Outcome, Scene};
use crate::verbs::selects::Paragraphs;

/// The function, method, class or the like around each head; where there is none, the construct over several lines, or the
/// paragraph.
pub fn block(scene: &Scene) -> Outcome {
    let mut paragraphs = Paragraphs::default();
    let mut around = |at: Byte| {
        let construct = || construct_around(scene, Span::at(at)).filter(|_| !scene.language_at(at).prose);
        block_around(scene, Span::at(at)).or_else(construct).or_else(|| paragraphs.around(scene, at))
    };
    Outcome::cursors(scene.cursors.map(|each| match around(each.head) {
        Some(span) => Selection::over(span, Direction::Forward),
        None => each,
    }))
}

/// The lines of the smallest function, method, class or the like that holds more than `span`, with the comments, attributes and
/// decorators directly above it.
#[must_use]
pub fn block_around(scene: &Scene, span: Span) -> Option<Span> {
    let around = |place: Span| {
        scene.find_having(Roles::BLOCK, place, |visited| {
            Some(lines_of(scene, visited.node)).filter(|block| holds_more(*block, span))
        })
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

/// The construct over several lines around each selection, then the next outer one; then the paragraph, at last everything.
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

/// The smallest construct that holds more than `span`, or `paragraph`; all of the text where there is none.
fn outer_of(scene: &Scene, span: Span, paragraph: impl FnOnce() -> Option<Span>) -> Span {
    let paragraph = || paragraph().filter(|block| holds_more(*block, span));
    construct_around(scene, span).or_else(paragraph).unwrap_or_else(|| scene.text.span())
}

/// Whether `block` is around `span` and is not the same.
fn holds_more(block: Span, span: Span) -> bool {
    block.start <= span.start && span.end <= block.end && block != span
}

/// The lines of the smallest construct over several lines that holds more than `span`, with what belongs to it directly above: a
/// function, an `if`, an arm, an element of a list or of markup, an entry, a section. Without a tree it is told by indentation.
fn construct_around(scene: &Scene, span: Span) -> Option<Span> {
    if scene.structure.structure().is_none() {
        let mut around = span;
        while let Some(block) = enclosing_by_depth(scene, around) {
            if holds_more(block, span) {
                return Some(block);
            }
            around = block;
        }
        return None;
    }
    let trimmed = scene.text.trimmed(span);
    let code = if trimmed.is_empty() { Span::at(past_indentation(scene, span.start)) } else { trimmed };
    let element = scene.find_having(Roles::HOLDER, code, |holder| {
        if holder.node.is(Roles::TAG) {
            return None;
        }
        // Where indentation tells the block, one that is further in is the value of an entry and none of its elements.
        let column = |at: Byte| at - scene.text.line_start(scene.text.line_of(at));
        let holder_column = column(scene.text.trimmed(holder.node.span).start);
        let children = (holder.children)();
        let is_all = |node: &Node| {
            node.is(Roles::HOLDER) && scene.text.trimmed(node.span) == scene.text.trimmed(holder.node.span)
        };
        let is_value = |element: &Element| {
            let is_deeper = scene.language.offside && column(element.own.start) != holder_column;
            is_deeper && !holder.node.is(Roles::TOP_LEVEL) || scene.language.offside && children.iter().any(is_all)
        };
        // The body in braces of its own lines is a part of what has the head.
        let is_body = |element: &Element| {
            let is_of_head = holder.node.is(Roles::HEADED | Roles::BLOCK) && holder.node.span.start < element.own.start;
            is_of_head && scene.text.char_at(scene.text.trimmed(element.own).start) == Some('{')
        };
        let siblings = siblings_in(scene, holder.node, &children);
        let is_counted = |element: &&Element| element.body.end >= code.start && !is_value(element) && !is_body(element);
        let elements = siblings.elements.iter().filter(is_counted);
        let mut around = elements.take_while(|element| element.body.start <= code.start);
        around.find_map(|element| lines_of_element(scene, element, &children).filter(|lines| holds_more(*lines, span)))
    });
    [element, block_around(scene, span)].into_iter().flatten().min_by_key(|block| block.len())
}

/// `at`, or the first character of its line where that is further on.
fn past_indentation(scene: &Scene, at: Byte) -> Byte {
    scene.text.indentation_span(scene.text.line_of(at)).end.max(at)
}

/// The lines of an element that is on several, and on no line with something else.
fn lines_of_element(scene: &Scene, element: &Element, children: &[Node]) -> Option<Span> {
    let text = scene.text;
    let own = text.trimmed(element.own);
    let [first, last] = [text.line_of(element.body.start), text.line_of(own.end)];
    let is_text = |node: &Node| node.span.start == element.own.start && node.is(Roles::PROSE | Roles::STRING);
    let is_construct = text.line_of(own.start) < last && !children.iter().any(is_text);
    let begins_line = text.indentation_span(first).end >= element.body.start;
    let behind = Span::new(own.end.max(element.comma_end), text.content_span(last).end.max(own.end));
    let behind_own = text.slice(behind);
    let rest = behind_own.trim_start_matches([',', ';']).trim_start();
    let is_comment = || {
        let at = behind.end - rest.len();
        let mut pieces = scene.syntax.pieces(last).into_iter();
        pieces.any(|piece| piece.token.kind == Kind::Comment && piece.span.start <= at && at < piece.span.end)
    };
    if !is_construct || !begins_line || !(rest.is_empty() || is_comment()) {
        return None;
    }
    // A section goes on to the next one.
    let blanks = || (last.0 + 1..text.real_line_count()).map(Line).take_while(|line| text.is_blank(*line));
    let end = blanks().last().filter(|_| element.is_section).unwrap_or(last);
    Some(Span::new(text.line_start(first), text.line_span(end).end))
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
