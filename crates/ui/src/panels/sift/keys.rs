//! What keys do in sift.

use super::query::{Focus, Scope};
use super::{SiftPanel, Wanted};
use crate::keys::Key;
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_core::units::Direction;

/// How far a page goes.
const PAGE: usize = 10;

impl SiftPanel {
    /// What a key asks for, after what it changes here.
    pub(super) fn wanted(&mut self, key: Key) -> Option<Wanted> {
        if let Some(wanted) = self.switch(key) {
            return Some(wanted);
        }
        if let Some(wanted) = self.step(key) {
            return Some(wanted);
        }
        self.lines.line().press(key).then(|| self.typed())
    }

    /// Another text was typed.
    pub(super) fn typed(&mut self) -> Wanted {
        self.in_history = None;
        match self.lines.focus {
            Focus::Find => Wanted::Search,
            Focus::Put => Wanted::Preview,
        }
    }

    /// Keys that switch something, or act on all hits.
    fn switch(&mut self, key: Key) -> Option<Wanted> {
        let KeyCode::Char(c) = key.code else { return None };
        match (key.mods, c) {
            (KeyModifiers::CONTROL, 'f') => self.turn_scope(),
            (KeyModifiers::CONTROL, 'z') => return Some(Wanted::TakeBack),
            (KeyModifiers::ALT, 'e') => self.switches.turn_form(),
            (KeyModifiers::ALT, 'w') => self.switches.turn_edges(),
            (KeyModifiers::ALT, 'c') => self.switches.turn_case(),
            (KeyModifiers::ALT, 's') => self.switches.turn_shape(),
            (KeyModifiers::ALT, '1'..='3') => {
                let kind = c as usize - '1' as usize;
                self.switches.kinds[kind] = !self.switches.kinds[kind];
            }
            (KeyModifiers::ALT, 'x') => return Some(Wanted::LeaveOut),
            (KeyModifiers::ALT, 'b') => return Some(Wanted::Cursors),
            (KeyModifiers::ALT, 'p') => return Some(Wanted::Pins),
            _ => return None,
        }
        Some(Wanted::Search)
    }

    fn turn_scope(&mut self) {
        self.switches.scope = match self.switches.scope {
            Scope::Selections => Scope::File,
            Scope::File => Scope::Project,
            Scope::Project if self.selections.is_empty() => Scope::File,
            Scope::Project => Scope::Selections,
        };
    }

    /// Keys that go from hit to hit, or from line to line.
    fn step(&mut self, key: Key) -> Option<Wanted> {
        let alt = key.mods == KeyModifiers::ALT;
        let len = self.found.count();
        let index = self.choice.index;
        let lines = &mut self.lines;
        let next = match key.code {
            KeyCode::Tab => {
                lines.focus = if lines.focus == Focus::Find { Focus::Put } else { Focus::Find };
                lines.is_replacing = true;
                return Some(Wanted::Preview);
            }
            KeyCode::Up if alt => return Some(Wanted::History(1)),
            KeyCode::Down if alt => return Some(Wanted::History(-1)),
            KeyCode::Enter if alt && lines.is_replacing => return Some(Wanted::ReplaceAll),
            KeyCode::Enter if lines.focus == Focus::Put => return Some(Wanted::ReplaceOne),
            KeyCode::Enter => return Some(Wanted::Go),
            KeyCode::Up | KeyCode::Down | KeyCode::PageUp | KeyCode::PageDown if len == 0 => return None,
            KeyCode::Up => (index + len - 1) % len,
            KeyCode::Down => (index + 1) % len,
            KeyCode::PageUp => index.saturating_sub(PAGE),
            KeyCode::PageDown => (index + PAGE).min(len - 1),
            _ => return None,
        };
        // From the first hit, up leads to the last one; a page up does not.
        let direction = match key.code {
            KeyCode::Up => Direction::Back,
            KeyCode::PageUp if next > 0 => Direction::Back,
            _ => Direction::Forward,
        };
        self.choice = super::Choice { index: self.found.stop(next, direction), first_from: None };
        Some(Wanted::Show)
    }
}
