//! What must not get lost: crashes, signals, files that others change, rights, in the real program in a real terminal.

use crate::support::Terminal;
use std::os::unix::fs::PermissionsExt;

#[test]
fn what_a_killed_program_had_is_offered_looked_at_and_taken() {
    let terminal = Terminal::with(&[("log.txt", "ebb\nflow\nslack\n")]);
    terminal.start("log.txt:2:1").type_text("high ").shows("high flow").signal("KILL").ended_somehow();
    let again = terminal.again();
    again.start("log.txt").shows("log.txt was edited and not saved").shows("− flow").shows("+ high flow");
    again.type_text("t").shows("what was left behind is here").shows("high flow").keys(&["C-s"]);
    again
        .until_file("log.txt", "ebb\nhigh flow\nslack\n")
        .keys(&["C-z"])
        .until("ebb flow", |screen| !screen.contains("high"));
    again.signal("KILL").ended_somehow();
    // After a save only what came after it is left: here, that it was taken back.
    let third = again.again();
    third.start("log.txt").shows("+ flow").type_text("d").shows("thrown away").keys(&["C-q"]).ended(0);
    let fourth = third.again();
    fourth.start("log.txt").shows("log.txt: 3 lines").keys(&["C-q"]).ended(0);
    assert_eq!(std::fs::read_dir(terminal.own("state/snarvel/journals")).unwrap().count(), 0);
}

#[test]
fn the_terminal_is_put_back_whatever_ends_the_program() {
    for signal in ["KILL", "ABRT"] {
        let terminal = Terminal::with(&[("log.txt", "ebb\n")]);
        terminal.start("log.txt").type_text("low ").shows("low ebb").signal(signal).ended_somehow();
        // Out of the program's screen, with a cursor, without the mouse; what is typed is echoed, then given back by cat.
        terminal.until("the terminal as it was", |_| {
            terminal.flag("#{alternate_on} #{cursor_flag} #{mouse_any_flag}") == "0 1 0"
        });
        terminal.type_text("tide").keys(&["Enter"]).until("the echo", |screen| screen.matches("tide").count() == 2);
    }
}

#[test]
fn a_signal_keeps_what_was_edited_and_a_changed_file_is_told() {
    let terminal = Terminal::with(&[("log.txt", "ebb\n")]);
    terminal.start("log.txt").type_text("low ").shows("low ebb").signal("TERM").ended(143);
    std::fs::write(terminal.path("log.txt"), "neap\n").unwrap();
    let again = terminal.again();
    again.start("log.txt").shows("and the file has changed since").shows("+ low ebb");
    // Esc right before the terminal's answer to what it can do would be a part of that: first a key that is taken in.
    again.keys(&["Down"]).until("the rows moved", |screen| !screen.contains("− neap")).escape().shows("neap");
    // Asked again the next time, for nothing was decided.
    again.keys(&["C-q"]).ended(0);
    let third = again.again();
    third.start("log.txt").shows("+ low ebb").type_text("t").shows("low ebb").keys(&["C-z"]).shows("neap");
}

#[test]
fn two_programs_notice_each_other_by_whatever_link_a_file_is_opened() {
    let terminal = Terminal::with(&[("log.txt", "ebb\n")]);
    std::os::unix::fs::symlink("log.txt", terminal.path("link.txt")).unwrap();
    terminal.start("link.txt").type_text("low ").shows("low ebb");
    terminal.again().start("log.txt").shows("another Snarvel (process");
    terminal.signal("KILL").ended_somehow();
    terminal.again().start("log.txt").shows("+ low ebb");
}

#[test]
fn that_edits_are_not_kept_is_said_until_they_are() {
    let terminal = Terminal::with(&[("log.txt", "ebb\n")]);
    // A file where the folder of journals is to be.
    let folder = terminal.own("state/snarvel/journals");
    std::fs::create_dir_all(folder.parent().unwrap()).unwrap();
    std::fs::write(&folder, "").unwrap();
    terminal
        .start("log.txt")
        .shows("▲ edits are not kept: no folder for journals, file exists")
        .type_text("low ")
        .shows("low ebb");
    terminal.keys(&["Down"]).shows("▲ edits are not kept");
    std::fs::remove_file(&folder).unwrap();
    terminal.until("kept again", |screen| screen.contains("low ebb") && !screen.contains("not kept"));
    terminal.signal("KILL").ended_somehow();
    terminal.again().start("log.txt").shows("+ low ebb").type_text("t").shows("low ebb");
}

