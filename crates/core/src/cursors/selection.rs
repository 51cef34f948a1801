//! One selection: an anchor that stays and a head that moves.

use crate::units::{Byte, Cell, Direction, Span};

/// A display column that a cursor would like to be in; kept small, since there may be a million.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct GoalColumn(u32);

impl GoalColumn {
    /// No wish: the column where it is.
    pub const NONE: GoalColumn = GoalColumn(u32::MAX);

    /// The wish for `cell`.
    #[must_use]
    pub fn cell(cell: Cell) -> GoalColumn {
        GoalColumn(cell.0.min(u32::MAX - 1))
    }

    /// The wished-for column.
    #[must_use]
    pub fn get(self) -> Option<Cell> {
        (self != GoalColumn::NONE).then_some(Cell(self.0))
    }
}

/// A selection; a caret when both ends are one place.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Selection {
    /// The end that stays.
    pub anchor: Byte,
    /// The end that moves: where the caret is drawn.
    pub head: Byte,
    /// The column that the anchor would like to have, where a short line kept it from it.
    pub goal_anchor: GoalColumn,
    /// The column that the head would like to have.
    pub goal_head: GoalColumn,
    /// Which addition it came with: higher is newer.
    pub born: u32,
}

impl Selection {
    /// A caret at `at`.
    #[must_use]
    pub fn caret(at: Byte) -> Selection {
        Selection::new(at, at)
    }

    /// From `anchor` to `head`.
    #[must_use]
    pub fn new(anchor: Byte, head: Byte) -> Selection {
        Selection { anchor, head, goal_anchor: GoalColumn::NONE, goal_head: GoalColumn::NONE, born: 0 }
    }

    /// Over `span`, with the head at its end when `direction` is forward, else at its start.
    #[must_use]
    pub fn over(span: Span, direction: Direction) -> Selection {
        match direction {
            Direction::Forward => Selection::new(span.start, span.end),
            Direction::Back => Selection::new(span.end, span.start),
        }
    }

    /// The same place and age, with no wished-for columns.
    #[must_use]
    pub fn unwanting(self) -> Selection {
        Selection { goal_anchor: GoalColumn::NONE, goal_head: GoalColumn::NONE, ..self }
    }

    /// The ends of `other` with this one's age.
    #[must_use]
    pub fn moved_to(self, other: Selection) -> Selection {
        Selection { born: self.born, ..other }
    }

    /// With the age `born`.
    #[must_use]
    pub fn aged(self, born: u32) -> Selection {
        Selection { born, ..self }
    }

    /// The lower end.
    #[must_use]
    pub fn start(self) -> Byte {
        self.anchor.min(self.head)
    }

    /// The upper end.
    #[must_use]
    pub fn end(self) -> Byte {
        self.anchor.max(self.head)
    }

    /// What it covers.
    #[must_use]
    pub fn span(self) -> Span {
        Span::new(self.start(), self.end())
    }

    /// Whether it covers nothing.
    #[must_use]
    pub fn is_caret(self) -> bool {
        self.anchor == self.head
    }

    /// Backward when the head is before the anchor.
    #[must_use]
    pub fn direction(self) -> Direction {
        if self.head < self.anchor { Direction::Back } else { Direction::Forward }
    }
}
