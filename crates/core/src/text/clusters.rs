//! Grapheme clusters (Unicode UAX #29, extended): the only places where a caret can be.
//!
//! A CR LF pair is one cluster. Cost of a step: O(log n) and the length of the cluster.

use super::Text;
use super::reader::Reader;
use crate::units::{Byte, Direction, Span};
use unicode_segmentation::{GraphemeCursor, GraphemeIncomplete};

impl Text {
    /// The next boundary after `at`, or the end.
    #[must_use]
    pub fn next_boundary(&self, at: Byte) -> Byte {
        if let (Some(here), Some(next)) = (self.byte(at), self.byte(at + 1))
            && here.is_ascii()
            && next.is_ascii()
            && here != b'\r'
        {
            return at + 1;
        }
        self.walk(at, Direction::Forward).unwrap_or_else(|| self.end())
    }

    /// The boundary before `at`, or the start.
    #[must_use]
    pub fn previous_boundary(&self, at: Byte) -> Byte {
        if at.0 >= 2
            && let (Some(here), Some(before)) = (self.byte(at - 1), self.byte(at - 2))
            && here.is_ascii()
            && before.is_ascii()
            && here != b'\n'
        {
            return at - 1;
        }
        self.walk(at, Direction::Back).unwrap_or(Byte(0))
    }

    /// The boundary one cluster away.
    #[must_use]
    pub fn step(&self, at: Byte, direction: Direction) -> Byte {
        match direction {
            Direction::Back => self.previous_boundary(at),
            Direction::Forward => self.next_boundary(at),
        }
    }

    /// Whether a caret can be at all of `places`, which come in ascending order. Cost: little for each beside the
    /// one before it, where the text around is ASCII.
    #[must_use]
    pub fn are_boundaries(&self, mut places: impl Iterator<Item = Byte>) -> bool {
        let mut reader = Reader::new(self);
        places.all(|at| {
            let chunk = reader.piece_at(at.min(self.end()));
            let bytes = chunk.text.as_bytes();
            let offset = at.0.wrapping_sub(chunk.start.0);
            let beside = offset.checked_sub(1).and_then(|before| Some((*bytes.get(before)?, *bytes.get(offset)?)));
            match beside {
                // Between two ASCII characters there is a boundary, but for the line end of two.
                Some((before, behind)) if before.is_ascii() && behind.is_ascii() => (before, behind) != (b'\r', b'\n'),
                _ => self.is_boundary(at),
            }
        })
    }

    /// Whether a caret can be at `at`.
    #[must_use]
    pub fn is_boundary(&self, at: Byte) -> bool {
        if at.0 == 0 || at >= self.end() {
            return at <= self.end();
        }
        let chunk = self.chunk_at(at);
        let (bytes, offset) = (chunk.text.as_bytes(), at - chunk.start);
        let before = if offset > 0 { Some(bytes[offset - 1]) } else { self.byte(at - 1) };
        if bytes[offset].is_ascii() && before.is_some_and(|byte| byte.is_ascii()) {
            return !(before == Some(b'\r') && bytes[offset] == b'\n');
        }
        if !chunk.text.is_char_boundary(offset) {
            return false;
        }
        self.ask(at)
    }

    /// `at` itself if a caret can be there, else the end of the cluster around it.
    ///
    /// # Panics
    /// If `at` is past the end.
    #[must_use]
    pub fn snap_forward(&self, at: Byte) -> Byte {
        assert!(at <= self.end(), "byte {} is past the text, which ends at {}", at.0, self.len());
        let mut at = at;
        while !self.is_boundary(at) {
            at += 1;
        }
        at
    }

    /// `at` itself if a caret can be there, else the start of the cluster around it.
    #[must_use]
    pub fn snap_back(&self, at: Byte) -> Byte {
        let mut at = at;
        while !self.is_boundary(at) {
            at = at - 1;
        }
        at
    }

    /// The cluster that begins at `at`.
    #[must_use]
    pub fn cluster_at(&self, at: Byte) -> Span {
        Span::new(at, self.next_boundary(at))
    }

