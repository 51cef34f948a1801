//! Saving: to a temporary file beside, flushed to the disk, renamed over the old one, the folder flushed.
//!
//! A link is followed and stays one; owner, mode, access control lists and extended attributes are kept. Where a rename could not
//! keep what the file is (hard links, no rights in the folder), it is written in place, with a copy of the old bytes aside.
//!
//! Others may have rights in the folder: all that is done to the new file is done to what was opened, never to its name.

use crate::FileError;
use crate::attributes;
use crate::journal::copies::{self, FileCopy};
use crate::links::{folder_of, link_target};
use crate::reading;
use crate::stamp::{Stamp, unforeseen_number};
use std::fmt;
use std::fs::{self, File, Metadata, OpenOptions};
use std::io::{self, Read, Write};
use std::os::unix::fs::{MetadataExt, OpenOptionsExt};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// How a file was written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Written {
    /// By renaming a whole new file over the old one.
    Renamed,
    /// In place.
    InPlace,
}

/// Whether the rights of a file are minded.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Rights {
    /// A file that is protected is not written.
    Minded,
    /// It is, as far as the system lets its owner.
    Passed,
}

/// What a save asks of the system, one call a step, so that each can be made to fail.
pub trait FileLayer: fmt::Debug {
    /// Makes a file beside `target` with `bytes`, flushed to the disk, its owner, attributes and mode as `old` has them, and the
    /// usual ones where there is no old file.
    ///
    /// # Errors
    /// What the system says; then nothing is left beside. [`io::ErrorKind::PermissionDenied`] where something of the old file
    /// cannot be kept.
    fn write_beside(&self, target: &Path, bytes: &[u8], old: Option<&Metadata>) -> io::Result<Fresh> {
        let (fresh, file) = Fresh::create(folder_of(target), old.is_some())?;
        let written = fill(&file, bytes).and_then(|()| match old {
            Some(old) => attributes::keep(&file, old, target),
            None => Ok(()),
        });
        match written.and_then(|()| file.sync_all()) {
            Ok(()) => Ok(fresh),
            Err(error) => {
                self.clear_away(&fresh.path);
                Err(error)
            }
        }
    }

    /// Puts `fresh` in the place of `target`.
    ///
    /// # Errors
    /// What the system says, and that another file is there under the name of `fresh` now.
    fn replace(&self, fresh: &Fresh, target: &Path) -> io::Result<()> {
        fresh.check(&fresh.path)?;
        fs::rename(&fresh.path, target)?;
        fresh.check(target)
    }

    /// Flushes the folder of `target` to the disk.
    ///
    /// # Errors
    /// What the system says.
    fn flush_folder(&self, target: &Path) -> io::Result<()> {
        File::open(folder_of(target))?.sync_all()
    }

    /// The folder of journals, in which copies are found at the next start; none where there is none.
    fn journals(&self) -> Option<&Path> {
        None
    }

    /// Keeps `bytes`, what the file at `path` holds, aside, flushed to the disk.
    ///
    /// # Errors
    /// What the system says; then nothing is left.
    fn back_up(&self, path: &Path, bytes: &[u8]) -> io::Result<FileCopy> {
        if let Some(folder) = self.journals() {
            return copies::keep(folder, path, bytes);
        }
        let mut backup = tempfile::Builder::new().prefix("snarvel-backup-").tempfile()?;
        backup.write_all(bytes)?;
        backup.as_file().sync_all()?;
        backup.into_temp_path().keep().map(FileCopy::at).map_err(|error| error.error)
    }

    /// Writes `bytes` over what `target` holds.
    ///
    /// # Errors
    /// What the system says; the file may hold a part of them then.
    fn overwrite(&self, target: &Path, bytes: &[u8]) -> io::Result<()> {
        let mut file = OpenOptions::new().write(true).open(target)?;
        file.write_all(bytes)?;
        file.set_len(bytes.len() as u64)?;
        file.sync_all()
    }

    /// Removes a file of ours.
    fn clear_away(&self, path: &Path) {
        let _ = fs::remove_file(path);
    }
}

/// A new file beside another one, which is to come in its place.
#[derive(Debug)]
pub struct Fresh {
    path: PathBuf,
    /// Its file system and its number there: which file it is, whatever is under its name.
    identity: (u64, u64),
}

