//! What would make a text very much larger, or takes very long: asked for twice, refused, stopped.

use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_files::load::{Encoding, Loaded};
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::command::{Command, Done};
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::workspace::Workspace;
use std::path::Path;

/// A workspace with one text.
fn with_text(text: &str) -> Workspace {
    let mut workspace =
        Workspace::new(Project { writing: Writing::Nothing, ..Project::in_folder(Path::new("/sound")) });
    let loaded = Loaded { text: Text::from(text), encoding: Encoding::default(), read_only: false };
    let buffer = workspace.make_buffer(loaded, Origin::File("/sound/a.rs".into()));
    workspace.show_buffer(buffer);
    workspace
}

fn text(workspace: &Workspace) -> String {
    workspace.active().text().to_string()
}

fn run(workspace: &mut Workspace, name: &str) {
    workspace.run(&Command::named(name));
    workspace.settle();
}

/// What running `command` says.
fn said(workspace: &mut Workspace, command: &Command) -> String {
    match workspace.run(command) {
        Done::Edited(effects) => effects.message.unwrap_or_default(),
        Done::Asked(..) => String::new(),
    }
}

#[test]
fn a_count_that_would_make_a_text_huge_is_asked_for_twice() {
    let mut workspace = with_text("the duty pilot reads the gauge\n");
    let duplicate = |times| Command { count: Some(times), ..Command::named("duplicate-down") };
    let done = |workspace: &mut Workspace, times| match workspace.run(&duplicate(times)) {
        Done::Edited(effects) => effects.message.unwrap_or_default(),
        Done::Asked(..) => String::new(),
    };
    let before = text(&workspace);
    // Some bytes: done at once, and one step.
    done(&mut workspace, 1_000);
    assert_eq!(text(&workspace).len(), 1_001 * before.len());
    run(&mut workspace, "undo");
    assert_eq!(text(&workspace), before);
    let large = "x".repeat(2_000);
    workspace.run(&Command::typing(&large));
    let before = text(&workspace);
    let said = done(&mut workspace, 99_999);
    assert!(said.contains("would make the text 204 MB"), "{said}");
    assert_eq!(text(&workspace), before);
    // Another count is another question; a verb between forgets it.
    assert!(done(&mut workspace, 50_000).contains("would make"));
    run(&mut workspace, "line-end");
    assert!(done(&mut workspace, 50_000).contains("would make"));
    done(&mut workspace, 50_000);
    assert_eq!(text(&workspace).len(), 50_001 * (before.len() - 1) + 50_001);
    run(&mut workspace, "undo");
    assert_eq!(text(&workspace), before);
}

#[test]
fn what_one_press_would_put_in_is_known_before_it_is_made() {
    let mut workspace = with_text(&"x\n".repeat(1_000));
    let cursors = |workspace: &mut Workspace| {
        let (buffer, view) = workspace.active_pair_mut();
        view.set_cursors(buffer, CursorSet::of((0..1_000).map(|line| Selection::caret(Byte(2 * line))).collect(), 0));
    };
    let before = text(&workspace);
    // 70 KB at each of 1,000 cursors: pasted here, pasted in the terminal, typed.
    let large = "gauge ".repeat(12_000);
    workspace.shelf.put(Clip::of_text(&large));
    for _ in 0..2 {
        cursors(&mut workspace);
        assert_eq!(
            said(&mut workspace, &Command::named("paste")),
            "that would make the text 73 MB: once more does it, and Esc leaves it"
        );
        assert!(
            workspace
                .paste_text(&(large.clone() + "x"))
                .message
                .unwrap_or_default()
                .contains("would make the text 73 MB")
        );
        assert!(said(&mut workspace, &Command::typing(&large)).contains("would make the text 73 MB"));
        assert_eq!(text(&workspace), before);
    }
    assert!(said(&mut workspace, &Command::named("paste")).contains("would make the text 73 MB"));
    assert!(said(&mut workspace, &Command::named("paste")).starts_with("pasted"));
    assert_eq!(workspace.active().text().len(), before.len() + 1_000 * large.len());
    run(&mut workspace, "undo");
    assert_eq!(text(&workspace), before);
    // More than there is memory for is not done at all.
    let times = Command { count: Some(u32::MAX), ..Command::named("paste") };
    assert!(said(&mut workspace, &times).contains("of memory are free"));
    assert!(said(&mut workspace, &times).contains("of memory are free"));
    assert_eq!(text(&workspace), before);
}

#[test]
fn aligning_with_a_very_long_line_is_asked_for_twice() {
    let mut workspace = with_text(&("x".repeat(200_000) + &"\nx".repeat(1_000)));
    let (buffer, view) = workspace.active_pair_mut();
    let others = (0..1_000).map(|line| Byte(200_002 + 2 * line));
    let all = std::iter::once(Byte(200_000)).chain(others).map(Selection::caret);
    view.set_cursors(buffer, CursorSet::of(all.collect(), 0));
    let before = text(&workspace);
    assert!(said(&mut workspace, &Command::named("align")).contains("would make the text 201 MB"));
    assert_eq!(text(&workspace), before);
}

#[test]
fn esc_stops_what_is_done_many_times_and_nothing_has_changed() {
    let mut workspace = with_text("ebb\n");
    let times = Command { count: Some(100_000_000), ..Command::named("case-cycle") };
    workspace.tasks.stop_key.read();
    let said = said(&mut workspace, &times);
    assert!(said.starts_with("stopped at ") && said.ends_with(" of 100000000 times: nothing has changed"), "{said}");
    assert_eq!(text(&workspace), "ebb\n");
    assert!(!workspace.active().is_modified());
}
