//! Signs: characters that no key types, by short forms, by names, by code point; put in at every cursor.

use super::chooser::{Chooser, Order, Pressed};
use super::painter::Painter;
use super::panel::{Panel, PanelAction, list_rows};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{Area, put, width};
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::signs::{self, Sign};
use snarvel_core::text::cells::chip;
use snarvel_core::verbs::scene::counted;
use snarvel_task::waits;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::tasks::{About, TaskHandle};

/// What is asked for, and the signs that fit it.
#[derive(Debug)]
pub struct SignsPanel {
    /// The letters so far, and which sign is chosen.
    pub chooser: Chooser,
    /// The signs that fit, the best first.
    pub found: Vec<Sign>,
    /// The list of all signs is being made.
    making: Option<TaskHandle>,
}

impl Default for SignsPanel {
    fn default() -> SignsPanel {
        SignsPanel { chooser: Chooser::new(Order::AsListed), found: Vec::new(), making: None }
    }
}

/// So many are listed.
const MOST: usize = 200;

/// Columns for a sign, with room around it so that it can be told from others.
const SIGN_COLS: u16 = 6;

impl SignsPanel {
    fn find(&mut self, context: &Context) {
        if self.making.is_none() {
            self.found = signs::find(&self.chooser.line.text, context.workspace.recent_signs(), MOST);
            self.chooser.shown = (0..self.found.len()).collect();
            self.chooser.chosen = 0;
        }
    }

    /// The chosen sign.
    #[must_use]
    pub fn chosen(&self) -> Option<&Sign> {
        self.found.get(self.chooser.index()?)
    }

    /// Puts the chosen sign in at every cursor.
    fn put_in(&self, context: &mut Context) -> bool {
        let Some(sign) = self.chosen() else { return false };
        let effects = context.workspace.put_sign(&sign.text);
        context.follow(effects);
        true
    }
}

impl Panel for SignsPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn begin(&mut self, context: &mut Context) {
        let about = About::new("reading the names of signs").awaited(waits::FOLDER);
        let make = || {
            let _ = signs::all();
        };
        self.making = Some(context.workspace.tasks.run(about, |()| Payload::Ended, make));
    }

    fn take(&mut self, event: Event, context: &mut Context) -> PanelAction {
        if self.making.take_if(|making| making.id == event.source.task).is_some() {
            self.find(context);
        }
        PanelAction::Stay
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match key.code {
            KeyCode::Esc => return PanelAction::Close,
            KeyCode::Enter if self.put_in(context) => return PanelAction::Close,
            KeyCode::Tab => {
                self.put_in(context);
            }
            KeyCode::Enter => {}
            _ => {
                if self.chooser.press(key) == Pressed::Typed {
                    self.find(context);
                }
            }
        }
        PanelAction::Stay
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        self.chooser.line.insert(typed);
        self.find(context);
        PanelAction::Stay
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        painter.line("which sign?", &self.chooser.line, grid);
        painter.list(&self.chooser, grid, |index, room, style, grid| {
            row(painter, &self.found[index], (room, style), grid);
        });
        if self.found.is_empty() {
            painter.hint(
                match self.making {
                    Some(_) => "reading the names …",
                    None => "no sign answers to that: a word of its name, a short form such as -> or alpha, or U+2192",
                },
                grid,
            );
        }
        let keys = [("Enter", "put it in"), ("Tab", "put it in and stay"), ("↑ ↓", "choose"), ("Esc", "leave")];
        painter.keys(&keys, grid);
    }
}

fn row(painter: &Painter, sign: &Sign, (room, style): (Area, Style), grid: &mut Grid) {
    // What cannot be seen is told by its code point, which is at the end of the row.
    let shown = if chip(&sign.text).is_some() { "‹ ›" } else { &sign.text };
    let cells = sign.cells();
    let told = format!("{}  {}  {}", sign.code(), counted(cells, "cell"), counted(sign.text.len(), "byte"));
    let told_x = room.cols.saturating_sub(width(&told));
    let name_cols = told_x.saturating_sub(SIGN_COLS + 1);
    put(grid, (Area { cols: SIGN_COLS - 1, ..room }, 1), shown, painter.over(style, Role::KeyCap));
    let names = Area { x: room.x + SIGN_COLS, cols: name_cols, ..room };
    let x = put(grid, (names, 0), &sign.name, style);
    let shorts = sign.shorts.iter().take(3).cloned().collect::<Vec<_>>().join("  ");
    put(grid, (names, x + 2), &shorts, painter.over(style, Role::RaisedQuiet));
    put(grid, (room, told_x), &told, painter.over(style, Role::RaisedQuiet));
}
