//! The thread that writes journals: at once, so that a killed program loses nothing, and to the disk within a second.

use super::record::{self, Header};
use super::{Base, LARGEST_BASE, Left};
use snarvel_core::text::Text;
use std::collections::HashMap;
use std::fs::{self, File};
use std::io::Write;
use std::os::unix::fs::OpenOptionsExt;
use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::mpsc::{Receiver, RecvTimeoutError, Sender, channel};
use std::sync::{Arc, Condvar, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

/// What the thread is to do.
#[derive(Debug)]
pub(super) enum Order {
    Begin { id: u64, path: PathBuf, base: Base },
    Change { id: u64, bytes: Vec<u8> },
    Whole { id: u64, text: Text },
    Restart { id: u64, base: Base },
    TakeOver { id: u64, left: Left },
    End { id: u64 },
    Flush(Sender<()>),
}

/// The way to the thread, and how far that has come.
#[derive(Clone, Debug)]
pub(super) struct Orders {
    sender: Sender<Order>,
    progress: Arc<Progress>,
}

/// How much of what was handed over is done.
#[derive(Debug, Default)]
pub(super) struct Progress {
    handed: AtomicU64,
    done: Mutex<u64>,
    has_come: Condvar,
    /// How many were to be done when somebody gave up waiting.
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

impl Orders {
    /// To a thread that ends with the last of these.
    pub(super) fn to_a_thread() -> Orders {
        let (sender, orders) = channel();
        let progress = Arc::new(Progress::default());
        let told = Arc::clone(&progress);
        std::thread::spawn(move || run(&orders, &told));
        Orders { sender, progress }
    }

    /// To nobody: who holds what this gives says what is done.
    #[cfg(test)]
    pub(super) fn to_nobody() -> (Orders, Arc<Progress>) {
        let progress = Arc::new(Progress::default());
        (Orders { sender: channel().0, progress: Arc::clone(&progress) }, progress)
    }

    pub(super) fn send(&self, order: Order) {
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

/// What is written is on the disk after this time at the latest.
const UNTIL_DISK: Duration = Duration::from_millis(800);

/// A journal under way. What cannot be written is given up quietly for that text: work goes on without a journal.
struct Open {
    path: PathBuf,
    file: Option<File>,
    base: Base,
    /// Whether the text before the first change stands in it.
    has_base: bool,
    /// The whole text, which waits to be written: another one may come.
    whole: Option<Text>,
    is_dirty: bool,
}

fn run(orders: &Receiver<Order>, progress: &Progress) {
    let mut open: HashMap<u64, Open> = HashMap::new();
    let to_disk = syncing();
    let mut dirty_since: Option<Instant> = None;
    loop {
        let order = match dirty_since {
            None => orders.recv().map_err(|_| RecvTimeoutError::Disconnected),
            Some(since) => orders.recv_timeout((since + UNTIL_DISK).saturating_duration_since(Instant::now())),
        };
        match order {
            Ok(Order::Flush(done)) => {
                open.values_mut().for_each(Open::flush);
                progress.one_more();
                // Who waited may be gone.
                let _ = done.send(());
            }
            Ok(order) => {
                carry_out(order, &mut open);
                progress.one_more();
            }
            Err(RecvTimeoutError::Timeout) => {}
            Err(RecvTimeoutError::Disconnected) => {
                open.values_mut().for_each(Open::flush);
                return;
            }
        }
        let is_dirty = open.values().any(|journal| journal.is_dirty || journal.whole.is_some());
        dirty_since = if is_dirty { dirty_since.or_else(|| Some(Instant::now())) } else { None };
        if dirty_since.is_some_and(|since| since.elapsed() >= UNTIL_DISK) {
            let dirty = open.values_mut().filter_map(Open::taken_to_the_disk);
            // The other thread ends with this one.
            dirty.for_each(|file| drop(to_disk.send(file)));
            dirty_since = None;
        }
    }
}

/// Another thread, which waits for the disk in the place of the one that writes.
fn syncing() -> Sender<File> {
    let (sender, files) = channel::<File>();
    std::thread::spawn(move || files.iter().for_each(|file| drop(file.sync_data())));
    sender
}

fn carry_out(order: Order, open: &mut HashMap<u64, Open>) {
    match order {
        Order::Begin { id, path, base } => {
            let file = begun(&path, &base).ok();
            open.insert(id, Open { path, file, base, has_base: false, whole: None, is_dirty: false });
        }
        Order::Change { id, bytes } => open.get_mut(&id).into_iter().for_each(|journal| journal.change(&bytes)),
        Order::Whole { id, text } => {
            open.get_mut(&id).into_iter().for_each(|journal| journal.whole = Some(text.clone()));
        }
        Order::Restart { id, base } => {
            if let Some(journal) = open.get_mut(&id) {
                journal.whole = None;
                journal.base = base;
                journal.has_base = false;
                journal.anew(&[]);
            }
        }
        Order::TakeOver { id, left } => {
            if open.get_mut(&id).is_some_and(Open::is_on_the_disk) {
                left.drop_it();
            }
        }
        Order::End { id } => {
            if let Some(journal) = open.remove(&id) {
                let _ = fs::remove_file(&journal.path);
            }
        }
        Order::Flush(_) => {}
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

    /// Begins the file anew, with `content` behind the header: the old one stands until the new one is whole.
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
                // What comes next belongs behind `content`: behind what is there it would make another text.
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
