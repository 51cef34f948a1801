//! Panels: each a state, what keys do to it, and how it is drawn, in a file or folder of its own.

pub mod argument;
pub mod chooser;
pub mod difference;
pub mod files;
pub mod key_sheet;
pub mod line;
pub mod lookup;
pub mod may_run;
pub mod news;
pub mod offers;
pub mod open;
pub mod outline;
pub mod painter;
pub mod panel;
pub mod question;
pub mod recipes;
pub mod roster;
pub mod save_as;
pub mod settings;
pub mod shelf;
pub mod sift;
pub mod signs;
pub mod start;
pub mod trail;
