//! Reading a text at many places, mostly in their order: what lies in the piece of memory at hand, or in one of the next,
//! is not asked of the rope again.

use super::{Chunk, LineEnd, LineParts, Text};
use crate::units::{Byte, Line, Span};
use ropey::iter::Chunks;
use std::borrow::Cow;

/// Bytes that are gone through piece by piece rather than asking the rope for the piece there.
const NEAR: usize = 4 << 10;

/// Lines that are gone through so, at most, as many times as there are in the piece at hand.
const NEAR_TIMES: usize = 4;

/// Reads a text. What it says is what [`Text`] says; the cost of a question is O(1) where it is near the one before and
/// after it, and that of the same question to the text elsewhere.
pub struct Reader<'a> {
    text: &'a Text,
    /// The pieces after the one at hand, once the reader has gone on to them.
    pieces: Option<Chunks<'a>>,
    piece: Chunk<'a>,
    /// The line of the first byte of the piece, where it is known.
    line: Option<usize>,
    /// Whether lines are asked for: then they are counted along the way.
    counts: bool,
    /// How many line feeds are in the piece, once that is counted.
    feeds: Option<usize>,
    /// Where line feeds are in the piece, once that was asked more than once.
    breaks: Vec<u32>,
    knows_breaks: bool,
    is_asked: bool,
    /// For lines that lie across pieces.
    begun: String,
}

impl<'a> Reader<'a> {
    /// Reads `text`.
    #[must_use]
    pub fn new(text: &'a Text) -> Reader<'a> {
        let piece = text.chunk_at(Byte(0));
        let (counts, breaks, knows_breaks, is_asked) = (false, Vec::new(), false, false);
        Reader {
            text,
            pieces: None,
            piece,
            line: Some(0),
            counts,
            feeds: None,
            breaks,
            knows_breaks,
            is_asked,
            begun: String::new(),
        }
    }

    /// The text that is read.
    #[must_use]
    pub fn text(&self) -> &'a Text {
        self.text
    }

    /// [`Text::line_of`].
    ///
    /// # Panics
    /// If `at` is past the end.
    pub fn line_of(&mut self, at: Byte) -> Line {
        self.line();
        self.move_to(at);
        let offset = at - self.piece.start;
        let before = match self.is_asked_again() {
            true => self.breaks().partition_point(|&at| (at as usize) < offset),
            false => memchr::memchr_iter(b'\n', &self.piece.text.as_bytes()[..offset]).count(),
        };
        Line(self.line() + before)
    }

    /// [`Text::line_of`], and where that line begins.
    ///
    /// # Panics
    /// If `at` is past the end.
    pub fn line_around(&mut self, at: Byte) -> (Line, Byte) {
        let line = self.line_of(at);
        let before = &self.piece.text.as_bytes()[..at - self.piece.start];
        match memchr::memrchr(b'\n', before) {
            Some(end) => (line, self.piece.start + end + 1),
            None => (line, self.text.line_start(line)),
        }
    }

    /// [`Text::line_start`].
    ///
    /// # Panics
    /// If `line` is past the last.
    pub fn line_start(&mut self, line: Line) -> Byte {
        let near = self.line() + (self.feeds() + 1) * NEAR_TIMES;
        while line.0 <= near && line.0 > self.line() + self.feeds() && self.go_on() {}
        if let Some(at) = line.0.checked_sub(self.line() + 1).and_then(|index| self.break_at(index)) {
            return self.piece.start + at + 1;
        }
        let start = self.text.line_start(line);
        // The first line of the piece began before it.
        if line.0 != self.line() {
            self.jump(start);
        }
        start
    }

    fn line_parts(&mut self, line: Line) -> LineParts {
        let start = self.line_start(line);
        let at = line.0.checked_sub(self.line()).and_then(|index| self.break_at(index));
        match at.map(|at| (at, self.piece.start + at + 1)) {
            Some((at, end)) if at > 0 || end - start == 1 => {
                let is_crlf = end - start > 1 && self.piece.text.as_bytes()[at - 1] == b'\r';
                LineParts { content: Span::new(start, end - if is_crlf { 2 } else { 1 }), end }
            }
            _ => self.text.line_parts(line),
        }
    }

    /// [`Text::line_span`].
    pub fn line_span(&mut self, line: Line) -> Span {
        let parts = self.line_parts(line);
        Span::new(parts.content.start, parts.end)
    }

