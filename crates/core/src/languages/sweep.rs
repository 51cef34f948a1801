//! Many lines at once, each with the state that it begins in: by two halves at the same time. The second one begins in what the
//! scanner takes its first line for a little above it; where that turns out to be wrong, it is done again.
//!
//! Cost: one scan from the first line to the last; nothing is remembered of it.

use super::blocks::{Block, REACH, RUN_UP};
use super::layers::{Layer, Layers};
use crate::parallel::split_in_two;
use crate::text::Text;
use crate::text::reader::Reader;
use crate::units::{Byte, Line, Span};
use std::ops::Range;

/// A line on the way of a sweep.
pub(super) struct Seen<'a> {
    pub state: &'a Layer,
    pub line: Line,
    /// It without its line end.
    pub content: Span,
    /// Its characters with its line end, if it has one.
    pub whole: &'a str,
}

/// Goes over the lines of blocks of a text, which are in order.
#[derive(Clone, Copy)]
pub(super) struct Sweep<'a> {
    pub layers: &'a Layers,
    pub text: &'a Text,
    pub blocks: &'a [Block],
}

/// What was made of some of the lines.
struct SweptPart<R> {
    range: Range<usize>,
    begun: Layer,
    made: Vec<R>,
    /// The state before the line after them.
    behind: Layer,
}

impl Layers {
    /// The state before `to`, a line's start, where that before `from` is `state`; further on than the scanner reaches, what it
    /// takes it for.
    fn onward(&self, reader: &mut Reader, state: Layer, [from, to]: [Byte; 2]) -> Layer {
        match to - from > REACH {
            true => self.taken_for(reader, to),
            false => self.through(reader, Span::new(from, to), state),
        }
    }

    /// The state before the line that begins at `start`, if code began a little above it.
    pub(super) fn taken_for(&self, reader: &mut Reader, start: Byte) -> Layer {
        let text = reader.text();
        let above = text.line_of(Byte(start.0.saturating_sub(RUN_UP))).next().min(text.last_line());
        let from = text.line_start(above).min(start);
        self.through(reader, Span::new(from, start), self.beginning(None))
    }

    fn through(&self, reader: &mut Reader, span: Span, mut state: Layer) -> Layer {
        reader.each_stretch(span, &mut |lines, _| state = self.over(lines, std::mem::take(&mut state)));
        state
    }
}

