//! What verbs that move lines further in or out have in common.

use crate::changes::{Bias, ChangeBuilder};
use crate::cursors::Selection;
use crate::units::Byte;
use crate::verbs::scene::{Outcome, Scene};

/// A caret moves with the character after it; the ends of a selection that are in column 0 stay there.
pub(super) fn finish(scene: &Scene, builder: ChangeBuilder, message: String) -> Outcome {
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::nothing("nothing to move here");
    }
    let in_first_column = |at: Byte| scene.text.line_start(scene.text.line_of(at)) == at;
    let bias = |each: Selection, at: Byte| {
        if !each.is_caret() && in_first_column(at) { Bias::Before } else { Bias::After }
    };
    let cursors = scene.remap(&change, |index| {
        let each = scene.cursors.list()[index];
        [bias(each, each.start()), bias(each, each.end())]
    });
    Outcome::edit(change, cursors).saying(message)
}
