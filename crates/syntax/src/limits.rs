//! Texts that a grammar cannot take.
//!
//! The part of a grammar that is written in C keeps what it remembers in 1,024 bytes; one that needs more ends the process. Such a
//! grammar has a measure here, taken of a text before it is parsed. Another one looks characters up in a table of 256: it is given
//! small ones in the place of others.

use snarvel_core::text::Text;
use snarvel_core::units::Span;
use std::borrow::Cow;

/// Levels of a YAML text. The grammar remembers four bytes for each: 254 of them are too many.
const DEEPEST_YAML: usize = 200;

/// Whether the grammar called `name` cannot take the part of `text` that is in `ranges`. Cost: one pass over them.
pub fn is_too_deep(name: &str, text: &Text, ranges: &[Span]) -> bool {
    name == "yaml" && ranges.iter().any(|range| deepest_yaml(text, *range) > DEEPEST_YAML)
}

/// `bytes`, UTF-8 and the start of a text or of what follows a whole character, as the grammar called `name` can take them: as many
/// bytes, and the same characters up to U+00FF; letters in the place of others where they would be looked up in a table that they are
/// not in.
///
/// The grammar of shell scripts asks `isdigit` of a character after `{`, which is undefined for more than a byte (C17, section 7.4).
/// All larger characters are parts of words there, as letters are.
pub fn harmless<'a>(name: &str, bytes: &'a [u8]) -> Cow<'a, [u8]> {
    // The first byte of U+0100 and of what is above it (RFC 3629, section 3).
    let is_large = |byte: &u8| *byte >= 0xC4;
    if name != "shell" || !bytes.iter().any(is_large) {
        return Cow::Borrowed(bytes);
    }
    let mut small = bytes.to_vec();
    let mut at = 0;
    while at < small.len() {
        // A letter of two bytes, U+00AA, and a letter of one.
        let letters: &[u8] = match small[at] {
            0..0xC4 => &[],
            0xC4..0xE0 => b"\xC2\xAA",
            0xE0..0xF0 => b"\xC2\xAAa",
            0xF0.. => b"\xC2\xAA\xC2\xAA",
        };
        let len = letters.len().min(small.len() - at);
        small[at..at + len].copy_from_slice(&letters[..len]);
        at += len.max(1);
    }
    Cow::Owned(small)
}

/// How many levels are open at once in `range` at most: each begins with a dash, a question mark or a key, further in than the
/// level around it (YAML 1.2, chapter 8). What is in strings counts too: more levels than there are do no harm.
fn deepest_yaml(text: &Text, range: Span) -> usize {
    let mut open: Vec<usize> = Vec::new();
    let mut deepest = 0;
    let mut line = Line::default();
    for chunk in text.chunks_from(range.start) {
        let bytes = chunk.text.as_bytes();
        let from = (range.start.0.max(chunk.start.0) - chunk.start.0).min(bytes.len());
        let to = bytes.len().min(range.end.0.saturating_sub(chunk.start.0));
        for &byte in bytes.get(from..to).unwrap_or_default() {
            if byte == b'\n' || byte == b'\r' {
                line.end(&mut open);
                line = Line::default();
            } else {
                line.take(byte, &mut open);
            }
            deepest = deepest.max(open.len());
        }
        if to < bytes.len() {
            break;
        }
    }
    line.end(&mut open);
    deepest.max(open.len())
}

/// What was read of a line.
#[derive(Default)]
struct Line {
    column: usize,
    has_content: bool,
    is_in_word: bool,
    /// The mark that is a level if white space follows.
    mark: Option<usize>,
}

impl Line {
    fn take(&mut self, byte: u8, open: &mut Vec<usize>) {
        let is_space = byte == b' ' || byte == b'\t';
        if is_space && let Some(column) = self.mark.take() {
            open.push(column);
        }
        if !is_space && !self.has_content {
            self.has_content = true;
            while open.last().is_some_and(|last| *last >= self.column) {
                open.pop();
            }
            // A key, or what is a level for the grammar although it is none.
            open.push(self.column);
        }
        // `a:` is a key that was counted; a mark by itself begins one more.
        self.mark = (matches!(byte, b'-' | b'?' | b':') && !self.is_in_word).then_some(self.column);
        self.is_in_word = !is_space;
        self.column += 1;
    }

    fn end(&mut self, open: &mut Vec<usize>) {
        open.extend(self.mark.take());
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_core::units::Byte;

    #[test]
    fn shell_scripts_are_given_small_characters_of_the_same_length() {
        let text = "é{1..漢} 👩 ĀÿＡ\n";
        for name in ["shell", "rust"] {
            for end in 0..=text.len() {
                let small = harmless(name, &text.as_bytes()[..end]);
                assert_eq!(small.len(), end);
                let Ok(small) = std::str::from_utf8(&small) else { continue };
                let is_small = small.chars().all(|c| c <= '\u{ff}');
                assert!(is_small == (name == "shell") || text[..end].chars().all(|c| c <= '\u{ff}'), "{name} {small}");
            }
        }
        assert_eq!(&*harmless("shell", "{漢é}".as_bytes()), "{ªaé}".as_bytes());
    }

    #[test]
    fn levels_are_counted_and_never_too_few() {
        let rows = [
            ("a: 1\nb: 2\n".to_owned(), 1..=1),
            ("a:\n  b:\n    c: 1\nd: 2\n".to_owned(), 3..=3),
            ("- - - x\n".to_owned(), 3..=4),
            ("- ".repeat(300), 300..=301),
            ((0..300).map(|depth| " ".repeat(depth) + "a:\n").collect(), 300..=300),
            ("a: 1\n".repeat(1_000), 1..=2),
            ("- a: 1\n  b: 2\n".repeat(1_000), 2..=4),
        ];
        for (text, levels) in rows {
            let text = Text::from(text.as_str());
            let found = deepest_yaml(&text, text.span());
            assert!(levels.contains(&found), "{found}, expected {levels:?} in {:.30?}", text.to_string());
        }
        assert!(is_too_deep("yaml", &Text::from("- ".repeat(254).as_str()), &[Span::new(Byte(0), Byte(508))]));
    }
}
