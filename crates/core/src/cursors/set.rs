//! The set: non-empty, sorted, free of overlaps, one primary.
//!
//! Always true: no two selections overlap; two carets at one place are one, and a caret inside or at the edge
//! of a selection is absorbed by it, while two selections that only touch stay two; the primary survives a
//! merge, and when it is dropped the newest other takes its place. [`CursorSet::assert_invariants`] checks it.

use super::Selection;
use crate::changes::{Bias, Change, Mapper};
use crate::parallel::split_in_two;
use crate::text::Text;
use crate::units::{Byte, Direction};

/// All cursors.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct CursorSet {
    list: Vec<Selection>,
    primary: usize,
    whole_words: bool,
    column: bool,
}

impl CursorSet {
    /// One caret at `at`.
    #[must_use]
    pub fn caret(at: Byte) -> CursorSet {
        CursorSet::one(Selection::caret(at))
    }

    /// One selection.
    #[must_use]
    pub fn one(selection: Selection) -> CursorSet {
        CursorSet { list: vec![selection.aged(0)], primary: 0, whole_words: false, column: false }
    }

    /// The set of `list`, whose `primary`th is the primary one; overlaps are merged.
    ///
    /// Cost: O(n), O(n log n) where the list is out of order.
    ///
    /// # Panics
    /// If `primary >= list.len()`.
    #[must_use]
    pub fn of(list: Vec<Selection>, primary: usize) -> CursorSet {
        assert!(primary < list.len(), "the primary cursor {primary} of {}", list.len());
        if list.windows(2).all(|pair| stand_apart(pair[0], pair[1])) {
            return CursorSet { list, primary, whole_words: false, column: false };
        }
        merge(list, primary)
    }

    /// The selections in the order of the text.
    #[must_use]
    pub fn list(&self) -> &[Selection] {
        &self.list
    }

    /// How many there are.
    #[must_use]
    #[allow(clippy::len_without_is_empty, reason = "a set is never empty")]
    pub fn len(&self) -> usize {
        self.list.len()
    }

