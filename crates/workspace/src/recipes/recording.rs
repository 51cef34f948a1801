//! Recording: what is done is written down as steps, until the recording ends.
//!
//! After each command the recording knows what the text and the cursors are. Where they are others at the next one, something was done that
//! no step says, and the recording cannot be played; it says so. Steps that are undone leave it, and come back when they are redone.

use super::written::{Line, recipe_of};
use crate::buffer::Buffer;
use crate::ids::BufferId;
use crate::view::View;
use snarvel_core::cursors::CursorSet;
use snarvel_core::history::StepId;
use std::sync::Arc;

/// What a text and its cursors are at some moment.
#[derive(Clone, Debug, PartialEq)]
pub struct Moment {
    buffer: BufferId,
    revision: u64,
    step: StepId,
    length: usize,
    cursors: Arc<CursorSet>,
}

impl Moment {
    /// Of a view and its buffer now.
    #[must_use]
    pub fn of(buffer: &Buffer, view: &View) -> Moment {
        Moment {
            buffer: buffer.id,
            revision: buffer.revision(),
            step: buffer.history().here(),
            length: buffer.text().len(),
            cursors: view.shared_cursors(),
        }
    }

    /// Which buffer it is of.
    #[must_use]
    pub fn buffer(&self) -> BufferId {
        self.buffer
    }

    /// The number of the text.
    #[must_use]
    pub fn revision(&self) -> u64 {
        self.revision
    }

    /// The bytes of the text.
    #[must_use]
    pub fn length(&self) -> usize {
        self.length
    }

    /// The step of the history.
    #[must_use]
    pub fn step(&self) -> StepId {
        self.step
    }

    /// The cursors.
    #[must_use]
    pub fn cursors(&self) -> &CursorSet {
        &self.cursors
    }

    fn is_like(&self, other: &Moment) -> bool {
        self.buffer == other.buffer && self.revision == other.revision && *self.cursors == *other.cursors
    }
}

/// A line, and what text and cursors were before and after it.
#[derive(Clone, Debug)]
struct Recorded {
    line: Line,
    before: Moment,
    after: Moment,
    /// Whether it has copied something.
    copies: bool,
}

impl Recorded {
    fn changes_text(&self) -> bool {
        self.before.revision != self.after.revision
    }
}

/// A recording under way.
#[derive(Debug)]
pub struct Recording {
    list: Vec<Recorded>,
    /// What was undone, the last undone at the end, to be redone.
    undone: Vec<Vec<Recorded>>,
    now: Moment,
    /// Why it cannot be played.
    flaw: Option<String>,
    /// Whether what was copied last was copied by one of its steps.
    has_own_clip: bool,
}

/// Why a recording cannot be played, where that is not said more exactly.
const ELSEWHERE: &str = "the cursors were put elsewhere by something that is no step";

impl Recording {
    /// Begins.
    #[must_use]
    pub fn begin(now: Moment) -> Recording {
        Recording { list: Vec::new(), undone: Vec::new(), now, flaw: None, has_own_clip: false }
    }

    /// How many lines it has.
    #[must_use]
    pub fn len(&self) -> usize {
        self.recipe().lines().count()
    }

    /// Whether nothing was recorded.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.list.is_empty()
    }

    /// Why it cannot be played; none where it can.
    #[must_use]
    pub fn flaw(&self) -> Option<&str> {
        self.flaw.as_deref()
    }

    /// It cannot be played, because of `why`.
    pub fn spoil(&mut self, why: impl Into<String>) {
        self.flaw.get_or_insert_with(|| why.into());
    }

    /// What it is so far.
    #[must_use]
    pub fn recipe(&self) -> String {
        recipe_of(self.list.iter().map(|each| &each.line))
    }

    /// Looks whether text and cursors still are as the last step left them.
    pub fn check(&mut self, now: &Moment) {
        if now.buffer != self.now.buffer {
            self.spoil("it went on in another file");
        } else if now.revision != self.now.revision {
            self.spoil("the text was changed by something that is no step");
        } else if !now.is_like(&self.now) {
            self.spoil(ELSEWHERE);
        }
    }

    /// Whether what was copied last was copied by one of its steps.
    #[must_use]
    pub fn has_own_clip(&self) -> bool {
        self.has_own_clip
    }

    /// The last step has copied something.
    pub fn note_copy(&mut self) {
        self.has_own_clip = true;
        self.list.iter_mut().last().into_iter().for_each(|last| last.copies = true);
    }

    /// A command did something that `line` says; none where no line does.
    pub fn note(&mut self, line: Option<Line>, [before, after]: [Moment; 2]) {
        self.check(&before);
        self.now = after.clone();
        self.undone.clear();
        match line {
            Some(line) => self.list.push(Recorded { line, before, after, copies: false }),
            None => self.spoil("text over several lines was put in that depends on its place"),
        }
    }

    /// Something was done that no step does; whether it matters shows in what it left.
    pub fn note_other(&mut self, why: &str, [before, after]: [Moment; 2]) {
        self.check(&before);
        if !after.is_like(&before) {
            self.spoil(why);
        }
        self.now = after;
    }

    /// Steps were undone.
    pub fn note_undo(&mut self, now: Moment) {
        // Moves after a step are taken back with it.
        let first = self.list.iter().position(|each| each.before.step == now.step && each.after.step != now.step);
        match first {
            Some(first) => {
                let tail = self.list.split_off(first);
                // What was copied stays copied, and no step of the recording says so any more.
                self.has_own_clip &= !tail.iter().any(|each| each.copies);
                self.undone.push(tail);
            }
            None if now.step == self.now.step => {}
            None => self.spoil("what was done before the recording was undone in it"),
        }
        self.now = now;
    }

    /// Steps were redone.
    pub fn note_redo(&mut self, now: Moment) {
        while let Some(mut tail) = self.undone.pop() {
            let last = tail.iter().rposition(|each| each.changes_text() && each.after.step == now.step);
            match last {
                Some(last) => {
                    let rest = tail.split_off(last + 1);
                    self.list.append(&mut tail);
                    if rest.iter().any(Recorded::changes_text) {
                        self.undone.push(rest);
                    }
                    self.now = now;
                    return;
                }
                // Several steps were redone at once.
                None => self.list.append(&mut tail),
            }
        }
        if now.step != self.now.step {
            self.spoil("what was undone before the recording was redone in it");
        }
        self.now = now;
    }

    /// The cursors went back to an earlier set.
    pub fn note_cursors_undo(&mut self, now: Moment) {
        let moves = self.list.iter().rev().take_while(|each| !each.changes_text()).count();
        let from = self.list.len() - moves;
        match self.list[from..].iter().position(|each| each.before.is_like(&now)) {
            Some(at) => self.list.truncate(from + at),
            None if now.is_like(&self.now) => {}
            None => self.spoil(ELSEWHERE),
        }
        self.now = now;
    }
}
