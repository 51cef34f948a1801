//! What becomes of the past of a file in the background.

use crate::ids::BufferId;
use snarvel_core::history::kept::Fitting;
use snarvel_core::text::Text;

/// What became of reading the past of a file, or of keeping it.
#[derive(Debug)]
pub enum PastNews {
    /// The history that was kept, for the text as it was opened.
    Found(BufferId, Text, Box<Fitting>, bool),
    /// What there is to say of it.
    Told(String),
    /// There is none, or it was kept.
    Nothing,
}
