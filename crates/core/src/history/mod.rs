//! The history: a tree of steps, each of which takes the text and the cursor set to and fro.
//!
//! A step holds its changes in the direction of doing, the set before and the set after. A new step after an
//! undo begins a branch; the old branch stays. Times are milliseconds of a clock that the caller keeps.

pub mod kept;
mod path;

use crate::changes::{Change, Edit};
use crate::cursors::CursorSet;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// A pause of more than this many milliseconds ends a typing step (the design's figure).
const PAUSE_MS: i64 = 700;

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

/// A place in the tree: the state after a step, or the start.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct StepId(usize);

impl StepId {
    /// The start of the tree, before every step.
    pub const START: StepId = StepId(usize::MAX);

    /// How late it is in the order of making; the start is before everything.
    fn order(self) -> Option<usize> {
        (self != StepId::START).then_some(self.0)
    }
}

/// How much a step changed.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Extent {
    /// At how many places at once.
    pub places: usize,
    /// Bytes put in.
    pub added: usize,
    /// Bytes taken out.
    pub removed: usize,
}

/// The number of a transaction over several texts: steps of one group are taken back and made again together.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct GroupId(pub u64);

/// One step.
#[derive(Clone, Debug)]
pub struct Step {
    verb: &'static str,
    group: Option<GroupId>,
    changes: Vec<Arc<Change>>,
    before: Arc<CursorSet>,
    after: Arc<CursorSet>,
    parent: StepId,
    newest_child: Option<StepId>,
    at_ms: i64,
    amount: Option<Box<str>>,
}

impl Step {
    /// How much it was about, in words: "2 lines".
    #[must_use]
    pub fn amount(&self) -> Option<String> {
        let cursors = || (self.before.len() > 1).then(|| format!("{} cursors", self.before.len()));
        self.amount.as_deref().map(str::to_owned).or_else(cursors)
    }

    /// The verb that made it.
    #[must_use]
    pub fn verb(&self) -> &'static str {
        self.verb
    }

    /// The transaction over several texts that it is a part of.
    #[must_use]
    pub fn group(&self) -> Option<GroupId> {
        self.group
    }

    /// When it was last added to, in milliseconds of the caller's clock.
    #[must_use]
    pub fn at_ms(&self) -> i64 {
        self.at_ms
    }

    /// The state that it began from.
    #[must_use]
    pub fn parent(&self) -> StepId {
        self.parent
    }

    /// How much it changed, all its changes together.
    #[must_use]
    pub fn extent(&self) -> Extent {
        let edits = || self.changes.iter().flat_map(|change| change.edits());
        Extent {
            places: self.changes.iter().map(|change| change.edits().len()).max().unwrap_or(0),
            added: edits().map(Edit::inserted_len).sum(),
            removed: edits().map(Edit::removed_len).sum(),
        }
    }

    /// What it put in at its first place, or, where it put in nothing, what it took out there; at most so many
    /// characters of it.
    #[must_use]
    pub fn glimpse(&self, characters: usize) -> String {
        let firsts = || self.changes.iter().filter_map(|change| Some((change, change.edits().first()?)));
        let put_in: String =
            firsts().flat_map(|(change, edit)| change.inserted(edit).chars()).take(characters).collect();
        if !put_in.trim().is_empty() {
            return put_in;
        }
        firsts().flat_map(|(change, edit)| change.removed(edit).chars()).take(characters).collect()
    }
}

/// What a step holds beside its changes, about: itself, and sets of cursors that it shares with its neighbours.
const OF_A_STEP: usize = 256;

impl Step {
    /// Memory held, in bytes.
    fn held(&self) -> usize {
        let sets = (self.before.len() + self.after.len()) * size_of::<crate::cursors::Selection>();
        self.changes.iter().map(|change| change.heap_bytes()).sum::<usize>() + sets + OF_A_STEP
    }

    /// What takes it back, in order.
    fn backward(&self) -> impl Iterator<Item = Arc<Change>> + '_ {
        self.changes.iter().rev().map(|change| Arc::new(Change::clone(change).inverted()))
    }
}

/// A state that was saved.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Save {
    /// The state: the number of the step that led to it; none for the start.
    step: Option<u32>,
    /// The hash of its text.
    pub hash: u128,
    /// When, in milliseconds since 1970.
    pub at: i64,
}

