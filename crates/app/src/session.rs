//! Sessions: what was open in a folder, kept in the state folder from one start to the next; and the bookmarks of every file.
//!
//! A bookmark is kept with the words of its line, so that it is found again where the file has changed meanwhile.

use crate::app::App;
use crate::document::{Document, Home, View};
use anyhow::{Context, Result};
use serde::{Deserialize, Serialize};
use snarvel_core::bookmarks::Bookmarks;
use snarvel_core::cursors::CursorSet;
use snarvel_core::folds::Folds;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Cell, Line};
use snarvel_files::private;
use snarvel_files::stamp::number_of;
use std::path::{Path, PathBuf};
use std::sync::mpsc::{Sender, channel};
use std::thread::JoinHandle;

/// What was open in a folder.
#[derive(Debug, Default, Serialize, Deserialize)]
struct Session {
    folder: PathBuf,
    files: Vec<OpenFile>,
    current: usize,
    recent: Vec<PathBuf>,
    patterns: Vec<String>,
}

#[derive(Debug, Serialize, Deserialize)]
struct OpenFile {
    path: PathBuf,
    caret: usize,
    top: usize,
    left: u32,
    /// The first and the last line of what was folded.
    folds: Vec<[usize; 2]>,
}

/// A line that was marked: its number from 0, and its words.
#[derive(Debug, PartialEq, Serialize, Deserialize)]
struct Marked {
    line: usize,
    words: String,
}

/// The bookmarks of all files, by their paths; the file that was left last comes last.
type AllMarked = Vec<(PathBuf, Vec<Marked>)>;

/// Of how many files bookmarks are kept.
const MOST_FILES: usize = 5_000;

/// Where sessions and bookmarks are kept.
#[derive(Clone, Debug)]
pub struct Store {
    folder: PathBuf,
}

impl Store {
    /// In `folder`.
    pub fn at(folder: PathBuf) -> Store {
        Store { folder }
    }

    fn session_file(&self, folder: &Path) -> PathBuf {
        let name = folder.file_name().unwrap_or_default().to_string_lossy();
        self.folder.join("sessions").join(format!("{name}-{:016x}.json", number_of(folder)))
    }

    fn bookmarks_file(&self) -> PathBuf {
        self.folder.join("bookmarks.json")
    }

    /// Opens in `app` what was open in its folder when it was left last; nothing where that is not known.
    pub fn restore(&self, app: &mut App) {
        let Some(session) = self.session(&app.folder) else { return };
        for file in session.files.iter().filter(|file| file.path.is_file()) {
            app.open(&file.path);
            let is_it = app.document().home == Home::File(file.path.clone());
            if is_it {
                file.put_back(app.document_mut());
            }
        }
        app.current = session.current.min(app.documents.len() - 1);
        app.message = None;
    }

    /// Takes over what a folder knows of files opened of late and of patterns.
    pub fn recall(&self, app: &mut App) {
        if let Some(session) = self.session(&app.folder) {
            app.recent = session.recent;
            app.sifted.patterns = session.patterns;
        }
    }

    fn session(&self, folder: &Path) -> Option<Session> {
        let bytes = std::fs::read(self.session_file(folder)).ok()?;
        // One that cannot be read is none: nothing hangs on it.
        let session: Session = serde_json::from_slice(&bytes).ok()?;
        (session.folder == folder).then_some(session)
    }

    /// Gives `document` the bookmarks that its file had.
    pub fn mark(&self, document: &mut Document) {
        let Home::File(path) = &document.home else { return };
        let all = self.all_marked();
        let Some((_, marked)) = all.iter().find(|(each, _)| each == path) else { return };
        let text = document.editor.text();
        let lines: Vec<Line> = marked.iter().filter_map(|each| each.found(text)).collect();
        let marks = Bookmarks::on(text, lines);
        document.editor.set_bookmarks(marks);
    }

    fn all_marked(&self) -> AllMarked {
        let bytes = std::fs::read(self.bookmarks_file()).unwrap_or_default();
        serde_json::from_slice(&bytes).unwrap_or_default()
    }

    /// Keeps what is open in `app`, and the bookmarks of its files.
    ///
    /// # Errors
    /// The folder cannot be made, or a file not written.
    pub fn keep(&self, app: &App) -> Result<()> {
        Kept::of(self, app).write()
    }
}

