//! A history as it is kept from one start to the next: plain values, which become a history again only where each of them fits the text.
//!
//! Groups over several texts are not kept: a step is taken back in its own text alone then.

use super::{History, ROOT, Save, Step, StepId};
use crate::changes::{Change, ChangeBuilder};
use crate::cursors::{CursorSet, Selection};
use crate::text::Text;
use crate::units::{Byte, Span};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use std::sync::Arc;

/// One replacement.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
struct KeptEdit {
    at: u64,
    removed: String,
    inserted: String,
}

/// A set of cursors: each with anchor and head, in bytes, and which is the primary one.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
struct KeptSet(u32, Vec<(u64, u64)>);

#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
struct KeptStep {
    verb: String,
    parent: Option<u32>,
    /// When, in milliseconds since 1970.
    at: i64,
    changes: Vec<Vec<KeptEdit>>,
    before: KeptSet,
    after: KeptSet,
    amount: Option<String>,
}

/// A history as it is kept.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Kept {
    steps: Vec<KeptStep>,
    saves: Vec<Save>,
    /// The state whose text is kept along with it: the one that was saved last.
    here: Option<u32>,
}

/// A history was kept that does not fit the text: nothing of it is taken over.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("what is kept of it does not fit it")]
pub struct Unfit;

/// What is made of what was kept: steps that fit, and where the text is.
#[derive(Debug)]
pub struct Fitting {
    steps: Vec<Step>,
    saves: Vec<Save>,
    here: StepId,
}

fn number(id: StepId) -> Option<u32> {
    id.order().map(|order| order as u32)
}

fn id(number: Option<u32>) -> StepId {
    number.map_or(ROOT, |number| StepId(number as usize))
}

impl History {
    /// What is to be kept: all steps, branches too, with the state that was saved last as the present one. None where nothing was
    /// saved yet. `now` is the time on the caller's clock and in milliseconds since 1970. Cost: linear in what the steps changed.
    #[must_use]
    pub fn kept(&self, (now_ms, now_unix): (u64, i64)) -> Option<Kept> {
        let here = number(self.saved?);
        let steps = self.steps.iter().map(|step| KeptStep {
            verb: step.verb.to_owned(),
            parent: number(step.parent),
            at: now_unix - (now_ms.cast_signed() - step.at_ms),
            changes: step.changes.iter().map(|change| kept_change(change)).collect(),
            before: kept_set(&step.before),
            after: kept_set(&step.after),
            amount: step.amount.as_deref().map(str::to_owned),
        });
        Some(Kept { steps: steps.collect(), saves: self.saves.clone(), here })
    }

    /// Puts what was kept before all that has been done: its last state is what the text was when it was opened.
    pub fn precede(&mut self, kept: Fitting) {
        let offset = kept.steps.len();
        let moved = |id: StepId| if id == ROOT { kept.here } else { StepId(id.0 + offset) };
        let mut steps = kept.steps;
        let own = std::mem::take(&mut self.steps);
        steps.extend(own.into_iter().map(|step| Step {
            parent: moved(step.parent),
            newest_child: step.newest_child.map(moved),
            ..step
        }));
        self.steps = steps;
        let root_child = self.root_child.take().map(moved);
        let first = self.steps.iter().take(offset).rposition(|step| step.parent == ROOT).map(StepId);
        match kept.here {
            ROOT => self.root_child = root_child.or(first),
            StepId(at) => {
                self.root_child = first;
                self.steps[at].newest_child = root_child.or(self.steps[at].newest_child);
            }
        }
        // Redo goes along the way that led here.
        let mut child = kept.here;
        while let Some(step) = self.steps.get(child.0) {
            let parent = step.parent;
            *self.newest_child_mut(parent) = Some(child);
            child = parent;
        }
        self.current = moved(self.current);
        self.saved = self.saved.map(moved);
        self.saving = self.saving.map(moved);
        let own = std::mem::take(&mut self.saves);
        self.saves = kept.saves;
        self.saves.extend(own.into_iter().map(|save| Save { step: number(moved(id(save.step))), ..save }));
        self.held = self.steps.iter().map(Step::held).sum();
        if self.held > self.limit {
            self.forget_oldest();
        }
    }

    /// The states that were saved, the oldest first, each with its time in milliseconds since 1970.
    pub fn saves(&self) -> impl Iterator<Item = (StepId, i64)> + '_ {
        self.saves.iter().map(|save| (id(save.step), save.at))
    }

    /// Notes that the state that is saved now has a text of that hash.
    pub fn note_save(&mut self, hash: u128, at: i64) {
        let Some(step) = self.saved.map(number) else { return };
        self.saves.retain(|save| save.step != step);
        self.saves.push(Save { step, hash, at });
    }

    /// Saves of states that are forgotten are forgotten.
    pub(super) fn move_saves(&mut self, moved: impl Fn(StepId) -> Option<StepId>) {
        let old = std::mem::take(&mut self.saves);
        let saves = old.into_iter().filter_map(|save| Some(Save { step: number(moved(id(save.step))?), ..save }));
        self.saves = saves.collect();
    }
}

