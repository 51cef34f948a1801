//! Whether a command that is new in this folder may run.

use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{harmless, put};
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;

/// A command that is asked about.
#[derive(Debug)]
pub struct MayRun {
    /// The command.
    pub command: String,
}

impl Panel for MayRun {
    fn rows(&self, _context: &Context) -> u16 {
        3
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match (key.code, key.typed()) {
            (KeyCode::Esc, _) | (_, Some('n')) => context.say("not run: nothing has changed"),
            (_, Some('y')) => {
                let effects = context.workspace.allow_command(&self.command);
                context.follow(effects);
            }
            _ => return PanelAction::Stay,
        }
        PanelAction::Close
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let project = &painter.context.workspace.project.name;
        let question = format!(
            "This command is new in {project}. Run it? What is selected is given to it and replaced by what it writes."
        );
        put(grid, (painter.row(0), 1), &question, painter.style(Role::Raised));
        put(grid, (painter.row(1), 3), &harmless(&self.command), painter.style(Role::KeyCap));
        painter.keys(&[("y", "run it, and do not ask again here"), ("Esc", "leave it")], grid);
    }
}
