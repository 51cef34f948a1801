//! Running an edit in a view: the verb is given a scene, and what it gives back is carried out as one step.

use crate::buffer::parsing::Taken;
use crate::buffer::{Buffer, STILL_LOADING};
use crate::registry::over_files::OverFiles;
use crate::view::View;
use crate::view::remembered::{Left, RememberedSets};
use snarvel_core::changes::{Bias, Change, Edit, Mapper};
use snarvel_core::cursors::CursorSet;
use snarvel_core::history::{GroupId, Grouping, NewStep};
use snarvel_core::text::Text;
use snarvel_core::units::Span;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_core::verbs::scene::{Outcome, PinsAfter, Scene, Widening};
use snarvel_files::memory;
use std::sync::Arc;

/// An edit to run.
pub struct EditCall<'a> {
    /// What its step is called.
    pub name: &'static str,
    /// What it does where several texts act together.
    pub over_files: OverFiles,
    /// What it makes of a scene.
    pub function: &'a dyn Fn(&Scene) -> Outcome,
    /// How cursors that it leaves are remembered.
    pub left: Left,
    /// How many times.
    pub times: u32,
    /// How many lines each run has at least.
    pub reach: usize,
    /// What was copied last.
    pub clip: &'a Clip,
    /// Now, in milliseconds of the caller's clock.
    pub now_ms: u64,
    /// Whether it is to stop, with nothing changed: asked between one time and the next.
    pub is_stopped: &'a dyn Fn() -> bool,
}

