//! What panels draw with: rows, lists, the line that is typed, the line of keys.

use super::chooser::Chooser;
use super::line::InputLine;
use crate::context::Context;
use crate::palette::Role;
use crate::screen::canvas::{Area, fill, put, width};
use crate::screen::marks::TextMarks;
use crate::screen::text;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::units::Line;
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::view::View;
use unicode_segmentation::UnicodeSegmentation;

/// Columns before, between and after a label and the letters beside it, their caret included.
const COLS_AROUND_LETTERS: u16 = 6;

/// Draws a panel.
#[derive(Debug)]
pub struct Painter<'a> {
    /// What the panel is drawn from, beside itself.
    pub context: &'a Context,
    /// The panel's room.
    pub area: Area,
    /// The room for a text beside its list.
    pub beside: Area,
}

impl Painter<'_> {
    /// The style of `role` on the raised background.
    #[must_use]
    pub fn style(&self, role: Role) -> Style {
        self.context.look.palette.style(Role::Raised).patch(self.context.look.palette.style(role))
    }

    /// `style` with the colour and the attributes of `role`, on its own background.
    #[must_use]
    pub fn over(&self, style: Style, role: Role) -> Style {
        Style { bg: style.bg, ..style.patch(self.context.look.palette.style(role)) }
    }

    /// A row of the panel.
    #[must_use]
    pub fn row(&self, index: u16) -> Area {
        let rows = u16::from(index < self.area.rows);
        Area { y: self.area.y + index, rows, ..self.area }
    }

    /// The columns left for a list beside the text.
    #[must_use]
    pub fn list_cols(&self) -> u16 {
        if self.beside.cols > 0 { (self.beside.x - self.area.x).saturating_sub(1) } else { self.area.cols }
    }

    /// The panel's own keys, on its last line. The last of them, which closes it, is always there; of the others as many as there
    /// is room for.
    pub fn keys(&self, keys: &[(&str, &str)], grid: &mut Grid) {
        let row = self.row(self.area.rows.saturating_sub(1));
        let cols = |(key, meaning): &(&str, &str)| width(key) + width(meaning) + 4;
        let Some((last, others)) = keys.split_last() else { return };
        let mut left = row.cols.saturating_sub(cols(last));
        let fit = others.iter().take_while(|each| {
            let fits = cols(each) <= left;
            left = left.saturating_sub(cols(each));
            fits
        });
        let mut x = 1;
        for (key, meaning) in fit.chain([last]) {
            x = put(grid, (row, x), key, self.style(Role::KeyCap)) + 1;
            x = put(grid, (row, x), meaning, self.style(Role::Raised)) + 3;
        }
    }

    /// The line that is typed, with its caret.
    pub fn line(&self, label: &str, line: &InputLine, grid: &mut Grid) {
        let x = put(grid, (self.row(0), 1), label, self.style(Role::RaisedQuiet)) + 1;
        self.typed((self.row(0), x), line, grid);
    }

    /// A line that takes keys, from the column `x` on. Where it is longer than its room, what is around the caret is shown.
    pub fn typed(&self, (area, x): (Area, u16), line: &InputLine, grid: &mut Grid) {
        let (before, after) = line.parts();
        let room = area.cols.saturating_sub(x + 2);
        let mut shown = before;
        while width(shown) > room {
            let cut = shown.chars().next().map_or(0, char::len_utf8);
            shown = &shown[cut..];
        }
        let x = put(grid, (area, x), shown, self.style(Role::Raised));
        put(grid, (area, x), after, self.style(Role::Raised));
        let under = after.graphemes(true).next().unwrap_or(" ");
        put(grid, (area, x), under, self.context.look.palette.style(Role::Primary));
    }

    /// The line that was typed, while keys go elsewhere.
    pub fn line_at_rest(&self, label: &str, line: &InputLine, grid: &mut Grid) {
        let x = put(grid, (self.row(0), 1), label, self.style(Role::RaisedQuiet)) + 1;
        put(grid, (self.row(0), x), &line.text, self.style(Role::Raised));
    }

    /// Says something at the right of the first row, after the letters so far; what does not fit is cut at its end.
    pub fn said(&self, (label, line): (&str, &InputLine), (said, role): (&str, Role), grid: &mut Grid) {
        let row = self.row(0);
        let taken = width(label) + width(&line.text) + COLS_AROUND_LETTERS;
        let cols = width(said).min(row.cols.saturating_sub(taken));
        let x = row.x + row.cols.saturating_sub(cols + 1);
        put(grid, (Area { x, cols, ..row }, 0), said, self.style(role));
    }

    /// How much of a list there is to choose from.
    pub fn count(&self, shown: usize, all: usize, grid: &mut Grid) {
        let count = format!("{shown} of {all}");
        let x = self.area.cols.saturating_sub(count.len() as u16 + 1);
        put(grid, (self.row(0), x), &count, self.style(Role::RaisedQuiet));
    }

    /// Says something in the place of a list.
    pub fn hint(&self, hint: &str, grid: &mut Grid) {
        put(grid, (self.row(1), 3), hint, self.style(Role::RaisedQuiet));
    }

    /// The rows of a list below the letters; `draw` is given the index in the whole list, the room after the sign of the chosen
    /// one, and the style.
    pub fn list(&self, chooser: &Chooser, grid: &mut Grid, mut draw: impl FnMut(usize, Area, Style, &mut Grid)) {
        let cols = self.list_cols();
        let rows = usize::from(self.area.rows.saturating_sub(2));
        // The chosen one is in the middle where the list is longer than the room.
        let last_first = chooser.shown.len().saturating_sub(rows);
        let first = chooser.chosen.saturating_sub(rows / 2).min(last_first);
        for (index, &item) in chooser.shown.iter().enumerate().skip(first).take(rows) {
            let row = Area { cols, ..self.row(1 + (index - first) as u16) };
            let is_chosen = index == chooser.chosen;
            let style = self.style(if is_chosen { Role::Selection } else { Role::Raised });
            if is_chosen {
                fill(grid, row, style);
                put(grid, (row, 1), "▸", self.over(style, Role::PrimarySign));
            }
            let room = Area { x: row.x + 3, cols: cols.saturating_sub(4), ..row };
            draw(item, room, style, grid);
        }
    }

    /// The edge at the left of what is beside the list.
    pub fn edge(&self, grid: &mut Grid) {
        for y in 0..self.beside.rows {
            let edge = Area { x: self.beside.x.saturating_sub(1), y: self.beside.y + y, cols: 1, rows: 1 };
            if self.beside.x > self.area.x {
                put(grid, (edge, 0), "│", self.style(Role::Edge));
            }
        }
    }

    /// A text beside the list; its caret is shown while it has the focus. The line that it is about is lit.
    pub fn text_beside(&self, (buffer, view): (&Buffer, &View), (keys, lit): (KeysGo, Option<Line>), grid: &mut Grid) {
        let area = self.beside;
        if area.cols == 0 {
            return;
        }
        let background = match keys {
            KeysGo::ToText => self.context.look.palette.style(Role::Text),
            KeysGo::ToList => self.style(Role::Raised),
        };
        fill(grid, area, background);
        self.edge(grid);
        let room = Area { x: area.x + 1, cols: area.cols.saturating_sub(1), ..area };
        let marks = TextMarks { hides_cursors: keys == KeysGo::ToList, lit, ..TextMarks::default() };
        text::draw(&self.context.look.palette, (buffer, view), (room, background), (&marks, grid));
    }
}

/// Where keys go while a panel shows a list and a text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum KeysGo {
    /// To the list.
    ToList,
    /// To the text.
    ToText,
}
