//! The ledger of a workspace: who writes it.

use snarvel_ledger::{Batch, Said};
use snarvel_task::Worker;
use std::sync::mpsc::Sender;

/// What the ledger is asked to do.
#[derive(Debug)]
pub(crate) enum Job {
    Add(Batch),
    Said(String, Said),
    Drill { name: String, keys: u32, ms: u64 },
    Report(String),
    End(Sender<()>),
}

/// The ledger that is written into.
#[derive(Debug)]
pub(crate) struct LedgerLink {
    pub(crate) worker: Worker<Job>,
}
