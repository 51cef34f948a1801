//! Two forms of a text to choose from: what a crash left, or what another program has written. What differs is told
//! line by line, by sign and colour.

use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::put;
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use snarvel_core::verbs::scene::counted;
use snarvel_workspace::ask::{AskAbout, Choice, Comparison};
use snarvel_workspace::differences::Row;

/// Two forms of a text.
#[derive(Debug)]
pub struct DifferencePanel {
    /// What is asked.
    pub asked: Comparison,
    /// The first row in view.
    pub top: usize,
}

/// How far a page goes.
const PAGE: usize = 10;

impl DifferencePanel {
    fn scroll(&mut self, key: Key) {
        let last = self.asked.rows.len().saturating_sub(1);
        self.top = match key.code {
            KeyCode::Up => self.top.saturating_sub(1),
            KeyCode::Down => (self.top + 1).min(last),
            KeyCode::PageUp => self.top.saturating_sub(PAGE),
            KeyCode::PageDown => (self.top + PAGE).min(last),
            _ => self.top,
        };
    }

    fn keys(&self) -> &'static [(&'static str, &'static str)] {
        match self.asked.about {
            AskAbout::Recovery(_) => {
                &[("t", "take it"), ("d", "drop it"), ("↑ ↓", "look"), ("Esc", "ask again next time")]
            }
            AskAbout::Outside(_) => &[
                ("w", "write yours over it"),
                ("t", "take what the file holds"),
                ("↑ ↓", "look"),
                ("Esc", "go on editing"),
            ],
            AskAbout::Over(..) => &[("y", "write over it"), ("↑ ↓", "look"), ("Esc", "leave it")],
            AskAbout::ReadOnly(_) => &[("y", "write it all the same"), ("Esc", "leave it")],
        }
    }
}

impl Panel for DifferencePanel {
    fn rows(&self, context: &Context) -> u16 {
        (self.asked.rows.len().min(usize::from(u16::MAX)) as u16).saturating_add(2).min(context.look.size.rows / 2)
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        if key.code == KeyCode::Esc {
            return PanelAction::Close;
        }
        let choice = match (&self.asked.about, key.typed()) {
            (AskAbout::Recovery(_) | AskAbout::Outside(_), Some('t')) => Choice::Take,
            (AskAbout::Recovery(_), Some('d')) => Choice::Discard,
            (AskAbout::Outside(_), Some('w')) | (AskAbout::ReadOnly(_) | AskAbout::Over(..), Some('y')) => {
                Choice::Write
            }
            _ => {
                self.scroll(key);
                return PanelAction::Stay;
            }
        };
        context.workspace.choose(&self.asked, choice);
        PanelAction::Close
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        put(grid, (painter.row(0), 1), &self.asked.title, painter.style(Role::Changed));
        let rows = usize::from(painter.area.rows.saturating_sub(2));
        for (index, row) in self.asked.rows.iter().skip(self.top).take(rows).enumerate() {
            let area = painter.row(1 + index as u16);
            let (sign, text, role) = match row {
                Row::Same(line) => (" ", line.clone(), Role::RaisedQuiet),
                Row::Gone(line) => ("−", line.clone(), Role::Removed),
                Row::Come(line) => ("+", line.clone(), Role::Added),
                Row::LeftOut(lines) => ("", format!("… {} the same", counted(*lines, "line")), Role::RaisedQuiet),
            };
            let x = put(grid, (area, 1), sign, painter.style(role)) + 1;
            put(grid, (area, x.max(3)), &text.replace('\t', "    "), painter.style(role));
        }
        painter.keys(self.keys(), grid);
    }
}
