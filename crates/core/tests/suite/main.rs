//! The tests of this crate, in one program: each would hold all grammars otherwise.

mod echo;
mod kept_history;
mod scanner_growth;
mod snippet_syntax;
