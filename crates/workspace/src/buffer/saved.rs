//! What a buffer's file holds, as far as is known, and how the text differs from it.

use snarvel_core::changes::Change;
use snarvel_core::changes::saved_diff::SavedDiff;
use snarvel_core::text::Text;
use snarvel_files::load::{Encoding, Loaded};
use snarvel_files::stamp::Stamp;

/// What another program has done to a file.
#[derive(Debug)]
pub enum DiskStatus {
    /// It holds this now, and looks like this.
    Changed(Box<Loaded>, Stamp),
    /// It is gone.
    Gone,
}

/// The saved state of a buffer.
#[derive(Debug)]
pub struct SavedState {
    /// What differs from the saved text, line by line.
    pub diff: SavedDiff,
    /// The same of the text that is being written.
    pub(super) diff_of_saving: Option<SavedDiff>,
    /// What the file held when it was loaded or saved.
    pub on_disk: Text,
    /// How the file looked then; none where there was none.
    pub stamp: Option<Stamp>,
    /// What another program has done to the file since.
    pub status: Option<DiskStatus>,
    /// How the text is written.
    pub encoding: Encoding,
    /// How the file is written.
    pub file_encoding: Encoding,
    /// How the text was written before it was made UTF-8; none where it was not.
    pub before_utf8: Option<Encoding>,
    /// Whether the rights of the file forbid writing.
    pub read_only: bool,
    /// Whether its history is kept over restarts whatever the rules are.
    pub keeps_past: bool,
}

impl SavedState {
    /// The file holds `text`, in `encoding`.
    #[must_use]
    pub fn new(text: &Text, encoding: Encoding) -> SavedState {
        SavedState {
            diff: SavedDiff::new(text.clone()),
            diff_of_saving: None,
            on_disk: text.clone(),
            stamp: None,
            status: None,
            encoding,
            file_encoding: encoding,
            before_utf8: None,
            read_only: false,
            keeps_past: false,
        }
    }

    /// The file was written in `encoding` by another program: as it is now, so it is saved, unless another one was asked for here.
    pub fn take_encoding(&mut self, encoding: Encoding) {
        if !self.is_recoded() {
            self.encoding = encoding;
        }
        self.file_encoding = encoding;
    }

    /// Whether the text is to be written in another encoding than the file has.
    #[must_use]
    pub fn is_recoded(&self) -> bool {
        self.encoding != self.file_encoding
    }

    /// Takes in `change`, which was just carried out.
    pub(super) fn follow(&mut self, change: &Change) {
        self.diff.follow(change);
        self.diff_of_saving.iter_mut().for_each(|diff| diff.follow(change));
    }

    /// The text as it is now is about to be written.
    pub(super) fn begin(&mut self, text: &Text) {
        self.diff_of_saving = Some(SavedDiff::new(text.clone()));
    }

    /// It was written.
    pub(super) fn finish(&mut self) {
        self.diff_of_saving.take().into_iter().for_each(|diff| self.diff = diff);
    }

    /// Nothing was written.
    pub(super) fn abandon(&mut self) {
        self.diff_of_saving = None;
    }

    /// The text is the saved one.
    pub(super) fn is_same(&mut self, text: &Text) {
        self.diff = SavedDiff::new(text.clone());
    }
}
