//! The roster while it takes keys: all cursors, to be gone through, dropped, kept by letters.

pub mod draw;
pub mod list;
pub mod rows;

use super::painter::Painter;
use super::panel::{Dock, Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crossterm::event::KeyCode;
use list::RosterList;
use ratatui::buffer::Buffer as Grid;
use rows::RosterRow;
use snarvel_core::verbs::scene::counted;
use snarvel_workspace::workspace::Workspace;

/// The cursors, to be gone through.
#[derive(Debug)]
pub struct RosterPanel {
    list: RosterList,
}

/// How far a page goes.
const PAGE: usize = 10;

impl RosterPanel {
    /// The cursors of the view with the keys; the primary one is chosen.
    #[must_use]
    pub fn of(workspace: &Workspace) -> RosterPanel {
        RosterPanel { list: RosterList::of(workspace) }
    }

    /// Makes the chosen cursor the primary one, which brings it into view.
    fn lead(&mut self, context: &mut Context) -> PanelAction {
        let Some(row) = self.list.row() else { return PanelAction::Stay };
        let shown = context.workspace.pair(row.view()).0.id;
        if shown != context.workspace.active().id {
            context.workspace.show(shown);
        }
        let index = match row {
            RosterRow::Cursor(_, index) => index,
            RosterRow::File(_) => 0,
        };
        let (buffer, view) = context.workspace.active_pair_mut();
        let set = view.cursors().leading(index);
        view.set_cursors(buffer, set);
        self.list.look_around((buffer, view));
        PanelAction::Stay
    }

    /// Drops the cursors that are not in `list` and those that are marked.
    fn keep(&self, list: &[usize], context: &mut Context) -> PanelAction {
        let rows = &self.list.rows;
        let is_cursor = |place: &usize| matches!(rows.at(*place), Some(RosterRow::Cursor(..)));
        let is_kept = |place: &usize| is_cursor(place) && !self.list.dropped.contains(place);
        let kept: Vec<usize> = list.iter().copied().filter(is_kept).collect();
        let all = rows.cursors();
        if kept.is_empty() {
            context.say("no cursor would be left: all are kept");
        } else if kept.len() < all {
            for id in rows.views().collect::<Vec<_>>() {
                let own = rows.places_of(id);
                let is_left = |index: usize| kept.binary_search(&(own.start + index)).is_ok();
                let (buffer, view) = context.workspace.pair_mut(id);
                match view.cursors().retaining(|index, _| is_left(index)) {
                    Some(set) if set.len() < own.len() => view.set_cursors(buffer, set),
                    Some(_) => {}
                    None => context.workspace.leave_convoy(id),
                }
            }
            context.say(format!("kept {} of {all}", counted(kept.len(), "cursor")));
        }
        PanelAction::Close
    }
}

impl Panel for RosterPanel {
    fn rows(&self, _context: &Context) -> u16 {
        0
    }

    fn dock(&self) -> Dock {
        Dock::Right
    }

    fn follow(&mut self, context: &mut Context) {
        self.list.follow(&context.workspace);
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let last = self.list.shown.len().saturating_sub(1);
        match key.code {
            KeyCode::Esc => return PanelAction::Close,
            KeyCode::Up => self.list.chosen = self.list.chosen.saturating_sub(1),
            KeyCode::Down => self.list.chosen = (self.list.chosen + 1).min(last),
            KeyCode::PageUp => self.list.chosen = self.list.chosen.saturating_sub(PAGE),
            KeyCode::PageDown => self.list.chosen = (self.list.chosen + PAGE).min(last),
            KeyCode::Home => self.list.chosen = 0,
            KeyCode::End => self.list.chosen = last,
            KeyCode::Char(' ') => {
                self.list.mark();
                self.list.chosen = (self.list.chosen + 1).min(last);
            }
            KeyCode::Enter => return self.keep(&self.list.shown, context),
            KeyCode::Char('`') => return self.keep(&(0..self.list.rows.count()).collect::<Vec<usize>>(), context),
            _ if self.list.line.press(key) => self.list.filter(),
            _ => return PanelAction::Stay,
        }
        self.lead(context)
    }

    fn paste(&mut self, typed: &str, _context: &mut Context) -> PanelAction {
        self.list.line.insert(typed);
        self.list.filter();
        PanelAction::Stay
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        draw::draw(painter.context, (painter.area, Some(&self.list)), grid);
    }
}
