//! What is said when a key replaces more selected text than a person may have had in view.

use crate::cursors::Selection;
use crate::verbs::scene::{Outcome, Scene, counted};

/// Replacing more characters of one line than this is told: about the width of a screen, where a part may be out of view.
const MOST_UNTOLD: usize = 80;

/// The same outcome, which says how much selected text it replaces where that is more than a line or more than 80 characters. What it
/// says itself stays.
#[must_use]
pub fn saying_what_went(scene: &Scene, outcome: Outcome) -> Outcome {
    if outcome.change.is_empty() || outcome.message.is_some() || scene.cursors.iter().all(Selection::is_caret) {
        return outcome;
    }
    // A selection around which a pair goes is still there.
    let went = |each: &Selection| {
        !each.is_caret()
            && outcome
                .change
                .edits()
                .iter()
                .any(|edit| edit.span().start <= each.start() && each.end() <= edit.span().end)
    };
    let text = scene.text;
    let (mut lines, mut characters) = (0, 0);
    for each in scene.cursors.iter().filter(went) {
        let [first, last] = scene.touched(each);
        lines += if last > first { last.0 - first.0 + 1 } else { 0 };
        characters += text.slice(each.span()).chars().count();
    }
    let what = match (lines, characters) {
        (0, ..=MOST_UNTOLD) => return outcome,
        (0, _) => counted(characters, "character"),
        _ => counted(lines, "line"),
    };
    outcome.saying(format!("replaced {what}; Ctrl+Z brings them back"))
}
