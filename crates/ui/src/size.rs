//! Sizes: of the screen, in cells, and of the deck.

/// The size of a screen.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Size {
    /// Columns.
    pub cols: u16,
    /// Rows.
    pub rows: u16,
}

impl Size {
    /// The reference size: a window of 1280 × 800 pixels.
    pub const REFERENCE: Size = Size { cols: 142, rows: 42 };

    /// What is drawn on of a terminal of that size: a side of more cells would take more memory than there is.
    #[must_use]
    pub fn of_terminal(cols: u16, rows: u16) -> Size {
        Size { cols: cols.clamp(1, LONGEST_SIDE), rows: rows.clamp(1, LONGEST_SIDE) }
    }

    /// Reads `142x42`; both sides from 1 to 1000.
    pub fn parse(text: &str) -> Option<Size> {
        let (cols, rows) = text.split_once(['x', '×'])?;
        let side = |text: &str| text.trim().parse::<u16>().ok().filter(|side| (1..=LONGEST_SIDE).contains(side));
        Some(Size { cols: side(cols)?, rows: side(rows)? })
    }
}

/// The most cells that a side of a screen has.
const LONGEST_SIDE: u16 = 1000;

/// How large the deck is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum DeckSize {
    /// Three rows of keys, and one of doors.
    Full,
    /// One row: the most useful keys, and the doors.
    Small,
    /// One row: the doors.
    Off,
}

impl DeckSize {
    /// The next size in turn, after the last face of the full one.
    #[must_use]
    pub fn next(self) -> DeckSize {
        match self {
            DeckSize::Small => DeckSize::Full,
            DeckSize::Full => DeckSize::Off,
            DeckSize::Off => DeckSize::Small,
        }
    }

    /// How many rows it takes.
    #[must_use]
    pub fn rows(self) -> u16 {
        match self {
            DeckSize::Full => 4,
            DeckSize::Small | DeckSize::Off => 1,
        }
    }
}
