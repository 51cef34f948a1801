//! What a text is like: verbs that go by its structure in flat, broken, nested and one-line texts, and frames with many cursors.

use super::{Row, app_with, carets, frame, source};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::folds::Folds;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line};
use snarvel_ui::app::App;
use snarvel_workspace::command::Command;
use std::time::{Duration, Instant};

/// The verbs that ask for nodes.
const VERBS: [&str; 5] = ["widen", "select-block", "select-outer-block", "fold", "carry-statement-down"];

/// A text of about a megabyte that parses and is flat.
fn flat(name: &str) -> String {
    let line = if name == "a.js" { "const level = [12];\n" } else { "const LEVEL: u32 = 12;\n" };
    line.repeat((1 << 20) / line.len())
}

/// Where the cursors are.
#[derive(Clone, Copy)]
enum Places {
    /// On so many lines, in their first word.
    Lines(usize),
    /// In the middle of the text.
    Middle,
}

fn cursors(text: &Text, places: Places) -> CursorSet {
    match places {
        Places::Lines(count) => {
            let every = (text.real_line_count() / count).max(1);
            let lines = (0..text.real_line_count()).step_by(every).take(count);
            let caret = |line: usize| Selection::caret(text.indentation_span(Line(line)).end + 1);
            CursorSet::of(lines.map(caret).collect(), 0)
        }
        Places::Middle => CursorSet::caret(text.snap_back(Byte(text.len() / 2))),
    }
}

/// How long `verb` takes at `places`, once the structure is known: the best of some runs.
fn time(app: &mut App, verb: &str, places: Places) -> Duration {
    let mut best = Duration::MAX;
    for _ in 0..3 {
        let (buffer, view) = app.context.workspace.active_pair_mut();
        let set = cursors(buffer.text(), places);
        view.set_cursors(buffer, set);
        app.context.workspace.settle_structure();
        let start = Instant::now();
        app.call(&Command::named(verb));
        best = best.min(start.elapsed());
        let (buffer, view) = app.context.workspace.active_pair_mut();
        view.set_folds(buffer, &Folds::default());
        while app.context.workspace.active().history().can_undo() {
            app.call(&Command::named("undo"));
        }
    }
    best
}

/// The verb that takes longest in `text`, beside a flat text of the same size.
fn worst(text: &str, name: &str, places: Places) -> (&'static str, [Duration; 2]) {
    let mut flat = app_with(Text::from(&flat(name)[..text.len().min(1 << 20) / 20 * 20]), name);
    let mut odd = app_with(Text::from(text), name);
    [&mut flat, &mut odd].into_iter().for_each(App::settle_background);
    let of = |verb: &&'static str, flat: &mut App, odd: &mut App| {
        (*verb, [time(flat, verb, places), time(odd, verb, places)])
    };
    let all = VERBS.iter().map(|verb| of(verb, &mut flat, &mut odd));
    all.max_by_key(|(_, [_, odd])| *odd).expect("there are verbs")
}

/// Structural verbs in texts of four kinds.
pub fn structural_verbs(rows: &mut Vec<Row>) {
    let list = |count: usize, between: &str| (0..count).map(|each| each.to_string()).collect::<Vec<_>>().join(between);
    let broken = "=+! RC_U*\n".repeat(1_000);
    let nested = format!("const a = {}1{};\n", "[".repeat(10_000), "]".repeat(10_000));
    let listed = format!("const A: [u32; 100000] = [\n{}];\n", list(100_000, ",\n"));
    let one_line = format!("const a = [{}];\n", list(160_000, ","));
    let texts = [
        ("1,000 places of a text that does not parse", broken, "a.rs", Places::Lines(1_000)),
        ("one place, 10,000 brackets deep", nested, "a.js", Places::Middle),
        ("1,000 places of a list of 100,000", listed, "a.rs", Places::Lines(1_000)),
        ("one place of a line of 1 MB", one_line, "a.js", Places::Middle),
    ];
    for (what, text, name, places) in texts {
        let (verb, [floor, ours]) = worst(&text, name, places);
        rows.push(Row::times(format!("{verb}, the slowest, at {what}"), "in a flat text", floor, ours, 3.0));
    }
}

/// Frames with 100,000 cursors in 100 MB, and after each of their lines was changed, beside one with one cursor.
pub fn frames(rows: &mut Vec<Row>) {
    let text = Text::from(source(100 << 20).as_str());
    let set = carets(&text, text.real_line_count() / 100_000, 100_000);
    let mut app = app_with(text, "large.rs");
    let time = |app: &mut App| {
        app.settle_background();
        let one = |_| {
            let start = Instant::now();
            frame(app);
            start.elapsed()
        };
        (0..20).map(one).min().unwrap_or_default()
    };
    let alone = time(&mut app);
    let (buffer, view) = app.context.workspace.active_pair_mut();
    view.set_cursors(buffer, set);
    let many = time(&mut app);
    app.call(&Command::named("carry-down"));
    let changed = time(&mut app);
    rows.push(Row::times("a frame at 100,000 cursors in 100 MB", "at one cursor", alone, many, 2.0));
    rows.push(Row::times("the same after each of their lines was carried", "at one, unchanged", alone, changed, 2.0));
}