impl<'a> EditCall<'a> {
    /// An edit that runs once and is no move, with what was copied last and the time.
    pub fn once(name: &'static str, function: &'a dyn Fn(&Scene) -> Outcome, (clip, now_ms): (&'a Clip, u64)) -> Self {
        let left = Left::ByAct;
        EditCall {
            name,
            over_files: OverFiles::Each,
            function,
            left,
            times: 1,
            reach: 1,
            clip,
            now_ms,
            is_stopped: &|| false,
        }
    }
}

/// What an edit did, beside the text and the cursors.
#[derive(Debug, Default)]
pub struct Effects {
    /// What happened, or why nothing did.
    pub message: Option<String>,
    /// What is on the clipboard now.
    pub clip: Option<Clip>,
    /// Whether text is to be typed next.
    pub starts_typing: bool,
    /// Whether it could not be done.
    pub is_refused: bool,
}

impl Effects {
    /// Nothing but a message.
    #[must_use]
    pub fn saying(message: impl Into<String>) -> Effects {
        Effects { message: Some(message.into()), ..Effects::default() }
    }
}

/// Runs `call` in `view`, as one step however often it is to run. `take` gives the structure before each run.
pub fn run(
    (buffer, view): (&mut Buffer, &mut View),
    call: &EditCall,
    take: &mut dyn FnMut(&mut Buffer, &View) -> Taken,
) -> Effects {
    match perform((buffer, view), call, take) {
        Ok(performed) => {
            remember((buffer, view), call, performed.way, &performed.effects);
            performed.effects
        }
        Err(effects) => effects,
    }
}

/// What a call did, of which no step was made yet.
pub(crate) struct Performed {
    /// The cursors before, the changes, and with which steps they grow together.
    way: (Arc<CursorSet>, Vec<Arc<Change>>, Option<Grouping>),
    /// What it did beside.
    pub effects: Effects,
}

impl Performed {
    /// What it did beside; its changes are added to `changes`.
    pub fn into_parts(self, changes: &mut Vec<Arc<Change>>) -> Effects {
        changes.extend(self.way.1);
        self.effects
    }
}

/// The same as [`run`], without a step of the history. The error is what is said where nothing was done.
pub(crate) fn perform(
    (buffer, view): (&mut Buffer, &mut View),
    call: &EditCall,
    take: &mut dyn FnMut(&mut Buffer, &View) -> Taken,
) -> Result<Performed, Effects> {
    let before = view.shared_cursors();
    let may_grow = view.memory.asked_to_grow.take() == Some(question(call));
    let length = buffer.text().len();
    let mut growth = Growth::of(length, may_grow);
    view.memory.most_inserted = growth.most.map(|most| most - length);
    let (mut changes, mut effects, mut grouping) = (Vec::new(), Effects::default(), None);
    for time in 1..=call.times.max(1) {
        let taken = take(buffer, view);
        let clip = effects.clip.as_ref().unwrap_or(call.clip);
        let mut outcome = view.with_scene_of(buffer, (clip, taken.known(), call.reach), call.function);
        if buffer.is_partial() && !outcome.change.is_empty() {
            outcome = Outcome::nothing(STILL_LOADING);
        }
        // What is typed over the same is a step all the same.
        if outcome.grouping.is_none() && leaves_as_it_is(buffer.text(), &outcome.change) {
            outcome.change = Change::default();
        }
        if let Some(bytes) = outcome.would_insert {
            let would_be = length.saturating_add(bytes.saturating_mul(call.times as usize));
            take_back((buffer, view), &changes, &before);
            return Err(asks((buffer, view), call, would_be));
        }
        let (set, folds) = (view.shared_cursors(), view.folds().clone());
        grouping = outcome.grouping;
        let change = carry_out((buffer, view), outcome, &mut effects);
        let is_still = change.is_empty() && *set == *view.cursors() && folds == *view.folds();
        if !change.is_empty() {
            changes.push(change);
        }
        if is_still {
            break;
        }
        if let Some(would_be) = growth.too_much(buffer.text().len(), [time, call.times]) {
            take_back((buffer, view), &changes, &before);
            return Err(asks((buffer, view), call, would_be));
        }
        if time < call.times && (call.is_stopped)() {
            take_back((buffer, view), &changes, &before);
            let said = format!("stopped at {time} of {} times: nothing has changed", call.times);
            return Err(Effects::saying(said));
        }
    }
    Ok(Performed { way: (before, changes, grouping), effects })
}

/// Notes what a call did as a step of the history, or as a set of cursors that was left.
fn remember(
    (buffer, view): (&mut Buffer, &mut View),
    call: &EditCall,
    (before, changes, grouping): (Arc<CursorSet>, Vec<Arc<Change>>, Option<Grouping>),
    effects: &Effects,
) {
    if changes.is_empty() && *before != *view.cursors() {
        view.remembered.remember(view.id, buffer, (&before, call.left));
    }
    // A closer that is stepped over was typed like any other character.
    let goes_on = grouping == Some(Grouping::Typing) && *before != *view.cursors();
    if changes.is_empty() && !goes_on {
        buffer.history_mut().close_step();
    } else if !changes.is_empty() {
        let grouping = grouping.unwrap_or(Grouping::Alone);
        let after = view.shared_cursors();
        let amount = effects.message.as_deref().and_then(amount_in);
        buffer.record(NewStep { verb: call.name, group: None, changes, before, after, grouping, amount }, call.now_ms);
    }
    if cfg!(debug_assertions) {
        view.assert_invariants(buffer);
    }
}

/// The first number in what a verb has said, with what it counts: "2 lines".
fn amount_in(said: &str) -> Option<Box<str>> {
    let words: Vec<&str> = said.split(' ').collect();
    let is_number = |word: &&str| !word.is_empty() && word.chars().all(|c| c.is_ascii_digit());
    let counted = words.windows(2).find(|pair| is_number(&pair[0]))?;
    let what = counted[1].trim_end_matches(|c: char| !c.is_alphanumeric());
    Some(format!("{} {what}", counted[0]).into())
}

/// Stretches of more bytes are not compared to find out whether a change changes anything.
const MOST_COMPARED: usize = 1 << 20;

/// Whether `text` reads the same after `change`. Cost: linear in the bytes from its first edit to its last, [`MOST_COMPARED`] at
/// most.
fn leaves_as_it_is(text: &Text, change: &Change) -> bool {
    let edits = change.edits();
    let (Some(first), Some(last)) = (edits.first(), edits.last()) else { return true };
    let [removed, inserted] = [Edit::removed_len, Edit::inserted_len].map(|len| edits.iter().map(len).sum::<usize>());
    let span = Span::new(first.start(), last.end());
    if removed != inserted || span.len() > MOST_COMPARED {
        return false;
    }
    let mut after = text.clone();
    after.apply(change);
    text.slice(span) == after.slice(span)
}

/// How long a text of `length` bytes may become unasked.
#[must_use]
pub fn most_unasked(length: usize) -> usize {
    length.saturating_add((64 << 20).max(length.saturating_mul(100)))
}

/// How a text grows while a verb is run many times.
struct Growth {
    /// How many bytes it may have unasked; no limit where that was asked.
    most: Option<usize>,
    /// Its length before the last time, and after it.
    lengths: [usize; 2],
}

impl Growth {
    fn of(length: usize, may_grow: bool) -> Growth {
        Growth { most: (!may_grow).then(|| most_unasked(length)), lengths: [length; 2] }
    }

