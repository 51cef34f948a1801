//! Limits that a mistake in the way something grows would break: the three most important rows of the numbers to reach, as
//! ratios in this very build, far from what they are and nearer to what a mistake would make of them.

use crate::support::{app_with, drawn};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::units::{Byte, Line};
use snarvel_ui::app::{App, Event};
use snarvel_ui::keys::Key;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_workspace::command::Command;
use std::path::Path;
use std::time::{Duration, Instant};

/// The best of some runs: a busy machine makes single ones slow.
fn best(mut run: impl FnMut() -> Duration) -> f64 {
    (0..7).map(|_| run()).min().unwrap_or_default().as_secs_f64()
}

fn source(lines: usize) -> String {
    let demo = snarvel::demo::FILES.iter().find(|(name, _)| *name == "gauges.rs").unwrap().1;
    let all: Vec<&str> = demo.lines().collect();
    (0..lines).flat_map(|line| [all[line % all.len()], "\n"]).collect()
}

fn app(text: &str) -> App {
    let palette = Palette::new(&Theme::night(), Depth::True);
    app_with(Path::new("/sound"), ("gauges.rs", text.as_bytes()), &palette, Size::REFERENCE)
}

fn set_cursors(app: &mut App, set: CursorSet) {
    let (buffer, view) = app.context.workspace.active_pair_mut();
    view.set_cursors(buffer, set);
}

/// How long a command takes.
fn timed(app: &mut App, command: &Command) -> Duration {
    let start = Instant::now();
    app.context.workspace.run(command);
    let time = start.elapsed();
    app.context.workspace.settle();
    time
}

/// One character at a cursor on each of so many lines.
fn typing(cursors: usize) -> f64 {
    let mut app = app(&source(cursors * 2));
    let text = app.context.workspace.active().text();
    let list = (0..cursors).map(|line| Selection::caret(text.line_start(Line(line * 2)))).collect();
    let set = CursorSet::of(list, 0);
    best(|| {
        set_cursors(&mut app, set.clone());
        let time = timed(&mut app, &Command::typing("x"));
        timed(&mut app, &Command::named("undo"));
        time
    })
}

/// Taking all uses of a word that is on every tenth line.
fn taking(lines: usize) -> f64 {
    let text: String = (0..lines).map(|line| if line % 10 == 0 { "lampkeeper x\n" } else { "fog signal\n" }).collect();
    let mut app = app(&text);
    best(|| {
        set_cursors(&mut app, CursorSet::one(Selection::new(Byte(0), Byte(10))));
        timed(&mut app, &Command::named("take-all"))
    })
}

/// From a key to the frame at the end of a file of so many lines.
fn key_to_frame(lines: usize) -> f64 {
    let mut app = app(&source(lines));
    app.handle(Event::Key(Key::parse("ctrl+end").unwrap()), 0);
    app.settle_background();
    best(|| {
        let start = Instant::now();
        app.handle(Event::Key(Key::character('x')), 0);
        drawn(&app);
        start.elapsed()
    })
}

/// What it is, how many times as long the large one takes, and how many times that may be.
type Row = (&'static str, fn() -> f64, f64);

#[test]
fn work_grows_with_the_cursors_and_the_matches_and_not_with_the_file() {
    let rows: [Row; 3] = [
        ("one character: 10,000 cursors beside 100 times 100", || typing(10_000) / (typing(100) * 100.0), 4.0),
        ("take all: 200,000 lines beside 100 times 2,000", || taking(200_000) / (taking(2_000) * 100.0), 4.0),
        ("key to frame: 20,000 lines beside 200", || key_to_frame(20_000) / key_to_frame(200), 5.0),
    ];
    for (what, ratio, most) in rows {
        // Another program that takes the processor for a while is none of our mistakes: then once more.
        let ratios: Vec<f64> = (0..3)
            .map(|_| ratio())
            .scan(false, |done, ratio| (!std::mem::replace(done, ratio <= most)).then_some(ratio))
            .collect();
        println!("{what}: {ratios:.2?}, at most {most}");
        assert!(ratios.iter().any(|ratio| *ratio <= most), "{what}: {ratios:.2?} ×, at most {most}");
    }
}
