//! Grammars: the structure of a text in the languages that have one, by tree-sitter.
//!
//! A text is parsed in the background ([`background`]), language by language where it holds several, in a window around the
//! place that is asked for where it is large. A structure is a value that was taken of a text: nothing waits here. Colours are
//! taken as they are known. Units are bytes. A text that cannot be parsed in time has no structure: the engine then uses
//! brackets and lines.

pub mod background;
mod grammars;
mod known;
mod layered;
mod limits;
pub mod listing;
pub mod names;
#[cfg(test)]
mod nesting;
mod paint;
pub mod paints;
mod roles;
#[cfg(test)]
mod templates;

use snarvel_core::languages::Language;

/// Whether a text in `language` can be parsed: it has a grammar, or languages inside it may have one.
#[must_use]
pub fn has_grammar(language: &Language) -> bool {
    grammars::has_grammar(&language.name) || !language.embeds.is_empty()
}

/// Whether the language called `name` has a grammar of its own.
#[must_use]
pub fn has_own_grammar(name: &str) -> bool {
    grammars::has_grammar(name)
}

/// The grammar of the language called `name`, for whoever wants a tree of its own.
#[must_use]
pub fn tree_sitter_language(name: &str) -> Option<tree_sitter::Language> {
    grammars::Grammar::of(name).map(|grammar| grammar.language.clone())
}
