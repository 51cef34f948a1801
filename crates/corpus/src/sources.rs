//! The files that edits are made on.

use anyhow::{Context, Result};
use snarvel_core::languages::{Language, detect};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// Bytes of the smallest and the largest file: less is hardly code, more takes long and teaches nothing more.
const SIZES: std::ops::RangeInclusive<u64> = 200..=40_000;

/// The longest line of a file that a person edits, in bytes: longer ones were made by a program.
const LONGEST_LINE: usize = 400;

/// Who has written the white space of a file.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Layout {
    /// A person.
    ByHand,
    /// The language's formatter, a moment ago.
    Formatted,
}

/// A file that edits are made on.
#[derive(Clone, Debug)]
pub struct Source {
    /// Where it is.
    pub path: PathBuf,
    /// Its language.
    pub language: Arc<Language>,
    /// Its characters.
    pub text: String,
    /// Who has written its white space.
    pub layout: Layout,
}

impl Source {
    /// The file at `path`. None for a file that no person would edit, or whose language has no grammar.
    ///
    /// # Errors
    /// The file cannot be read.
    pub fn read(path: &Path, layout: Layout) -> Result<Option<Source>> {
        let about = path.metadata().with_context(|| path.display().to_string())?;
        if !about.is_file() || !SIZES.contains(&about.len()) {
            return Ok(None);
        }
        let bytes = std::fs::read(path).with_context(|| path.display().to_string())?;
        let Ok(text) = String::from_utf8(bytes) else { return Ok(None) };
        let name = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
        let language = detect(&name, &text);
        let is_made = text.lines().any(|line| line.len() > LONGEST_LINE) || name.contains(".min.");
        let has_grammar = snarvel_syntax::has_own_grammar(&language.name);
        // The program writes one kind of line end: a text with several is another family's matter.
        let is_mixed = text.contains('\r') || text.starts_with('\u{FEFF}');
        let source = Source { path: path.to_owned(), language, text, layout };
        Ok(Some(source).filter(|_| has_grammar && !is_made && !is_mixed))
    }
}

/// The sources in `folder` and below it, in the order of their paths. What cannot be read is left out and counted.
#[must_use]
pub fn read_folder(folder: &Path, layout: Layout) -> (Vec<Source>, usize) {
    let mut paths = Vec::new();
    gather(folder, &mut paths);
    paths.sort();
    let mut failed = 0;
    let mut read = |path: &PathBuf| match Source::read(path, layout) {
        Ok(source) => source,
        Err(_) => {
            failed += 1;
            None
        }
    };
    let sources = paths.iter().filter_map(&mut read).collect();
    (sources, failed)
}

fn gather(folder: &Path, paths: &mut Vec<PathBuf>) {
    let Ok(entries) = std::fs::read_dir(folder) else { return };
    for entry in entries.flatten() {
        let (path, Ok(kind)) = (entry.path(), entry.file_type()) else { continue };
        if kind.is_dir() {
            gather(&path, paths);
        } else if kind.is_file() {
            paths.push(path);
        }
    }
}
