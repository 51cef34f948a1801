//! What the workspace knows of recipes.

use crate::ids::BufferId;
use crate::recipes::book::{Book, Entry, From};
use crate::recipes::recording::Recording;
use crate::recipes::unfiled::Unfiled;
use crate::recipes::written::Line;
use crate::tasks::TaskHandle;
use snarvel_core::history::StepId;

/// A change that can be done again.
#[derive(Debug)]
pub(crate) struct LastChange {
    pub(crate) buffer: BufferId,
    pub(crate) step: StepId,
    pub(crate) lines: Vec<Line>,
}

/// Changes are remembered up to this many.
pub(crate) const MOST_CHANGES: usize = 1_000;

/// What the workspace knows of recipes.
#[derive(Debug, Default)]
pub struct Recipes {
    /// The recording under way.
    pub recording: Option<Recording>,
    /// What has no file.
    pub unfiled: Unfiled,
    /// What there is to play.
    pub book: Book,
    /// Changes that can be done again.
    pub(crate) changes: Vec<LastChange>,
    /// The reading of the book under way.
    pub(crate) reading: Option<TaskHandle>,
}

impl Recipes {
    /// All recipes: drafts, then those of the book.
    pub fn entries(&self) -> impl Iterator<Item = Entry> {
        let drafts = self.unfiled.drafts().iter().map(|known| Entry { known: known.clone(), from: From::Draft });
        drafts.chain(self.book.entries.iter().cloned())
    }
}
