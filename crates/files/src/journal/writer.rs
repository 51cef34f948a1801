//! The thread that writes journals: at once, so that a killed program loses nothing, and to the disk within a second.

use super::base::{Base, LARGEST_BASE};
use super::existing::{self, JournalNews, TRANSACTION_PREFIX};
use super::orphaned::OrphanedJournal;
use super::record::{self, Header};
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
    /// Begins a journal, after a look at what is there already under a prefix.
    Begin {
        id: u64,
        path: PathBuf,
        base: Base,
        look: Option<String>,
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
    Restart {
        id: u64,
        base: Base,
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

/// A journal under way. What cannot be written is given up quietly for that text: work goes on without a journal.
struct Open {
    path: PathBuf,
    file: Option<File>,
    base: Base,
    /// Whether the text before the first change is in it.
    has_base: bool,
    /// The whole text, which waits to be written: another one may come.
    whole: Option<Text>,
    is_dirty: bool,
}

/// The journals under way.
struct Writing {
    open: HashMap<u64, Open>,
    /// How many transactions over several texts there were.
    transactions: u64,
    /// Files of transactions that are no longer needed once the journals are on the disk.
    finished: Vec<PathBuf>,
    to_disk: Sender<ToDisk>,
}

/// What the thread does that waits for the disk.
enum ToDisk {
    Sync(File),
    Remove(PathBuf),
}

fn run(orders: &Receiver<JournalOrder>, progress: &Progress, context: &Context<JournalNews>) {
    let mut writing = Writing { open: HashMap::new(), transactions: 0, finished: Vec::new(), to_disk: syncing() };
    let mut dirty_since: Option<Instant> = None;
    loop {
        let order = match dirty_since {
            None => orders.recv().map_err(|_| RecvTimeoutError::Disconnected),
            Some(since) => orders.recv_timeout((since + JOURNAL_TO_DISK).saturating_duration_since(Instant::now())),
        };
        match order {
            Ok(JournalOrder::Flush(done)) => {
                writing.flush();
                progress.one_more();
                // Whoever waited may be gone.
                let _ = done.send(());
            }
            Ok(order) => {
                report_existing(&order, context);
                writing.carry_out(order);
                progress.one_more();
            }
            Err(RecvTimeoutError::Timeout) => {}
            Err(RecvTimeoutError::Disconnected) => {
                writing.flush();
                return;
            }
        }
        let is_dirty = writing.open.values().any(|journal| journal.is_dirty || journal.whole.is_some());
        dirty_since = if is_dirty { dirty_since.or_else(|| Some(Instant::now())) } else { None };
        if dirty_since.is_some_and(|since| since.elapsed() >= JOURNAL_TO_DISK) {
            writing.hand_to_the_disk();
            dirty_since = None;
        }
    }
}

/// Looks at what is there already for a journal that is about to begin, before its own file is.
fn report_existing(order: &JournalOrder, context: &Context<JournalNews>) {
    if let JournalOrder::Begin { id, path, look: Some(prefix), .. } = order
        && let Some(folder) = path.parent()
    {
        let existing = existing::look(folder, prefix);
        if !existing.left.is_empty() || existing.other.is_some() {
            context.send(JournalNews { journal: *id, existing });
        }
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
    fn carry_out(&mut self, order: JournalOrder) {
        let open = &mut self.open;
        match order {
            JournalOrder::Begin { id, path, base, .. } => {
                let file = begun(&path, &base).ok();
                // The name of the journal is to outlive a loss of power too: its folder is flushed, by the other worker.
                let folder = path.parent().and_then(|folder| File::open(folder).ok());
                folder.into_iter().for_each(|folder| drop(self.to_disk.send(ToDisk::Sync(folder))));
                open.insert(id, Open { path, file, base, has_base: false, whole: None, is_dirty: false });
            }
            JournalOrder::Change { id, bytes } => {
                open.get_mut(&id).into_iter().for_each(|journal| journal.change(&bytes));
            }
            JournalOrder::Transaction { parts } => self.transaction(parts),
            JournalOrder::Whole { id, text } => {
                open.get_mut(&id).into_iter().for_each(|journal| journal.whole = Some(text.clone()));
            }
            JournalOrder::Restart { id, base } => {
                if let Some(journal) = open.get_mut(&id) {
                    journal.whole = None;
                    journal.base = base;
                    journal.has_base = false;
                    journal.anew(&[]);
                }
            }
            JournalOrder::TakeOver { id, left } => {
                if open.get_mut(&id).is_some_and(Open::is_on_the_disk) {
                    left.discard();
                }
            }
            JournalOrder::End { id } => {
                if let Some(journal) = open.remove(&id) {
                    let _ = fs::remove_file(&journal.path);
                }
            }
            JournalOrder::Flush(_) => {}
        }
    }

    /// Writes all parts into one file first, so that a kill between two journals leaves a file from which the others get theirs.
    fn transaction(&mut self, parts: Vec<(u64, Vec<u8>)>) {
        self.transactions += 1;
        let id = record::transaction_id(self.transactions);
        let records: Vec<(u64, Vec<u8>)> =
            parts.into_iter().map(|(journal, step)| (journal, record::transaction(id, &step))).collect();
        let named = records.iter().filter_map(|(journal, record)| {
            let path = &self.open.get(journal)?.path;
            Some((path.file_name()?.to_string_lossy().into_owned(), record.clone()))
        });
        let content = record::transaction_file(&named.collect::<Vec<_>>());
        let folder = records.iter().find_map(|(journal, _)| self.open.get(journal)?.path.parent());
        let file = folder.map(|folder| {
            folder.join(format!("{TRANSACTION_PREFIX}{}-{}.journal", std::process::id(), self.transactions))
        });
        if let Some(file) = file {
            let written = File::options().write(true).create_new(true).mode(0o600).open(&file);
            // Without it the journals are still written, one after the other.
            let _ = written.and_then(|mut written| written.write_all(&content));
            self.finished.push(file);
        }
        for (journal, record) in records {
            self.open.get_mut(&journal).into_iter().for_each(|journal| journal.change(&record));
        }
    }

    fn hand_to_the_disk(&mut self) {
        let dirty = self.open.values_mut().filter_map(Open::taken_to_the_disk).map(ToDisk::Sync);
        let finished = std::mem::take(&mut self.finished).into_iter().map(ToDisk::Remove);
        // The other worker ends with this one.
        dirty.chain(finished).for_each(|order| drop(self.to_disk.send(order)));
    }

    fn flush(&mut self) {
        self.open.values_mut().for_each(Open::flush);
        self.finished.drain(..).for_each(|path| drop(fs::remove_file(path)));
    }
}

/// A locked file at `path` that begins as `base` says.
fn begun(path: &Path, base: &Base) -> std::io::Result<File> {
    let mut file = File::options().write(true).create_new(true).mode(0o600).open(path)?;
    // Where a file system knows no locks, a live program cannot be told from a dead one.
    let _ = file.try_lock();
    file.write_all(&record::header(&header_of(base)))?;
    Ok(file)
}

fn header_of(base: &Base) -> Header {
    match &base.file {
        Some((path, stamp)) => Header::new(path, *stamp),
        None => Header::new(&std::env::current_dir().unwrap_or_default(), None),
    }
}

impl Open {
    fn change(&mut self, bytes: &[u8]) {
        self.settle_whole();
        if !self.has_base {
            self.has_base = true;
            // What lies in no file lies here only.
            if self.base.file.is_none() || self.base.text.len() <= LARGEST_BASE {
                let base = record::base(&self.base.text);
                self.write(&base);
            }
        }
        self.write(bytes);
    }

    fn write(&mut self, bytes: &[u8]) {
        let result = self.file.as_mut().map(|file| file.write_all(bytes));
        if matches!(result, Some(Err(_))) {
            self.file = None;
        }
        self.is_dirty = true;
    }

    /// Writes the whole text where one waits, in the place of all changes before.
    fn settle_whole(&mut self) {
        if let Some(text) = self.whole.take() {
            self.has_base = true;
            self.anew(&record::whole(&text));
        }
    }

    /// Begins the file anew, with `content` after the header: the old one stays until the new one is whole.
    fn anew(&mut self, content: &[u8]) {
        let fresh = self.path.with_extension("new");
        let _ = fs::remove_file(&fresh);
        let written = begun(&fresh, &self.base).and_then(|mut file| {
            file.write_all(content)?;
            if !content.is_empty() {
                file.sync_data()?;
            }
            fs::rename(&fresh, &self.path)?;
            Ok(file)
        });
        match written {
            Ok(file) => self.file = Some(file),
            Err(_) => {
                let _ = fs::remove_file(&fresh);
                // What comes next belongs after `content`: after what is there it would make another text.
                self.file = None;
            }
        }
    }

    /// Waits until all of it is on the disk, and says whether that is so.
    fn is_on_the_disk(&mut self) -> bool {
        self.settle_whole();
        self.file.as_ref().is_some_and(|file| file.sync_data().is_ok())
    }

    fn flush(&mut self) {
        if let Some(file) = self.taken_to_the_disk() {
            // A disk that fails now has failed for the file itself, too.
            let _ = file.sync_data();
        }
    }

    /// The file, if there is something in it for the disk, with all that is to be written written.
    fn taken_to_the_disk(&mut self) -> Option<File> {
        self.settle_whole();
        std::mem::take(&mut self.is_dirty).then(|| self.file.as_ref()?.try_clone().ok()).flatten()
    }
}
