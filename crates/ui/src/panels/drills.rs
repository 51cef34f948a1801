//! The drills: all of them, or a series of eight by what costs the person most.

use super::chooser::{Chooser, Order, Pressed};
use super::painter::Painter;
use super::panel::{Panel, PanelAction, list_rows};
use crate::context::{Context, DrillOrder};
use crate::drills::{DRILLS, SERIES, series};
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{Area, cut, put, width};
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_ledger::Best;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::learning::news::LedgerNews;
use std::borrow::Cow;

/// The drills.
#[derive(Debug)]
pub struct DrillsPanel {
    /// The letters so far, and the drills that they leave: the first row is the series.
    pub chooser: Chooser,
    /// Verbs that would have helped, the costliest habit first.
    weak: Vec<String>,
}

/// Columns for the group of a drill, and for how it went.
const GROUP_COLS: u16 = 23;
const RESULT_COLS: u16 = 26;

impl Default for DrillsPanel {
    fn default() -> DrillsPanel {
        let mut panel = DrillsPanel { chooser: Chooser::new(Order::BestFirst), weak: Vec::new() };
        panel.filter();
        panel
    }
}

impl DrillsPanel {
    fn filter(&mut self) {
        let first = std::iter::once(Cow::Borrowed("a series of eight by your weak spots"));
        let drills = DRILLS.iter().map(|drill| {
            Cow::Owned(format!("{} {} {} {}", drill.group, drill.name, drill.task, drill.trains.join(" ")))
        });
        let all: Vec<Cow<str>> = first.chain(drills).collect();
        self.chooser.filter(all.into_iter());
    }
}

impl Panel for DrillsPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn is_of_drill(&self) -> bool {
        true
    }

    fn begin(&mut self, context: &mut Context) {
        context.workspace.ask_ledger("");
    }

    fn take(&mut self, event: Event, _context: &mut Context) -> PanelAction {
        if let Payload::Ledger(news) = event.payload
            && let LedgerNews::Report(report) = *news
        {
            self.weak = report.habits.into_iter().map(|habit| habit.verb).collect();
        }
        PanelAction::Stay
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match key.code {
            KeyCode::Esc => return PanelAction::Close,
            KeyCode::Enter => {
                let Some(index) = self.chooser.index() else { return PanelAction::Stay };
                let is_done = |name: &str| context.learning.bests.contains_key(name);
                let drills = match index.checked_sub(1) {
                    None => series(&self.weak, is_done),
                    Some(index) => vec![&DRILLS[index]],
                };
                context.drill_order = Some(DrillOrder::Begin(drills));
                return PanelAction::Close;
            }
            _ => {
                if self.chooser.press(key) == Pressed::Typed {
                    self.filter();
                }
            }
        }
        PanelAction::Stay
    }

    fn paste(&mut self, typed: &str, _context: &mut Context) -> PanelAction {
        self.chooser.line.insert(typed);
        self.filter();
        PanelAction::Stay
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        painter.line("which drill?", &self.chooser.line, grid);
        painter.count(self.chooser.shown.len(), DRILLS.len() + 1, grid);
        painter.list(&self.chooser, grid, |index, room, style, grid| match index.checked_sub(1) {
            None => self.draw_series(painter, (room, style), grid),
            Some(index) => draw_row(painter, index, (room, style), grid),
        });
        if self.chooser.shown.is_empty() {
            painter.hint("no drill is about that", grid);
        }
        painter.keys(&[("↑ ↓", "choose"), ("Enter", "begin"), ("Esc", "leave")], grid);
    }
}

impl DrillsPanel {
    fn draw_series(&self, painter: &Painter, (room, style): (Area, Style), grid: &mut Grid) {
        put(grid, (room, 0), "series", painter.over(style, Role::RaisedQuiet));
        let mut weak = self.weak.clone();
        weak.retain(|verb| verb != "count");
        weak.dedup();
        let about = match weak.is_empty() {
            true => format!("{SERIES} drills that you have not done"),
            false => format!("{SERIES} drills by your weak spots: {}", weak.join(", ")),
        };
        put(grid, (room, GROUP_COLS), &about, style);
    }
}

fn draw_row(painter: &Painter, index: usize, (room, style): (Area, Style), grid: &mut Grid) {
    let drill = &DRILLS[index];
    let quiet = painter.over(style, Role::RaisedQuiet);
    put(grid, (Area { cols: GROUP_COLS.min(room.cols), ..room }, 0), drill.group, quiet);
    let result = match painter.context.learning.bests.get(&drill.name) {
        Some(Best { keys, .. }) if *keys <= drill.par_keys => format!("✓ {keys} keys, par {}", drill.par_keys),
        Some(Best { keys, .. }) => format!("{keys} keys, par {}", drill.par_keys),
        None => format!("par {}", drill.par_keys),
    };
    let result_x = room.cols.saturating_sub(width(&result).min(RESULT_COLS));
    let task = Area { cols: result_x.saturating_sub(2), ..room };
    put(grid, (task, GROUP_COLS), &cut(&drill.task, task.cols.saturating_sub(GROUP_COLS)), style);
    put(grid, (room, result_x), &result, quiet);
}
