//! The last keys in large words, for an audience: the newest at the right, on a band of three rows.

use super::canvas::{Area, fill, put, width};
use crate::context::Context;
use crate::palette::Role;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Modifier;

/// Rows of the band.
pub const ROWS: u16 = 3;

/// Draws the presses that there is room for.
pub fn draw(context: &Context, area: Area, grid: &mut Grid) {
    let Some(shown) = context.look.presenting.shown.as_ref().filter(|_| area.rows > 0) else { return };
    let palette = &context.look.palette;
    let ground = palette.style(Role::Raised);
    fill(grid, area, ground);
    let middle = Area { y: area.y + area.rows / 2, rows: 1, ..area };
    if shown.is_empty() {
        put(grid, (middle, 2), "the keys that you press are shown here", palette.style(Role::RaisedQuiet));
        return;
    }
    let mut right = area.cols.saturating_sub(1);
    for (index, press) in shown.iter().rev().enumerate() {
        let (key, did) = press.told();
        let (key_cols, did_cols) = (width(&key) + 4, width(&did) + 4);
        let Some(x) = right.checked_sub(key_cols + did_cols) else { return };
        let cap = match index {
            0 => palette.style(Role::ShapeBadge),
            _ => ground.patch(palette.style(Role::Selection)).add_modifier(Modifier::BOLD),
        };
        fill(grid, Area { x: area.x + x, cols: key_cols, ..area }, cap);
        put(grid, (middle, x + 2), &key, cap);
        let style = if index == 0 { ground.add_modifier(Modifier::BOLD) } else { palette.style(Role::RaisedQuiet) };
        put(grid, (middle, x + key_cols + 1), &did, style);
        right = x;
    }
}
