//! The name of the file that a text is saved to.

use super::line::{Entry, InputLine};
use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use ratatui::buffer::Buffer as Grid;
use snarvel_workspace::ask::PendingExit;
use snarvel_workspace::ids::BufferId;

/// A name to save under.
#[derive(Debug)]
pub struct SaveAs {
    /// The text.
    pub buffer: BufferId,
    /// The path so far.
    pub line: InputLine,
    /// What is to happen afterwards.
    pub then: Option<PendingExit>,
}

impl Panel for SaveAs {
    fn rows(&self, _context: &Context) -> u16 {
        2
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match self.line.enter(key) {
            Entry::Typing => return PanelAction::Stay,
            Entry::Left => {}
            Entry::Given => {
                let path = context.workspace.project.folder.join(&self.line.text);
                context.workspace.save_to(self.buffer, &path, self.then);
            }
        }
        PanelAction::Close
    }

    fn paste(&mut self, typed: &str, _context: &mut Context) -> PanelAction {
        self.line.insert(typed);
        PanelAction::Stay
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        painter.line("save as", &self.line, grid);
        painter.keys(&[("Enter", "save"), ("Ctrl+U", "empty the line"), ("Esc", "leave it")], grid);
    }
}
