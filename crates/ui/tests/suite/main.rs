//! The tests of this crate, in one program: each would hold all grammars otherwise.

mod coach;
mod drills;
mod panels;
mod recipes_panel;
mod slow_disk;
mod support;
mod writing_help;
