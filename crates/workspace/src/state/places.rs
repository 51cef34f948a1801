//! Places that were left, in whatever file.

use crate::buffer::Buffer;
use crate::ids::BufferId;
use snarvel_core::spans::Owner;
use snarvel_core::units::{Byte, Direction};
use std::path::PathBuf;

/// A place of a buffer, which moves with its edits; in a closed file, where it was.
#[derive(Clone, Debug)]
pub(crate) struct PlaceLeft {
    pub(crate) buffer: BufferId,
    /// Which of the buffer's spans has it, once it is remembered.
    pub(crate) item: u64,
    pub(crate) file: Option<PathBuf>,
    pub(crate) at: Byte,
}

/// The places left, the newest last.
#[derive(Debug, Default)]
pub(crate) struct Places {
    pub(crate) back: Vec<PlaceLeft>,
    pub(crate) forward: Vec<PlaceLeft>,
    pub(crate) next_item: u64,
    /// Whether the command under way goes through the places themselves.
    pub(crate) is_travelling: bool,
    /// Whether the command under way goes to a line that was asked for by its number or a name.
    pub(crate) is_asked_for: bool,
}

/// The spans of remembered places.
pub(crate) fn owner(item: u64) -> Owner {
    Owner::of_text("places").item(item)
}

impl Places {
    pub(crate) fn of(&mut self, direction: Direction) -> &mut Vec<PlaceLeft> {
        match direction {
            Direction::Back => &mut self.back,
            Direction::Forward => &mut self.forward,
        }
    }

    /// Keeps the places of a buffer that is closed by where they were last.
    pub(crate) fn closed(&mut self, buffer: &Buffer) {
        for place in self.back.iter_mut().chain(&mut self.forward).filter(|place| place.buffer == buffer.id) {
            place.at = buffer.spans.get(owner(place.item)).first().map_or(place.at, |span| span.start);
        }
        let is_gone = |place: &PlaceLeft| place.buffer == buffer.id && place.file.is_none();
        self.back.retain(|place| !is_gone(place));
        self.forward.retain(|place| !is_gone(place));
    }
}
