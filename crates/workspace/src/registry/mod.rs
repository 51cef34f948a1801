//! The registry: one row for each verb. Keys, the deck, lookup, lists, documentation and tests draw from here alone.
//!
//! A row names the function that computes what the verb does, which is in the folder of its group in the engine
//! (`crates/core/src/verbs/GROUP`); the row itself is in the file of its group here.

pub mod action;
pub mod arguments;
mod clipboard;
mod comments;
mod cursors;
mod enabled;
mod files;
mod history;
mod landmarks;
mod learning;
mod lines;
pub mod lookup;
mod meaning;
mod moves;
pub mod over_files;
mod pins;
mod recipes;
mod running;
mod selects;
mod text;
mod this_file;
pub mod verb;
mod views;
mod writing;

use std::sync::LazyLock;
pub use verb::Verb;

/// The rows of each group, in the order in which they are listed.
const GROUPS: &[&[Verb]] = &[
    moves::VERBS,
    landmarks::VERBS,
    selects::VERBS,
    cursors::VERBS,
    pins::VERBS,
    lines::VERBS,
    comments::VERBS,
    text::VERBS,
    writing::VERBS,
    meaning::VERBS,
    clipboard::VERBS,
    history::VERBS,
    recipes::VERBS,
    running::VERBS,
    files::VERBS,
    this_file::VERBS,
    views::VERBS,
    learning::VERBS,
];

/// All verbs, in the order in which they are listed.
pub static VERBS: LazyLock<Vec<Verb>> =
    LazyLock::new(|| GROUPS.iter().flat_map(|group| group.iter().copied()).collect());

/// The verb called `name`.
#[must_use]
pub fn by_name(name: &str) -> Option<&'static Verb> {
    VERBS.iter().find(|verb| verb.name == name)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_verb_has_a_name_of_its_own_and_words_that_find_it() {
        let mut names: Vec<_> = VERBS.iter().map(|verb| verb.name).collect();
        names.sort_unstable();
        names.dedup();
        assert_eq!(names.len(), VERBS.len());
        for verb in VERBS.iter() {
            assert!(verb.words.len() >= 3 && verb.sentence.ends_with('.') && !verb.label.is_empty(), "{}", verb.name);
            assert!(!verb.asks || !verb.arguments.is_none(), "{} asks for nothing", verb.name);
        }
    }

    #[test]
    fn a_row_is_in_the_file_of_its_group() {
        // Of getting about there are two, and of cursors.
        let named = [
            "moves",
            "moves",
            "selects",
            "cursors",
            "cursors",
            "lines",
            "comments",
            "text",
            "writing",
            "meaning",
            "clipboard",
            "history",
            "recipes",
            "running",
            "files",
            "files",
            "views",
            "learning",
        ];
        for (group, name) in GROUPS.iter().zip(named) {
            assert!(group.iter().all(|verb| verb.group.name() == name), "{name}");
        }
    }
}
