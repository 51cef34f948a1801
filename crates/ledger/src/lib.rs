//! The ledger: which verbs were used, by which way, and what it cost in keys; what the coach has said; how drills went.
//!
//! It is for the person alone. It holds no text and no names of files, it is never sent anywhere, and only its owner may read it. It knows
//! no verbs and no screen: verbs, patterns and drills are names to it.
//!
//! Days are written `YYYY-MM-DD`. A [`Batch`] is what was counted since the last write; [`Ledger::add`] adds it as one step, so that two
//! programs can write into one ledger. A ledger that cannot be read is put aside, never written over.

mod batch;
mod report;
mod store;

pub use batch::{Amounts, Batch, Habit, Used, Way};
pub use report::{HabitSum, Learned, Report, VerbSum, WeekSum};
pub use store::{Best, Error, Ledger, Said};
