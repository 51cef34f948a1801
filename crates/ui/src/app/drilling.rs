//! Drills: begun, followed, replayed, left.

use super::App;
use crate::drilling::{Drilling, Stage};
use crate::drills::Drill;
use crate::keys::Key;
use crate::panels::drill_done::DrillDone;
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_workspace::registry::action::Action;
use std::collections::VecDeque;

impl App {
    /// Begins the first of `drills`; the others follow it.
    pub fn begin_drills(&mut self, drills: impl IntoIterator<Item = &'static Drill>) {
        let mut drills: VecDeque<&'static Drill> = drills.into_iter().collect();
        let Some(first) = drills.pop_front() else { return };
        self.leave_drill();
        self.close_panel();
        self.context.drill = Some(Box::new(Drilling::begin(&mut self.context.workspace, first, drills)));
        self.context.learning.forget_strokes();
    }

    /// Leaves the drill; false where none is being done.
    pub fn leave_drill(&mut self) -> bool {
        let Some(drill) = self.context.drill.take() else { return false };
        self.close_panel();
        drill.end(&mut self.context.workspace);
        self.context.learning.forget_strokes();
        true
    }

    /// In a drill some things are not done: what writes and what ends. Whether `action` is one of them.
    pub(super) fn refuses_in_drill(&mut self, action: Action) -> bool {
        if self.context.drill.is_none() {
            return false;
        }
        match action {
            Action::Quit | Action::Close | Action::DrillLeave => {
                self.leave_drill();
                self.context.say("the drill is left: everything is as it was");
            }
            Action::Save | Action::SaveAll | Action::SaveAs => self.context.say("a drill is not saved"),
            _ => return false,
        }
        true
    }

    /// Takes a key while the shortest way is played; false where it is not.
    pub(super) fn press_in_replay(&mut self, key: Key) -> bool {
        let Some(drill) = &mut self.context.drill else { return false };
        let Stage::Replaying(at) = drill.stage else {
            if drill.stage == Stage::Doing && self.panel.as_ref().is_none_or(|panel| !panel.is_of_drill()) {
                drill.keys += 1;
            }
            return false;
        };
        let step = drill.next_step();
        match (key.code, key.mods) {
            (KeyCode::Esc, _) => {
                let again = drill.drill;
                drill.begin_again(&mut self.context.workspace, again);
            }
            (KeyCode::Enter, KeyModifiers::NONE) if step.is_none() => {
                let again = drill.drill;
                drill.begin_again(&mut self.context.workspace, again);
            }
            (KeyCode::Right | KeyCode::Enter | KeyCode::Char(' '), KeyModifiers::NONE) => {
                if let Some(step) = step {
                    drill.stage = Stage::Done;
                    self.settle_background();
                    self.act(&step);
                    if let Some(drill) = &mut self.context.drill {
                        drill.stage = Stage::Replaying(at + 1);
                    }
                }
            }
            _ => self.context.say("→ plays the next key, Esc ends it"),
        }
        true
    }

    /// Looks whether the text of the drill is as it should be by now.
    pub(super) fn follow_drill(&mut self) {
        let now_ms = self.context.workspace.now_ms;
        let Some(drill) = &mut self.context.drill else { return };
        if drill.stage != Stage::Doing || self.panel.is_some() || !drill.is_as_wanted(&self.context.workspace) {
            return;
        }
        drill.stage = Stage::Done;
        drill.time_ms[1] = now_ms;
        let (name, keys, ms) = (drill.drill.name.clone(), drill.keys, now_ms - drill.time_ms[0]);
        drill.outside().note_drill(&name, keys, ms);
        let best = self.context.learning.bests.get(&name).copied().unwrap_or_default();
        let par = self.context.learning.par(drill.drill);
        let done = DrillDone { drill: drill.drill, keys, ms, before: best, par, is_last: drill.next.is_empty() };
        self.context.learning.bests.insert(name, best.after(keys, ms));
        self.open(done);
    }

    /// Does what was chosen at the end of a drill.
    pub(super) fn take_drill_orders(&mut self) {
        use crate::context::DrillOrder;
        let Some(order) = self.context.drill_order.take() else { return };
        match order {
            DrillOrder::Begin(drills) => self.begin_drills(drills),
            DrillOrder::Leave => drop(self.leave_drill()),
            DrillOrder::Again | DrillOrder::Next | DrillOrder::Replay => {
                let Some(drill) = &mut self.context.drill else { return };
                let again = drill.drill;
                let workspace = &mut self.context.workspace;
                match order {
                    DrillOrder::Next if drill.go_on(workspace) => {}
                    DrillOrder::Next => drop(self.leave_drill()),
                    DrillOrder::Replay => {
                        drill.begin_again(workspace, again);
                        drill.stage = Stage::Replaying(0);
                    }
                    _ => drill.begin_again(workspace, again),
                }
            }
        }
    }
}
