//! Going on from hit to hit after find has closed: while Enter follows Enter.

use super::found::{Found, HitRow};
use crate::context::Context;
use crate::keys::Key;
use crate::panels::panel::{NextKey, NextKeys};
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::text::place::Place;
use snarvel_core::units::{Direction, Span};
use snarvel_workspace::arrival::Arrival;
use std::path::PathBuf;

/// The hits that were found, and which of them the cursor is at.
#[derive(Clone, Debug)]
pub struct FoundSteps {
    /// The files that the hits are in; none where all are in the active one.
    files: Vec<PathBuf>,
    hits: Vec<Hit>,
    at: usize,
    /// Whether more could be found after the last one: the search had not ended.
    is_cut: bool,
}

#[derive(Clone, Copy, Debug)]
struct Hit {
    /// The number of its file.
    file: usize,
    span: Span,
}

impl FoundSteps {
    /// The hits of `found`, the one in the `chosen`th row first. Cost: linear in the hits.
    #[must_use]
    pub fn of(found: &Found, chosen: usize) -> FoundSteps {
        let is_cut = found.search().is_some();
        let Some(project) = found.project() else {
            let hits = found.hits().iter().map(|span| Hit { file: 0, span: *span }).collect();
            return FoundSteps { files: Vec::new(), hits, at: chosen, is_cut };
        };
        let files = project.files.iter().map(|file| file.path.clone()).collect();
        let is_hit = |row: &&HitRow| row.hit.is_some();
        let before = project.rows.iter().take(chosen).filter(is_hit).count();
        let span = |row: &HitRow| project.files[row.file].hits[row.hit.unwrap_or(0)].span;
        let hits = project.rows.iter().filter(is_hit).map(|row| Hit { file: row.file, span: span(row) }).collect();
        FoundSteps { files, hits, at: before, is_cut }
    }

    /// Whether there is no hit.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.hits.is_empty() || self.at >= self.hits.len()
    }

    /// Goes to the next or the previous hit, around all of them.
    pub fn step(&mut self, direction: Direction, context: &mut Context) {
        let last = self.hits.len() - 1;
        let next = match direction {
            Direction::Forward if self.at == last && self.is_cut => {
                context.say("the search had come no further: find goes on from here");
                return;
            }
            Direction::Forward if self.at == last => 0,
            Direction::Forward => self.at + 1,
            Direction::Back if self.at == 0 => last,
            Direction::Back => self.at - 1,
        };
        let is_around = next == if direction == Direction::Forward { 0 } else { last } && last > 0;
        self.at = next;
        self.go(context);
        if is_around {
            let again = if direction == Direction::Forward { "first hit again" } else { "last hit again" };
            context.say(format!("{again}: {}", self.told()));
        }
    }

    /// Selects the hit that it is at.
    pub fn go(&mut self, context: &mut Context) {
        let Hit { file, span } = self.hits[self.at];
        if let Some(path) = self.files.get(file) {
            context.workspace.open(path);
        }
        let (buffer, view) = context.workspace.active_pair_mut();
        let text = buffer.text();
        if buffer.is_partial() {
            view.go(buffer, Arrival::Place(Place::Byte(span.start)));
        } else if span.end <= text.end() {
            let [start, end] = [text.snap_back(span.start), text.snap_forward(span.end)];
            context.workspace.take_hits(CursorSet::one(Selection::new(start, end)), None);
        }
        context.say(self.told());
    }

    fn told(&self) -> String {
        let more = if self.is_cut { " so far" } else { "" };
        let next = if self.hits.len() > 1 { " · Enter next" } else { "" };
        format!("{} of {}{more}{next}", self.at + 1, self.hits.len())
    }
}

impl NextKeys for FoundSteps {
    fn press(&mut self, key: Key, context: &mut Context) -> NextKey {
        match (key.code, key.mods) {
            (KeyCode::Enter, KeyModifiers::NONE) => self.step(Direction::Forward, context),
            (KeyCode::Enter, KeyModifiers::SHIFT) => self.step(Direction::Back, context),
            _ => return NextKey::LeftAsLast,
        }
        NextKey::Taken
    }
}
