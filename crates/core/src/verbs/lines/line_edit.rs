//! What a verb has done with whole lines, and what is put right after that.

use crate::changes::{Bias, Change};
use crate::cursors::{CursorSet, Selection};
use crate::verbs::scene::{KeptLines, Outcome, Scene};

/// What a verb has done with whole lines.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum LineEdit {
    /// A copy of each run is above it.
    CopiedAbove,
    /// A copy of each run is below it.
    CopiedBelow,
    /// The runs are gone.
    Deleted,
    /// Lines are in another order, or some of them are gone.
    Rearranged,
    /// Lines were put in.
    PutIn,
    /// An empty line was opened below each run.
    Opened,
}

/// `outcome` and then `second`, as one change.
pub fn composed(scene: &Scene, outcome: Outcome, second: &Change, said: &str) -> Outcome {
    if second.is_empty() {
        return outcome;
    }
    let change = outcome.change.then(scene.text, second);
    let cursors = outcome.cursors.map(|cursors| {
        let mapped = cursors.mapped_each(second, Bias::Before);
        let list = cursors.iter().zip(mapped).map(|(old, new)| Selection {
            goal_anchor: old.goal_anchor,
            goal_head: old.goal_head,
            ..new
        });
        CursorSet::of(list.collect(), cursors.primary_index()).taking_as(&cursors)
    });
    let message = outcome.message.map(|message| if said.is_empty() { message } else { format!("{message}; {said}") });
    // Lines that a verb goes on with are those of these cursors.
    let kept_lines =
        outcome.kept_lines.zip(cursors.as_ref()).map(|(kept, after)| KeptLines { after: after.clone(), ..kept });
    Outcome { change, cursors, message, kept_lines, ..outcome }
}
