//! Watching the files of a whole project: which ones were made, written or taken away, also those that are not open.
//!
//! Only folders that a walk goes into are watched: what ignore files name is left alone. Where the system cannot watch that much,
//! what it can is watched.

use crate::walks::{Which, walk};
use notify::{RecommendedWatcher, RecursiveMode, Watcher};
use std::path::{Path, PathBuf};
use std::sync::mpsc::channel;

/// The most folders that are watched: each takes a little of what the system has for all programs.
const MOST_FOLDERS: usize = 20_000;

/// Watches until it is dropped.
#[derive(Debug)]
pub struct TreeWatch {
    _watcher: RecommendedWatcher,
}

/// Begins to watch the files below `folder`; those that others change are told to `changed`. None where the system cannot watch.
/// It takes as long as a walk through the folders: not for a thread that keys wait for.
pub fn watch_tree(folder: &Path, changed: impl Fn(Vec<PathBuf>) + Send + 'static) -> Option<TreeWatch> {
    let (made, new_folders) = channel::<PathBuf>();
    let told = move |event: notify::Result<notify::Event>| {
        let Ok(event) = event else { return };
        if matches!(event.kind, notify::EventKind::Access(_)) {
            return;
        }
        for path in event.paths.iter().filter(|path| path.is_dir()) {
            // Whoever would watch it may be gone.
            let _ = made.send(path.clone());
        }
        changed(event.paths);
    };
    let mut watcher = notify::recommended_watcher(told).ok()?;
    let folders = walk(folder, Which::Usual).build().filter_map(Result::ok);
    let folders = folders.filter(|entry| entry.file_type().is_some_and(|kind| kind.is_dir()));
    let mut is_watched = false;
    for entry in folders.take(MOST_FOLDERS) {
        is_watched |= watcher.watch(entry.path(), RecursiveMode::NonRecursive).is_ok();
    }
    // What was made meanwhile.
    for path in new_folders.try_iter() {
        let _ = watcher.watch(&path, RecursiveMode::NonRecursive);
    }
    is_watched.then_some(TreeWatch { _watcher: watcher })
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::time::Duration;

    #[test]
    fn what_is_written_anywhere_but_in_ignored_folders_is_told() {
        let folder = tempfile::tempdir().unwrap();
        let at = |name: &str| folder.path().join(name);
        for name in [".git", "a/b", "ignored"] {
            std::fs::create_dir_all(at(name)).unwrap();
        }
        std::fs::write(at(".gitignore"), "ignored\n").unwrap();
        let (sender, told) = channel();
        let watch = watch_tree(folder.path(), move |paths| drop(sender.send(paths)));
        assert!(watch.is_some());
        std::fs::write(at("ignored/x.py"), "ebb").unwrap();
        std::fs::write(at("a/b/tides.py"), "ebb").unwrap();
        let all: Vec<PathBuf> = told.recv_timeout(Duration::from_secs(20)).unwrap();
        assert!(all.contains(&at("a/b/tides.py")), "{all:?}");
    }
}
