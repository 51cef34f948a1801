//! Building changes: edit by edit in the order of the text, or the halves of much work at the same time.

use super::{Change, Edit, LONGEST, Move, Shift};
use crate::parallel::{PARALLEL_THRESHOLD, split_in_two};
use crate::text::Text;
use crate::text::reader::Reader;
use crate::units::{Byte, Span};
use std::ops::Range;

/// Collects edits in ascending order.
#[derive(Debug)]
pub struct ChangeBuilder<'a> {
    reader: Reader<'a>,
    change: Change,
    shift: Shift,
    reach: Byte,
}

impl<'a> ChangeBuilder<'a> {
    /// Begins a change of `text`.
    #[must_use]
    pub fn new(text: &'a Text) -> ChangeBuilder<'a> {
        ChangeBuilder { reader: Reader::new(text), change: Change::default(), shift: Shift::default(), reach: Byte(0) }
    }

    /// Replaces `span` by `with`. Nothing happens when both are empty.
    ///
    /// # Panics
    /// If `span` begins before the end of the edit before it.
    pub fn replace(&mut self, span: Span, with: &str) {
        self.replace_by_pieces(span, with, LONGEST);
    }

    /// The same by edits of at most `longest` bytes, which is room for a character.
    pub(super) fn replace_by_pieces(&mut self, span: Span, with: &str, longest: usize) {
        assert!(span.start >= self.reach, "an edit at {} behind one up to {}", span.start.0, self.reach.0);
        let (mut span, mut with) = (span, with);
        while span.len() > longest {
            let text = self.reader.text();
            let mut end = span.start + longest;
            while !text.is_char_edge(end) {
                end = end - 1;
            }
            self.push(Span::new(span.start, end), "");
            span.start = end;
        }
        while with.len() > longest {
            let (piece, rest) = with.split_at(with.floor_char_boundary(longest));
            self.push(Span::at(span.start), piece);
            with = rest;
        }
        self.push(span, with);
    }

    fn push(&mut self, span: Span, with: &str) {
        if span.is_empty() && with.is_empty() {
            return;
        }
        let pooled = self.pooled(span, with);
        let edit = Edit { start: span.start, pooled, removed: span.len() as u32, inserted: with.len() as u32 };
        self.shift.pass(&edit);
        self.reach = span.end;
        self.change.edits.push(edit);
    }

    /// Puts `with` in at `at`.
    pub fn insert(&mut self, at: Byte, with: &str) {
        self.replace(Span::at(at), with);
    }

    /// Removes what of `span` an earlier edit has not removed already.
    pub fn remove(&mut self, span: Span) {
        let start = span.start.max(self.reach);
        if start < span.end {
            self.replace(Span::new(start, span.end), "");
        }
    }

    /// Notes that the text of `from` is put in again unchanged and begins at `to` in the changed text, as far as it is built.
    pub fn note_move(&mut self, from: Span, to: Byte) {
        self.change.moves.push(Move { from: from.start, to, len: from.len() });
    }

    /// Where `at`, which no edit so far lies after, is after the change so far.
    #[must_use]
    pub fn now(&self, at: Byte) -> Byte {
        self.shift.of(at.max(self.reach))
    }

    /// Reads the text that is changed: whoever asks it about places in their order shares what it has at hand.
    pub fn reader(&mut self) -> &mut Reader<'a> {
        &mut self.reader
    }

    /// The change.
    #[must_use]
    pub fn finish(self) -> Change {
        let mut change = self.change;
        sort_moves(&mut change.moves);
        change
    }

    /// Puts the characters of an edit into the pool. Many cursors mostly put in the same: that is kept once.
    fn pooled(&mut self, span: Span, with: &str) -> usize {
        if let Some(last) = self.change.edits.last().filter(|_| span.is_empty())
            && self.change.inserted(last) == with
        {
            return last.pooled + last.removed_len();
        }
        let start = self.change.pool.len();
        self.change.pool.push_str(&self.reader.slice(span));
        self.change.pool.push_str(with);
        start
    }
}

/// What was made along with a part of a change.
#[derive(Debug)]
pub struct BuiltPart<R> {
    /// What was made.
    pub made: R,
    /// How far the parts before it move what lies in it: places that the builder told are to be moved by that.
    pub shift: Shift,
}

