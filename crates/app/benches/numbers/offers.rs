//! Typing with offers that come by themselves, beside typing without.

use super::files::project;
use super::{Row, app_with, carets, folder, frame, key, millis, source};
use snarvel_core::cursors::CursorSet;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_files::load::{Encoding, Loaded};
use snarvel_ui::app::App;
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::offering::settings::When;
use std::time::{Duration, Instant};

/// What is typed: words that begin like some of the text, with what ends them.
const TYPED: &[&str] = &["l", "e", "v", "e", "r", "space", "r", "e", "a", "d", "space", "g", "a", "u", "g", "space"];

/// How long each key takes until its frame, and the first frame with offers after the frame of its key.
fn typing(app: &mut App, count: usize) -> (Vec<Duration>, Vec<Duration>) {
    let (mut keys, mut offers) = (Vec::with_capacity(count), Vec::new());
    for index in 0..count {
        let start = Instant::now();
        key(app, TYPED[index % TYPED.len()]);
        frame(app);
        keys.push(start.elapsed());
        app.after_frame();
        if app.context.workspace.awaits_offers() {
            app.context.workspace.settle_offers();
            frame(app);
            offers.push(start.elapsed());
        }
        app.settle_background();
    }
    keys.sort_unstable();
    offers.sort_unstable();
    (keys, offers)
}

fn with(when: When, text: &Text, others: &[String]) -> App {
    let mut app = app_with(text.clone(), "gauges.rs");
    for (index, other) in others.iter().enumerate() {
        let loaded = Loaded { text: Text::from(other.as_str()), encoding: Encoding::default(), read_only: false };
        let path = std::path::PathBuf::from(format!("/sound/open{index}.rs"));
        let first = app.context.workspace.active().id;
        let buffer = app.context.workspace.make_buffer(loaded, Origin::File(path));
        app.context.workspace.show_buffer(buffer);
        app.context.workspace.show(first);
    }
    app.context.workspace.project.offers = when;
    app
}

/// The names of the 20,000 files in the folder of the bench are gathered.
fn gather_names(app: &mut App) {
    project(20_000);
    app.context.workspace.keep_names_in(folder().join("offers.sqlite"));
    app.context.workspace.gather_names();
    while app.context.workspace.names_growing().is_some() {
        app.pump();
        std::thread::sleep(Duration::from_millis(10));
    }
}

/// At one cursor of 5,000 lines with 20 open files, and at 10,000 cursors of 100 MB.
pub fn offers(rows: &mut Vec<Row>) {
    let demo = snarvel::demo::FILES.iter().find(|(name, _)| *name == "gauges.rs").map_or("", |(_, text)| *text);
    let text = Text::from(demo.repeat(5_000 / demo.lines().count() + 1).as_str());
    let others: Vec<String> = (0..20).map(|index| format!("fn open_{index}() {{}}\n{}", demo.repeat(5))).collect();
    let middle = text.snap_back(Byte(text.len() / 2));
    let run = |when: When| {
        let mut app = with(when, &text, &others);
        let (buffer, view) = app.context.workspace.active_pair_mut();
        view.set_cursors(buffer, CursorSet::caret(middle));
        typing(&mut app, 1_000)
    };
    let (without, _) = run(When::Off);
    let (ours, shown) = run(When::Auto);
    let (indexed, shown_indexed) = {
        let mut app = with(When::Auto, &text, &others);
        let (buffer, view) = app.context.workspace.active_pair_mut();
        view.set_cursors(buffer, CursorSet::caret(middle));
        gather_names(&mut app);
        typing(&mut app, 1_000)
    };
    let both = [("20 open files", &ours, &shown), ("20 open files, 20,000 indexed", &indexed, &shown_indexed)];
    for (with, ours, shown) in both {
        for (name, at, bar) in [("half of them", 500, "–"), ("99 of 100", 990, "4 ms")] {
            rows.push(Row {
                what: format!("key to frame with offers, 5,000 lines and {with}, {name}"),
                floor: ("without".into(), millis(without[at])),
                ours: millis(ours[at]),
                bar: bar.into(),
                unit: "ms",
            });
        }
        rows.push(Row {
            what: format!("from the key until the offers are drawn, {with}, 99 of 100"),
            floor: ("two frames at 60 Hz".into(), 1e3 / 30.0),
            ours: millis(shown[shown.len() * 99 / 100]),
            bar: "1 ×".into(),
            unit: "ms",
        });
    }
    let large = Text::from(source(100 << 20).as_str());
    let set = carets(&large, large.real_line_count() / 10_000, 10_000);
    let run = |when: When| {
        let mut app = with(when, &large, &[]);
        let (buffer, view) = app.context.workspace.active_pair_mut();
        view.set_cursors(buffer, set.clone());
        typing(&mut app, 60)
    };
    let (without, _) = run(When::Off);
    let (ours, shown) = run(When::Auto);
    rows.push(Row {
        what: "the same at 10,000 cursors over 100 MB, half of them".into(),
        floor: ("without".into(), millis(without[30])),
        ours: millis(ours[30]),
        bar: "–".into(),
        unit: "ms",
    });
    rows.push(Row {
        what: "until the offers are drawn there, half of them".into(),
        floor: ("–".into(), 0.0),
        ours: millis(shown[shown.len() / 2]),
        bar: "–".into(),
        unit: "ms",
    });
}
