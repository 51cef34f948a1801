//! What a command that lays texts out has made of one, and what comes after it.

use crate::ask::PendingExit;
use crate::ids::BufferId;
use snarvel_core::changes::Change;
use snarvel_files::commands::Failure;

/// What is done when a text is laid out.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum AfterFormat {
    /// Nothing.
    Nothing,
    /// It is saved, and then that.
    Save(Option<PendingExit>),
}

/// What a command made of a text.
#[derive(Debug)]
pub struct Formatted {
    pub(crate) buffer: BufferId,
    pub(crate) revision: u64,
    pub(crate) command: String,
    pub(crate) then: AfterFormat,
    pub(crate) result: Result<Change, Failure>,
}
