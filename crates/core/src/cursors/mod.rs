//! The cursor set: where a person's edits happen, one place or a million.
//!
//! See [`CursorSet`] for what always holds. Positions are bytes; cost is linear in the number of cursors.

mod selection;
mod set;

pub use selection::{GoalColumn, Selection};
pub use set::CursorSet;
