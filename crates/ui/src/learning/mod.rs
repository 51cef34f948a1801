//! What is learned from the keys of a person: uses that are counted for the ledger, and shorter ways that the coach speaks of.
//!
//! The coach of the core is told which verb each key ran; the text as it was before each of the last strokes is remembered here, which
//! costs no copy. Where a stretch of strokes may have a shorter way, that is tried in the background; only what gave the same is said.

pub mod counting;
pub mod speaking;

use crate::drills::Drill;
use crate::keys::Key;
use crate::keys::keymap::Keymap;
use crate::keys::layer::Layer;
use counting::Counting;
use snarvel_core::coach::{Coach, Found, Step, Stroke, Values};
use snarvel_ledger::{Best, Habit, Said};
use snarvel_workspace::command::Command;
use snarvel_workspace::ids::TaskId;
use snarvel_workspace::learning::trying::{Moment, Try};
use snarvel_workspace::registry::{Verb, by_name};
use snarvel_workspace::tasks::TaskHandle;
use speaking::Speaking;
use std::collections::{HashMap, VecDeque};
use std::path::{Path, PathBuf};

/// What patterns are helped by that only lack a count.
pub const COUNT: &str = "count";

/// What patterns are helped by that are about files.
const FILES: &str = "open";

/// So many ways are tried for a stretch at most, and so many stretches wait.
const MOST_TRIES: usize = 40;
const MOST_QUEUED: usize = 16;

/// A stroke, as far as the core knows nothing of it.
#[derive(Clone, Debug)]
pub struct Ran {
    /// The text before it, where it is small enough to be remembered.
    pub before: Option<Moment>,
    /// The file that the open panel would have opened first.
    pub first_offered: Option<PathBuf>,
    /// What it ran.
    pub command: Option<Command>,
}

/// A way that may be shorter.
#[derive(Debug)]
struct Candidate {
    found: Found,
    keys: Keys,
}

/// Keys that run something.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Keys {
    /// As they are said.
    pub spelled: String,
    /// How many they are.
    pub count: u32,
}

/// What is learned from keys.
#[derive(Debug, Default)]
pub struct Learning {
    /// What was used.
    pub counting: Counting,
    /// What the coach says.
    pub speaking: Speaking,
    /// What a key has run, until the stroke is noted.
    pub performed: Option<Command>,
    /// Keys that belong to what comes next: counts, and verbs that ask.
    pub pending: u32,
    /// How each drill went at best.
    pub bests: HashMap<String, Best>,
    coach: Coach,
    /// The strokes that the coach remembers.
    ran: VecDeque<Ran>,
    /// The stroke up to which it was looked for what has come to its end.
    looked: u64,
    /// What is to be tried, in order.
    queue: VecDeque<(Vec<Candidate>, Vec<Try>)>,
    trying: Option<(Vec<Candidate>, TaskHandle)>,
}

impl Learning {
    /// One more key of what the last stroke ran, as those in a panel are.
    pub fn note_more(&mut self) {
        self.coach.note_key();
        self.counting.count_key();
    }

    /// Takes in a stroke.
    pub fn note(&mut self, stroke: Stroke, ran: Ran) {
        self.coach.note(stroke);
        self.ran.push_back(ran);
        self.drop_forgotten();
    }

    /// What was done so far is of no interest any more: another text is there.
    pub fn forget_strokes(&mut self) {
        self.coach.forget(self.coach.next());
        self.drop_forgotten();
        self.queue.clear();
        self.trying = None;
    }

    fn drop_forgotten(&mut self) {
        let most = (self.coach.next() - self.coach.first()) as usize;
        self.ran.drain(..self.ran.len().saturating_sub(most));
    }

    fn ran(&self, number: u64) -> Option<&Ran> {
        self.ran.get(usize::try_from(number.checked_sub(self.coach.first())?).ok()?)
    }

    /// Whether something is being tried, or is to be.
    #[must_use]
    pub fn is_trying(&self) -> bool {
        self.trying.is_some() || !self.queue.is_empty()
    }

