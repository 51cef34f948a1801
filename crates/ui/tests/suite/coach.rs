//! The coach: for each pattern keys after which it must speak, with what it says, and keys after which it must not. What it says is
//! tried once more, by pressing the keys that it names in the place of those that it speaks of.

mod rows;

use crate::support::{press, take};
use rows::ROWS;
use snarvel_core::coach::patterns;
use snarvel_core::text::Text;
use snarvel_core::text::place::{LineColumn, Place};
use snarvel_files::load::{Encoding, Loaded};
use snarvel_ui::app::App;
use snarvel_ui::keys::script::{self, ScriptStep};
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

/// A text of so many lines.
fn log(lines: usize) -> String {
    (1..=lines).fold(String::new(), |text, line| text + &format!("buoy {line} lit\n"))
}

#[test]
fn each_pattern_speaks_where_it_is_true_and_is_silent_where_it_is_not() {
    let mut wrong = Vec::new();
    for (pattern, file, text, at, speaks, said, silent) in ROWS {
        let text = &text_of(text);
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

/// The text of a row: as it is, or so many lines of a log.
fn text_of(text: &str) -> String {
    text.strip_prefix("LOG").map_or_else(|| text.to_owned(), |lines| log(lines.parse().unwrap()))
}

/// The keys that a hint names, as a script; none where it says only that something is typed.
fn script_of(hint: &str) -> Option<String> {
    let keys = hint.split_once("; ")?.1.rsplit_once(" is ")?.0;
    let token = |word: &str| match word {
        "…" => None,
        digits if digits.len() > 1 && digits.bytes().all(|byte| byte.is_ascii_digit()) => Some(format!("\"{digits}\"")),
        key => Some(key.to_lowercase()),
    };
    keys.split(' ').map(token).collect::<Option<Vec<String>>>().map(|tokens| tokens.join(" "))
}

/// The text, and the ends of all selections.
fn state(app: &App) -> (String, Vec<[usize; 2]>) {
    let (buffer, view) = (app.context.workspace.active(), app.context.workspace.view());
    (buffer.text().to_string(), view.cursors().iter().map(|each| [each.start().0, each.end().0]).collect())
}

#[test]
fn the_keys_that_it_names_give_what_was_done() {
    let mut wrong = Vec::new();
    for (pattern, file, text, at, speaks, said, _) in ROWS {
        // A verb that was looked up counts as fewer keys than were pressed.
        let Some(keys) = script_of(said).filter(|_| !speaks.contains("ctrl+l")) else { continue };
        let (steps, keys) = (script::parse(speaks).unwrap(), script::parse(&keys).unwrap());
        let after = |all: [&[ScriptStep]; 2]| {
            let mut app = app_on(file, &text_of(text), at);
            all.concat().iter().for_each(|step| take(&mut app, step));
            state(&app)
        };
        // Somewhere in the script there is a stretch of as many keys in the place of which the named ones can be pressed.
        let count: usize = said.split_whitespace().nth(2).unwrap().parse().unwrap();
        let is_same = |end: usize| {
            let before = &steps[..end - count];
            let (from, to, found) = (after([before, &[]]), after([&steps[..end], &[]]), after([before, &keys]));
            // Where text was changed its bytes count, else the places.
            if from.0 == to.0 { found == to } else { found.0 == to.0 }
        };
        if !(count..=steps.len()).any(is_same) {
            wrong.push(format!("{pattern}: {said}: {speaks}"));
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
    press(&mut app, "alt+f \"ebb\" ctrl+z ctrl+y esc 9*down alt+s alt+s");
    let rest = app.context.learning.counting.rest();
    app.context.workspace.add_to_ledger(rest);
    app.context.workspace.end_ledger();
    let report = snarvel_ledger::Ledger::open(&file).unwrap().0.report("").unwrap();
    assert_eq!(report.lines, 2 + 2 + 2, "two lines typed on, and two that each carry changes, twice");
}
