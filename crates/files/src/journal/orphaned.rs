//! Work left by a program that crashed or was killed.

use super::copies;
use super::record::{self, Header, Record};
use crate::stamp::Stamp;
use snarvel_core::text::Text;
use std::fs::{self, File};
use std::path::PathBuf;

/// Work left by a crash.
#[derive(Debug)]
pub struct OrphanedJournal {
    pub(super) path: PathBuf,
    pub(super) header: Header,
    pub(super) records: Vec<Record>,
    /// Held so that no other program takes it, too.
    pub(super) _lock: File,
}

/// What became of work left by a crash.
#[derive(Debug)]
pub struct Recovered {
    /// The text as it was left.
    pub text: Text,
    /// Whether the file has changed since, so that it holds something else than what was edited.
    pub is_stale: bool,
}

impl OrphanedJournal {
    /// The text as it was left; none where it cannot be made from `now`, what the file holds, which looks as `stamp` says.
    #[must_use]
    pub fn recovered(&self, now: &Text, stamp: Option<Stamp>) -> Option<Recovered> {
        let is_same = self.header.stamp == stamp;
        let base = self.records.iter().find_map(|record| match record {
            Record::Base(text) => Some(Text::from(text.as_str())),
            _ => None,
        });
        let is_stale = !is_same && base.as_ref().is_none_or(|base| base != now);
        let mut text = base.or_else(|| is_same.then(|| now.clone()));
        for record in &self.records {
            match record {
                Record::Base(_) => {}
                Record::Whole(whole) => text = Some(Text::from(whole.as_str())),
                Record::Change(edits) => text = Some(record::apply(edits, &text?)?),
            }
        }
        Some(Recovered { text: text?, is_stale })
    }

    /// Whether it is a file as it was before it was written in place, and not what was edited.
    #[must_use]
    pub fn is_copy(&self) -> bool {
        copies::is_copy(&self.path)
    }

    /// What was put in, piece by piece, in the order in which that was done: for a text of which nothing else can be made.
    #[must_use]
    pub fn pieces(&self) -> Vec<String> {
        record::pieces(&self.records)
    }

    /// When the last of it was written, in seconds since 1970.
    #[must_use]
    pub fn written_at(&self) -> Option<u64> {
        let modified = fs::metadata(&self.path).and_then(|meta| meta.modified()).ok()?;
        modified.duration_since(std::time::UNIX_EPOCH).ok().map(|time| time.as_secs())
    }

    /// The folder that a text without a file belonged to.
    #[must_use]
    pub fn folder(&self) -> PathBuf {
        self.header.folder()
    }

    /// Throws it away.
    pub fn discard(self) {
        let _ = fs::remove_file(&self.path);
    }
}
