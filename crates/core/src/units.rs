//! Units of position, one type each, so that a line is never taken for a byte.
//!
//! All are zero-based. [`Byte`] counts bytes of the UTF-8 text (a byte-order mark is not part of it),
//! [`Line`] counts line ends before a place, [`Cell`] counts display cells from a line's start.

use serde::{Deserialize, Serialize};
use std::ops::{Add, AddAssign, Sub};

/// A byte offset into the text.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Byte(pub usize);

/// A line, counted from 0.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Line(pub usize);

/// A display column: cells from the line's start.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Deserialize, Serialize)]
pub struct Cell(pub u32);

impl Add<usize> for Byte {
    type Output = Byte;
    fn add(self, bytes: usize) -> Byte {
        Byte(self.0 + bytes)
    }
}

impl AddAssign<usize> for Byte {
    fn add_assign(&mut self, bytes: usize) {
        self.0 += bytes;
    }
}

impl Sub<usize> for Byte {
    type Output = Byte;
    fn sub(self, bytes: usize) -> Byte {
        assert!(bytes <= self.0, "{bytes} bytes before byte {} is before the text", self.0);
        Byte(self.0 - bytes)
    }
}

impl Sub<Byte> for Byte {
    type Output = usize;
    fn sub(self, start: Byte) -> usize {
        assert!(start <= self, "the span {}..{} runs backward", start.0, self.0);
        self.0 - start.0
    }
}

impl Line {
    /// The line after this one.
    #[must_use]
    pub fn next(self) -> Line {
        Line(self.0 + 1)
    }

    /// The line before this one, if there is one.
    #[must_use]
    pub fn previous(self) -> Option<Line> {
        self.0.checked_sub(1).map(Line)
    }
}

impl Add<u32> for Cell {
    type Output = Cell;
    fn add(self, cells: u32) -> Cell {
        Cell(self.0.saturating_add(cells))
    }
}

/// A stretch of text: from `start` up to, not including, `end`.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Span {
    /// The first byte.
    pub start: Byte,
    /// One past the last byte.
    pub end: Byte,
}

impl Span {
    /// The stretch from `start` to `end`.
    ///
    /// # Panics
    /// If `start > end`.
    #[must_use]
    pub fn new(start: Byte, end: Byte) -> Span {
        assert!(start <= end, "the span {}..{} runs backward", start.0, end.0);
        Span { start, end }
    }

    /// The empty stretch at `at`.
    #[must_use]
    pub fn at(at: Byte) -> Span {
        Span { start: at, end: at }
    }

    /// Its length in bytes.
    #[must_use]
    pub fn len(self) -> usize {
        self.end - self.start
    }

    /// Whether it holds no byte.
    #[must_use]
    pub fn is_empty(self) -> bool {
        self.start == self.end
    }

    /// Whether both share at least one byte.
    #[must_use]
    pub fn overlaps(self, other: Span) -> bool {
        self.start < other.end && other.start < self.end
    }
}

/// The two ways along a text. Mirrored verbs are written once and take this.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Direction {
    /// Toward the start of the text: left, up.
    Back,
    /// Toward the end of the text: right, down.
    Forward,
}

impl Direction {
    /// The other one.
    #[must_use]
    pub fn opposite(self) -> Direction {
        match self {
            Direction::Back => Direction::Forward,
            Direction::Forward => Direction::Back,
        }
    }
}
