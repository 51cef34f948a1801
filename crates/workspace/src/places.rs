//! Places: where the caret was before it jumped, in whatever file, and the way back and on again.

use crate::arrival::Arrival;
use crate::buffer::Buffer;
use crate::ids::BufferId;
use crate::state::places::{PlaceLeft, owner};
use crate::workspace::Workspace;
use snarvel_core::spans::Policy;
use snarvel_core::units::{Byte, Direction, Span};
use std::path::Path;

/// A jump is a move by more lines than this (the design's figure), or to another file.
const LINES_OF_A_STEP: usize = 10;

/// How many places are remembered in each direction: more than anybody goes back through.
const MOST_PLACES: usize = 100;

/// Where the caret was before a command: nothing is remembered of it unless the caret jumps.
#[derive(Clone, Copy, Debug)]
pub struct Before {
    buffer: BufferId,
    at: Byte,
    revision: u64,
}

impl Workspace {
    /// Where the primary caret is.
    #[must_use]
    pub fn place_here(&self) -> Before {
        let buffer = self.active();
        Before { buffer: buffer.id, at: self.view().cursors().primary().head, revision: buffer.revision() }
    }

    /// Remembers `before` if the caret has jumped since.
    pub fn note_jump(&mut self, before: Before) {
        let is_asked_for = std::mem::take(&mut self.places.is_asked_for);
        let least = if is_asked_for { 0 } else { LINES_OF_A_STEP };
        if std::mem::take(&mut self.places.is_travelling) || !self.is_further_from(before, least) {
            return;
        }
        for place in std::mem::take(&mut self.places.forward) {
            self.forget(&place);
        }
        self.remember(Direction::Back, before);
    }

    /// Remembers where the caret is: its text is about to be closed, and the way back leads there.
    pub(crate) fn remember_here(&mut self) {
        self.remember(Direction::Back, self.place_here());
    }

    /// Whether the caret is more than `least` lines away from `before`, or in another file.
    fn is_further_from(&self, before: Before, least: usize) -> bool {
        let buffer = self.active();
        if buffer.id != before.buffer {
            return true;
        }
        // What was edited meanwhile is where the caret is: that is no jump away from it.
        let at = Workspace::mapped(buffer, before);
        let text = buffer.text();
        let here = text.line_of(self.view().cursors().primary().head).0;
        here.abs_diff(text.line_of(at).0) > least
    }

    /// Where `before` is now.
    fn mapped(buffer: &Buffer, before: Before) -> Byte {
        use snarvel_core::changes::Bias;
        use snarvel_core::changes::feed::Since;
        let at = match buffer.feed().since(before.revision) {
            Since::Changes(entries) => entries.iter().fold(before.at, |at, entry| {
                entry.change.moved(at).unwrap_or_else(|| entry.change.map(at, Bias::After))
            }),
            Since::Lost => before.at,
        };
        buffer.text().snap_forward(at.min(buffer.text().end()))
    }

    fn remember(&mut self, direction: Direction, before: Before) {
        let item = self.places.next_item;
        self.places.next_item += 1;
        let Some(buffer) = self.buffer_mut(before.buffer) else { return };
        let at = Workspace::mapped(buffer, before);
        buffer.spans.set(owner(item), Policy::PLACES, vec![Span::at(at)]);
        let file = buffer.path().map(Path::to_owned);
        let list = self.places.of(direction);
        list.push(PlaceLeft { buffer: before.buffer, item, file, at });
        if list.len() > MOST_PLACES {
            let oldest = list.remove(0);
            self.forget(&oldest);
        }
    }

    fn forget(&mut self, place: &PlaceLeft) {
        if let Some(buffer) = self.buffer_mut(place.buffer) {
            buffer.spans.remove(owner(place.item));
        }
    }

    /// Back through the places that were left, or on again.
    pub fn go_places(&mut self, direction: Direction, times: u32) {
        self.places.is_travelling = true;
        let mut steps = 0;
        while steps < times {
            let Some(place) = self.places.of(direction).pop() else { break };
            let here = self.place_here();
            if self.show_place(&place) {
                self.remember(direction.opposite(), here);
                steps += 1;
            }
            self.forget(&place);
        }
        match (steps, direction) {
            (0, Direction::Back) => self.say("no place to go back to"),
            (0, Direction::Forward) => self.say("no place to go on to"),
            _ => self.say_place(),
        }
    }

    /// Says where the caret is.
    pub(crate) fn say_place(&mut self) {
        let line = self.active().text().line_of(self.view().cursors().primary().head).0 + 1;
        self.say(format!("{} line {line}", self.active().name()));
    }

    /// Goes to `place`, opening its file where it was closed; false where there is nothing to go to any more.
    fn show_place(&mut self, place: &PlaceLeft) -> bool {
        match (self.buffer(place.buffer).is_some(), &place.file) {
            (true, _) => self.show(place.buffer),
            (false, Some(file)) => drop(self.open(&file.clone())),
            (false, None) => return false,
        }
        let (buffer, view) = self.active_pair_mut();
        let at = buffer.spans.get(owner(place.item)).first().map_or(place.at, |span| span.start);
        view.go(buffer, Arrival::Back(at));
        true
    }
}
