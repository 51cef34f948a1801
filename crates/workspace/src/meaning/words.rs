//! Uses of a name by the text of the files: as a whole word, told apart by code, string and comment.

use super::finding::{By, Finding};
use crate::event::Payload;
use crate::state::meaning::{Inquiry, Stage};
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_core::search::pattern::{Case, Edges, Form, Pattern, Query};
use snarvel_files::search::{FolderNews, SearchScope, search_in_background};
use snarvel_task::waits;
use std::path::PathBuf;
use std::sync::Arc;

/// What is looked for to find `name` as a whole word.
#[must_use]
pub fn whole_word(name: &str) -> Option<Arc<Pattern>> {
    let query = Query { what: name.to_owned(), form: Form::Literal, case: Case::Exact, edges: Edges::WholeWords };
    Pattern::new(query).ok().map(Arc::new)
}

impl Workspace {
    /// Begins to look through the files of the project.
    pub(crate) fn look_for_uses(&mut self, inquiry: Inquiry) {
        let Some(pattern) = whole_word(&inquiry.name) else {
            let finding = inquiry.nothing(By::Text);
            return self.finish(&inquiry, finding);
        };
        let open = self.open_texts().into_iter().map(|(path, open)| (path, open.text)).collect();
        let scope = SearchScope { folder: self.project.folder.clone(), open };
        let about = About::new("looking for uses").awaited(waits::SEARCH);
        let task = self.tasks.start(about, Payload::Used, |sink| search_in_background(&pattern, scope, sink));
        let stage = Stage::Search(task, Vec::new());
        self.past.meaning.asked.inquiries.push(Inquiry { stage, ..inquiry });
    }

    /// More uses were found.
    pub(crate) fn take_used(&mut self, task: crate::ids::TaskId, news: FolderNews) {
        for inquiry in &mut self.past.meaning.asked.inquiries {
            if let Stage::Search(search, found) = &mut inquiry.stage
                && search.id == task
            {
                found.extend(news.files);
                return;
            }
        }
    }

    /// All files were looked through.
    pub(crate) fn take_used_end(&mut self, task: crate::ids::TaskId) {
        let list = &mut self.past.meaning.asked.inquiries;
        let is_it = |each: &Inquiry| matches!(&each.stage, Stage::Search(search, _) if search.id == task);
        let Some(at) = list.iter().position(is_it) else { return };
        let mut inquiry = list.remove(at);
        let Stage::Search(_, files) = std::mem::replace(&mut inquiry.stage, Stage::Index) else { return };
        let own = self.buffer(inquiry.buffer).and_then(|buffer| buffer.path()).map(PathBuf::from);
        let own = own.and_then(|path| path.strip_prefix(&self.project.folder).ok().map(PathBuf::from));
        let mut files = files;
        // The file that was asked from comes first.
        files.sort_by_key(|file| Some(&file.path) != own.as_ref());
        let finding = Finding { files, ..inquiry.nothing(By::Text) };
        self.finish(&inquiry, finding);
    }
}
