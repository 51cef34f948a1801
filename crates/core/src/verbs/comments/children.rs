//! Comments among the children of tags, where markup is inside another language: `{/* … */}`.
//!
//! Marks go round whole elements: a tag without its partner would leave the other half in the code.

use super::escaping::{self, Nesting};
use super::found::outer_block;
use crate::languages::BlockMarks;
use crate::structure::{Node, Roles};
use crate::units::{Byte, Span};
use crate::verbs::scene::Scene;

/// What is replaced by what.
pub(super) type Edits = Vec<(Span, String)>;

/// What marks for children would have to go round.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Widened {
    /// It is not between tags.
    NoChildren,
    /// This: whole elements.
    To(Span),
    /// It holds a tag of the outermost element, which is no child of anything.
    NotPossible,
}

/// What is around a place.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(super) enum Inside {
    /// Other code.
    Code,
    /// An element, between its tags.
    Element,
    /// A tag that ends there.
    Tag(Span),
}

/// What the place `at` is directly in.
pub(super) fn inside(scene: &Scene, at: Byte) -> Inside {
    let holds = |span: Span| span.start < at && at < span.end;
    let innermost =
        scene.find_having(Roles::MARKUP, Span::at(at), |visited| Some(visited.node).filter(|node| holds(node.span)));
    match innermost {
        Some(node) if node.is(Roles::MARKUP_ELEMENT) => Inside::Element,
        Some(node) if node.is(Roles::TAG) => Inside::Tag(node.span),
        _ => Inside::Code,
    }
}

/// The marks for children, where the language has some.
fn marks<'a>(scene: &Scene<'a>) -> Option<&'a BlockMarks> {
    scene.language.children.as_ref()
}

/// The comment among children that `at` is in or at, with its braces.
pub(super) fn comment_around(scene: &Scene, at: Byte) -> Option<Span> {
    let marks = marks(scene)?;
    let is_open = scene.text.has_at(at, &marks.open);
    let block = outer_block(scene, Span::at(if is_open { at + 1 } else { at }))?;
    let whole = Span::new(Byte(block.span.start.0.checked_sub(1)?), block.span.end + 1);
    let has_marks = scene.text.has_at(whole.start, &marks.open) && scene.text.has_at(block.span.end, "}");
    let is_child = || matches!(inside(scene, whole.start), Inside::Element);
    (has_marks && is_child()).then_some(whole)
}

/// The whole elements that `span` touches.
pub(super) fn widened(scene: &Scene, span: Span) -> Widened {
    if marks(scene).is_none() || !matches!(inside(scene, span.start), Inside::Element) {
        return Widened::NoChildren;
    }
    let mut around = span;
    let found = scene.find_having(Roles::MARKUP, span, |visited| {
        let node = visited.node;
        if !node.is(Roles::MARKUP_ELEMENT) {
            // Code among the children: what is around it are other elements.
            let is_code = !node.is(Roles::TAG) && node.span.start < span.start && span.end < node.span.end;
            return is_code.then_some(Widened::NotPossible);
        }
        let children = (visited.children)();
        let touches = |child: &Node| child.span.start < around.end && around.start < child.span.end;
        let is_tag = |child: Option<&Node>| child.is_some_and(touches);
        if is_tag(children.first()) || is_tag(children.last()) {
            around = node.span;
            return None;
        }
        // Text between tags is taken as far as it is selected.
        let elements = children.iter().filter(|child| touches(child) && !child.is(Roles::PROSE));
        let whole = elements
            .fold(around, |whole, child| Span::new(whole.start.min(child.span.start), whole.end.max(child.span.end)));
        Some(Widened::To(whole))
    });
    found.unwrap_or(Widened::NotPossible)
}

/// Puts the marks for children round `span`.
pub(super) fn wrap(scene: &Scene, span: Span) -> Edits {
    let Some(marks) = marks(scene) else { return Edits::new() };
    let mut edits = vec![(Span::at(span.start), format!("{} ", marks.open))];
    let content = scene.text.slice(span);
    for place in escaping::places_to_escape(&content, marks_inside(scene), Nesting::Flat) {
        edits.push((Span::at(span.start + place), "\\".to_owned()));
    }
    edits.push((Span::at(span.end), format!(" {}", marks.close)));
    edits
}

/// What would end the comment from inside it.
fn marks_inside<'a>(scene: &Scene<'a>) -> &'a BlockMarks {
    &scene.language.block[0]
}

/// Takes the marks for children off the comment `whole`.
pub(super) fn unwrap(scene: &Scene, whole: Span) -> Edits {
    let Some(marks) = marks(scene) else { return Edits::new() };
    let inner = Span::new(whole.start + marks.open.len(), whole.end - marks.close.len());
    let content = scene.text.slice(inner);
    let head = usize::from(content.starts_with(' '));
    let tail = usize::from(content.len() > head && content.ends_with(' '));
    let body = Span::new(inner.start + head, inner.end - tail);
    let mut edits = vec![(Span::new(whole.start, body.start), String::new())];
    for place in escaping::places_to_unescape(&scene.text.slice(body), marks_inside(scene), Nesting::Flat) {
        edits.push((Span::new(body.start + place, body.start + place + 1), String::new()));
    }
    edits.push((Span::new(body.end, whole.end), String::new()));
    edits
}
