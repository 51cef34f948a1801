//! What a program in a terminal has drawn, on our screen: its cells in our colours.

use super::canvas::{Area, fill, harmless, put, width};
use crate::context::Context;
use crate::palette::Role;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_shell::picture::{Colour, Look, Picture, Run};
use snarvel_workspace::shells::told_exit;
use snarvel_workspace::state::shells::Shell;

/// Draws the name of a program, how it is, and what it has drawn: the last of its rows where there is no room for all.
pub fn draw(context: &Context, shell: &Shell, (area, has_keys): (Area, bool), grid: &mut Grid) {
    if area.rows == 0 {
        return;
    }
    let raised = context.look.palette.style(Role::Raised);
    fill(grid, area, raised);
    head(context, shell, (Area { rows: 1, ..area }, has_keys), grid);
    let body = Area { y: area.y + 1, rows: area.rows - 1, ..area };
    let picture = shell.session.picture();
    let first = first_row(&picture, body.rows);
    for (y, row) in picture.rows.iter().skip(usize::from(first)).take(usize::from(body.rows)).enumerate() {
        draw_row(context, row, Area { y: body.y + y as u16, rows: 1, ..body }, grid);
    }
    if let Some([row, col]) = picture.cursor.filter(|_| has_keys && shell.is_running())
        && let Some(y) = row.checked_sub(first).filter(|y| *y < body.rows)
        && col < body.cols
    {
        let cell = &mut grid[(body.x + col, body.y + y)];
        cell.set_style(context.look.palette.style(Role::Primary));
    }
}

/// The first row of a picture that is shown where only so many rows are.
#[must_use]
pub fn first_row(picture: &Picture, rows: u16) -> u16 {
    let is_full = |row: &Vec<Run>| row.iter().any(|run| !run.text.trim().is_empty());
    let last = picture.rows.iter().rposition(is_full).map_or(0, |row| row as u16 + 1);
    let last = last.max(picture.cursor.map_or(0, |[row, _]| row + 1));
    last.saturating_sub(rows)
}

fn head(context: &Context, shell: &Shell, (row, has_keys): (Area, bool), grid: &mut Grid) {
    let palette = &context.look.palette;
    let on = |role: Role| Style { bg: palette.style(Role::Raised).bg, ..palette.style(role) };
    let mark = if has_keys { "▸ " } else { "  " };
    let mut x = put(grid, (row, 0), mark, on(Role::PrimarySign));
    let name = if has_keys { Role::KeyCap } else { Role::RaisedQuiet };
    x = put(grid, (row, x), &harmless(&shell.name), on(name)) + 2;
    let shells = context.workspace.shells();
    let index = shells.iter().position(|each| each.id == shell.id).unwrap_or(0);
    let picture = shell.session.picture();
    let mut told = Vec::new();
    if shells.len() > 1 {
        told.push(format!("{} of {}", index + 1, shells.len()));
    }
    match &shell.exit {
        Some(exit) => told.push(told_exit(exit)),
        None if !picture.title.is_empty() && has_keys => told.push(harmless(&picture.title)),
        None => {}
    }
    if picture.scrolled > 0 {
        told.push(format!("{} rows back", picture.scrolled));
    }
    let told = told.join(" · ");
    put(grid, (row, x), &told, on(Role::RaisedQuiet));
    let keys = if has_keys { "Ctrl+\\ back to the text · Ctrl+PgUp scrolls" } else { "Ctrl+\\ keys to it" };
    let start = row.cols.saturating_sub(width(keys) + 1);
    if start > x + width(&told) + 1 {
        put(grid, (row, start), keys, on(Role::RaisedQuiet));
    }
}

fn draw_row(context: &Context, row: &[Run], area: Area, grid: &mut Grid) {
    let mut x = 0;
    for run in row {
        if x >= area.cols {
            return;
        }
        let room = Area { x: area.x + x, cols: run.cells.min(area.cols - x), ..area };
        let style = style_of(context, &run.look);
        fill(grid, room, style);
        put(grid, (room, 0), &run.text, style);
        x += run.cells;
    }
}

fn style_of(context: &Context, look: &Look) -> Style {
    let palette = &context.look.palette;
    let plain = palette.style(Role::Raised);
    let colour = |colour: Colour| match colour {
        Colour::Default => None,
        Colour::Indexed(index) => palette.indexed(index),
        Colour::Rgb(red, green, blue) => palette.rgb([red, green, blue]),
    };
    let (fore, back) = (colour(look.fore).or(plain.fg), colour(look.back).or(plain.bg));
    let mut style = Style { fg: fore, bg: back, ..plain };
    let attributes = [
        (look.bold, ratatui::style::Modifier::BOLD),
        (look.dim, ratatui::style::Modifier::DIM),
        (look.italic, ratatui::style::Modifier::ITALIC),
        (look.underlined, ratatui::style::Modifier::UNDERLINED),
        (look.inverse, ratatui::style::Modifier::REVERSED),
    ];
    for (is_on, attribute) in attributes {
        if is_on {
            style = style.add_modifier(attribute);
        }
    }
    style
}
