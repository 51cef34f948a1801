//! Going: what a text consists of, its bookmarks, and lines by their number. Moving through the list shows the place; Enter
//! goes there, Esc goes back to what was in view.

use super::Answer;
use super::chooser::{Chooser, Order, Pressed};
use crate::document::{Document, View};
use crate::keys::Key;
use crossterm::event::KeyCode;
use snarvel_core::outline::{By, outline};
use snarvel_core::units::Line;
use snarvel_core::verbs::clip::Clip;
use snarvel_core::verbs::moves::place_meant;
use std::borrow::Cow;

/// What is offered to go to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Offer {
    /// What the text consists of.
    Outline,
    /// That, bookmarks, and lines by their number.
    Everything,
}

/// Something to go to.
#[derive(Debug)]
pub struct Row {
    /// The line with which it begins.
    pub line: Line,
    /// How many others it lies in.
    pub depth: usize,
    /// What is written there.
    pub head: String,
    /// Whether it is a bookmark.
    pub is_bookmark: bool,
}

/// Places to go to one of them.
#[derive(Debug)]
pub struct OutlinePanel {
    /// What is offered.
    pub offer: Offer,
    /// All of it, in order.
    pub rows: Vec<Row>,
    /// What the outline was told by.
    pub by: By,
    /// The letters so far, and what they leave to choose from.
    pub chooser: Chooser,
    /// What was in view before.
    pub before: View,
    here: Line,
    /// The last line.
    pub last: Line,
    /// Whether another one was chosen than at first.
    is_moved: bool,
}

impl OutlinePanel {
    /// What `document` offers; the entry in which the primary caret stands is chosen.
    pub fn of(document: &Document, offer: Offer) -> OutlinePanel {
        let editor = &document.editor;
        let text = editor.text();
        let (entries, by) = editor.with_scene(&Clip::default(), outline);
        let words = |content: &str| match content.trim() {
            "" => "(blank line)".to_owned(),
            content => content.split_whitespace().collect::<Vec<_>>().join(" "),
        };
        let marked = editor.bookmarks().lines(text).filter(|_| offer == Offer::Everything);
        let bookmark = |line: Line| Row { line, depth: 0, head: words(&text.content(line)), is_bookmark: true };
        let mut rows: Vec<Row> = marked.map(bookmark).collect();
        let bookmarks = rows.len();
        rows.extend(entries.into_iter().map(|entry| Row {
            line: entry.line,
            depth: entry.depth,
            head: words(&text.slice(entry.head)),
            is_bookmark: false,
        }));
        let here = text.line_of(editor.cursors().primary().head);
        let chosen = bookmarks + rows[bookmarks..].partition_point(|row| row.line <= here).saturating_sub(1);
        let mut panel = OutlinePanel {
            offer,
            rows,
            by,
            chooser: Chooser::new(Order::BestFirst),
            before: document.view,
            here,
            last: text.last_line(),
            is_moved: false,
        };
        panel.filter();
        panel.chooser.choose(chosen);
        panel
    }

    /// Offers what is known of `document` now, when more is than before; letters typed and what is chosen stay.
    pub fn refresh(&mut self, document: &Document) {
        let fresh = OutlinePanel::of(document, self.offer);
        if fresh.by == self.by && fresh.rows.len() == self.rows.len() {
            return;
        }
        let chosen = self.chooser.index().map(|index| self.rows[index].line).filter(|_| self.is_moved);
        let usual = fresh.chooser.index().filter(|_| self.chooser.line.text.is_empty());
        (self.rows, self.by) = (fresh.rows, fresh.by);
        self.filter();
        let again = chosen.and_then(|line| self.rows.iter().position(|row| row.line == line));
        again.or(usual).into_iter().for_each(|index| self.chooser.choose(index));
    }

    /// The line that is meant by its number.
    pub fn numbered(&self) -> Option<Line> {
        let typed = self.chooser.line.text.trim();
        let meant = place_meant(typed, self.here, self.last).filter(|_| self.offer == Offer::Everything);
        meant.map(|(line, _)| Line(line).min(self.last))
    }

    /// The line that is chosen.
    pub fn line(&self) -> Option<Line> {
        self.numbered().or_else(|| self.chooser.index().map(|index| self.rows[index].line))
    }

    fn filter(&mut self) {
        self.chooser.filter(self.rows.iter().map(|row| Cow::Borrowed(row.head.as_str())));
    }

    fn look(&self) -> Answer {
        self.line().map_or(Answer::None, Answer::ShowLine)
    }

    /// Takes a key.
    pub(super) fn press(&mut self, key: Key) -> Answer {
        if key.code == KeyCode::Enter {
            return match self.numbered() {
                Some(_) => Answer::Run("go-to-line", self.chooser.line.text.trim().to_owned()),
                None => self.line().map_or(Answer::None, Answer::GoToLine),
            };
        }
        let bookmark = self.chooser.index().filter(|index| self.rows[*index].is_bookmark);
        if let (KeyCode::Delete, Some(index)) = (key.code, bookmark) {
            let line = self.rows.remove(index).line;
            let chosen = self.chooser.chosen;
            self.filter();
            self.chooser.chosen = chosen.min(self.chooser.shown.len().saturating_sub(1));
            return Answer::ClearBookmark(line);
        }
        match self.chooser.press(key) {
            Pressed::Nothing => Answer::None,
            Pressed::Moved => {
                self.is_moved = true;
                self.look()
            }
            Pressed::Typed => {
                self.is_moved = false;
                self.filter();
                self.look()
            }
        }
    }

    /// Takes pasted text.
    pub(super) fn paste(&mut self, typed: &str) -> Answer {
        self.chooser.line.insert(typed);
        self.filter();
        self.look()
    }
}
