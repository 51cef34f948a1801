//! The files of a folder, without those that its ignore files name; found in the background.

pub use crate::walks::Which;
use crate::walks::walk;
use snarvel_task::{Report, Task};
use std::ffi::OsStr;
use std::os::unix::ffi::OsStrExt;
use std::path::{Path, PathBuf};

/// Files reported in one go.
const BATCH: usize = 1_024;

/// Begins to report the files below `folder`, in the order of their names, as paths from there; at most `limit`.
pub fn walk_in_background(
    folder: &Path,
    which: Which,
    limit: usize,
    sink: impl Fn(Report<Vec<PathBuf>>) + Send + 'static,
) -> Task {
    let folder = folder.to_owned();
    snarvel_task::spawn(sink, move |context| {
        let mut batch = Vec::new();
        for entry in walk(&folder, which).build().filter_map(Result::ok).filter(is_file).take(limit) {
            batch.extend(below(&folder, entry.path()).map(Path::to_owned));
            if batch.len() >= BATCH {
                context.send(std::mem::take(&mut batch));
            }
            if context.is_cancelled() {
                return;
            }
        }
        context.send(batch);
    })
}

/// Gives each usual file below `folder`, as a path from there, with what the system says of it, to `see`, in the order of their names, as
/// long as that says true.
pub fn each_file(folder: &Path, see: &mut dyn FnMut(&Path, &std::fs::Metadata) -> bool) {
    for entry in walk(folder, Which::Usual).build().filter_map(Result::ok).filter(is_file) {
        let (Some(own), Ok(about)) = (below(folder, entry.path()), entry.metadata()) else { continue };
        if !see(own, &about) {
            return;
        }
    }
}

/// `path` from `folder` on, by whose bytes it begins: comparing them part by part would take a fifth of the walk.
fn below<'p>(folder: &Path, path: &'p Path) -> Option<&'p Path> {
    let rest = path.as_os_str().as_bytes().strip_prefix(folder.as_os_str().as_bytes())?;
    let rest = rest.strip_prefix(b"/").unwrap_or(rest);
    Some(Path::new(OsStr::from_bytes(rest)))
}

fn is_file(entry: &ignore::DirEntry) -> bool {
    entry.file_type().is_some_and(|kind| kind.is_file())
}

/// Something in a folder.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Entry {
    /// Its path.
    pub path: PathBuf,
    /// Whether it is a folder.
    pub is_folder: bool,
}

/// What lies directly in `folder`, folders first.
#[must_use]
pub fn inside(folder: &Path, which: Which) -> Vec<Entry> {
    let entries =
        walk(folder, which).max_depth(Some(1)).build().filter_map(Result::ok).filter(|each| each.depth() == 1);
    let mut found: Vec<Entry> =
        entries.map(|each| Entry { is_folder: each.path().is_dir(), path: each.into_path() }).collect();
    found.sort_by_key(|entry| !entry.is_folder);
    found
}

#[cfg(test)]
mod tests {
    use super::*;

    fn all(folder: &Path, which: Which, limit: usize) -> Vec<PathBuf> {
        let (sender, told) = std::sync::mpsc::channel();
        let _task = walk_in_background(folder, which, limit, move |report| drop(sender.send(report)));
        let batches = told.iter().take_while(|report| *report != Report::Done);
        let batch = |report: Report<Vec<PathBuf>>| if let Report::News(batch) = report { batch } else { Vec::new() };
        batches.flat_map(batch).collect()
    }

    #[test]
    fn ignored_files_are_left_out_unless_all_are_wanted() {
        let folder = tempfile::tempdir().unwrap();
        std::fs::create_dir_all(folder.path().join(".git/info")).unwrap();
        std::fs::create_dir(folder.path().join("a")).unwrap();
        for (name, content) in [(".gitignore", "*.log\n"), ("tides.py", ""), ("tides.log", ""), ("a/buoys.lua", "")] {
            std::fs::write(folder.path().join(name), content).unwrap();
        }
        assert_eq!(all(folder.path(), Which::Usual, 10), ["a/buoys.lua", "tides.py"].map(PathBuf::from));
        let every = [".gitignore", "a/buoys.lua", "tides.log", "tides.py"].map(PathBuf::from);
        assert_eq!(all(folder.path(), Which::All, 10), every);
        assert_eq!(all(folder.path(), Which::Usual, 0).len(), 0);
        let with_slash = format!("{}/", folder.path().display());
        assert_eq!(all(Path::new(&with_slash), Which::All, 10), every);
        let names = |which| {
            let name = |entry: Entry| (entry.path.file_name().unwrap().to_string_lossy().into_owned(), entry.is_folder);
            inside(folder.path(), which).into_iter().map(name).collect::<Vec<_>>()
        };
        assert_eq!(names(Which::Usual), [("a".to_owned(), true), ("tides.py".to_owned(), false)]);
        assert_eq!(names(Which::All).len(), 4);
    }
}
