//! The history: a tree of steps, each of which takes the text and the cursor set to and fro.
//!
//! A step holds its changes in the direction of doing, the set before and the set after. A new step after an
//! undo begins a branch; the old branch stays. Times are milliseconds of a clock that the caller keeps.

use crate::changes::Change;
use crate::cursors::CursorSet;
use std::sync::Arc;

/// A pause of more than this many milliseconds ends a typing step (the design's figure).
const PAUSE_MS: u64 = 700;

/// What a step may grow together with.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Grouping {
    /// A step of its own.
    Alone,
    /// Typed characters.
    Typing,
    /// A typed line end: it belongs to the typing before it and closes it.
    LineEnd,
    /// Backspaces in a row.
    Backspacing,
    /// Deletes in a row.
    Deleting,
}

/// A place in the tree.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct StepId(usize);

/// One step.
#[derive(Clone, Debug)]
pub struct Step {
    verb: &'static str,
    changes: Vec<Change>,
    before: Arc<CursorSet>,
    after: Arc<CursorSet>,
    parent: StepId,
    newest_child: Option<StepId>,
    at_ms: u64,
}

impl Step {
    /// The verb that made it.
    #[must_use]
    pub fn verb(&self) -> &'static str {
        self.verb
    }

    /// When it was last added to, in milliseconds of the caller's clock.
    #[must_use]
    pub fn at_ms(&self) -> u64 {
        self.at_ms
    }

    /// Its changes in the order in which they were made.
    #[must_use]
    pub fn changes(&self) -> &[Change] {
        &self.changes
    }
}

/// What a verb has done, to be remembered as a step.
#[derive(Debug)]
pub struct Done {
    /// The verb.
    pub verb: &'static str,
    /// What it changed, in order.
    pub changes: Vec<Change>,
    /// The set before it.
    pub before: Arc<CursorSet>,
    /// The set after it.
    pub after: Arc<CursorSet>,
    /// What it may grow together with.
    pub grouping: Grouping,
}

/// Changes to carry out, in order, and the set that stands afterwards.
#[derive(Debug)]
pub struct Travel {
    /// The changes.
    pub changes: Vec<Change>,
    /// The set afterwards.
    pub cursors: Arc<CursorSet>,
}

/// The tree of steps.
#[derive(Clone, Debug)]
pub struct History {
    steps: Vec<Step>,
    current: StepId,
    saved: Option<StepId>,
    root_child: Option<StepId>,
    open: Option<Grouping>,
}

/// The start of the tree, before every step.
const ROOT: StepId = StepId(usize::MAX);

impl Default for History {
    fn default() -> History {
        History { steps: Vec::new(), current: ROOT, saved: Some(ROOT), root_child: None, open: None }
    }
}

impl History {
    /// Remembers what was done. Typing grows the step before it until a pause, a closing, or another kind.
    pub fn record(&mut self, done: Done, now_ms: u64) {
        if self.grows(done.grouping, now_ms) {
            let step = &mut self.steps[self.current.0];
            step.changes.extend(done.changes);
            step.after = done.after;
            step.at_ms = now_ms;
        } else {
            self.push(done.verb, done.changes, [done.before, done.after], now_ms);
        }
        self.open = Some(done.grouping).filter(|kind| !matches!(kind, Grouping::Alone | Grouping::LineEnd));
    }

    fn grows(&self, grouping: Grouping, now_ms: u64) -> bool {
        let wanted = if grouping == Grouping::LineEnd { Grouping::Typing } else { grouping };
        self.open == Some(wanted)
            && self.current != ROOT
            && now_ms.saturating_sub(self.steps[self.current.0].at_ms) <= PAUSE_MS
    }

    fn push(&mut self, verb: &'static str, changes: Vec<Change>, sets: [Arc<CursorSet>; 2], at_ms: u64) {
        let id = StepId(self.steps.len());
        let [before, after] = sets;
        self.steps.push(Step { verb, changes, before, after, parent: self.current, newest_child: None, at_ms });
        *self.newest_child_mut(self.current) = Some(id);
        self.current = id;
    }

    fn newest_child_mut(&mut self, id: StepId) -> &mut Option<StepId> {
        if id == ROOT { &mut self.root_child } else { &mut self.steps[id.0].newest_child }
    }

    /// Ends the step that typing would grow.
    pub fn close_step(&mut self) {
        self.open = None;
    }

    /// One step back; none at the start.
    pub fn undo(&mut self) -> Option<Travel> {
        self.close_step();
        let step = self.steps.get(self.current.0)?;
        let changes = step.changes.iter().rev().map(|change| change.clone().inverted()).collect();
        let travel = Travel { changes, cursors: step.before.clone() };
        self.current = step.parent;
        Some(travel)
    }

    /// One step on, along the newest branch; none at its end.
    pub fn redo(&mut self) -> Option<Travel> {
        self.close_step();
        let next = self.next()?;
        let step = &self.steps[next.0];
        let travel = Travel { changes: step.changes.clone(), cursors: step.after.clone() };
        self.current = next;
        Some(travel)
    }

    fn next(&self) -> Option<StepId> {
        if self.current == ROOT { self.root_child } else { self.steps[self.current.0].newest_child }
    }

    /// Whether there is a step to take back.
    #[must_use]
    pub fn can_undo(&self) -> bool {
        self.current != ROOT
    }

    /// Whether there is a step to make again.
    #[must_use]
    pub fn can_redo(&self) -> bool {
        self.next().is_some()
    }

    /// How many steps lie between the start and here.
    #[must_use]
    pub fn depth(&self) -> usize {
        std::iter::successors(self.steps.get(self.current.0), |step| self.steps.get(step.parent.0)).count()
    }

    /// All steps ever made, oldest first, branches included.
    #[must_use]
    pub fn steps(&self) -> &[Step] {
        &self.steps
    }

    /// Says that what stands now is what the file holds.
    pub fn mark_saved(&mut self) {
        self.close_step();
        self.saved = Some(self.current);
    }

    /// Whether the text differs from what was saved, going by steps.
    #[must_use]
    pub fn is_modified(&self) -> bool {
        self.saved != Some(self.current)
    }

    /// Checks what always holds.
    ///
    /// # Panics
    /// If a step is its own ancestor, or a newest child does not name its parent.
    pub fn assert_invariants(&self) {
        for (index, step) in self.steps.iter().enumerate() {
            let parent = step.parent;
            assert!(parent == ROOT || parent.0 < index, "step {index} comes before its parent {}", parent.0);
            if let Some(child) = step.newest_child {
                assert_eq!(self.steps[child.0].parent, StepId(index), "step {} has another parent", child.0);
            }
        }
    }
}
