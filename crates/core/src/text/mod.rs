//! The text: a rope addressed by byte, cut into lines at LF and CR LF only.
//!
//! Units are bytes of UTF-8. Look-ups cost O(log n), copies O(1) (the rope is shared until changed).
//! It knows nothing of files: bytes that are no UTF-8 arrive here as the stand-in characters of [`raw`].

mod anchors;
pub mod cells;
pub mod clusters;
mod columns;
pub mod ends;
pub mod indent;
pub mod place;
pub mod raw;
pub mod reader;
pub mod words;

use crate::changes::{Change, Edit};
use crate::parallel::{PARALLEL_THRESHOLD, split_in_two};
use crate::units::{Byte, Line, Span};
use anchors::Anchors;
pub use ends::LineEnd;
use ropey::{Rope, RopeBuilder};
use std::borrow::Cow;

/// From this many edits for each this-many bytes of text on, one pass that builds the rope anew is cheaper
/// than editing it in place. Measured by `cargo bench -p snarvel-core --bench text`: an edit in place
/// costs about 3.5 µs in a rope that the history shares, a rebuild about 1.8 ns a byte.
const BYTES_PER_EDIT_IN_PLACE: usize = 2048;

/// A rope that is built anew gets pieces of about so many bytes.
const READY: usize = 32 << 10;

/// A text of any size.
#[derive(Clone, Debug, Default)]
pub struct Text {
    rope: Rope,
    anchors: Anchors,
}

/// Carries out `edits` of `change` in a part of the rope that begins at `base`.
fn edit(rope: &mut Rope, base: Byte, change: &Change, edits: &[Edit]) {
    for edit in edits.iter().rev() {
        let start = rope.byte_to_char(edit.start() - base);
        if edit.removed_len() > 0 {
            let end = rope.byte_to_char(edit.end() - base);
            rope.remove(start..end);
        }
        if edit.inserted_len() > 0 {
            rope.insert(start, change.inserted(edit));
        }
    }
}

impl From<&str> for Text {
    fn from(text: &str) -> Text {
        Text { rope: Rope::from_str(text), anchors: Anchors::default() }
    }
}

impl std::fmt::Display for Text {
    fn fmt(&self, out: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.rope.chunks().try_for_each(|chunk| out.write_str(chunk))
    }
}

impl PartialEq for Text {
    fn eq(&self, other: &Text) -> bool {
        self.rope == other.rope
    }
}

/// A line: its content, and where its line end ends.
#[derive(Clone, Copy, Debug)]
struct LineParts {
    content: Span,
    end: Byte,
}

impl LineParts {
    fn line_end(self) -> Option<LineEnd> {
        match self.end - self.content.end {
            0 => None,
            1 => Some(LineEnd::Lf),
            _ => Some(LineEnd::CrLf),
        }
    }
}

/// A piece of the text that lies in one stretch of memory, and where it begins.
#[derive(Clone, Copy, Debug)]
pub struct Chunk<'a> {
    /// The characters.
    pub text: &'a str,
    /// The place of the first of them.
    pub start: Byte,
}

impl Text {
    /// The length in bytes.
    #[must_use]
    pub fn len(&self) -> usize {
        self.rope.len_bytes()
    }

    /// Whether there is nothing in it.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }

    /// The place after the last byte.
    #[must_use]
    pub fn end(&self) -> Byte {
        Byte(self.len())
    }

    /// All of it.
    #[must_use]
    pub fn span(&self) -> Span {
        Span::new(Byte(0), self.end())
    }

    /// Lines, the empty last one after a final line end included: at least 1.
    #[must_use]
    pub fn line_count(&self) -> usize {
        self.rope.len_lines()
    }

    /// The last line, which is empty when the text ends with a line end.
    #[must_use]
    pub fn last_line(&self) -> Line {
        Line(self.line_count() - 1)
    }

    /// Lines that line verbs act on: all but the empty one after a final line end.
    #[must_use]
    pub fn real_line_count(&self) -> usize {
        let last = self.last_line();
        let dropped = last.0 > 0 && self.line_start(last) == self.end();
        self.line_count() - usize::from(dropped)
    }

