//! Texts whose cursors act together.

use crate::ids::{BufferId, ViewId};
use snarvel_core::cursors::CursorSet;
use snarvel_core::history::GroupId;
use snarvel_core::units::Span;

/// A text of a convoy.
#[derive(Clone, Debug)]
pub struct Member {
    /// The text.
    pub buffer: BufferId,
    /// The view whose cursors act.
    pub view: ViewId,
    /// Where its cursors are to be, as long as its text is not there yet; with which of them is the primary one.
    pub(crate) arriving: Option<(Vec<Span>, usize)>,
}

/// A text that was taken in while the others were there already.
#[derive(Clone, Debug)]
pub(crate) struct Joined {
    /// The text.
    pub buffer: BufferId,
    /// The number that the next addition of cursors had in each text then ([`CursorSet::next_birth`]).
    pub births: Vec<(BufferId, u32)>,
}

/// A convoy.
#[derive(Clone, Debug, Default)]
pub(crate) struct Convoy {
    /// Its texts, in the order of the list that it was made from.
    pub members: Vec<Member>,
    /// The text in which it began: Esc leads back there.
    pub primary: Option<BufferId>,
    /// Files that were left out, until that is told.
    pub left_out: Vec<String>,
    /// The texts that were taken in one by one, the last one at the end.
    pub joined: Vec<Joined>,
    /// The step that one of the texts would not take back: a second press takes it back in the others.
    pub held_up: Option<GroupId>,
    /// The cursors of all texts when it ended last.
    pub dropped: Vec<(BufferId, CursorSet)>,
}
