//! The roster while it takes keys: all cursors, to be gone through, dropped, kept by letters.

use super::Answer;
use super::Line as InputLine;
use crate::document::Document;
use crate::keys::Key;
use crossterm::event::KeyCode;
use snarvel_core::cursors::Selection;
use snarvel_core::units::Span;
use snarvel_core::verbs::clip::Clip;
use snarvel_core::verbs::selects::stands_in;
use std::collections::HashSet;

/// The cursors, to be gone through.
#[derive(Debug)]
pub struct RosterPanel {
    /// The letters so far.
    pub line: InputLine,
    /// The cursors whose lines hold those letters, in the order of the text.
    pub shown: Vec<usize>,
    /// Which of those is chosen.
    pub chosen: usize,
    /// The cursors that are to be dropped.
    pub dropped: HashSet<usize>,
    /// The function or the like that the chosen one stands in.
    pub within: Option<String>,
    /// What stands on the lines of all cursors; gathered when letters are typed.
    lines: Vec<String>,
}

/// How far a page goes.
const PAGE: usize = 10;

/// How much of a line the letters are looked for in, in bytes.
const BYTES_SEARCHED: usize = 1_000;

impl RosterPanel {
    /// The cursors of `document`; the primary one is chosen.
    pub fn of(document: &Document) -> RosterPanel {
        let cursors = document.editor.cursors();
        RosterPanel {
            line: InputLine::default(),
            shown: (0..cursors.len()).collect(),
            chosen: cursors.primary_index(),
            dropped: HashSet::new(),
            within: within(document, cursors.primary()),
            lines: cursors.iter().map(|each| line_of(document, each)).collect(),
        }
    }

    /// The chosen cursor.
    pub fn index(&self) -> Option<usize> {
        self.shown.get(self.chosen).copied()
    }

    fn filter(&mut self) {
        let wanted = &self.line.text;
        let any_case = !wanted.chars().any(char::is_uppercase);
        let holds = |line: &String| match any_case {
            true => line.to_lowercase().contains(wanted.as_str()),
            false => line.contains(wanted.as_str()),
        };
        let before = self.index();
        self.shown = (0..self.lines.len()).filter(|&index| holds(&self.lines[index])).collect();
        self.chosen = self.shown.iter().position(|index| Some(*index) == before).unwrap_or(0);
    }

    fn lead(&self) -> Answer {
        self.index().map_or(Answer::None, Answer::Lead)
    }

    /// Takes in where the chosen cursor stands.
    pub fn look_around(&mut self, document: &Document) {
        let chosen = self.index().and_then(|index| document.editor.cursors().list().get(index).copied());
        self.within = chosen.and_then(|each| within(document, each));
    }

    /// Takes a key.
    pub(super) fn press(&mut self, key: Key) -> Answer {
        let last = self.shown.len().saturating_sub(1);
        match key.code {
            KeyCode::Up => self.chosen = self.chosen.saturating_sub(1),
            KeyCode::Down => self.chosen = (self.chosen + 1).min(last),
            KeyCode::PageUp => self.chosen = self.chosen.saturating_sub(PAGE),
            KeyCode::PageDown => self.chosen = (self.chosen + PAGE).min(last),
            KeyCode::Home => self.chosen = 0,
            KeyCode::End => self.chosen = last,
            KeyCode::Char(' ') => {
                let chosen = self.index();
                chosen.into_iter().for_each(|index| {
                    if !self.dropped.remove(&index) {
                        self.dropped.insert(index);
                    }
                });
                self.chosen = (self.chosen + 1).min(last);
            }
            KeyCode::Enter => return self.kept_of(&self.shown),
            KeyCode::Char('`') => return self.kept_of(&(0..self.lines.len()).collect::<Vec<usize>>()),
            _ if self.line.press(key) => self.filter(),
            _ => return Answer::None,
        }
        self.lead()
    }

    /// Those of `list` that are not to be dropped; all of them where none would be left.
    fn kept_of(&self, list: &[usize]) -> Answer {
        Answer::Keep(list.iter().copied().filter(|index| !self.dropped.contains(index)).collect())
    }

    /// Takes pasted text.
    pub(super) fn paste(&mut self, typed: &str) {
        self.line.text.push_str(typed);
        self.filter();
    }
}

fn within(document: &Document, each: Selection) -> Option<String> {
    document.editor.with_scene(&Clip::default(), |scene| stands_in(scene, each.start()))
}

/// What stands on the line of a cursor's head.
fn line_of(document: &Document, each: Selection) -> String {
    let text = document.editor.text();
    let content = text.content_span(text.line_of(each.head));
    let end = text.snap_back(content.end.min(content.start + BYTES_SEARCHED));
    text.slice(Span::new(content.start, end.max(content.start))).into_owned()
}
