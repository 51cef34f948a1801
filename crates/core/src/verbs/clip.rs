//! What was copied: a piece for each cursor.

use crate::units::Cell;

/// One piece of a clip.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Piece {
    /// Its characters; a line without its line end.
    pub text: String,
    /// The depth that its first line had where it came from.
    pub depth: Option<Cell>,
}

/// What was copied.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Clip {
    /// A piece for each cursor, in the order of the text.
    pub pieces: Vec<Piece>,
    /// Whether the pieces are whole lines.
    pub lines: bool,
}

impl Clip {
    /// A clip of text that came from outside.
    #[must_use]
    pub fn of_text(text: &str) -> Clip {
        Clip { pieces: vec![Piece { text: text.to_owned(), depth: None }], lines: false }
    }

    /// The pieces joined by line ends, as the system clipboard gets them.
    #[must_use]
    pub fn joined(&self) -> String {
        let mut joined = self.pieces.iter().map(|piece| piece.text.as_str()).collect::<Vec<_>>().join("\n");
        if self.lines {
            joined.push('\n');
        }
        joined
    }

    /// Whether there is nothing to paste.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.pieces.is_empty()
    }
}
