//! Which steps lead to the text as it is, and what the last of them belongs to.

use super::{GroupId, History, ROOT, StepId};

impl History {
    /// Whether `id` is one of the steps that lead here: it was done, and not undone since. Cost: linear in the steps after it.
    #[must_use]
    pub fn leads_by(&self, id: StepId) -> bool {
        let mut here = self.current;
        while here.0 > id.0 {
            let Some(step) = self.steps.get(here.0) else { return false };
            here = step.parent;
        }
        here == id && self.steps.get(id.0).is_some()
    }

    /// The step made last belongs to a transaction.
    pub fn join(&mut self, group: GroupId) {
        if self.current != ROOT {
            self.steps[self.current.0].group = Some(group);
        }
    }
}
