//! What finishing does for a cursor.

use crate::units::Byte;

/// A statement of more lines is taken to end with the caret's line.
pub const MOST_LINES: usize = 500;

/// What is done for a cursor.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Plan {
    /// This text is put in at a place; the caret goes so far into it.
    Insert { at: Byte, text: String, caret: usize },
    /// Nothing is put in; the caret goes there.
    Go(Byte),
}
