//! Saving: to a temporary file beside, flushed to the disk, renamed over the old one, the folder flushed.
//!
//! A link is followed and stays one; mode and owner are kept. Where a rename could not keep what the file is
//! (hard links, no rights in the folder), it is written in place, with a copy of the old bytes aside.

use crate::FileError;
use std::fs::{self, File, Metadata, OpenOptions};
use std::io::{self, Write};
use std::os::unix::fs::MetadataExt;
use std::path::{Path, PathBuf};

/// How a file was written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Written {
    /// By renaming a whole new file over the old one.
    Renamed,
    /// In place.
    InPlace,
}

/// Writes `bytes` to the file at `path`, whole or not at all.
///
/// # Errors
/// A folder, a read-only file, or whatever the system says; the old bytes then still stand.
pub fn save(path: &Path, bytes: &[u8]) -> Result<Written, FileError> {
    let target = link_target(path);
    let failed = |source| FileError::Write { path: path.to_owned(), source };
    let old = match fs::metadata(&target) {
        Ok(meta) if meta.is_dir() => return Err(FileError::Folder(path.to_owned())),
        Ok(meta) if meta.permissions().readonly() => return Err(FileError::ReadOnly(path.to_owned())),
        Ok(meta) => Some(meta),
        Err(error) if error.kind() == io::ErrorKind::NotFound => None,
        Err(error) => return Err(failed(error)),
    };
    if let Some(meta) = &old {
        OpenOptions::new().write(true).open(&target).map_err(failed)?;
        if meta.nlink() > 1 {
            return in_place(path, &target, bytes);
        }
    }
    match by_rename(&target, bytes, old.as_ref()) {
        Ok(()) => Ok(Written::Renamed),
        Err(error) if error.kind() == io::ErrorKind::PermissionDenied && old.is_some() => {
            in_place(path, &target, bytes)
        }
        Err(error) => Err(failed(error)),
    }
}

/// Where the bytes go: a link's target, also one that does not exist yet.
fn link_target(path: &Path) -> PathBuf {
    if let Ok(real) = fs::canonicalize(path) {
        return real;
    }
    match fs::read_link(path) {
        Ok(to) => folder_of(path).join(to),
        Err(_) => path.to_owned(),
    }
}

fn folder_of(path: &Path) -> &Path {
    path.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."))
}

fn by_rename(target: &Path, bytes: &[u8], old: Option<&Metadata>) -> io::Result<()> {
    let folder = folder_of(target);
    let mut file = tempfile::Builder::new().prefix(".snarvel-").tempfile_in(folder)?;
    file.write_all(bytes)?;
    match old {
        Some(meta) => {
            file.as_file().set_permissions(meta.permissions())?;
            keep_owner(file.path(), meta)?;
        }
        None => file.as_file().set_permissions(new_file_rights(folder)?)?,
    }
    file.as_file().sync_all()?;
    file.persist(target).map_err(|error| error.error)?;
    File::open(folder)?.sync_all()
}

/// A new file gets the rights that the system gives new files here, not those of a temporary one.
fn new_file_rights(folder: &Path) -> io::Result<fs::Permissions> {
    let probe = folder.join(format!(".snarvel-rights-{}", std::process::id()));
    let file = OpenOptions::new().write(true).create_new(true).open(&probe)?;
    let rights = file.metadata().map(|meta| meta.permissions());
    fs::remove_file(&probe)?;
    rights
}

fn keep_owner(path: &Path, meta: &Metadata) -> io::Result<()> {
    let now = fs::metadata(path)?;
    if (now.uid(), now.gid()) == (meta.uid(), meta.gid()) {
        return Ok(());
    }
    std::os::unix::fs::chown(path, Some(meta.uid()), Some(meta.gid()))
}

fn in_place(path: &Path, target: &Path, bytes: &[u8]) -> Result<Written, FileError> {
    let failed = |source| FileError::Write { path: path.to_owned(), source };
    let mut backup = tempfile::Builder::new().prefix("snarvel-backup-").tempfile().map_err(failed)?;
    let old = fs::read(target).map_err(failed)?;
    backup.write_all(&old).and_then(|()| backup.as_file().sync_all()).map_err(failed)?;
    let overwrite = || -> io::Result<()> {
        let mut file = OpenOptions::new().write(true).open(target)?;
        file.write_all(bytes)?;
        file.set_len(bytes.len() as u64)?;
        file.sync_all()
    };
    match overwrite() {
        Ok(()) => Ok(Written::InPlace),
        Err(source) => match backup.keep() {
            Ok((_, backup)) => Err(FileError::Torn { path: path.to_owned(), backup, source }),
            Err(error) => Err(FileError::Write { path: path.to_owned(), source: error.error }),
        },
    }
}

#[cfg(test)]
mod tests {
    use super::*;
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
}
