//! What the thread that writes journals tells.

use super::existing::ExistingJournals;

/// Something about a journal.
#[derive(Debug)]
pub struct JournalNews {
    /// The number of the journal.
    pub journal: u64,
    /// What.
    pub what: JournalEvent,
}

/// What has happened to a journal.
#[derive(Debug)]
pub enum JournalEvent {
    /// Others were there when it began.
    Existing(ExistingJournals),
    /// It cannot be written, for this reason: it is given the whole text from now on, and tries again.
    Stopped(String),
    /// It is written again, and holds all.
    GoesOn,
}