    /// Looks once for each stroke for what has come to its end by it, and which ways are to be tried, those with the fewest keys first.
    /// `now` is the text after it. A stretch by which the file that is `shown` was come to is given, where the panel of files would have
    /// offered that first.
    pub fn look(&mut self, (now, shown): (Option<&Moment>, Option<&Path>), keys: (&Keymap, Layer)) -> Option<Found> {
        let next = self.coach.next();
        let looked = std::mem::replace(&mut self.looked, next).max(self.coach.first());
        // Several keys may have come since the last frame.
        (looked + 1..=next).find_map(|end| self.look_at(end, (now, shown), keys))
    }

    fn look_at(
        &mut self,
        end: u64,
        (now, shown): (Option<&Moment>, Option<&Path>),
        keys: (&Keymap, Layer),
    ) -> Option<Found> {
        if self.queue.len() >= MOST_QUEUED {
            return None;
        }
        let mut all: Vec<(Candidate, Try)> = Vec::new();
        for found in self.coach.found(end) {
            if found.pattern.helps == FILES {
                let first = self.ran(found.strokes.start).and_then(|ran| ran.first_offered.as_deref());
                if first.is_some() && first == shown {
                    return Some(found);
                }
                continue;
            }
            let after = if found.strokes.end == self.coach.next() { now } else { self.before(found.strokes.end) };
            let (Some(from), Some(to)) = (self.before(found.strokes.start), after) else { continue };
            if from.buffer == to.buffer {
                all.extend(self.ways(&found, (from, to), keys));
            }
        }
        all.sort_by_key(|(candidate, _)| i64::from(candidate.keys.count) - i64::from(candidate.found.keys));
        all.truncate(MOST_TRIES);
        if !all.is_empty() {
            self.queue.push_back(all.into_iter().unzip());
        }
        None
    }

    fn before(&self, number: u64) -> Option<&Moment> {
        self.ran(number)?.before.as_ref()
    }

    /// The ways that take fewer keys than the stretch did.
    fn ways(&self, found: &Found, (from, to): (&Moment, &Moment), keys: (&Keymap, Layer)) -> Vec<(Candidate, Try)> {
        let values = Values { strokes: (found.strokes.end - found.strokes.start) as u32, line: to.line() };
        let all = found.pattern.ways.iter().flat_map(|way| way.to_try(values));
        let shorter = all.filter_map(|steps| {
            let (commands, keys) = self.commands(&steps, found, keys)?;
            let attempt = Try { commands, from: from.clone(), to: to.clone() };
            (keys.count < found.keys).then(|| (Candidate { found: found.clone(), keys }, attempt))
        });
        shorter.collect()
    }

    /// The commands of `steps` and the keys that run them; none where one of them has no key.
    fn commands(&self, steps: &[Step], found: &Found, keys: (&Keymap, Layer)) -> Option<(Vec<Command>, Keys)> {
        let (mut commands, mut spelled, mut count) = (Vec::new(), Vec::new(), 0);
        for step in steps {
            match step {
                Step::Typed => {
                    let typed = found.typed.clone().filter_map(|number| self.ran(number)?.command.clone());
                    let before = commands.len();
                    commands.extend(typed);
                    count += (commands.len() - before) as u32;
                    spelled.push("…".to_owned());
                }
                Step::Verb { name, times, argument } => {
                    let verb = by_name(name)?;
                    let command = Command::read(verb, argument).ok()?;
                    let keys = keys_of(verb, (*times, argument), keys)?;
                    count += keys.count;
                    spelled.push(keys.spelled);
                    commands.push(Command { count: Some(*times).filter(|times| *times > 1), ..command });
                }
            }
        }
        Some((commands, Keys { spelled: spelled.join(" "), count }))
    }

    /// Begins to try what is next, where nothing is being tried.
    pub fn try_next(&mut self, begin: impl FnOnce(Vec<Try>) -> TaskHandle) {
        if self.trying.is_none()
            && let Some((candidates, tries)) = self.queue.pop_front()
        {
            self.trying = Some((candidates, begin(tries)));
        }
    }

