//! What was changed, for who follows a text from outside: a journal.

use super::Editor;
use crate::changes::Change;

/// What was changed since somebody asked.
#[derive(Debug)]
pub enum Noted {
    /// By these changes, in their order.
    Changes(Vec<Change>),
    /// By more than is worth telling one by one.
    Whole,
}

/// Changes of more bytes than this in memory are not told one by one.
const MOST_NOTED: usize = 1 << 20;

impl Editor {
    pub(super) fn note(&mut self, change: &Change) {
        let Some(noted) = &mut self.noted else { return };
        if let Noted::Changes(changes) = noted {
            let held: usize = changes.iter().chain([change]).map(Change::heap_bytes).sum();
            match held > MOST_NOTED {
                true => *noted = Noted::Whole,
                false => changes.push(change.clone()),
            }
        }
    }

    /// From now on what is changed is noted until it is taken.
    pub fn note_changes(&mut self) {
        self.noted = Some(Noted::Changes(Vec::new()));
    }

    /// What was changed since it was asked for last.
    pub fn take_noted(&mut self) -> Noted {
        let fresh = || Noted::Changes(Vec::new());
        self.noted.as_mut().map_or_else(fresh, |noted| std::mem::replace(noted, fresh()))
    }
}
