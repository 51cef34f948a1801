//! The strip: the open files, the current one marked by a sign, changed ones by a dot; the project at the right.

use super::layout::Area;
use super::{fill, put, width};
use crate::app::App;
use crate::palette::Role;
use ratatui::buffer::Buffer;
use ratatui::style::Modifier;

/// The longest name that is shown whole, in cells.
const LONGEST_NAME: u16 = 40;

pub(super) fn draw(app: &App, area: Area, buffer: &mut Buffer) {
    if area.rows == 0 {
        return;
    }
    fill(buffer, area, app.palette.style(Role::Raised));
    let project = format!("{}  snarvel ", app.project);
    let project_x = area.cols.saturating_sub(width(&project));
    let mut x = 1;
    for index in shown(app, project_x.saturating_sub(4)) {
        x = name(app, area, index, x, buffer);
    }
    if x + 2 < project_x {
        let end = put(buffer, area, project_x, &app.project, app.palette.style(Role::Raised));
        put(buffer, area, end + 2, "snarvel", app.palette.style(Role::RaisedQuiet));
    }
}

fn name(app: &App, area: Area, index: usize, x: u16, buffer: &mut Buffer) -> u16 {
    let document = &app.documents[index];
    let is_current = index == app.current;
    let style = app.palette.style(if is_current { Role::Raised } else { Role::RaisedQuiet });
    let sign = app.palette.style(Role::Raised).patch(app.palette.style(Role::PrimarySign));
    let mut x = put(buffer, area, x, if is_current { "▸ " } else { "  " }, sign);
    let style = if is_current { style.add_modifier(Modifier::BOLD) } else { style };
    x = put(buffer, area, x, &shortened(&document.name()), style);
    if document.is_unsaved() {
        x = put(buffer, area, x, " ●", sign);
    }
    if document.fate.is_some() {
        x = put(buffer, area, x, " ≠ disk", app.palette.style(Role::Raised).patch(app.palette.style(Role::Removed)));
    }
    if document.read_only {
        x = put(buffer, area, x, " read-only", app.palette.style(Role::RaisedQuiet));
    }
    x + 2
}

fn name_width(app: &App, index: usize) -> u16 {
    let document = &app.documents[index];
    let extra = if document.is_unsaved() { 2 } else { 0 } + if document.read_only { 10 } else { 0 };
    let extra = extra + if document.fate.is_some() { 7 } else { 0 };
    width(&shortened(&document.name())) + 4 + extra
}

/// The files that there is room for: the current one and as many around it as fit.
fn shown(app: &App, room: u16) -> Vec<usize> {
    let mut left = room.saturating_sub(name_width(app, app.current));
    let mut shown = vec![app.current];
    let others = (0..app.documents.len()).filter(|index| *index != app.current);
    let mut by_distance: Vec<usize> = others.collect();
    by_distance.sort_by_key(|index| index.abs_diff(app.current));
    for index in by_distance {
        let Some(rest) = left.checked_sub(name_width(app, index)) else { break };
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
