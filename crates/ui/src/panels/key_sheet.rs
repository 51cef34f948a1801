//! The name of the file for the drawing of the keyboard.

use super::line::{Entry, InputLine};
use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crate::sheet::{self, Paper};
use ratatui::buffer::Buffer as Grid;
use snarvel_workspace::project::Writing;

/// The file for the key sheet.
#[derive(Debug)]
pub struct KeySheetPanel {
    /// The path so far.
    pub line: InputLine,
}

impl Default for KeySheetPanel {
    fn default() -> KeySheetPanel {
        KeySheetPanel { line: InputLine::holding("keys.pdf") }
    }
}

impl KeySheetPanel {
    fn draw_keys(&self, context: &mut Context) {
        let path = context.workspace.project.folder.join(&self.line.text);
        if context.workspace.project.writing == Writing::Nothing {
            context.say("not drawn: only played");
            return;
        }
        let keymap = context.keyboard.keymap.clone();
        context.workspace.begin_operation(None, move || match sheet::write_keys(&keymap, &path, Paper::A4) {
            Ok(()) => Ok(format!("the keys are drawn in {}", path.display())),
            Err(error) => Err(format!("{error:#}")),
        });
    }
}

impl Panel for KeySheetPanel {
    fn rows(&self, _context: &Context) -> u16 {
        2
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match self.line.enter(key) {
            Entry::Typing => return PanelAction::Stay,
            Entry::Left => {}
            Entry::Given => self.draw_keys(context),
        }
        PanelAction::Close
    }

    fn paste(&mut self, typed: &str, _context: &mut Context) -> PanelAction {
        self.line.insert(typed);
        PanelAction::Stay
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        painter.line("draw the keys into", &self.line, grid);
        painter.keys(&[("Enter", "draw: .svg or .pdf"), ("Ctrl+U", "empty the line"), ("Esc", "leave it")], grid);
    }
}