    /// The lines that a file has, as programs count that read it: an empty text has none.
    #[must_use]
    pub fn lines_in_file(&self) -> usize {
        if self.is_empty() { 0 } else { self.real_line_count() }
    }

    /// Whether `line` is the empty one after a final line end, on which a caret can be but which no
    /// line verb moves.
    #[must_use]
    pub fn is_after_final_end(&self, line: Line) -> bool {
        line.0 >= self.real_line_count()
    }

    /// The line that holds the byte at `at`; the end of the text is on the last line.
    ///
    /// # Panics
    /// If `at` is past the end.
    #[must_use]
    pub fn line_of(&self, at: Byte) -> Line {
        Line(self.rope.byte_to_line(at.0))
    }

    /// The first byte of `line`.
    ///
    /// # Panics
    /// If `line` is past the last.
    #[must_use]
    pub fn line_start(&self, line: Line) -> Byte {
        assert!(line.0 < self.line_count(), "line {} of {}", line.0, self.line_count());
        Byte(self.rope.line_to_byte(line.0))
    }

    /// `line` with its line end.
    #[must_use]
    pub fn line_span(&self, line: Line) -> Span {
        let parts = self.line_parts(line);
        Span::new(parts.content.start, parts.end)
    }

    /// `line` without its line end.
    #[must_use]
    pub fn content_span(&self, line: Line) -> Span {
        self.line_parts(line).content
    }

    /// How `line` ends: nothing for the last one.
    #[must_use]
    pub fn line_end(&self, line: Line) -> Option<LineEnd> {
        self.line_parts(line).line_end()
    }

    /// Where a line begins and ends: most lie in one piece of memory, where their end is looked for without
    /// asking the rope again.
    fn line_parts(&self, line: Line) -> LineParts {
        let start = self.line_start(line);
        if line >= self.last_line() {
            return LineParts { content: Span::new(start, self.end()), end: self.end() };
        }
        let chunk = self.chunk_at(start);
        let here = &chunk.text.as_bytes()[start - chunk.start..];
        let (end, before) = match memchr::memchr(b'\n', here) {
            Some(at) => (start + at + 1, at.checked_sub(1).map(|before| here[before])),
            None => {
                let end = self.line_start(line.next());
                (end, Some(end).filter(|end| *end - start >= 2).and_then(|end| self.byte(end - 2)))
            }
        };
        let end_len = if before == Some(b'\r') { 2 } else { 1 };
        LineParts { content: Span::new(start, end - end_len), end }
    }

    /// The byte at `at`, if there is one.
    #[must_use]
    pub fn byte(&self, at: Byte) -> Option<u8> {
        (at.0 < self.len()).then(|| self.rope.byte(at.0))
    }

