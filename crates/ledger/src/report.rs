//! What the ledger tells.

use serde::Serialize;

/// What was used since a day.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
pub struct Report {
    /// The first day of it.
    pub since: String,
    /// On how many days something was counted.
    pub days: u64,
    /// Keys in all, and lines that were changed.
    pub keys: u64,
    /// Lines that were changed, summed up.
    pub lines: u64,
    /// Keys by the way that they were used in.
    pub ways: Vec<(String, u64)>,
    /// The verbs, the most used first. Typed text and small steps are no verbs here.
    pub verbs: Vec<VerbSum>,
    /// Each week with its keys and its changed lines, the oldest first.
    pub weeks: Vec<WeekSum>,
    /// The same with the eleven weeks before `since`: how it goes is seen over some weeks only.
    pub course: Vec<WeekSum>,
    /// The costliest habits, the costliest first.
    pub habits: Vec<HabitSum>,
    /// What was learned, the newest first.
    pub learned: Vec<Learned>,
}

/// A verb, and how it was used.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
pub struct VerbSum {
    /// Its name.
    pub verb: String,
    /// How often it was used.
    pub times: u64,
    /// How often of these by its key.
    pub by_key: u64,
    /// How often of these by lookup.
    pub by_lookup: u64,
    /// With how many keys.
    pub keys: u64,
    /// At how many cursors, summed up.
    pub cursors: u64,
    /// How many lines it changed, summed up.
    pub lines: u64,
    /// How often it was taken back right after.
    pub undone: u64,
}

/// A week.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
pub struct WeekSum {
    /// Its Monday.
    pub monday: String,
    /// Keys in all.
    pub keys: u64,
    /// Lines that were changed, summed up.
    pub lines: u64,
}

impl WeekSum {
    /// Keys for each changed line; none where no line was changed.
    #[must_use]
    pub fn keys_a_line(&self) -> Option<f64> {
        (self.lines > 0).then(|| self.keys as f64 / self.lines as f64)
    }
}

/// A habit, and what it cost.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
pub struct HabitSum {
    /// The pattern of keys.
    pub pattern: String,
    /// The verb that helps.
    pub verb: String,
    /// How often.
    pub times: u64,
    /// How many keys the shorter ways would have saved.
    pub saved: u64,
}

/// A verb that has moved from lookup, or from a long way, to its key.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
pub struct Learned {
    /// Its name.
    pub verb: String,
    /// Since when its key is used.
    pub since: String,
    /// How often its key was used.
    pub times: u64,
}
