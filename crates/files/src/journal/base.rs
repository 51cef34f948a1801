//! What a journal begins with.

use crate::stamp::{Stamp, number_of};
use snarvel_core::text::Text;
use std::path::{Path, PathBuf};

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

/// How the names of the journals of `file` begin.
pub(super) fn prefix_of(file: &Path) -> String {
    format!("{:016x}-", number_of(file))
}
