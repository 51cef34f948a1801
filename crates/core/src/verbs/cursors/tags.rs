//! Names of tags: those of one element, and those of all elements of that name.

use crate::structure::Roles;
use crate::units::{Byte, Span};
use crate::verbs::scene::Scene;

/// The name of the tag at `at`, and whether the tag closes.
#[must_use]
pub fn name_at(scene: &Scene, at: Byte) -> Option<(Span, bool)> {
    let text = scene.text;
    let is_part = |c: char| c.is_alphanumeric() || matches!(c, '-' | '_' | ':' | '.');
    let (mut start, mut end) = (at, at);
    while text.char_before(start).is_some_and(is_part) {
        start = text.previous_boundary(start);
    }
    while text.char_at(end).is_some_and(is_part) {
        end = text.next_boundary(end);
    }
    let closes = text.char_before(start) == Some('/') && text.char_before(start - 1) == Some('<');
    let opens = text.char_before(start) == Some('<');
    let is_tag = |at: Byte| {
        scene.find_having(Roles::TAG | Roles::MARKUP | Roles::FURNITURE, Span::at(at), |_| Some(())).is_some()
    };
    ((opens || closes) && start < end && is_tag(start)).then_some((Span::new(start, end), closes))
}

/// The names of both tags of the element that the tag with its name at `name` is of; one where it has no partner.
#[must_use]
pub fn names_of_element(scene: &Scene, name: Span) -> Vec<Span> {
    let text = scene.text;
    let label = text.slice(name).into_owned();
    let pair = scene.find_around(name, |visited| {
        let children = (visited.children)();
        let named: Vec<_> = children.iter().filter(|child| child.is_named).collect();
        let [first, .., last] = named[..] else { return None };
        let (open, close) = (first.span.start + 1, last.span.start + 2);
        let is_pair = text.has_at(first.span.start, "<") && text.has_at(last.span.start, "</");
        let is_own = open == name.start || close == name.start;
        let spans = [open, close].map(|start| Span::new(start, start + label.len()));
        (is_pair && is_own && spans.iter().all(|span| text.slice(*span) == label)).then_some(spans)
    });
    pair.map_or_else(|| vec![name], |pair| pair.to_vec())
}
