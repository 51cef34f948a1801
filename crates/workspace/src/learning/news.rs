//! What the ledger tells.

use snarvel_ledger::{Best, Report, Said};
use std::collections::HashMap;
use std::path::PathBuf;

/// What the ledger tells.
#[derive(Debug)]
pub enum LedgerNews {
    /// It is open: what was said before, and how drills went.
    Opened {
        /// What the coach has said, by pattern.
        said: HashMap<String, Said>,
        /// How each drill went at best.
        bests: HashMap<String, Best>,
        /// Where one is that could not be read.
        aside: Option<PathBuf>,
    },
    /// What it says.
    Report(Report),
    /// It cannot be read or written; told once.
    Failed(String),
}
