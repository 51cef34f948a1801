//! What keeps work safe: journals, work left by a crash, what is kept between starts.

use crate::compared::LeftWork;
use crate::ids::BufferId;
use crate::kept::{Kept, Marked, Store};
use crate::state::ledger::LedgerLink;
use crate::tasks::TaskHandle;
use snarvel_files::journal::{Journal, Journals};
use snarvel_files::outside::Watch;
use snarvel_task::Worker;
use std::collections::HashMap;
use std::sync::mpsc::{Receiver, channel};

/// A journal, as a subscriber of the changes of its text.
#[derive(Debug)]
pub(crate) struct JournalLink {
    pub(crate) journal: Journal,
    /// The revision of the text that it has.
    pub(crate) revision: u64,
    /// Why it is not written; it is given the whole text then.
    pub(crate) stopped: Option<String>,
}

/// What keeps work safe; nothing of it where nothing is to be kept.
#[derive(Debug, Default)]
pub(crate) struct Keeping {
    pub(crate) journals: Option<Journals>,
    pub(crate) links: HashMap<BufferId, JournalLink>,
    /// Work left by a crash: of each buffer, the last is asked about.
    pub(crate) left: Vec<LeftWork>,
    pub(crate) watch: Option<Watch>,
    /// Where sessions and bookmarks are kept; none where nothing is.
    pub(crate) store: Option<Store>,
    pub(crate) keeper: Option<Keeper>,
    /// What was handed to the keeper last.
    pub(crate) handed_over: u64,
    /// The bookmarks of all files as they were kept; none before they are read.
    pub(crate) marked: Option<Vec<Marked>>,
    /// Reads them.
    pub(crate) reading_marks: Option<TaskHandle>,
    /// The ledger, where one is kept.
    pub(crate) ledger: Option<LedgerLink>,
    /// The marked lines of files that were closed, with their words.
    pub(crate) closed: Vec<Marked>,
}

/// Writes what is kept in the background: what was handed over last counts.
#[derive(Debug)]
pub(crate) struct Keeper {
    pub(crate) worker: Worker<Kept>,
    pub(crate) ended: Receiver<()>,
}

impl Keeper {
    pub(crate) fn start() -> Keeper {
        let (end, ended) = channel();
        let report = move |report| {
            if report != snarvel_task::Report::News(()) {
                // Whoever waited for the end may be gone.
                let _ = end.send(());
            }
        };
        let worker = Worker::start(report, |to_keep: &Receiver<Kept>, _| {
            while let Ok(first) = to_keep.recv() {
                let newest = to_keep.try_iter().last().unwrap_or(first);
                // What cannot be kept now is told at the end.
                let _ = newest.write();
            }
        });
        Keeper { worker, ended }
    }
}
