//! Meaning: the names of a project of many files, and keys while a server sends far too much.

use super::files::project;
use super::{Row, app_with, best, frame, key, millis};
use snarvel_core::cursors::CursorSet;
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_files::search::{language_of, text_at};
use snarvel_index::store::Store;
use snarvel_index::worker::{Answer, Index, News, Question, Reach, Scope, Watching};
use snarvel_servers::news::MOST_FAULTS;
use snarvel_servers::table::Table;
use snarvel_syntax::background::parsed_now;
use snarvel_task::Report;
use snarvel_ui::app::App;
use snarvel_workspace::project::Trust;
use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::sync::mpsc::{Receiver, channel};
use std::time::{Duration, Instant};

/// So many files the project has.
const FILES: usize = 20_000;

fn started(folder: &Path, kept: &Path) -> (Index, Receiver<Report<News>>) {
    let (sender, news) = channel();
    let scope =
        Scope { folder: folder.to_owned(), kept: Some(kept.to_owned()), watching: Watching::Off, reach: Reach::Folder };
    // It may end before it has told all.
    (Index::start(scope, move |report| drop(sender.send(report))), news)
}

/// Waits until the index has looked at all files.
fn until_whole(news: &Receiver<Report<News>>) -> [usize; 2] {
    loop {
        match news.recv().expect("the index is at work") {
            Report::News(News::Whole(counts)) => return counts,
            Report::News(News::Trouble(why)) => panic!("{why}"),
            _ => {}
        }
    }
}

fn walked(folder: &Path) -> Vec<PathBuf> {
    let entries = ignore::WalkBuilder::new(folder).build().filter_map(Result::ok);
    entries
        .filter(|entry| entry.file_type().is_some_and(|kind| kind.is_file()))
        .map(ignore::DirEntry::into_path)
        .collect()
}

/// The floor: each file is read and parsed, by two threads, and nothing is kept.
fn walk_read_parse(folder: &Path) -> usize {
    let paths = Mutex::new(walked(folder));
    let parse_all = || {
        let mut count = 0;
        loop {
            let next = paths.lock().expect("no thread has panicked").pop();
            let Some(path) = next else { return count };
            let Some(text) = text_at(&path) else { continue };
            let language = language_of(&path, &text);
            assert_eq!(language.name, "rust");
            count += usize::from(parsed_now(&language, &text, Duration::from_secs(2)).is_some());
        }
    };
    std::thread::scope(|threads| {
        let others = threads.spawn(parse_all);
        parse_all() + others.join().expect("it parses")
    })
}

fn remove(kept: &Path) {
    for suffix in ["", "-wal", "-shm"] {
        let mut name = kept.as_os_str().to_owned();
        name.push(suffix);
        // What is not there need not go.
        let _ = std::fs::remove_file(name);
    }
}

/// The names of 20,000 files: made, read at the next start, one looked up.
pub fn names(rows: &mut Vec<Row>) {
    let folder = project(FILES);
    let kept = folder.with_file_name("names.sqlite");
    let [floor, ours] = best(
        2,
        || remove(&kept),
        |()| walk_read_parse(&folder),
        |()| {
            let (_index, news) = started(&folder, &kept);
            until_whole(&news)[0]
        },
    );
    rows.push(Row::times("names of 20,000 files, first time", "walk, read, parse, two threads", floor, ours, 1.3));
    let [floor, ours] = best(
        5,
        || (),
        |()| {
            let store = Store::open(Some(&kept)).expect("it was kept");
            let names = store.names().expect("names");
            let looked_at = walked(&folder).iter().filter_map(|path| std::fs::metadata(path).ok()).count();
            (looked_at, store.files().expect("files").len(), names.len())
        },
        |()| {
            let (_index, news) = started(&folder, &kept);
            let [files, names] = until_whole(&news);
            (0, files, names)
        },
    );
    rows.push(Row::times(
        "the same at the next start",
        "a walk with a look at each file, and reading what was kept",
        floor,
        ours,
        1.5,
    ));
    one_name(&folder, &kept, rows);
}

