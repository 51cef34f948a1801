//! Texts that a grammar cannot take.
//!
//! The part of a grammar that is written in C keeps what it remembers in 1,024 bytes; one that needs more ends the process. Such a
//! grammar has a measure here, taken of a text before it is parsed.

use snarvel_core::text::Text;
use snarvel_core::units::Span;

/// Levels of a YAML text. The grammar remembers four bytes for each: 254 of them are too many.
const DEEPEST_YAML: usize = 200;

/// Whether the grammar called `name` cannot take the part of `text` that is in `ranges`. Cost: one pass over them.
pub fn is_too_deep(name: &str, text: &Text, ranges: &[Span]) -> bool {
    name == "yaml" && ranges.iter().any(|range| deepest_yaml(text, *range) > DEEPEST_YAML)
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