/// Names that are tried for a new file before that is given up.
const MOST_NAMES: u32 = 100;

impl Fresh {
    /// Makes an empty file in `folder` that was not there. Where it is to replace one, only its owner may read it until it has
    /// the old one's rights; another one has the rights that the system gives new files.
    fn create(folder: &Path, replaces: bool) -> io::Result<(Fresh, File)> {
        let mode = if replaces { 0o600 } else { 0o666 };
        let mut last = io::Error::from(io::ErrorKind::AlreadyExists);
        for _ in 0..MOST_NAMES {
            let path = folder.join(format!(".snarvel-{:016x}", unforeseen_number()));
            // A name that is there is refused, also where it is a link.
            match File::options().write(true).create_new(true).mode(mode).open(&path) {
                Ok(file) => {
                    let identity = identity_of(&file.metadata()?);
                    return Ok((Fresh { path, identity }, file));
                }
                Err(error) if error.kind() == io::ErrorKind::AlreadyExists => last = error,
                Err(error) => return Err(error),
            }
        }
        Err(last)
    }

    /// Checks that this file is under `path`, and nothing that was put there meanwhile.
    fn check(&self, path: &Path) -> io::Result<()> {
        match fs::symlink_metadata(path).map(|meta| identity_of(&meta)) {
            Ok(identity) if identity == self.identity => Ok(()),
            Ok(_) => Err(io::Error::other("another program has put a file of its own in the place of the new one")),
            Err(error) => Err(error),
        }
    }
}

fn identity_of(meta: &Metadata) -> (u64, u64) {
    (meta.dev(), meta.ino())
}

fn fill(mut file: &File, bytes: &[u8]) -> io::Result<()> {
    file.write_all(bytes)
}

/// The file system.
#[derive(Clone, Debug, Default)]
pub struct Disk {
    journals: Option<PathBuf>,
}

impl Disk {
    /// The file system; copies of files that are written in place are kept among the journals in `folder`.
    #[must_use]
    pub fn with_journals_in(folder: PathBuf) -> Disk {
        Disk { journals: Some(folder) }
    }
}

impl FileLayer for Disk {
    fn journals(&self) -> Option<&Path> {
        self.journals.as_deref()
    }
}

/// A file layer for work in the background.
pub type Layer = Arc<dyn FileLayer + Send + Sync>;

/// Writes `bytes` to the file at `path`, whole or not at all.
///
/// # Errors
/// A folder, a read-only file, or whatever the system says; the old bytes then still are.
pub fn save(path: &Path, bytes: &[u8]) -> Result<Written, FileError> {
    save_by(&Disk::default(), path, bytes, Rights::Minded)
}

/// The same by another file layer, minding rights or not.
///
/// # Errors
/// As [`save`].
pub fn save_by(layer: &dyn FileLayer, path: &Path, bytes: &[u8], rights: Rights) -> Result<Written, FileError> {
    let target = link_target(path);
    let failed = |source| FileError::Write { path: path.to_owned(), source };
    let is_minded = rights == Rights::Minded;
    let old = match fs::metadata(&target) {
        Ok(meta) if meta.is_dir() => return Err(FileError::Folder(path.to_owned())),
        Ok(meta) if is_minded && meta.permissions().readonly() => {
            return Err(FileError::ReadOnly(path.to_owned()));
        }
        Ok(meta) => Some(meta),
        Err(error) if error.kind() == io::ErrorKind::NotFound => None,
        Err(error) => return Err(failed(error)),
    };
    if let Some(meta) = old.as_ref().filter(|_| is_minded) {
        OpenOptions::new().write(true).open(&target).map_err(failed)?;
        if meta.nlink() > 1 {
            return in_place(layer, path, &target, bytes);
        }
    }
    match by_rename(layer, &target, bytes, old.as_ref()) {
        Ok(()) => Ok(Written::Renamed),
        Err(error) if error.kind() == io::ErrorKind::PermissionDenied && old.is_some() => {
            in_place(layer, path, &target, bytes)
        }
        Err(error) => Err(failed(error)),
    }
}

const CHANGED_MEANWHILE: &str = "another program has changed it just now";

