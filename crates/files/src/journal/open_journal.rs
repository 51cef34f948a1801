//! A journal that is being written. Where it cannot be (the disk is full, the folder is not there), it stops, that is told, and it
//! begins again with the whole text as soon as that can be written.

use super::base::{Base, LARGEST_BASE};
use super::news::JournalEvent;
use super::record::{self, Header};
use snarvel_core::text::Text;
use snarvel_task::waits::JOURNAL_AGAIN;
use std::fs::{self, File};
use std::io::{self, Write};
use std::os::unix::fs::{DirBuilderExt, OpenOptionsExt};
use std::path::{Path, PathBuf};
use std::time::Instant;

/// A journal that is being written.
pub(super) struct OpenJournal {
    path: PathBuf,
    /// None while it cannot be written.
    file: Option<File>,
    /// What was written until it could not be: its lock tells that this program lives.
    held: Option<File>,
    base: Base,
    /// Whether the text before the first change is in it.
    has_base: bool,
    /// The whole text, which waits to be written: another one may come.
    whole: Option<Text>,
    is_dirty: bool,
    /// When it could not be written, the last time.
    failed: Option<Instant>,
    /// Whether a change is missing in it, so that only the whole text is of use.
    is_torn: bool,
}

/// When a journal that could not be written is tried again.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Attempt {
    Now,
    AfterAPause,
}

impl OpenJournal {
    /// Nothing of it is on the disk yet.
    pub(super) fn new(path: PathBuf, base: Base) -> OpenJournal {
        OpenJournal {
            path,
            file: None,
            held: None,
            base,
            has_base: false,
            whole: None,
            is_dirty: false,
            failed: None,
            is_torn: false,
        }
    }

    pub(super) fn path(&self) -> &Path {
        &self.path
    }

    /// Whether something waits to be written or flushed.
    pub(super) fn is_waiting(&self) -> bool {
        self.is_dirty || self.whole.is_some() || self.failed.is_some()
    }

    /// Creates its file; `now` is the text where that is not what the file holds.
    pub(super) fn begin(&mut self, now: Option<Text>) -> io::Result<()> {
        self.whole = now;
        match self.whole {
            Some(_) => self.settle_whole(),
            None => {
                self.file = Some(begun(&self.path, &self.base)?);
                Ok(())
            }
        }
    }

    /// Begins anew from `base`, with `now` where the text is another one.
    pub(super) fn restart(&mut self, base: Base, now: Option<Text>) -> io::Result<()> {
        (self.base, self.whole, self.has_base, self.is_torn) = (base, now, false, false);
        match self.whole {
            Some(_) => self.settle_whole(),
            None => self.anew(&[]),
        }
    }

    /// Takes the whole text, which is written with the next change or when the disk is to have it.
    pub(super) fn take_whole(&mut self, text: Text) {
        self.whole = Some(text);
        self.is_torn = false;
    }

    /// Writes a change. Where one cannot be written, those after it are of no use either, until the whole text comes.
    pub(super) fn change(&mut self, bytes: &[u8]) -> io::Result<()> {
        if self.failed.is_some() || self.is_torn {
            (self.whole, self.is_torn) = (None, true);
            return Ok(());
        }
        let written = self.write_change(bytes);
        self.is_torn = written.is_err();
        written
    }

    fn write_change(&mut self, bytes: &[u8]) -> io::Result<()> {
        self.settle_whole()?;
        if !self.has_base {
            self.has_base = true;
            // What lies in no file lies here only.
            if self.base.file.is_none() || self.base.text.len() <= LARGEST_BASE {
                self.write(&record::base(&self.base.text))?;
            }
        }
        self.write(bytes)
    }

    fn write(&mut self, bytes: &[u8]) -> io::Result<()> {
        self.is_dirty = true;
        self.file.as_mut().map_or(Ok(()), |file| file.write_all(bytes))
    }

    /// Writes the whole text where one waits, in the place of all changes before.
    fn settle_whole(&mut self) -> io::Result<()> {
        if let Some(text) = self.whole.clone() {
            self.anew(&record::whole(&text))?;
            self.has_base = true;
            self.whole = None;
        }
        Ok(())
    }

    /// Begins the file anew, with `content` after the header: the old one stays until the new one is whole.
    fn anew(&mut self, content: &[u8]) -> io::Result<()> {
        let fresh = self.path.with_extension("new");
        let _ = fs::remove_file(&fresh);
        let written = begun(&fresh, &self.base).and_then(|mut file| {
            file.write_all(content)?;
            if !content.is_empty() {
                file.sync_data()?;
            }
            fs::rename(&fresh, &self.path)?;
            Ok(file)
        });
        if written.is_err() {
            let _ = fs::remove_file(&fresh);
        }
        (self.file, self.held) = (Some(written?), None);
        Ok(())
    }

    /// Waits until all of it is on the disk, and says whether that is so.
    pub(super) fn is_on_the_disk(&mut self) -> bool {
        self.settle_whole().is_ok() && self.file.as_ref().is_some_and(|file| file.sync_data().is_ok())
    }

    /// The file, if there is something in it for the disk, with all that is to be written written.
    pub(super) fn taken_to_the_disk(&mut self, attempt: Attempt) -> io::Result<Option<File>> {
        let is_too_early = self.failed.is_some_and(|at| at.elapsed() < JOURNAL_AGAIN);
        if attempt == Attempt::AfterAPause && is_too_early {
            return Ok(None);
        }
        match self.whole {
            // Nothing is missing: it begins again as it began.
            None if self.failed.is_some() && !self.is_torn => self.anew(&[])?,
            _ => self.settle_whole()?,
        }
        Ok(std::mem::take(&mut self.is_dirty).then(|| self.file.as_ref()?.try_clone().ok()).flatten())
    }

    /// Notes how writing went; says what is new in that. What was written before a failure stays where it is: it is true as far
    /// as it goes.
    pub(super) fn judge(&mut self, result: io::Result<()>) -> Option<JournalEvent> {
        match result {
            Err(error) => {
                self.held = self.file.take().or(self.held.take());
                let is_new = self.failed.replace(Instant::now()).is_none();
                is_new.then(|| JournalEvent::Stopped(reason(&error)))
            }
            Ok(()) if self.failed.is_some() && self.file.is_some() => {
                self.failed = None;
                Some(JournalEvent::GoesOn)
            }
            Ok(()) => None,
        }
    }
}

/// What the system says, without its number.
fn reason(error: &io::Error) -> String {
    let said = error.to_string();
    said.split(" (os error").next().unwrap_or_default().to_lowercase()
}

/// A locked file at `path` that begins as `base` says; its folder is made where it is missing.
fn begun(path: &Path, base: &Base) -> io::Result<File> {
    let folder = path.parent().unwrap_or(Path::new("."));
    let made = fs::DirBuilder::new().recursive(true).mode(0o700).create(folder);
    made.map_err(|error| io::Error::new(error.kind(), format!("no folder for journals, {}", reason(&error))))?;
    let mut file = File::options().write(true).create_new(true).mode(0o600).open(path)?;
    // Where a file system knows no locks, a live program cannot be told from a dead one.
    let _ = file.try_lock();
    file.write_all(&record::header(&header_of(base)))?;
    Ok(file)
}

fn header_of(base: &Base) -> Header {
    match &base.file {
        Some((path, stamp)) => Header::new(path, *stamp),
        None => Header::new(&std::env::current_dir().unwrap_or_default(), None),
    }
}
