//! The workspace of Snarvel: everything above the engine that knows no screen.
//!
//! - [`buffer`]: a text with its history, its saved state, its language and the feed of its changes.
//! - [`view`] and [`views`]: one look at a buffer, with cursors, folds and scrolling; how views share the screen.
//! - [`workspace`]: all buffers and views, and what happens to them.
//! - [`transaction`]: changes of several texts as one step.
//! - [`event`] and [`tasks`]: everything that happens in the background arrives as an event, in order.
//! - [`registry`] and [`command`]: which verbs there are, and the one way in which they are run.
//!
//! Positions are bytes of the UTF-8 text, lines count from 0, times are milliseconds of a clock that the caller keeps.

pub mod arrival;
pub mod ask;
pub mod bookmarks;
pub mod buffer;
pub mod coloured;
pub mod command;
pub mod compared;
mod comparing;
pub mod convoy;
pub mod differences;
pub mod echoing;
pub mod editing;
pub mod event;
pub mod example;
pub mod files;
pub mod filtering;
pub mod finding;
pub mod ids;
mod keeping;
pub mod kept;
pub mod learning;
mod listed;
pub mod meaning;
pub mod notice;
pub mod offering;
mod open_texts;
pub mod operations;
pub mod past;
pub mod past_news;
pub mod places;
pub mod project;
pub mod recipes;
pub mod registry;
pub mod rehearsing;
mod sessions;
pub mod shells;
mod showing;
mod side_by_side;
mod signs;
pub mod state;
pub mod stop_key;
mod structure;
pub mod tasks;
mod this_file;
pub mod today;
pub mod transaction;
pub mod view;
pub mod views;
pub mod views_compared;
pub mod workspace;
