//! Changes: one sorted list of edits, carried out in one pass, that can be turned round.
//!
//! Edits are in the order of the text, do not overlap, and each says what it removes and what it puts in, so
//! that a change needs no text to be undone. Positions are bytes. Cost: building and mapping are linear in
//! the number of edits and positions.

mod builder;
mod compose;
pub mod feed;
pub mod saved_diff;

use crate::units::{Byte, Span};
pub use builder::{BuiltPart, ChangeBuilder, build_parallel};

/// Where a position goes that is exactly where text is put in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Bias {
    /// It stays before the new text.
    Before,
    /// It goes after the new text.
    After,
}

/// One replacement. Its characters lie in the change's pool: what it removes, right after that what it puts in, or the other
/// way round in a change that was turned round.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Edit {
    start: Byte,
    /// Where its characters begin in the pool.
    pooled: usize,
    removed: u32,
    inserted: u32,
}

/// The most bytes that one edit removes or puts in: longer replacements are several edits.
const LONGEST: usize = u32::MAX as usize;

impl Edit {
    /// What it takes out, in the text before the change.
    #[must_use]
    pub fn span(&self) -> Span {
        Span::new(self.start(), self.end())
    }

    /// Where it begins, in the text before the change.
    #[must_use]
    pub fn start(&self) -> Byte {
        self.start
    }

    /// Where what it removes ends, in the text before the change.
    #[must_use]
    pub fn end(&self) -> Byte {
        self.start + self.removed_len()
    }

    /// How many bytes it removes.
    #[must_use]
    pub fn removed_len(&self) -> usize {
        self.removed as usize
    }

    /// How many bytes it puts in.
    #[must_use]
    pub fn inserted_len(&self) -> usize {
        self.inserted as usize
    }
}

/// A piece of text that a change takes out in one place and puts in again, unchanged, in another. What follows the text from
/// outside (folds, bookmarks, pins) goes along with it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Move {
    /// Where the piece begins before the change.
    pub from: Byte,
    /// Where it begins after the change.
    pub to: Byte,
    /// Its length in bytes. The place at its end belongs to it.
    pub len: usize,
}

/// A sorted list of edits.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Change {
    edits: Vec<Edit>,
    /// Pieces that moved, sorted by where they were.
    moves: Vec<Move>,
    pool: String,
    /// Whether the pool holds each inserted text before the removed one.
    is_turned: bool,
}

impl Change {
    /// The edits in the order of the text.
    #[must_use]
    pub fn edits(&self) -> &[Edit] {
        &self.edits
    }

    /// The pieces that moved, sorted by where they were.
    #[must_use]
    pub fn moves(&self) -> &[Move] {
        &self.moves
    }

    /// Where `at` is after the change if it lies in a piece that moved.
    ///
    /// Cost: O(log n) in the moves.
    #[must_use]
    pub fn moved(&self, at: Byte) -> Option<Byte> {
        let behind = self.moves.partition_point(|each| each.from <= at);
        let each = self.moves[..behind].last()?;
        (at <= each.from + each.len).then(|| each.to + (at - each.from))
    }

    /// Whether it does nothing.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.edits.is_empty()
    }

    /// The characters that `edit` puts in.
    #[must_use]
    pub fn inserted(&self, edit: &Edit) -> &str {
        let before = if self.is_turned { 0 } else { edit.removed_len() };
        &self.pool[edit.pooled + before..][..edit.inserted_len()]
    }

    /// The characters that `edit` removes.
    #[must_use]
    pub fn removed(&self, edit: &Edit) -> &str {
        let before = if self.is_turned { edit.inserted_len() } else { 0 };
        &self.pool[edit.pooled + before..][..edit.removed_len()]
    }

    /// The change that takes this one back.
    #[must_use]
    pub fn inverted(mut self) -> Change {
        let mut shift = Shift::default();
        for edit in &mut self.edits {
            let start = shift.of(edit.start);
            shift.pass(edit);
            *edit = Edit { start, removed: edit.inserted, inserted: edit.removed, ..*edit };
        }
        self.moves.iter_mut().for_each(|each| (each.from, each.to) = (each.to, each.from));
        self.moves.sort_unstable_by_key(|each| each.from);
        self.is_turned = !self.is_turned;
        self
    }

    /// Where `at` is after the change. A position inside removed text goes to where it began.
    #[must_use]
    pub fn map(&self, at: Byte, bias: Bias) -> Byte {
        Mapper::new(self).map(at, bias)
    }

    /// Adds `next`, whose edits come after those here. `shift` says how far the edits here move what comes after them.
    fn append(&mut self, next: Change, shift: Shift) {
        let moves = next.moves.iter().map(|each| Move { to: shift.of(each.to), ..*each });
        self.moves.extend(moves);
        if self.is_empty() {
            *self = Change { moves: std::mem::take(&mut self.moves), ..next };
            return;
        }
        let before = self.pool.len();
        self.edits.extend(next.edits.into_iter().map(|edit| Edit { pooled: edit.pooled + before, ..edit }));
        self.pool.push_str(&next.pool);
    }

    /// Memory held, in bytes.
    #[must_use]
    pub fn heap_bytes(&self) -> usize {
        self.edits.capacity() * size_of::<Edit>() + self.moves.capacity() * size_of::<Move>() + self.pool.capacity()
    }
}

