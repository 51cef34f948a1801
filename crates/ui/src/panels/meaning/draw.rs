//! How the panel of a name is drawn: the faces and what they know it from above, places at the left, their text beside, documentation
//! below the definition.

use super::{FACES, Known, MeaningPanel, Row};
use crate::palette::Role;
use crate::panels::painter::Painter;
use crate::screen::canvas::{Area, put, width, wrapped};
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_workspace::registry::action::Face;

impl MeaningPanel {
    pub(super) fn draw_all(&self, painter: &Painter, grid: &mut Grid) {
        heading(self, painter, grid);
        if self.face == Face::Description {
            text(painter, self.description(), 1, grid);
        } else {
            list(self, painter, grid);
            documentation(self, painter, grid);
            self.beside.draw(painter, grid);
        }
        painter.keys(keys(self.face), grid);
    }
}

fn keys(face: Face) -> &'static [(&'static str, &'static str)] {
    match face {
        Face::Definition => &[
            ("Enter", "go there (on it: uses)"),
            ("↑ ↓", "choose"),
            ("Ctrl+D", "uses"),
            ("letters", "narrow"),
            ("Esc", "leave"),
        ],
        Face::Uses => &[
            ("Enter", "go there"),
            ("↑ ↓", "choose"),
            ("Alt+B", "cursors"),
            ("Alt+P", "pins"),
            ("Ctrl+D", "relations"),
            ("letters", "narrow"),
            ("Esc", "leave"),
        ],
        Face::Relations => &[
            ("Enter", "go there"),
            ("↑ ↓", "choose"),
            ("Ctrl+D", "definition"),
            ("letters", "narrow"),
            ("Esc", "leave"),
        ],
        Face::Description => &[("Ctrl+D", "definition"), ("Esc", "leave")],
    }
}

/// The name, the faces with the one that is shown marked, and what it is known from.
fn heading(panel: &MeaningPanel, painter: &Painter, grid: &mut Grid) {
    let row = painter.row(0);
    let mut x = put(grid, (row, 1), &panel.name, painter.style(Role::KeyCap)) + 2;
    for face in FACES {
        let name = match face {
            Face::Definition => "definition",
            Face::Uses => "uses",
            Face::Relations => "relations",
            Face::Description => "description",
        };
        let is_shown = face == panel.face;
        let (sign, role) = if is_shown { ("▸", Role::Raised) } else { (" ", Role::RaisedQuiet) };
        x = put(grid, (row, x), sign, painter.style(Role::PrimarySign));
        x = put(grid, (row, x), name, painter.style(role)) + 1;
    }
    let letters = &panel.chooser.line.text;
    if !letters.is_empty() {
        x = put(grid, (row, x + 1), letters, painter.style(Role::Raised)) + 1;
    }
    let by = match panel.known(panel.face) {
        Known::Found(finding) if !finding.is_empty() => finding.by.told(),
        Known::Asked(_) => "asking …".to_owned(),
        Known::Found(_) | Known::Nothing => String::new(),
    };
    let start = row.cols.saturating_sub(width(&by) + 1);
    if start > x + 1 {
        put(grid, (row, start), &by, painter.style(Role::RaisedQuiet));
    }
}

fn list(panel: &MeaningPanel, painter: &Painter, grid: &mut Grid) {
    painter
        .list(&panel.chooser, grid, |index, room, style, grid| row(painter, &panel.rows[index], (room, style), grid));
    if panel.rows.is_empty()
        && let Some(finding) = panel.finding()
    {
        painter.hint(&finding.topic.nothing(&finding.name), grid);
    }
}

fn row(painter: &Painter, row: &Row, (room, style): (Area, Style), grid: &mut Grid) {
    let quiet = painter.over(style, Role::RaisedQuiet);
    if row.place.is_none() {
        let x = put(grid, (room, 0), &row.text, painter.over(style, Role::Function)) + 2;
        put(grid, (room, x), &row.note, quiet);
        return;
    }
    let indentation = 2 * row.depth as u16;
    let is_use = row.note.starts_with(|c: char| c.is_ascii_digit());
    if is_use {
        let x = put(grid, (room, indentation), &format!("{:<12}", row.note), quiet) + 1;
        excerpt(painter, row, (room, x, style), grid);
    } else {
        let note_x = room.cols.saturating_sub(width(&row.note));
        let cut = Area { cols: note_x.saturating_sub(1), ..room };
        excerpt(painter, row, (cut, indentation, style), grid);
        put(grid, (room, note_x), &row.note, quiet);
    }
}

/// The line of a place, its name marked.
fn excerpt(painter: &Painter, row: &Row, (room, x, style): (Area, u16, Style), grid: &mut Grid) {
    let part = |from: usize, to: usize| row.text.get(from..to.max(from)).unwrap_or_default();
    let x = put(grid, (room, x), part(0, row.within.start), style);
    let x = put(grid, (room, x), part(row.within.start, row.within.end), painter.over(style, Role::KeyCap));
    put(grid, (room, x), part(row.within.end, row.text.len()), style);
}

/// What is written about the name, below its definitions.
fn documentation(panel: &MeaningPanel, painter: &Painter, grid: &mut Grid) {
    if panel.face == Face::Definition {
        let below = 2 + panel.chooser.shown.len().min(4) as u16;
        text(painter, panel.description(), below, grid);
    }
}

/// A text in rows from `first` on, as wide as the list.
fn text(painter: &Painter, text: &str, first: u16, grid: &mut Grid) {
    let cols = painter.list_cols().saturating_sub(4);
    let last = painter.area.rows.saturating_sub(1);
    let mut y = first;
    let (mut is_code, mut was_blank) = (false, true);
    for line in text.lines() {
        if line.trim_start().starts_with("```") {
            is_code = !is_code;
            continue;
        }
        let is_blank = line.trim().is_empty();
        if std::mem::replace(&mut was_blank, is_blank) && is_blank {
            continue;
        }
        let role = if is_code { Role::Function } else { Role::RaisedQuiet };
        let shown = if is_code { vec![line.to_owned()] } else { wrapped(&plain(line), cols) };
        for line in shown {
            if y >= last {
                return;
            }
            let row = Area { cols: cols + 3, ..painter.row(y) };
            put(grid, (row, 3), &line, painter.style(role));
            y += 1;
        }
    }
}

/// A line of Markdown without the marks of headings, emphasis and code.
fn plain(line: &str) -> String {
    let line = line.trim_start_matches('#').trim_start();
    line.replace("**", "").replace('`', "").replace("\\_", "_")
}
