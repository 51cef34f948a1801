//! Whether verbs could do something, as far as a glance tells.

use snarvel_core::cursors::Selection;
use snarvel_core::units::{Byte, Direction};
use snarvel_core::verbs::scene::Scene;

/// Cursors that are looked at: a glance is no walk through all of them.
const GLANCE: usize = 64;

/// The only cursor, if it is the only one.
fn only(scene: &Scene) -> Option<Selection> {
    match scene.cursors.list() {
        [only] => Some(*only),
        _ => None,
    }
}

fn has_selection(scene: &Scene) -> bool {
    scene.cursors.iter().take(GLANCE).any(|each| !each.is_caret())
}

pub(super) fn not_at_top(scene: &Scene) -> bool {
    only(scene).is_none_or(|each| scene.text.line_of(each.start()).0 > 0)
}

pub(super) fn not_at_bottom(scene: &Scene) -> bool {
    only(scene).is_none_or(|each| scene.text.line_of(each.end()).0 + 1 < scene.text.real_line_count())
}

pub(super) fn not_on_last_line(scene: &Scene) -> bool {
    only(scene).is_none_or(|each| scene.text.line_of(each.end()) != scene.text.last_line())
}

pub(super) fn not_at_start(scene: &Scene) -> bool {
    has_selection(scene) || only(scene).is_none_or(|each| each.head > Byte(0))
}

pub(super) fn not_at_end(scene: &Scene) -> bool {
    has_selection(scene) || only(scene).is_none_or(|each| each.head < scene.text.end())
}

pub(super) fn has_something_to_take(scene: &Scene) -> bool {
    let caret = scene.cursors.primary().head;
    let beside = |side| scene.text.class_beside(caret, side, scene.words());
    let is_by_word = || {
        [Direction::Back, Direction::Forward]
            .into_iter()
            .filter_map(beside)
            .any(snarvel_core::text::words::Class::is_word)
    };
    has_selection(scene) || is_by_word() || scene.text.word_at(caret, scene.words()).is_some()
}

pub(super) fn is_over_lines(scene: &Scene) -> bool {
    let is_one = |each: Selection| scene.text.line_of(each.start()) != scene.text.line_of(each.end());
    scene.cursors.iter().take(GLANCE).any(is_one)
}

pub(super) fn has_several(scene: &Scene) -> bool {
    scene.cursors.len() > 1
}

pub(super) fn has_comment_marks(scene: &Scene) -> bool {
    !scene.language_at(scene.cursors.list()[0].head).marks().is_empty()
}

pub(super) fn is_on_a_line(scene: &Scene) -> bool {
    only(scene).is_none_or(|each| !scene.text.is_after_final_end(scene.text.line_of(each.start())))
}
