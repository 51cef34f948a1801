//! Opening, saving, closing: the files side of the application.

use super::App;
use crate::document::{Document, Home};
use crate::panels::{Matter, Panel, Question, SaveAs};
use crate::session::words_of;
use snarvel_core::bookmarks::Bookmarks;
use snarvel_core::verbs::scene::counted;
use snarvel_files::load::Encoding;
use snarvel_files::save::{Rights, Written};
use std::path::Path;

impl App {
    /// Opens `path`, or shows it where it is open already.
    pub fn open(&mut self, path: &Path) {
        let path = self.folder.join(path);
        self.note_opened(&path);
        if let Some(index) = self.documents.iter().position(|document| document.home == Home::File(path.clone())) {
            self.current = index;
            return;
        }
        if self.safety.is_kept() {
            let waker = self.waker.clone();
            if let Some(document) = Document::begin(&path, self.settings.manner, move || waker.wake()) {
                self.show_document(document);
                return;
            }
        }
        match Document::open(&path, self.settings.manner) {
            Ok(mut document) => {
                self.store.iter().for_each(|store| store.mark(&mut document));
                self.marked_again(&mut document);
                self.begin_journal(&mut document);
                let lines = document.editor.text().real_line_count();
                let is_new = !path.exists();
                self.show_document(document);
                let what = if is_new { "a new file".to_owned() } else { counted(lines, "line") };
                let warning = self.document().warning.clone();
                self.say(warning.unwrap_or_else(|| format!("{}: {what}", self.document().name())));
                self.ask_about_left();
            }
            Err(error) => self.say(error.to_string()),
        }
    }

    /// Takes in what has come of files that are being read.
    pub(super) fn gather_loading(&mut self) {
        for index in 0..self.documents.len() {
            match self.documents[index].gather() {
                Ok(false) => {}
                Ok(true) => self.all_is_there(index),
                Err(error) => self.say(error.to_string()),
            }
        }
    }

    /// All of a file is there that was being read: now it can be edited.
    fn all_is_there(&mut self, index: usize) {
        let mut document = std::mem::replace(&mut self.documents[index], Document::untitled(self.settings.manner));
        self.store.iter().for_each(|store| store.mark(&mut document));
        self.begin_journal(&mut document);
        let (wanted, lines, name) = (document.wanted.take(), document.editor.text().real_line_count(), document.name());
        self.documents[index] = document;
        self.say(format!("{name}: {}", counted(lines, "line")));
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
        let Home::File(path) = &closed.home else { return };
        let text = closed.editor.text();
        let marked = closed.editor.bookmarks().lines(text).map(|line| (line, words_of(text, line))).collect();
        self.marked_when_closed.retain(|(each, _)| each != path);
        self.marked_when_closed.push((path.clone(), marked));
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

    pub(super) fn save(&mut self, then: Option<Matter>) {
        if self.document().loading.is_some() {
            self.say("the file is still being read: nothing of it has changed");
            return;
        }
        match self.document().home.clone() {
            Home::File(path) => self.save_to(&path, then),
            Home::None => self.ask_name(then),
            Home::Pipe => {
                self.document_mut().editor.mark_saved();
                self.say("the text goes to standard output at the end");
            }
        }
    }

    pub(super) fn ask_name(&mut self, then: Option<Matter>) {
        self.panel = Some(Panel::SaveAs(SaveAs { then, ..SaveAs::default() }));
    }

    pub(super) fn save_to(&mut self, path: &Path, then: Option<Matter>) {
        if !self.writes {
            self.document_mut().editor.mark_saved();
            self.say("not written: only played");
            return;
        }
        if self.may_write(path, then) {
            self.write_to(path, then, false);
        }
    }

    /// Writes the current text to `path`, whatever that holds; also where its rights say that nobody does, if
    /// `is_protected`.
    pub(super) fn write_to(&mut self, path: &Path, then: Option<Matter>, is_protected: bool) {
        let (now_ms, usual) = (self.now_ms, self.settings.tidy);
        let rights = if is_protected { Rights::Passed } else { Rights::Minded };
        let result = self.document_mut().write_to(path, usual, now_ms, rights);
        match result {
            Ok(written) => {
                let index = self.current;
                self.settle_with_disk(index);
                let bytes = self.document().editor.text().len();
                let how = if written == Written::InPlace { ", in place" } else { "" };
                self.say(format!("saved {}: {}{how}", self.document().name(), counted(bytes, "byte")));
                if let Some(matter) = then {
                    self.go_on(matter);
                }
            }
            Err(error) => self.tell_failure(&error, then),
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

    pub(super) fn save_all(&mut self) {
        let here = self.current;
        let mut saved = 0;
        for index in 0..self.documents.len() {
            if self.documents[index].is_unsaved() {
                self.current = index;
                self.save(None);
                if self.panel.is_some() || self.documents[index].is_unsaved() {
                    return;
                }
                saved += 1;
            }
        }
        self.current = here;
        self.say(format!("saved {}", counted(saved, "file")));
    }

    pub(super) fn unsaved_names(&self, matter: Matter) -> Vec<String> {
        let counts = |index: usize| matter == Matter::Quit || index == self.current;
        let unsaved = self.documents.iter().enumerate().filter(|(index, each)| counts(*index) && each.is_unsaved());
        unsaved.map(|(_, document)| document.name()).collect()
    }

    pub(super) fn close(&mut self) {
        self.go_on(Matter::Close);
    }

    pub(super) fn quit(&mut self) {
        self.go_on(Matter::Quit);
    }

    /// Closes or quits, once nothing would be lost by it.
    pub(super) fn go_on(&mut self, matter: Matter) {
        let names = self.unsaved_names(matter);
        if names.is_empty() {
            self.leave(matter);
        } else {
            self.panel = Some(Panel::Question(Question { matter, names }));
        }
    }

    pub(super) fn leave(&mut self, matter: Matter) {
        if matter == Matter::Quit || self.document().home == Home::Pipe {
            self.done = true;
            return;
        }
        let mut closed = self.documents.remove(self.current);
        self.end_journal(&mut closed);
        self.places.closed(&closed);
        self.note_marks(&closed);
        if self.documents.is_empty() {
            let mut document = Document::untitled(self.settings.manner);
            self.begin_journal(&mut document);
            self.documents.push(document);
        }
        self.current = self.current.min(self.documents.len() - 1);
    }
}
