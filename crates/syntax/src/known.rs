//! What is known of a text that has changed since: the trees as they were parsed, and the changes that they have not seen.
//!
//! To tell a tree of an edit costs a walk through it, which in a text of one long list is as long as the list. That is the
//! worker's to do: the thread of the keys only notes the change.

use crate::layered::{Layered, MOST_EDITS, window_after};
use snarvel_core::changes::Change;
use snarvel_core::text::Text;
use snarvel_core::units::Span;
use std::sync::Arc;

/// Trees, and what has changed since they were parsed.
#[derive(Clone)]
pub struct Known {
    layered: Layered,
    /// The text that was parsed.
    text: Text,
    /// What the trees have not seen, in order.
    since: Vec<Arc<Change>>,
    edits: usize,
    /// Where the parsed window is now, and the bytes of the text.
    window: Span,
    length: usize,
}

impl Known {
    /// The trees of `text` as it is.
    pub fn new(layered: Layered, text: Text) -> Known {
        let (window, length) = (layered.window, text.len());
        Known { layered, text, since: Vec::new(), edits: 0, window, length }
    }

    /// The trees, where the text is still as it was parsed.
    pub fn current(&self) -> Option<&Layered> {
        self.since.is_empty().then_some(&self.layered)
    }

    /// Where the parsed window is now.
    pub fn window(&self) -> Span {
        self.window
    }

    /// Notes a change; none where so much has changed that parsing anew is cheaper, or where the change goes over an edge of
    /// the window. Cost: linear in the edits.
    pub fn follow(mut self, change: &Arc<Change>) -> Option<Known> {
        self.edits += change.edits().len();
        if self.edits > MOST_EDITS {
            return None;
        }
        let removed: usize = change.edits().iter().map(|edit| edit.span().len()).sum();
        let after =
            self.length + change.edits().iter().map(|edit| change.inserted(edit).len()).sum::<usize>() - removed;
        self.window = window_after(self.window, change, [self.length, after])?;
        self.length = after;
        self.since.push(change.clone());
        Some(self)
    }

    /// The trees told of all changes, as a start for the next parse.
    pub fn brought_up_to_date(self) -> Option<Layered> {
        let Known { mut layered, mut text, since, .. } = self;
        for change in since {
            let before = text.clone();
            text.apply(&change);
            layered = layered.follow(&before, &change, &text)?;
        }
        Some(layered)
    }
}
