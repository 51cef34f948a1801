//! Snarvel, the program: command line, keys, panels, screens, and the terminal they live in.
//!
//! The work on text is in `snarvel-core`; here is what a person and a terminal need around it.

pub mod app;
pub mod cli;
pub mod demo;
pub mod differences;
pub mod doctor;
pub mod document;
pub mod finding;
pub mod keys;
pub mod listings;
pub mod palette;
pub mod panels;
pub mod play;
pub mod screen;
pub mod session;
pub mod settings;
pub mod sheet;
pub mod state;
pub mod system_clipboard;
pub mod terminal;
pub mod wake;