    /// The selections in the order of the text.
    pub fn iter(&self) -> impl DoubleEndedIterator<Item = Selection> + ExactSizeIterator + '_ {
        self.list.iter().copied()
    }

    /// The primary one.
    #[must_use]
    pub fn primary(&self) -> Selection {
        self.list[self.primary]
    }

    /// Where in the order of the text the primary one is.
    #[must_use]
    pub fn primary_index(&self) -> usize {
        self.primary
    }

    /// Whether takes look for whole words: so since the first take took the word at a caret.
    #[must_use]
    pub fn takes_whole_words(&self) -> bool {
        self.whole_words
    }

    /// The same set whose takes look for whole words.
    #[must_use]
    pub fn taking_whole_words(self) -> CursorSet {
        CursorSet { whole_words: true, ..self }
    }

    /// Whether it was made as a column, so that extending it moves an edge of the box.
    #[must_use]
    pub fn is_column(&self) -> bool {
        self.column
    }

    /// The same set, made as a column.
    #[must_use]
    pub fn as_column(self) -> CursorSet {
        CursorSet { column: true, ..self }
    }

    /// The same set, whose takes look for what those of `other` do, and which is a column if `other` is one.
    #[must_use]
    pub fn taking_as(self, other: &CursorSet) -> CursorSet {
        CursorSet { whole_words: other.whole_words, column: other.column, ..self }
    }

    /// Where the newest is: the primary one among those of the last addition, else the last of them.
    #[must_use]
    pub fn newest_index(&self) -> usize {
        let rank = |index: &usize| (self.list[*index].born, *index == self.primary, *index);
        (0..self.list.len()).max_by_key(rank).unwrap_or(0)
    }

    /// The age that the next addition gets.
    #[must_use]
    pub fn next_birth(&self) -> u32 {
        self.list.iter().map(|selection| selection.born).max().unwrap_or(0) + 1
    }

    /// Each selection replaced by what `by` makes of it, ages kept.
    #[must_use]
    pub fn map(&self, mut by: impl FnMut(Selection) -> Selection) -> CursorSet {
        CursorSet::of(self.iter().map(|each| each.moved_to(by(each))).collect(), self.primary)
    }

    /// The set with `added` as its newest; the last of them becomes primary.
    #[must_use]
    pub fn with_primary(&self, added: &[Selection]) -> CursorSet {
        if added.is_empty() {
            return self.clone();
        }
        self.joined(added, self.len() + added.len() - 1)
    }

    /// The set with `added` as its newest; the primary stays.
    #[must_use]
    pub fn with(&self, added: &[Selection]) -> CursorSet {
        self.joined(added, self.primary)
    }

    fn joined(&self, added: &[Selection], primary: usize) -> CursorSet {
        let born = self.next_birth();
        let newer = added.iter().map(|selection| selection.aged(born));
        CursorSet::of(self.iter().chain(newer).collect(), primary).taking_as(self)
    }

    /// The same cursors at other places: `spans` has one for each, in their order. Overlaps are merged.
    ///
    /// # Panics
    /// If there are not as many spans as cursors.
    #[must_use]
    pub fn placed(&self, spans: &[crate::units::Span]) -> CursorSet {
        assert_eq!(spans.len(), self.len(), "places for {} cursors", self.len());
        let place = |(each, span): (Selection, &crate::units::Span)| match each.direction() {
            Direction::Forward => Selection { anchor: span.start, head: span.end, ..each },
            Direction::Back => Selection { anchor: span.end, head: span.start, ..each },
        };
        let list = self.iter().zip(spans).map(place).collect();
        CursorSet::of(list, self.primary).taking_as(self)
    }

    /// Only the selections that `keep` holds for; when the primary goes, the newest left takes its place.
    /// None when nothing would be left.
    #[must_use]
    pub fn retaining(&self, mut keep: impl FnMut(usize, Selection) -> bool) -> Option<CursorSet> {
        let kept: Vec<usize> = (0..self.len()).filter(|&at| keep(at, self.list[at])).collect();
        let list: Vec<Selection> = kept.iter().map(|&at| self.list[at]).collect();
        let primary = kept.iter().position(|&at| at == self.primary);
        let newest = list.iter().enumerate().max_by_key(|(at, each)| (each.born, *at)).map(|(at, _)| at)?;
        let primary = primary.unwrap_or(newest);
        Some(CursorSet { list, primary, whole_words: self.whole_words, column: self.column })
    }

    /// Only the primary one.
    #[must_use]
    pub fn only_primary(&self) -> CursorSet {
        CursorSet::one(self.primary())
    }

    /// Only the one that was there first: of several that came together, the primary one if it is among them.
    #[must_use]
    pub fn only_first(&self) -> CursorSet {
        let rank = |index: &usize| (self.list[*index].born, *index != self.primary, *index);
        let first = (0..self.list.len()).min_by_key(rank).unwrap_or(self.primary);
        CursorSet::one(self.list[first])
    }

    /// The same with the `index`th as the primary one, which counts as one that was there first.
    ///
    /// # Panics
    /// If `index >= self.len()`.
    #[must_use]
    pub fn leading(&self, index: usize) -> CursorSet {
        assert!(index < self.len(), "the cursor {index} of {}", self.len());
        let mut set = CursorSet { primary: index, ..self.clone() };
        let oldest = self.list.iter().map(|each| each.born).min().unwrap_or(0);
        set.list[index] = set.list[index].aged(oldest);
        set
    }

    /// Where the set is after `change`: selections keep the characters they cover, carets go by `bias`.
    #[must_use]
    pub fn mapped(&self, change: &Change, bias: Bias) -> CursorSet {
        CursorSet::of(self.mapped_each(change, bias), self.primary)
    }

    /// Where each selection is after `change`, one for each, overlaps and all.
    #[must_use]
    pub fn mapped_each(&self, change: &Change, bias: Bias) -> Vec<Selection> {
        let mut mapper = Mapper::new(change);
        self.iter().map(|each| map_selection(each, &mut mapper, bias)).collect()
    }

    /// The set with every end on a place where a caret can be, at the end of the cluster around it.
    #[must_use]
    pub fn snapped(self, text: &Text) -> CursorSet {
        let are_boundaries = split_in_two(self.list.len(), |part| {
            text.are_boundaries(self.list[part].iter().flat_map(|each| [each.start(), each.end()]))
        });
        if are_boundaries.into_iter().all(|all| all) {
            return self;
        }
        let snapped = self.map(|each| Selection {
            anchor: text.snap_forward(each.anchor),
            head: text.snap_forward(each.head),
            ..each
        });
        snapped.taking_as(&self)
    }

    /// Checks what always holds.
    ///
    /// # Panics
    /// If the set is empty, out of order or overlapping, reaches past the text or into a cluster, or its
    /// primary is none of it.
    pub fn assert_invariants(&self, text: &Text) {
        assert!(self.primary < self.list.len(), "the primary {} of {}", self.primary, self.list.len());
        for pair in self.list.windows(2) {
            assert!(stand_apart(pair[0], pair[1]), "{:?} and {:?} should be one", pair[0], pair[1]);
        }
        for each in &self.list {
            for at in [each.anchor, each.head] {
                assert!(at <= text.end(), "a cursor at {} in a text of {}", at.0, text.len());
                assert!(text.is_boundary(at), "a cursor at {} inside a cluster", at.0);
            }
        }
    }
}