fn kept_change(change: &Change) -> Vec<KeptEdit> {
    let edit = |edit: &crate::changes::Edit| KeptEdit {
        at: edit.start().0 as u64,
        removed: change.removed(edit).to_owned(),
        inserted: change.inserted(edit).to_owned(),
    };
    change.edits().iter().map(edit).collect()
}

fn kept_set(set: &CursorSet) -> KeptSet {
    let list = set.iter().map(|each| (each.anchor.0 as u64, each.head.0 as u64)).collect();
    KeptSet(set.primary_index() as u32, list)
}

/// The edits as a change of `text`; none where they do not fit it.
fn change_of(edits: &[KeptEdit], text: &Text) -> Option<Change> {
    let mut builder = ChangeBuilder::new(text);
    let mut reach = 0;
    for edit in edits {
        let start = usize::try_from(edit.at).ok().filter(|start| *start >= reach)?;
        let end = start.checked_add(edit.removed.len()).filter(|end| *end <= text.len())?;
        let span = Span::new(Byte(start), Byte(end));
        if !text.is_char_edge(span.start) || !text.is_char_edge(span.end) || text.slice(span) != edit.removed {
            return None;
        }
        builder.replace(span, &edit.inserted);
        reach = end;
    }
    Some(builder.finish())
}

/// The same edits the other way round, for the text after them.
fn turned(edits: &[KeptEdit]) -> Vec<KeptEdit> {
    let mut shift = 0_i128;
    let turn = |edit: &KeptEdit| {
        let at = (i128::from(edit.at) + shift).max(0);
        shift += edit.inserted.len() as i128 - edit.removed.len() as i128;
        KeptEdit { at: at as u64, removed: edit.inserted.clone(), inserted: edit.removed.clone() }
    };
    edits.iter().map(turn).collect()
}

fn set_of(kept: &KeptSet, text: &Text) -> Option<CursorSet> {
    let place = |at: u64| Some(text.snap_back(Byte(usize::try_from(at).ok()?.min(text.len()))));
    let selection = |(anchor, head): &(u64, u64)| Some(Selection::new(place(*anchor)?, place(*head)?));
    let list: Vec<Selection> = kept.1.iter().map(selection).collect::<Option<_>>()?;
    let primary = kept.0 as usize;
    (primary < list.len()).then(|| CursorSet::of(list, primary))
}