/// What is kept of an application, taken out of it, so that it can be written while that goes on.
#[derive(Debug)]
pub struct Kept {
    store: Store,
    /// The marked lines of files that were open.
    marked: AllMarked,
    session: Option<Session>,
}

impl Kept {
    /// What `store` is to keep of `app`.
    pub fn of(store: &Store, app: &App) -> Kept {
        // Of a text that is not all there yet nobody knows the bookmarks.
        let whole = app.documents.iter().filter(|document| !document.editor.is_growing());
        let open = whole.filter_map(|document| {
            let text = document.editor.text();
            let lines = document.editor.bookmarks().lines(text);
            Some((document.path()?.to_owned(), lines.map(|line| Marked::of(text, line)).collect()))
        });
        let is_open = |path: &Path| app.documents.iter().any(|document| document.path() == Some(path));
        let closed = app.marked_when_closed.iter().filter(|(path, _)| !is_open(path)).map(|(path, lines)| {
            (path.clone(), lines.iter().map(|(line, words)| Marked { line: line.0, words: words.clone() }).collect())
        });
        let marked = open.chain(closed).collect();
        Kept { store: store.clone(), marked, session: app.settings.keeps_session.then(|| Session::of(app)) }
    }

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
        match self.session {
            Some(session) => {
                let bytes = serde_json::to_vec(&session).context("the session")?;
                write(&self.store.session_file(&session.folder), &bytes)
            }
            None => Ok(()),
        }
    }
}

impl Session {
    fn of(app: &App) -> Session {
        let files: Vec<OpenFile> = app.documents.iter().filter_map(OpenFile::of).collect();
        let here = app.document().path();
        Session {
            folder: app.folder.clone(),
            current: files.iter().position(|file| Some(file.path.as_path()) == here).unwrap_or(0),
            files,
            recent: app.recent.clone(),
            patterns: app.sifted.patterns.clone(),
        }
    }
}

/// Writes what is kept, behind the screen: what was handed over last counts.
#[derive(Debug)]
pub struct Keeper {
    sender: Sender<Kept>,
    thread: JoinHandle<()>,
}

impl Keeper {
    /// Waits for something to keep.
    pub fn start() -> Keeper {
        let (sender, to_keep) = channel::<Kept>();
        let thread = std::thread::spawn(move || {
            while let Ok(first) = to_keep.recv() {
                let newest = to_keep.try_iter().last().unwrap_or(first);
                // What cannot be kept now is told at the end.
                let _ = newest.write();
            }
        });
        Keeper { sender, thread }
    }

    /// Keeps `kept`.
    pub fn keep(&self, kept: Kept) {
        // The thread ends with this.
        let _ = self.sender.send(kept);
    }

    /// Waits until all is written.
    pub fn end(self) {
        drop(self.sender);
        // One that panicked has nothing more to write.
        let _ = self.thread.join();
    }
}

fn write(file: &Path, bytes: &[u8]) -> Result<()> {
    private::write(file, bytes).with_context(|| format!("the session is not kept: {}", file.display()))
}

impl OpenFile {
    fn of(document: &Document) -> Option<OpenFile> {
        let path = document.path()?;
        let text = document.editor.text();
        let lines = |span: &snarvel_core::units::Span| [text.line_of(span.start).0, text.line_of(span.end).0];
        Some(OpenFile {
            path: path.to_owned(),
            caret: document.editor.cursors().primary().head.0,
            top: document.view.top.0,
            left: document.view.left.0,
            folds: document.editor.folds().list().iter().map(lines).collect(),
        })
    }

    /// Puts caret, view and folds of `document` back, as far as its text still has such places.
    fn put_back(&self, document: &mut Document) {
        let text = document.editor.text();
        let caret = text.snap_back(Byte(self.caret).min(text.end()));
        let last = text.last_line();
        let spans = self.folds.iter().filter(|[first, end]| first < end && *end <= last.0);
        let folds = Folds::of(spans.map(|[first, end]| Folds::hiding(text, Line(*first), Line(*end))).collect());
        document.view = View { top: Line(self.top).min(last), left: Cell(self.left) };
        document.editor.set_cursors(CursorSet::caret(caret));
        document.editor.set_folds(folds);
    }
}

