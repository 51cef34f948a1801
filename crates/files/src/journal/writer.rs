//! The thread that writes journals: at once, so that a killed program loses nothing, and to the disk within a second.

use super::base::{Base, UNNAMED, prefix_of, process_name};
use super::existing::{self, TRANSACTION_PREFIX};
use super::news::{JournalEvent, JournalNews};
use super::open_journal::{Attempt, OpenJournal};
use super::orphaned::OrphanedJournal;
use super::record;
use snarvel_core::text::Text;
use snarvel_task::waits::JOURNAL_TO_DISK;
use snarvel_task::{Context, Report, Worker};
use std::collections::HashMap;
use std::fs::{self, File};
use std::io::Write;
use std::os::unix::fs::OpenOptionsExt;
use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::mpsc::{Receiver, RecvTimeoutError, Sender};
use std::sync::{Arc, Condvar, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

/// What the thread is to do.
#[derive(Debug)]
pub(super) enum JournalOrder {
    /// Begins a journal, after a look at what is there already for its file.
    Begin {
        id: u64,
        folder: PathBuf,
        base: Base,
        now: Option<Text>,
    },
    Change {
        id: u64,
        bytes: Vec<u8>,
    },
    /// A step in several texts: all of it or nothing of it is there after a kill.
    Transaction {
        parts: Vec<(u64, Vec<u8>)>,
    },
    Whole {
        id: u64,
        text: Text,
    },
    /// Begins anew; `now` is the text where that is not what the file holds.
    Restart {
        id: u64,
        base: Base,
        now: Option<Text>,
    },
    TakeOver {
        id: u64,
        left: OrphanedJournal,
    },
    End {
        id: u64,
    },
    Flush(Sender<()>),
}

/// The way to the thread, and how far that has come.
#[derive(Clone, Debug)]
pub(super) struct JournalWriter {
    sender: Sender<JournalOrder>,
    progress: Arc<Progress>,
}

/// How much of what was handed over is done.
#[derive(Debug, Default)]
pub(super) struct Progress {
    handed: AtomicU64,
    done: Mutex<u64>,
    has_come: Condvar,
    /// How many were to be done when a caller gave up waiting.
    given_up: AtomicU64,
}

impl Progress {
    /// A count is whole whoever panicked while it was held.
    fn done(&self) -> MutexGuard<'_, u64> {
        self.done.lock().unwrap_or_else(PoisonError::into_inner)
    }

    pub(super) fn one_more(&self) {
        *self.done() += 1;
        self.has_come.notify_all();
    }
}

impl JournalWriter {
    /// To a worker that ends with the last of these; `sink` is told if it panics.
    pub(super) fn start(sink: impl Fn(Report<JournalNews>) + Send + 'static) -> JournalWriter {
        let progress = Arc::new(Progress::default());
        let told = Arc::clone(&progress);
        let worker = Worker::start(sink, move |orders, context| run(orders, &told, context));
        JournalWriter { sender: worker.inbox(), progress }
    }

    /// The caller reports progress by what this returns.
    #[cfg(test)]
    pub(super) fn to_nobody() -> (JournalWriter, Arc<Progress>) {
        let progress = Arc::new(Progress::default());
        (JournalWriter { sender: std::sync::mpsc::channel().0, progress: Arc::clone(&progress) }, progress)
    }

    pub(super) fn send(&self, order: JournalOrder) {
        self.progress.handed.fetch_add(1, Ordering::Relaxed);
        // The thread ends with the program only.
        let _ = self.sender.send(order);
    }

    pub(super) fn settle(&self, longest: Duration) -> bool {
        let Progress { handed, has_come, given_up, .. } = &*self.progress;
        let handed = handed.load(Ordering::Relaxed);
        let done = self.progress.done();
        if *done < given_up.load(Ordering::Relaxed) {
            return false;
        }
        let waited = has_come.wait_timeout_while(done, longest, |done| *done < handed);
        let is_there = *waited.unwrap_or_else(PoisonError::into_inner).0 >= handed;
        if !is_there {
            given_up.store(handed, Ordering::Relaxed);
        }
        is_there
    }
}

/// The journals under way.
struct Writing {
    open: HashMap<u64, OpenJournal>,
    /// How many transactions over several texts there were.
    transactions: u64,
    /// Files of transactions that are no longer needed once the journals are on the disk.
    finished: Vec<PathBuf>,
    to_disk: Sender<ToDisk>,
    /// What is to be told.
    news: Vec<JournalNews>,
}

/// What the thread does that waits for the disk.
enum ToDisk {
    Sync(File),
    Remove(PathBuf),
}

fn run(orders: &Receiver<JournalOrder>, progress: &Progress, context: &Context<JournalNews>) {
    let mut writing =
        Writing { open: HashMap::new(), transactions: 0, finished: Vec::new(), to_disk: syncing(), news: Vec::new() };
    let mut dirty_since: Option<Instant> = None;
    loop {
        let order = match dirty_since {
            None => orders.recv().map_err(|_| RecvTimeoutError::Disconnected),
            Some(since) => orders.recv_timeout((since + JOURNAL_TO_DISK).saturating_duration_since(Instant::now())),
        };
        match order {
            Ok(JournalOrder::Flush(done)) => {
                writing.flush();
                writing.tell(context);
                progress.one_more();
                // Whoever waited may be gone.
                let _ = done.send(());
            }
            Ok(order) => {
                writing.carry_out(order);
                writing.tell(context);
                progress.one_more();
            }
            Err(RecvTimeoutError::Timeout) => {}
            Err(RecvTimeoutError::Disconnected) => {
                writing.flush();
                return;
            }
        }
        if dirty_since.is_some_and(|since| since.elapsed() >= JOURNAL_TO_DISK) {
            writing.hand_to_the_disk();
            dirty_since = None;
        }
        let is_waiting = writing.open.values().any(OpenJournal::is_waiting);
        dirty_since = if is_waiting { dirty_since.or_else(|| Some(Instant::now())) } else { None };
        writing.tell(context);
    }
}

