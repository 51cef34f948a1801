//! The tests of this crate, in one program: each would hold all grammars otherwise.

mod places;
mod sessions;
