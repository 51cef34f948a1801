//! Snarvel's engine: text, cursors and history in, the same out. No interface, no files, no clock.
//!
//! Glossary, used the same everywhere:
//! - *byte*: an offset into the UTF-8 text ([`units::Byte`]).
//! - *line*: content and line end; LF and CR LF end lines ([`units::Line`]). After a final line end there is
//!   one more, empty line, on which a caret can be.
//! - *cell*, *column*: a display cell, counted from the line's start ([`units::Cell`]).
//! - *cluster*: what a person takes for one character (Unicode UAX #29).
//! - *selection*: an anchor that stays and a head that moves; a *caret* when both are one place.
//! - *run*: neighbouring lines touched by cursors, which line verbs take as one object.

pub mod bookmarks;
pub mod changes;
pub mod coach;
pub mod cursors;
pub mod echo;
pub mod folds;
pub mod history;
pub mod languages;
pub mod offers;
pub mod outline;
pub mod parallel;
pub mod recipes;
pub mod rows;
pub mod search;
pub mod signs;
pub mod spans;
pub mod structure;
pub mod templates;
pub mod text;
pub mod units;
pub mod verbs;
pub mod written;