    /// The characters of `span`, borrowed where they lie in one piece.
    ///
    /// # Panics
    /// If an end of `span` is past the text or inside a character.
    #[must_use]
    pub fn slice(&self, span: Span) -> Cow<'_, str> {
        if span.is_empty() {
            return Cow::Borrowed("");
        }
        let chunk = self.chunk_at(span.start);
        if span.end <= chunk.start + chunk.text.len() {
            return Cow::Borrowed(&chunk.text[span.start - chunk.start..span.end - chunk.start]);
        }
        self.rope.byte_slice(span.start.0..span.end.0).into()
    }

    /// The content of `line` without its line end.
    #[must_use]
    pub fn content(&self, line: Line) -> Cow<'_, str> {
        self.slice(self.content_span(line))
    }

    /// The piece of memory that holds `at`.
    #[must_use]
    pub fn chunk_at(&self, at: Byte) -> Chunk<'_> {
        let (text, start, _, _) = self.rope.chunk_at_byte(at.0);
        Chunk { text, start: Byte(start) }
    }

    /// The pieces from `at` on; the first one may begin before it.
    pub fn chunks_from(&self, at: Byte) -> impl Iterator<Item = Chunk<'_>> {
        let (chunks, start, _, _) = self.rope.chunks_at_byte(at.0);
        chunks.scan(Byte(start), |start, text| {
            let chunk = Chunk { text, start: *start };
            *start += text.len();
            Some(chunk)
        })
    }

    /// `span` without the white space at its end. Cost: linear in that white space.
    #[must_use]
    pub fn trimmed(&self, span: Span) -> Span {
        let mut end = span.end;
        while end > span.start {
            let chunk = self.chunk_at(end - 1);
            let from = span.start.max(chunk.start);
            let kept = chunk.text[from - chunk.start..end - chunk.start].trim_end();
            end = from + kept.len();
            if !kept.is_empty() {
                break;
            }
        }
        Span::new(span.start, end)
    }

    /// Whether a character begins or the text ends at `at`.
    #[must_use]
    pub fn is_char_edge(&self, at: Byte) -> bool {
        match self.byte(at) {
            // The other bytes of a character are 10xxxxxx (RFC 3629, section 3).
            Some(byte) => byte & 0xC0 != 0x80,
            None => at == self.end(),
        }
    }

    /// The character that begins at `at`, none at the end.
    #[must_use]
    pub fn char_at(&self, at: Byte) -> Option<char> {
        if at >= self.end() {
            return None;
        }
        let chunk = self.chunk_at(at);
        chunk.text[at - chunk.start..].chars().next()
    }

    /// The character that ends at `at`, none at the start.
    #[must_use]
    pub fn char_before(&self, at: Byte) -> Option<char> {
        if at.0 == 0 {
            return None;
        }
        let chunk = self.chunk_at(at - 1);
        chunk.text[..at - chunk.start].chars().next_back()
    }

    /// Whether `word` is at `at`.
    #[must_use]
    pub fn has_at(&self, at: Byte, word: &str) -> bool {
        at <= self.end() && self.rope.bytes_at(at.0).take(word.len()).eq(word.bytes())
    }

    /// Puts `piece` after the end. What was cloned before stays as it is.
    ///
    /// Cost: linear in the piece, O(log n) in the text.
    pub fn push(&mut self, piece: &str) {
        self.anchors = Anchors::default();
        self.rope.append(Rope::from_str(piece));
    }

    /// The text after `change`. Cost: as [`Text::apply`].
    #[must_use]
    pub fn applied(&self, change: &Change) -> Text {
        let mut after = self.clone();
        after.apply(change);
        after
    }

    /// Carries `change` out in one pass.
    ///
    /// Cost: O(edits · log n), or one pass over the text where there are many edits, whichever is less.
    pub fn apply(&mut self, change: &Change) {
        if let (Some(first), Some(last)) = (change.edits().first(), change.edits().last()) {
            let grown = |edit: &Edit| edit.inserted_len() as isize - edit.removed_len() as isize;
            let edited = Span::new(first.start(), last.end());
            self.anchors = self.anchors.after(edited, change.edits().iter().map(grown).sum());
        }
        let edits = change.edits().len();
        match edits > 16 && edits > self.len() / BYTES_PER_EDIT_IN_PLACE {
            true => self.rebuild(change),
            false => self.edit_in_place(change),
        }
    }

    /// Edits the rope where it lies; two halves of it by two threads, where there is much to do.
    fn edit_in_place(&mut self, change: &Change) {
        let edits = change.edits();
        let (before, behind) = edits.split_at(if edits.len() < PARALLEL_THRESHOLD { 0 } else { edits.len() / 2 });
        let Some(middle) = before.last().map(Edit::end) else {
            edit(&mut self.rope, Byte(0), change, behind);
            return;
        };
        let mut rest = self.rope.split_off(self.rope.byte_to_char(middle.0));
        std::thread::scope(|scope| {
            scope.spawn(|| edit(&mut rest, middle, change, behind));
            edit(&mut self.rope, Byte(0), change, before);
        });
        self.rope.append(rest);
    }

    /// Builds the rope anew.
    fn rebuild(&mut self, change: &Change) {
        let edits = change.edits();
        let parts = split_in_two(edits.len(), |part| {
            // What the last edit of the first half removes is removed there, and all after it is of the second.
            let end_before = |index: usize| index.checked_sub(1).map_or(Byte(0), |before| edits[before].end());
            let end = if part.end == edits.len() { self.end() } else { end_before(part.end) };
            self.rebuilt(change, &edits[part.clone()], Span::new(end_before(part.start), end))
        });
        self.rope = parts
            .into_iter()
            .reduce(|mut rope, rest| {
                rope.append(rest);
                rope
            })
            .unwrap_or_default();
    }

    /// What becomes of `span` by `edits`, which lie in it. Reads the pieces of the old rope in order and hands the new one
    /// large pieces: asking for each stretch between two edits, or handing it on by itself, would cost more than copying it.
    fn rebuilt(&self, change: &Change, edits: &[Edit], span: Span) -> Rope {
        let (mut builder, mut ready) = (RopeBuilder::new(), String::with_capacity(2 * READY));
        let mut chunks = self.chunks_from(span.start);
        let (mut rest, mut at) = ("", span.start);
        let edits = edits.iter().map(|edit| (edit.start(), edit.end(), change.inserted(edit)));
        for (start, end, with) in edits.chain([(span.end, span.end, "")]) {
            for (until, is_kept) in [(start, true), (end, false)] {
                while at < until {
                    if rest.is_empty() {
                        let Some(chunk) = chunks.next() else { break };
                        rest = &chunk.text[at - chunk.start..];
                    }
                    let (head, tail) = rest.split_at(rest.len().min(until - at));
                    if is_kept {
                        ready.push_str(head);
                    }
                    (rest, at) = (tail, at + head.len());
                }
            }
            ready.push_str(with);
            if ready.len() >= READY {
                builder.append(&ready);
                ready.clear();
            }
        }
        builder.append(&ready);
        builder.finish()
    }

    #[cfg(test)]
    pub(crate) fn edit_in_place_for_test(&mut self, change: &Change) {
        self.edit_in_place(change);
    }

    #[cfg(test)]
    pub(crate) fn rebuild_for_test(&mut self, change: &Change) {
        self.rebuild(change);
    }
}