    /// [`Text::content_span`].
    pub fn content_span(&mut self, line: Line) -> Span {
        self.line_parts(line).content
    }

    /// The line that begins at `start`, without and with its line end.
    ///
    /// # Panics
    /// If `start` is past the end.
    pub fn line_from(&mut self, start: Byte) -> [Span; 2] {
        let piece = self.piece_at(start);
        let here = &piece.text.as_bytes()[start - piece.start..];
        let parts = match memchr::memchr(b'\n', here) {
            Some(at) => {
                let is_crlf = at > 0 && here[at - 1] == b'\r';
                LineParts { content: Span::new(start, start + at - usize::from(is_crlf)), end: start + at + 1 }
            }
            None => self.text.line_parts(self.text.line_of(start)),
        };
        [parts.content, Span::new(start, parts.end)]
    }

    /// [`Text::line_end`].
    pub fn line_end(&mut self, line: Line) -> Option<LineEnd> {
        self.line_parts(line).line_end()
    }

    /// [`Text::content`].
    pub fn content(&mut self, line: Line) -> Cow<'a, str> {
        let span = self.content_span(line);
        self.slice(span)
    }

    /// [`Text::slice`].
    ///
    /// # Panics
    /// If an end of `span` is past the text or inside a character.
    pub fn slice(&mut self, span: Span) -> Cow<'a, str> {
        if span.is_empty() {
            return Cow::Borrowed("");
        }
        let piece = self.piece_at(span.start);
        match span.end <= piece.start + piece.text.len() {
            true => Cow::Borrowed(&piece.text[span.start - piece.start..span.end - piece.start]),
            false => self.text.slice(span),
        }
    }

    /// [`Text::byte`].
    pub fn byte(&mut self, at: Byte) -> Option<u8> {
        if at >= self.text.end() {
            return None;
        }
        let piece = self.piece_at(at);
        piece.text.as_bytes().get(at - piece.start).copied()
    }

    /// [`Text::chunk_at`].
    ///
    /// # Panics
    /// If `at` is past the end.
    pub fn piece_at(&mut self, at: Byte) -> Chunk<'a> {
        self.move_to(at);
        self.piece
    }

    /// Hands the lines of `span`, with their line ends, and the place after them to `see`, in order: as many together as lie
    /// in one piece of memory, one that lies across pieces by itself.
    ///
    /// Cost: linear in the bytes; what lies in one piece is not copied.
    ///
    /// # Panics
    /// If an end of `span` is past the text or inside a character.
    pub fn each_stretch(&mut self, span: Span, see: &mut impl FnMut(&str, Byte)) {
        let (mut at, mut begun) = (span.start, std::mem::take(&mut self.begun));
        begun.clear();
        while at < span.end {
            let piece = self.piece_at(at);
            let here = &piece.text[at - piece.start..piece.text.len().min(span.end - piece.start)];
            let first = if begun.is_empty() { 0 } else { behind_first_line(here) };
            begun.push_str(&here[..first]);
            if begun.ends_with('\n') {
                see(&begun, at + first);
                begun.clear();
            }
            let whole = first + behind_last_line(&here[first..]);
            if whole > first {
                see(&here[first..whole], at + whole);
            }
            begun.push_str(&here[whole..]);
            at += here.len();
        }
        if !begun.is_empty() {
            see(&begun, span.end);
        }
        self.begun = begun;
    }

    /// Takes the piece that holds `at`; at the end of the text, the last one.
    fn move_to(&mut self, at: Byte) {
        assert!(at <= self.text.end(), "{} in a text of {}", at.0, self.text.len());
        if at >= self.piece.start && at.0 <= self.piece.start.0 + self.piece.text.len() + NEAR {
            while !self.holds(at) && self.go_on() {}
        }
        if !self.holds(at) {
            self.jump(at);
        }
    }

    fn holds(&self, at: Byte) -> bool {
        let end = self.piece.start + self.piece.text.len();
        self.piece.start <= at && (at < end || end == self.text.end())
    }

    /// Takes the next piece, if there is one.
    fn go_on(&mut self) -> bool {
        let end = (self.piece.start + self.piece.text.len()).0;
        let behind = || self.text.rope.chunks_at_byte(end).0;
        let Some(next) = self.pieces.get_or_insert_with(behind).next() else { return false };
        self.line = self.line.filter(|_| self.counts).map(|line| line + self.feeds());
        self.piece = Chunk { text: next, start: Byte(end) };
        (self.feeds, self.knows_breaks, self.is_asked) = (None, false, false);
        true
    }

    /// Takes the piece that holds `at`, wherever that is.
    fn jump(&mut self, at: Byte) {
        let (text, start, _, line) = self.text.rope.chunk_at_byte(at.0);
        self.piece = Chunk { text, start: Byte(start) };
        (self.pieces, self.line) = (None, Some(line));
        (self.feeds, self.knows_breaks, self.is_asked) = (None, false, false);
    }

    /// The line of the first byte of the piece.
    fn line(&mut self) -> usize {
        self.counts = true;
        let start = self.piece.start.0;
        *self.line.get_or_insert_with(|| self.text.rope.byte_to_line(start))
    }

    /// Whether the piece was asked about before: then it is worth while to know where its line feeds are.
    fn is_asked_again(&mut self) -> bool {
        std::mem::replace(&mut self.is_asked, true)
    }

    /// How many line feeds are in the piece.
    fn feeds(&mut self) -> usize {
        let piece = self.piece.text.as_bytes();
        *self.feeds.get_or_insert_with(|| memchr::memchr_iter(b'\n', piece).count())
    }

    fn breaks(&mut self) -> &[u32] {
        if !self.knows_breaks {
            self.breaks.clear();
            self.breaks.extend(memchr::memchr_iter(b'\n', self.piece.text.as_bytes()).map(|at| at as u32));
            self.knows_breaks = true;
        }
        &self.breaks
    }

    /// Where in the piece its `index`th line feed is.
    fn break_at(&mut self, index: usize) -> Option<usize> {
        self.breaks().get(index).map(|&at| at as usize)
    }
}