impl Sweep<'_> {
    /// What `see` makes of each line, if the first one begins in `state`. Where `see` has scanned the line, it says in which
    /// state the next one begins.
    pub(super) fn each<R: Send>(self, state: &Layer, see: impl Fn(Seen) -> (R, Option<Layer>) + Sync) -> Vec<R> {
        let count = self.blocks.iter().map(|block| block.count).sum();
        let mut parts = split_in_two(count, |range| {
            let begun = match self.within(range.clone()).next() {
                Some(block) if range.start > 0 => self.layers.taken_for(&mut Reader::new(self.text), block.start),
                _ => state.clone(),
            };
            self.part(range, begun, &see)
        });
        for index in 1..parts.len() {
            let begun = parts[index - 1].behind.clone();
            if begun != parts[index].begun {
                parts[index] = self.part(parts[index].range.clone(), begun, &see);
            }
        }
        parts.into_iter().flat_map(|part| part.made).collect()
    }

    /// What of the blocks lies from one place among all their lines to another.
    fn within(self, range: Range<usize>) -> impl Iterator<Item = Block> {
        let with_place =
            self.blocks.iter().scan(0, |next, block| Some((std::mem::replace(next, *next + block.count), block)));
        with_place.filter_map(move |(before, block)| {
            let skipped = range.start.saturating_sub(before);
            let end = block.count.min(range.end.saturating_sub(before));
            let first = Line(block.first.0 + skipped);
            (skipped < end).then(|| {
                let start = if skipped == 0 { block.start } else { self.text.line_start(first) };
                Block { first, start, count: end - skipped }
            })
        })
    }

    fn part<R>(self, range: Range<usize>, begun: Layer, see: &impl Fn(Seen) -> (R, Option<Layer>)) -> SweptPart<R> {
        let (mut reader, mut made) = (Reader::new(self.text), Vec::with_capacity(range.len()));
        let (mut state, mut at) = (begun.clone(), None);
        for block in self.within(range.clone()) {
            let mut start = block.start;
            for line in block.lines() {
                // In this order, so that the reader does not go back.
                state = self.layers.onward(&mut reader, state, [at.unwrap_or(start), start]);
                let [content, span] = reader.line_from(start);
                let (one, behind) = see(Seen { state: &state, line, content, whole: &reader.slice(span) });
                made.push(one);
                (state, at) = behind.map_or((state, Some(start)), |behind| (behind, Some(span.end)));
                start = span.end;
            }
        }
        let behind = self.within(range.end..usize::MAX).next().map_or_else(Layer::default, |next| {
            self.layers.onward(&mut reader, state, [at.unwrap_or(next.start), next.start])
        });
        SweptPart { range, begun, made, behind }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::languages::by_name;
    use crate::languages::lexical::{Lexical, Scanned, Syntax};
    use crate::parallel::PARALLEL_THRESHOLD;

    /// Whether a sweep over every other line says what asking one by one says.
    fn agree(language: &str, plain: &str) {
        let text = Text::from(plain);
        let lines: Vec<Line> = (0..text.line_count()).step_by(2).map(Line).collect();
        assert!(lines.len() > PARALLEL_THRESHOLD, "{language}");
        let (swept, asked) = (Lexical::new(&by_name(language).unwrap()), Lexical::new(&by_name(language).unwrap()));
        let (swept, asked) = (swept.of(&text), asked.of(&text));
        let kinds: Vec<_> = lines.iter().map(|line| asked.kind_before_line(*line)).collect();
        assert_eq!(swept.kinds_before(&lines), kinds, "{language}");
        let block = |line: &Line| Block::of(*line, text.line_start(*line));
        let alone: Vec<_> = lines.iter().flat_map(|line| asked.scanned(&[block(line)])).collect();
        assert_eq!(swept.scanned(&lines.iter().map(block).collect::<Vec<_>>()), alone, "{language}");
        // All lines, in blocks of which the middle parts one.
        let blocks = [(0, 2), (2, text.line_count() - 3)].map(|(first, count)| Block { count, ..block(&Line(first)) });
        let all: Vec<_> = (0..text.line_count() - 1).flat_map(|line| asked.scanned(&[block(&Line(line))])).collect();
        assert_eq!(swept.scanned(&blocks), all, "{language}");
    }

    #[test]
    fn the_second_half_begins_as_the_scanner_takes_it() {
        agree("rust", &"let a = 1; /* x\n*/ let b = \"y\n\";\n".repeat(PARALLEL_THRESHOLD));
    }

    #[test]
    fn a_second_half_that_was_taken_for_something_else_is_done_again() {
        let far = format!("{}\n", "a".repeat(RUN_UP / PARALLEL_THRESHOLD));
        agree(
            "rust",
            &format!(
                "/*\n{}*/\n{}",
                far.repeat(2 * PARALLEL_THRESHOLD),
                "let b = \"y\n\";\n".repeat(PARALLEL_THRESHOLD / 2)
            ),
        );
        agree("html", &format!("<script>\n{}</script>\n", "let b = 1; // ccccc\n".repeat(2 * PARALLEL_THRESHOLD)));
    }

    #[test]
    fn few_lines_and_none() {
        let text = Text::from("a /*\nb\n*/");
        let lexical = Lexical::new(&by_name("rust").unwrap());
        assert!(lexical.of(&text).scanned(&[]).is_empty());
        let [first, last] = [Line(0), Line(2)].map(|line| {
            let content = text.content_span(line);
            Scanned { line, content, pieces: lexical.of(&text).pieces(line) }
        });
        let blocks = [Line(0), Line(2)].map(|line| Block::of(line, text.line_start(line)));
        assert_eq!(lexical.of(&text).scanned(&blocks), [first, last]);
    }
}
