//! The screen of Snarvel: keys, panels, what is drawn, the application around the workspace, and the terminal it lives in.

pub mod app;
pub mod asked;
mod background;
pub mod context;
mod guardian;
pub mod keys;
pub mod mouse;
mod own_file;
pub mod palette;
pub mod panels;
pub mod problem;
pub mod screen;
pub mod settings;
pub mod sheet;
pub mod size;
pub mod system_clipboard;
pub mod terminal;
pub mod tour;
