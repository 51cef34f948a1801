//! Two forms of a text to choose from: what was left behind by a crash, or what another program has written.

use super::{Answer, Matter};
use crate::differences::Row;
use crate::keys::Key;
use crossterm::event::KeyCode;

/// What the choice is about.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum About {
    /// Work that was left behind is there; whether the file has changed since.
    Recovery {
        /// Whether the file holds something else than what was edited.
        is_stale: bool,
    },
    /// The file holds something else than when it was opened; and what is to be done after a save.
    Outside(Option<Matter>),
    /// A file of that name is there already; and what is to be done after a save.
    Over(Option<Matter>),
    /// The file may not be written; and what is to be done after a save.
    ReadOnly(Option<Matter>),
}

/// What was chosen.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Choice {
    /// What was left behind, or what the file holds now.
    Take,
    /// What was left behind is thrown away.
    Drop,
    /// What is here is written, whatever the file holds or its rights say.
    Write,
}

/// Two forms of a text.
#[derive(Debug)]
pub struct DiffPanel {
    /// What it is about.
    pub about: About,
    /// What it says above.
    pub title: String,
    /// What differs.
    pub rows: Vec<Row>,
    /// The first row in view.
    pub top: usize,
}

/// How far a page goes.
const PAGE: usize = 10;

impl DiffPanel {
    /// Takes a key.
    pub(super) fn press(&mut self, key: Key) -> Answer {
        let last = self.rows.len().saturating_sub(1);
        self.top = match key.code {
            KeyCode::Up => self.top.saturating_sub(1),
            KeyCode::Down => (self.top + 1).min(last),
            KeyCode::PageUp => self.top.saturating_sub(PAGE),
            KeyCode::PageDown => (self.top + PAGE).min(last),
            _ => self.top,
        };
        match (self.about, key.typed()) {
            (About::Recovery { .. } | About::Outside(_), Some('t')) => Answer::Choose(Choice::Take),
            (About::Recovery { .. }, Some('d')) => Answer::Choose(Choice::Drop),
            (About::Outside(_), Some('w')) | (About::ReadOnly(_) | About::Over(_), Some('y')) => {
                Answer::Choose(Choice::Write)
            }
            _ => Answer::None,
        }
    }
}
