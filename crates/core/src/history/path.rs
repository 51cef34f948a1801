//! Which steps lead to the text as it is.

use super::{History, StepId};

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
}