/// What a verb has done, to be remembered as a step.
#[derive(Debug)]
pub struct NewStep {
    /// The verb.
    pub verb: &'static str,
    /// The transaction over several texts that it is a part of.
    pub group: Option<GroupId>,
    /// What it changed, in order.
    pub changes: Vec<Arc<Change>>,
    /// The set before it.
    pub before: Arc<CursorSet>,
    /// The set after it.
    pub after: Arc<CursorSet>,
    /// What it may grow together with.
    pub grouping: Grouping,
    /// How much it was about, in words; where that is not told, the cursors are counted.
    pub amount: Option<Box<str>>,
}

/// Changes to carry out, in order, and the set that is afterwards.
#[derive(Debug)]
pub struct Travel {
    /// The changes.
    pub changes: Vec<Arc<Change>>,
    /// The set afterwards.
    pub cursors: Arc<CursorSet>,
}

/// The tree of steps.
#[derive(Clone, Debug)]
pub struct History {
    steps: Vec<Step>,
    current: StepId,
    saved: Option<StepId>,
    /// The states that were saved, in the order in which they were.
    saves: Vec<Save>,
    /// The state that is being written, until that has come to its end.
    saving: Option<StepId>,
    root_child: Option<StepId>,
    open: Option<Grouping>,
    /// Memory that the steps hold, in bytes, and how much they may.
    held: usize,
    limit: usize,
    forgotten: usize,
}

/// What a history may hold unless the caller says otherwise: some hundred thousand steps of typing.
pub const USUAL_LIMIT: usize = 256 << 20;

const ROOT: StepId = StepId::START;

impl Default for History {
    fn default() -> History {
        History {
            steps: Vec::new(),
            current: ROOT,
            saved: Some(ROOT),
            saves: Vec::new(),
            saving: None,
            root_child: None,
            open: None,
            held: 0,
            limit: USUAL_LIMIT,
            forgotten: 0,
        }
    }
}

impl History {
    /// Remembers what was done. Typing grows the step before it until a pause, a closing, or another kind.
    pub fn record(&mut self, done: NewStep, now_ms: u64) {
        let sets = (done.before.len() + done.after.len()) * size_of::<crate::cursors::Selection>();
        self.held += done.changes.iter().map(|change| change.heap_bytes()).sum::<usize>() + sets + OF_A_STEP;
        let grouping = done.grouping;
        if self.grows(grouping, now_ms) {
            let step = &mut self.steps[self.current.0];
            step.changes.extend(done.changes);
            step.after = done.after;
            step.at_ms = now_ms.cast_signed();
        } else {
            self.push(done, now_ms);
        }
        self.open = Some(grouping).filter(|kind| !matches!(kind, Grouping::Alone | Grouping::LineEnd));
        if self.held > self.limit {
            self.forget_oldest();
        }
    }

    /// Holds at most `bytes` from now on, apart from the step made last.
    pub fn set_limit(&mut self, bytes: usize) {
        self.limit = bytes;
    }

    /// How many steps were forgotten because there was no room for them.
    #[must_use]
    pub fn forgotten(&self) -> usize {
        self.forgotten
    }

    /// Forgets the oldest steps on the way here, with the branches that begin there: a quarter of what may be held.
    ///
    /// Cost: linear in the steps, once for that quarter.
    fn forget_oldest(&mut self) {
        let mut way: Vec<StepId> = Vec::new();
        let mut at = self.current;
        while at != ROOT {
            way.push(at);
            at = self.steps[at.0].parent;
        }
        // The step made last stays, whatever it holds.
        let mut too_much = self.held.saturating_sub(self.limit / 4 * 3);
        let mut start = None;
        for id in way.iter().skip(1).rev() {
            start = Some(*id);
            too_much = too_much.saturating_sub(self.steps[id.0].held());
            if too_much == 0 {
                break;
            }
        }
        if let Some(start) = start {
            self.begin_at(start);
        }
    }