    fn ask(&self, at: Byte) -> bool {
        let mut cursor = GraphemeCursor::new(at.0, self.len(), true);
        let chunk = self.chunk_at(at);
        loop {
            match cursor.is_boundary(chunk.text, chunk.start.0) {
                Ok(answer) => return answer,
                Err(GraphemeIncomplete::PreContext(end)) => self.give_context(&mut cursor, end),
                Err(other) => unreachable!("a boundary check asks for context only, not {other:?}"),
            }
        }
    }

    fn walk(&self, at: Byte, direction: Direction) -> Option<Byte> {
        let mut cursor = GraphemeCursor::new(at.0, self.len(), true);
        let mut chunk = match direction {
            Direction::Back if at.0 > 0 => self.chunk_at(at - 1),
            _ => self.chunk_at(at),
        };
        loop {
            let found = match direction {
                Direction::Back => cursor.prev_boundary(chunk.text, chunk.start.0),
                Direction::Forward => cursor.next_boundary(chunk.text, chunk.start.0),
            };
            match found {
                Ok(place) => return place.map(Byte),
                Err(GraphemeIncomplete::PreContext(end)) => self.give_context(&mut cursor, end),
                Err(GraphemeIncomplete::NextChunk) => chunk = self.chunk_at(chunk.start + chunk.text.len()),
                Err(GraphemeIncomplete::PrevChunk) => chunk = self.chunk_at(chunk.start - 1),
                Err(GraphemeIncomplete::InvalidOffset) => {
                    unreachable!("byte {} lies outside the piece that starts at {}", at.0, chunk.start.0)
                }
            }
        }
    }

    fn give_context(&self, cursor: &mut GraphemeCursor, end: usize) {
        let chunk = self.chunk_at(Byte(end - 1));
        cursor.provide_context(&chunk.text[..end - chunk.start.0], chunk.start.0);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use unicode_segmentation::UnicodeSegmentation;

    fn agree_with_plain(text: &str) {
        let rope = Text::from(text);
        let mut expected: Vec<usize> = text.grapheme_indices(true).map(|(at, _)| at).collect();
        expected.push(text.len());
        let mut forward = vec![0];
        while forward[forward.len() - 1] < text.len() {
            forward.push(rope.next_boundary(Byte(forward[forward.len() - 1])).0);
        }
        assert_eq!(forward, if text.is_empty() { vec![0] } else { expected.clone() });
        for (index, &place) in expected.iter().enumerate().skip(1) {
            assert_eq!(rope.previous_boundary(Byte(place)).0, expected[index - 1]);
        }
        assert!(rope.are_boundaries(expected.iter().map(|at| Byte(*at))), "one sweep over {text:?}");
        for at in 0..=text.len() {
            let wanted = expected.contains(&at) || text.is_empty();
            let swept = rope.are_boundaries([0, at, text.len()].map(Byte).into_iter());
            assert_eq!(swept, wanted, "byte {at} of {text:?} in a sweep");
            assert_eq!(rope.is_boundary(Byte(at)), wanted, "byte {at} of {text:?}");
        }
    }

    #[test]
    fn line_end_pairs_flags_and_families_are_single_clusters() {
        for text in ["", "a\r\nb\n\r\n", "e\u{301}x", "🇳🇴🇸🇪x", "👩‍👩‍👧‍👦!", "\u{301}a", "한국"]
        {
            agree_with_plain(text);
        }
    }

    #[test]
    fn clusters_across_pieces_of_memory_agree_with_the_plain_string() {
        for pad in 980..1030 {
            agree_with_plain(&format!("{}🇳🇴e\u{301}\r\n👩‍👧{}", "x".repeat(pad), "y\r\n".repeat(20)));
        }
    }

    proptest! {
        #[test]
        fn any_text_agrees(text in "[a\\r\\n\u{301}👩\u{200d}🇳🇴 é漢]{0,40}") {
            agree_with_plain(&text);
        }
    }
}
