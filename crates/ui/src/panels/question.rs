//! What to do with unsaved changes before something goes.

use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::put;
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use snarvel_workspace::ask::PendingExit;

/// What to do with unsaved changes.
#[derive(Debug)]
pub struct Question {
    /// What is about to happen.
    pub exit: PendingExit,
    /// The texts with unsaved changes.
    pub names: Vec<String>,
}

/// How many names are told.
const NAMES_TOLD: usize = 6;

impl Panel for Question {
    fn rows(&self, _context: &Context) -> u16 {
        2
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match (key.code, key.typed()) {
            (KeyCode::Esc, _) => {}
            (_, Some('s')) => context.workspace.save_and(self.exit),
            (_, Some('d')) => context.workspace.leave(self.exit),
            _ => return PanelAction::Stay,
        }
        PanelAction::Close
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let told = self.names.iter().take(NAMES_TOLD).cloned().collect::<Vec<_>>().join(", ");
        let names = match self.names.len() {
            0..=NAMES_TOLD => told,
            all => format!("{told} and {} more", all - NAMES_TOLD),
        };
        let has = if self.names.len() == 1 { "has" } else { "have" };
        let what = if self.exit == PendingExit::Quit { "leaving" } else { "closing" };
        let text = format!("{names} {has} changes that are not saved. What before {what}?");
        put(grid, (painter.row(0), 1), &text, painter.style(Role::Raised));
        painter.keys(&[("s", "save them"), ("d", "lose them"), ("Esc", "stay here")], grid);
    }
}
