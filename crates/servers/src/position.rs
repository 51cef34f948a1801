//! Positions on the wire: a line and a number of code units in it (Language Server Protocol 3.17, "Position" and "Text
//! Documents"), in UTF-8 or UTF-16.
//!
//! On the wire a carriage return by itself ends a line, too; in our texts it is a character. So lines there are counted by
//! line feeds and by such carriage returns. Positions that are asked for in order cost no more than one pass.

use lsp_types::{Position, Range};
use memchr::memchr;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line, Span};

/// In what the columns of positions are counted.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Encoding {
    /// Bytes.
    Utf8,
    /// Units of 16 bits: what holds where nothing was agreed.
    #[default]
    Utf16,
    /// Characters.
    Utf32,
}

impl Encoding {
    fn units(self, text: &str) -> usize {
        match self {
            Encoding::Utf8 => text.len(),
            Encoding::Utf16 => text.chars().map(char::len_utf16).sum(),
            Encoding::Utf32 => text.chars().count(),
        }
    }

    fn of_char(self, c: char) -> usize {
        match self {
            Encoding::Utf8 => c.len_utf8(),
            Encoding::Utf16 => c.len_utf16(),
            Encoding::Utf32 => 1,
        }
    }
}

/// The carriage returns of `text` that end a line on the wire only. Cost: one pass.
#[must_use]
pub fn lone_returns(text: &Text) -> Vec<Byte> {
    let mut found = Vec::new();
    for chunk in text.chunks_from(Byte(0)) {
        let bytes = chunk.text.as_bytes();
        let mut from = 0;
        while let Some(at) = memchr(b'\r', &bytes[from..]) {
            let at = from + at;
            let byte = chunk.start + at;
            let next = bytes.get(at + 1).copied().or_else(|| text.byte(byte + 1));
            if next != Some(b'\n') {
                found.push(byte);
            }
            from = at + 1;
        }
    }
    found
}

/// Turns places of a text into positions and back.
#[derive(Debug)]
pub struct Positions<'a> {
    text: &'a Text,
    returns: &'a [Byte],
    encoding: Encoding,
    /// The place that was asked for last, and its column.
    last: (Byte, usize),
}

impl<'a> Positions<'a> {
    /// Of `text`, whose lone carriage returns are `returns`.
    #[must_use]
    pub fn new(text: &'a Text, returns: &'a [Byte], encoding: Encoding) -> Positions<'a> {
        Positions { text, returns, encoding, last: (Byte(0), 0) }
    }

    /// The position of `at`.
    pub fn position(&mut self, at: Byte) -> Position {
        let own = self.text.line_of(at);
        let before = self.returns.partition_point(|each| *each < at);
        let start = self.text.line_start(own);
        let start = self.returns[..before].last().map_or(start, |last| start.max(*last + 1));
        let (last, column) = self.last;
        let (from, column) = if start <= last && last <= at { (last, column) } else { (start, 0) };
        let column = column + self.encoding.units(&self.text.slice(Span::new(from, at)));
        self.last = (at, column);
        Position::new((own.0 + before) as u32, column as u32)
    }

    /// The range of `span`.
    pub fn range(&mut self, span: Span) -> Range {
        let start = self.position(span.start);
        Range::new(start, self.position(span.end))
    }

    /// Where the line with this number on the wire begins, and where what is in it ends; none beyond the text.
    fn line(&self, line: usize) -> Option<Span> {
        let number = |index: usize| self.text.line_of(self.returns[index]).0 + index + 1;
        let mut after = 0;
        let mut beyond = self.returns.len();
        while after < beyond {
            let middle = usize::midpoint(after, beyond);
            if number(middle) <= line { after = middle + 1 } else { beyond = middle }
        }
        let (own, start) = match after.checked_sub(1) {
            None => (line, None),
            Some(index) => {
                let further = line - number(index);
                let start = (further == 0).then(|| self.returns[index] + 1);
                (self.text.line_of(self.returns[index]).0 + further, start)
            }
        };
        if own > self.text.last_line().0 {
            return None;
        }
        let content = self.text.content_span(Line(own));
        let end = self.returns.get(after).map_or(content.end, |next| content.end.min(*next));
        let start = start.unwrap_or(content.start);
        Some(Span::new(start, end.max(start)))
    }

    /// The place of `position`. What is beyond a line is at its end, what is beyond the text at its end; what is inside a
    /// character is before it.
    #[must_use]
    pub fn byte(&self, position: Position) -> Byte {
        let Some(line) = self.line(position.line as usize) else { return self.text.end() };
        let wanted = position.character as usize;
        if self.encoding == Encoding::Utf8 {
            let mut at = line.end.min(line.start + wanted);
            while !self.text.is_char_edge(at) {
                at = at - 1;
            }
            return at;
        }
        let (mut units, mut at) = (0, line.start);
        for chunk in self.text.chunks_from(line.start) {
            for c in chunk.text[(at - chunk.start)..].chars() {
                units += self.encoding.of_char(c);
                if at >= line.end || units > wanted {
                    return at.min(line.end);
                }
                at += c.len_utf8();
            }
        }
        at.min(line.end)
    }

    /// The span of `range`; empty where it runs backward.
    #[must_use]
    pub fn span(&self, range: Range) -> Span {
        let start = self.byte(range.start);
        Span::new(start, self.byte(range.end).max(start))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// Lines as the protocol counts them, their ends left out, each with where it begins.
    fn plain_lines(text: &str) -> Vec<(usize, String)> {
        let mut lines = vec![(0, String::new())];
        let mut characters = text.char_indices().peekable();
        while let Some((at, c)) = characters.next() {
            if c == '\r' && characters.peek().is_some_and(|(_, next)| *next == '\n') {
                characters.next();
                lines.push((at + 2, String::new()));
            } else if c == '\r' || c == '\n' {
                lines.push((at + 1, String::new()));
            } else if let Some(last) = lines.last_mut() {
                last.1.push(c);
            }
        }
        lines
    }

    fn plain_byte(text: &str, position: Position, encoding: Encoding) -> usize {
        let lines = plain_lines(text);
        let Some((start, content)) = lines.get(position.line as usize) else { return text.len() };
        let mut units = 0;
        for (at, c) in content.char_indices() {
            units += encoding.units(&c.to_string());
            if units > position.character as usize {
                return start + at;
            }
        }
        start + content.len()
    }

    proptest! {
        #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(400) })]
        #[test]
        fn positions_are_those_of_the_plain_way(
            text in "([a-c]|\r|\n|\r\n|é|潮|🌊){0,24}",
            places in proptest::collection::vec((0u32..8, 0u32..9), 1..6),
        ) {
            let rope = Text::from(text.as_str());
            let returns = lone_returns(&rope);
            for encoding in [Encoding::Utf8, Encoding::Utf16, Encoding::Utf32] {
                let mut positions = Positions::new(&rope, &returns, encoding);
                for (line, character) in &places {
                    let position = Position::new(*line, *character);
                    let byte = positions.byte(position).0;
                    prop_assert_eq!(byte, plain_byte(&text, position, encoding), "{:?} {:?}", position, encoding);
                    let back = positions.position(Byte(byte));
                    prop_assert_eq!(plain_byte(&text, back, encoding), byte, "back from {:?}", back);
                }
                for at in (0..=text.len()).filter(|at| text.is_char_boundary(*at)) {
                    let is_inside_end = text[..at].ends_with('\r') && text[at..].starts_with('\n');
                    let position = positions.position(Byte(at));
                    prop_assert!(is_inside_end || positions.byte(position) == Byte(at), "{} in {:?}", at, text);
                }
            }
        }
    }
}
