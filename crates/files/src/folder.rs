//! The files of a folder, those left out that its ignore files name; found on a thread of their own.

use crate::errand::Errand;
use crate::load::Go;
use ignore::WalkBuilder;
use std::ffi::OsStr;
use std::os::unix::ffi::OsStrExt;
use std::path::{Path, PathBuf};
use std::time::Duration;

/// Which files are wanted.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Which {
    /// Those that no ignore file names, and that do not begin with a dot.
    #[default]
    Usual,
    /// All of them, but for the insides of `.git`.
    All,
}

/// Files handed on in one go.
const BATCH: usize = 1_024;

/// A walk through a folder under way. Dropping it stops it.
#[derive(Debug)]
pub struct FileWalk {
    found: Errand<Vec<PathBuf>>,
}

impl FileWalk {
    /// Begins to gather the files below `folder`, in the order of their names; at most `limit`. `wake` is called when there
    /// are more.
    #[must_use]
    pub fn start(folder: &Path, which: Which, limit: usize, wake: impl Fn() + Send + 'static) -> FileWalk {
        let folder = folder.to_owned();
        let work = move |tell: &mut dyn FnMut(Vec<PathBuf>) -> Go| {
            let mut batch = Vec::new();
            for entry in walk(&folder, which).build().filter_map(Result::ok).filter(is_file).take(limit) {
                batch.extend(below(&folder, entry.path()).map(Path::to_owned));
                if batch.len() >= BATCH && tell(std::mem::take(&mut batch)) == Go::Stop {
                    return;
                }
            }
            tell(batch);
        };
        FileWalk { found: Errand::start(work, wake) }
    }

    /// The files that were found meanwhile, and whether those were all. Waits for all of them for a while, no longer.
    #[must_use]
    pub fn gather(&self, patience: Duration) -> (Vec<PathBuf>, bool) {
        let (batches, is_over) = self.found.gather(patience);
        (batches.into_iter().flatten().collect(), is_over)
    }
}

fn walk(folder: &Path, which: Which) -> WalkBuilder {
    let mut walk = WalkBuilder::new(folder);
    walk.sort_by_file_name(Ord::cmp);
    if which == Which::All {
        walk.standard_filters(false).filter_entry(|entry| entry.file_name() != ".git");
    }
    walk
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
        let (files, is_over) = FileWalk::start(folder, which, limit, || ()).gather(Duration::from_secs(20));
        assert!(is_over);
        files
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
