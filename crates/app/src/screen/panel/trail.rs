//! The trail: a row for each state, its branch as a lane; above stands the text as it was then.

use super::Painter;
use crate::palette::Role;
use crate::panels::trail::{TrailPanel, told};
use crate::screen::layout::Area;
use crate::screen::{put, width};
use ratatui::buffer::Buffer;

/// Room for "+1200 −40 at 10000".
const EXTENT_COLS: u16 = 20;

/// Room for an age and for what a state is, at the right edge.
const AGE_COLS: u16 = 24;

impl Painter<'_> {
    pub(super) fn trail(&self, trail: &TrailPanel, buffer: &mut Buffer) {
        self.line("trail", &trail.chooser.line, buffer);
        self.count(trail.chooser.shown.len(), trail.rows.len(), buffer);
        let lanes = trail.rows.iter().map(|row| width(&row.lanes)).max().unwrap_or(0);
        let verbs = trail.rows.iter().map(|row| width(&row.verb)).max().unwrap_or(0);
        self.list(&trail.chooser, self.area.cols, buffer, |index, room, style, buffer| {
            let row = &trail.rows[index];
            let quiet = self.over(style, Role::RaisedQuiet);
            let sign = self.over(style, if row.is_here { Role::PrimarySign } else { Role::RaisedQuiet });
            put(buffer, room, 0, &row.lanes, sign);
            let mut x = lanes + 1;
            put(buffer, room, x, &row.verb, style);
            x += verbs + 3;
            put(buffer, room, x, &row.extent.map(told).unwrap_or_default(), quiet);
            x += EXTENT_COLS;
            let states = [(row.is_here, "here", Role::PrimarySign), (row.is_saved, "saved", Role::Added)];
            let words: Vec<_> = states.iter().filter(|(holds, ..)| *holds).collect();
            let mut right = room.cols;
            for (_, word, role) in words.iter().rev() {
                right = right.saturating_sub(width(word) + 1);
                put(buffer, room, right, word, self.over(style, *role));
            }
            let age_x = room.cols.saturating_sub(AGE_COLS);
            put(buffer, Area { cols: right, ..room }, age_x, &row.age, quiet);
            put(
                buffer,
                Area { cols: age_x.saturating_sub(2), ..room },
                x,
                &row.glimpse,
                self.over(style, Role::String),
            );
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
