//! What is told of recipes that are computed in the background.

use crate::ids::BufferId;
use crate::view::Preview;
use snarvel_core::changes::Change;
use snarvel_core::recipes::MOST_PASSES;
use snarvel_files::replacing::Replaced;
use std::path::PathBuf;

/// Why a run ended before its end. Then the text is as it was.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum Ended {
    /// The host said so.
    #[error("it was stopped")]
    Stopped,
    /// A block went on changing the text.
    #[error("line {line}: still changing after {MOST_PASSES} passes")]
    Endless {
        /// The line of its header.
        line: usize,
    },
    /// The text would become too large.
    #[error("line {line}: the text would become too large")]
    TooLarge {
        /// The line of the step.
        line: usize,
    },
    /// A step could not be done, and the recipe is strict.
    #[error("line {line}: {why}")]
    NotDone {
        /// The line of the step.
        line: usize,
        /// Why.
        why: String,
    },
}

/// What a recipe would do.
#[derive(Debug)]
pub struct WouldDo {
    /// The text as it would be, with the cursors as they would be.
    pub preview: Preview,
    /// How many runs of lines would change.
    pub places: usize,
    /// How many steps could not be done.
    pub not_done: usize,
}

/// A file that a recipe would change.
#[derive(Debug)]
pub struct FileChange {
    /// Its path from the project's folder.
    pub name: PathBuf,
    /// How many runs of lines would change.
    pub places: usize,
    /// What would change, as a unified diff.
    pub diff: String,
    /// What is to be carried out.
    pub(crate) work: Work,
}

/// What is to be carried out for a file.
#[derive(Debug)]
pub(crate) enum Work {
    /// A change of a text that is open, made for this revision of it.
    Open(BufferId, u64, Change),
    /// A file on the disk.
    Disk(Box<Replaced>),
}

/// What is told of a run over the project.
#[derive(Debug)]
pub enum ProjectNews {
    /// A file that would change.
    Changes(Box<FileChange>),
    /// A file that cannot be done, and why.
    Refused(PathBuf, String),
    /// How many files were looked at, so far or in all.
    Seen(usize),
}
