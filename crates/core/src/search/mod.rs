//! Search: literals and patterns in a rope, what a hit is in, and what is put in its place.
//!
//! [`literal`] walks the places of a literal without copying the text; [`pattern`] is what a person looks for, with its
//! switches; [`replacement`] is what comes in the place of a hit.

pub mod literal;
mod many;
pub mod pattern;
mod recheck;
pub mod replacement;

pub use literal::{Matches, all_within, last_within};
