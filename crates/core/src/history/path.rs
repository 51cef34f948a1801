//! Which steps lead to the text as it is, and what the last of them belongs to.

use super::{GroupId, History, ROOT, StepId, Travel};

impl History {
    /// The way from here to `id`, on whatever branch that is: back to where the branches part, then on. None
    /// where `id` is here.
    ///
    /// Cost: linear in the steps between and in what they changed.
    ///
    /// # Panics
    /// If `id` is of another history.
    #[must_use]
    pub fn way_to(&self, id: StepId) -> Option<Travel> {
        assert!(id == ROOT || id.0 < self.steps.len(), "the step {} of {}", id.0, self.steps.len());
        let last = self.steps.get(id.0).map(|step| step.after.clone());
        let cursors = last.or_else(|| self.steps.first().map(|step| step.before.clone()))?;
        let (mut here, mut there) = (self.current, id);
        let (mut changes, mut onward) = (Vec::new(), Vec::new());
        while here != there {
            // Of two states the one made later is no ancestor of the other.
            if here.order() > there.order() {
                let step = &self.steps[here.0];
                changes.extend(step.backward());
                here = step.parent;
            } else {
                onward.push(there);
                there = self.steps[there.0].parent;
            }
        }
        changes.extend(onward.iter().rev().flat_map(|id| self.steps[id.0].changes.iter().cloned()));
        (self.current != id).then_some(Travel { changes, cursors })
    }

    /// Goes to `id`; its branch is the one that redo takes from now on. None where `id` is here.
    ///
    /// # Panics
    /// If `id` is of another history.
    pub fn go_to(&mut self, id: StepId) -> Option<Travel> {
        self.close_step();
        let travel = self.way_to(id);
        self.current = id;
        let mut child = id;
        while let Some(step) = self.steps.get(child.0) {
            let parent = step.parent;
            *self.newest_child_mut(parent) = Some(child);
            child = parent;
        }
        travel
    }

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
