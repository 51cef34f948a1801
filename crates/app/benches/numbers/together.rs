//! Together: cursors over many files, and what echo costs.

use super::{Row, app_with, best, frame, key, keys_to_frames, millis, source, workspace};
use snarvel_core::cursors::CursorSet;
use snarvel_core::echo::edit::Edit;
use snarvel_core::echo::made::Made;
use snarvel_core::echo::{Scope, look};
use snarvel_core::languages::by_name;
use snarvel_core::languages::lexical::{Block, Lexical, Syntax};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line, Span};
use snarvel_files::load::{Encoding, Loaded};
use snarvel_ui::app::App;
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::convoy::gathering::Places;
use std::path::PathBuf;
use std::time::{Duration, Instant};

/// So many files, and so many cursors in each.
const FILES: usize = 1_000;
const IN_EACH: usize = 10;

fn small() -> String {
    let line = |index: usize| format!("let level_{index} = read({index}); // lampkeeper\n");
    (0..IN_EACH).map(line).collect()
}

fn places(text: &str) -> Vec<Span> {
    let text = Text::from(text);
    (0..text.real_line_count()).map(|line| Span::at(text.line_start(Line(line)) + 4)).collect()
}

/// The median of a few characters, each until its frame.
fn typed(app: &mut App) -> Duration {
    let mut times: Vec<Duration> = (0..7)
        .map(|_| {
            let start = Instant::now();
            key(app, "x");
            app.pump();
            frame(app);
            start.elapsed()
        })
        .collect();
    times.sort_unstable();
    times[3]
}

/// One character at 10,000 cursors in 1,000 files, beside as many cursors in one text.
pub fn convoy(rows: &mut Vec<Row>) {
    let small = small();
    let whole = small.repeat(FILES);
    let mut one = app_with(Text::from(whole.as_str()), "whole.rs");
    let (buffer, view) = one.context.workspace.active_pair_mut();
    let set = places(&whole).iter().map(|span| snarvel_core::cursors::Selection::caret(span.start)).collect();
    view.set_cursors(buffer, CursorSet::of(set, 0));
    let floor = typed(&mut one);
    let mut many = super::app_of(workspace());
    let path = |index: usize| PathBuf::from(format!("/sound/gauge{index}.rs"));
    for index in 0..FILES {
        let loaded = Loaded { text: Text::from(small.as_str()), encoding: Encoding::default(), read_only: false };
        let buffer = many.context.workspace.make_buffer(loaded, Origin::File(path(index)));
        many.context.workspace.show_buffer(buffer);
    }
    let files = (0..FILES).map(|index| (path(index), places(&small))).collect();
    let chosen = (path(0), places(&small)[0]);
    many.context.workspace.begin_convoy(Places { files, chosen });
    assert_eq!(many.context.workspace.convoy_cursors(), FILES * IN_EACH);
    let ours = typed(&mut many);
    rows.push(Row::times(
        format!("one character at {} cursors in {FILES} files, until the frame", FILES * IN_EACH),
        "as many cursors in one text",
        floor,
        ours,
        2.0,
    ));
}

/// Echo over 10,000 lines, and keys with and without it.
pub fn echo(rows: &mut Vec<Row>) {
    let language = by_name("rust").expect("Rust");
    let text = Text::from(source(10_000 * 60).as_str());
    let lines: Vec<Line> =
        (0..text.real_line_count()).map(Line).filter(|line| text.content(*line).contains("let ")).take(2).collect();
    let mut now = text.clone();
    let mut made = Vec::new();
    for line in lines {
        let content = now.content(line);
        let at = now.content_span(line).start + content.find("let ").expect("it is there") + 4;
        let mut builder = snarvel_core::changes::ChangeBuilder::new(&now);
        builder.insert(at, "mut ");
        let change = builder.finish();
        let before = now.clone();
        now.apply(&change);
        made.extend(Made::of([before, now.clone()], &change));
    }
    let scan = |(): &mut ()| {
        let lexical = Lexical::new(&language);
        let block = Block { first: Line(0), start: Byte(0), count: now.line_count() };
        lexical.of(&now).scanned(&[block]).len()
    };
    let ours = |(): &mut ()| {
        let edits: Vec<Edit> = made.iter().filter_map(|made| made.edit(&language, made.first_line())).collect();
        let edited: Vec<Line> = edits.iter().map(|edit| edit.line).collect();
        let echo = look(&edits, Scope { text: &now, language: &language, edited: &edited }, &|| false);
        echo.map_or(0, |echo| echo.at(*echo.levels.last().expect("a level")).len())
    };
    let [floor, ours] = best(5, || (), scan, ours);
    rows.push(Row {
        what: "echo over 10,000 lines, off the way of a key".into(),
        floor: ("one pass of the scanner".into(), millis(floor)),
        ours: millis(ours),
        bar: "50 ms".into(),
        unit: "ms",
    });
    let keys = |is_on: bool| {
        let mut app = app_with(now.clone(), "gauges.rs");
        if !is_on {
            app.context.workspace.stop_echo();
        }
        let (buffer, view) = app.context.workspace.active_pair_mut();
        let middle = buffer.text().snap_back(Byte(now.len() / 2));
        view.set_cursors(buffer, CursorSet::caret(middle));
        let times = keys_to_frames(&mut app, 600);
        times[594]
    };
    let [without, with] = [keys(false), keys(true)];
    rows.push(Row::times("key to frame with echo, 99 of 100", "without", without, with, 1.1));
}
