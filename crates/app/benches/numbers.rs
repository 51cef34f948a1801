//! The numbers to reach, each beside its floor, measured in the same run: `scripts/bench` runs it and keeps the table.
//!
//! Every row is the best of a few runs, floor and ours in turn, so that a busy moment of the machine falls on neither.
//! Arguments: parts of names of rows; without any, all of them. `SNARVEL_BENCH_MB` makes the large file smaller.

#[path = "../../workspace/tests/suite/support/editor.rs"]
#[allow(dead_code, reason = "benches use a part of it")]
mod editor;
#[path = "numbers/files.rs"]
mod files;
#[path = "numbers/growth.rs"]
mod growth;
#[path = "numbers/learning.rs"]
mod learning;
#[path = "numbers/marks.rs"]
mod marks;
#[path = "numbers/meaning.rs"]
mod meaning;
#[path = "numbers/offers.rs"]
mod offers;
#[path = "numbers/recipes.rs"]
mod recipes;
#[path = "numbers/running.rs"]
mod running;
#[path = "numbers/structure.rs"]
mod structure;
#[path = "numbers/together.rs"]
mod together;
#[path = "numbers/views.rs"]
mod views;

use editor::{Call, Editor};
use ratatui::buffer::Buffer as Grid;
use ratatui::layout::Rect;
use ropey::{Rope, RopeBuilder};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::by_name;
use snarvel_core::search::pattern::{Pattern, Query};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_files::load::{Encoding, Loaded, load};
use snarvel_ui::app::{App, Event};
use snarvel_ui::keys::Key;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::registry::by_name as verb;
use snarvel_workspace::workspace::Workspace;
use std::fmt::Write;
use std::hint::black_box;
use std::path::{Path, PathBuf};
use std::process::Command;
use std::time::{Duration, Instant};

/// A line of the table.
struct Row {
    what: String,
    floor: (String, f64),
    ours: f64,
    bar: String,
    unit: &'static str,
}

impl Row {
    fn times(what: impl Into<String>, floor_name: &str, floor: Duration, ours: Duration, bar: f64) -> Row {
        Row {
            what: what.into(),
            floor: (floor_name.to_owned(), millis(floor)),
            ours: millis(ours),
            bar: format!("{bar} ×"),
            unit: "ms",
        }
    }
}

/// The best of `runs` runs of both, in turn. Each gets what `setup` makes for it anew.
fn best<S, T>(
    runs: usize,
    mut setup: impl FnMut() -> S,
    floor: impl Fn(&mut S) -> T,
    ours: impl Fn(&mut S) -> T,
) -> [Duration; 2] {
    let mut found = [Duration::MAX; 2];
    for _ in 0..runs {
        let mut made = setup();
        let start = Instant::now();
        black_box(floor(&mut made));
        found[0] = found[0].min(start.elapsed());
        let mut made = setup();
        let start = Instant::now();
        black_box(ours(&mut made));
        found[1] = found[1].min(start.elapsed());
    }
    found
}

/// Where the bench keeps its files.
fn folder() -> PathBuf {
    let folder = PathBuf::from(env!("CARGO_TARGET_TMPDIR")).join("numbers");
    std::fs::create_dir_all(&folder).expect("a folder for the bench");
    folder
}

fn megabytes() -> usize {
    std::env::var("SNARVEL_BENCH_MB").ok().and_then(|text| text.parse().ok()).unwrap_or(1024)
}

/// Source of lines of 60 bytes; every 17,000th one has a word that no other has.
fn source(bytes: usize) -> String {
    let demo = snarvel::demo::FILES[0].1;
    let lines: Vec<String> =
        demo.lines().filter(|line| line.is_ascii() && line.len() < 60).map(|line| format!("{line:<59}\n")).collect();
    let mut text = String::with_capacity(bytes + 60);
    let mut index = 0;
    while text.len() < bytes {
        match index % 17_000 {
            0 => {
                let _ = writeln!(text, "{:<59}", "let lampkeeper = 1; // lampkeeper");
            }
            _ => text.push_str(&lines[index % lines.len()]),
        }
        index += 1;
    }
    text
}

