//! What verbs do where the cursors of several texts act together.

use snarvel_core::units::Direction;

/// What a verb does where the cursors of several texts act together, beside running in each of them.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum OverFiles {
    /// Nothing beside.
    Each,
    /// It counts on from text to text, and a text in which it leaves no cursor acts no more with the others.
    Leaves,
    /// What the cursors hold goes on from text to text.
    PassesOn,
    /// It goes from cursor to cursor, and on into the next or the previous text.
    Leads(Direction),
    /// It takes back the last addition of cursors, which may be the texts that were taken in last.
    TakesBack,
    /// It brings back the texts that acted together last.
    BringsBack,
}
