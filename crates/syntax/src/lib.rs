//! Grammars: the structure of a text in the languages that have one, by tree-sitter.
//!
//! A text is parsed behind the back of whoever edits it (`behind`), language by language where it holds several
//! (`layered`), in a window around the place that is asked for where it is large. Whoever asks for nodes waits for the
//! tree of the text as it is, up to a limit; whoever asks for colours (`paint`) takes what there is. Units are bytes.
//! A text that cannot be parsed in time has no nodes: the engine then goes by brackets and lines.

mod behind;
mod grammars;
mod layered;
mod paint;

use behind::Behind;
use snarvel_core::languages::Language;
use snarvel_core::structure::Tree;
use std::sync::Arc;
use std::sync::OnceLock;
use std::time::Duration;

pub use grammars::has_grammar;

/// The tree of a text in `language`, for somebody who waits for nodes so long; none where neither the language nor any
/// that it holds has a grammar.
#[must_use]
pub fn tree_for(language: &Arc<Language>, patience: Duration) -> Option<Box<dyn Tree>> {
    let has_any = has_grammar(&language.name) || !language.embeds.is_empty();
    has_any.then(|| Box::new(Behind::new(language.clone(), patience)) as Box<dyn Tree>)
}

/// What is called, on another thread, whenever a parse is done.
static WHEN_PARSED: OnceLock<Box<dyn Fn() + Send + Sync>> = OnceLock::new();

/// Has `call` called, on another thread, whenever a parse is done: colours may be others then. Only the first one given
/// in a process counts.
pub fn when_parsed(call: impl Fn() + Send + Sync + 'static) {
    let _ = WHEN_PARSED.set(Box::new(call));
}
