//! What was counted since the last write.

use std::collections::HashMap;

/// How something was done.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Way {
    /// Text was typed.
    Typing,
    /// By small steps: arrows and their like, Backspace and Delete.
    Hand,
    /// A verb by its key.
    Key,
    /// A verb that was looked up by its name.
    Lookup,
}

impl Way {
    /// All ways.
    pub const ALL: [Way; 4] = [Way::Typing, Way::Hand, Way::Key, Way::Lookup];

    /// Its name.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Way::Typing => "typing",
            Way::Hand => "hand",
            Way::Key => "key",
            Way::Lookup => "lookup",
        }
    }
}

/// What was used, and how.
#[derive(Clone, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Used {
    /// The day.
    pub day: String,
    /// The kind of work: the language of the text.
    pub kind: String,
    /// The verb.
    pub verb: String,
    /// How.
    pub way: Way,
}

/// How much.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Amounts {
    /// How often.
    pub times: u64,
    /// With how many keys.
    pub keys: u64,
    /// At how many cursors, summed up.
    pub cursors: u64,
    /// How many lines were changed, summed up.
    pub lines: u64,
    /// How often it was taken back right after.
    pub undone: u64,
}

/// A long way that was taken.
#[derive(Clone, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Habit {
    /// The day.
    pub day: String,
    /// The pattern of keys.
    pub pattern: String,
    /// The verb that would have helped.
    pub verb: String,
}

/// What was counted since the last write.
#[derive(Clone, Debug, Default)]
pub struct Batch {
    pub(crate) used: HashMap<Used, Amounts>,
    /// How often, and how many keys a shorter way would have saved.
    pub(crate) habits: HashMap<Habit, [u64; 2]>,
}

impl Batch {
    /// Whether there is nothing to write.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.used.is_empty() && self.habits.is_empty()
    }

    /// Counts a use.
    pub fn add(&mut self, used: Used, amounts: Amounts) {
        let sum = self.used.entry(used).or_default();
        sum.times += amounts.times;
        sum.keys += amounts.keys;
        sum.cursors += amounts.cursors;
        sum.lines += amounts.lines;
        sum.undone += amounts.undone;
    }

    /// Counts a long way that would have been `saved` keys shorter.
    pub fn add_habit(&mut self, habit: Habit, saved: u64) {
        let sum = self.habits.entry(habit).or_default();
        sum[0] += 1;
        sum[1] += saved;
    }

    /// Adds what another one has counted.
    pub fn join(&mut self, other: Batch) {
        other.used.into_iter().for_each(|(used, amounts)| self.add(used, amounts));
        for (habit, [times, saved]) in other.habits {
            let sum = self.habits.entry(habit).or_default();
            sum[0] += times;
            sum[1] += saved;
        }
    }
}