    /// A task has ended: where it was to try something and told nothing, that is given up.
    pub fn take_end(&mut self, task: TaskId) {
        self.trying.take_if(|(_, handle)| handle.id == task);
    }

    /// Takes in which of the ways gave the same: the stretch, and the keys that do it, too.
    pub fn take_tried(&mut self, index: Option<usize>) -> Option<(Found, Keys)> {
        let (candidates, _) = self.trying.take()?;
        let Candidate { found, keys } = candidates.into_iter().nth(index?)?;
        // A part of it may have been spoken of meanwhile.
        (found.strokes.start >= self.coach.first()).then_some((found, keys))
    }

    /// How few keys a drill takes: as few as are known, or as the person has needed at best.
    #[must_use]
    pub fn par(&self, drill: &Drill) -> u32 {
        let own = self.bests.get(&drill.name).filter(|best| best.times > 0).map(|best| best.keys);
        own.map_or(drill.par_keys, |own| own.min(drill.par_keys))
    }

    /// A shorter way is known for a stretch: it is counted, and said where `speaks`; what is to be remembered of its pattern then.
    pub fn found_shorter(&mut self, found: &Found, keys: &Keys, now_ms: u64, speaks: Speaks) -> Option<(String, Said)> {
        let (pattern, verb) = (found.pattern.name.clone(), found.pattern.helps.clone());
        let habit = Habit { day: self.counting.today(now_ms), pattern: pattern.clone(), verb };
        self.counting.count_habit(habit, u64::from(found.keys.saturating_sub(keys.count)));
        self.coach.forget(found.strokes.end);
        self.drop_forgotten();
        if speaks == Speaks::Never {
            return None;
        }
        let sentence = format!("that was {} keys; {} is {}", found.keys, keys.spelled, keys.count);
        Some((pattern.clone(), self.speaking.say(&pattern, sentence, now_ms)?))
    }
}

/// Whether the coach speaks.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Speaks {
    /// It says what it has found, now and then.
    Sometimes,
    /// It counts only.
    Never,
}

/// How a verb is run so many times by keys; none where it has no key.
fn keys_of(verb: &'static Verb, (times, argument): (u32, &str), keys: (&Keymap, Layer)) -> Option<Keys> {
    // It has no key of its own: the panel that goes anywhere takes its argument.
    if verb.name == "go-to-line" {
        let go = spelled_in(by_name("go")?, keys)?;
        return Some(Keys { spelled: format!("{go} {argument} Enter"), count: 2 + argument.len() as u32 });
    }
    let key = spelled_in(verb, keys)?;
    let digit = |digit: char| match keys.1 {
        Layer::Write => format!("Alt+{digit}"),
        Layer::Shape => digit.to_string(),
    };
    let digits: Vec<String> = if times > 1 { times.to_string().chars().map(digit).collect() } else { Vec::new() };
    let count = (digits.len() + 1 + argument.chars().count()) as u32;
    let all = digits.into_iter().chain([key]).chain(argument.chars().map(String::from));
    Some(Keys { spelled: all.collect::<Vec<_>>().join(" "), count })
}

/// The shortest key of a verb in a layer, as people are told it.
#[must_use]
pub fn spelled_in(verb: &Verb, (keymap, layer): (&Keymap, Layer)) -> Option<String> {
    let spelled = keymap.spelled(verb);
    let keys = if layer == Layer::Write { spelled.write } else { spelled.shape };
    let shortest = keys.into_iter().next()?;
    Some(Key::parse(&shortest).map_or(shortest, Key::on_keyboard))
}

/// Whether a verb is a small step: what is done with those is done by hand.
#[must_use]
pub fn is_by_hand(verb: &str) -> bool {
    let step = verb.strip_prefix("extend-").unwrap_or(verb);
    matches!(
        step,
        "char-left" | "char-right" | "line-up" | "line-down" | "delete-back" | "delete-forward" | "line-break"
    )
}
