//! A drill that was done: keys, time, par; again, the shortest way, the next one.

use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::{Context, DrillOrder};
use crate::drills::Drill;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::put;
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use snarvel_core::verbs::scene::counted;
use snarvel_ledger::Best;

/// A drill that was done.
#[derive(Debug)]
pub struct DrillDone {
    /// Which.
    pub drill: &'static Drill,
    /// With how many keys.
    pub keys: u32,
    /// In how many milliseconds.
    pub ms: u64,
    /// How it went at best before.
    pub before: Best,
    /// With how few keys it can be done, as far as was known.
    pub par: u32,
    /// Whether no drill follows it.
    pub is_last: bool,
}

impl DrillDone {
    /// How it went, in words.
    fn told(&self) -> String {
        let (keys, par) = (self.keys, self.par);
        let judged = match keys.cmp(&par) {
            std::cmp::Ordering::Less => ": shorter than the shortest way that was known. It is your par now",
            std::cmp::Ordering::Equal => ": there is no shorter way known",
            std::cmp::Ordering::Greater => "",
        };
        let seconds = self.ms as f64 / 1000.0;
        format!("{} in {seconds:.1} s, par is {par}{judged}.", counted(keys as usize, "key"))
    }

    fn told_before(&self) -> String {
        match self.before {
            Best { times: 0, .. } => "You have done it for the first time.".to_owned(),
            Best { times, keys, ms } => {
                let seconds = ms as f64 / 1000.0;
                format!(
                    "Before: {}, at best {} and {seconds:.1} s.",
                    counted(times as usize, "time"),
                    counted(keys as usize, "key")
                )
            }
        }
    }
}

impl Panel for DrillDone {
    fn rows(&self, _context: &Context) -> u16 {
        5
    }

    fn is_of_drill(&self) -> bool {
        true
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let order = match key.code {
            KeyCode::Esc => DrillOrder::Leave,
            KeyCode::Enter => DrillOrder::Next,
            KeyCode::Char('r') => DrillOrder::Again,
            KeyCode::Char('s') => DrillOrder::Replay,
            _ => return PanelAction::Stay,
        };
        context.drill_order = Some(order);
        PanelAction::Close
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        put(grid, (painter.row(0), 1), "done", painter.style(Role::Added));
        put(grid, (painter.row(1), 3), &self.told(), painter.style(Role::Raised));
        put(grid, (painter.row(2), 3), &self.told_before(), painter.style(Role::RaisedQuiet));
        let next = if self.is_last { "end" } else { "next drill" };
        painter.keys(&[("Enter", next), ("r", "again"), ("s", "show the shortest way"), ("Esc", "leave")], grid);
    }
}
