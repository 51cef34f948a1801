//! Opening, saving, closing: the files side of the application.

use super::App;
use crate::document::{Document, Home};
use crate::panels::open::Opening;
use crate::panels::{Matter, Panel, Question, SaveAs};
use snarvel_core::verbs::scene::counted;
use snarvel_files::folder::files_below;
use snarvel_files::save::Written;
use std::path::Path;

/// How many files the open panel gathers: it opens at once in any project.
const MOST_FILES: usize = 50_000;

impl App {
    /// Opens `path`, or shows it where it is open already.
    pub fn open(&mut self, path: &Path) {
        let path = self.folder.join(path);
        if let Some(index) = self.documents.iter().position(|document| document.home == Home::File(path.clone())) {
            self.current = index;
            return;
        }
        match Document::open(&path, self.settings.manner) {
            Ok(document) => {
                let lines = document.editor.text().real_line_count();
                let is_new = !path.exists();
                self.show_document(document);
                let what = if is_new { "a new file".to_owned() } else { counted(lines, "line") };
                let warning = self.document().warning.clone();
                self.say(warning.unwrap_or_else(|| format!("{}: {what}", self.document().name())));
            }
            Err(error) => self.say(error.to_string()),
        }
    }

    /// Shows `document`, in the place of an empty one without a home.
    pub(super) fn show_document(&mut self, document: Document) {
        let is_spare = |old: &Document| old.home == Home::None && old.editor.text().is_empty() && !old.is_unsaved();
        if is_spare(self.document()) && document.home != Home::None {
            self.documents[self.current] = document;
        } else {
            self.current += 1;
            self.documents.insert(self.current, document);
        }
    }

    pub(super) fn save(&mut self, then: Option<Matter>) {
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
        let now_ms = self.now_ms;
        let result = {
            let usual = self.settings.tidy;
            self.document_mut().save_to(path, usual, now_ms)
        };
        match result {
            Ok(written) => {
                let bytes = self.document().editor.text().len();
                let how = if written == Written::InPlace { ", in place" } else { "" };
                self.say(format!("saved {}: {}{how}", self.document().name(), counted(bytes, "byte")));
                if let Some(matter) = then {
                    self.go_on(matter);
                }
            }
            Err(error) => self.say(error.to_string()),
        }
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
        let closed = self.documents.remove(self.current);
        self.places.closed(&closed);
        if self.documents.is_empty() {
            self.documents.push(Document::untitled(self.settings.manner));
        }
        self.current = self.current.min(self.documents.len() - 1);
    }

    /// Offers the files of the folder.
    pub fn ask_for_file(&mut self) {
        self.panel = Some(Panel::Open(Opening::of(files_below(&self.folder, MOST_FILES))));
    }
}
