//! The outline: what a text consists of. Moving through it shows the place; Enter goes there, Esc goes back to what was
//! in view.

use super::Answer;
use super::chooser::{Chooser, Order, Pressed};
use crate::document::{Document, View};
use crate::keys::Key;
use crossterm::event::KeyCode;
use snarvel_core::outline::{By, outline};
use snarvel_core::units::Line;
use snarvel_core::verbs::clip::Clip;
use std::borrow::Cow;

/// Something that the text consists of.
#[derive(Debug)]
pub struct Row {
    /// The line with which it begins.
    pub line: Line,
    /// How many others it lies in.
    pub depth: usize,
    /// What is written there.
    pub head: String,
}

/// What a text consists of, to go to one of it.
#[derive(Debug)]
pub struct OutlinePanel {
    /// All of it, in order.
    pub rows: Vec<Row>,
    /// What that was told by.
    pub by: By,
    /// The letters so far, and what they leave to choose from.
    pub chooser: Chooser,
    /// What was in view before.
    pub before: View,
}

impl OutlinePanel {
    /// What `document` consists of; the entry in which the primary caret stands is chosen.
    pub fn of(document: &Document) -> OutlinePanel {
        let editor = &document.editor;
        let (entries, by) = editor.with_scene(&Clip::default(), outline);
        let head = |span| editor.text().slice(span).split_whitespace().collect::<Vec<_>>().join(" ");
        let rows: Vec<Row> = entries
            .into_iter()
            .map(|entry| Row { line: entry.line, depth: entry.depth, head: head(entry.head) })
            .collect();
        let here = editor.text().line_of(editor.cursors().primary().head);
        let chosen = rows.partition_point(|row| row.line <= here).saturating_sub(1);
        let mut panel = OutlinePanel { rows, by, chooser: Chooser::new(Order::BestFirst), before: document.view };
        panel.filter();
        panel.chooser.choose(chosen);
        panel
    }

    /// The line that is chosen.
    pub fn line(&self) -> Option<Line> {
        self.chooser.index().map(|index| self.rows[index].line)
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
            return self.line().map_or(Answer::None, Answer::GoToLine);
        }
        match self.chooser.press(key) {
            Pressed::Nothing => Answer::None,
            Pressed::Moved => self.look(),
            Pressed::Typed => {
                self.filter();
                self.look()
            }
        }
    }

    /// Takes pasted text.
    pub(super) fn paste(&mut self, typed: &str) {
        self.chooser.line.text.push_str(typed);
        self.filter();
    }
}
