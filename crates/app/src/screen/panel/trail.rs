//! The trail: a row for each state, its branch as a lane; above stands the text as it was then.

use super::Painter;
use crate::palette::Role;
use crate::panels::trail::{TrailPanel, told};
use crate::screen::{put, width};
use ratatui::buffer::Buffer;

impl Painter<'_> {
    pub(super) fn trail(&self, trail: &TrailPanel, buffer: &mut Buffer) {
        self.line("trail", &trail.chooser.line.text, buffer);
        self.count(trail.chooser.shown.len(), trail.rows.len(), buffer);
        let lanes = trail.rows.iter().map(|row| width(&row.lanes)).max().unwrap_or(0);
        let verbs = trail.rows.iter().map(|row| width(&row.verb)).max().unwrap_or(0);
        self.list(&trail.chooser, self.area.cols, buffer, |index, room, style, buffer| {
            let row = &trail.rows[index];
            let quiet = style.patch(self.app.palette.style(Role::Quiet));
            let sign = style.patch(self.app.palette.style(if row.is_here { Role::PrimarySign } else { Role::Quiet }));
            put(buffer, room, 0, &row.lanes, sign);
            let columns = [lanes + 1, verbs + 3, 18, 13];
            let mut x = columns[0];
            put(buffer, room, x, &row.verb, style);
            x += columns[1];
            put(buffer, room, x, &row.extent.map(told).unwrap_or_default(), quiet);
            x += columns[2];
            put(buffer, room, x, &row.age, quiet);
            x += columns[3];
            if row.is_here {
                x = put(buffer, room, x, "here ", sign);
            }
            if row.is_saved {
                put(buffer, room, x, "saved", style.patch(self.app.palette.style(Role::Added)));
            }
        });
        if trail.chooser.shown.is_empty() {
            put(buffer, self.row(1), 3, "no step is called that", self.style(Role::RaisedQuiet));
        }
        let keys = [
            ("↑ ↓", "newer, older"),
            ("← →", "along the branch"),
            ("Enter", "go there"),
            ("Esc", "stay where you were"),
        ];
        self.keys(&keys, buffer);
    }
}
