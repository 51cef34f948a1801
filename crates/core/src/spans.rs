//! Spans that move with edits: one store for everything that remembers places of a text.
//!
//! Bookmarks, folds, pins, remembered cursors, places jumped from, pairs, stops of templates and diagnostics are sets of spans
//! here. Each set has an owner and a policy: to which side its ends go when text is put in right there, and what happens to a
//! span whose text goes. A piece that a change moves takes its spans along.
//!
//! Positions are bytes. Cost of a change: linear in its edits and in the spans, and O(log n) in the moved pieces for each span.

use crate::changes::{Bias, Change, Mapper};
use crate::text::Text;
use crate::units::{Byte, Span};
use std::collections::BTreeMap;

/// Whose spans they are.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Owner {
    /// What they are for.
    pub kind: &'static str,
    /// Which view they belong to; 0 where they belong to the text itself.
    pub view: u64,
    /// Which of several sets of that kind.
    pub item: u64,
}

impl Owner {
    /// Spans that belong to the text, whichever view shows it.
    #[must_use]
    pub const fn of_text(kind: &'static str) -> Owner {
        Owner { kind, view: 0, item: 0 }
    }

    /// Spans that belong to one view of the text.
    #[must_use]
    pub const fn of_view(kind: &'static str, view: u64) -> Owner {
        Owner { kind, view, item: 0 }
    }

    /// The same owner's `item`th set.
    #[must_use]
    pub const fn item(self, item: u64) -> Owner {
        Owner { item, ..self }
    }
}

/// What happens to a span when all its text goes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Gone {
    /// It becomes an empty span at that place.
    Collapses,
    /// It is dropped.
    Vanishes,
}

/// How the spans of a set move.
#[derive(Clone, Copy, Debug)]
pub struct Policy {
    /// Where the start goes when text is put in right there.
    pub start: Bias,
    /// Where the end goes when text is put in right there.
    pub end: Bias,
    /// What happens to a span whose text goes.
    pub gone: Gone,
    /// Puts the set in order after a change: spans that must lie on line edges go there, doubles become one.
    pub settle: fn(&mut Vec<Span>, &Text),
}

impl Policy {
    /// Places that stay after what is put in right there.
    pub const PLACES: Policy =
        Policy { start: Bias::After, end: Bias::After, gone: Gone::Collapses, settle: leave_as_they_are };

    /// Selections: neither end takes in what is put in beside it, and an empty one stays after what is put in there.
    pub const SELECTIONS: Policy =
        Policy { start: Bias::After, end: Bias::Before, gone: Gone::Collapses, settle: leave_as_they_are };
}

/// A set that needs no putting in order.
pub fn leave_as_they_are(_: &mut Vec<Span>, _: &Text) {}

#[derive(Clone, Debug)]
struct SpanSet {
    policy: Policy,
    spans: Vec<Span>,
}

impl SpanSet {
    fn follow(&mut self, change: &Change, after: &Text) {
        if self.spans.is_empty() {
            return;
        }
        let Policy { start, end, gone, settle } = self.policy;
        let mut mapper = Mapper::new(change);
        let mut place = |at: Byte, bias: Bias| change.moved(at).unwrap_or_else(|| mapper.map(at, bias));
        let moved = |span: Span| {
            // An empty one is a place, unless it takes in what is put in there.
            if span.is_empty() && start == Bias::After {
                return Some(Span::at(place(span.start, start)));
            }
            let from = place(span.start, start);
            let to = place(span.end, end).max(from);
            (from < to || gone == Gone::Collapses).then(|| Span::new(from, to))
        };
        self.spans = std::mem::take(&mut self.spans).into_iter().filter_map(moved).collect();
        settle(&mut self.spans, after);
    }
}

/// All spans that move with one text.
#[derive(Clone, Debug, Default)]
pub struct SpanStore {
    sets: BTreeMap<Owner, SpanSet>,
}

impl SpanStore {
    /// Gives `owner` these spans in place of those that it had. No spans: the owner has none any more.
    pub fn set(&mut self, owner: Owner, policy: Policy, spans: Vec<Span>) {
        if spans.is_empty() {
            self.sets.remove(&owner);
        } else {
            self.sets.insert(owner, SpanSet { policy, spans });
        }
    }

