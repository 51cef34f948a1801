//! Two forms of a text: what differs line by line, told by sign and colour.

use super::Painter;
use crate::differences::Row;
use crate::palette::Role;
use crate::panels::diff::{About, DiffPanel};
use crate::screen::put;
use ratatui::buffer::Buffer;
use snarvel_core::verbs::scene::counted;

impl Painter<'_> {
    pub(super) fn diff(&self, diff: &DiffPanel, buffer: &mut Buffer) {
        put(buffer, self.row(0), 1, &diff.title, self.style(Role::Changed));
        let rows = usize::from(self.area.rows.saturating_sub(2));
        for (index, row) in diff.rows.iter().skip(diff.top).take(rows).enumerate() {
            let area = self.row(1 + index as u16);
            let (sign, text, role) = match row {
                Row::Same(line) => (" ", line.clone(), Role::RaisedQuiet),
                Row::Gone(line) => ("−", line.clone(), Role::Removed),
                Row::Come(line) => ("+", line.clone(), Role::Added),
                Row::LeftOut(lines) => ("", format!("… {} the same", counted(*lines, "line")), Role::RaisedQuiet),
            };
            let x = put(buffer, area, 1, sign, self.style(role)) + 1;
            put(buffer, area, x.max(3), &text.replace('\t', "    "), self.style(role));
        }
        let keys: &[(&str, &str)] = match diff.about {
            About::Recovery { .. } => {
                &[("t", "take it"), ("d", "drop it"), ("↑ ↓", "look"), ("Esc", "ask again next time")]
            }
            About::Outside(_) => &[
                ("w", "write yours over it"),
                ("t", "take what the file holds"),
                ("↑ ↓", "look"),
                ("Esc", "go on editing"),
            ],
            About::Over(_) => &[("y", "write over it"), ("↑ ↓", "look"), ("Esc", "leave it")],
            About::ReadOnly(_) => &[("y", "write it all the same"), ("Esc", "leave it")],
        };
        self.keys(keys, buffer);
    }
}
