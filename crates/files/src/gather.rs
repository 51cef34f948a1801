//! The files that a list of names means: files as they are named, and what is in folders.

use crate::reading;
use crate::walks::{Which, walk};
use std::collections::HashSet;
use std::fs;
use std::io;
use std::path::{Path, PathBuf};

/// A file that was gathered.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Gathered {
    /// Its name: as it was given, or the folder's as it was given and the way from there.
    pub path: PathBuf,
    /// Whether it was given itself, or found in a folder.
    pub how: How,
}

/// How a file was gathered.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum How {
    /// It was named itself: it is wanted whatever it is.
    Named,
    /// It was found in a folder: what is binary is not wanted.
    Found,
}

/// The files that `names` mean, in their order, those of a folder in the order of their names. In folders, hidden files, links,
/// and what `.gitignore` (also outside of a repository) and `.ignore` name are passed over. A file that is reached twice is there once.
/// What cannot be read is told by `refuse`, and all else goes on.
pub fn gather(names: &[PathBuf], refuse: &mut dyn FnMut(&Path, io::Error)) -> Vec<Gathered> {
    let (mut files, mut seen) = (Vec::new(), HashSet::new());
    for name in names {
        match fs::metadata(name) {
            Err(error) => refuse(name, error),
            Ok(about) if about.is_dir() => {
                for entry in walk(name, Which::Usual).require_git(false).build() {
                    match entry {
                        Ok(entry) if entry.file_type().is_some_and(|kind| kind.is_file()) => {
                            let path = entry.into_path();
                            let path = path.strip_prefix("./").map_or_else(|_| path.clone(), Path::to_owned);
                            if seen.insert(whole(&path)) {
                                files.push(Gathered { path, how: How::Found });
                            }
                        }
                        Ok(_) => {}
                        Err(error) => refuse(
                            name,
                            error.into_io_error().unwrap_or_else(|| io::Error::other("it cannot be walked through")),
                        ),
                    }
                }
            }
            Ok(_) => {
                if seen.insert(whole(name)) {
                    files.push(Gathered { path: name.clone(), how: How::Named });
                }
            }
        }
    }
    files
}

/// The path without links in it.
fn whole(path: &Path) -> PathBuf {
    fs::canonicalize(path).unwrap_or_else(|_| path.to_owned())
}

/// Whether the file at `path` is binary: it holds a NUL byte near its start, and is no UTF-16.
///
/// # Errors
/// It cannot be read.
pub fn is_binary(path: &Path) -> io::Result<bool> {
    use std::io::Read;
    let mut start = Vec::new();
    reading::open(path)?.take(BINARY_LOOK as u64).read_to_end(&mut start)?;
    Ok(looks_binary(&start))
}

/// A file that holds a NUL byte so near its start is binary.
const BINARY_LOOK: usize = 8 << 10;

/// Whether a file that begins with `bytes` is UTF-16.
pub(crate) fn is_wide(bytes: &[u8]) -> bool {
    bytes.starts_with(&[0xFF, 0xFE]) || bytes.starts_with(&[0xFE, 0xFF])
}

/// Whether a file that begins with `bytes` is binary.
pub(crate) fn looks_binary(bytes: &[u8]) -> bool {
    !is_wide(bytes) && memchr::memchr(0, &bytes[..bytes.len().min(BINARY_LOOK)]).is_some()
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::os::unix::fs::symlink;

    #[test]
    fn folders_give_what_is_not_ignored_and_names_give_anything_once() {
        let folder = tempfile::tempdir().unwrap();
        let at = |name: &str| folder.path().join(name);
        fs::create_dir(at("sub")).unwrap();
        for (name, text) in [
            ("b.rs", "tide"),
            ("a.rs", "tide"),
            (".hidden.rs", "tide"),
            ("sub/log.txt", "tide"),
            ("sub/kept.txt", "tide"),
            (".gitignore", "log.txt\n"),
        ] {
            fs::write(at(name), text).unwrap();
        }
        symlink(at("a.rs"), at("link.rs")).unwrap();
        let mut refused = Vec::new();
        let mut names = |list: &[PathBuf]| {
            let files = gather(list, &mut |path, _| refused.push(path.to_owned()));
            let short = |file: Gathered| (file.path.strip_prefix(folder.path()).unwrap().to_owned(), file.how);
            files.into_iter().map(short).collect::<Vec<_>>()
        };
        let found = |name: &str| (PathBuf::from(name), How::Found);
        let named = |name: &str| (PathBuf::from(name), How::Named);
        assert_eq!(names(&[folder.path().to_owned()]), [found("a.rs"), found("b.rs"), found("sub/kept.txt")]);
        // The link is another name of a file that was reached.
        let list = ["b.rs", ".hidden.rs", "link.rs", "", "sub/log.txt", "gone"].map(at);
        assert_eq!(
            names(&list),
            [named("b.rs"), named(".hidden.rs"), named("link.rs"), found("sub/kept.txt"), named("sub/log.txt")]
        );
        assert_eq!(refused, [at("gone")]);
    }

    #[test]
    fn what_holds_a_zero_near_its_start_is_binary() {
        assert!(looks_binary(b"ab\0c") && !looks_binary(b"abc") && !looks_binary(&[0xFF, 0xFE, b'a', 0]));
    }
}