impl Marked {
    fn of(text: &Text, line: Line) -> Marked {
        Marked { line: line.0, words: words_of(text, line) }
    }

    /// Where the line is now: the nearest one with its words, else the one of its number.
    fn found(&self, text: &Text) -> Option<Line> {
        let last = text.last_line().0;
        let has_words = |line: &usize| *line <= last && words_of(text, Line(*line)) == self.words;
        let near = (0..=REACH).flat_map(|by| [self.line.checked_sub(by), Some(self.line + by)]).flatten();
        near.into_iter().find(has_words).or((self.line <= last).then_some(self.line)).map(Line)
    }
}

/// The words of `line`, as bookmarks keep them.
pub fn words_of(text: &Text, line: Line) -> String {
    let content = text.content(line);
    content.trim().chars().take(LONGEST_WORDS).collect()
}

/// How far from where it was a marked line is looked for, in lines.
const REACH: usize = 2_000;

/// Characters of a line that are kept with its bookmark.
const LONGEST_WORDS: usize = 200;

#[cfg(test)]
mod tests {
    use super::*;
    use crate::palette::{Depth, Palette, Tide};
    use crate::screen::layout::Size;
    use snarvel_core::verbs::by_name;

    fn app_in(folder: &Path) -> App {
        App::new(Vec::new(), folder.to_owned(), Palette::new(Tide::Night, Depth::True), Size::REFERENCE)
    }

    #[test]
    fn what_was_open_comes_back_with_the_folder() {
        let [folder, state] = [tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap()];
        let store = Store::at(state.path().to_owned());
        for (name, content) in [("a.rs", "fn a() {\n    1\n}\n"), ("b.rs", "ebb\nflow\nslack\n")] {
            std::fs::write(folder.path().join(name), content).unwrap();
        }
        let mut app = app_in(folder.path());
        app.open(Path::new("a.rs"));
        let text = app.document().editor.text().clone();
        app.document_mut().editor.set_folds(Folds::of(vec![Folds::hiding(&text, Line(0), Line(2))]));
        app.open(Path::new("b.rs"));
        app.document_mut().editor.set_cursors(CursorSet::caret(Byte(5)));
        let text = app.document().editor.text().clone();
        app.document_mut().editor.set_bookmarks(Bookmarks::on(&text, [Line(2)]));
        app.sifted.patterns = vec!["tide".to_owned()];
        store.keep(&app).unwrap();
        // The file has grown meanwhile.
        std::fs::write(folder.path().join("b.rs"), "ebb\nflow\nnew\nslack\n").unwrap();
        let mut again = app_in(folder.path());
        store.recall(&mut again);
        store.restore(&mut again);
        again.documents.iter_mut().for_each(|document| store.mark(document));
        assert_eq!(again.documents.len(), 2);
        assert_eq!(again.document().editor.cursors().primary().head, Byte(5));
        let text = again.document().editor.text();
        assert_eq!(again.document().editor.bookmarks().lines(text).collect::<Vec<_>>(), [Line(3)]);
        assert_eq!(again.documents[0].editor.folds().list().len(), 1);
        assert_eq!(again.sifted.patterns, ["tide"]);
        assert!(again.recent[0].ends_with("b.rs"));
        // What was taken away, also in a file that is closed, does not come back.
        again.documents[1].editor.set_bookmarks(Bookmarks::default());
        again.call(by_name("close").unwrap(), "");
        let keeper = Keeper::start();
        keeper.keep(Kept::of(&store, &again));
        keeper.end();
        again.open(Path::new("b.rs"));
        assert!(again.document().editor.bookmarks().is_empty());
        // Nothing of it is in the folder.
        assert_eq!(std::fs::read_dir(folder.path()).unwrap().count(), 2);
    }

    #[test]
    fn a_session_that_cannot_be_read_is_none() {
        let [folder, state] = [tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap()];
        let store = Store::at(state.path().to_owned());
        for bytes in ["", "{", "[]", "{\"folder\":1}"] {
            private::write(&store.session_file(folder.path()), bytes.as_bytes()).unwrap();
            private::write(&store.bookmarks_file(), bytes.as_bytes()).unwrap();
            let mut app = app_in(folder.path());
            store.recall(&mut app);
            store.restore(&mut app);
            store.mark(app.document_mut());
            assert_eq!(app.documents.len(), 1);
        }
    }
}
