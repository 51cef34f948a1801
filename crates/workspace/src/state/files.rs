//! What goes on with files in the background.

use super::groups::FileWork;
use super::operation::Operation;
use crate::ask::PendingExit;
use crate::ids::BufferId;
use crate::tasks::TaskHandle;
use snarvel_files::save::{Disk, Layer};
use snarvel_files::saving::SaveRequest;
use std::sync::Arc;
use std::time::Instant;

/// A file that is being read.
#[derive(Debug)]
pub(crate) struct Load {
    pub(crate) buffer: BufferId,
    pub(crate) task: TaskHandle,
    /// How many bytes are to come; 0 where that is not known.
    pub(crate) size: u64,
    pub(crate) began: Instant,
    /// The buffer that was shown before: it is shown again if the file cannot be read.
    pub(crate) came_from: BufferId,
}

/// A save under way.
#[derive(Debug)]
pub(crate) struct Save {
    pub(crate) buffer: BufferId,
    pub(crate) request: SaveRequest,
    pub(crate) task: TaskHandle,
    /// What comes after it.
    pub(crate) then: Option<PendingExit>,
    /// Whether what was edited meanwhile is to be saved after it, too.
    pub(crate) again: bool,
}

/// What goes on with files in the background.
#[derive(Debug)]
pub(crate) struct FileTasks {
    /// How files are written.
    pub(crate) disk: Layer,
    pub(crate) loads: Vec<Load>,
    pub(crate) saves: Vec<Save>,
    /// How many files one command saves.
    pub(crate) batch: usize,
    /// Files of the project that are replaced in, or put back.
    pub(crate) replacing: Option<FileWork>,
    /// What is being done to a file.
    pub(crate) operation: Option<Operation>,
}

impl Default for FileTasks {
    fn default() -> FileTasks {
        FileTasks {
            disk: Arc::new(Disk::default()),
            loads: Vec::new(),
            saves: Vec::new(),
            batch: 0,
            replacing: None,
            operation: None,
        }
    }
}
