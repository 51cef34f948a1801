//! Where a view goes once all of its text is there: decided while the file is still being read.

use serde::{Deserialize, Serialize};
use snarvel_core::text::place::Place;
use snarvel_core::units::Byte;
use std::path::PathBuf;

/// A file that was open, and where in it the view was.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct OpenFile {
    pub(crate) path: PathBuf,
    pub(crate) caret: usize,
    pub(crate) top: usize,
    pub(crate) left: u32,
    /// The first and the last line of what was folded.
    pub(crate) folds: Vec<[usize; 2]>,
}

/// Where a view goes once all of its text is there.
#[derive(Clone, Debug)]
pub enum Arrival {
    /// To a place.
    Place(Place),
    /// Back to a place that was left.
    Back(Byte),
    /// To where it was when the program was left.
    Session(OpenFile),
}
