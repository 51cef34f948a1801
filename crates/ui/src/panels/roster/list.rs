//! The list of cursors that is gone through.

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
    /// The cursors whose lines hold those letters, in the order of the text.
    pub shown: Vec<usize>,
    /// Which of those is chosen.
    pub chosen: usize,
    /// The cursors that are to be dropped.
    pub dropped: HashSet<usize>,
    /// The function or the like that the chosen one is in.
    pub within: Option<String>,
    /// What is on the lines of all cursors.
    pub lines: Vec<String>,
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
        RosterList {
            line: InputLine::default(),
            shown: (0..cursors.len()).collect(),
            chosen: cursors.primary_index(),
            dropped: HashSet::new(),
            within: within((buffer, view), cursors.primary()),
            lines: cursors.iter().map(|each| line_of(buffer, each)).collect(),
            seen: SeenText::active(workspace),
        }
    }

    /// The same list of the cursors of now, where the text or their number has changed. Marks stay while there are as many.
    pub fn follow(&mut self, workspace: &Workspace) {
        let is_as_many = workspace.view().cursors().len() == self.lines.len();
        if self.seen.is_active(workspace) && is_as_many {
            return;
        }
        let fresh = RosterList::of(workspace);
        let line = std::mem::take(&mut self.line);
        let dropped = if is_as_many { std::mem::take(&mut self.dropped) } else { HashSet::new() };
        *self = RosterList { line, dropped, ..fresh };
        self.filter();
    }

    /// The chosen cursor.
    #[must_use]
    pub fn index(&self) -> Option<usize> {
        self.shown.get(self.chosen).copied()
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
        self.shown = (0..self.lines.len()).filter(|&index| holds(&self.lines[index])).collect();
        self.chosen = self.shown.iter().position(|index| Some(*index) == before).unwrap_or(0);
    }

    /// Takes in which function or the like the chosen cursor is in.
    pub fn look_around(&mut self, (buffer, view): (&Buffer, &View)) {
        let chosen = self.index().and_then(|index| view.cursors().list().get(index).copied());
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
