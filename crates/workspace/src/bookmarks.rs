//! Bookmarks over files: those of the open files, and those that closed files of the project keep.

use crate::buffer::names::words_of;
use crate::editing::Effects;
use crate::ids::BufferId;
use crate::kept::Marked;
use crate::workspace::Workspace;
use snarvel_core::bookmarks::Bookmarks;
use snarvel_core::cursors::CursorSet;
use snarvel_core::text::place::{LineColumn, Place};
use snarvel_core::units::{Direction, Line};
use snarvel_core::verbs::scene::counted;
use std::path::{Path, PathBuf};

/// The file that a bookmark is in.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum MarkedFile {
    /// One that is open.
    Open(BufferId),
    /// One that is closed, by its path from the root.
    Closed(PathBuf),
}

/// A bookmark of any file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FileBookmark {
    /// The file.
    pub file: MarkedFile,
    /// Its line. That of a closed file is the one that it had when the file was closed.
    pub line: Line,
    /// The beginning of the line's text.
    pub words: String,
}

impl Workspace {
    /// All bookmarks: the open files in the order of their tabs, then the closed files of the project by their paths. Cost: linear in
    /// the bookmarks.
    #[must_use]
    pub fn all_bookmarks(&self) -> Vec<FileBookmark> {
        let mut all = Vec::new();
        for buffer in self.buffers() {
            let text = buffer.text();
            let mark =
                |line: Line| FileBookmark { file: MarkedFile::Open(buffer.id), line, words: words_of(text, line) };
            all.extend(buffer.bookmarks().lines(text).map(mark));
        }
        let mut closed: Vec<&Marked> = self.closed_marks().collect();
        closed.sort_by(|one, other| one.0.cmp(&other.0));
        for (path, lines) in closed {
            let mark = |marked: &crate::kept::MarkedLine| FileBookmark {
                file: MarkedFile::Closed(path.clone()),
                line: marked.line(),
                words: marked.words().to_owned(),
            };
            all.extend(lines.iter().map(mark));
        }
        all
    }

    /// The bookmarks of closed files of the project: as they were closed in this run, else as they were kept before.
    fn closed_marks(&self) -> impl Iterator<Item = &Marked> {
        let closed = &self.keeping.closed;
        let kept = self.keeping.marked.iter().flatten();
        let kept = kept.filter(|(path, _)| closed.iter().all(|(other, _)| other != path));
        let is_open = |path: &Path| self.buffers().iter().any(|buffer| buffer.is_of(path));
        closed.iter().chain(kept).filter(move |(path, _)| path.starts_with(&self.project.folder) && !is_open(path))
    }

    /// Shows the file of a bookmark with the caret on its line.
    pub fn go_to_bookmark(&mut self, mark: &FileBookmark) {
        self.places.is_asked_for = true;
        match &mark.file {
            MarkedFile::Open(id) => {
                self.show(*id);
                let (buffer, view) = self.active_pair_mut();
                let line = mark.line.min(buffer.text().last_line());
                view.set_cursors(buffer, CursorSet::caret(buffer.text().indentation_span(line).end));
            }
            MarkedFile::Closed(path) => {
                self.open(path);
                self.go_to_place(Place::At(LineColumn { line: mark.line.0 + 1, column: 1 }));
            }
        }
    }

    /// Goes `times` bookmarks on: in this file, then in the next file that has one. After the last it begins again.
    pub fn go_bookmarks(&mut self, direction: Direction, times: u32) -> Effects {
        (0..times.max(1)).fold(Effects::default(), |_, _| self.go_to_next_bookmark(direction))
    }

    fn go_to_next_bookmark(&mut self, direction: Direction) -> Effects {
        let all = self.all_bookmarks();
        let text = self.active().text();
        let here = (self.active_index(), text.line_of(self.view().cursors().primary().head));
        let place = |mark: &FileBookmark| {
            let tab = match &mark.file {
                MarkedFile::Open(id) => self.buffers().iter().position(|buffer| buffer.id == *id),
                MarkedFile::Closed(_) => None,
            };
            (tab.unwrap_or(usize::MAX), mark.line)
        };
        let found = match direction {
            Direction::Forward => all.iter().position(|mark| place(mark) > here).or(Some(0)),
            Direction::Back => all.iter().rposition(|mark| place(mark) < here).or(all.len().checked_sub(1)),
        };
        let Some((index, mark)) = found.and_then(|index| Some((index, all.get(index)?))) else {
            return Effects { is_refused: true, ..Effects::saying("there is no bookmark") };
        };
        if place(mark) == here {
            return Effects { is_refused: true, ..Effects::saying("this is the only bookmark") };
        }
        let is_other_file = place(mark).0 != here.0;
        self.go_to_bookmark(mark);
        let said = format!("bookmark {} of {}", index + 1, all.len());
        Effects::saying(if is_other_file { format!("{said}: {}", self.active().name()) } else { said })
    }

    /// Removes a bookmark.
    pub fn clear_bookmark(&mut self, mark: &FileBookmark) {
        match &mark.file {
            MarkedFile::Open(id) => {
                let Some(buffer) = self.buffer_mut(*id) else { return };
                let others: Vec<Line> =
                    buffer.bookmarks().lines(buffer.text()).filter(|line| *line != mark.line).collect();
                let others = Bookmarks::on(buffer.text(), others);
                buffer.set_bookmarks(&others);
            }
            MarkedFile::Closed(path) => {
                let kept = self.closed_marks().find(|(other, _)| other == path).cloned();
                let mut lines = kept.map(|(_, lines)| lines).unwrap_or_default();
                lines.retain(|line| line.line() != mark.line || line.words() != mark.words);
                self.keeping.replace_marks(path, lines);
            }
        }
    }

    /// Removes all bookmarks of the open files and of the project.
    pub(crate) fn clear_all_bookmarks(&mut self) -> Effects {
        let all = self.all_bookmarks();
        all.iter().for_each(|mark| self.clear_bookmark(mark));
        match all.len() {
            0 => Effects { is_refused: true, ..Effects::saying("there is no bookmark") },
            count => Effects::saying(format!("{} cleared", counted(count, "bookmark"))),
        }
    }
}
