//! The coach: for each pattern keys after which it must speak, with what it says, and keys after which it must not. What it says is
//! true: it was tried, and here it is tried once more.

#[path = "coach/rows.rs"]
mod rows;

use rows::ROWS;
use snarvel_core::coach::patterns;
use snarvel_core::text::Text;
use snarvel_core::text::place::{LineColumn, Place};
use snarvel_files::load::{Encoding, Loaded};
use snarvel_ui::app::App;
use snarvel_ui::keys::script;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::project::{Project, Trust, Writing};
use snarvel_workspace::workspace::Workspace;
use std::path::{Path, PathBuf};

fn app_on(name: &str, text: &str, at: &str) -> App {
    let project =
        Project { writing: Writing::Nothing, trust: Trust::Nothing, ..Project::in_folder(Path::new("/skerry")) };
    let mut workspace = Workspace::new(project);
    let loaded = Loaded { text: Text::from(text), encoding: Encoding::default(), read_only: false };
    let buffer = workspace.make_buffer(loaded, Origin::File(PathBuf::from("/skerry").join(name)));
    workspace.show_buffer(buffer);
    workspace.go_to_place(Place::At(LineColumn::parse(at).unwrap()));
    let mut app = App::new(workspace, Palette::new(&Theme::night(), Depth::True), Size::REFERENCE);
    app.pump();
    app
}

fn press(app: &mut App, keys: &str) {
    for step in script::parse(keys).unwrap() {
        app.prepare(&step);
        app.act(&step);
        app.settle_background();
    }
}

/// A text of so many lines.
fn log(lines: usize) -> String {
    (1..=lines).fold(String::new(), |text, line| text + &format!("buoy {line} lit\n"))
}

#[test]
fn each_pattern_speaks_where_it_is_true_and_is_silent_where_it_is_not() {
    let mut wrong = Vec::new();
    for (pattern, file, text, at, speaks, said, silent) in ROWS {
        let text: &str = &match text.strip_prefix("LOG") {
            Some(lines) => log(lines.parse().unwrap()),
            None => (*text).to_owned(),
        };
        let mut app = app_on(file, text, at);
        press(&mut app, speaks);
        let speaking = &app.context.learning.speaking;
        if (speaking.last(), speaking.hint()) != (Some(pattern), Some(said)) {
            wrong.push(format!("{pattern}: {speaks}: {:?} {:?}", speaking.last(), speaking.hint()));
        }
        let mut app = app_on(file, text, at);
        press(&mut app, silent);
        if app.context.learning.speaking.last() == Some(pattern) {
            wrong.push(format!("{pattern}: {silent}: {:?}", app.context.learning.speaking.hint()));
        }
    }
    for pattern in &patterns().all {
        let is_of_files = pattern.helps == "open";
        if !is_of_files && !ROWS.iter().any(|row| row.0 == pattern.name) {
            wrong.push(format!("{} has no row", pattern.name));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// Three files, opened in this order: a.txt, b.txt, c.txt, which is shown.
fn with_files() -> App {
    let mut app = app_on("a.txt", "ebb\n", "1:1");
    for name in ["b.txt", "c.txt"] {
        let loaded = Loaded { text: Text::from("flow\n"), encoding: Encoding::default(), read_only: false };
        let workspace = &mut app.context.workspace;
        let buffer = workspace.make_buffer(loaded, Origin::File(PathBuf::from("/skerry").join(name)));
        workspace.show_buffer(buffer);
    }
    app.context.workspace.project.recent =
        ["c.txt", "a.txt", "b.txt"].map(|name| PathBuf::from("/skerry").join(name)).into();
    app
}

#[test]
fn files_that_are_offered_first_need_no_letters() {
    for (keys, expected) in [
        ("ctrl+o \"a.txt\" enter", Some("that was 7 keys; Ctrl+O Enter is 2")),
        ("ctrl+o \"b.txt\" enter", None),
        ("ctrl+o enter", None),
        ("ctrl+pgdn ctrl+pgdn ctrl+pgdn ctrl+pgdn right", Some("that was 4 keys; Ctrl+O Enter is 2")),
        ("ctrl+pgdn ctrl+pgdn right", None),
    ] {
        let mut app = with_files();
        press(&mut app, keys);
        assert_eq!(app.context.learning.speaking.hint(), expected, "{keys}");
    }
}

#[test]
fn the_coach_says_one_thing_and_counts_the_rest() {
    let mut app = app_on("a.txt", &log(40), "1:1");
    press(&mut app, "4*alt+f esc 5*alt+s right");
    assert_eq!(app.context.learning.speaking.last(), Some("cursors-one-by-one"));
    assert!(!app.context.learning.counting.rest().is_empty());
    press(&mut app, "ctrl+l \"coach-quiet\" enter");
    assert_eq!(app.message(), Some("the coach does not speak of cursors one by one any more"));
    assert_eq!(app.context.learning.speaking.hint(), None);
}

#[test]
fn a_coach_that_is_off_says_nothing_and_a_large_text_is_not_tried_on() {
    let mut app = app_on("a.txt", &log(40), "1:1");
    app.context.settings.coaches = false;
    press(&mut app, "9*down right");
    assert_eq!(app.context.learning.speaking.last(), None);
    let mut app = app_on("a.txt", &log(200_000), "1:1");
    press(&mut app, "9*down right");
    assert_eq!(app.context.learning.speaking.last(), None);
}

#[test]
fn keys_that_come_faster_than_frames_are_judged_all_the_same() {
    let mut app = app_on("a.txt", &log(40), "3:4");
    for step in script::parse("home shift+end ctrl+c end enter ctrl+v right right").unwrap() {
        app.prepare(&step);
        app.act(&step);
    }
    app.settle_background();
    assert_eq!(app.context.learning.speaking.hint(), Some("that was 6 keys; Alt+D is 1"));
}

#[test]
fn lines_written_letter_by_letter_are_counted_once_and_taking_back_changes_none() {
    let folder = tempfile::tempdir().unwrap();
    let mut app = app_on("a.txt", &log(40), "1:1");
    let file = folder.path().join("ledger.sqlite");
    app.context.workspace.keep_ledger(&file);
    press(&mut app, "alt+f \"ebb\" ctrl+z ctrl+y esc alt+s alt+s");
    let rest = app.context.learning.counting.rest();
    app.context.workspace.add_to_ledger(rest);
    app.context.workspace.end_ledger();
    let report = snarvel_ledger::Ledger::open(&file).unwrap().0.report("").unwrap();
    assert_eq!(report.lines, 2 + 2 + 2, "two lines typed on, and two that each carry changes, twice");
}
