//! A command that text goes through.

use crate::ids::{BufferId, ViewId};
use crate::tasks::TaskHandle;
use snarvel_core::cursors::CursorSet;
use std::sync::Arc;

/// Commands that text goes through.
#[derive(Debug, Default)]
pub(crate) struct Filtering {
    /// The one that runs.
    pub(crate) running: Option<Filter>,
    /// Those that may run in this folder without being asked about.
    pub(crate) allowed: Vec<String>,
    /// What is being written of those.
    pub(crate) keeping: Option<TaskHandle>,
}

/// What a command was given.
#[derive(Debug)]
pub(crate) struct Asked {
    pub(crate) buffer: BufferId,
    pub(crate) revision: u64,
    pub(crate) cursors: Arc<CursorSet>,
}

/// A command that runs.
#[derive(Debug)]
pub(crate) struct Filter {
    /// Dropping it ends the command.
    pub(crate) _task: TaskHandle,
    pub(crate) command: String,
    pub(crate) view: ViewId,
    pub(crate) asked: Asked,
}
