//! What differs between two views, as of two revisions.

use crate::ids::ViewId;
use snarvel_core::changes::Change;
use snarvel_core::units::{Byte, Span};

/// What differs between two views.
#[derive(Debug)]
pub struct ViewsCompared {
    /// The views.
    pub(crate) views: [ViewId; 2],
    /// The revisions of their texts.
    pub(crate) revisions: [u64; 2],
    /// The places that differ, in order: in the first text and in the second.
    pub(crate) places: Vec<[Span; 2]>,
}

impl ViewsCompared {
    /// What `change` makes another text of one.
    pub(crate) fn of(views: [ViewId; 2], revisions: [u64; 2], change: &Change) -> ViewsCompared {
        let mut grown = 0_isize;
        let place = |edit: &snarvel_core::changes::Edit| {
            let start = Byte(edit.start().0.saturating_add_signed(grown));
            grown += edit.inserted_len() as isize - edit.removed_len() as isize;
            [edit.span(), Span::new(start, start + edit.inserted_len())]
        };
        ViewsCompared { views, revisions, places: change.edits().iter().map(place).collect() }
    }
}