fn large_file() -> PathBuf {
    let path = folder().join("large.rs");
    let bytes = megabytes() << 20;
    if std::fs::metadata(&path).map_or(0, |meta| meta.len()) < bytes as u64 {
        std::fs::write(&path, source(bytes)).expect("the large file");
    }
    path
}

/// An empty workspace in the bench's folder, which writes nothing.
fn workspace() -> Workspace {
    Workspace::new(Project { writing: Writing::Nothing, ..Project::in_folder(&folder()) })
}

fn app_of(workspace: Workspace) -> App {
    App::new(workspace, Palette::new(&Theme::night(), Depth::True), Size::REFERENCE)
}

fn app_with(text: Text, name: &str) -> App {
    let mut workspace = workspace();
    let loaded = Loaded { text, encoding: Encoding::Utf8, read_only: false };
    let buffer = workspace.make_buffer(loaded, Origin::File(folder().join(name)));
    workspace.show_buffer(buffer);
    app_of(workspace)
}

fn frame(app: &App) {
    let size = app.context.look.size;
    let mut grid = Grid::empty(Rect::new(0, 0, size.cols, size.rows));
    app.draw(&mut grid);
    black_box(grid);
}

fn key(app: &mut App, name: &str) {
    app.handle(Event::Key(Key::parse(name).expect("a key")), 0);
}

/// From the key to the frame, in order. What has come in from the background is taken in before the frame, as the terminal does.
fn keys_to_frames(app: &mut App, count: usize) -> Vec<Duration> {
    app.settle_background();
    frame(app);
    let mut times: Vec<Duration> = (0..count)
        .map(|_| {
            let start = Instant::now();
            key(app, "x");
            app.pump();
            frame(app);
            let time = start.elapsed();
            app.after_frame();
            // Keys come no faster when a person types; without a pause the next one would wait for a processor that the parser has.
            std::thread::sleep(Duration::from_millis(3));
            time
        })
        .collect();
    times.sort_unstable();
    times
}

fn opening(rows: &mut Vec<Row>) {
    let path = large_file();
    let [floor, ours] = best(
        3,
        || (),
        |()| {
            let bytes = std::fs::read(&path).expect("the large file");
            let text = std::str::from_utf8(&bytes).expect("UTF-8");
            let rope = Rope::from_str(text);
            rope.len_lines()
        },
        |()| load(&path).expect("it loads").map_or(0, |loaded| loaded.text.line_count()),
    );
    let what = format!("open {} MB until it is whole in memory", megabytes());
    rows.push(Row::times(what, "read, UTF-8 check, bare rope", floor, ours, 1.2));
    let empty = folder().join("empty.rs");
    std::fs::write(&empty, "").expect("an empty file");
    let first = |path: &Path| {
        let start = Instant::now();
        let mut app = app_of(workspace());
        app.context.workspace.tasks.has_screen = true;
        app.context.workspace.open(path);
        app.pump();
        frame(&app);
        start.elapsed()
    };
    let [floor, ours] = best(5, || (), |()| first(&empty), |()| first(&path));
    rows.push(Row {
        what: "first frame of that file".into(),
        floor: ("first frame of an empty file".into(), millis(floor)),
        ours: millis(ours),
        bar: "100 ms more".into(),
        unit: "ms",
    });
    let peak = peak_of_playing(&path, "");
    let size = std::fs::metadata(&path).map_or(0, |meta| meta.len());
    rows.push(Row {
        what: "memory after opening it".into(),
        floor: ("its size".into(), size as f64 / 1e6),
        ours: peak as f64 / 1e6,
        bar: "1.25 × + 40 MB".into(),
        unit: "MB",
    });
    let text = load(&path).expect("it loads").expect("it is there").text;
    let median = |text: Text| {
        let mut app = app_with(text, "large.rs");
        key(&mut app, "ctrl+end");
        let times = keys_to_frames(&mut app, 400);
        [times[200], times[395]]
    };
    let [empty, large] = [median(Text::default()), median(text.clone())];
    rows.push(Row::times("one character at its end, until the frame", "in an empty file", empty[0], large[0], 3.0));
    rows.push(Row {
        what: "the same, 99 of 100".into(),
        floor: ("in an empty file".into(), millis(empty[1])),
        ours: millis(large[1]),
        bar: "5 ms".into(),
        unit: "ms",
    });
    finding_in_a_file(&text, &path, rows);
}

