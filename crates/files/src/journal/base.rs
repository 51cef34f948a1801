//! What a journal begins with.

use crate::links::link_target;
use crate::stamp::{Stamp, number_of, unforeseen_number};
use snarvel_core::text::Text;
use std::path::{Path, PathBuf};
use std::sync::LazyLock;

/// What a text was when its journal began: the file's contents, as they were loaded or saved.
#[derive(Clone, Debug)]
pub struct Base {
    /// The text.
    pub text: Text,
    /// The file that held it, and how that looked; none for a text without a file.
    pub file: Option<(PathBuf, Option<Stamp>)>,
}

/// A text up to this many bytes is kept whole with its journal, so that its edits are of use even when the file changes.
pub(super) const LARGEST_BASE: usize = 4 << 20;

/// How the names of journals of texts without a file begin.
pub(super) const UNNAMED: &str = "unnamed-";

/// How the names of the journals of `file` begin, by whatever link it is called. Asks the disk.
pub(super) fn prefix_of(file: &Path) -> String {
    format!("{:016x}-", number_of(&link_target(file)))
}

/// A number of this run of the program: the numbers of processes come again, in a container with each start.
pub(super) static RUN: LazyLock<u64> = LazyLock::new(unforeseen_number);

/// What the names of this program's files have that those of no other have.
pub(super) fn process_name() -> String {
    format!("{}-{:016x}", std::process::id(), *RUN)
}
