//! What the mouse does in the application.

use super::App;
use crate::mouse::Mouse;
use crate::panels::shell::ShellPanel;
use snarvel_core::units::Byte;
use snarvel_workspace::command::Command;
use std::any::Any;

impl App {
    pub(super) fn point(&mut self, mouse: Mouse) {
        let frame = self.frame();
        if self.panel.is_some() && frame.panel.holds(mouse.cell) {
            let cell = [mouse.cell[0] - frame.panel.x, mouse.cell[1] - frame.panel.y];
            let takes_wheel = self.takes_wheel();
            self.with_panel(|panel, context| panel.point(mouse, cell, context));
            if takes_wheel || mouse.wheel().is_none() {
                return;
            }
        }
        if let Some(lines) = mouse.wheel() {
            self.scroll(lines);
            return;
        }
        if self.panel.is_some() {
            return;
        }
        let hit = frame.panes.iter().find_map(|pane| {
            let shown = self.context.workspace.shown(pane.view);
            Some((pane, pane.place_under(shown, mouse.cell)?))
        });
        let Some((pane, at)) = hit else { return };
        self.context.workspace.told.message = None;
        if mouse.is_press() {
            self.context.workspace.views.focus_on(pane.view);
        } else if pane.view != self.context.workspace.views.focus() {
            return;
        }
        let is_fold = mouse.is_plain_click() && self.open_fold(pane.text.x, (mouse.cell, at));
        if !is_fold {
            let primary = self.context.workspace.view().cursors().primary();
            let command = self.mouse.command(mouse, at, primary);
            if let Some((action, times)) = self.context.run(&command) {
                self.act_on(action, times);
            }
            if mouse.asks_for_definition() {
                self.perform(&Command::named("definition"));
            }
        }
    }

    /// Whether the wheel over the open panel is the panel's.
    fn takes_wheel(&self) -> bool {
        self.panel.as_deref().is_some_and(|panel| <dyn Any>::is::<ShellPanel>(panel))
    }

    /// Opens the fold whose mark is under a cell on the line of a place; whether there was one.
    fn open_fold(&mut self, text_x: u16, ([x, _], at): ([u16; 2], Byte)) -> bool {
        let (buffer, view) = self.context.workspace.active_pair_mut();
        let line = buffer.text().line_of(at);
        let map = view.row_map(buffer);
        let row = map.row_at(at);
        let cell = view.scroll.left.0 + u32::from(x.saturating_sub(text_x));
        let is_after = row.ends(buffer.text()) && cell > map.column_of(&row, row.span.end);
        is_after && view.open_fold(buffer, line)
    }
}
