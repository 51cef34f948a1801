//! What is wrong in files, as servers tell it.

use crate::ids::BufferId;
use crate::meaning::faults::FaultSource;
use snarvel_core::units::Span;
use snarvel_servers::news::FileFaults;
use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

/// What is wrong in files.
#[derive(Debug, Default)]
pub(crate) struct FaultBook {
    pub(crate) files: BTreeMap<PathBuf, Vec<(FaultSource, FileFaults)>>,
    /// Where the last way from fault to fault led.
    pub(crate) last: Option<(BufferId, Span)>,
    /// Where the way from printed place to printed place has come to: until another run begins.
    pub(crate) last_printed: Option<usize>,
}

impl FaultBook {
    pub(crate) fn of(&self, path: &Path) -> &[(FaultSource, FileFaults)] {
        self.files.get(path).map_or(&[], Vec::as_slice)
    }
}
