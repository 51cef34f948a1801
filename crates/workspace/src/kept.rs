//! What is kept between starts: what was open in a folder, and the bookmarks of every file, in the state folder.
//!
//! A bookmark is kept with the words of its line, so that it is found again where the file has changed meanwhile.

use crate::arrival::OpenFile;
use crate::buffer::Buffer;
use crate::buffer::names::words_of;
use crate::recipes::unfiled::Unfiled;
use crate::state::searches::PastSearch;
use crate::view::View;
use anyhow::{Context, Result};
use serde::{Deserialize, Serialize};
use snarvel_core::bookmarks::Bookmarks;
use snarvel_core::text::Text;
use snarvel_core::units::{Line, Span};
use snarvel_files::stamp::number_of;
use snarvel_files::{private, reading};
use std::path::{Path, PathBuf};

/// What was open in a folder.
#[derive(Debug, Default, Serialize, Deserialize)]
pub(crate) struct Session {
    pub(crate) folder: PathBuf,
    pub(crate) files: Vec<OpenFile>,
    pub(crate) current: usize,
    pub(crate) recent: Vec<PathBuf>,
    pub(crate) patterns: Vec<PastSearch>,
}

/// A line that was marked: its number from 0, and its words.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct MarkedLine {
    line: usize,
    words: String,
}

impl MarkedLine {
    /// The line that it was when it was kept.
    #[must_use]
    pub fn line(&self) -> Line {
        Line(self.line)
    }

    /// The beginning of the line's text.
    #[must_use]
    pub fn words(&self) -> &str {
        &self.words
    }
}

/// The marked lines of a file.
pub type Marked = (PathBuf, Vec<MarkedLine>);

/// What a person has said of a server in a folder.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Consent {
    /// The folder.
    pub folder: PathBuf,
    /// The name of the server.
    pub server: String,
    /// Whether it may be started there.
    pub may_start: bool,
    /// The day on which that was said, as ISO 8601 writes it.
    pub since: String,
}

/// Of how many files bookmarks are kept.
const MOST_FILES: usize = 5_000;

/// Where sessions and bookmarks are kept.
#[derive(Clone, Debug)]
pub struct Store {
    folder: PathBuf,
}

impl Store {
    /// In `folder`.
    #[must_use]
    pub fn at(folder: PathBuf) -> Store {
        Store { folder }
    }

    fn session_file(&self, folder: &Path) -> PathBuf {
        let name = folder.file_name().unwrap_or_default().to_string_lossy();
        self.folder.join("sessions").join(format!("{name}-{:016x}.json", number_of(folder)))
    }

    fn trust_file(&self) -> PathBuf {
        self.folder.join("trusted.json")
    }

    /// Whether the person has said that `folder` is trusted.
    #[must_use]
    pub fn trusts(&self, folder: &Path) -> bool {
        self.trusted().iter().any(|each| each == folder)
    }

    fn trusted(&self) -> Vec<PathBuf> {
        let bytes = reading::read_own(&self.trust_file(), reading::KEPT).unwrap_or_default();
        serde_json::from_slice(&bytes).unwrap_or_default()
    }

    /// Notes that the person trusts `folder`.
    ///
    /// # Errors
    /// The note cannot be written.
    pub fn trust(&self, folder: &Path) -> Result<()> {
        let mut trusted = self.trusted();
        trusted.retain(|each| each != folder);
        trusted.push(folder.to_owned());
        write(&self.trust_file(), &serde_json::to_vec(&trusted).context("trusted folders")?)
    }

    fn commands_file(&self) -> PathBuf {
        self.folder.join("commands.json")
    }

    fn all_commands(&self) -> Vec<(PathBuf, Vec<String>)> {
        let bytes = reading::read_own(&self.commands_file(), reading::KEPT).unwrap_or_default();
        serde_json::from_slice(&bytes).unwrap_or_default()
    }

    /// The commands that may run in `folder`.
    #[must_use]
    pub fn commands(&self, folder: &Path) -> Vec<String> {
        self.all_commands().into_iter().filter(|(each, _)| each == folder).flat_map(|(_, commands)| commands).collect()
    }

