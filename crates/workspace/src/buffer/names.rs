//! Where a text comes from, and what is told by names: of files, and of lines.

use snarvel_core::languages::{self, Language};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// Where a text comes from and goes to.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Origin {
    /// A file, there or to be made.
    File(PathBuf),
    /// Standard input; the text goes to standard output at the end.
    Pipe,
    /// Nowhere yet.
    None,
}

/// How much of a file's first line is looked at to find its language, in bytes.
const FIRST_LINE_BYTES: usize = 256;

/// Characters of a line that are kept with its bookmark.
const LONGEST_WORDS: usize = 200;

/// The words of `line` of `text`, as bookmarks are found again by them.
#[must_use]
pub fn words_of(text: &Text, line: Line) -> String {
    text.content(line).trim().chars().take(LONGEST_WORDS).collect()
}

/// The language of a text by the name of its file and its first line.
#[must_use]
pub fn detected(origin: &Origin, text: &Text) -> Arc<Language> {
    let name = match origin {
        Origin::File(path) => path.file_name().map(|name| name.to_string_lossy().into_owned()),
        Origin::Pipe | Origin::None => None,
    };
    let mut chunk = text.chunks_from(Byte(0));
    let first: String =
        chunk.next().map(|piece| piece.text.chars().take(FIRST_LINE_BYTES).collect()).unwrap_or_default();
    languages::detect(&name.unwrap_or_default(), first.lines().next().unwrap_or(""))
}

/// The last part of `path`.
#[must_use]
pub fn name_of(path: &Path) -> String {
    path.file_name().unwrap_or_default().to_string_lossy().into_owned()
}
