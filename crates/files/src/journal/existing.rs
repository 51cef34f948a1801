//! Journals that are there already when one begins: of programs that live, and left by crashes of others.

use super::orphaned::OrphanedJournal;
use super::record::{self, Contents, Header};
use crate::reading;
use std::fs::{self, File, TryLockError};
use std::io::Read;
use std::path::{Path, PathBuf};

/// How the files of transactions begin.
pub(super) const TRANSACTION_PREFIX: &str = "transaction-";

/// How the names of journals that cannot be read begin.
const DAMAGED_PREFIX: &str = "damaged-";

/// What was there when a journal began.
#[derive(Debug, Default)]
pub struct ExistingJournals {
    /// Work left by a crash, the newest last.
    pub left: Vec<OrphanedJournal>,
    /// Journals that cannot be read, where they are now.
    pub damaged: Vec<PathBuf>,
    /// Another program that has the same file open.
    pub other: Option<u32>,
}

/// What is in `folder` of the journals whose names begin with `prefix`. Those that are of no use any more are removed.
pub(super) fn look(folder: &Path, prefix: &str) -> ExistingJournals {
    let mut found = ExistingJournals::default();
    let entries = fs::read_dir(folder).into_iter().flatten().flatten();
    let mut paths: Vec<PathBuf> = entries
        .map(|entry| entry.path())
        .filter(|path| path.file_name().is_some_and(|name| name.to_string_lossy().starts_with(prefix)))
        .collect();
    paths.sort_by_key(|path| fs::metadata(path).and_then(|meta| meta.modified()).ok());
    for path in paths {
        // A link, a pipe or another user's file is left alone.
        let Ok(file) = reading::open_own(&path) else { continue };
        let is_locked = matches!(file.try_lock(), Err(TryLockError::WouldBlock));
        let content = content_of(&file);
        let mut contents = record::read_all(&content);
        if !is_locked {
            complete(folder, &path, &mut contents);
        }
        let has_edits = contents.has_edits();
        match (is_locked, contents.header) {
            (true, header) => {
                let other = header.map_or(0, |header| header.process);
                found.other = Some(other).filter(|other| *other != std::process::id()).or(found.other);
            }
            (false, header) if has_edits => {
                let (header, records) = (header.unwrap_or_else(Header::unknown), contents.records);
                found.left.push(OrphanedJournal { path, header, records, _lock: file });
            }
            // Nothing was edited, or no more than the beginning of the journal was written.
            (false, Some(_)) => drop(fs::remove_file(&path)),
            (false, None) if record::is_begun_only(&content) => drop(fs::remove_file(&path)),
            // It may hold work that was not given up: it is put aside.
            (false, None) => {
                let name = path.file_name().unwrap_or_default().to_string_lossy();
                let aside = path.with_file_name(format!("{DAMAGED_PREFIX}{name}"));
                let kept = if fs::rename(&path, &aside).is_ok() { aside } else { path };
                found.damaged.push(kept);
            }
        }
    }
    found
}

/// All that a file of the program holds; nothing where it is a link, a pipe or another user's file.
fn read_all(path: &Path) -> Vec<u8> {
    reading::open_own(path).map(|file| content_of(&file)).unwrap_or_default()
}

/// What an open file holds, as far as it can be read.
fn content_of(mut file: &File) -> Vec<u8> {
    let mut content = Vec::new();
    let _ = file.read_to_end(&mut content);
    content
}

/// Gives the journal at `path` its part of transactions that a kill kept from it.
fn complete(folder: &Path, path: &Path, contents: &mut Contents) {
    let Some(own) = path.file_name().map(|name| name.to_string_lossy()) else { return };
    let entries = fs::read_dir(folder).into_iter().flatten().flatten();
    let is_transaction = |name: &std::ffi::OsStr| name.to_string_lossy().starts_with(TRANSACTION_PREFIX);
    for entry in entries.filter(|entry| is_transaction(&entry.file_name())) {
        let parts = record::transaction_parts(&read_all(&entry.path()));
        let is_there = |name: &str| folder.join(name).exists();
        if parts.iter().all(|(name, _)| !is_there(name)) {
            // None of its journals waits for it any more.
            let _ = fs::remove_file(entry.path());
            continue;
        }
        let part = parts.into_iter().find(|(name, _)| *name == own).map(|(_, part)| part);
        if let Some(part) = part.filter(|part| part.transactions.iter().all(|id| !contents.transactions.contains(id))) {
            contents.extend(part);
        }
    }
}
