//! The outline: a row for each function, type or section, as deep as it lies; above stands the text at the chosen one.

use super::Painter;
use crate::palette::Role;
use crate::panels::outline::OutlinePanel;
use crate::screen::put;
use ratatui::buffer::Buffer;
use snarvel_core::outline::By;

/// Cells for each level.
const LEVEL: usize = 2;

impl Painter<'_> {
    pub(super) fn outline(&self, outline: &OutlinePanel, buffer: &mut Buffer) {
        let label = match outline.by {
            By::Structure => "outline",
            By::Indentation => "outline by indentation",
        };
        self.line(label, &outline.chooser.line.text, buffer);
        self.count(outline.chooser.shown.len(), outline.rows.len(), buffer);
        let digits = outline.rows.last().map_or(1, |row| (row.line.0 + 1).ilog10() as usize + 1);
        // What fits best stands first where letters are typed: then it lies in nothing.
        let is_whole = outline.chooser.line.text.is_empty();
        self.list(&outline.chooser, self.area.cols, buffer, |index, room, style, buffer| {
            let row = &outline.rows[index];
            let number = format!("{:>digits$}", row.line.0 + 1);
            let x = put(buffer, room, 0, &number, self.over(style, Role::RaisedQuiet)) + 2;
            let indentation = if is_whole { row.depth * LEVEL } else { 0 };
            put(buffer, room, x + indentation as u16, &row.head, style);
        });
        if outline.chooser.shown.is_empty() {
            put(buffer, self.row(1), 3, "nothing here is called that", self.style(Role::RaisedQuiet));
        }
        self.keys(&[("↑ ↓", "show another one"), ("Enter", "go there"), ("Esc", "back to where you were")], buffer);
    }
}
