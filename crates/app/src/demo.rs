//! The demo: the files of Skerry Sound, copied fresh each time.

use anyhow::{Context, Result, bail};
use serde::Deserialize;
use snarvel_files::load::{Loaded, decode};
use snarvel_ui::app::App;
use snarvel_ui::keys::script;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_ui::tour::{Tour, TourStep};
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::workspace::Workspace;
use std::fmt::Write;
use std::path::{Path, PathBuf};
use tempfile::TempDir;

/// What the tab bar calls them.
pub const PROJECT: &str = "Skerry Sound";

/// The files that are opened at first.
pub const OPENED: &[&str] = &["gauges.rs", "tides.py", "board.html", "pilots.sql"];

/// Name and content of every file.
pub const FILES: &[(&str, &str)] = &[
    ("gauges.rs", include_str!("../demo/gauges.rs")),
    ("tides.py", include_str!("../demo/tides.py")),
    ("foghorn.c", include_str!("../demo/foghorn.c")),
    ("berths.ts", include_str!("../demo/berths.ts")),
    ("board.html", include_str!("../demo/board.html")),
    ("harbour.css", include_str!("../demo/harbour.css")),
    ("pilots.sql", include_str!("../demo/pilots.sql")),
    ("stations.toml", include_str!("../demo/stations.toml")),
    ("watch.sh", include_str!("../demo/watch.sh")),
    ("Forecast.java", include_str!("../demo/Forecast.java")),
    ("relay.go", include_str!("../demo/relay.go")),
    ("buoys.lua", include_str!("../demo/buoys.lua")),
    ("logbook.md", include_str!("../demo/logbook.md")),
];

/// A copy of the files; a temporary one goes when it is dropped.
#[derive(Debug)]
pub enum Copy {
    /// In a folder that goes with it.
    Passing(TempDir),
    /// In a folder that stays.
    Kept(PathBuf),
}

impl Copy {
    /// Where it is.
    pub fn folder(&self) -> &Path {
        match self {
            Copy::Passing(folder) => folder.path(),
            Copy::Kept(folder) => folder,
        }
    }
}

/// Makes a fresh copy, in `keep` where it is given.
///
/// # Errors
/// A folder that cannot be made or written, or that has files of these names already.
pub fn copy(keep: Option<&Path>) -> Result<Copy> {
    let copy = match keep {
        Some(folder) => {
            std::fs::create_dir_all(folder).with_context(|| format!("the folder {}", folder.display()))?;
            if let Some((name, _)) = FILES.iter().find(|(name, _)| folder.join(name).exists()) {
                bail!("{} is there already: name an empty folder", folder.join(name).display());
            }
            Copy::Kept(folder.to_owned())
        }
        None => {
            Copy::Passing(tempfile::Builder::new().prefix("snarvel-demo-").tempdir().context("a folder for the copy")?)
        }
    };
    for (name, content) in FILES {
        let path = copy.folder().join(name);
        std::fs::write(&path, content).with_context(|| path.display().to_string())?;
    }
    Ok(copy)
}

/// A task of the tour.
#[derive(Debug, Deserialize)]
pub struct Task {
    /// What is learnt.
    pub name: String,
    /// What the tour says of it.
    pub say: String,
    /// The keys that do it, as a script, on the first file as it comes.
    pub keys: String,
    /// Lines that follow each other afterwards.
    pub lines: Vec<String>,
}

/// The tasks of the tour in the first file.
///
/// # Panics
/// If the tour that the program is built with is wrong: a test reads it.
pub fn tour() -> Vec<Task> {
    #[derive(Deserialize)]
    struct Tour {
        task: Vec<Task>,
    }
    let tour: Tour =
        toml::from_str(include_str!("../demo/tour.toml")).unwrap_or_else(|error| panic!("the tour: {error}"));
    tour.task
}

/// The tour to be taken, from the step `at` on.
#[must_use]
pub fn guided(at: usize) -> Tour {
    let step = |task: Task| TourStep { said: task.say, lines: task.lines };
    let after =
        "That was the tour. What next: Ctrl+L finds every verb by what you want to do, F1 shows every key, and \
        `snarvel .` opens a folder of your own."
            .to_owned();
    Tour::new(FILES[0].0, tour().into_iter().map(step).collect(), after, at)
}

/// Plays every task of the tour and says of each whether its keys do it; whether all of them do.
pub fn check() -> (String, bool) {
    let (name, content) = FILES[0];
    let mut said = String::new();
    let mut all = true;
    for (index, task) in tour().iter().enumerate() {
        let found = played(name, content, &task.keys);
        let holds = found.as_ref().is_ok_and(|text| {
            let lines: Vec<&str> = text.lines().collect();
            lines.windows(task.lines.len()).any(|part| part == task.lines)
        });
        all &= holds;
        let verdict = if holds { "done" } else { "not done" };
        let _ = writeln!(said, "{}. {}: {verdict} by {}", index + 1, task.name, task.keys);
    }
    (said, all)
}

/// What a file holds after the keys.
fn played(name: &str, content: &str, keys: &str) -> Result<String> {
    let (text, encoding) = decode(content.as_bytes());
    let loaded = Loaded { text, encoding, read_only: false };
    let mut workspace = Workspace::new(Project { writing: Writing::Nothing, ..Project::in_folder(Path::new("/")) });
    let buffer = workspace.make_buffer(loaded, Origin::File(PathBuf::from(name)));
    workspace.show_buffer(buffer);
    let mut app = App::new(workspace, Palette::new(&Theme::night(), Depth::None), Size::REFERENCE);
    let actions = script::parse(keys).map_err(|wrong| anyhow::anyhow!("{wrong}"))?;
    for action in &actions {
        app.settle_background();
        app.act(action);
    }
    Ok(app.context.workspace.active().text().to_string())
}
