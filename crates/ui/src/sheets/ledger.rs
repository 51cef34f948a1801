//! The ledger as a sheet.

use snarvel_draw::ledger::LedgerSheet;
use snarvel_draw::{Drawing, Paper};
use snarvel_ledger::{HabitSum, Learned, Report};

/// The sheet of a report.
#[must_use]
pub fn drawing(report: &Report, paper: Paper) -> Drawing {
    let sheet = LedgerSheet {
        title: title(report),
        verbs: report.verbs.iter().map(|verb| (verb.verb.clone(), verb.times)).collect(),
        weeks: report.course.iter().map(|week| (week.monday.clone(), week.keys_a_line())).collect(),
        ways: report.ways.clone(),
        habits: report.habits.iter().map(habit).collect(),
        learned: report.learned.iter().map(learned).collect(),
        paper,
    };
    sheet.drawing()
}

/// What a report is of, in a sentence.
#[must_use]
pub fn title(report: &Report) -> String {
    let days = if report.days == 1 { "1 day".to_owned() } else { format!("{} days", report.days) };
    let each = match report.lines {
        0 => String::new(),
        lines => format!(", {:.1} keys for each", report.keys as f64 / lines as f64),
    };
    let since = if report.since.is_empty() { String::new() } else { format!(" since {}", report.since) };
    format!("{days}{since}: {} keys, {} changed lines{each}", report.keys, report.lines)
}

/// A habit in words.
#[must_use]
pub fn habit(habit: &HabitSum) -> String {
    let times = if habit.times == 1 { "once".to_owned() } else { format!("{} times", habit.times) };
    let helps = if habit.verb == "count" { "a count".to_owned() } else { habit.verb.clone() };
    format!("{}: {times}, {} keys more; {helps} helps", habit.pattern.replace('-', " "), habit.saved)
}

/// A verb that was learned, in words.
#[must_use]
pub fn learned(learned: &Learned) -> String {
    format!("{} by its key since {}, {} times", learned.verb, learned.since, learned.times)
}
