//! Neighbouring lines, and how far the scanner goes to know what they begin in.

use crate::units::{Byte, Line};

/// So many bytes are scanned for a state that is asked for: the fiftieth part of a second. Reading on line by line from what is
/// known goes as far as it will.
pub const REACH: usize = 4 << 20;

/// Where nothing within reach is known, the scanner begins so many bytes before what is asked for, at a line.
pub(super) const RUN_UP: usize = 64 << 10;

/// Neighbouring lines.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Block {
    /// The first of them.
    pub first: Line,
    /// Where that begins.
    pub start: Byte,
    /// How many they are.
    pub count: usize,
}

impl Block {
    /// The line itself, which begins at `start`.
    #[must_use]
    pub fn of(line: Line, start: Byte) -> Block {
        Block { first: line, start, count: 1 }
    }

    /// Its lines.
    pub fn lines(self) -> impl Iterator<Item = Line> {
        (self.first.0..self.first.0 + self.count).map(Line)
    }
}
