//! The world outside: files that other programs change, replace or delete while they are open here.
//!
//! A thread is told by the system what happens in their folders, looks, reads what has changed, and says so; it looks at all
//! of them when it is asked, too. Nothing here waits for a disk.

use crate::load::{Loaded, load};
use crate::stamp::Stamp;
use notify::{RecommendedWatcher, RecursiveMode, Watcher};
use snarvel_task::{Report, Worker};
use std::collections::{HashMap, HashSet};
use std::path::{Path, PathBuf};
use std::sync::mpsc::{Sender, channel};

/// What another program has done to a file.
#[derive(Debug)]
pub enum DiskStatus {
    /// It holds something else, or was written again.
    Changed(Box<Loaded>, Stamp),
    /// It is gone.
    Gone,
}

/// A file that another program has changed.
#[derive(Debug)]
pub struct DiskNews {
    /// Which file.
    pub path: PathBuf,
    /// What has become of it.
    pub status: DiskStatus,
}

#[derive(Debug)]
enum WatchOrder {
    Know(PathBuf, Option<Stamp>),
    Forget(PathBuf),
    Look,
    Happened(Vec<PathBuf>),
}

/// Watches files.
#[derive(Debug)]
pub struct Watch {
    worker: Worker<WatchOrder>,
}

impl Watch {
    /// Watches no file yet; what happens is reported to `sink`.
    pub fn start(sink: impl Fn(Report<DiskNews>) + Send + 'static) -> Watch {
        let (inbox, orders) = channel::<Sender<WatchOrder>>();
        let worker = Worker::start(sink, move |to_do, context| {
            let Ok(happened) = orders.recv() else { return };
            let told = move |event: notify::Result<notify::Event>| {
                if let Ok(event) = event
                    && !matches!(event.kind, notify::EventKind::Access(_))
                {
                    // The worker ends with the program only.
                    let _ = happened.send(WatchOrder::Happened(event.paths));
                }
            };
            // Where the system cannot tell, files are still looked at when the program asks.
            let watcher = notify::recommended_watcher(told).ok();
            let mut known = Known { files: HashMap::new(), folders: HashSet::new(), watcher };
            to_do.iter().flat_map(|order| known.carry_out(order)).for_each(|news| context.send(news));
        });
        // The worker takes its own inbox for what the system tells.
        let _ = inbox.send(worker.inbox());
        Watch { worker }
    }

    /// The file at `path` looks so, as far as is known here.
    pub fn know(&self, path: &Path, stamp: Option<Stamp>) {
        self.worker.give(WatchOrder::Know(path.to_owned(), stamp));
    }

    /// The file at `path` is of no interest any more.
    pub fn forget(&self, path: &Path) {
        self.worker.give(WatchOrder::Forget(path.to_owned()));
    }

    /// Looks at all files.
    pub fn look(&self) {
        self.worker.give(WatchOrder::Look);
    }
}

struct Known {
    files: HashMap<PathBuf, Option<Stamp>>,
    folders: HashSet<PathBuf>,
    watcher: Option<RecommendedWatcher>,
}

impl Known {
    fn carry_out(&mut self, order: WatchOrder) -> Vec<DiskNews> {
        match order {
            WatchOrder::Know(path, stamp) => {
                let folder = path.parent().unwrap_or(&path).to_owned();
                if let Some(watcher) = self.watcher.as_mut().filter(|_| self.folders.insert(folder.clone())) {
                    let _ = watcher.watch(&folder, RecursiveMode::NonRecursive);
                }
                self.files.insert(path, stamp);
                Vec::new()
            }
            WatchOrder::Forget(path) => {
                self.files.remove(&path);
                Vec::new()
            }
            WatchOrder::Look => {
                let all: Vec<PathBuf> = self.files.keys().cloned().collect();
                all.iter().filter_map(|path| self.look_at(path)).collect()
            }
            WatchOrder::Happened(paths) => paths.iter().filter_map(|path| self.look_at(path)).collect(),
        }
    }

    fn look_at(&mut self, path: &Path) -> Option<DiskNews> {
        let known = self.files.get_mut(path)?;
        let now = Stamp::of(path);
        if now == *known {
            return None;
        }
        let status = match now {
            None => DiskStatus::Gone,
            Some(stamp) => DiskStatus::Changed(Box::new(load(path).ok().flatten()?), stamp),
        };
        *known = now;
        Some(DiskNews { path: path.to_owned(), status })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::time::Duration;

    #[test]
    fn a_file_that_is_written_replaced_or_deleted_is_told_of() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("tides.py");
        std::fs::write(&path, "ebb").unwrap();
        let (sender, told) = channel();
        let watch = Watch::start(move |report| drop(sender.send(report)));
        watch.know(&path, Stamp::of(&path));
        let next = |what: &dyn Fn()| {
            what();
            watch.look();
            match told.recv_timeout(Duration::from_secs(20)) {
                Ok(Report::News(news)) => news.status,
                other => panic!("{other:?}"),
            }
        };
        let status = next(&|| std::fs::write(&path, "flows").unwrap());
        assert!(matches!(status, DiskStatus::Changed(loaded, _) if loaded.text.to_string() == "flows"));
        let other = folder.path().join("other");
        std::fs::write(&other, "slack").unwrap();
        let status = next(&|| std::fs::rename(&other, &path).unwrap());
        assert!(matches!(status, DiskStatus::Changed(loaded, _) if loaded.text.to_string() == "slack"));
        assert!(matches!(next(&|| std::fs::remove_file(&path).unwrap()), DiskStatus::Gone));
        assert!(told.try_recv().is_err());
    }
}
