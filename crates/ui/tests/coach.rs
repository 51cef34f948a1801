//! The coach: for each pattern keys after which it must speak, with what it says, and keys after which it must not. What it says is
//! true: it was tried, and here it is tried once more.

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
    let project = Project { writing: Writing::Nothing, trust: Trust::Nothing, ..Project::in_folder(Path::new("/skerry")) };
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

fn text_of(app: &App) -> String {
    app.context.workspace.active().text().to_string()
}

/// A text of so many lines.
fn log(lines: usize) -> String {
    (1..=lines).map(|line| format!("buoy {line} lit\n")).collect()
}

const RUST: &str = "fn ebb(level: i32) -> i32 {\n    let low = level - 1;\n    low\n}\n\nfn flow(level: i32) -> i32 {\n    level + 1\n}\n";

/// Pattern, file, text, place, keys after which it speaks, what it says, keys after which it does not.
type Row = (&'static str, &'static str, &'static str, &'static str, &'static str, &'static str, &'static str);

const ROWS: &[Row] = &[
    ("right-to-word", "a.txt", "buoy lit\n", "1:1", "4*right down", "that was 4 keys; Alt+l is 1", "3*right down"),
    ("left-to-word", "a.txt", "buoy lit\n", "1:9", "3*left down", "that was 3 keys; Alt+o is 1", "2*left down"),
    ("right-to-line-end", "a.txt", "a-b-c-d\n", "1:1", "7*right up", "that was 7 keys; End is 1", "5*right up"),
    ("left-to-line-start", "a.txt", "a-b-c-d\n", "1:8", "7*left down", "that was 7 keys; Home is 1", "5*left down"),
    ("down-to-block", "a.rs", RUST, "1:1", "5*down right", "that was 5 keys; Alt+h is 1", "3*down right"),
    ("up-to-block", "a.rs", RUST, "6:1", "5*up right", "that was 5 keys; Alt+y is 1", "3*up right"),
];

#[test]
fn each_pattern_speaks_where_it_is_true_and_is_silent_where_it_is_not() {
    let mut wrong = String::new();
    for (pattern, file, text, at, speaks, said, silent) in ROWS {
        let mut app = app_on(file, text, at);
        press(&mut app, speaks);
        let speaking = &app.context.learning.speaking;
        if (speaking.last(), speaking.hint()) != (Some(pattern), Some(said)) {
            wrong += &format!("{pattern}: {speaks}: {:?} {:?}\n", speaking.last(), speaking.hint());
        }
        let mut app = app_on(file, text, at);
        press(&mut app, silent);
        if app.context.learning.speaking.last() == Some(pattern) {
            wrong += &format!("{pattern}: {silent}: {:?}\n", app.context.learning.speaking.hint());
        }
    }
    for pattern in &patterns().all {
        if !ROWS.iter().any(|row| row.0 == pattern.name) {
            wrong += &format!("{} has no row\n", pattern.name);
        }
    }
    assert!(wrong.is_empty(), "{wrong}");
}
