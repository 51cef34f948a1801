//! Going: a row for each bookmark, function, type or section; above stands the text at the chosen one.

use super::Painter;
use crate::palette::Role;
use crate::panels::outline::{Offer, OutlinePanel};
use crate::screen::put;
use ratatui::buffer::Buffer;
use snarvel_core::outline::By;

/// Cells for each level.
const LEVEL: usize = 2;

impl Painter<'_> {
    pub(super) fn outline(&self, outline: &OutlinePanel, buffer: &mut Buffer) {
        let label = match (outline.offer, outline.by) {
            (Offer::Everything, _) => "go to",
            (Offer::Outline, By::Structure) => "outline",
            (Offer::Outline, By::Indentation) => "outline by indentation",
        };
        self.line(label, &outline.chooser.line, buffer);
        self.keys(keys_of(outline), buffer);
        if let Some(line) = outline.numbered() {
            let said = format!("line {} of {}", line.0 + 1, outline.last.0 + 1);
            put(buffer, self.row(1), 3, &said, self.style(Role::Raised));
            return;
        }
        self.count(outline.chooser.shown.len(), outline.rows.len(), buffer);
        let digits = outline.rows.iter().map(|row| row.line.0 + 1).max().map_or(1, |line| line.ilog10() as usize + 1);
        // What fits best stands first where letters are typed: then it lies in nothing.
        let is_whole = outline.chooser.line.text.is_empty();
        self.list(&outline.chooser, self.area.cols, buffer, |index, room, style, buffer| {
            let row = &outline.rows[index];
            let number = format!("{:>digits$}", row.line.0 + 1);
            let x = put(buffer, room, 0, &number, self.over(style, Role::RaisedQuiet)) + 1;
            let sign = if row.is_bookmark { "⚑" } else { " " };
            let x = put(buffer, room, x, sign, self.over(style, Role::MarkSign)) + 1;
            let indentation = if is_whole { row.depth * LEVEL } else { 0 };
            put(buffer, room, x + indentation as u16, &row.head, style);
        });
        if outline.chooser.shown.is_empty() {
            let hint = match (outline.rows.is_empty(), outline.offer) {
                (true, Offer::Everything) => {
                    "no names and no bookmarks here: type a line, like 123, 123:7, +20, -5 or 50%"
                }
                _ => "nothing here is called that",
            };
            put(buffer, self.row(1), 3, hint, self.style(Role::RaisedQuiet));
        }
    }
}

fn keys_of(outline: &OutlinePanel) -> &'static [(&'static str, &'static str)] {
    match outline.offer {
        Offer::Outline => &[("↑ ↓", "show another one"), ("Enter", "go there"), ("Esc", "back to where you were")],
        Offer::Everything => &[
            ("↑ ↓", "show another one"),
            ("Enter", "go there"),
            ("123 123:7 +20 -5 50%", "lines"),
            ("Del", "clear a bookmark"),
            ("Esc", "back to where you were"),
        ],
    }
}
