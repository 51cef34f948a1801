//! How work grows: with the places at which a verb works, and with the hours of a day.

use super::editor::{Call, Editor};
use super::{Row, carets, folder, millis, peak_of_playing, source, verb};
use snarvel_core::cursors::Selection;
use snarvel_core::history::StepId;
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::registry::verb::Does;
use snarvel_workspace::registry::{VERBS, Verb};
use std::time::{Duration, Instant};

/// How long `verb` takes at so many places, ten lines apart: the best of some runs.
fn time_at(verb: &'static Verb, count: usize, places: Places) -> Duration {
    let argument = match verb.name {
        "split-at" | "filter-keep" | "filter-drop" => "/a/",
        "surround" => "(",
        "every-nth" => "2",
        _ if verb.arguments.read(verb.name, "x").is_ok() => "x",
        _ => "",
    };
    let text = Text::from(source(count * 10 * 60).as_str());
    let set = carets(&text, 10, count);
    let set = match places {
        Places::Carets => set,
        Places::Selections => set.map(|each| Selection::new(each.head, each.head + 3)),
    };
    let (mut editor, clip) = (Editor::new(text, by_name("rust").expect("Rust")), Clip::of_text("let a = 1;\nlet b;\n"));
    let runs = if count < 30_000 { 5 } else { 2 };
    let times = (0..runs).map(|round| {
        editor.set_cursors(set.clone());
        let start = Instant::now();
        editor.run(Call { verb, argument, times: 1, clip: &clip, now_ms: round * 10_000 });
        let time = start.elapsed();
        editor.go_to_step(StepId::START);
        time
    });
    times.min().unwrap_or_default()
}

#[derive(Clone, Copy, Debug)]
enum Places {
    Carets,
    Selections,
}

/// How verbs grow with the places at which they work.
pub fn growth(rows: &mut Vec<Row>) {
    for name in ["type-text", "duplicate-down", "comment-toggle"] {
        let times = [1_000, 10_000, 100_000].map(|count| time_at(verb(name).expect("the verb"), count, Places::Carets));
        rows.push(Row {
            what: format!("{name} at 1,000, 10,000, 100,000 places: the last beside 100 times the first"),
            floor: (format!("{:.2}, {:.1} ms", millis(times[0]), millis(times[1])), millis(times[0]) * 100.0),
            ours: millis(times[2]),
            bar: "linear".into(),
            unit: "ms",
        });
    }
    let verbs: Vec<&'static Verb> = VERBS.iter().filter(|verb| matches!(verb.does, Does::Edit(_))).collect();
    let ways = verbs.iter().flat_map(|verb| [(*verb, Places::Carets), (*verb, Places::Selections)]);
    // What takes less than a hundredth of a frame tells nothing about growth.
    let times = ways.map(|(verb, places)| (verb, places, time_at(verb, 1_000, places).max(Duration::from_micros(150))));
    let both = times.map(|(verb, places, few)| (verb, places, few, time_at(verb, 30_000, places)));
    let ratio = |few: Duration, many: Duration| many.as_secs_f64() / few.as_secs_f64();
    let worst = both.max_by(|one, other| ratio(one.2, one.3).total_cmp(&ratio(other.2, other.3)));
    if let Some((verb, places, few, many)) = worst {
        rows.push(Row {
            what: format!("all {} verbs at 1,000 and 30,000 places: the one that grows most", verbs.len()),
            floor: (format!("{} at {places:?}, 30 times 1,000", verb.name), millis(few) * 30.0),
            ours: millis(many),
            bar: "linear".into(),
            unit: "ms",
        });
    }
}

/// Keys of an hour of editing: five a second.
const KEYS_OF_AN_HOUR: usize = 18_000;

/// Typing, line verbs, comments, cursors, undo and redo, which leave the text as it was.
const ROUND: [&str; 4] = [
    r#"@60:5 "let level_mm = 12;" enter alt+d alt+s alt+c alt+c ctrl+z ctrl+z ctrl+y alt+x"#,
    r#"alt+f alt+f "x" backspace esc alt+g alt+g "ebb" ctrl+z esc alt+m ctrl+z alt+w alt+x"#,
    "ctrl+z ctrl+z ctrl+z ctrl+z ctrl+z ctrl+z ctrl+z",
    "@60:1 alt+x alt+x",
];

/// The keys of a round, each character of a text being one.
const KEYS_OF_A_ROUND: usize = 54;

/// Eight hours of editing beside as many keys that only move: `play` itself holds each key and its time.
pub fn long(rows: &mut Vec<Row>) {
    let demo = snarvel::demo::FILES.iter().find(|(name, _)| *name == "gauges.rs").map_or("", |(_, text)| *text);
    let path = folder().join("long.rs");
    std::fs::write(&path, demo).expect("a small file");
    let keys = 8 * KEYS_OF_AN_HOUR;
    let round = ROUND.join(" ") + "\n";
    let moved = peak_of_playing(&path, &"left right ".repeat(keys / 2));
    let edited = peak_of_playing(&path, &round.repeat(keys / KEYS_OF_A_ROUND));
    rows.push(Row {
        what: format!("memory after 8 hours of editing, {keys} keys, with a history of 1 MB"),
        floor: ("as many keys that only move".into(), moved as f64 / 1e6),
        ours: edited as f64 / 1e6,
        bar: "no growth".into(),
        unit: "MB",
    });
}
