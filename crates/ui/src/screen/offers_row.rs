//! The row of offers at the foot: up to nine, numbered, each with what it is and where it is from.

use super::canvas::{Area, fill, put, width};
use crate::context::Context;
use crate::palette::Role;
use crate::panels::offers::told;
use ratatui::buffer::Buffer as Grid;

/// So many have a number.
const MOST: usize = 9;

/// Draws the row, if something is offered.
pub fn draw(context: &Context, row: Area, grid: &mut Grid) {
    let Some(shown) = context.workspace.offers() else { return };
    let palette = &context.look.palette;
    let raised = palette.style(Role::Raised);
    fill(grid, row, raised);
    // The chosen one is among those that are seen.
    let page = shown.chosen / MOST * MOST;
    let more = shown.list.len() - (page + MOST).min(shown.list.len());
    let hint = if more > 0 { format!("{more} more  Ctrl+K all") } else { "Ctrl+K all".to_owned() };
    let held = if page == 0 { "Alt+" } else { "    " };
    let mut x = put(grid, (row, 1), held, palette.style(Role::RaisedQuiet));
    let room = row.cols.saturating_sub(width(&hint) + 2);
    for (index, candidate) in shown.list.iter().enumerate().skip(page).take(MOST) {
        let told = told(candidate);
        let number = if page == 0 { (index + 1).to_string() } else { String::new() };
        let is_chosen = index == shown.chosen;
        let needed = width(&number) + width(&candidate.text) + width(&told) + 4;
        if x + needed > room && index > page && !is_chosen {
            break;
        }
        let style = if is_chosen { raised.patch(palette.style(Role::Selection)) } else { raised };
        let sign = if is_chosen { "▸" } else { " " };
        let cut = Area { cols: room.max(x), ..row };
        x = put(grid, (cut, x), sign, raised.patch(palette.style(Role::PrimarySign)));
        x = put(grid, (cut, x), &number, raised.patch(palette.style(Role::KeyCap)));
        x = put(grid, (cut, x), " ", raised);
        x = put(grid, (cut, x), &candidate.text, style);
        x = put(grid, (cut, x), " ", raised);
        x = put(grid, (cut, x), &told, palette.style(Role::RaisedQuiet)) + 1;
    }
    put(grid, (row, row.cols.saturating_sub(width(&hint) + 1)), &hint, palette.style(Role::RaisedQuiet));
}
