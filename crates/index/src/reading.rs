//! Looking through the files of a project: what is new or another file than was kept is read and parsed, by two threads.

use crate::definitions::{Definition, definitions};
use crate::store::FileStamp;
use snarvel_files::folder::each_file;
use snarvel_files::search::{language_of, text_at};
use snarvel_syntax::names::Namer;
use snarvel_task::Cancel;
use std::path::{Path, PathBuf};
use std::sync::mpsc::{Receiver, sync_channel};
use std::sync::{Mutex, PoisonError};
use std::time::Duration;

/// Larger files are passed over, in bytes: most often a program has written them.
pub const LARGEST_FILE: u64 = 1 << 20;

/// So many files are looked at.
pub const MOST_FILES: usize = 200_000;

/// A file is parsed for so long at most.
pub const PARSE_LIMIT: Duration = Duration::from_secs(2);

/// Files that are read ahead of what is put in.
pub const AHEAD: usize = 256;

/// What a file defines.
#[derive(Debug)]
pub struct FileRead {
    /// The file, from the folder of the project.
    pub path: PathBuf,
    /// What it looked like.
    pub stamp: FileStamp,
    /// What it defines.
    pub definitions: Vec<Definition>,
}

/// Something of the walk through the files.
#[derive(Debug)]
pub enum Seen {
    /// A file was read.
    Read(Box<FileRead>),
    /// A file is there as it was kept.
    Same(PathBuf),
    /// All files were looked at.
    All,
}

/// What a file looks like.
#[must_use]
pub fn stamp_of(about: &std::fs::Metadata) -> FileStamp {
    use std::os::unix::fs::MetadataExt;
    FileStamp {
        size: about.len(),
        time: about.mtime().saturating_mul(1_000_000_000).saturating_add(about.mtime_nsec()),
    }
}

/// What the file at `path` defines; it is told as `own`.
pub fn read(namer: &mut Namer, path: &Path, own: PathBuf, stamp: FileStamp) -> FileRead {
    let definitions = text_at(path).map_or_else(Vec::new, |text| {
        let language = language_of(path, &text);
        definitions(namer, (&language, &text), PARSE_LIMIT)
    });
    FileRead { path: own, stamp, definitions }
}

/// From now on the thread gets what others leave of the processor: the text that a person looks at is parsed first. Where the system
/// has no priorities of threads nothing changes.
fn step_back() {
    #[cfg(target_os = "linux")]
    // Refused only where a sandbox forbids it.
    let _ = rustix::process::setpriority_process(None, 10);
}

/// Walks through the folder; two threads read what is new.
pub fn look_at_all(
    folder: &Path,
    is_known: &(dyn Fn(&Path, FileStamp) -> bool + Sync),
    (tell, credits): (&(dyn Fn(Seen) -> bool + Sync), Receiver<()>),
    cancel: &Cancel,
) {
    let (paths, to_read) = sync_channel::<(PathBuf, PathBuf, FileStamp)>(AHEAD);
    let to_read = Mutex::new(to_read);
    let credits = Mutex::new(credits);
    std::thread::scope(|threads| {
        for _ in 0..2 {
            let (to_read, credits) = (&to_read, &credits);
            threads.spawn(move || {
                step_back();
                let mut namer = Namer::default();
                loop {
                    let next = to_read.lock().unwrap_or_else(PoisonError::into_inner).recv();
                    let Some((path, own, stamp)) = next.ok().filter(|_| !cancel.is_cancelled()) else { return };
                    let file = read(&mut namer, &path, own, stamp);
                    let may_send = credits.lock().unwrap_or_else(PoisonError::into_inner).recv();
                    if may_send.is_err() || !tell(Seen::Read(Box::new(file))) {
                        return;
                    }
                }
            });
        }
        let mut count = 0;
        each_file(folder, &mut |own, about| {
            count += 1;
            if about.len() > LARGEST_FILE {
                return count < MOST_FILES && !cancel.is_cancelled();
            }
            let stamp = stamp_of(about);
            let sent = match is_known(own, stamp) {
                true => tell(Seen::Same(own.to_owned())),
                false => paths.send((folder.join(own), own.to_owned(), stamp)).is_ok(),
            };
            sent && count < MOST_FILES && !cancel.is_cancelled()
        });
        drop(paths);
    });
    tell(Seen::All);
}
