//! Cursors over files, echo and rehearsal where files vanish, cannot be written or are very large.

use snarvel_core::units::{Byte, Span};
use snarvel_ui::app::{App, Event};
use snarvel_ui::keys::Key;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::command::Command;
use snarvel_workspace::convoy::gathering::Places;
use snarvel_workspace::project::Project;
use snarvel_workspace::workspace::Workspace;
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

/// An application in a folder with `count` files that each begin with `ebb`.
fn app(folder: &Path, count: usize) -> App {
    for index in 0..count {
        std::fs::write(folder.join(format!("{index}.txt")), format!("ebb {index}\n")).unwrap();
    }
    let workspace = Workspace::new(Project::in_folder(folder));
    App::new(workspace, Palette::new(&Theme::night(), Depth::True), Size::REFERENCE)
}

fn press(app: &mut App, keys: &[&str]) {
    for key in keys {
        app.settle_background();
        app.handle(Event::Key(Key::parse(key).unwrap()), 0);
    }
    app.settle_background();
}

/// Cursors on the first word of each of the files.
fn together(app: &mut App, count: usize) {
    let place = Span::new(Byte(0), Byte(3));
    let path = |index: usize| PathBuf::from(format!("{index}.txt"));
    let files = (0..count).map(|index| (path(index), vec![place])).collect();
    app.context.workspace.begin_convoy(Places { files, chosen: (path(0), place) });
    app.pump();
    app.settle_background();
}

/// Waits until so many texts at most are not saved.
fn until_unsaved(app: &mut App, count: usize) {
    let began = Instant::now();
    while app.context.workspace.buffers().iter().filter(|buffer| buffer.is_unsaved()).count() > count {
        assert!(began.elapsed() < Duration::from_secs(20), "{}", message(app));
        if let Some(event) = app.context.workspace.tasks.receive(Duration::from_millis(50)) {
            app.context.workspace.take(event);
        }
    }
}

fn text_of(app: &App, name: &str) -> String {
    let buffer = app.context.workspace.buffers().iter().find(|buffer| buffer.name() == name);
    buffer.map(|buffer| buffer.text().to_string()).unwrap_or_default()
}

fn message(app: &App) -> String {
    app.message().unwrap_or_default().to_owned()
}

#[test]
fn a_file_that_is_gone_or_another_one_is_left_out() {
    let folder = tempfile::tempdir().unwrap();
    let mut app = app(folder.path(), 4);
    std::fs::remove_file(folder.path().join("1.txt")).unwrap();
    std::fs::write(folder.path().join("2.txt"), "e").unwrap();
    together(&mut app, 4);
    assert!(message(&app).contains("left out: 1.txt, 2.txt"), "{}", message(&app));
    assert_eq!(app.context.workspace.convoy_files(), 2);
    press(&mut app, &["f", "o", "g"]);
    assert_eq!((text_of(&app, "0.txt").as_str(), text_of(&app, "3.txt").as_str()), ("fog 0\n", "fog 3\n"));
    app.call(&Command::named("save-all"));
    until_unsaved(&mut app, 0);
    assert!(!folder.path().join("1.txt").exists());
    assert_eq!(std::fs::read_to_string(folder.path().join("2.txt")).unwrap(), "e");
}

#[test]
fn a_save_that_fails_for_one_of_ten_writes_the_others() {
    let folder = tempfile::tempdir().unwrap();
    let mut app = app(folder.path(), 10);
    together(&mut app, 10);
    press(&mut app, &["x"]);
    // In the place of one of them is a folder now.
    std::fs::remove_file(folder.path().join("4.txt")).unwrap();
    std::fs::create_dir(folder.path().join("4.txt")).unwrap();
    app.call(&Command::named("save-all"));
    until_unsaved(&mut app, 1);
    for index in (0..10).filter(|index| *index != 4) {
        assert_eq!(
            std::fs::read_to_string(folder.path().join(format!("{index}.txt"))).unwrap(),
            format!("x {index}\n")
        );
    }
    let unsaved: Vec<String> =
        app.context.workspace.buffers().iter().filter(|buffer| buffer.is_unsaved()).map(Buffer::name).collect();
    assert_eq!(unsaved, ["4.txt"]);
}

#[test]
fn a_step_is_taken_back_where_one_of_its_files_was_closed() {
    let folder = tempfile::tempdir().unwrap();
    let mut app = app(folder.path(), 3);
    together(&mut app, 3);
    press(&mut app, &["x"]);
    app.call(&Command::named("save-all"));
    until_unsaved(&mut app, 0);
    let second = app.context.workspace.buffers().iter().find(|buffer| buffer.name() == "1.txt").unwrap().id;
    app.context.workspace.go_on(snarvel_workspace::ask::PendingExit::Close(second));
    press(&mut app, &["ctrl+z"]);
    if text_of(&app, "0.txt") != "ebb 0\n" {
        press(&mut app, &["ctrl+z"]);
    }
    assert_eq!(
        (text_of(&app, "0.txt").as_str(), text_of(&app, "2.txt").as_str()),
        ("ebb 0\n", "ebb 2\n"),
        "{}",
        message(&app)
    );
    assert_eq!(std::fs::read_to_string(folder.path().join("1.txt")).unwrap(), "x 1\n");
}

#[test]
fn echo_costs_nothing_in_endless_lines_binary_and_after_much_was_pasted() {
    let folder = tempfile::tempdir().unwrap();
    let endless = "level = gauge; ".repeat(2_000_000);
    std::fs::write(folder.path().join("endless.txt"), &endless).unwrap();
    let binary: Vec<u8> = (0..4_000_000_u32).map(|number| (number.wrapping_mul(2_654_435_761) >> 24) as u8).collect();
    std::fs::write(folder.path().join("binary.bin"), binary).unwrap();
    let mut app = app(folder.path(), 1);
    app.context.workspace.start_echo();
    for name in ["endless.txt", "binary.bin", "0.txt"] {
        app.context.workspace.open(Path::new(name));
        press(&mut app, &["end"]);
        let began = Instant::now();
        for key in ["x", "left", "y", "home", "z", "ctrl+z", "backspace"] {
            app.handle(Event::Key(Key::parse(key).unwrap()), 0);
        }
        assert!(began.elapsed() < Duration::from_secs(8), "{name}: {:?}", began.elapsed());
    }
    let began = Instant::now();
    app.handle(Event::Paste("depth_a = gauge(\"A\")\n".repeat(1_000_000)), 0);
    app.handle(Event::Key(Key::parse("x").unwrap()), 0);
    app.settle_background();
    assert!(began.elapsed() < Duration::from_secs(30), "{:?}", began.elapsed());
}

#[test]
fn a_rehearsal_that_would_not_fit_into_the_memory_is_refused() {
    let folder = tempfile::tempdir().unwrap();
    std::fs::write(folder.path().join("large.txt"), "level = gauge + 1;\n".repeat(100_000)).unwrap();
    let mut app = app(folder.path(), 0);
    app.context.workspace.open(Path::new("large.txt"));
    app.pump();
    app.settle_background();
    app.call(&Command::named("select-all"));
    press(&mut app, &["ctrl+space", "9", "9", "9", "9", "%", "d"]);
    assert!(message(&app).contains("would make"), "{}", message(&app));
    let before = app.context.workspace.active().text().len();
    press(&mut app, &["esc"]);
    assert_eq!(app.context.workspace.active().text().len(), before);
}