/// The change of `text` that `build` makes of `0..len`, which is in the order of the text: of the whole, or of its two halves
/// at the same time. Halves that change the same place are built as one.
///
/// # Panics
/// If `build` does.
pub fn build_parallel<'t, R: Send>(
    text: &'t Text,
    len: usize,
    build: impl Fn(&mut ChangeBuilder<'t>, Range<usize>) -> R + Sync,
) -> (Change, Vec<BuiltPart<R>>) {
    let part = |range: Range<usize>| {
        let mut builder = ChangeBuilder::new(text);
        if len >= PARALLEL_THRESHOLD {
            // The first half takes in the result of the second. Room that is not used costs nothing.
            builder.change.edits.reserve(len - range.start);
        }
        let made = build(&mut builder, range);
        (builder, made)
    };
    let mut halves = split_in_two(len, part);
    let meet =
        |pair: &[(ChangeBuilder, R)]| pair[1].0.change.edits.first().is_some_and(|first| first.start < pair[0].0.reach);
    if halves.windows(2).any(meet) {
        halves = vec![part(0..len)];
    }
    let (mut whole, mut parts) = (Change::default(), Vec::new());
    let mut shift = Shift::default();
    for (builder, made) in halves {
        parts.push(BuiltPart { made, shift });
        whole.append(builder.change, shift);
        shift.add(builder.shift);
    }
    sort_moves(&mut whole.moves);
    if whole.edits.len() < whole.edits.capacity() / 2 {
        whole.edits.shrink_to_fit();
    }
    (whole, parts)
}

/// Sorts moves by where they were, which they mostly are already.
fn sort_moves(moves: &mut [Move]) {
    if !moves.is_sorted_by_key(|each| each.from) {
        moves.sort_unstable_by_key(|each| each.from);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Puts "é" in before each line of a long text and takes some bytes away after that, `reach` of them on the line before
    /// the middle; the resulting text, and where it says that each line begins.
    fn marked(lines: usize, reach: usize) -> (String, Vec<usize>) {
        let mut text = Text::from("abc\n".repeat(lines).as_str());
        let (change, parts) = build_parallel(&text, lines, |builder, range| {
            let mark = |line: usize| {
                let start = Byte(line * 4);
                let removed = if line + 1 == PARALLEL_THRESHOLD / 2 { reach } else { line % 3 };
                // What an earlier line has taken is not there any more.
                let now = builder.now(start);
                builder.remove(Span::new(start, start + removed));
                if line.is_multiple_of(5) {
                    builder.insert(start + removed.max(3), "é");
                }
                now.0
            };
            range.map(mark).collect::<Vec<_>>()
        });
        text.apply(&change);
        let starts = parts.iter().flat_map(|part| part.made.iter().map(|at| part.shift.of(Byte(*at)).0));
        (text.to_string(), starts.collect())
    }

    /// The same by one builder.
    fn marked_by_one(lines: usize, reach: usize) -> (String, Vec<usize>) {
        let (mut out, mut starts, mut gone) = (String::new(), Vec::new(), 0);
        for line in 0..lines {
            let removed = if line + 1 == PARALLEL_THRESHOLD / 2 { reach } else { line % 3 };
            starts.push(out.len());
            for (at, c) in "abc\n".char_indices() {
                if line % 5 == 0 && at == removed.max(3) {
                    out.push('é');
                }
                if at >= removed && line * 4 + at >= gone {
                    out.push(c);
                }
            }
            gone = gone.max(line * 4 + removed);
        }
        (out, starts)
    }

    #[test]
    fn two_halves_come_to_what_one_builder_makes() {
        for lines in [0, 1, PARALLEL_THRESHOLD - 1, PARALLEL_THRESHOLD, PARALLEL_THRESHOLD + 1] {
            assert_eq!(marked(lines, 2), marked_by_one(lines, 2), "{lines}");
        }
        assert_eq!(build_parallel(&Text::from("a"), PARALLEL_THRESHOLD, |_, _| ()).1.len(), 2, "they are two");
    }

    #[test]
    fn halves_that_change_one_place_are_built_as_one() {
        assert_eq!(marked(PARALLEL_THRESHOLD, 6), marked_by_one(PARALLEL_THRESHOLD, 6));
    }
}
