//! What is wrong in a file of configuration.

use std::fmt;
use std::path::PathBuf;

/// What is wrong in a file of settings, and where.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Problem {
    /// The file.
    pub file: PathBuf,
    /// The line, from 1; none where the file could not be read.
    pub line: Option<usize>,
    /// What is wrong, and what is allowed.
    pub what: String,
}

impl fmt::Display for Problem {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        let name = self.file.file_name().map_or_else(|| self.file.to_string_lossy(), |name| name.to_string_lossy());
        match self.line {
            Some(line) => write!(out, "{name} line {line}: {}", self.what),
            None => write!(out, "{}: {}", self.file.display(), self.what),
        }
    }
}
