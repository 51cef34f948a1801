//! The project: the folder that files are named from, and what holds for its texts.

use crate::buffer::defaults::{EditorDefaults, Tidy};
use crate::offering::settings::When;
use std::path::{Path, PathBuf};
use std::time::Duration;

/// Whether saving writes files.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Writing {
    /// It does.
    Files,
    /// It only says what it would write.
    Nothing,
}

/// How far a project is trusted.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Trust {
    /// Nothing is started, and nothing is asked: what is played by a script.
    Nothing,
    /// Commands are asked about; the recipes of the folder are not read.
    Asks,
    /// Commands are asked about; the recipes of the folder are read.
    Folder,
    /// Nothing is asked.
    Everything,
}

impl Trust {
    /// Whether the folder's own recipes count.
    #[must_use]
    pub fn reads_recipes(self) -> bool {
        matches!(self, Trust::Folder | Trust::Everything)
    }
}

/// Commands that text goes through may run so long, unless a person says otherwise.
pub const FILTER_LIMIT: Duration = Duration::from_secs(10);

/// What is kept of the past of files.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct PastRules {
    /// All of them together take so much room at most, in mebibytes; nothing is kept where that is 0.
    pub most_mb: u32,
    /// Files of which nothing is kept: by their names, or by their whole paths where a rule has a slash. `*` and `?` fit anything.
    pub ignored: Vec<String>,
}

impl Default for PastRules {
    fn default() -> PastRules {
        PastRules { most_mb: 256, ignored: Vec::new() }
    }
}

/// What goes along with saving.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Saving {
    /// Whether texts are laid out first.
    pub formats: bool,
    /// Whether what is changed is saved before it is run.
    pub before_runs: bool,
    /// What is kept of the past of files.
    pub past: PastRules,
}

impl Default for Saving {
    fn default() -> Saving {
        Saving { formats: false, before_runs: true, past: PastRules::default() }
    }
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
    /// How far it is trusted.
    pub trust: Trust,
    /// How long commands may run that text goes through.
    pub filter_limit: Duration,
    /// When offers come.
    pub offers: When,
    /// What goes along with saving.
    pub saving: Saving,
}

/// How many files are remembered as opened lately.
const MOST_RECENT: usize = 200;

impl Project {
    /// In `folder`. Files are named from it whatever becomes of the folder in which the program was started.
    #[must_use]
    pub fn in_folder(folder: &Path) -> Project {
        let folder = if folder.as_os_str().is_empty() { Path::new(".") } else { folder };
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
            trust: Trust::Asks,
            filter_limit: FILTER_LIMIT,
            offers: When::Auto,
            saving: Saving::default(),
        }
    }

    /// Puts `path`, from the root, in front of the recent files.
    pub fn note_opened(&mut self, path: &Path) {
        self.recent.retain(|each| each != path);
        self.recent.insert(0, path.to_owned());
        self.recent.truncate(MOST_RECENT);
    }
}
