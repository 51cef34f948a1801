//! What a program has drawn: a grid of cells, as of one moment.

/// A colour of a cell.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Colour {
    /// The terminal's own.
    #[default]
    Default,
    /// One of the 256 of the extended palette, the first 16 by name.
    Indexed(u8),
    /// Red, green and blue.
    Rgb(u8, u8, u8),
}

/// How a cell looks.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[allow(clippy::struct_excessive_bools, reason = "each is an attribute of ECMA-48 (8.3.117) that is on or off")]
pub struct Look {
    /// The colour of its text.
    pub fore: Colour,
    /// The colour of its ground.
    pub back: Colour,
    /// Stronger.
    pub bold: bool,
    /// Weaker.
    pub dim: bool,
    /// Slanted.
    pub italic: bool,
    /// Underlined.
    pub underlined: bool,
    /// Text and ground changed about.
    pub inverse: bool,
}

/// Cells of a row that look alike.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Run {
    /// What they hold: what is wide takes two cells.
    pub text: String,
    /// How many cells they are.
    pub cells: u16,
    /// How they look.
    pub look: Look,
}

/// What a program wants of the mouse and of keys.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[allow(clippy::struct_excessive_bools, reason = "each is a mode of the terminal that is on or off")]
pub struct Modes {
    /// Arrows are sent as a program in full screen reads them (DECCKM).
    pub application_arrows: bool,
    /// Pasted text is marked as such.
    pub bracketed_paste: bool,
    /// The alternate screen is shown: a program in full screen.
    pub alternate: bool,
    /// The mouse is told.
    pub mouse: Option<MouseForm>,
}

/// How the mouse is told.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum MouseForm {
    /// In bytes (X10).
    Bytes,
    /// In numbers (SGR, mode 1006).
    Numbers,
}

/// What a program has drawn.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Picture {
    /// The rows, from the top.
    pub rows: Vec<Vec<Run>>,
    /// Where its cursor is, row and column; none where it is hidden or scrolled out of view.
    pub cursor: Option<[u16; 2]>,
    /// What it wants of keys and mouse.
    pub modes: Modes,
    /// The title that it has given itself, without control characters.
    pub title: String,
    /// How many rows back it is looked at.
    pub scrolled: usize,
    /// How many rows back there are.
    pub kept: usize,
}

impl Picture {
    /// Its text, row by row, without what is blank at the end of rows and below the last.
    #[must_use]
    pub fn text(&self) -> String {
        let rows = self.rows.iter().map(|row| row.iter().map(|run| run.text.as_str()).collect::<String>());
        let text: Vec<String> = rows.map(|row| row.trim_end().to_owned()).collect();
        text.join("\n").trim_end().to_owned()
    }
}
