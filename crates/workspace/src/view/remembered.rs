//! Cursor sets that a view remembers: pins, the set that was dropped last, sets that were there before. Their places are spans of the
//! buffer, so that they move with its edits, whichever view makes them.

use crate::buffer::Buffer;
use crate::ids::ViewId;
use crate::view::stops::TemplateStops;
use snarvel_core::changes::Bias;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::spans::{Owner, Policy};
use snarvel_core::units::Span;

const PINS: &str = "pins";
const PAIRS: &str = "pairs";
const DROPPED: &str = "dropped cursors";
const DROPPED_PINS: &str = "dropped pins";
const PAST: &str = "past cursors";

/// How many cursors of sets that were there before are remembered in all: each edit moves them all.
const MOST_PAST_CURSORS: usize = 4_096;

/// The insides of pairs take in what is typed at their edges.
const INSIDES: Policy = Policy { start: Bias::Before, end: Bias::After, ..Policy::PLACES };

/// A set that was before: what it was but for its places, and which set of spans has those.
#[derive(Clone, Debug)]
struct PastSet {
    item: u64,
    template: CursorSet,
}

/// What a view remembers.
#[derive(Clone, Debug, Default)]
pub struct RememberedSets {
    /// The pins and the dropped cursors as they were when they were set: all but their places is as it was.
    pins: Option<CursorSet>,
    dropped: Option<CursorSet>,
    dropped_pins: Option<CursorSet>,
    past: Vec<PastSet>,
    /// Templates that are being filled in.
    pub(crate) stops: TemplateStops,
    /// Whether the newest past set was left by a move: moves in a row are one step.
    is_moving: bool,
    next_item: u64,
}

fn spans_of(set: &CursorSet) -> Vec<Span> {
    set.iter().map(Selection::span).collect()
}

/// The set that was `template` when it was remembered, with the places that its spans have now.
fn placed(buffer: &Buffer, owner: Owner, template: Option<&CursorSet>) -> Option<CursorSet> {
    Some(template?.placed(buffer.spans.get(owner)).snapped(buffer.text()))
}

impl RememberedSets {
    /// The places set aside.
    #[must_use]
    pub fn pins(&self, view: ViewId, buffer: &Buffer) -> Option<CursorSet> {
        placed(buffer, Owner::of_view(PINS, view.number()), self.pins.as_ref())
    }

    /// The spans of the pins, in the order of the text.
    #[must_use]
    pub fn pin_spans(view: ViewId, buffer: &Buffer) -> &[Span] {
        buffer.spans.get(Owner::of_view(PINS, view.number()))
    }

    /// Sets `pins` aside in place of those that there are.
    pub fn set_pins(&mut self, view: ViewId, buffer: &mut Buffer, pins: Option<CursorSet>) {
        let spans = pins.as_ref().map(spans_of).unwrap_or_default();
        buffer.spans.set(Owner::of_view(PINS, view.number()), Policy::SELECTIONS, spans);
        self.pins = pins;
        self.forget_dropped_pins(view, buffer);
    }

    /// Drops the pins, and remembers them.
    pub fn drop_pins(&mut self, view: ViewId, buffer: &mut Buffer) {
        let pins = self.pins(view, buffer);
        self.set_pins(view, buffer, None);
        let spans = pins.as_ref().map(spans_of).unwrap_or_default();
        buffer.spans.set(Owner::of_view(DROPPED_PINS, view.number()), Policy::SELECTIONS, spans);
        self.dropped_pins = pins;
    }

    /// The pins that were dropped, if no cursors were since then.
    #[must_use]
    pub fn dropped_pins(&self, view: ViewId, buffer: &Buffer) -> Option<CursorSet> {
        placed(buffer, Owner::of_view(DROPPED_PINS, view.number()), self.dropped_pins.as_ref())
    }

    fn forget_dropped_pins(&mut self, view: ViewId, buffer: &mut Buffer) {
        if self.dropped_pins.take().is_some() {
            buffer.spans.remove(Owner::of_view(DROPPED_PINS, view.number()));
        }
    }

    /// The last set of more than one cursor that was dropped.
    #[must_use]
    pub fn dropped(&self, view: ViewId, buffer: &Buffer) -> Option<CursorSet> {
        placed(buffer, Owner::of_view(DROPPED, view.number()), self.dropped.as_ref())
    }

    /// Remembers `set` as dropped.
    pub fn set_dropped(&mut self, view: ViewId, buffer: &mut Buffer, set: CursorSet) {
        buffer.spans.set(Owner::of_view(DROPPED, view.number()), Policy::SELECTIONS, spans_of(&set));
        self.dropped = Some(set);
        self.forget_dropped_pins(view, buffer);
    }

    /// The insides of pairs that closed themselves.
    #[must_use]
    pub fn pairs(view: ViewId, buffer: &Buffer) -> &[Span] {
        buffer.spans.get(Owner::of_view(PAIRS, view.number()))
    }

    /// Adds pairs; a pair counts only while one of `cursors` is in it.
    pub fn set_pairs(view: ViewId, buffer: &mut Buffer, added: Vec<Span>, cursors: &CursorSet) {
        let owner = Owner::of_view(PAIRS, view.number());
        let carets = cursors.list();
        let holds_caret = |pair: &Span| {
            let near = carets.partition_point(|each| each.head < pair.start);
            carets.get(near).is_some_and(|each| each.head <= pair.end)
        };
        let all = buffer.spans.get(owner).iter().copied().chain(added).filter(holds_caret).collect();
        buffer.spans.set(owner, INSIDES, all);
    }

    /// No pair counts any more.
    pub fn forget_pairs(view: ViewId, buffer: &mut Buffer) {
        buffer.spans.remove(Owner::of_view(PAIRS, view.number()));
    }

    /// Remembers `before`, which was just left, by a move or not; the oldest make room.
    pub fn remember(&mut self, view: ViewId, buffer: &mut Buffer, (before, left): (&CursorSet, Left)) {
        let by_move = left == Left::ByMove;
        if !(by_move && self.is_moving) {
            let item = self.next_item;
            self.next_item += 1;
            let owner = Owner::of_view(PAST, view.number()).item(item);
            buffer.spans.set(owner, Policy::SELECTIONS, spans_of(before));
            self.past.push(PastSet { item, template: before.clone() });
        }
        self.is_moving = by_move;
        let mut held: usize = self.past.iter().map(|set| set.template.len()).sum();
        while held > MOST_PAST_CURSORS {
            let oldest = self.past.remove(0);
            held -= oldest.template.len();
            buffer.spans.remove(Owner::of_view(PAST, view.number()).item(oldest.item));
        }
    }

    /// The text was edited: what is moved after that is another step.
    pub fn part_moves(&mut self) {
        self.is_moving = false;
    }

    /// The newest set that was before, which is then no longer remembered.
    pub fn take_past(&mut self, view: ViewId, buffer: &mut Buffer) -> Option<CursorSet> {
        self.is_moving = false;
        let newest = self.past.pop()?;
        let owner = Owner::of_view(PAST, view.number()).item(newest.item);
        let set = placed(buffer, owner, Some(&newest.template));
        buffer.spans.remove(owner);
        set
    }
}

/// How a set of cursors was left.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Left {
    /// By a move.
    ByMove,
    /// By anything else.
    ByAct,
}