/// How far positions have moved so far.
#[derive(Clone, Copy, Debug, Default)]
pub struct Shift {
    added: usize,
    removed: usize,
}

impl Shift {
    /// Where `at` is now.
    #[must_use]
    pub fn of(self, at: Byte) -> Byte {
        at + self.added - self.removed
    }

    fn add(&mut self, other: Shift) {
        self.added += other.added;
        self.removed += other.removed;
    }

    fn pass(&mut self, edit: &Edit) {
        self.added += edit.inserted_len();
        self.removed += edit.removed_len();
    }
}

/// Maps positions through a change; positions that come in ascending order are mapped in one sweep.
pub struct Mapper<'a> {
    change: &'a Change,
    next: usize,
    shift: Shift,
    last: Byte,
}

impl<'a> Mapper<'a> {
    /// Begins at the start of the text.
    #[must_use]
    pub fn new(change: &'a Change) -> Mapper<'a> {
        Mapper { change, next: 0, shift: Shift::default(), last: Byte(0) }
    }

    /// Where `at` is after the change.
    pub fn map(&mut self, at: Byte, bias: Bias) -> Byte {
        if at < self.last {
            (self.next, self.shift) = (0, Shift::default());
        }
        self.last = at;
        // Edits that end before `at` can never matter to it or to a later position.
        while let Some(edit) = self.change.edits.get(self.next).filter(|edit| edit.end() < at) {
            self.shift.pass(edit);
            self.next += 1;
        }
        self.through_edits_at(at, bias)
    }

    /// The few edits that touch `at`: they are looked at, not passed, since the next position may touch
    /// them too.
    fn through_edits_at(&self, at: Byte, bias: Bias) -> Byte {
        let mut shift = self.shift;
        for edit in &self.change.edits[self.next..] {
            let is_insertion = edit.removed == 0;
            if edit.start > at || (edit.start == at && (!is_insertion || bias == Bias::Before)) {
                break;
            }
            if edit.end() > at {
                return shift.of(edit.start);
            }
            shift.pass(edit);
        }
        shift.of(at)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parallel::PARALLEL_THRESHOLD;
    use crate::text::Text;
    use proptest::prelude::*;

    fn change_of(text: &Text, edits: &[(usize, usize, &str)]) -> Change {
        let mut builder = ChangeBuilder::new(text);
        for &(start, end, with) in edits {
            builder.replace(Span::new(Byte(start), Byte(end)), with);
        }
        builder.finish()
    }

    #[test]
    fn positions_map_around_insertions_and_removals() {
        let text = Text::from("abcdef");
        let change = change_of(&text, &[(1, 1, "XX"), (3, 5, "Y")]);
        let mapped = |bias| (0..=6).map(|at| change.map(Byte(at), bias).0).collect::<Vec<_>>();
        assert_eq!(mapped(Bias::Before), [0, 1, 4, 5, 5, 6, 7]);
        assert_eq!(mapped(Bias::After), [0, 3, 4, 5, 5, 6, 7]);
    }

    #[test]
    fn equal_insertions_share_their_characters() {
        let text = Text::from("abc");
        let change = change_of(&text, &[(0, 0, "long text"), (1, 1, "long text"), (2, 2, "long text")]);
        assert_eq!(change.pool, "long text");
        let turned = change.inverted();
        assert!(
            turned.edits().iter().all(|edit| turned.removed(edit) == "long text" && turned.inserted(edit).is_empty())
        );
    }

    #[test]
    fn what_is_longer_than_an_edit_is_several() {
        let plain = "aéb漢".repeat(3);
        let text = Text::from(plain.as_str());
        for longest in 4..9 {
            let mut builder = ChangeBuilder::new(&text);
            builder.replace_by_pieces(Span::new(Byte(1), Byte(plain.len() - 3)), "xyé漢z漢é", longest);
            builder.insert(text.end(), "end");
            let change = builder.finish();
            assert!(change.edits().iter().all(|edit| edit.removed_len() <= longest && edit.inserted_len() <= longest));
            let mut changed = text.clone();
            changed.apply(&change);
            assert_eq!(changed.to_string(), "axyé漢z漢é漢end", "{longest}");
            changed.apply(&change.inverted());
            assert_eq!(changed.to_string(), plain);
        }
    }

    #[test]
    #[should_panic(expected = "an edit at 0 behind one up to 2")]
    fn edits_out_of_order_panic_with_both_places() {
        let _ = change_of(&Text::from("abc"), &[(0, 2, ""), (0, 1, "")]);
    }

    #[test]
    fn many_edits_in_place_agree_with_a_rebuild_wherever_the_halves_part() {
        let line = "é漢\r\n";
        let plain = line.repeat(PARALLEL_THRESHOLD + 2);
        // Each edit takes the same part of its line: in one round the halves part between CR and LF, in another inside of lines.
        for (start, end, with) in [(0, 2, ""), (2, 6, "x"), (6, 6, "\n"), (5, 5, "\r\n"), (0, 0, "é"), (7, 7, "end")] {
            let text = Text::from(plain.as_str());
            let edits: Vec<_> =
                (0..=PARALLEL_THRESHOLD).map(|at| (at * line.len() + start, at * line.len() + end, with)).collect();
            let change = change_of(&text, &edits);
            let (mut placed, mut rebuilt) = (text.clone(), text.clone());
            placed.edit_in_place_for_test(&change);
            rebuilt.rebuild_for_test(&change);
            assert_eq!(placed.to_string(), rebuilt.to_string(), "{start} {end} {with:?}");
            assert_eq!(placed.line_count(), Text::from(placed.to_string().as_str()).line_count());
            placed.edit_in_place_for_test(&change.inverted());
            assert_eq!(placed.to_string(), plain);
        }
    }

    prop_compose! {
        fn edits()(text in "[a-c\\né漢]{0,60}")(
            cuts in proptest::collection::vec((0..=text.chars().count(), 0usize..3, "[x-z]{0,3}"), 0..30),
            text in Just(text),
        ) -> (String, Vec<(usize, usize, String)>) {
            let places: Vec<usize> = text.char_indices().map(|(at, _)| at).chain([text.len()]).collect();
            let mut cuts = cuts;
            cuts.sort();
            let mut reach = 0;
            let mut edits = Vec::new();
            for (start, len, with) in cuts {
                let start = start.max(reach);
                let end = (start + len).min(places.len() - 1);
                edits.push((places[start], places[end], with));
                reach = end;
            }
            (text, edits)
        }
    }

    proptest! {
        #[test]
        fn both_ways_of_applying_agree_with_the_plain_string((plain, edits) in edits()) {
            let text = Text::from(plain.as_str());
            let borrowed: Vec<_> = edits.iter().map(|(s, e, w)| (*s, *e, w.as_str())).collect();
            let change = change_of(&text, &borrowed);
            let mut expected = plain.clone();
            for (start, end, with) in edits.iter().rev() {
                expected.replace_range(*start..*end, with);
            }
            let (mut placed, mut rebuilt) = (text.clone(), text.clone());
            placed.edit_in_place_for_test(&change);
            rebuilt.rebuild_for_test(&change);
            prop_assert_eq!(placed.to_string(), expected.clone());
            prop_assert_eq!(rebuilt.to_string(), expected);
            rebuilt.apply(&change.clone().inverted());
            prop_assert_eq!(rebuilt.to_string(), plain);
        }

        #[test]
        fn one_sweep_agrees_with_mapping_one_by_one((plain, edits) in edits()) {
            let text = Text::from(plain.as_str());
            let borrowed: Vec<_> = edits.iter().map(|(s, e, w)| (*s, *e, w.as_str())).collect();
            let change = change_of(&text, &borrowed);
            let mut mapper = Mapper::new(&change);
            for at in (0..=plain.len()).map(Byte) {
                for bias in [Bias::Before, Bias::After] {
                    prop_assert_eq!(mapper.map(at, bias), change.map(at, bias));
                }
            }
        }
    }
}
