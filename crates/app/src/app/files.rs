//! Opening, saving, closing: the files side of the application.

use super::App;
use crate::document::{Document, Home};
use crate::panels::Matter;
use crate::session::words_of;
use snarvel_core::bookmarks::Bookmarks;
use snarvel_core::verbs::scene::counted;
use snarvel_files::load::Encoding;
use std::path::Path;
use std::time::Duration;

/// How long a key waits for the file that it opens: most are there by then, and are seen as a whole at once.
const PATIENCE: Duration = Duration::from_millis(100);

impl App {
    /// Opens `path`, or shows it where it is open already.
    pub fn open(&mut self, path: &Path) {
        let path = self.folder.join(path);
        self.note_opened(&path);
        if let Some(index) = self.documents.iter().position(|document| document.home == Home::File(path.clone())) {
            self.current = index;
            return;
        }
        let (waker, manner) = (self.waker.clone(), self.settings.manner);
        // Without a screen nobody would see the rest come.
        let patience = if self.safety.is_kept() { PATIENCE } else { Duration::MAX };
        let begun = Document::begin(&path, manner, patience, move || waker.wake());
        let begun = begun.and_then(|mut document| match self.safety.is_kept() {
            true => Ok(document),
            false => document.settle().map(|_| document),
        });
        match begun {
            Ok(document) => {
                let is_whole = document.loading.is_none();
                self.show_document(document);
                if is_whole {
                    self.all_is_there(self.current);
                }
            }
            Err(error) => self.say(error.to_string()),
        }
    }

    /// Takes in what has come of files that are being read.
    pub(super) fn gather_loading(&mut self) {
        for index in (0..self.documents.len()).rev() {
            match self.documents[index].gather() {
                Ok(false) => {}
                Ok(true) => self.all_is_there(index),
                Err(error) => {
                    // A part of a file is nothing to save over it.
                    self.remove(index);
                    self.panel = None;
                    self.say(error.to_string());
                }
            }
        }
    }

    /// All of a file is there: now it can be edited.
    fn all_is_there(&mut self, index: usize) {
        let mut document = std::mem::replace(&mut self.documents[index], Document::untitled(self.settings.manner));
        self.store.iter().for_each(|store| store.mark(&mut document));
        self.marked_again(&mut document);
        self.begin_journal(&mut document);
        let what = match document.stamp {
            None => "a new file".to_owned(),
            Some(_) => counted(document.editor.text().real_line_count(), "line"),
        };
        let said = document.warning.clone().unwrap_or_else(|| format!("{}: {what}", document.name()));
        let wanted = document.wanted.take();
        self.documents[index] = document;
        self.say(said);
        let here = std::mem::replace(&mut self.current, index);
        if let Some(spot) = wanted {
            self.put_caret(spot);
        }
        self.current = here;
        self.ask_again();
    }

    /// Shows `document`, in the place of an empty one without a home.
    pub(super) fn show_document(&mut self, document: Document) {
        let is_spare = |old: &Document| old.home == Home::None && old.editor.text().is_empty() && !old.is_unsaved();
        if is_spare(self.document()) && document.home != Home::None {
            let mut spare = std::mem::replace(&mut self.documents[self.current], document);
            self.end_journal(&mut spare);
        } else {
            self.current += 1;
            self.documents.insert(self.current, document);
        }
    }

    /// Remembers the bookmarks of a file that is closed.
    fn note_marks(&mut self, closed: &Document) {
        // Of a text that is not all there yet nobody knows them.
        let Some(path) = closed.path().filter(|_| !closed.editor.is_growing()) else { return };
        let text = closed.editor.text();
        let marked = closed.editor.bookmarks().lines(text).map(|line| (line, words_of(text, line))).collect();
        self.marked_when_closed.retain(|(each, _)| each != path);
        self.marked_when_closed.push((path.to_owned(), marked));
    }

    /// Gives a file that is opened again the bookmarks that it had when it was closed.
    fn marked_again(&mut self, document: &mut Document) {
        let Home::File(path) = &document.home else { return };
        let known = self.marked_when_closed.iter().find(|(each, _)| each == path);
        if let Some((_, lines)) = known {
            let marks = Bookmarks::on(document.editor.text(), lines.iter().map(|(line, _)| *line));
            document.editor.set_bookmarks(marks);
        }
    }

    /// The current file is written as UTF-8 from now on.
    pub(super) fn make_utf8(&mut self) {
        let document = self.document_mut();
        if document.encoding == Encoding::Utf8 {
            self.say("it is UTF-8 already");
            return;
        }
        document.encoding = Encoding::Utf8;
        document.is_recoded = true;
        self.say("the next save writes it as UTF-8");
    }

    pub(super) fn close(&mut self) {
        self.go_on(Matter::Close);
    }

    pub(super) fn quit(&mut self) {
        self.go_on(Matter::Quit);
    }

    pub(super) fn leave(&mut self, matter: Matter) {
        if matter == Matter::Quit || self.document().home == Home::Pipe {
            self.done = true;
            return;
        }
        self.remove(self.current);
    }

    /// Takes a document off the desk.
    fn remove(&mut self, index: usize) {
        let mut closed = self.documents.remove(index);
        self.end_journal(&mut closed);
        self.places.closed(&closed);
        self.note_marks(&closed);
        if self.documents.is_empty() {
            let mut document = Document::untitled(self.settings.manner);
            self.begin_journal(&mut document);
            self.documents.push(document);
        }
        if index < self.current {
            self.current -= 1;
        }
        self.current = self.current.min(self.documents.len() - 1);
    }
}
