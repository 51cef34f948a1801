//! What has happened to the workspace that panels may want to know.

use crate::ids::BufferId;
use std::path::PathBuf;

/// Something that has happened.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Notice {
    /// This command is new in this folder: it runs where the person says so.
    MayRun(String),
    /// A command has failed: which, and what there is to say of it.
    Failed {
        /// The command.
        what: String,
        /// What there is to say.
        lines: Vec<String>,
    },
    /// The recipes that there are were read.
    Recipes,
    /// More is known of the structure of a text.
    Parsed(BufferId),
    /// Files of the project were replaced in, or put back: this is to be said.
    Replaced(String),
    /// This file was made.
    Created(PathBuf),
    /// Something was done to a file, or is being done: the path of what is there now, and what is to be said.
    Operated(Option<PathBuf>, String),
}