/// The same characters stay selected: an end of a selection never takes in what is put in beside it.
fn map_selection(each: Selection, mapper: &mut Mapper, bias: Bias) -> Selection {
    if each.is_caret() {
        return Selection { anchor: mapper.map(each.head, bias), head: mapper.map(each.head, bias), ..each };
    }
    let start = mapper.map(each.start(), Bias::After);
    let end = mapper.map(each.end(), Bias::Before).max(start);
    match each.direction() {
        Direction::Forward => Selection { anchor: start, head: end, ..each },
        Direction::Back => Selection { anchor: end, head: start, ..each },
    }
}

/// Whether `lower` and `upper` may both be in a set, in this order.
fn stand_apart(lower: Selection, upper: Selection) -> bool {
    let touch_is_fine = !lower.is_caret() && !upper.is_caret();
    lower.end() < upper.start() || (touch_is_fine && lower.end() == upper.start())
}

/// A selection on its way through a merge: who gave it its direction, and whether the primary is in it.
#[derive(Clone, Copy)]
struct Merging {
    selection: Selection,
    giver: (bool, bool, u32),
    holds_primary: bool,
}

impl Merging {
    fn new(selection: Selection, is_primary: bool) -> Merging {
        let giver = (!selection.is_caret(), is_primary, selection.born);
        Merging { selection, giver, holds_primary: is_primary }
    }

    fn absorb(&mut self, other: Merging) {
        let leads = if other.giver >= self.giver { other.selection } else { self.selection };
        let start = self.selection.start().min(other.selection.start());
        let end = self.selection.end().max(other.selection.end());
        let union = Selection::over(crate::units::Span::new(start, end), leads.direction());
        self.selection = Selection {
            anchor: union.anchor,
            head: union.head,
            born: self.selection.born.min(other.selection.born),
            ..leads
        };
        self.giver = self.giver.max(other.giver);
        self.holds_primary |= other.holds_primary;
    }
}

fn merge(list: Vec<Selection>, primary: usize) -> CursorSet {
    let mut sorted: Vec<(Selection, bool)> =
        list.into_iter().enumerate().map(|(at, each)| (each, at == primary)).collect();
    sorted.sort_by_key(|(each, _)| (each.start(), each.end()));
    let mut merged: Vec<Merging> = Vec::with_capacity(sorted.len());
    for (selection, is_primary) in sorted {
        let next = Merging::new(selection, is_primary);
        match merged.last_mut() {
            Some(last) if !stand_apart(last.selection, selection) => last.absorb(next),
            _ => merged.push(next),
        }
    }
    let primary = merged.iter().position(|each| each.holds_primary).unwrap_or(0);
    CursorSet { list: merged.iter().map(|each| each.selection).collect(), primary, whole_words: false, column: false }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn set(ends: &[(usize, usize)], primary: usize) -> CursorSet {
        CursorSet::of(ends.iter().map(|&(a, h)| Selection::new(Byte(a), Byte(h))).collect(), primary)
    }

    fn ends(set: &CursorSet) -> Vec<(usize, usize)> {
        set.iter().map(|each| (each.anchor.0, each.head.0)).collect()
    }

    #[test]
    fn overlaps_and_absorptions() {
        type Ends<'a> = &'a [(usize, usize)];
        let rows: &[(&str, Ends, usize, Ends, usize)] = &[
            ("two_carets_at_one_place", &[(3, 3), (3, 3)], 1, &[(3, 3)], 0),
            ("caret_inside", &[(1, 5), (3, 3)], 0, &[(1, 5)], 0),
            ("caret_at_the_edge", &[(1, 5), (5, 5), (1, 1)], 1, &[(1, 5)], 0),
            ("touching_selections_stay_two", &[(1, 3), (3, 5)], 1, &[(1, 3), (3, 5)], 1),
            ("primary_gives_direction", &[(4, 1), (3, 6)], 0, &[(6, 1)], 0),
            ("chain", &[(7, 9), (1, 4), (3, 8)], 2, &[(1, 9)], 0),
            ("absorbed_primary_keeps_selections_direction", &[(5, 1), (3, 3)], 1, &[(5, 1)], 0),
        ];
        for (name, list, primary, expected, expected_primary) in rows {
            let set = set(list, *primary);
            assert_eq!(ends(&set), *expected, "{name}");
            assert_eq!(set.primary_index(), *expected_primary, "{name}");
        }
    }

    #[test]
    fn a_dropped_primary_is_followed_by_the_newest() {
        let set = CursorSet::caret(Byte(9))
            .with_primary(&[Selection::caret(Byte(5))])
            .with_primary(&[Selection::caret(Byte(7))])
            .with_primary(&[Selection::caret(Byte(1))]);
        let rest = set.retaining(|at, _| at != set.primary_index()).unwrap();
        assert_eq!(rest.primary().head, Byte(7));
    }
}
