//! Snarvel, the program: its command line, the demo, playing key scripts, the doctor.
//!
//! What a text is and what verbs do to it is in `snarvel-core`; buffers, views and files are in `snarvel-workspace`; keys, panels and
//! the screen in `snarvel-ui`.

pub mod apply;
pub mod cli;
pub mod demo;
pub mod doctor;
pub mod ledger;
pub mod listings;
pub mod play;
pub mod sheets;
pub mod state;
pub mod trust;