/// The memory that the program has taken at most when it has opened `path` and pressed `keys`, in bytes.
fn peak_of_playing(path: &Path, keys: &str) -> i64 {
    let (script, settings) = (folder().join("keys.txt"), folder().join("settings.toml"));
    std::fs::write(&script, keys).expect("a script of keys");
    std::fs::write(&settings, "history_mb = 1\n").expect("settings");
    let mut play = Command::new(env!("CARGO_BIN_EXE_snarvel"));
    play.arg("play").arg(path).arg("--keys-file").arg(script).arg("--config").arg(settings).args(["--emit", "timing"]);
    let out = play.output();
    let printed = String::from_utf8_lossy(&out.expect("it plays").stdout).into_owned();
    let at = printed.find("\"peak_rss_bytes\":").map_or(0, |at| at + 17);
    printed[at..].chars().take_while(char::is_ascii_digit).collect::<String>().parse().unwrap_or(0)
}

fn finding_in_a_file(text: &Text, path: &Path, rows: &mut Vec<Row>) {
    let bytes = std::fs::read(path).expect("the large file");
    let language = by_name("rust").expect("Rust");
    let pattern = |what: &str| Pattern::new(Query { what: what.to_owned(), ..Query::default() }).expect("a literal");
    for what in ["Lampkeeper", "lampkeeper"] {
        let pattern = pattern(what);
        let floor = |(): &mut ()| memchr::memmem::find_iter(&bytes, what.as_bytes()).count();
        let ours = |(): &mut ()| pattern.all(text, text.span(), language.word_rule()).len();
        let [floor, ours] = best(3, || (), floor, ours);
        let how = if what.starts_with('L') { "as typed" } else { "either case" };
        rows.push(Row::times(format!("find a literal in it, {how}"), "memmem over its bytes", floor, ours, 2.0));
    }
    drop(bytes);
    let take = verb("take-all").expect("the verb");
    let mut editor = Editor::new(text.clone(), language);
    let bytes = std::fs::read(path).expect("the large file");
    let first = memchr::memmem::find(&bytes, b"lampkeeper").expect("it is there");
    let start = || Selection::new(Byte(first), Byte(first + 10));
    editor.set_cursors(CursorSet::one(start()));
    let editor = std::cell::RefCell::new(editor);
    let [floor, ours] = best(
        3,
        || editor.borrow_mut().set_cursors(CursorSet::one(start())),
        |()| memchr::memmem::find_iter(&bytes, b"lampkeeper").count(),
        |()| {
            let mut editor = editor.borrow_mut();
            editor.run(Call { verb: take, argument: "", times: 1, clip: &Clip::default(), now_ms: 0 });
            editor.cursors().len()
        },
    );
    let what = format!("take all {} of a literal in it", editor.borrow().cursors().len());
    rows.push(Row::times(what, "memmem over its bytes", floor, ours, 2.0));
}

/// A caret on every line that is a multiple of `every`, at most `count`.
fn carets(text: &Text, every: usize, count: usize) -> CursorSet {
    let lines = (0..text.real_line_count()).step_by(every).take(count);
    CursorSet::of(lines.map(|line| Selection::caret(text.line_start(Line(line)) + 4)).collect(), 0)
}

fn many_cursors(rows: &mut Vec<Row>) {
    let text = Text::from(source(100 << 20).as_str());
    let rope = Rope::from_str(&text.to_string());
    for (count, bar) in [(10_000, 2.0), (100_000, 2.0), (1_000_000, 3.0)] {
        let every = (text.real_line_count() / count).max(1);
        let set = carets(&text, every, count);
        let places: Vec<usize> = set.iter().map(|each| each.head.0).collect();
        let insert = |rope: &mut Rope| places.iter().rev().for_each(|at| rope.insert(*at, "x"));
        let [floor, _] = best(3, || rope.clone(), insert, insert);
        let mut app = app_with(text.clone(), "large.rs");
        let mut ours = Duration::MAX;
        for _ in 0..3 {
            let (buffer, view) = app.context.workspace.active_pair_mut();
            view.set_cursors(buffer, set.clone());
            app.settle_background();
            frame(&app);
            let start = Instant::now();
            key(&mut app, "x");
            frame(&app);
            ours = ours.min(start.elapsed());
            key(&mut app, "ctrl+z");
        }
        let what = format!("one character at {} cursors in 100 MB, until the frame", set.len());
        rows.push(Row::times(what, "as many insertions into the bare rope", floor, ours, bar));
    }
    a_million(rows);
}

