//! The list of cursors that is gone through.

use super::rows::{RosterRow, RosterRows};
use crate::panels::line::InputLine;
use crate::panels::panel::SeenText;
use snarvel_core::cursors::Selection;
use snarvel_core::units::Span;
use snarvel_core::verbs::selects::stands_in;
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::view::View;
use snarvel_workspace::workspace::Workspace;
use std::collections::HashSet;

/// The cursors, to be gone through.
#[derive(Debug)]
pub struct RosterList {
    /// The letters so far.
    pub line: InputLine,
    /// All rows.
    pub rows: RosterRows,
    /// The rows whose lines hold those letters, in their order.
    pub shown: Vec<usize>,
    /// Which of those is chosen.
    pub chosen: usize,
    /// The rows of cursors that are to be dropped.
    pub dropped: HashSet<usize>,
    /// The function or the like that the chosen one is in.
    pub within: Option<String>,
    /// What is on the line of each row.
    lines: Vec<String>,
    seen: SeenText,
}

/// How much of a line the letters are looked for in, in bytes.
const BYTES_SEARCHED: usize = 1_000;

impl RosterList {
    /// The cursors of the view with the keys; the primary one is chosen.
    #[must_use]
    pub fn of(workspace: &Workspace) -> RosterList {
        let (buffer, view) = (workspace.active(), workspace.view());
        let cursors = view.cursors();
        let rows = RosterRows::of(workspace);
        let line = |row: RosterRow| {
            let (buffer, view) = workspace.pair(row.view());
            match row {
                RosterRow::File(_) => buffer.name(),
                RosterRow::Cursor(_, index) => {
                    view.cursors().list().get(index).map_or_else(String::new, |each| line_of(buffer, *each))
                }
            }
        };
        RosterList {
            line: InputLine::default(),
            shown: (0..rows.count()).collect(),
            chosen: rows.place(view.id, cursors.primary_index()).unwrap_or(0),
            dropped: HashSet::new(),
            within: within((buffer, view), cursors.primary()),
            lines: (0..rows.count()).filter_map(|place| rows.at(place)).map(line).collect(),
            rows,
            seen: SeenText::active(workspace),
        }
    }

    /// The same list of the cursors of now, where the text or their number has changed. Marks stay while there are as many.
    pub fn follow(&mut self, workspace: &Workspace) {
        let is_as_many = RosterRows::of(workspace) == self.rows;
        if self.seen.is_active(workspace) && is_as_many {
            return;
        }
        let fresh = RosterList::of(workspace);
        let line = std::mem::take(&mut self.line);
        let dropped = if is_as_many { std::mem::take(&mut self.dropped) } else { HashSet::new() };
        *self = RosterList { line, dropped, ..fresh };
        self.filter();
    }

    /// The place of the chosen row among all.
    #[must_use]
    pub fn index(&self) -> Option<usize> {
        self.shown.get(self.chosen).copied()
    }

    /// The chosen row.
    #[must_use]
    pub fn row(&self) -> Option<RosterRow> {
        self.rows.at(self.index()?)
    }

    /// Marks the chosen cursor, or all of the chosen file, as one to drop, or takes the mark away.
    pub fn mark(&mut self) {
        let places = match self.row() {
            Some(RosterRow::File(view)) => self.rows.places_of(view),
            Some(RosterRow::Cursor(..)) => self.index().map_or(0..0, |index| index..index + 1),
            None => 0..0,
        };
        let is_marked = places.clone().all(|place| self.dropped.contains(&place));
        for place in places {
            if is_marked {
                self.dropped.remove(&place);
            } else {
                self.dropped.insert(place);
            }
        }
    }

    /// Leaves the cursors whose lines hold the letters.
    pub fn filter(&mut self) {
        let wanted = &self.line.text;
        let any_case = !wanted.chars().any(char::is_uppercase);
        let holds = |line: &String| match any_case {
            true => line.to_lowercase().contains(wanted.as_str()),
            false => line.contains(wanted.as_str()),
        };
        let before = self.index();
        // The row of a file is there with any of its cursors.
        let is_file = |index: usize| matches!(self.rows.at(index), Some(RosterRow::File(_)));
        let has_any = |index: usize| match self.rows.at(index) {
            Some(RosterRow::File(view)) => self.rows.places_of(view).any(|place| holds(&self.lines[place])),
            _ => false,
        };
        let fits = |index: &usize| if is_file(*index) { has_any(*index) } else { holds(&self.lines[*index]) };
        self.shown = (0..self.lines.len()).filter(fits).collect();
        self.chosen = self.shown.iter().position(|index| Some(*index) == before).unwrap_or(0);
    }

    /// Takes in which function or the like the chosen cursor is in.
    pub fn look_around(&mut self, (buffer, view): (&Buffer, &View)) {
        let index = match self.row() {
            Some(RosterRow::Cursor(_, index)) => Some(index),
            _ => None,
        };
        let chosen = index.and_then(|index| view.cursors().list().get(index).copied());
        self.within = chosen.and_then(|each| within((buffer, view), each));
    }
}

fn within((buffer, view): (&Buffer, &View), each: Selection) -> Option<String> {
    view.with_scene(buffer, |scene| stands_in(scene, each.start()))
}

/// What is on the line of a cursor's head.
fn line_of(buffer: &Buffer, each: Selection) -> String {
    let text = buffer.text();
    let content = text.content_span(text.line_of(each.head));
    let end = text.snap_back(content.end.min(content.start + BYTES_SEARCHED));
    text.slice(Span::new(content.start, end.max(content.start))).into_owned()
}
