//! What a look for places has found.

use crate::ids::BufferId;
use snarvel_core::echo::{Change, Echo};
use snarvel_core::text::Text;
use snarvel_files::load::Encoding;
use snarvel_files::stamp::Stamp;
use std::path::PathBuf;
use std::sync::Arc;

/// What was found for the edits so far; none where they are not alike, or there is no further place.
#[derive(Debug)]
pub struct Echoed {
    /// The text.
    pub buffer: BufferId,
    /// The revision of it.
    pub revision: u64,
    /// What was found, and the places at its first level.
    pub found: Option<(Arc<Echo>, Vec<Change>)>,
}

/// Where the text of a file is from.
#[derive(Clone, Debug)]
pub(crate) enum Base {
    /// It is open.
    Open(BufferId, u64),
    /// It was read.
    Disk(PathBuf, Encoding, Option<Stamp>),
}

/// A file of the project with places.
#[derive(Clone, Debug)]
pub struct EchoFile {
    /// Its path from the folder of the project.
    pub name: PathBuf,
    /// Its places.
    pub changes: Vec<Change>,
    pub(crate) text: Text,
    pub(crate) base: Base,
}
