//! A recipe over many files, and at many places of one.

use super::editor::{Call, Editor};
use super::files::project;
use super::{Row, best};
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::recipes::book::Known;
use snarvel_workspace::registry::by_name as verb;
use std::fs;
use std::io::Write;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::sync::atomic::{AtomicUsize, Ordering};

/// Three steps: every file changes, and one in fifty has a line more to be worked on.
const RECIPE: &str =
    "each match /level/\n    type \"height\"\neach line /lampkeeper/\n    type \"the \"\ntrim-trailing\n";

fn files_of(folder: &Path) -> Vec<PathBuf> {
    let walk = ignore::WalkBuilder::new(folder).build().filter_map(Result::ok);
    walk.filter(|entry| entry.file_type().is_some_and(|kind| kind.is_file())).map(ignore::DirEntry::into_path).collect()
}

/// What `what` makes of each file, by two threads; whether it was another one is said by what it gives.
fn with_two_threads(files: &[PathBuf], what: impl Fn(&Path) + Sync) {
    let next = AtomicUsize::new(0);
    std::thread::scope(|threads| {
        for _ in 0..2 {
            threads.spawn(|| {
                while let Some(path) = files.get(next.fetch_add(1, Ordering::Relaxed)) {
                    what(path);
                }
            });
        }
    });
}

/// The file with the word replaced; nothing where it stays.
fn replaced(path: &Path) -> Option<Vec<u8>> {
    let bytes = fs::read(path).ok()?;
    let mut out = Vec::with_capacity(bytes.len() + 100);
    let mut from = 0;
    for at in memchr::memmem::find_iter(&bytes, "level") {
        out.extend(&bytes[from..at]);
        out.extend(b"height");
        from = at + "level".len();
    }
    out.extend(&bytes[from..]);
    (out != bytes).then_some(out)
}

/// Writes as a save has to: beside, to the disk, then in its place.
fn write_whole(path: &Path, bytes: &[u8]) {
    let beside = path.with_extension("new");
    let mut file = fs::File::create(&beside).expect("a file beside");
    file.write_all(bytes).and_then(|()| file.sync_all()).expect("it is written");
    fs::rename(&beside, path).expect("it takes its place");
    let folder = fs::File::open(path.parent().expect("it is in a folder")).expect("the folder");
    folder.sync_all().expect("the folder is written");
}

/// Runs the program; the memory that it took, in bytes.
fn applied(folder: &Path) -> f64 {
    let mut child = Command::new(env!("CARGO_BIN_EXE_snarvel"))
        .args(["apply", "-", "--write", "--jobs", "2"])
        .arg(folder)
        .stdin(Stdio::piped())
        .stdout(Stdio::null())
        .stderr(Stdio::null())
        .spawn()
        .expect("the program");
    let status = format!("/proc/{}/status", child.id());
    child.stdin.take().expect("its input").write_all(RECIPE.as_bytes()).expect("the recipe");
    let mut peak = 0.0f64;
    while child.try_wait().expect("it runs").is_none() {
        let status = fs::read_to_string(&status).unwrap_or_default();
        let line = status.lines().find_map(|line| line.strip_prefix("VmHWM:"));
        let kilobytes = line.and_then(|line| line.trim().trim_end_matches(" kB").parse::<f64>().ok());
        peak = peak.max(kilobytes.unwrap_or(0.0) / 1024.0);
        std::thread::sleep(std::time::Duration::from_millis(50));
    }
    peak
}

pub fn recipe_over_files(rows: &mut Vec<Row>) {
    let folder = project(20_000);
    let originals: Vec<(PathBuf, Vec<u8>)> =
        files_of(&folder).into_iter().map(|path| (path.clone(), fs::read(path).expect("a file"))).collect();
    let put_back = || originals.iter().for_each(|(path, bytes)| fs::write(path, bytes).expect("a file"));
    let peak = std::cell::Cell::new(0.0f64);
    let ours = |(): &mut ()| peak.set(peak.get().max(applied(&folder)));
    let bare = |(): &mut ()| {
        with_two_threads(&files_of(&folder), |path| {
            replaced(path).into_iter().for_each(|bytes| fs::write(path, bytes).expect("it is written"));
        });
    };
    let what = "`apply` of a three-step recipe over 20,000 files, writing";
    let [floor, own] = best(2, put_back, bare, ours);
    rows.push(Row::times(what, "walk, read, write over, two threads", floor, own, 2.0));
    let whole = |(): &mut ()| {
        with_two_threads(&files_of(&folder), |path| {
            replaced(path).into_iter().for_each(|bytes| write_whole(path, &bytes));
        });
    };
    let [floor, own] = best(2, put_back, whole, ours);
    rows.push(Row::times("the same", "walk, read, write each whole or not at all", floor, own, 2.0));
    put_back();
    rows.push(Row {
        what: "memory of it".to_owned(),
        floor: ("–".to_owned(), 0.0),
        ours: peak.get(),
        bar: "200 MB".to_owned(),
        unit: "MB",
    });
}

/// A recipe at 100,000 places of 100 MB, and its verbs one after the other.
pub fn recipe_at_many_places(rows: &mut Vec<Row>) {
    let lines: Vec<String> = ["let level = 1;", "let other = 2;", "    // the harbour", "let mark = 4;"]
        .iter()
        .map(|line| format!("{line:<255}\n"))
        .collect();
    let text = Text::from(lines.concat().repeat(100_000).as_str());
    let clip = Clip::default();
    let editor = || Editor::new(text.clone(), by_name("rust").expect("Rust"));
    let verbs = |editor: &mut Editor| {
        for (name, argument) in
            [("take-matches", "/level/"), ("type-text", "height"), ("carry-down", ""), ("line-start", "")]
        {
            editor.run(Call { verb: verb(name).expect("the verb"), argument, times: 1, clip: &clip, now_ms: 0 });
        }
    };
    let source = "take-matches /level/\ntype \"height\"\ncarry-down\nline-start\n";
    let known = Known { name: "bench".to_owned(), source: source.to_owned() };
    let ours = |editor: &mut Editor| drop(editor.workspace.play_source(&known, "play-recipe", 1));
    let [floor, ours] = best(3, editor, verbs, ours);
    rows.push(Row::times("a recipe at 100,000 places of 100 MB", "its verbs, one after the other", floor, ours, 1.1));
}
