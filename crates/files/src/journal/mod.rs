//! The journal: what was edited since the last save, so that a crash loses no work.
//!
//! Each open text has a file of its own in the state folder, for its owner's eyes only. It begins with what the text was
//! ([`Base`]) and goes on with each change. A thread writes what it is handed at once, so that a program that is killed has
//! lost nothing, and flushes it to the disk within a second, for a machine that loses power. The file is locked while its
//! program lives: one that is not locked is work left by a crash ([`OrphanedJournal`]).

mod base;
pub mod copies;
mod existing;
mod news;
mod open_journal;
mod orphaned;
mod record;
mod writer;

pub use base::Base;
pub use existing::ExistingJournals;
pub use news::{JournalEvent, JournalNews};
pub use orphaned::{OrphanedJournal, Recovered};
use snarvel_core::changes::Change;
use snarvel_core::text::Text;
use snarvel_task::Report;
use std::path::PathBuf;
use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::mpsc::{Receiver, channel};
use std::time::Duration;
use writer::{JournalOrder, JournalWriter};

/// All journals of a program.
#[derive(Clone, Debug)]
pub struct Journals {
    folder: PathBuf,
    orders: JournalWriter,
}

/// The journal of one text. Dropping it leaves the file: only [`Journal::end`] says that nothing is to be kept.
#[derive(Debug)]
pub struct Journal {
    id: u64,
    orders: JournalWriter,
    written: usize,
}

/// A journal that has grown by so many bytes begins anew with the whole text, unless that is larger.
const LARGEST_JOURNAL: usize = 16 << 20;

impl Journals {
    /// In `folder`, which is made where it is missing; starts the worker that writes. `sink` is told what was there when a journal
    /// began, and when one cannot be written.
    pub fn in_folder(folder: PathBuf, sink: impl Fn(Report<JournalNews>) + Send + 'static) -> Journals {
        Journals { folder, orders: JournalWriter::start(sink) }
    }

    /// Begins the journal of a text, which is `now` where that is not what its file holds. What is there already for its file is
    /// reported to the sink, by the number that the journal has.
    #[must_use]
    pub fn begin(&self, base: &Base, now: Option<&Text>) -> Journal {
        static NEXT: AtomicU64 = AtomicU64::new(0);
        let id = NEXT.fetch_add(1, Ordering::Relaxed);
        let (folder, base, now) = (self.folder.clone(), base.clone(), now.cloned());
        self.orders.send(JournalOrder::Begin { id, folder, base, now });
        Journal { id, orders: self.orders.clone(), written: 0 }
    }

    /// Texts without a file that a crash left. Waits for the disk: to be asked at the start.
    #[must_use]
    pub fn unnamed(&self) -> Vec<OrphanedJournal> {
        existing::look(&self.folder, base::UNNAMED).left
    }

    /// Notes a step that changed several texts: after a kill all of it is there or nothing of it. Texts without a journal are left
    /// out.
    pub fn note_transaction(&self, parts: Vec<(&mut Journal, Vec<Arc<Change>>)>) {
        let parts = parts.into_iter().map(|(journal, changes)| {
            let bytes = record::step(&changes);
            journal.written += bytes.len();
            (journal.id, bytes)
        });
        self.orders.send(JournalOrder::Transaction { parts: parts.collect() });
    }

    /// Waits until everything that was handed over is in its file, on the disk.
    pub fn flush(&self) {
        let (done, wait): (_, Receiver<()>) = channel();
        self.orders.send(JournalOrder::Flush(done));
        // Nobody answers where the thread is gone.
        let _ = wait.recv();
    }

    /// Waits until what was handed over is in its files, so that the end of this program does not take it: for `longest`
    /// at most, and not at all while what an earlier call gave up waiting for is still not there, so that a disk that stalls
    /// makes no caller wait twice. A whole text waits for the next flush and is not waited for. Says whether all is there.
    #[must_use]
    pub fn settle(&self, longest: Duration) -> bool {
        self.orders.settle(longest)
    }
}

impl Journal {
    /// Its number, which no other of this program has.
    #[must_use]
    pub fn number(&self) -> u64 {
        self.id
    }

    /// Notes what changed the text in one step, in order; it is `after` now.
    pub fn note(&mut self, changes: &[Arc<Change>], after: &Text) {
        if changes.is_empty() {
            return;
        }
        let bytes = record::step(changes);
        self.written += bytes.len();
        if self.written > LARGEST_JOURNAL.max(2 * after.len()) {
            self.note_whole(after);
        } else {
            self.orders.send(JournalOrder::Change { id: self.id, bytes });
        }
    }

    /// Notes that the text is `after` now, by whatever changes.
    pub fn note_whole(&mut self, after: &Text) {
        self.written = 0;
        self.orders.send(JournalOrder::Whole { id: self.id, text: after.clone() });
    }

    /// Begins anew: the text was saved, or loaded again, and is `now` where that is not what the file holds.
    pub fn restart(&mut self, base: &Base, now: Option<&Text>) {
        self.written = 0;
        self.orders.send(JournalOrder::Restart { id: self.id, base: base.clone(), now: now.cloned() });
    }

    /// What a crash left is in the text now, which was noted: it is thrown away once this journal is on the disk, and
    /// stays where that cannot be.
    pub fn take_over(&self, left: OrphanedJournal) {
        self.orders.send(JournalOrder::TakeOver { id: self.id, left });
    }

    /// Ends it: nothing is to be kept.
    pub fn end(self) {
        self.orders.send(JournalOrder::End { id: self.id });
    }
}

#[cfg(test)]
mod tests;
