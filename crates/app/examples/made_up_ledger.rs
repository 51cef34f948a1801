//! Fills a ledger with made-up counts of some weeks, for pictures: `cargo run --example made_up_ledger FILE`.

use snarvel_ledger::{Amounts, Batch, Habit, Ledger, Used, Way};
use snarvel_workspace::today::days_ago;
use std::path::Path;

/// Weeks of it.
const WEEKS: u32 = 9;

/// Verbs, how they were come to at first, and how often in a week.
const VERBS: [(&str, u64); 16] = [
    ("paste", 61),
    ("undo", 55),
    ("save", 52),
    ("carry-down", 47),
    ("word-forward", 44),
    ("duplicate-down", 40),
    ("comment-toggle", 33),
    ("take-next", 31),
    ("select-word", 30),
    ("line-end", 28),
    ("open-below", 26),
    ("delete-lines", 22),
    ("sift", 19),
    ("take-all", 14),
    ("join-lines", 11),
    ("finish", 9),
];

/// Long ways, the verb that helps, keys that it saves each time, and in which week it was learned.
const HABITS: [(&str, &str, u64, u32); 6] = [
    ("word-by-backspace", "extend-word-back", 4, 9),
    ("cut-to-carry-down", "carry-down", 3, 3),
    ("copy-to-duplicate", "duplicate-down", 5, 4),
    ("right-to-word", "word-forward", 6, 9),
    ("take-one-by-one", "take-all", 5, 6),
    ("join-by-delete", "join-lines", 6, 7),
];

fn main() {
    let path = std::env::args().nth(1).expect("the file of the ledger");
    let (mut ledger, _) = Ledger::open(Path::new(&path)).expect("a ledger");
    let mut batch = Batch::default();
    for week in 0..WEEKS {
        for weekday in 0..5 {
            let day = days_ago((WEEKS - 1 - week) * 7 + weekday);
            let used = |verb: &str, way: Way| Used {
                day: day.clone(),
                kind: if weekday % 2 == 0 { "rust" } else { "python" }.to_owned(),
                verb: verb.to_owned(),
                way,
            };
            for (index, (verb, times)) in VERBS.iter().enumerate() {
                let learned = HABITS.iter().find(|habit| habit.1 == *verb).map_or(0, |habit| habit.3);
                let (key, lookup) = if week < learned { (0, times / 10) } else { (times / 5, u64::from(index > 12)) };
                let amounts = |times: u64| Amounts {
                    times,
                    keys: times * 2,
                    cursors: times * 3,
                    lines: times,
                    undone: times / 9,
                };
                if key > 0 {
                    batch.add(used(verb, Way::Key), amounts(key));
                }
                if lookup > 0 {
                    batch.add(used(verb, Way::Lookup), Amounts { keys: lookup * 7, ..amounts(lookup) });
                }
            }
            let typed = 900 + u64::from((week * 37 + weekday * 11) % 90);
            batch.add(
                used("type-text", Way::Typing),
                Amounts { times: typed, keys: typed, lines: 150, ..Amounts::default() },
            );
            let steps = 620 - u64::from(week) * 55;
            batch.add(used("char-right", Way::Hand), Amounts { times: steps, keys: steps, ..Amounts::default() });
            for (pattern, verb, saved, learned) in HABITS.iter().filter(|habit| week < habit.3) {
                let habit = Habit { day: day.clone(), pattern: (*pattern).to_owned(), verb: (*verb).to_owned() };
                (0..2 + learned % 3).for_each(|_| batch.add_habit(habit.clone(), *saved));
            }
        }
    }
    ledger.add(&batch).expect("the ledger is written");
}
