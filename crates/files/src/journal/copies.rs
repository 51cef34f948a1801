//! Copies of files that are being written in place: journals that hold nothing but the file as it was. They are there before the
//! first byte of the file is written, and are found and offered like other work where a kill left them.

use super::base::{prefix_of, process_name};
use super::record::{self, Header};
use crate::load::decode;
use crate::stamp::unforeseen_number;
use std::fs::{self, File};
use std::io::{self, Write};
use std::os::unix::fs::{DirBuilderExt, OpenOptionsExt};
use std::path::{Path, PathBuf};

/// What the names of copies have that those of other journals have not.
const COPY: &str = "-copy-";

/// A copy on the disk. While it is held, no other program takes it for what a crash left.
#[derive(Debug)]
pub struct FileCopy {
    /// Where it is.
    pub path: PathBuf,
    _lock: Option<File>,
}

impl FileCopy {
    /// A copy that no program looks for.
    #[must_use]
    pub fn at(path: PathBuf) -> FileCopy {
        FileCopy { path, _lock: None }
    }
}

/// Keeps `bytes`, what the file at `path` holds, among the journals in `folder`. It is on the disk then.
///
/// # Errors
/// What the system says; then nothing is left.
pub fn keep(folder: &Path, path: &Path, bytes: &[u8]) -> io::Result<FileCopy> {
    fs::DirBuilder::new().recursive(true).mode(0o700).create(folder)?;
    let number = unforeseen_number();
    let name = format!("{}{}{COPY}{number:016x}.journal", prefix_of(path), process_name());
    let copy = folder.join(name);
    let mut file = File::options().write(true).create_new(true).mode(0o600).open(&copy)?;
    // Where a file system knows no locks, a live program cannot be told from a dead one.
    let _ = file.try_lock();
    let written = file
        .write_all(&record::header(&Header::new(path, None)))
        .and_then(|()| file.write_all(&record::whole(&decode(bytes).0)))
        .and_then(|()| file.sync_all())
        .and_then(|()| File::open(folder)?.sync_all());
    match written {
        Ok(()) => Ok(FileCopy { path: copy, _lock: Some(file) }),
        Err(error) => {
            let _ = fs::remove_file(&copy);
            Err(error)
        }
    }
}

/// Whether the journal at `path` is such a copy.
pub(super) fn is_copy(path: &Path) -> bool {
    path.file_name().is_some_and(|name| name.to_string_lossy().contains(COPY))
}
