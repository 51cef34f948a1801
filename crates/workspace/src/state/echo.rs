//! Edits by hand, one after the other, and what is offered after two that are alike.

use crate::ids::BufferId;
use crate::tasks::TaskHandle;
use snarvel_core::echo::made::Made;
use snarvel_core::echo::{Change, Echo};
use std::collections::BTreeSet;
use std::sync::Arc;

/// An edit by hand.
#[derive(Debug)]
pub(crate) struct ByHand {
    /// The text.
    pub buffer: BufferId,
    /// The revision of the text after it.
    pub revision: u64,
    /// What was made.
    pub made: Made,
    /// What its place is known by among the spans of the text.
    pub number: u64,
}

/// What is offered after edits that are alike.
#[derive(Debug)]
pub struct EchoOffer {
    /// The text.
    pub buffer: BufferId,
    /// Its revision.
    pub revision: u64,
    /// The rule and all places.
    pub echo: Arc<Echo>,
    /// Which of its levels is looked at.
    pub at: usize,
    /// The places at that level.
    pub changes: Vec<Change>,
    /// Those of them that are left out.
    pub left_out: BTreeSet<usize>,
}

impl EchoOffer {
    /// The places that are not left out.
    pub fn chosen(&self) -> impl Iterator<Item = &Change> {
        self.changes.iter().enumerate().filter(|(index, _)| !self.left_out.contains(index)).map(|(_, change)| change)
    }
}

/// What echo keeps.
#[derive(Debug, Default)]
pub(crate) struct Echoing {
    /// Whether it is off.
    pub is_off: bool,
    /// The edit under way, in the line of the caret.
    pub run: Option<ByHand>,
    /// Edits that have come to their end, the newest last.
    pub done: Vec<ByHand>,
    /// What is offered.
    pub offer: Option<EchoOffer>,
    /// What is looked for.
    pub looking: Option<TaskHandle>,
    /// For which state it was looked last: the text, its revision, how many edits there were.
    pub looked: Option<(BufferId, u64, u64)>,
    /// How many edits there were.
    pub count: u64,
    /// How many keys have edited by hand; and how many had when an offer was carried out last: it offers nothing until there is another.
    pub keys: [u64; 2],
}
