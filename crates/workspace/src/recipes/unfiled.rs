//! Recipes that have no file of their own yet; they are kept from one start to the next.

use super::book::Known;
use serde::{Deserialize, Serialize};

/// So many drafts are kept; the oldest goes first.
const MOST_DRAFTS: usize = 50;

/// Recipes without a file.
#[derive(Clone, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(default)]
pub struct Unfiled {
    /// What was recorded or played last.
    pub last: Option<Known>,
    /// What was recorded, or edited and not kept, the newest first.
    pub drafts: Vec<Known>,
}

impl Unfiled {
    /// Puts in a draft, in place of the one with its name.
    pub fn put(&mut self, known: Known) {
        self.take_out(&known.name);
        self.drafts.insert(0, known);
        self.drafts.truncate(MOST_DRAFTS);
    }

    /// Takes a draft away.
    pub fn take_out(&mut self, name: &str) {
        self.drafts.retain(|draft| draft.name != name);
    }
}