#[test]
fn a_text_without_a_name_comes_back() {
    let terminal = Terminal::with(&[("a.txt", "a\n")]);
    terminal.start("a.txt").keys(&["C-n"]).shows("new text").type_text("thick fog").shows("thick fog");
    terminal.signal("KILL").ended_somehow();
    let again = terminal.again();
    again.start("a.txt").shows("a text without a name was left behind").shows("thick fog").keys(&["C-q"]);
    again.shows("new text has changes").type_text("d").ended(0);
}

#[test]
fn a_text_that_got_a_name_comes_back_by_that() {
    let terminal = Terminal::with(&[("a.txt", "a\n")]);
    terminal.start("a.txt").keys(&["C-n"]).shows("new text").type_text("thick fog").keys(&["C-s"]).shows("save as");
    terminal.type_text("fog.txt").keys(&["Enter"]).until_file("fog.txt", "thick fog");
    terminal.shows("saved fog.txt").type_text(" bank").shows("thick fog bank").signal("KILL").ended_somehow();
    let again = terminal.again();
    again.start("fog.txt").shows("+ thick fog bank").type_text("t").shows("thick fog bank");
}

#[test]
fn what_came_by_a_pipe_comes_back() {
    let terminal = Terminal::with(&[("in.txt", "ebb\nflow\n")]);
    terminal.start_command(&format!("cat in.txt | {} - > out.txt", crate::support::snarvel()));
    terminal.shows("standard input").type_text("high ").shows("high ebb").signal("KILL").ended_somehow();
    let again = terminal.again();
    again.start("in.txt").shows("a text without a name was left behind").shows("high ebb").shows("flow");
}

#[test]
fn a_killed_program_leaves_its_bookmarks_and_its_session() {
    let terminal = Terminal::with(&[("log.txt", "ebb\nflow\n"), ("fog.txt", "fog\n")]);
    terminal.start("fog.txt log.txt:2:1").shows("fog").keys(&["C-NPage"]).shows("flow").keys(&["F5"]);
    terminal.shows("1 bookmark set").until_kept("bookmarks.json", "flow").signal("KILL").ended_somehow();
    let again = terminal.again();
    again.start("").shows("flow").shows("⚑").keys(&["C-NPage"]).shows("fog");
}

#[test]
fn two_programs_on_one_file_notice_each_other_and_nothing_is_overwritten_unasked() {
    let terminal = Terminal::with(&[("log.txt", "ebb\nflow\n")]);
    terminal.start("log.txt").type_text("mine ").shows("mine ebb");
    let other = terminal.again();
    other.start("log.txt").shows("another Snarvel (process").type_text("yours ").keys(&["C-s"]).shows("saved log.txt");
    terminal.shows("was changed by another program, too").shows("≠ disk").keys(&["C-s"]).shows("− mine ebb");
    terminal.shows("+ yours ebb").escape().until("the question gone", |screen| !screen.contains("+ yours"));
    assert_eq!(terminal.file("log.txt"), "yours ebb\nflow\n");
    terminal.keys(&["C-s"]).shows("− mine ebb").type_text("w").until_file("log.txt", "mine ebb\nflow\n");
    // The other one has changed nothing since: it takes over what the file holds.
    other.shows("taken over").shows("mine ebb").keys(&["C-z"]).shows("yours ebb");
    other.keys(&["C-y", "Home"]).type_text("x").shows("xmine");
    std::fs::write(terminal.path("log.txt"), "third\n").unwrap();
    other.shows("too: Ctrl+S shows both").keys(&["C-s"]).shows("+ third").type_text("t").shows("third");
    other.keys(&["C-z"]).shows("xmine");
}

#[test]
fn a_file_that_is_gone_is_written_again() {
    let terminal = Terminal::with(&[("log.txt", "ebb\n")]);
    terminal.start("log.txt").shows("log.txt: 1 line");
    std::fs::remove_file(terminal.path("log.txt")).unwrap();
    terminal.shows("gone from the disk").keys(&["C-q"]).shows("has changes").escape();
    terminal
        .until("no question", |screen| !screen.contains("has changes"))
        .keys(&["C-s"])
        .until_file("log.txt", "ebb\n");
}

#[test]
fn a_protected_file_is_written_after_a_question_and_stays_protected() {
    let terminal = Terminal::with(&[("log.txt", "ebb\n")]);
    let path = terminal.path("log.txt");
    std::fs::set_permissions(&path, std::fs::Permissions::from_mode(0o444)).unwrap();
    terminal.start("log.txt").shows("read-only").type_text("x").keys(&["C-s"]).shows("its rights say").type_text("y");
    terminal.until_file("log.txt", "xebb\n");
    assert_eq!(std::fs::metadata(&path).unwrap().permissions().mode() & 0o777, 0o444);
}