/// Taking a million uses of a word, typing over them, and undoing it, and what that leaves in memory.
fn a_million(rows: &mut Vec<Row>) {
    let plain = format!("{:<99}\n", "    pub level_mm: i32,").repeat(1_000_000);
    let at = plain.find("level").expect("it is there");
    let places: Vec<usize> = (0..1_000_000).map(|line| line * 100 + at).collect();
    let rope = Rope::from_str(&plain);
    let insert = |rope: &mut Rope| places.iter().rev().for_each(|at| rope.insert(*at, "x"));
    let [floor, _] = best(2, || rope.clone(), insert, insert);
    drop(rope);
    let path = folder().join("million.rs");
    std::fs::write(&path, &plain).expect("a file of a million uses");
    let mut editor = Editor::new(Text::from(plain.as_str()), by_name("rust").expect("Rust"));
    drop(plain);
    let clip = Clip::default();
    let call = |name: &str| {
        let argument = if name == "type-text" { "x" } else { "" };
        Call { verb: verb(name).expect("the verb"), argument, times: 1, clip: &clip, now_ms: 0 }
    };
    let mut ours = Duration::MAX;
    for _ in 0..2 {
        editor.set_cursors(CursorSet::one(Selection::new(Byte(at), Byte(at + 5))));
        let start = Instant::now();
        editor.run(call("take-all"));
        editor.run(call("type-text"));
        editor.run(call("undo"));
        ours = ours.min(start.elapsed());
    }
    let count = editor.cursors().len();
    let what = format!("take all {count}, type, undo in 100 MB");
    rows.push(Row::times(what, "as many insertions into the bare rope", floor, ours, 3.0));
    rows.push(Row {
        what: format!("memory of {count} cursors, taken, each"),
        floor: ("–".into(), 0.0),
        ours: (peak_of_playing(&path, "@1:9-1:14 !take-all") - peak_of_playing(&path, "@1:9-1:14")) as f64
            / count as f64,
        bar: "200 bytes".into(),
        unit: "bytes",
    });
}

fn lines(rows: &mut Vec<Row>) {
    let text = Text::from(source(100 << 20).as_str());
    let rope = Rope::from_str(&text.to_string());
    let set = carets(&text, text.real_line_count() / 100_000, 100_000);
    let rebuild = |rope: &mut Rope| {
        let mut builder = RopeBuilder::new();
        rope.chunks().for_each(|chunk| builder.append(chunk));
        builder.finish().len_bytes()
    };
    let [floor, _] = best(3, || rope.clone(), rebuild, rebuild);
    for name in ["carry-down", "duplicate-down", "delete-lines", "join-lines"] {
        let mut ours = Duration::MAX;
        let mut editor = Editor::new(text.clone(), by_name("rust").expect("Rust"));
        for round in 0..3 {
            editor.set_cursors(set.clone());
            let call = Call {
                verb: verb(name).expect("the verb"),
                argument: "",
                times: 1,
                clip: &Clip::default(),
                now_ms: round * 10_000,
            };
            let start = Instant::now();
            editor.run(call);
            ours = ours.min(start.elapsed());
            editor.run(Call { verb: verb("undo").expect("the verb"), argument: "", ..call });
        }
        rows.push(Row::times(format!("{name}, 100,000 runs in 100 MB"), "one rebuild of the rope", floor, ours, 2.0));
    }
}

