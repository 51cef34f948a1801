//! The tab bar: the open files, the current one marked by a sign, changed ones by a dot; the project at the right.

use super::canvas::{Area, fill, harmless, put, width};
use crate::context::Context;
use crate::palette::Role;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Modifier;
use snarvel_workspace::buffer::Buffer;
use std::path::Path;

/// The longest name that is shown whole, in cells.
const LONGEST_NAME: u16 = 40;

/// Draws the tab bar.
pub fn draw(context: &Context, area: Area, grid: &mut Grid) {
    if area.rows == 0 {
        return;
    }
    fill(grid, area, context.look.palette.style(Role::Raised));
    let project = format!("{}  snarvel ", context.workspace.project.name);
    let project_x = area.cols.saturating_sub(width(&project));
    let count = context.workspace.buffers().len();
    let more = |hidden: usize| format!("+{hidden} more  ");
    let room = project_x.saturating_sub(4);
    let mut names = shown(context, room);
    if names.len() < count {
        names = shown(context, room.saturating_sub(width(&more(count))));
    }
    let hidden = count - names.len();
    let mut x = 1;
    for index in names {
        x = name(context, (area, x), index, grid);
    }
    if hidden > 0 {
        x = put(grid, (area, x), &more(hidden), context.look.palette.style(Role::RaisedQuiet));
    }
    if x + 2 < project_x {
        let end =
            put(grid, (area, project_x), &context.workspace.project.name, context.look.palette.style(Role::Raised));
        put(grid, (area, end + 2), "snarvel", context.look.palette.style(Role::RaisedQuiet));
    }
}

fn name(context: &Context, (area, x): (Area, u16), index: usize, grid: &mut Grid) -> u16 {
    let buffer = &context.workspace.buffers()[index];
    let is_current = index == context.workspace.active_index();
    let style = context.look.palette.style(if is_current { Role::Raised } else { Role::RaisedQuiet });
    let sign = context.look.palette.style(Role::Raised).patch(context.look.palette.style(Role::PrimarySign));
    let mut x = put(grid, (area, x), if is_current { "▸ " } else { "  " }, sign);
    let style = if is_current { style.add_modifier(Modifier::BOLD) } else { style };
    x = put(grid, (area, x), &shortened(&named(context, buffer)), style);
    if context.workspace.is_in_convoy(buffer.id) {
        x = put(grid, (area, x), " ⇉", sign);
    }
    if buffer.is_unsaved() {
        x = put(grid, (area, x), " ●", sign);
    }
    if buffer.saved.status.is_some() {
        x = put(
            grid,
            (area, x),
            " ≠ disk",
            context.look.palette.style(Role::Raised).patch(context.look.palette.style(Role::Removed)),
        );
    }
    if buffer.saved.read_only {
        x = put(grid, (area, x), " read-only", context.look.palette.style(Role::RaisedQuiet));
    }
    x + 2
}

/// The name of a text; with its folder where another one has the same name.
fn named(context: &Context, buffer: &Buffer) -> String {
    let name = buffer.name();
    let is_shared = context.workspace.buffers().iter().any(|other| other.id != buffer.id && other.name() == name);
    let folder = buffer.path().filter(|_| is_shared).and_then(Path::parent).and_then(Path::file_name);
    folder.map_or(name.clone(), |folder| format!("{}/{name}", harmless(&folder.to_string_lossy())))
}

fn name_width(context: &Context, buffer: &Buffer) -> u16 {
    let is_together = context.workspace.is_in_convoy(buffer.id);
    let signs =
        [(buffer.is_unsaved(), 2), (is_together, 2), (buffer.saved.read_only, 10), (buffer.saved.status.is_some(), 7)];
    let signs: u16 = signs.iter().filter(|(is_there, _)| *is_there).map(|(_, cols)| cols).sum();
    width(&shortened(&named(context, buffer))) + 4 + signs
}

/// The files that there is room for: the current one and as many around it as fit.
fn shown(context: &Context, room: u16) -> Vec<usize> {
    let (buffers, current) = (context.workspace.buffers(), context.workspace.active_index());
    let mut left = room.saturating_sub(name_width(context, &buffers[current]));
    let mut shown = vec![current];
    let mut by_distance: Vec<usize> = (0..buffers.len()).filter(|index| *index != current).collect();
    by_distance.sort_by_key(|index| index.abs_diff(current));
    for index in by_distance {
        let Some(rest) = left.checked_sub(name_width(context, &buffers[index])) else { break };
        left = rest;
        shown.push(index);
    }
    shown.sort_unstable();
    shown
}

/// A very long name keeps its start and its ending.
fn shortened(name: &str) -> String {
    if width(name) <= LONGEST_NAME {
        return name.to_owned();
    }
    let characters: Vec<char> = name.chars().collect();
    let head: String = characters[..characters.len().min(24)].iter().collect();
    let tail: String = characters[characters.len().saturating_sub(12)..].iter().collect();
    format!("{head}…{tail}")
}