    /// Notes that `command` may run in `folder`.
    ///
    /// # Errors
    /// The note cannot be written.
    pub fn allow(&self, folder: &Path, command: &str) -> Result<()> {
        let mut all = self.all_commands();
        match all.iter_mut().find(|(each, _)| each == folder) {
            Some((_, commands)) => commands.push(command.to_owned()),
            None => all.push((folder.to_owned(), vec![command.to_owned()])),
        }
        write(&self.commands_file(), &serde_json::to_vec(&all).context("commands")?)
    }

    fn consents_file(&self) -> PathBuf {
        self.folder.join("servers.json")
    }

    /// What was said of servers, in all folders.
    #[must_use]
    pub fn consents(&self) -> Vec<Consent> {
        let bytes = reading::read_own(&self.consents_file(), reading::KEPT).unwrap_or_default();
        serde_json::from_slice(&bytes).unwrap_or_default()
    }

    /// Notes what was said of a server.
    ///
    /// # Errors
    /// The note cannot be written.
    pub fn consent(&self, consent: Consent) -> Result<()> {
        let mut all = self.consents();
        all.retain(|each| each.folder != consent.folder || each.server != consent.server);
        all.push(consent);
        write(&self.consents_file(), &serde_json::to_vec(&all).context("servers")?)
    }

    /// All that is trusted: what it is, in the order of the folders.
    #[must_use]
    pub fn all_trust(&self) -> Vec<(PathBuf, String)> {
        let mut all: Vec<(PathBuf, String)> =
            self.trusted().into_iter().map(|folder| (folder, "recipes of the folder".to_owned())).collect();
        for (folder, commands) in self.all_commands() {
            all.extend(commands.into_iter().map(|command| (folder.clone(), format!("command {command}"))));
        }
        let server = |each: Consent| {
            let may = if each.may_start { "server" } else { "never server" };
            (each.folder, format!("{may} {}, since {}", each.server, each.since))
        };
        all.extend(self.consents().into_iter().map(server));
        all.sort();
        all
    }

    /// Forgets all that was said of `folder`; whether there was anything.
    ///
    /// # Errors
    /// What is left cannot be written.
    pub fn forget_trust(&self, folder: &Path) -> Result<bool> {
        let (mut trusted, mut commands, mut consents) = (self.trusted(), self.all_commands(), self.consents());
        let count = trusted.len() + commands.len() + consents.len();
        trusted.retain(|each| each != folder);
        commands.retain(|(each, _)| each != folder);
        consents.retain(|each| each.folder != folder);
        if trusted.len() + commands.len() + consents.len() == count {
            return Ok(false);
        }
        write(&self.trust_file(), &serde_json::to_vec(&trusted).context("trusted folders")?)?;
        write(&self.commands_file(), &serde_json::to_vec(&commands).context("commands")?)?;
        write(&self.consents_file(), &serde_json::to_vec(&consents).context("servers")?)?;
        Ok(true)
    }

    fn unfiled_file(&self) -> PathBuf {
        self.folder.join("recipes.json")
    }

    /// The recipes that have no file of their own.
    #[must_use]
    pub fn unfiled(&self) -> Unfiled {
        let bytes = reading::read_own(&self.unfiled_file(), reading::KEPT).unwrap_or_default();
        serde_json::from_slice(&bytes).unwrap_or_default()
    }

    fn signs_file(&self) -> PathBuf {
        self.folder.join("signs.json")
    }

    /// The signs that were put in lately, the latest first.
    #[must_use]
    pub fn signs(&self) -> Vec<String> {
        let bytes = reading::read_own(&self.signs_file(), reading::KEPT).unwrap_or_default();
        serde_json::from_slice(&bytes).unwrap_or_default()
    }

    fn bookmarks_file(&self) -> PathBuf {
        self.folder.join("bookmarks.json")
    }

    /// What was open in `folder`; none where that is not known.
    pub(crate) fn session(&self, folder: &Path) -> Option<Session> {
        let bytes = reading::read_own(&self.session_file(folder), reading::KEPT).ok()?;
        // One that cannot be read counts for nothing: nothing hangs on it.
        let session: Session = serde_json::from_slice(&bytes).ok()?;
        (session.folder == folder).then_some(session)
    }

