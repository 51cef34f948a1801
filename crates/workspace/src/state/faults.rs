//! What is wrong in files, as servers tell it.

use crate::ids::{BufferId, ServerId, ShellId};
use snarvel_core::units::Span;
use snarvel_servers::news::FileFaults;
use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

/// What says that something is wrong.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum FaultSource {
    /// A language server.
    Server(ServerId),
    /// A program that has printed it.
    Run(ShellId),
}

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
