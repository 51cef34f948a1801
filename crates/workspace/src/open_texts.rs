//! The texts under edit, as work in the background gets them: they count in place of their files.

use crate::ids::BufferId;
use crate::workspace::Workspace;
use snarvel_core::text::Text;
use snarvel_files::load::Encoding;
use std::collections::HashMap;
use std::path::PathBuf;

/// A text under edit.
#[derive(Clone, Debug)]
pub(crate) struct OpenText {
    pub buffer: BufferId,
    pub revision: u64,
    pub text: Text,
    pub encoding: Encoding,
    pub is_read_only: bool,
}

impl Workspace {
    /// The texts of files under edit of which all is there, by whole paths.
    pub(crate) fn open_texts(&self) -> HashMap<PathBuf, OpenText> {
        let open = self.buffers.iter().filter(|buffer| !buffer.is_partial());
        let told = open.filter_map(|buffer| {
            let text = OpenText {
                buffer: buffer.id,
                revision: buffer.revision(),
                text: buffer.text().clone(),
                encoding: buffer.saved.encoding,
                is_read_only: buffer.saved.read_only,
            };
            Some((buffer.path()?.to_owned(), text))
        });
        told.collect()
    }
}