    /// The bookmarks of all files, by their paths; the file that was left last comes last.
    #[must_use]
    pub fn all_marked(&self) -> Vec<Marked> {
        let bytes = reading::read_own(&self.bookmarks_file(), reading::KEPT).unwrap_or_default();
        serde_json::from_slice(&bytes).unwrap_or_default()
    }
}

/// The lines of `text` that `marked` means.
#[must_use]
pub fn found_again(marked: &[MarkedLine], text: &Text) -> Bookmarks {
    let lines: Vec<Line> = marked.iter().filter_map(|each| each.found(text)).collect();
    Bookmarks::on(text, lines)
}

/// The marked lines of `buffer`, with their words.
#[must_use]
pub fn marked_in(buffer: &Buffer) -> Vec<MarkedLine> {
    let text = buffer.text();
    let bookmarks = buffer.bookmarks();
    bookmarks.lines(text).map(|line| MarkedLine { line: line.0, words: words_of(text, line) }).collect()
}

/// What is kept of a workspace, taken out of it, so that it can be written while that goes on.
#[derive(Debug)]
pub struct Kept {
    pub(crate) store: Store,
    /// The marked lines of files that were open.
    pub(crate) marked: Vec<Marked>,
    pub(crate) session: Option<Session>,
    /// Recipes without a file, where they are not those that were read.
    pub(crate) unfiled: Option<Unfiled>,
    /// Signs put in lately, where they are not those that were read.
    pub(crate) signs: Option<Vec<String>>,
}

impl Kept {
    /// Writes it.
    ///
    /// # Errors
    /// The folder cannot be made, or a file not written.
    pub fn write(self) -> Result<()> {
        let mut all = self.store.all_marked();
        all.retain(|(path, _)| self.marked.iter().all(|(other, _)| other != path));
        all.extend(self.marked.into_iter().filter(|(_, lines)| !lines.is_empty()));
        all.drain(..all.len().saturating_sub(MOST_FILES));
        write(&self.store.bookmarks_file(), &serde_json::to_vec(&all).context("bookmarks")?)?;
        if let Some(unfiled) = self.unfiled {
            write(&self.store.unfiled_file(), &serde_json::to_vec(&unfiled).context("recipes without a file")?)?;
        }
        if let Some(signs) = self.signs {
            write(&self.store.signs_file(), &serde_json::to_vec(&signs).context("signs")?)?;
        }
        match self.session {
            Some(session) => {
                let bytes = serde_json::to_vec(&session).context("the session")?;
                write(&self.store.session_file(&session.folder), &bytes)
            }
            None => Ok(()),
        }
    }
}

fn write(file: &Path, bytes: &[u8]) -> Result<()> {
    private::write(file, bytes).with_context(|| format!("the session is not kept: {}", file.display()))
}

impl OpenFile {
    pub(crate) fn of(buffer: &Buffer, view: &View) -> Option<OpenFile> {
        let path = buffer.path()?;
        let text = buffer.text();
        let lines = |span: &Span| [text.line_of(span.start).0, text.line_of(span.end).0];
        Some(OpenFile {
            path: path.to_owned(),
            caret: view.cursors().primary().head.0,
            top: view.scroll.top.0,
            left: view.scroll.left.0,
            folds: view.folds().list().iter().map(lines).collect(),
        })
    }
}

impl MarkedLine {
    /// Where the line is now: the nearest one with its words, else the one of its number.
    fn found(&self, text: &Text) -> Option<Line> {
        let last = text.last_line().0;
        let has_words = |line: &usize| *line <= last && words_of(text, Line(*line)) == self.words;
        let near = (0..=REACH).flat_map(|by| [self.line.checked_sub(by), Some(self.line + by)]).flatten();
        near.into_iter().find(has_words).or((self.line <= last).then_some(self.line)).map(Line)
    }
}

/// How far from where it was a marked line is looked for, in lines.
const REACH: usize = 2_000;
