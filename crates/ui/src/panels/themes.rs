//! The themes: each is seen on the text while it is chosen; Enter keeps it, Esc leaves the one that was.

use super::chooser::{Chooser, Order, Pressed};
use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use super::settings::keep_values;
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::palette::theme::Ground;
use crate::screen::canvas::{Area, cut, put};
use crate::settings::AUTO;
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use std::borrow::Cow;

/// The themes.
#[derive(Debug)]
pub struct ThemesPanel {
    /// The letters so far, and the themes that they leave.
    pub chooser: Chooser,
    rows: Vec<Row>,
    /// What was set when the panel was opened.
    before: String,
}

/// A theme, or the choice by the terminal's background.
#[derive(Debug)]
struct Row {
    name: String,
    about: String,
    kind: &'static str,
}

/// Columns for the name of a theme.
const NAME_COLS: u16 = 16;

/// Columns for whether it is dark or light.
const KIND_COLS: u16 = 7;

/// Rows of the panel: the list is short, and the text is to be seen.
const MOST_ROWS: u16 = 9;

impl ThemesPanel {
    /// All themes, the one in force chosen.
    #[must_use]
    pub fn of(context: &Context) -> ThemesPanel {
        let row = |theme: &crate::palette::theme::Theme| Row {
            name: theme.name.clone(),
            about: theme.about.clone(),
            kind: if theme.ground == Ground::Dark { "dark" } else { "light" },
        };
        let auto = Row {
            name: AUTO.to_owned(),
            about: "Night or day, by the background that the terminal tells at the start.".to_owned(),
            kind: "",
        };
        let rows: Vec<Row> = context.look.themes.list.iter().map(row).chain([auto]).collect();
        let before = context.settings.theme.clone();
        let mut panel = ThemesPanel { chooser: Chooser::new(Order::BestFirst), rows, before };
        panel.filter();
        let now = panel.rows.iter().position(|row| row.name == panel.before);
        now.into_iter().for_each(|now| panel.chooser.choose(now));
        panel
    }

    fn filter(&mut self) {
        let told: Vec<String> =
            self.rows.iter().map(|row| format!("{} {} {}", row.name, row.kind, row.about)).collect();
        self.chooser.filter(told.into_iter().map(Cow::Owned));
    }

    fn chosen(&self) -> Option<&Row> {
        Some(&self.rows[self.chooser.index()?])
    }

    /// The chosen theme is seen.
    fn show(&self, context: &mut Context) {
        let name = self.chosen().map_or(&self.before, |row| &row.name).clone();
        context.use_theme(&name);
    }
}

impl Panel for ThemesPanel {
    fn rows(&self, _context: &Context) -> u16 {
        (self.rows.len() as u16 + 2).min(MOST_ROWS)
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match key.code {
            KeyCode::Esc => {
                context.use_theme(&self.before);
                return PanelAction::Close;
            }
            KeyCode::Enter => {
                let Some(name) = self.chosen().map(|row| row.name.clone()) else { return PanelAction::Stay };
                if name != self.before {
                    keep_values(context, vec![("palette", format!("{name:?}"))]);
                }
                return PanelAction::Close;
            }
            _ => match self.chooser.press(key) {
                Pressed::Typed => {
                    self.filter();
                    self.show(context);
                }
                Pressed::Moved => self.show(context),
                Pressed::Nothing => {}
            },
        }
        PanelAction::Stay
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        self.chooser.line.insert(typed);
        self.filter();
        self.show(context);
        PanelAction::Stay
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        painter.line("which theme?", &self.chooser.line, grid);
        painter.count(self.chooser.shown.len(), self.rows.len(), grid);
        painter.list(&self.chooser, grid, |index, room, style, grid| {
            draw_row(painter, &self.rows[index], (room, style), grid);
        });
        if self.chooser.shown.is_empty() {
            painter.hint("no theme is called so: a file themes/NAME.toml beside the settings makes one", grid);
        }
        painter.keys(&[("↑ ↓", "choose, seen on the text"), ("Enter", "keep it"), ("Esc", "leave")], grid);
    }
}

fn draw_row(painter: &Painter, row: &Row, (room, style): (Area, Style), grid: &mut Grid) {
    put(grid, (Area { cols: NAME_COLS, ..room }, 0), &row.name, style);
    let kind = Area { x: room.x + NAME_COLS, cols: KIND_COLS, ..room };
    put(grid, (kind, 0), row.kind, painter.over(style, Role::RaisedQuiet));
    let about =
        Area { x: room.x + NAME_COLS + KIND_COLS, cols: room.cols.saturating_sub(NAME_COLS + KIND_COLS), ..room };
    put(grid, (about, 0), &cut(&row.about, about.cols), painter.over(style, Role::RaisedQuiet));
}
