//! What a verb is to work with.

use super::line::{Entry, InputLine};
use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{put, wrapped};
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use snarvel_workspace::command::Command;
use snarvel_workspace::registry::Verb;

/// Who has asked for the argument.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum AskedBy {
    /// A key of the verb.
    Key,
    /// Lookup: the verb is remembered as what was run last from there.
    Lookup,
}

/// A verb and its argument so far.
#[derive(Debug)]
pub struct ArgumentPanel {
    /// The verb.
    pub verb: &'static Verb,
    /// How many times it is to run.
    pub count: Option<u32>,
    /// What was typed so far.
    pub line: InputLine,
    /// Who has asked for it.
    pub asked_by: AskedBy,
}

/// Rows for what the verb takes.
const TAKES_ROWS: u16 = 2;

impl ArgumentPanel {
    fn given(&self, argument: &str, context: &mut Context) -> PanelAction {
        match Command::read(self.verb, argument) {
            Ok(command) => PanelAction::Run(Command { count: self.count, ..command }),
            Err(wrong) => {
                context.say(wrong.to_string());
                PanelAction::Stay
            }
        }
    }
}

impl Panel for ArgumentPanel {
    fn rows(&self, _context: &Context) -> u16 {
        2 + TAKES_ROWS
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        // One character is one key.
        if self.verb.arguments.is_character() && key.code != KeyCode::Esc {
            return key.typed().map_or(PanelAction::Stay, |c| self.given(&c.to_string(), context));
        }
        // Nothing typed is what the verb does by itself, where it can do that.
        if key.code == KeyCode::Enter && self.line.text.is_empty() {
            return match Command::read(self.verb, "") {
                Ok(command) => PanelAction::Run(Command { count: self.count, ..command }),
                Err(_) => PanelAction::Stay,
            };
        }
        match self.line.enter(key) {
            Entry::Left => PanelAction::Close,
            Entry::Given => self.given(&self.line.text, context),
            Entry::Typing => PanelAction::Stay,
        }
    }

    fn paste(&mut self, typed: &str, _context: &mut Context) -> PanelAction {
        self.line.insert(typed);
        PanelAction::Stay
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let defaults: Vec<String> =
            self.verb.arguments.defaults().map(|(name, value)| format!("{name} {value}")).collect();
        let default = match defaults.is_empty() {
            true => String::new(),
            false => format!("  (else {})", defaults.join(", ")),
        };
        painter.line(self.verb.label, &self.line, grid);
        let takes = format!("takes {}{default}", self.verb.arguments.shown());
        let rows = wrapped(&takes, painter.area.cols.saturating_sub(2));
        for (y, line) in rows.iter().take(usize::from(TAKES_ROWS)).enumerate() {
            put(grid, (painter.row(1 + y as u16), 1), line, painter.style(Role::RaisedQuiet));
        }
        painter.keys(&[("Enter", self.verb.name), ("Ctrl+U", "empty the line"), ("Esc", "leave it")], grid);
    }
}
