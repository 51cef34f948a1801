//! The screen of Snarvel: keys, panels, what is drawn, the application around the workspace, and the terminal it lives in.

pub mod app;
pub mod asked;
mod background;
pub mod context;
pub mod drilling;
pub mod drills;
mod guardian;
pub mod keys;
pub mod learning;
pub mod mouse;
mod own_file;
pub mod palette;
pub mod panels;
pub mod presenting;
pub mod problem;
mod renaming;
pub mod screen;
pub mod settings;
pub mod sheets;
pub mod size;
pub mod system_clipboard;
pub mod terminal;
pub mod tour;
