//! The project: the folder that files are named from, and what holds for its texts.

use crate::buffer::defaults::{EditorDefaults, Tidy};
use std::path::{Path, PathBuf};

/// Whether saving writes files.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Writing {
    /// It does.
    Files,
    /// It only says what it would write.
    Nothing,
}

/// The project.
#[derive(Debug)]
pub struct Project {
    /// The folder that files are named from.
    pub folder: PathBuf,
    /// What the tab bar calls it.
    pub name: String,
    /// Whether saving writes files.
    pub writing: Writing,
    /// What holds where texts and `.editorconfig` say nothing.
    pub defaults: EditorDefaults,
    /// What is put in order before a save where `.editorconfig` says nothing.
    pub tidy: Tidy,
    /// Whether what was open is kept from one start to the next.
    pub keeps_session: bool,
    /// Files opened lately, the latest first.
    pub recent: Vec<PathBuf>,
    /// Where the person's own recipes are; none where there are none.
    pub recipes: Option<PathBuf>,
    /// Whether the person trusts what this folder would have the program do: its recipes, and commands that are run in it.
    pub is_trusted: bool,
}

/// How many files are remembered as opened lately.
const MOST_RECENT: usize = 200;

impl Project {
    /// In `folder`. Files are named from it whatever becomes of the folder in which the program was started.
    #[must_use]
    pub fn in_folder(folder: &Path) -> Project {
        let folder = std::path::absolute(folder).unwrap_or_else(|_| folder.to_owned());
        Project {
            name: folder.file_name().map(|name| name.to_string_lossy().into_owned()).unwrap_or_default(),
            folder,
            writing: Writing::Files,
            defaults: EditorDefaults::default(),
            tidy: Tidy::default(),
            keeps_session: true,
            recent: Vec::new(),
            recipes: None,
            is_trusted: false,
        }
    }

    /// Remembers that `path` was opened.
    pub fn note_opened(&mut self, path: &Path) {
        self.recent.retain(|each| each != path);
        self.recent.insert(0, path.to_owned());
        self.recent.truncate(MOST_RECENT);
    }
}