/// The place after the first line end of `text`, or its end.
fn behind_first_line(text: &str) -> usize {
    memchr::memchr(b'\n', text.as_bytes()).map_or(text.len(), |at| at + 1)
}

/// The place after the last line end of `text`, or its start.
fn behind_last_line(text: &str) -> usize {
    memchr::memrchr(b'\n', text.as_bytes()).map_or(0, |at| at + 1)
}

impl std::fmt::Debug for Reader<'_> {
    fn fmt(&self, out: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        out.debug_struct("Reader").field("piece", &self.piece).field("line", &self.line).finish_non_exhaustive()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn it_says_what_the_text_says(
            pad in 0usize..1200,
            tail in "[a\\r\\né]{0,40}",
            asked in proptest::collection::vec((0usize..7, 0usize..10_000), 1..60),
            is_ascending: bool,
        ) {
            let blank = "\n".repeat(pad / 3);
            let plain = format!("{}{tail}{blank}{}{}z", "x".repeat(pad), "y\r\n".repeat(400), "long é\n".repeat(pad * 9));
            let text = Text::from(plain.as_str());
            let mut reader = Reader::new(&text);
            let mut asked = asked;
            if is_ascending {
                asked.sort_by_key(|(_, place)| *place);
            }
            for (what, place) in asked {
                let line = Line((text.line_count() * place / 9_000).min(text.line_count() - 1));
                let mut at = Byte((text.len() * place / 9_000).min(text.len()));
                while !text.is_char_edge(at) {
                    at = at - 1;
                }
                match what {
                    0 => prop_assert_eq!(reader.line_of(at), text.line_of(at)),
                    1 => prop_assert_eq!(reader.line_start(line), text.line_start(line)),
                    2 => prop_assert_eq!(reader.line_span(line), text.line_span(line)),
                    5 => prop_assert_eq!(reader.line_around(at), (text.line_of(at), text.line_start(text.line_of(at)))),
                    4 => {
                        let spans = [text.content_span(line), text.line_span(line)];
                        prop_assert_eq!(reader.line_from(text.line_start(line)), spans);
                    }
                    3 => prop_assert_eq!(
                        (reader.content(line), reader.line_end(line)),
                        (text.content(line), text.line_end(line))
                    ),
                    _ => {
                        let end = text.line_span(text.line_of(at)).end;
                        prop_assert_eq!(reader.slice(Span::new(at, end)), text.slice(Span::new(at, end)));
                    }
                }
            }
        }
    }
}
