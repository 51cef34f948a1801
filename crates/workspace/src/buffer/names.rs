//! Where a text comes from, and what is told by names: of files, and of lines.

use snarvel_core::languages::{self, Language};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line, Span};
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

/// How many bytes of a file are looked at to find its language.
const HEAD: usize = 8 << 10;

/// Characters of a line that are kept with its bookmark.
const LONGEST_WORDS: usize = 200;

/// The words of `line` of `text`, as bookmarks are found again by them.
#[must_use]
pub fn words_of(text: &Text, line: Line) -> String {
    text.content(line).trim().chars().take(LONGEST_WORDS).collect()
}

/// The language of a text by the name of its file and what it begins with.
#[must_use]
pub fn detected(origin: &Origin, text: &Text) -> Arc<Language> {
    let name = match origin {
        Origin::File(path) => path.file_name().map(|name| name.to_string_lossy().into_owned()),
        Origin::Pipe | Origin::None => None,
    };
    let mut end = Byte(HEAD.min(text.len()));
    while !text.is_char_edge(end) {
        end = end - 1;
    }
    let head = text.slice(Span::new(Byte(0), end));
    languages::detect(&name.unwrap_or_default(), &head)
}

/// The last part of `path`.
#[must_use]
pub fn name_of(path: &Path) -> String {
    path.file_name().unwrap_or_default().to_string_lossy().into_owned()
}