    /// The length that the text will have, if that is too much: it is `now` long after so many times of all.
    fn too_much(&mut self, now: usize, [time, times]: [u32; 2]) -> Option<usize> {
        // Two times add what the last two have added, or more: what goes to and fro adds nothing.
        let grown = if time > 1 { now.saturating_sub(self.lengths[0]) / 2 } else { 0 };
        self.lengths = [self.lengths[1], now];
        let would_be = now.saturating_add(grown.saturating_mul(times.saturating_sub(time) as usize));
        (time < times && self.most.is_some_and(|most| would_be > most)).then_some(would_be)
    }
}

/// Asks for a second press before `call` makes the text `would_be` bytes long, unless there is not that much memory.
fn asks((buffer, view): (&Buffer, &mut View), call: &EditCall, would_be: usize) -> Effects {
    let megabytes = |bytes: usize| bytes.div_ceil(1_000_000);
    let grown = would_be.saturating_sub(buffer.text().len());
    if let Some(free) = memory::free().filter(|free| grown.saturating_mul(MEMORY_OF_A_BYTE) > *free) {
        return Effects::saying(format!(
            "not done: it would make the text {} MB, and {} MB of memory are free",
            megabytes(would_be),
            megabytes(free)
        ));
    }
    view.memory.asked_to_grow = Some(question(call));
    let how = if call.times > 1 { format!("{} times", call.times) } else { "that".to_owned() };
    let size = megabytes(would_be);
    Effects::saying(format!("{how} would make the text {size} MB: once more does it, and Esc leaves it"))
}

/// What a second press answers.
fn question(call: &EditCall) -> (&'static str, u32, usize) {
    (call.name, call.times, call.clip.bytes())
}

/// Bytes of memory for each byte that is put in: in the change, in the text and in what is noted.
const MEMORY_OF_A_BYTE: usize = 4;

/// Takes back changes of which no step was made yet.
pub(crate) fn take_back((buffer, view): (&mut Buffer, &mut View), changes: &[Arc<Change>], cursors: &Arc<CursorSet>) {
    for change in changes.iter().rev() {
        buffer.apply(&Arc::new((**change).clone().inverted()));
    }
    view.remembered.part_moves();
    view.place_cursors(buffer, cursors.clone());
}

fn carry_out((buffer, view): (&mut Buffer, &mut View), outcome: Outcome, effects: &mut Effects) -> Arc<Change> {
    let old = view.shared_cursors();
    let change = Arc::new(outcome.change);
    buffer.apply(&change);
    if !change.is_empty() {
        view.remembered.part_moves();
    }
    let cursors = match outcome.cursors {
        Some(cursors) => Arc::new(cursors.snapped(buffer.text())),
        None => old.clone(),
    };
    match outcome.widening {
        Widening::Wider => view.memory.widened.push([(*old).clone(), (*cursors).clone()]),
        Widening::Narrower => drop(view.memory.widened.pop()),
        Widening::None if *cursors != *old || !change.is_empty() => view.memory.widened.clear(),
        Widening::None => {}
    }
    if old.len() > 1 && cursors.len() == 1 {
        let kept = old.mapped(&change, Bias::After).snapped(buffer.text());
        if kept.len() > 1 {
            view.remembered.set_dropped(view.id, buffer, kept);
        }
    }
    view.place_cursors(buffer, cursors);
    outcome.stops.into_iter().for_each(|stops| view.begin_template(buffer, stops));
    outcome.folds.into_iter().for_each(|folds| view.set_folds(buffer, &folds));
    outcome.bookmarks.iter().for_each(|bookmarks| buffer.set_bookmarks(bookmarks));
    match outcome.pins {
        Some(PinsAfter::Are(pins)) => view.set_pins(buffer, pins),
        Some(PinsAfter::Dropped) => view.drop_pins(buffer),
        None => {}
    }
    follow_typing(view, &change, outcome.grouping);
    view.memory.needs_confirmation = outcome.needs_confirmation;
    view.memory.cycle = outcome.cycle;
    view.memory.kept_lines = outcome.kept_lines;
    let cursors = view.shared_cursors();
    RememberedSets::set_pairs(view.id, buffer, outcome.pairs, &cursors);
    effects.message = outcome.message.or(effects.message.take());
    effects.clip = outcome.clip.or(effects.clip.take());
    effects.starts_typing |= outcome.starts_typing;
    effects.is_refused = outcome.is_refused || view.memory.needs_confirmation.is_some();
    change
}

/// What was typed is known as long as nothing else is done, for this many cursors at most.
const MOST_TYPED: usize = 64;

/// Takes in what was typed: it grows with what is typed after it, and is forgotten once something else is done.
fn follow_typing(view: &mut View, change: &Change, grouping: Option<Grouping>) {
    let before = std::mem::take(&mut view.memory.typed);
    if grouping != Some(Grouping::Typing) || change.edits().len() > MOST_TYPED {
        return;
    }
    let mut mapper = Mapper::new(change);
    let inserted = change.edits().iter().map(|edit| {
        let start = mapper.map(edit.start(), Bias::Before);
        Span::new(start, start + edit.inserted_len())
    });
    let inserted: Vec<Span> = inserted.collect();
    let moved = before.iter().map(|span| {
        Span::new(Mapper::new(change).map(span.start, Bias::Before), Mapper::new(change).map(span.end, Bias::Before))
    });
    let moved: Vec<Span> = moved.collect();
    let grown = inserted.into_iter().map(|new| match moved.iter().find(|old| old.end == new.start) {
        Some(old) => Span::new(old.start, new.end),
        None => new,
    });
    view.memory.typed = grown.collect();
}

/// Changes the text as a step of its own, called `verb`, as a part of a transaction or not; the cursors of `view` stay with what
/// they are at. Nothing happens to a text of which more is to come.
pub fn commit(
    (buffer, view): (&mut Buffer, &mut View),
    (verb, group): (&'static str, Option<GroupId>),
    change: Change,
    now_ms: u64,
) {
    if change.is_empty() || buffer.is_partial() {
        return;
    }
    let before = view.shared_cursors();
    let change = Arc::new(change);
    view.memory.needs_confirmation = None;
    view.memory.kept_lines = None;
    buffer.apply(&change);
    view.remembered.part_moves();
    let after: CursorSet = before.mapped(&change, Bias::Before).snapped(buffer.text());
    view.place_cursors(buffer, Arc::new(after));
    let after = view.shared_cursors();
    let step = NewStep { verb, group, changes: vec![change], before, after, grouping: Grouping::Alone, amount: None };
    buffer.record(step, now_ms);
}

/// Takes a way through the history.
pub(crate) fn travel((buffer, view): (&mut Buffer, &mut View), way: snarvel_core::history::Travel) {
    view.memory = snarvel_core::verbs::scene::Memory { cycle: view.memory.cycle.take(), ..Default::default() };
    RememberedSets::forget_pairs(view.id, buffer);
    buffer.travel(&way.changes);
    view.remembered.part_moves();
    view.place_cursors(buffer, way.cursors);
}

/// Back through the sets of cursors that was before, the text as it is.
pub fn cursors_undo((buffer, view): (&mut Buffer, &mut View), times: u32) -> Effects {
    buffer.history_mut().close_step();
    let mut steps = 0;
    while steps < times.max(1) {
        let Some(set) = view.remembered.take_past(view.id, buffer) else { break };
        view.place_cursors(buffer, Arc::new(set));
        steps += 1;
    }
    if steps == 0 { Effects::saying("no cursors stood before") } else { Effects::default() }
}
