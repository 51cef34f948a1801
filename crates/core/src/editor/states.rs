//! Other states of a text: those of its history, gone to or looked at, and what a change would make of it. What is only looked
//! at shares what it can with the text as it is, and has no history of its own.

use super::{Editor, Effects};
use crate::changes::since::Since;
use crate::changes::{Bias, Change};
use crate::folds::Folds;
use crate::history::{History, StepId, Travel};
use crate::marks::Marks;
use crate::text::Text;
use crate::verbs::scene::Memory;
use std::sync::Arc;

impl Editor {
    /// Says that what stands now is what the file holds.
    pub fn mark_saved(&mut self) {
        self.begin_save();
        self.end_save(true);
    }

    /// Gives the text that is about to be written; work may go on meanwhile, until [`Editor::end_save`].
    pub fn begin_save(&mut self) -> Text {
        self.history.begin_save();
        self.since_saving = Some(Since::new(self.text.clone()));
        self.text.clone()
    }

    /// Says that the file holds what [`Editor::begin_save`] gave, if it `is_written`.
    pub fn end_save(&mut self, is_written: bool) {
        self.history.end_save(is_written);
        let since = self.since_saving.take().filter(|_| is_written);
        since.into_iter().for_each(|since| self.since = since);
    }

    /// Whether the text differs from what was saved.
    #[must_use]
    pub fn is_modified(&self) -> bool {
        self.history.is_modified()
    }

    /// The text as `change` would make it: to be looked at, for it has no history of its own.
    #[must_use]
    pub fn trying(&self, change: &Change) -> Editor {
        let mut then = self.to_look_at();
        then.apply(change);
        then.cursors = Arc::new(self.cursors.mapped(change, Bias::Before).snapped(&then.text));
        then
    }

    /// Goes to a place in the tree of steps, on whatever branch it is; whether there was a way to go.
    ///
    /// # Panics
    /// If `id` is of another text's history.
    pub fn go_to_step(&mut self, id: StepId) -> bool {
        let mut left = Some(id);
        let effects = self.travel(1, |history| left.take().and_then(|id| history.go_to(id)), "");
        self.check();
        effects.message.is_none()
    }

    /// The text as it was at a place in the tree of steps, with the cursors of then: to be looked at, for it
    /// has no history of its own.
    ///
    /// Cost: linear in the steps between and in what they changed, never in the text.
    ///
    /// # Panics
    /// If `id` is of another text's history.
    #[must_use]
    pub fn as_it_was(&self, id: StepId) -> Editor {
        let mut then = self.to_look_at();
        then.folds = Folds::default();
        if let Some(travel) = self.history.way_to(id) {
            travel.changes.iter().for_each(|change| then.apply(change));
            then.cursors = travel.cursors;
        }
        if self.history.saved() == Some(id) {
            then.since = Since::new(then.text.clone());
        }
        then
    }

    /// The text as it is, without its history.
    fn to_look_at(&self) -> Editor {
        Editor {
            text: self.text.clone(),
            cursors: self.cursors.clone(),
            history: History::default(),
            lexical: self.lexical.clone(),
            tree: None,
            layout: self.layout,
            manner: self.manner,
            memory: Memory::default(),
            since: self.since.clone(),
            since_saving: None,
            marks: Marks::default(),
            bookmarks: self.bookmarks.clone(),
            folds: self.folds.clone(),
            revision: self.revision,
            noted: None,
            is_growing: false,
        }
    }

    pub(super) fn travel(
        &mut self,
        times: u32,
        mut step: impl FnMut(&mut History) -> Option<Travel>,
        none: &str,
    ) -> Effects {
        self.memory.held = None;
        self.memory.pairs.clear();
        self.memory.widened.clear();
        let mut steps = 0;
        while steps < times.max(1) {
            let Some(travel) = step(&mut self.history) else { break };
            travel.changes.iter().for_each(|change| self.apply(change));
            self.cursors = travel.cursors;
            self.folds.reveal(&self.cursors);
            steps += 1;
        }
        if steps == 0 {
            return Effects::saying(none);
        }
        if !self.history.is_modified() {
            self.since = Since::new(self.text.clone());
        }
        Effects::default()
    }
}
