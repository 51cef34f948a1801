//! What was open in a folder: opened again, and taken out to be kept.

use crate::arrival::{Arrival, OpenFile};
use crate::buffer::Buffer;
use crate::kept::{Kept, Session, Store, marked_in};
use crate::workspace::Workspace;
use std::path::Path;

impl Workspace {
    /// Opens what was open in the folder when it was left last; nothing where `store` does not know that.
    pub fn restore(&mut self, store: &Store) {
        let Some(session) = store.session(&self.project.folder) else { return };
        let mut opened = Vec::new();
        for file in session.files.into_iter().filter(|file| file.path.is_file()) {
            let id = self.open_unnoted(&file.path);
            let (buffer, view) = self.active_pair_mut();
            view.go(buffer, Arrival::Session(file));
            opened.push(id);
        }
        let current = opened.get(session.current).or(opened.last());
        current.into_iter().for_each(|id| self.show(*id));
        self.told.message = None;
    }

    /// Takes over what is known of the folder: files opened lately, and patterns.
    pub fn recall(&mut self, store: &Store) {
        if let Some(session) = store.session(&self.project.folder) {
            self.project.recent = session.recent;
            self.searches.past = session.patterns;
        }
    }

    /// What `store` is to keep.
    pub(crate) fn kept_in(&self, store: &Store) -> Kept {
        // The bookmarks of a text that is still being read are not known yet, nor are any before what was kept is read: to write
        // them then would lose those that are there.
        let is_known = self.keeping.marked.is_some();
        let whole = self.buffers.iter().filter(|buffer| is_known && !buffer.is_partial());
        let open = whole.filter_map(|buffer| Some((buffer.path()?.to_owned(), marked_in(buffer))));
        let is_open = |path: &Path| self.buffers.iter().any(|buffer| buffer.is_of(path));
        let closed = self.keeping.closed.iter().filter(|(path, _)| !is_open(path)).cloned();
        let session = self.project.keeps_session.then(|| self.session());
        let recipes = &self.past.recipes;
        let unfiled = (recipes.unfiled.changes() > 0).then(|| recipes.unfiled.clone());
        let signs = &self.past.signs;
        let signs = (signs.changes > 0).then(|| signs.recent.clone());
        Kept { store: store.clone(), marked: open.chain(closed).collect(), session, unfiled, signs }
    }

    fn session(&self) -> Session {
        let view_of = |buffer: &Buffer| self.views.iter().find(|view| view.buffer == buffer.id);
        let files: Vec<OpenFile> =
            self.buffers.iter().filter_map(|buffer| OpenFile::of(buffer, view_of(buffer)?)).collect();
        let here = self.active().path();
        Session {
            folder: self.project.folder.clone(),
            current: files.iter().position(|file| Some(file.path.as_path()) == here).unwrap_or(0),
            files,
            recent: self.project.recent.clone(),
            patterns: self.searches.past.clone(),
        }
    }
}
