//! The demo: the files of Skerry Sound, copied fresh each time.

use anyhow::{Context, Result, bail};
use std::path::{Path, PathBuf};
use tempfile::TempDir;

/// What the strip calls them.
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
