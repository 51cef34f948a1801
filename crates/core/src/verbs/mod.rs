//! What verbs compute: pure functions from a [`scene::Scene`] to a [`scene::Outcome`], in a folder for each group.
//!
//! Which verbs there are, what they are called and which keys run them is told elsewhere: nothing here knows a key, a panel or
//! a screen.

pub mod bare;
pub mod clipboard;
pub mod comments;
pub mod cursors;
pub mod files;
pub mod lines;
pub mod moves;
pub mod scene;
pub mod selects;
pub mod text;
