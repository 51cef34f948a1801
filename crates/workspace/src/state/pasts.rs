//! The past of files over restarts.

use crate::tasks::TaskHandle;
use snarvel_files::past::Pasts;

/// The past of files over restarts.
#[derive(Debug, Default)]
pub(crate) struct PastFiles {
    /// Where it is kept; none where it is not.
    pub(crate) store: Option<Pasts>,
    /// What is being read and kept.
    pub(crate) tasks: Vec<TaskHandle>,
    /// What was said last of it.
    pub(crate) told: Option<String>,
}
