//! The row above a text where there are several: its name and place. The one with the keys is told by a sign and by weight, not by
//! colour alone.

use super::canvas::{Area, fill, put, width};
use super::layout::Pane;
use super::status_line::place;
use crate::context::Context;
use crate::palette::Role;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Modifier;

/// Draws the head of `pane`, if it has one.
pub fn draw(context: &Context, pane: &Pane, grid: &mut Grid) {
    if pane.head.rows == 0 {
        return;
    }
    let palette = &context.look.palette;
    let has_keys = pane.view == context.workspace.views.focus();
    let (buffer, view) = context.workspace.shown(pane.view);
    let style = palette.style(if has_keys { Role::Raised } else { Role::RaisedQuiet });
    fill(grid, pane.head, style);
    let sign = palette.style(Role::Raised).patch(palette.style(Role::PrimarySign));
    put(grid, (pane.head, 1), if has_keys { "▸" } else { " " }, sign);
    let at = place(buffer, view);
    let at_x = pane.head.cols.saturating_sub(width(&at) + 2);
    let names = Area { cols: at_x.saturating_sub(1), ..pane.head };
    let name = if has_keys { style.add_modifier(Modifier::BOLD) } else { style };
    let x = put(grid, (names, 3), &buffer.name(), name);
    if buffer.is_unsaved() {
        put(grid, (names, x), " ●", sign);
    }
    put(grid, (pane.head, at_x), &at, palette.style(Role::RaisedQuiet));
}
