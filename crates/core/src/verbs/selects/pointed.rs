//! Cursors at places that are given: what clicks and scripts ask for.

use crate::cursors::{CursorSet, Selection};
use crate::text::place::Place;
use crate::units::{Byte, Direction, Span};
use crate::verbs::scene::{Outcome, Scene};
use crate::verbs::selects::columns::{Short, column};

fn byte_of(scene: &Scene, place: Place) -> Byte {
    scene.text.byte_of_place(place, scene.text.line_of(scene.cursors.primary().head))
}

/// One selection from `from` to `to`.
pub fn between(scene: &Scene, from: Place, to: Place) -> Outcome {
    Outcome::cursors(CursorSet::one(Selection::new(byte_of(scene, from), byte_of(scene, to))))
}

/// The primary selection alone, its head at `place`.
pub fn extend_to(scene: &Scene, place: Place) -> Outcome {
    Outcome::cursors(CursorSet::one(Selection::new(scene.cursors.primary().anchor, byte_of(scene, place))))
}

/// The word at `place`, else a caret there.
pub fn word_at(scene: &Scene, place: Place) -> Outcome {
    let at = byte_of(scene, place);
    let span = scene.text.word_at(at, scene.words()).unwrap_or(Span::at(at));
    Outcome::cursors(CursorSet::one(Selection::over(span, Direction::Forward)))
}

/// The line at `place`, with its line end.
pub fn line_at(scene: &Scene, place: Place) -> Outcome {
    let span = scene.text.line_span(scene.text.line_of(byte_of(scene, place)));
    Outcome::cursors(CursorSet::one(Selection::over(span, Direction::Forward)))
}

/// The box between two corners: one selection a line.
pub fn box_between(scene: &Scene, from: Place, to: Place) -> Outcome {
    let corners = CursorSet::one(Selection::new(byte_of(scene, from), byte_of(scene, to)));
    let outcome = column(&Scene { cursors: &corners, ..*scene }, Short::Skipped);
    Outcome::cursors(outcome.cursors.unwrap_or(corners))
}

/// One more caret at `place`, or one less where one is there already; the last one stays.
pub fn toggle(scene: &Scene, place: Place) -> Outcome {
    let at = byte_of(scene, place);
    let is_here = |each: Selection| each.is_caret() && each.head == at;
    if scene.cursors.iter().any(is_here) {
        let kept = scene.cursors.retaining(|_, each| !is_here(each));
        return Outcome::cursors(kept.unwrap_or_else(|| scene.cursors.clone()));
    }
    Outcome::cursors(scene.cursors.with_primary(&[Selection::caret(at)]))
}
