//! Echo: edits by hand are watched, and after two that are alike the other places are offered where the same would be done.
//!
//! Watching costs a key the composing of two spans. All else is done once the frame is drawn, on a thread of its own
//! ([`Workspace::keep_echo`]); the engine is `snarvel_core::echo`.

pub mod doing;
mod looking;
pub mod news;
pub mod over_project;
mod watching;
