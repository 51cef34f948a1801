//! What is counted and what the coach looks for, beside keys without them; listings as PDF.

use super::{Row, app_with, folder, frame, key, millis, source};
use snarvel_core::folds::Folds;
use snarvel_core::text::Text;
use snarvel_draw::listing::{Inks, Layout, Listing};
use snarvel_draw::{Paper, pdf_pages};
use snarvel_files::load::{Encoding, Loaded};
use snarvel_ledger::{Amounts, Batch, Ledger, Used, Way};
use snarvel_ui::app::App;
use snarvel_ui::sheets::listing::listed;
use snarvel_workspace::buffer::defaults::EditorDefaults;
use snarvel_workspace::buffer::{Buffer, Origin};
use snarvel_workspace::coloured::coloured;
use snarvel_workspace::today::days_ago;
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

/// Habits of many kinds, so that the coach has something to look at all the time.
const KEYS: &str = "right right right right right right down down down down l e v e l backspace backspace backspace home shift+end \
    ctrl+c end enter ctrl+v alt+s alt+s alt+d ctrl+z ctrl+z ctrl+y space space space space tab enter down home ctrl+x up ctrl+v alt+f \
    alt+f alt+f esc alt+c alt+c";

/// How long each key of the series takes, what comes after its frame included, and whether a shorter way was tried then: the median
/// of `rounds`.
fn keys(is_learning: bool, rounds: usize) -> Vec<(Duration, bool)> {
    let mut app: App = app_with(Text::from(source(5_000 * 60).as_str()), "gauges.rs");
    let place = folder().join("keys-ledger.sqlite");
    let _ = std::fs::remove_file(&place);
    app.context.settings.coaches = is_learning;
    if is_learning {
        app.context.workspace.keep_ledger(&place);
    }
    let names: Vec<&str> = KEYS.split_whitespace().collect();
    let mut all = vec![Vec::with_capacity(rounds); names.len()];
    for _ in 0..rounds {
        for (name, times) in names.iter().zip(&mut all) {
            app.context.workspace.now_ms += 150;
            let start = Instant::now();
            key(&mut app, name);
            app.after_frame();
            times.push((start.elapsed(), app.context.learning.is_trying()));
            app.settle_background();
        }
    }
    let median = |mut times: Vec<(Duration, bool)>| {
        times.sort_unstable();
        times[times.len() / 2]
    };
    all.into_iter().map(median).collect()
}

/// A year of counts.
fn year(path: &Path) {
    let _ = std::fs::remove_file(path);
    let (mut ledger, _) = Ledger::open(path).expect("a ledger");
    let mut batch = Batch::default();
    for day in 0..366 {
        for verb in 0..60 {
            for way in Way::ALL {
                let used = Used { day: days_ago(day), kind: "rust".to_owned(), verb: format!("verb-{verb}"), way };
                batch.add(used, Amounts { times: 9, keys: 12, cursors: 9, lines: 3, undone: 0 });
            }
        }
    }
    ledger.add(&batch).expect("written");
}

/// Keys with and without, the start with a year of counts, a listing.
pub fn learning(rows: &mut Vec<Row>) {
    let (floor, ours) = (keys(false, 30), keys(true, 30));
    let mean = |times: &[(Duration, bool)], tries: bool| {
        let chosen = times.iter().zip(&ours).filter(|(_, (_, tried))| *tried == tries);
        let times: Vec<f64> = chosen.map(|((time, _), _)| time.as_secs_f64() * 1e6).collect();
        times.iter().sum::<f64>() / times.len().max(1) as f64
    };
    let what =
        [("a key with ledger and coach", false, "20 µs more"), ("one after which a shorter way is tried", true, "–")];
    for (what, tries, bar) in what {
        rows.push(Row {
            what: what.into(),
            floor: ("without".into(), mean(&floor, tries)),
            ours: mean(&ours, tries),
            bar: bar.into(),
            unit: "µs",
        });
    }
    let place = folder().join("year-ledger.sqlite");
    year(&place);
    let start = |is_kept: bool| {
        let mut times: Vec<Duration> = (0..20)
            .map(|_| {
                let mut app = app_with(Text::from(source(5_000 * 60).as_str()), "gauges.rs");
                let start = Instant::now();
                if is_kept {
                    app.context.workspace.keep_ledger(&place);
                }
                frame(&app);
                let time = start.elapsed();
                app.context.workspace.end_ledger();
                time
            })
            .collect();
        times.sort_unstable();
        millis(times[10])
    };
    rows.push(Row {
        what: "start with a year of counts, until the first frame".into(),
        floor: ("without".into(), start(false)),
        ours: start(true),
        bar: "5 ms more".into(),
        unit: "ms",
    });
    listing(rows);
}

fn listing(rows: &mut Vec<Row>) {
    let text: String = source(2 << 20).lines().take(10_000).flat_map(|line| [line, "\n"]).collect();
    let start = Instant::now();
    let loaded = Loaded { text: Text::from(text.as_str()), encoding: Encoding::default(), read_only: false };
    let buffer =
        coloured(Buffer::new(loaded, Origin::File(PathBuf::from("/sound/a.rs")), EditorDefaults::default(), None));
    let mut listing = Listing { files: Vec::new(), paper: Paper::A4, layout: Layout::One, inks: Inks::Colours };
    listing.files.push(listed((&buffer, &Folds::default()), "a.rs".to_owned(), None, listing.cells()));
    let bytes = pdf_pages(&listing.pages()).expect("a document");
    rows.push(Row {
        what: "10,000 lines listed as PDF".into(),
        floor: ("–".into(), 0.0),
        ours: millis(start.elapsed()),
        bar: "2000 ms".into(),
        unit: "ms",
    });
    rows.push(Row {
        what: "its size".into(),
        floor: ("the text's".into(), text.len() as f64 / 1e3),
        ours: bytes.len() as f64 / 1e3,
        bar: "near it".into(),
        unit: "kB",
    });
}
