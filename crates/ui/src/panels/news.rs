//! Something to be told; any key goes on.

use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::put;
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;

/// Something to be told.
#[derive(Debug)]
pub struct News {
    /// What it is about.
    pub title: String,
    /// What there is to say.
    pub lines: Vec<String>,
}

impl Panel for News {
    fn rows(&self, _context: &Context) -> u16 {
        self.lines.len() as u16 + 2
    }

    fn press(&mut self, key: Key, _context: &mut Context) -> PanelAction {
        if key.code == KeyCode::Esc { PanelAction::Close } else { PanelAction::PassOn(key) }
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        put(grid, (painter.row(0), 1), &self.title, painter.style(Role::RaisedQuiet));
        let room = painter.area.rows.saturating_sub(2);
        for (index, line) in self.lines.iter().take(usize::from(room)).enumerate() {
            put(grid, (painter.row(1 + index as u16), 3), line, painter.style(Role::Raised));
        }
        painter.keys(&[("any key", "goes on"), ("Esc", "only closes this")], grid);
    }
}
