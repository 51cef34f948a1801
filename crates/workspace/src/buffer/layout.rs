//! How a text is laid out: by the text itself, `.editorconfig`, the settings, or a person's hand.

use super::defaults::EditorDefaults;
use snarvel_core::verbs::scene::TextSettings;
use snarvel_files::layout::FileLayout;

/// A setting that each file has for itself.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum FileSetting {
    /// Its language.
    Language,
    /// One step of indentation.
    Indentation,
    /// The distance between tab stops.
    TabWidth,
    /// The kind of its line ends.
    LineEnds,
}

/// How the text of a buffer is laid out, and where that comes from.
#[derive(Clone, Copy, Debug)]
pub(super) struct Layout {
    pub settings: TextSettings,
    pub defaults: EditorDefaults,
    /// What `.editorconfig` files say.
    pub file: FileLayout,
    /// Which settings were set by hand, in the order of [`FileSetting`].
    pub by_hand: [bool; 4],
}
