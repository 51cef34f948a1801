//! What was copied: a piece for each cursor. And the shelf: what was copied before that.

use crate::units::Cell;
use serde::{Deserialize, Serialize};
use std::collections::VecDeque;
use std::sync::Arc;

/// One piece of a clip.
#[derive(Clone, Debug, Default, Deserialize, PartialEq, Eq, Serialize)]
pub struct Piece {
    /// Its characters; a line without its line end.
    pub text: String,
    /// The depth that its first line had where it came from.
    pub depth: Option<Cell>,
}

/// What was copied.
#[derive(Clone, Debug, Default, Deserialize, PartialEq, Eq, Serialize)]
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

    /// How much it holds, in bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        self.pieces.iter().map(|piece| piece.text.len()).sum()
    }

    /// Whether there is nothing to paste.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.pieces.is_empty()
    }
}

/// The clips lately, the newest first. It is never without the newest one.
#[derive(Clone, Debug, Default)]
pub struct Shelf {
    clips: VecDeque<Arc<Clip>>,
}

/// How many clips a shelf holds (the design's figure).
const MOST_CLIPS: usize = 200;

/// How much a shelf holds, in bytes: as much as a person would not miss. The newest clip always stays.
const MOST_BYTES: usize = 64 << 20;

impl Shelf {
    /// The clips, the newest first.
    pub fn clips(&self) -> impl ExactSizeIterator<Item = &Arc<Clip>> {
        self.clips.iter()
    }

    /// What was copied last; nothing at first.
    #[must_use]
    pub fn newest(&self) -> Arc<Clip> {
        self.clips.front().cloned().unwrap_or_default()
    }

    /// Puts `clip` on it, in front. The same clip further after goes; so do the oldest where there are too many.
    pub fn put(&mut self, clip: impl Into<Arc<Clip>>) {
        let clip = clip.into();
        if clip.is_empty() {
            return;
        }
        self.clips.retain(|other| *other != clip);
        self.clips.push_front(clip);
        self.clips.truncate(MOST_CLIPS);
        let mut held: usize = self.clips.iter().map(|clip| clip.bytes()).sum();
        while held > MOST_BYTES && self.clips.len() > 1 {
            held -= self.clips.pop_back().map_or(0, |oldest| oldest.bytes());
        }
    }

    /// Takes the `index`th clip off it.
    pub fn drop_clip(&mut self, index: usize) {
        self.clips.remove(index);
    }
}

impl FromIterator<Clip> for Shelf {
    /// A shelf of clips, the newest first.
    fn from_iter<I: IntoIterator<Item = Clip>>(clips: I) -> Shelf {
        let mut shelf = Shelf::default();
        let clips: Vec<Clip> = clips.into_iter().collect();
        clips.into_iter().rev().for_each(|clip| shelf.put(clip));
        shelf
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn texts(shelf: &Shelf) -> Vec<String> {
        shelf.clips().map(|clip| clip.joined()).collect()
    }

    #[test]
    fn the_newest_is_in_front_and_nothing_is_held_twice() {
        let mut shelf = Shelf::default();
        assert!(shelf.newest().is_empty());
        ["fog", "horn", "fog", "buoy"].iter().for_each(|text| shelf.put(Clip::of_text(text)));
        shelf.put(Clip::default());
        assert_eq!(texts(&shelf), ["buoy", "fog", "horn"]);
        shelf.drop_clip(1);
        assert_eq!(texts(&shelf), ["buoy", "horn"]);
        let again: Shelf = shelf.clips().map(|clip| Clip::clone(clip)).collect();
        assert_eq!(texts(&again), texts(&shelf));
    }

    #[test]
    fn the_oldest_make_room() {
        let mut shelf: Shelf = (0..300).map(|index| Clip::of_text(&index.to_string())).collect();
        assert_eq!((shelf.clips().len(), shelf.newest().joined()), (MOST_CLIPS, "0".to_owned()));
        shelf.put(Clip::of_text(&"x".repeat(MOST_BYTES + 1)));
        assert_eq!(shelf.clips().len(), 1, "a clip that is too large alone is still there to be pasted");
    }
}