fn by_rename(layer: &dyn FileLayer, target: &Path, bytes: &[u8], old: Option<&Metadata>) -> io::Result<()> {
    let fresh = layer.write_beside(target, bytes, old)?;
    // Writing takes a disk its time: what another program wrote meanwhile is not to be lost.
    let is_same = Stamp::of(target) == old.map(Stamp::from);
    let replaced = if is_same { layer.replace(&fresh, target) } else { Err(io::Error::other(CHANGED_MEANWHILE)) };
    if let Err(error) = replaced {
        layer.clear_away(&fresh.path);
        return Err(error);
    }
    // The new bytes are. That the folder's entry is not on the disk yet is nothing to take them back for.
    let _ = layer.flush_folder(target);
    Ok(())
}

fn in_place(layer: &dyn FileLayer, path: &Path, target: &Path, bytes: &[u8]) -> Result<Written, FileError> {
    let failed = |source| FileError::Write { path: path.to_owned(), source };
    let mut old = Vec::new();
    reading::open(target).and_then(|mut file| file.read_to_end(&mut old)).map_err(failed)?;
    let backup = layer.back_up(path, &old).map_err(failed)?;
    if let Err(source) = layer.overwrite(target, bytes) {
        // Back to what was there, if that can be written; the copy stays only where it cannot.
        return match layer.overwrite(target, &old) {
            Ok(()) => {
                layer.clear_away(&backup.path);
                Err(failed(source))
            }
            Err(_) => Err(FileError::Torn { path: path.to_owned(), backup: backup.path, source }),
        };
    }
    layer.clear_away(&backup.path);
    Ok(Written::InPlace)
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::cell::Cell;
    use std::os::unix::fs::{PermissionsExt, symlink};

    fn mode(path: &Path) -> u32 {
        fs::metadata(path).unwrap().permissions().mode() & 0o777
    }

    #[test]
    fn keeps_mode_and_links_and_leaves_nothing_beside() {
        let folder = tempfile::tempdir().unwrap();
        let (file, link) = (folder.path().join("watch.sh"), folder.path().join("link"));
        fs::write(&file, "old").unwrap();
        fs::set_permissions(&file, fs::Permissions::from_mode(0o750)).unwrap();
        symlink("watch.sh", &link).unwrap();
        assert_eq!(save(&link, b"new").unwrap(), Written::Renamed);
        assert_eq!(fs::read(&file).unwrap(), b"new");
        assert_eq!(mode(&file), 0o750);
        assert!(fs::symlink_metadata(&link).unwrap().is_symlink());
        assert_eq!(fs::read_dir(folder.path()).unwrap().count(), 2);
    }

    #[test]
    fn hard_links_stay_one_file() {
        let folder = tempfile::tempdir().unwrap();
        let (one, other) = (folder.path().join("a"), folder.path().join("b"));
        fs::write(&one, "something long").unwrap();
        fs::hard_link(&one, &other).unwrap();
        assert_eq!(save(&one, b"new").unwrap(), Written::InPlace);
        assert_eq!(fs::read(&other).unwrap(), b"new");
    }

    #[test]
    fn read_only_files_and_folders_are_refused_with_their_bytes_kept() {
        let folder = tempfile::tempdir().unwrap();
        let file = folder.path().join("a");
        fs::write(&file, "old").unwrap();
        fs::set_permissions(&file, fs::Permissions::from_mode(0o444)).unwrap();
        assert!(matches!(save(&file, b"new"), Err(FileError::ReadOnly(_))));
        assert_eq!(fs::read(&file).unwrap(), b"old");
        assert!(matches!(save(folder.path(), b"new"), Err(FileError::Folder(_))));
        assert!(matches!(save(&folder.path().join("no/such"), b""), Err(FileError::Write { .. })));
    }

    #[test]
    fn a_new_file_has_the_usual_rights() {
        let folder = tempfile::tempdir().unwrap();
        let (ours, plain) = (folder.path().join("ours"), folder.path().join("plain"));
        fs::write(&plain, "").unwrap();
        save(&ours, b"new").unwrap();
        assert_eq!(mode(&ours), mode(&plain));
    }

    /// A file layer whose Nth call fails with some error, or tears what it writes.
    #[derive(Debug)]
    struct Failing {
        calls: Cell<usize>,
        at: usize,
        kind: io::ErrorKind,
    }

    impl Failing {
        fn step(&self) -> io::Result<()> {
            self.calls.set(self.calls.get() + 1);
            if self.calls.get() == self.at { Err(self.kind.into()) } else { Ok(()) }
        }
    }

    impl FileLayer for Failing {
        fn write_beside(&self, target: &Path, bytes: &[u8], old: Option<&Metadata>) -> io::Result<Fresh> {
            self.step()?;
            Disk::default().write_beside(target, bytes, old)
        }

        fn replace(&self, fresh: &Fresh, target: &Path) -> io::Result<()> {
            self.step()?;
            Disk::default().replace(fresh, target)
        }

        fn flush_folder(&self, target: &Path) -> io::Result<()> {
            self.step()?;
            Disk::default().flush_folder(target)
        }

        fn back_up(&self, path: &Path, bytes: &[u8]) -> io::Result<FileCopy> {
            self.step()?;
            Disk::default().back_up(path, bytes)
        }

        fn overwrite(&self, target: &Path, bytes: &[u8]) -> io::Result<()> {
            self.step().inspect_err(|_| fs::write(target, &bytes[..bytes.len() / 2]).unwrap())?;
            Disk::default().overwrite(target, bytes)
        }
    }

    #[test]
    fn whatever_fails_the_file_holds_the_old_or_the_new_bytes_and_nothing_is_left_beside() {
        use io::ErrorKind::{Other, PermissionDenied, StorageFull};
        for is_linked in [false, true] {
            for kind in [StorageFull, Other, PermissionDenied] {
                for at in 1..=6 {
                    let folder = tempfile::tempdir().unwrap();
                    let file = folder.path().join("a");
                    fs::write(&file, "old bytes").unwrap();
                    if is_linked {
                        fs::hard_link(&file, folder.path().join("b")).unwrap();
                    }
                    let layer = Failing { calls: Cell::new(0), at, kind };
                    let result = save_by(&layer, &file, b"the new bytes", Rights::Minded);
                    let now = fs::read(&file).unwrap();
                    let expected: &[u8] = if result.is_ok() { b"the new bytes" } else { b"old bytes" };
                    assert_eq!(now, expected, "{kind:?} at call {at}, linked: {is_linked}: {result:?}");
                    let entries = fs::read_dir(folder.path()).unwrap().count();
                    assert_eq!(entries, 1 + usize::from(is_linked), "{kind:?} at call {at}");
                }
            }
        }
    }

    /// Another program that writes the file while it is being saved.
    #[derive(Debug)]
    struct Meddling;

    impl FileLayer for Meddling {
        fn write_beside(&self, target: &Path, bytes: &[u8], old: Option<&Metadata>) -> io::Result<Fresh> {
            let fresh = Disk::default().write_beside(target, bytes, old);
            fs::write(target, "the bytes of somebody else")?;
            fresh
        }
    }

    #[test]
    fn what_another_program_writes_during_a_save_stays() {
        let folder = tempfile::tempdir().unwrap();
        for name in ["there", "new"] {
            let file = folder.path().join(name);
            if name == "there" {
                fs::write(&file, "old").unwrap();
            }
            let error = save_by(&Meddling, &file, b"new", Rights::Minded).unwrap_err().to_string();
            assert!(error.contains(CHANGED_MEANWHILE), "{error}");
            assert_eq!(fs::read_to_string(&file).unwrap(), "the bytes of somebody else");
        }
        assert_eq!(fs::read_dir(folder.path()).unwrap().count(), 2);
    }

    #[test]
    fn a_protected_file_is_written_through_when_that_is_wanted() {
        let folder = tempfile::tempdir().unwrap();
        let file = folder.path().join("a");
        fs::write(&file, "old").unwrap();
        fs::set_permissions(&file, fs::Permissions::from_mode(0o444)).unwrap();
        save_by(&Disk::default(), &file, b"new", Rights::Passed).unwrap();
        assert_eq!((fs::read(&file).unwrap(), mode(&file)), (b"new".to_vec(), 0o444));
    }
}