/// How long one question takes, from asking to the answer: the slowest of a few.
fn one_name(folder: &Path, kept: &Path, rows: &mut Vec<Row>) {
    let (index, news) = started(folder, kept);
    until_whole(&news);
    let own = PathBuf::from("part000/gauge00001.rs");
    let text = text_at(&folder.join(&own)).expect("it is there");
    let plain = text.to_string();
    let places: Vec<usize> = plain.match_indices("level").map(|(at, _)| at).take(50).collect();
    let mut times: Vec<Duration> = Vec::new();
    for (number, at) in (0..).zip(places) {
        let language = by_name("rust").expect("Rust");
        let question = Question::Definition { path: own.clone(), language, text: text.clone(), at: Byte(at) };
        let start = Instant::now();
        index.ask(number, question);
        loop {
            if let Report::News(News::Answer(_, Answer::Definition(_))) = news.recv().expect("the index is at work") {
                break;
            }
        }
        times.push(start.elapsed());
    }
    times.sort_unstable();
    rows.push(Row {
        what: format!("one name looked up, the slowest of {}", times.len()),
        floor: ("–".into(), 0.0),
        ours: millis(*times.last().expect("there were some")),
        bar: "5 ms".into(),
        unit: "ms",
    });
}

/// The scripted server, which `scripts/bench` builds.
fn scripted() -> PathBuf {
    let path = PathBuf::from(env!("CARGO_BIN_EXE_snarvel")).with_file_name("examples").join("scripted_server");
    assert!(path.exists(), "cargo build --release -p snarvel-servers --examples makes {}", path.display());
    path
}

/// Source in C of so many lines.
fn c_source(lines: usize) -> Text {
    let line = |index: usize| format!("int gauge_{index}(int level) {{ return level + {index}; }}\n");
    Text::from((0..lines).map(line).collect::<String>().as_str())
}

fn with_server(text: &Text, how: &str) -> App {
    let mut app = app_with(text.clone(), "gauges.c");
    app.context.workspace.project.trust = Trust::Everything;
    let table = format!(
        "[[server]]\nname = \"scripted\"\nlanguages = [\"c\"]\ncommand = \"{}\"\nargs = [{how:?}]\n",
        scripted().display()
    );
    app.context.workspace.use_servers(Table::read(&table).0);
    app
}

/// From the key to its frame, while what the server sends comes in, until `has_come` and then for some keys more.
fn typing_while(app: &mut App, has_come: impl Fn(&App) -> bool) -> Vec<Duration> {
    let mut times = Vec::new();
    let mut left = 400;
    let begun = Instant::now();
    while left > 0 {
        let is_there = has_come(app);
        let start = Instant::now();
        // What a server says of a text that was edited since is dropped: until it has come, keys only move.
        key(app, if is_there { "x" } else { "right" });
        app.pump();
        frame(app);
        times.push(start.elapsed());
        app.after_frame();
        std::thread::sleep(Duration::from_millis(3));
        left -= usize::from(is_there);
        assert!(begun.elapsed() < Duration::from_mins(1), "what the server sends has not come");
    }
    times.sort_unstable();
    times
}

fn faults_of(app: &App) -> usize {
    let buffer = app.context.workspace.active();
    app.context.workspace.faults_in(buffer).len()
}

/// Keys while a server sends 100,000 diagnostics, or an answer of 50 MB, beside a server that says nothing.
pub fn servers(rows: &mut Vec<Row>) {
    let text = c_source(5_000);
    let at_the_start = |how: &str| {
        let mut app = with_server(&text, how);
        let (buffer, view) = app.context.workspace.active_pair_mut();
        view.set_cursors(buffer, CursorSet::caret(Byte(4)));
        app.settle_background();
        app
    };
    let silent = typing_while(&mut at_the_start("silent"), |_| true);
    let mut storm = with_server(&text, "many-diagnostics");
    let storm = typing_while(&mut storm, |app| faults_of(app) >= MOST_FAULTS);
    let mut huge = at_the_start("huge-answer");
    key(&mut huge, "alt+h");
    let huge = typing_while(&mut huge, |_| true);
    for (what, times) in [("100,000 diagnostics", storm), ("an answer of 50 MB", huge)] {
        rows.push(Row {
            what: format!("key to frame while a server sends {what}, 99 of 100"),
            floor: ("a silent server".into(), millis(silent[silent.len() * 99 / 100])),
            ours: millis(times[times.len() * 99 / 100]),
            bar: "8 ms".into(),
            unit: "ms",
        });
    }
    let first = |app: &mut dyn FnMut() -> App| {
        let start = Instant::now();
        frame(&app());
        start.elapsed()
    };
    let [floor, ours] = best(
        20,
        || (),
        |()| first(&mut || app_with(text.clone(), "gauges.c")),
        |()| first(&mut || with_server(&text, "good")),
    );
    rows.push(Row::times("first frame where a server is to be started", "without servers", floor, ours, 1.1));
}
