//! Going to the next or the previous use of a word.

use crate::cursors::{CursorSet, Selection};
use crate::search::{Matches, last_within};
use crate::units::{Byte, Direction, Span};
use crate::verbs::scene::{Outcome, Scene};
use crate::verbs::selects::word_of;

/// What the primary cursor is about: what it selects, else the word at the caret, and whether that counts as a word.
pub(crate) fn subject(scene: &Scene) -> Option<(Span, bool)> {
    let primary = scene.cursors.primary();
    if !primary.is_caret() {
        let span = primary.span();
        return Some((span, scene.text.is_whole_word(span, scene.words())));
    }
    let word = word_of(scene, primary)?.span();
    scene.text.slice(word).chars().any(|c| !c.is_whitespace()).then_some((word, true))
}

/// Goes to the next or the previous use of the word at the caret, or of what is selected; round the file.
pub fn use_of_word(scene: &Scene, direction: Direction) -> Outcome {
    let Some((span, whole)) = subject(scene) else { return Outcome::nothing("no word here to look for") };
    let text = scene.text;
    let needle = text.slice(span).into_owned();
    let counts = |found: Span| found != span && (!whole || text.is_whole_word(found, scene.words()));
    let (before, behind) = (Span::new(Byte(0), span.start), Span::new(span.end, text.end()));
    let first = |within| Matches::within(text, &needle, within).find(|&found| counts(found));
    let last = |within| last_within(text, &needle, within, counts);
    let near = match direction {
        Direction::Forward => first(behind),
        Direction::Back => last(before),
    };
    let far = || match direction {
        Direction::Forward => first(before),
        Direction::Back => last(behind),
    };
    let (found, round) = match (near, near.is_none().then(far).flatten()) {
        (Some(found), _) => (found, ""),
        (None, Some(found)) if direction == Direction::Forward => (found, ", on from the start of the file"),
        (None, Some(found)) => (found, ", on from the end of the file"),
        (None, None) => return Outcome::nothing(format!("{needle} stands nowhere else")),
    };
    let to = match scene.cursors.primary().is_caret() {
        true => Selection::caret(found.start),
        false => Selection::over(found, scene.cursors.primary().direction()),
    };
    let line = text.line_of(found.start).0 + 1;
    Outcome::cursors(CursorSet::one(to)).saying(format!("line {line}{round}"))
}