    /// Makes the state after `start` the start; only what came of it is kept.
    fn begin_at(&mut self, start: StepId) {
        let mut now: Vec<Option<StepId>> = Vec::with_capacity(self.steps.len());
        let mut kept = 0;
        for step in &self.steps {
            let stays = step.parent == start || (step.parent != ROOT && now[step.parent.0].is_some());
            now.push(stays.then(|| {
                kept += 1;
                StepId(kept - 1)
            }));
        }
        let moved = |id: StepId| if id == start { Some(ROOT) } else { now.get(id.0).copied().flatten() };
        self.root_child = self.steps[start.0].newest_child.and_then(moved);
        self.current = moved(self.current).unwrap_or(ROOT);
        self.saved = self.saved.and_then(moved);
        self.saving = self.saving.and_then(moved);
        self.move_saves(moved);
        self.forgotten += self.steps.len() - kept;
        let old = std::mem::take(&mut self.steps);
        for (step, now) in old.into_iter().zip(&now) {
            if now.is_some() {
                let parent = moved(step.parent).unwrap_or(ROOT);
                let newest_child = step.newest_child.and_then(moved);
                self.steps.push(Step { parent, newest_child, ..step });
            }
        }
        self.held = self.steps.iter().map(Step::held).sum();
    }

    fn grows(&self, grouping: Grouping, now_ms: u64) -> bool {
        let wanted = if grouping == Grouping::LineEnd { Grouping::Typing } else { grouping };
        self.open == Some(wanted)
            && self.current != ROOT
            && now_ms.cast_signed().saturating_sub(self.steps[self.current.0].at_ms) <= PAUSE_MS
    }

    fn push(&mut self, done: NewStep, now_ms: u64) {
        let at_ms = now_ms.cast_signed();
        let id = StepId(self.steps.len());
        let NewStep { verb, group, changes, before, after, amount, .. } = done;
        let (parent, newest_child) = (self.current, None);
        self.steps.push(Step { verb, group, changes, before, after, parent, newest_child, at_ms, amount });
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
        let travel = Travel { changes: step.backward().collect(), cursors: step.before.clone() };
        self.current = step.parent;
        Some(travel)
    }

    /// The step that redo would make again.
    #[must_use]
    pub fn next_step(&self) -> Option<StepId> {
        self.next()
    }

    /// The step after which the text is at `id`; none for the start.
    #[must_use]
    pub fn step(&self, id: StepId) -> Option<&Step> {
        self.steps.get(id.0)
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
        self.newest_child(self.current)
    }

    fn newest_child(&self, id: StepId) -> Option<StepId> {
        if id == ROOT { self.root_child } else { self.steps[id.0].newest_child }
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

    /// All steps ever made, oldest first, branches included, each with the place in the tree after it.
    pub fn steps(&self) -> impl DoubleEndedIterator<Item = (StepId, &Step)> + ExactSizeIterator {
        self.steps.iter().enumerate().map(|(index, step)| (StepId(index), step))
    }

    /// Whether a step by `verb` is on the way here; none where there is no such step at all. Cost: linear in the steps.
    #[must_use]
    pub fn has_come_by(&self, verb: &str) -> Option<bool> {
        self.steps.iter().any(|step| step.verb == verb).then(|| {
            let mut here = self.steps.get(self.current.0);
            while let Some(step) = here.filter(|step| step.verb != verb) {
                here = self.steps.get(step.parent.0);
            }
            here.is_some()
        })
    }

    /// Whether redo would come to `id` from the state that it began from.
    #[must_use]
    pub fn is_newest_child(&self, id: StepId) -> bool {
        self.steps.get(id.0).is_some_and(|step| self.newest_child(step.parent) == Some(id))
    }

    /// Where in the tree the text is.
    #[must_use]
    pub fn here(&self) -> StepId {
        self.current
    }

    /// Where in the tree the text is the one that was saved.
    #[must_use]
    pub fn saved(&self) -> Option<StepId> {
        self.saved
    }

    /// Says that the text as it is now is about to be written.
    pub fn begin_save(&mut self) {
        self.close_step();
        self.saving = Some(self.current);
    }

    /// The file holds what the text was when its writing began.
    pub fn finish_save(&mut self) {
        self.saved = self.saving.take();
    }

    /// Nothing was written.
    pub fn abandon_save(&mut self) {
        self.saving = None;
    }

    /// Whether what is now is what is being written.
    #[must_use]
    pub fn is_being_saved(&self) -> bool {
        self.saving == Some(self.current)
    }

    /// Whether the text differs from what was saved, judged by steps. While a file is being written its content is not
    /// known: then the answer is yes.
    #[must_use]
    pub fn is_modified(&self) -> bool {
        self.saved != Some(self.current) || self.saving.is_some()
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
