//! What the panel may be asking.

use crate::keys::Key;
use crate::panels::line::InputLine;

/// What is being asked.
#[derive(Debug)]
pub enum Asking {
    /// Nothing.
    Nothing,
    /// Under which name the recipe is to be kept, and what is wrong with the one that was given.
    Name(InputLine, Option<String>),
    /// The key that is to play it is asked for; why the one that was pressed cannot be.
    Key(Option<String>),
    /// Whether this key is to be taken from what it does now.
    TakeOver(Key, String),
    /// Whether the recipe is to be dropped.
    Drop,
}