impl Kept {
    /// Whether it holds no step.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.steps.is_empty()
    }

    /// Leaves out the oldest steps until about `bytes` are held at most; the one made last stays.
    #[must_use]
    pub fn within(mut self, bytes: usize) -> Kept {
        let size = |step: &KeptStep| {
            let edits = step.changes.iter().flatten().map(|edit| edit.removed.len() + edit.inserted.len() + 12);
            edits.sum::<usize>() + (step.before.1.len() + step.after.1.len()) * 8 + 32
        };
        let mut held: usize = self.steps.iter().map(size).sum();
        // The way to the present state is followed: its first step goes, with all branches beside it.
        while held > bytes && self.steps.len() > 1 {
            let Some(first) = self.first_on_the_way() else { break };
            if Some(first) == self.here {
                break;
            }
            self.begin_after(first);
            held = self.steps.iter().map(size).sum();
        }
        self
    }

    fn first_on_the_way(&self) -> Option<u32> {
        let mut at = self.here?;
        while let Some(parent) = self.steps.get(at as usize)?.parent {
            at = parent;
        }
        Some(at)
    }

    /// The state after the step `start` becomes the start; what does not come of it is left out.
    fn begin_after(&mut self, start: u32) {
        let mut now: Vec<Option<u32>> = Vec::with_capacity(self.steps.len());
        let mut count = 0;
        for step in &self.steps {
            let stays = step.parent == Some(start) || step.parent.is_some_and(|parent| now[parent as usize].is_some());
            now.push(stays.then(|| {
                count += 1;
                count - 1
            }));
        }
        let moved = |old: Option<u32>| match old {
            Some(old) if old == start => Some(None),
            Some(old) => now[old as usize].map(Some),
            None => None,
        };
        self.here = moved(self.here).flatten();
        self.saves = self.saves.iter().filter_map(|save| Some(Save { step: moved(save.step)?, ..*save })).collect();
        let old = std::mem::take(&mut self.steps);
        let kept = old.into_iter().zip(&now).filter(|(_, now)| now.is_some());
        self.steps = kept.map(|(step, _)| KeptStep { parent: moved(step.parent).flatten(), ..step }).collect();
    }

    /// The state that was saved last whose text had this hash: how many saves came after it.
    #[must_use]
    pub fn saves_since(&self, hash: u128) -> Option<usize> {
        self.saves.iter().rev().position(|save| save.hash == hash)
    }

    /// The text of the state after `since` saves before the last one, from `text`, which is that of the last one.
    fn text_of(&self, text: &Text, target: Option<u32>) -> Option<(Text, Vec<Vec<KeptEdit>>)> {
        let (back, on) = self.way(self.here, target)?;
        let edits: Vec<Vec<KeptEdit>> = back.into_iter().chain(on).collect();
        let mut text = text.clone();
        for each in &edits {
            text.apply(&change_of(each, &text)?);
        }
        Some((text, edits))
    }

    /// The edits that lead from one state to another: back, then on.
    #[allow(clippy::type_complexity, reason = "two lists of the edits of changes")]
    fn way(&self, from: Option<u32>, to: Option<u32>) -> Option<(Vec<Vec<KeptEdit>>, Vec<Vec<KeptEdit>>)> {
        let (mut here, mut there) = (from, to);
        let (mut back, mut on) = (Vec::new(), Vec::new());
        while here != there {
            if here > there {
                let step = self.steps.get(here? as usize)?;
                back.extend(step.changes.iter().rev().map(|edits| turned(edits)));
                here = step.parent.filter(|parent| Some(*parent) < here);
            } else {
                let step = self.steps.get(there? as usize)?;
                on.push(there?);
                there = step.parent.filter(|parent| Some(*parent) < there);
            }
        }
        let on = on.into_iter().rev().flat_map(|at| self.steps[at as usize].changes.iter().cloned()).collect();
        Some((back, on))
    }

    /// Makes a history of it. `last` is the text of the state that was saved last, `now` the text as it is, whose hash is `hash`: where
    /// it is another one, what came between is one step called `outside`, by way of `between`. `verb` gives the name of a step its
    /// lasting form; times become those of the caller's clock, which is `now_ms` at `now_unix`. Cost: linear in all that the steps
    /// changed, each of which is tried.
    ///
    /// # Errors
    /// Something of it does not fit: it is damaged, or of another text.
    pub fn fitting(
        mut self,
        (last, now, hash): (&Text, &Text, u128),
        between: impl FnOnce(&Text, &Text) -> Change,
        verb: impl Fn(&str) -> &'static str,
        (now_ms, now_unix): (u64, i64),
    ) -> Result<Fitting, Unfit> {
        if last != now {
            let old = self.saves.iter().rev().find(|save| save.hash == hash).map(|save| save.step);
            let by_saves = old.and_then(|step| self.text_of(last, step)).filter(|(text, _)| text.len() == now.len());
            let edits = by_saves.map_or_else(|| vec![kept_change(&between(last, now))], |(_, edits)| edits);
            self.push_outside(edits, now_unix);
        }
        let (start, _) = self.text_of(now, None).ok_or(Unfit)?;
        let steps = self.steps_from(start, verb, now_ms.cast_signed() - now_unix)?;
        let is_there = |step: &Option<u32>| step.is_none_or(|step| (step as usize) < steps.len());
        self.saves.retain(|save| is_there(&save.step));
        Ok(Fitting { steps, saves: self.saves, here: id(self.here) })
    }

    /// What came between the last save and the text as it is, as a step.
    fn push_outside(&mut self, changes: Vec<Vec<KeptEdit>>, at: i64) {
        let caret = KeptSet(0, vec![(0, 0)]);
        let (before, after) = (caret.clone(), caret);
        let step = KeptStep { verb: OUTSIDE.to_owned(), parent: self.here, at, changes, before, after, amount: None };
        self.here = Some(self.steps.len() as u32);
        self.steps.push(step);
    }

    /// All steps, each tried on the text that it is for; the first of these is `start`. `later` is by how much the caller's clock is
    /// ahead of that of the day.
    fn steps_from(&self, start: Text, verb: impl Fn(&str) -> &'static str, later: i64) -> Result<Vec<Step>, Unfit> {
        let mut texts: HashMap<Option<u32>, Text> = HashMap::from([(None, start)]);
        let mut steps: Vec<Step> = Vec::with_capacity(self.steps.len());
        for (index, kept) in self.steps.iter().enumerate() {
            if kept.parent.is_some_and(|parent| parent as usize >= index) {
                return Err(Unfit);
            }
            let mut text = texts.get(&kept.parent).ok_or(Unfit)?.clone();
            let before = set_of(&kept.before, &text).ok_or(Unfit)?;
            let mut changes = Vec::with_capacity(kept.changes.len());
            for edits in &kept.changes {
                let change = change_of(edits, &text).ok_or(Unfit)?;
                text.apply(&change);
                changes.push(Arc::new(change));
            }
            let after = set_of(&kept.after, &text).ok_or(Unfit)?;
            if let Some(parent) = kept.parent {
                steps[parent as usize].newest_child = Some(StepId(index));
            }
            steps.push(Step {
                verb: verb(&kept.verb),
                group: None,
                changes,
                before: Arc::new(before),
                after: Arc::new(after),
                parent: id(kept.parent),
                newest_child: None,
                at_ms: later.saturating_add(kept.at),
                amount: kept.amount.as_deref().map(Into::into),
            });
            texts.insert(Some(index as u32), text);
        }
        Ok(steps)
    }
}

/// The verb of what came between the last save and the text as it was opened.
pub const OUTSIDE: &str = "changed-outside";
