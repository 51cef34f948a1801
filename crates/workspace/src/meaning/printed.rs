//! The way from place to place that programs have printed, over files: the newest run first, in the order of its output, what servers
//! say after it.

use super::faults::{FaultRow, FaultSource, Reach, told};
use crate::editing::Effects;
use crate::ids::ShellId;
use crate::workspace::Workspace;
use snarvel_core::units::Direction;
use snarvel_servers::news::FaultKind;
use snarvel_shell::places::Place;

impl Workspace {
    /// The places of all runs, where they are now: the newest run first, each in the order in which it has printed them. Cost: that of
    /// what is wrong in the project.
    #[must_use]
    pub fn printed(&self) -> Vec<FaultRow> {
        let mut rows: Vec<FaultRow> = self.all_faults(Reach::Project);
        rows.retain(|row| matches!(row.source, FaultSource::Run(_)));
        let runs: Vec<ShellId> = self.shells().iter().rev().map(|shell| shell.id).collect();
        let order = |row: &FaultRow| {
            let FaultSource::Run(id) = row.source else { return (usize::MAX, usize::MAX) };
            let run = runs.iter().position(|run| *run == id).unwrap_or(usize::MAX);
            let is_it = |place: &Place| place.file == row.path && place.message == row.fault.message;
            let places =
                self.shells().iter().find(|shell| shell.id == id).map(|shell| &shell.places[..]).unwrap_or_default();
            (run, places.iter().position(is_it).unwrap_or(usize::MAX))
        };
        rows.sort_by_key(order);
        rows
    }

    /// Goes to the first place that a line of a program's output names; whether there is one.
    pub fn go_to_printed_in(&mut self, line: &str) -> bool {
        let is_named = |row: &FaultRow| {
            let name = row.path.file_name().map(|name| name.to_string_lossy().into_owned()).unwrap_or_default();
            let number = (row.line + 1).to_string();
            let numbers = || line.split(|c: char| !c.is_ascii_digit());
            line.contains(&name) && numbers().any(|each| each == number)
        };
        let Some(row) = self.printed().into_iter().find(is_named) else { return false };
        self.go_to_file(&row.path, row.span);
        self.say(told(&row.fault));
        true
    }

    /// Goes to the next place that a program has printed, or to the one before; none where there is none. Notes are passed over where
    /// there is anything else.
    pub(super) fn go_to_printed(&mut self, direction: Direction) -> Option<Effects> {
        let mut rows = self.printed();
        if rows.is_empty() {
            return None;
        }
        let is_printed = |rows: &[FaultRow], other: &FaultRow| {
            rows.iter().any(|row| row.path == other.path && row.line == other.line)
        };
        let mut others = self.all_faults(Reach::Project);
        others.retain(|row| matches!(row.source, FaultSource::Server(_)) && !is_printed(&rows, row));
        rows.extend(others);
        if rows.iter().any(|row| row.fault.kind != FaultKind::Note) {
            rows.retain(|row| row.fault.kind != FaultKind::Note);
        }
        let count = rows.len();
        // The way goes on from the place before, wherever the caret has gone to mend it.
        let index = match (self.past.meaning.faults.last_printed.filter(|at| *at < count), direction) {
            (Some(at), Direction::Forward) => (at + 1) % count,
            (Some(at), Direction::Back) => (at + count - 1) % count,
            (None, Direction::Forward) => 0,
            (None, Direction::Back) => count - 1,
        };
        let row = rows.swap_remove(index);
        self.go_to_file(&row.path, row.span);
        self.past.meaning.faults.last_printed = Some(index);
        Some(Effects::saying(format!("{} of {count}: {}", index + 1, told(&row.fault))))
    }
}
