//! Limits that a mistake in the way something grows would break: the three most important rows of the numbers to reach, as
//! ratios in this very build, far from what they are and nearer to what a mistake would make of them.

use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use snarvel::app::{App, Event};
use snarvel::document::{Document, Home};
use snarvel::keys::Key;
use snarvel::palette::{Depth, Palette, Tide};
use snarvel::screen;
use snarvel::screen::layout::Size;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::editor::{Call, Editor, Manner};
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line};
use snarvel_core::verbs::by_name as verb;
use snarvel_core::verbs::clip::Clip;
use snarvel_files::load::{Encoding, Loaded};
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

/// One character at a cursor on each of so many lines.
fn typing(cursors: usize) -> f64 {
    let text = Text::from(source(cursors * 2).as_str());
    let list = (0..cursors).map(|line| Selection::caret(text.line_start(Line(line * 2)))).collect();
    let set = CursorSet::of(list, 0);
    let mut editor = Editor::new(text, by_name("rust").unwrap());
    best(|| {
        editor.set_cursors(set.clone());
        let start = Instant::now();
        let call =
            Call { verb: verb("type-text").unwrap(), argument: "x", times: 1, clip: &Clip::default(), now_ms: 0 };
        editor.run(call);
        let time = start.elapsed();
        editor.run(Call { verb: verb("undo").unwrap(), ..call });
        time
    })
}

/// Taking all uses of a word that stands on every tenth line.
fn taking(lines: usize) -> f64 {
    let text: String = (0..lines).map(|line| if line % 10 == 0 { "lampkeeper x\n" } else { "fog signal\n" }).collect();
    let mut editor = Editor::new(Text::from(text.as_str()), by_name("rust").unwrap());
    best(|| {
        editor.set_cursors(CursorSet::one(Selection::new(Byte(0), Byte(10))));
        let start = Instant::now();
        let call = Call { verb: verb("take-all").unwrap(), argument: "", times: 1, clip: &Clip::default(), now_ms: 0 };
        editor.run(call);
        start.elapsed()
    })
}

/// From a key to the frame at the end of a file of so many lines.
fn key_to_frame(lines: usize) -> f64 {
    let loaded = Loaded { text: Text::from(source(lines).as_str()), encoding: Encoding::Utf8, read_only: false };
    let document = Document::of(loaded, Home::File("/sound/gauges.rs".into()), Manner::default());
    let mut app = App::new(vec![document], "/".into(), Palette::new(Tide::Night, Depth::True), Size::REFERENCE);
    app.writes = false;
    app.handle(Event::Key(Key::parse("ctrl+end").unwrap()), 0);
    app.document().editor.settle_tree();
    best(|| {
        let start = Instant::now();
        app.handle(Event::Key(Key::character('x')), 0);
        let mut buffer = Buffer::empty(Rect::new(0, 0, app.size.cols, app.size.rows));
        screen::draw(&app, &mut buffer);
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