fn keys(rows: &mut Vec<Row>) {
    let demo = snarvel::demo::FILES.iter().find(|(name, _)| *name == "gauges.rs").map_or("", |(_, text)| *text);
    let text: String = demo.repeat(5_000 / demo.lines().count() + 1);
    let mut app = app_with(Text::from(text.as_str()), "gauges.rs");
    let (buffer, view) = app.context.workspace.active_pair_mut();
    let middle = buffer.text().snap_back(Byte(text.len() / 2));
    view.set_cursors(buffer, CursorSet::caret(middle));
    let times = keys_to_frames(&mut app, 1_000);
    for (name, at, bar) in [("half of them", 500, "1 ms"), ("99 of 100", 990, "4 ms")] {
        rows.push(Row {
            what: format!("key to frame in 5,000 lines with colours, {name}"),
            floor: ("–".into(), 0.0),
            ours: millis(times[at]),
            bar: bar.into(),
            unit: "ms",
        });
    }
    let small = folder().join("small.rs");
    std::fs::write(&small, demo).expect("a small file");
    let run = |arguments: &[&str]| {
        let start = Instant::now();
        let out = Command::new(env!("CARGO_BIN_EXE_snarvel")).args(arguments).output().expect("it runs");
        black_box(out);
        start.elapsed()
    };
    let small = small.display().to_string();
    let [floor, ours] = best(20, || (), |()| run(&["--version"]), |()| run(&["play", &small, "--emit", "frame"]));
    rows.push(Row {
        what: "start to first frame, small file".into(),
        floor: ("--version".into(), millis(floor)),
        ours: millis(ours),
        bar: "15 ms more".into(),
        unit: "ms",
    });
}

/// A time in milliseconds.
fn millis(time: Duration) -> f64 {
    time.as_secs_f64() * 1e3
}

type Part = (&'static str, fn(&mut Vec<Row>));

fn main() {
    let wanted: Vec<String> = std::env::args().skip(1).filter(|each| !each.starts_with('-')).collect();
    let parts: [Part; 23] = [
        ("opening", opening),
        ("cursors", many_cursors),
        ("lines", lines),
        ("marks", marks::marks),
        ("keys", keys),
        ("files", files::many_files),
        ("recipes", recipes::recipe_over_files),
        ("places", recipes::recipe_at_many_places),
        ("growth", growth::growth),
        ("structure", structure::structural_verbs),
        ("frames", structure::frames),
        ("long", growth::long),
        ("views", views::two_views),
        ("open", views::twenty_files),
        ("offers", offers::offers),
        ("names", meaning::names),
        ("servers", meaning::servers),
        ("shell", running::shell),
        ("wrapped", running::wrapped),
        ("pasts", running::pasts),
        ("convoy", together::convoy),
        ("echo", together::echo),
        ("learning", learning::learning),
    ];
    let chosen = |name: &str| wanted.is_empty() || wanted.iter().any(|each| name.contains(each.as_str()));
    let chosen: Vec<(&str, _)> = parts.into_iter().filter(|(name, _)| chosen(name)).collect();
    if std::env::var_os(ALONE).is_none() {
        println!("{HEADER}");
    }
    let [(_, part)] = &chosen[..] else {
        chosen.iter().for_each(|(name, _)| by_itself(name));
        return;
    };
    let mut rows = Vec::new();
    part(&mut rows);
    for Row { what, floor: (floor_name, floor), ours, bar, unit } in rows {
        let ratio = if floor > 0.0 { format!("{:.2} ×", ours / floor) } else { "–".to_owned() };
        println!("| {what} | {floor_name} | {floor:.2} {unit} | {ours:.2} {unit} | {ratio} | {bar} |");
    }
}

const HEADER: &str = "| what | floor | floor | ours | ratio | bar |\n|---|---|---|---|---|---|";

/// Tells a process that it measures one of several parts.
const ALONE: &str = "SNARVEL_BENCH_ALONE";

/// Measures a part in a process of its own: what ran before leaves memory after that the next part would not have to ask for.
fn by_itself(part: &str) {
    let me = std::env::current_exe().expect("this program");
    let status = Command::new(me).arg(part).env(ALONE, "1").status().expect("it runs");
    assert!(status.success(), "{part}: {status}");
}