    /// The spans of `owner`, in the order in which they were set unless its policy puts them in another.
    #[must_use]
    pub fn get(&self, owner: Owner) -> &[Span] {
        self.sets.get(&owner).map_or(&[], |set| &set.spans)
    }

    /// A store with the sets of those owners for which `stays`.
    #[must_use]
    pub fn retaining(&self, stays: impl Fn(Owner) -> bool) -> SpanStore {
        let kept = self.sets.iter().filter(|(owner, _)| stays(**owner));
        SpanStore { sets: kept.map(|(owner, set)| (*owner, set.clone())).collect() }
    }

    /// Drops the spans of `owner`.
    pub fn remove(&mut self, owner: Owner) {
        self.sets.remove(&owner);
    }

    /// Drops the sets of all owners for which `goes`.
    pub fn remove_where(&mut self, goes: impl Fn(Owner) -> bool) {
        self.sets.retain(|owner, _| !goes(*owner));
    }

    /// Moves all spans with `change`, which made `after`.
    pub fn follow(&mut self, change: &Change, after: &Text) {
        self.sets.values_mut().for_each(|set| set.follow(change, after));
        self.sets.retain(|_, set| !set.spans.is_empty());
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::changes::ChangeBuilder;

    const OWNER: Owner = Owner::of_text("test");

    fn span(start: usize, end: usize) -> Span {
        Span::new(Byte(start), Byte(end))
    }

    fn moved(policy: Policy, spans: &[Span], change: &Change) -> Vec<Span> {
        let mut store = SpanStore::default();
        store.set(OWNER, policy, spans.to_vec());
        store.follow(change, &Text::default());
        store.get(OWNER).to_vec()
    }

    #[test]
    fn spans_move_with_edits_and_by_their_bias() {
        let text = Text::from("abcdef");
        let mut builder = ChangeBuilder::new(&text);
        builder.insert(Byte(1), "XX");
        builder.remove(span(3, 5));
        let change = builder.finish();
        assert_eq!(
            moved(Policy::PLACES, &[span(5, 5), span(1, 1), span(0, 0)], &change),
            [span(5, 5), span(3, 3), span(0, 0)]
        );
        assert_eq!(
            moved(Policy::SELECTIONS, &[span(1, 2), span(3, 5), span(0, 1)], &change),
            [span(3, 4), span(5, 5), span(0, 1)]
        );
        let inside = Policy { start: Bias::Before, end: Bias::After, ..Policy::PLACES };
        assert_eq!(moved(inside, &[span(1, 1), span(2, 2)], &change), [span(1, 3), span(4, 4)], "what is typed inside");
        let vanishing = Policy { gone: Gone::Vanishes, ..Policy::SELECTIONS };
        assert_eq!(moved(vanishing, &[span(1, 2), span(3, 5)], &change), [span(3, 4)]);
    }

    #[test]
    fn spans_go_along_with_a_piece_that_moves() {
        let text = Text::from("one\ntwo\n");
        let mut builder = ChangeBuilder::new(&text);
        builder.remove(span(0, 4));
        let to = builder.now(Byte(8));
        builder.insert(Byte(8), "one\n");
        builder.note_move(span(0, 3), to);
        let change = builder.finish();
        assert_eq!(
            moved(Policy::PLACES, &[span(0, 0), span(3, 3), span(5, 5)], &change),
            [span(4, 4), span(7, 7), span(1, 1)]
        );
        assert_eq!(moved(Policy::SELECTIONS, &[span(1, 3)], &change), [span(5, 7)]);
        let back = change.inverted();
        assert_eq!(moved(Policy::SELECTIONS, &[span(5, 7)], &back), [span(1, 3)]);
    }

    #[test]
    fn an_owner_without_spans_is_none() {
        let mut store = SpanStore::default();
        store.set(OWNER.item(2), Policy::PLACES, vec![span(1, 1)]);
        store.set(Owner::of_view("test", 7), Policy::PLACES, vec![span(2, 2)]);
        assert_eq!(store.get(OWNER), []);
        store.remove_where(|owner| owner.view == 7);
        assert_eq!((store.get(OWNER.item(2)).len(), store.sets.len()), (1, 1));
        store.set(OWNER.item(2), Policy::PLACES, Vec::new());
        assert!(store.sets.is_empty());
    }
}