/// Builds a text piece by piece while it is read.
#[derive(Default)]
pub struct TextBuilder {
    builder: RopeBuilder,
}

impl TextBuilder {
    /// Adds `piece` at the end.
    pub fn append(&mut self, piece: &str) {
        self.builder.append(piece);
    }

    /// The whole text.
    #[must_use]
    pub fn finish(self) -> Text {
        Text { rope: self.builder.finish(), anchors: Anchors::default() }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn lines_agree_with_the_plain_string(pad in 990usize..1030, tail in "[a\\r\\né]{0,40}") {
            let plain = format!("{}{tail}{}", "x".repeat(pad), "y\r\n".repeat(400));
            let text = Text::from(plain.as_str());
            let mut start = 0;
            for (index, line) in plain.split_inclusive('\n').enumerate() {
                let content = line.strip_suffix('\n').map_or(line, |rest| rest.strip_suffix('\r').unwrap_or(rest));
                prop_assert_eq!(text.line_span(Line(index)), Span::new(Byte(start), Byte(start + line.len())));
                prop_assert_eq!(text.content(Line(index)), content);
                let end = text.line_end(Line(index)).map_or("", LineEnd::as_str);
                prop_assert_eq!(end, &line[content.len()..]);
                start += line.len();
            }
            for from in [0, pad, plain.len() - 1] {
                let until = (plain.len() - 1).max(from);
                let mut seen = String::new();
                reader::Reader::new(&text).each_stretch(Span::new(Byte(from), Byte(until)), &mut |stretch, end| {
                    seen.push_str(stretch);
                    assert_eq!(end, Byte(from + seen.len()));
                    assert!(stretch.ends_with('\n') || end == Byte(until), "{stretch:?} ends inside a line");
                });
                prop_assert_eq!(&seen, &plain[from..until]);
            }
        }
    }
}