#[test]
fn stopped_and_back_again() {
    // As Ctrl+Z does in other programs, and without a chance to put the terminal back.
    for signal in ["TSTP", "STOP"] {
        let terminal = Terminal::with(&[("log.txt", "ebb\n")]);
        terminal.start_in_shell("log.txt").type_text("low ").shows("low ebb").signal_below(signal);
        terminal.until("the shell", |screen| screen.contains("Stopped") || screen.contains("stopped"));
        terminal.type_text("fg").keys(&["Enter"]).shows("low ebb").shows("WRITE").type_text("tide ");
        terminal.shows("low tide ebb").keys(&["C-s"]).until_file("log.txt", "low tide ebb\n");
    }
}

#[test]
fn without_a_terminal_a_home_or_rights_it_says_so_or_works_on() {
    let terminal = Terminal::with(&[("log.txt", "ebb\n")]);
    let snarvel = crate::support::snarvel();
    let (code, _, error) = crate::support::run(&["log.txt"], b"");
    assert_eq!(code, 1);
    assert!(error.contains("no terminal"), "{error}");
    // No home, no TERM.
    terminal.start_command(&format!("env -u HOME -u XDG_CONFIG_HOME -u XDG_STATE_HOME -u TERM {snarvel} log.txt"));
    terminal.shows("log.txt: 1 line").type_text("x").keys(&["C-s"]).until_file("log.txt", "xebb\n").keys(&["C-q"]);
    terminal.ended(0);
    // A state folder that cannot be made.
    let again = terminal.again();
    std::fs::write(terminal.own("state"), "a file").unwrap();
    again
        .start("log.txt")
        .type_text("y")
        .keys(&["C-s"])
        .until_file("log.txt", "yxebb\n")
        .keys(&["C-q"])
        .shows("ended-");
}

#[test]
fn a_full_disk_keeps_the_old_bytes_and_says_so() {
    let terminal = Terminal::with(&[("log.txt", "ebb\n")]);
    // Nothing may be written that is longer than a block of 512 bytes.
    terminal.start_command(&format!("ulimit -f 1; trap '' XFSZ; {} log.txt", crate::support::snarvel()));
    terminal.shows("WRITE").paste(&"fog ".repeat(2_000)).shows("fog fog").keys(&["C-s"]);
    terminal.shows("cannot be written").shows("the file is as it was");
    // Nor is there room for the journal.
    terminal.shows("▲ not kept");
    assert_eq!(terminal.file("log.txt"), "ebb\n");
}

#[test]
fn a_large_file_is_read_while_it_comes_and_edited_when_it_is_there() {
    let line = "level_mm reads the gauge on the pilot quay\n";
    let text = line.repeat((40 << 20) / line.len());
    let terminal = Terminal::with(&[("long.txt", &text)]);
    let lines = text.lines().count();
    terminal.start(&format!("long.txt:{lines}:1")).shows(&format!("long.txt: {lines} lines"));
    terminal.shows(&format!("{lines}:1")).type_text("x").keys(&["C-s"]).shows("saved long.txt");
    let saved = terminal.file("long.txt");
    assert!(saved.len() == text.len() + 1 && saved.ends_with(&format!("\nx{line}")));
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn another_file_is_not_written_over_unasked() {
    let terminal = Terminal::with(&[("log.txt", "ebb\n"), ("old.txt", "flow\n")]);
    terminal
        .start("log.txt")
        .keys(&["C-l"])
        .type_text("save-as")
        .keys(&["Enter"])
        .shows("save as")
        .type_text("old.txt");
    terminal.keys(&["Enter"]).shows("is there already").shows("+ flow").escape();
    terminal.until("the question gone", |screen| !screen.contains("is there already"));
    assert_eq!(terminal.file("old.txt"), "flow\n");
    terminal
        .keys(&["C-l"])
        .type_text("save-as")
        .keys(&["Enter"])
        .shows("save as")
        .type_text("old.txt")
        .keys(&["Enter"]);
    terminal.shows("is there already").type_text("y").until_file("old.txt", "ebb\n").shows("▸ old.txt");
}

#[test]
fn a_terminal_that_vanishes_takes_no_work_along() {
    let terminal = Terminal::with(&[("log.txt", "ebb\n")]);
    terminal.start("log.txt").type_text("low ").shows("low ebb").vanishes();
    let again = terminal.again();
    again.start("log.txt").shows("+ low ebb").type_text("t").shows("low ebb").keys(&["C-s"]);
    again.until_file("log.txt", "low ebb\n");
}
