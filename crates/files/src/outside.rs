//! The world outside: files that other programs change, replace or delete while they are open here.
//!
//! A thread is told by the system what happens in their folders, looks, reads what has changed, and says so; it looks at all
//! of them when it is asked, too. Nothing here waits for a disk.

use crate::load::{Loaded, load};
use crate::stamp::Stamp;
use notify::{RecommendedWatcher, RecursiveMode, Watcher};
use std::collections::{HashMap, HashSet};
use std::path::{Path, PathBuf};
use std::sync::mpsc::{Receiver, Sender, channel};
use std::thread;

/// What has become of a file.
#[derive(Debug)]
pub enum Fate {
    /// It holds something else, or was written again.
    Changed(Box<Loaded>, Stamp),
    /// It is gone.
    Gone,
}

/// A file that somebody else has changed.
#[derive(Debug)]
pub struct News {
    /// Which file.
    pub path: PathBuf,
    /// What has become of it.
    pub fate: Fate,
}

enum Order {
    Know(PathBuf, Option<Stamp>),
    Forget(PathBuf),
    Look,
    Happened(Vec<PathBuf>),
}

/// Watches files.
#[derive(Debug)]
pub struct Watch {
    orders: Sender<Order>,
    news: Receiver<News>,
}

impl Watch {
    /// Watches no file yet; `wake` is called when there is news.
    pub fn start(wake: impl Fn() + Send + 'static) -> Watch {
        let (orders, to_do) = channel();
        let (tell, news) = channel();
        let happened = orders.clone();
        thread::spawn(move || {
            let told = move |event: notify::Result<notify::Event>| {
                if let Ok(event) = event
                    && !matches!(event.kind, notify::EventKind::Access(_))
                {
                    // The thread that looks ends with the program only.
                    let _ = happened.send(Order::Happened(event.paths));
                }
            };
            // Where the system cannot tell, files are still looked at when somebody asks.
            let watcher = notify::recommended_watcher(told).ok();
            let mut known = Known { files: HashMap::new(), folders: HashSet::new(), watcher };
            for order in &to_do {
                for news in known.carry_out(order) {
                    if tell.send(news).is_err() {
                        return;
                    }
                    wake();
                }
            }
        });
        Watch { orders, news }
    }

    fn send(&self, order: Order) {
        let _ = self.orders.send(order);
    }

    /// The file at `path` looks so, as far as is known here.
    pub fn know(&self, path: &Path, stamp: Option<Stamp>) {
        self.send(Order::Know(path.to_owned(), stamp));
    }

    /// The file at `path` is of no interest any more.
    pub fn forget(&self, path: &Path) {
        self.send(Order::Forget(path.to_owned()));
    }

    /// Looks at all files.
    pub fn look(&self) {
        self.send(Order::Look);
    }

    /// What has happened meanwhile.
    pub fn gather(&self) -> Vec<News> {
        self.news.try_iter().collect()
    }
}

struct Known {
    files: HashMap<PathBuf, Option<Stamp>>,
    folders: HashSet<PathBuf>,
    watcher: Option<RecommendedWatcher>,
}

impl Known {
    fn carry_out(&mut self, order: Order) -> Vec<News> {
        match order {
            Order::Know(path, stamp) => {
                let folder = path.parent().unwrap_or(&path).to_owned();
                if let Some(watcher) = self.watcher.as_mut().filter(|_| self.folders.insert(folder.clone())) {
                    let _ = watcher.watch(&folder, RecursiveMode::NonRecursive);
                }
                self.files.insert(path, stamp);
                Vec::new()
            }
            Order::Forget(path) => {
                self.files.remove(&path);
                Vec::new()
            }
            Order::Look => {
                let all: Vec<PathBuf> = self.files.keys().cloned().collect();
                all.iter().filter_map(|path| self.look_at(path)).collect()
            }
            Order::Happened(paths) => paths.iter().filter_map(|path| self.look_at(path)).collect(),
        }
    }

    fn look_at(&mut self, path: &Path) -> Option<News> {
        let known = self.files.get_mut(path)?;
        let now = Stamp::of(path);
        if now == *known {
            return None;
        }
        let fate = match now {
            None => Fate::Gone,
            Some(stamp) => Fate::Changed(Box::new(load(path).ok().flatten()?), stamp),
        };
        *known = now;
        Some(News { path: path.to_owned(), fate })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::sync::mpsc::channel;
    use std::time::Duration;

    #[test]
    fn a_file_that_is_written_replaced_or_deleted_is_told_of() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("tides.py");
        std::fs::write(&path, "ebb").unwrap();
        let (wake, woken) = channel();
        let watch = Watch::start(move || wake.send(()).unwrap_or(()));
        watch.know(&path, Stamp::of(&path));
        let next = |what: &dyn Fn()| {
            what();
            watch.look();
            woken.recv_timeout(Duration::from_secs(20)).unwrap();
            watch.gather().pop().unwrap().fate
        };
        let fate = next(&|| std::fs::write(&path, "flows").unwrap());
        assert!(matches!(fate, Fate::Changed(loaded, _) if loaded.text.to_string() == "flows"));
        let other = folder.path().join("other");
        std::fs::write(&other, "slack").unwrap();
        let fate = next(&|| std::fs::rename(&other, &path).unwrap());
        assert!(matches!(fate, Fate::Changed(loaded, _) if loaded.text.to_string() == "slack"));
        assert!(matches!(next(&|| std::fs::remove_file(&path).unwrap()), Fate::Gone));
        assert!(watch.gather().is_empty());
    }
}
