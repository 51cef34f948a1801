//! Cursors that wait for their turn while a block runs for one of them after the other.
//!
//! The block mostly edits near the cursor that it runs for. Then those before it stay, those after it move by the same number of bytes,
//! and a turn costs no more than its own edits; only where a change reaches to other cursors are all of them moved.

use snarvel_core::changes::{Bias, Change};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use std::sync::Arc;

/// Cursors in the order of the text, of which one after the other has its turn.
pub(super) struct Waiting {
    list: Vec<Selection>,
    primary: usize,
    /// The next one to have its turn.
    next: usize,
    /// How far those from `next` on are from where they are listed.
    shift: isize,
}

impl Waiting {
    pub fn new(cursors: &CursorSet) -> Waiting {
        Waiting { list: cursors.list().to_vec(), primary: cursors.primary_index(), next: 0, shift: 0 }
    }

    /// The number and the place of the cursor whose turn it is.
    pub fn turn(&mut self) -> Option<(usize, Selection)> {
        let each = *self.list.get(self.next)?;
        let now = shifted(each, self.shift);
        self.list[self.next] = now;
        self.next += 1;
        Some((self.next - 1, now))
    }

    /// Moves all of them with a change. The one whose turn it was last is the one that it was made for.
    pub fn follow(&mut self, change: &Change) {
        let (Some(first), Some(last)) = (change.edits().first(), change.edits().last()) else { return };
        let current = self.next.saturating_sub(1);
        let is_after_done = current.checked_sub(1).is_none_or(|done| self.list[done].end() < first.start());
        let pending = self.list.get(self.next).map(|each| shifted(*each, self.shift).start());
        // What is put in right where one waits was put in before it.
        let is_before_pending = pending.is_none_or(|pending| last.end() <= pending);
        if is_after_done && is_before_pending {
            let own = moved(&[self.list[current]], change, Bias::Before);
            self.list[current] = own[0];
            self.shift += change
                .edits()
                .iter()
                .map(|edit| edit.inserted_len() as isize - edit.removed_len() as isize)
                .sum::<isize>();
            return;
        }
        let shift = std::mem::take(&mut self.shift);
        self.list[self.next..].iter_mut().for_each(|each| *each = shifted(*each, shift));
        let pending = moved(&self.list[self.next..], change, Bias::After);
        self.list = moved(&self.list[..self.next], change, Bias::Before);
        self.list.extend(pending);
    }

    /// All of them, where they are now.
    pub fn all(mut self, text: &Text) -> CursorSet {
        let shift = self.shift;
        self.list[self.next..].iter_mut().for_each(|each| *each = shifted(*each, shift));
        CursorSet::of(self.list, self.primary).snapped(text)
    }
}

fn shifted(each: Selection, shift: isize) -> Selection {
    let by = |at: Byte| Byte(at.0.saturating_add_signed(shift));
    Selection { anchor: by(each.anchor), head: by(each.head), ..each }
}

/// Where `list` is after `change`: with the text that moved, where it is in such a piece; `bias` says where a caret goes at which
/// text is put in.
fn moved(list: &[Selection], change: &Change, bias: Bias) -> Vec<Selection> {
    if list.is_empty() {
        return Vec::new();
    }
    let mapped = CursorSet::of(list.to_vec(), 0).mapped_each(change, bias);
    // Some of them may have become one: then the mapping is made one by one.
    let mapped = if mapped.len() == list.len() {
        mapped
    } else {
        list.iter().flat_map(|each| CursorSet::one(*each).mapped_each(change, bias)).collect()
    };
    let along = |(each, mapped): (&Selection, Selection)| match (change.moved(each.anchor), change.moved(each.head)) {
        (Some(anchor), Some(head)) => Selection { anchor, head, ..*each },
        _ => mapped,
    };
    list.iter().zip(mapped).map(along).collect()
}

/// `cursors` as `changes` have moved them, one after the other.
pub(super) fn follow_all(cursors: &CursorSet, changes: &[Arc<Change>], text: &Text) -> CursorSet {
    let mut list = cursors.list().to_vec();
    for change in changes {
        list = moved(&list, change, Bias::Before);
    }
    CursorSet::of(list, cursors.primary_index()).snapped(text)
}
