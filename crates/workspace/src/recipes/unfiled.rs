//! Recipes that have no file of their own yet; they are kept from one start to the next.

use super::book::Known;
use serde::{Deserialize, Serialize};

/// So many drafts are kept; the oldest goes first.
const MOST_DRAFTS: usize = 50;

/// Recipes without a file.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(default)]
pub struct Unfiled {
    last: Option<Known>,
    drafts: Vec<Known>,
    /// How often something was changed since they were read.
    #[serde(skip)]
    changes: u64,
}

impl Unfiled {
    /// What was recorded or played last.
    #[must_use]
    pub fn last(&self) -> Option<&Known> {
        self.last.as_ref()
    }

    /// What was recorded, or edited and not kept, the newest first.
    #[must_use]
    pub fn drafts(&self) -> &[Known] {
        &self.drafts
    }

    /// How often something was changed since they were read: 0 where there is nothing new to be kept.
    #[must_use]
    pub fn changes(&self) -> u64 {
        self.changes
    }

    /// Remembers what was recorded or played.
    pub fn note_last(&mut self, known: Known) {
        self.changes += 1;
        self.last = Some(known);
    }

    /// Puts in a draft, in place of the one with its name.
    pub fn put(&mut self, known: Known) {
        self.take_out(&known.name);
        self.drafts.insert(0, known);
        self.drafts.truncate(MOST_DRAFTS);
    }

    /// Takes a draft away.
    pub fn take_out(&mut self, name: &str) {
        self.retain(|draft| draft.name != name);
    }

    /// Takes away the drafts that do not fit.
    pub fn retain(&mut self, fits: impl Fn(&Known) -> bool) {
        self.changes += 1;
        self.drafts.retain(fits);
    }
}
