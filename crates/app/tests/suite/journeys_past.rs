//! The real program in a terminal: the past of files over restarts.

use crate::support::Terminal;

/// A terminal in which a file was edited in three steps, saved after the second and the third, and left.
fn yesterday() -> Terminal {
    let terminal = Terminal::with(&[("tide.txt", "ebb\nflow\nslack\n")]);
    terminal.start("tide.txt").type_text("one ").keys(&["Down", "M-d", "C-s"]).shows("saved");
    terminal.keys(&["C-End"]).type_text("last").keys(&["C-s"]).shows("saved").keys(&["C-q"]).ended(0);
    assert_eq!(terminal.file("tide.txt"), "one ebb\nflow\nflow\nslack\nlast");
    terminal
}

#[test]
fn steps_of_yesterday_are_taken_back_today() {
    let today = yesterday().again();
    today.start("tide.txt").shows("last").keys(&["C-z"]).until("the last one gone", |screen| !screen.contains("last "));
    today
        .keys(&["C-z", "C-z"])
        .until("the first text", |screen| !screen.contains("one ebb"))
        .keys(&["C-z"])
        .shows("nothing to undo");
    today.keys(&["C-y", "C-y"]).until("two lines", |screen| screen.matches("flow").count() == 2);
    // The trail marks the saves, and a step of yesterday is gone to.
    today
        .keys(&["C-t"])
        .shows("was saved")
        .until("all steps", |screen| screen.contains("duplicate") && screen.contains("type text"));
    today.keys(&["Up", "Enter"]).shows("last").keys(&["C-s"]).shows("saved");
    assert_eq!(today.file("tide.txt"), "one ebb\nflow\nflow\nslack\nlast");
}

#[test]
fn selected_lines_are_taken_as_they_were() {
    let today = yesterday().again();
    today.start("tide.txt").shows("last").keys(&["C-Home", "S-End", "C-t"]).shows("was saved");
    today.keys(&["End", "Tab"]).shows("1 line taken from then").keys(&["C-s"]).shows("saved");
    assert_eq!(today.file("tide.txt"), "ebb\nflow\nflow\nslack\nlast");
}

#[test]
fn a_killed_program_has_kept_what_was_saved() {
    let terminal = Terminal::with(&[("tide.txt", "ebb\n")]);
    terminal.start_in_shell("tide.txt").type_text("a").keys(&["C-s"]).shows("saved");
    terminal.until("the past to be kept", |_| {
        std::fs::read_dir(terminal.own("state/snarvel/past")).is_ok_and(|files| files.count() == 1)
    });
    terminal.signal_below("KILL").prompts();
    let again = terminal.again();
    again
        .start("tide.txt")
        .shows("aebb")
        .keys(&["C-z"])
        .until("the step taken back", |screen| !screen.contains("aebb"));
}

#[test]
fn what_others_did_meanwhile_is_one_step() {
    let before = yesterday();
    std::fs::write(before.path("tide.txt"), "one ebb\nother\nflow\nslack\nlast").unwrap();
    let today = before.again();
    today.start("tide.txt").shows("other").keys(&["C-z"]).until("what it was", |screen| !screen.contains("other"));
    today.shows("changed outside").keys(&["C-z"]).until("the step before", |screen| !screen.contains("last "));
}

#[test]
fn a_damaged_past_is_put_aside_and_is_not_in_the_way() {
    let before = yesterday();
    let folder = before.own("state/snarvel/past");
    let file = std::fs::read_dir(&folder).unwrap().next().unwrap().unwrap().path();
    std::fs::write(&file, "snarvel past 1\nnonsense").unwrap();
    let today = before.again();
    today.start("tide.txt").shows("it was put aside").type_text("x").keys(&["C-s"]).shows("saved");
    assert!(today.file("tide.txt").starts_with("xone"));
    // What must not be kept is not.
    std::fs::write(before.path("key.env"), "secret\n").unwrap();
    let settings = before.own("config/snarvel/settings.toml");
    std::fs::write(&settings, "servers = \"off\"\npast = [\"*.env\"]\n").unwrap();
    today.keys(&["C-q"]).ended(0);
    let last = Terminal::again(&today);
    last.start("key.env").type_text("x").keys(&["C-s"]).shows("saved").keys(&["C-q"]).ended(0);
    let names: Vec<String> = std::fs::read_dir(&folder)
        .unwrap()
        .map(|entry| entry.unwrap().file_name().to_string_lossy().into_owned())
        .collect();
    assert!(names.iter().all(|name| !name.starts_with("key")), "{names:?}");
}

#[test]
fn where_nothing_can_be_kept_that_is_said_once_and_saving_goes_on() {
    let terminal = Terminal::with(&[("tide.txt", "ebb\n")]);
    std::fs::create_dir_all(terminal.own("state/snarvel")).unwrap();
    std::fs::write(terminal.own("state/snarvel/past"), "no folder").unwrap();
    terminal.start("tide.txt").type_text("x").keys(&["C-s"]).shows("tide.txt is not kept:");
    assert_eq!(terminal.file("tide.txt"), "xebb\n");
    terminal.type_text("y").keys(&["C-s"]).shows("saved tide.txt");
    assert_eq!(terminal.file("tide.txt"), "xyebb\n");
}