/// Another worker, which waits for the disk in the place of the one that writes.
fn syncing() -> Sender<ToDisk> {
    // Nothing is lost with it: the files are written, only not flushed.
    let worker = Worker::start(
        |_: Report<()>| (),
        |orders, _| {
            for order in orders {
                match order {
                    ToDisk::Sync(file) => drop(file.sync_data()),
                    ToDisk::Remove(path) => drop(fs::remove_file(path)),
                }
            }
        },
    );
    worker.inbox()
}

impl Writing {
    /// Tells what there is to tell.
    fn tell(&mut self, context: &Context<JournalNews>) {
        self.news.drain(..).for_each(|news| context.send(news));
    }

    fn carry_out(&mut self, order: JournalOrder) {
        match order {
            JournalOrder::Begin { id, folder, base, now } => self.begin(id, &folder, base, now),
            JournalOrder::Change { id, bytes } => self.on(id, |journal| journal.change(&bytes)),
            JournalOrder::Transaction { parts } => self.transaction(parts),
            JournalOrder::Whole { id, text } => self.on(id, |journal| {
                journal.take_whole(text);
                Ok(())
            }),
            JournalOrder::Restart { id, base, now } => self.on(id, |journal| journal.restart(base, now)),
            JournalOrder::TakeOver { id, left } => {
                if self.open.get_mut(&id).is_some_and(OpenJournal::is_on_the_disk) {
                    left.discard();
                }
            }
            JournalOrder::End { id } => {
                if let Some(journal) = self.open.remove(&id) {
                    let _ = fs::remove_file(journal.path());
                }
            }
            JournalOrder::Flush(_) => {}
        }
    }

    fn begin(&mut self, id: u64, folder: &Path, base: Base, now: Option<Text>) {
        let prefix = base.file.as_ref().map_or_else(|| UNNAMED.to_owned(), |(path, _)| prefix_of(path));
        if base.file.is_some() {
            let existing = existing::look(folder, &prefix);
            if !existing.left.is_empty() || !existing.damaged.is_empty() || existing.other.is_some() {
                self.news.push(JournalNews { journal: id, what: JournalEvent::Existing(existing) });
            }
        }
        let path = folder.join(format!("{prefix}{}-{id}.journal", process_name()));
        self.open.insert(id, OpenJournal::new(path, base));
        self.on(id, |journal| journal.begin(now));
        // The name of the journal is to outlive a loss of power too: its folder is flushed, by the other worker.
        File::open(folder).into_iter().for_each(|folder| drop(self.to_disk.send(ToDisk::Sync(folder))));
    }

    /// Does something with a journal; where it stops being written by that, or is written again, that is told.
    fn on(&mut self, id: u64, act: impl FnOnce(&mut OpenJournal) -> std::io::Result<()>) {
        let Some(journal) = self.open.get_mut(&id) else { return };
        let result = act(journal);
        let what = journal.judge(result);
        self.news.extend(what.map(|what| JournalNews { journal: id, what }));
    }

    /// Writes all parts into one file first, so that a kill between two journals leaves a file from which the others get theirs.
    fn transaction(&mut self, parts: Vec<(u64, Vec<u8>)>) {
        self.transactions += 1;
        let id = record::transaction_id(self.transactions);
        let records: Vec<(u64, Vec<u8>)> =
            parts.into_iter().map(|(journal, step)| (journal, record::transaction(id, &step))).collect();
        let named = records.iter().filter_map(|(journal, record)| {
            let path = self.open.get(journal)?.path();
            Some((path.file_name()?.to_string_lossy().into_owned(), record.clone()))
        });
        let content = record::transaction_file(&named.collect::<Vec<_>>());
        let folder = records.iter().find_map(|(journal, _)| self.open.get(journal)?.path().parent());
        let file = folder
            .map(|folder| folder.join(format!("{TRANSACTION_PREFIX}{}-{}.journal", process_name(), self.transactions)));
        if let Some(file) = file {
            let written = File::options().write(true).create_new(true).mode(0o600).open(&file);
            // Without it the journals are still written, one after the other.
            let _ = written.and_then(|mut written| written.write_all(&content));
            self.finished.push(file);
        }
        for (journal, record) in records {
            self.on(journal, |journal| journal.change(&record));
        }
    }

    /// Writes what waits, and hands to the other worker what is to be on the disk.
    fn hand_to_the_disk(&mut self) {
        for id in self.open.keys().copied().collect::<Vec<_>>() {
            let mut file = None;
            self.on(id, |journal| {
                file = journal.taken_to_the_disk(Attempt::AfterAPause)?;
                Ok(())
            });
            // The other worker ends with this one.
            file.into_iter().for_each(|file| drop(self.to_disk.send(ToDisk::Sync(file))));
        }
        let finished = std::mem::take(&mut self.finished).into_iter().map(ToDisk::Remove);
        finished.for_each(|order| drop(self.to_disk.send(order)));
    }

    fn flush(&mut self) {
        for id in self.open.keys().copied().collect::<Vec<_>>() {
            self.on(id, |journal| match journal.taken_to_the_disk(Attempt::Now)? {
                Some(file) => file.sync_data(),
                None => Ok(()),
            });
        }
        self.finished.drain(..).for_each(|path| drop(fs::remove_file(path)));
    }
}
