//! What people do, in the real program in a real terminal.

use crate::support::{Terminal, run};

const GAUGES: &str = "let level = 1;\nlet other = level;\nprint(level);\n";

#[test]
fn open_take_and_type_save_quit() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES)]);
    terminal.start("gauges.rs:1:6").shows("gauges.rs: 3 lines");
    terminal.keys(&["M-g"]).shows("took the word");
    terminal.keys(&["M-g", "M-g"]).shows("3 cursors");
    terminal.type_text("height").shows("print(height);");
    terminal.keys(&["C-s"]).shows("saved gauges.rs");
    terminal.until_file("gauges.rs", &GAUGES.replace("level", "height"));
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn carry_and_duplicate_lines_in_shape() {
    let terminal = Terminal::with(&[("list.txt", "one\ntwo\nthree\n")]);
    terminal.start("list.txt").keys(&["C-Space"]).shows("SHAPE");
    terminal.keys(&["s"]).shows("carried 1 line");
    terminal.keys(&["2", "d"]).shows("duplicated 1 line");
    terminal.keys(&["C-s"]).until_file("list.txt", "two\none\none\none\nthree\n");
    terminal.keys(&["C-z", "C-s"]).until_file("list.txt", "two\none\nthree\n");
    terminal.keys(&["x"]).escape().shows("WRITE").keys(&["C-s"]).until_file("list.txt", "two\nthree\n");
    terminal.keys(&["C-Space", "C-q"]).ended(0);
}

#[test]
fn comments_on_and_off_again() {
    let terminal = Terminal::with(&[("tides.py", "def level():\n    return 1\n")]);
    terminal.start("tides.py").keys(&["M-,", "M-,", "M-c"]).shows("commented 2 lines");
    terminal.shows("#     return 1").keys(&["C-s"]);
    terminal.until_file("tides.py", "# def level():\n#     return 1\n");
    terminal.keys(&["C-/"]).shows("uncommented 2 lines");
    terminal.keys(&["C-s"]).until_file("tides.py", "def level():\n    return 1\n");
}

#[test]
fn unsaved_changes_are_asked_about() {
    let terminal = Terminal::with(&[("log.txt", "fog\n")]);
    terminal.start("log.txt").type_text("dense ").shows("dense fog");
    terminal.keys(&["C-q"]).shows("not saved. What before leaving?");
    terminal.escape().until("the question gone", |screen| !screen.contains("What before"));
    terminal.keys(&["C-w"]).shows("What before closing?");
    terminal.keys(&["s"]).until_file("log.txt", "dense fog\n");
    terminal.shows("new text").type_text("x").keys(&["C-q"]).shows("new text has changes").keys(&["d"]).ended(0);
    assert_eq!(terminal.file("log.txt"), "dense fog\n");
}

#[test]
fn every_end_puts_the_terminal_back() {
    for (signal, code) in [("TERM", 143), ("HUP", 129), ("INT", 130)] {
        let terminal = Terminal::with(&[("a.txt", "a\n")]);
        terminal.start("a.txt").signal(signal).ended(code);
    }
}

#[test]
fn a_panic_puts_the_terminal_back() {
    let example = std::path::Path::new(crate::support::snarvel()).with_file_name("examples").join("panicking");
    let terminal = Terminal::with(&[]);
    terminal.start_command(&example.display().to_string());
    terminal.shows("the panic of the example").ended(101);
}

#[test]
fn a_pipe_goes_through() {
    let terminal = Terminal::with(&[("in.txt", "one\ntwo\n")]);
    terminal.start_command(&format!("cat in.txt | {} - > out.txt", crate::support::snarvel()));
    terminal.shows("standard input").keys(&["M-s"]).shows("carried 1 line").keys(&["C-q"]).ended(0);
    terminal.until_file("out.txt", "two\none\n");
}

#[test]
fn new_files_folders_and_files_without_rights() {
    let terminal = Terminal::with(&[("kept.txt", "kept\n")]);
    std::fs::create_dir(terminal.path("folder")).unwrap();
    let mut rights = std::fs::metadata(terminal.path("kept.txt")).unwrap().permissions();
    rights.set_readonly(true);
    std::fs::set_permissions(terminal.path("kept.txt"), rights).unwrap();
    terminal.start("kept.txt folder").shows("is a folder");
    terminal.type_text("not ").keys(&["C-s"]).shows("is read-only");
    assert_eq!(terminal.file("kept.txt"), "kept\n");
    terminal.escape().until("no question", |screen| !screen.contains("all the same"));
    terminal.keys(&["C-o"]).shows("Enter open").type_text("zz.txt").shows("Enter begins zz.txt");
    terminal.keys(&["Enter"]).shows("zz.txt: a new file").type_text("here").keys(&["C-s"]);
    terminal.until_file("zz.txt", "here");
}

#[test]
fn pasting_is_one_step_and_goes_in_as_it_is() {
    let terminal = Terminal::with(&[("a.txt", "")]);
    terminal.start("a.txt").paste("one\ntwo (").shows("two (");
    terminal.keys(&["C-s"]).until_file("a.txt", "one\ntwo (");
    terminal.keys(&["C-z", "C-s"]).until_file("a.txt", "");
}

#[test]
fn the_mouse_places_and_selects() {
    let terminal = Terminal::with(&[("a.txt", "fog signal\nhorn\n")]);
    let press = |button: u16, x: u16, y: u16| format!("\u{1b}[<{button};{x};{y}M");
    // The gutter is 8 cells wide, strip and rule are 2 rows: the text begins at cell 9, row 3.
    terminal.start("a.txt").type_text(&press(0, 13, 4)).shows("2:5");
    terminal.type_text(&press(0, 9, 3)).type_text(&press(32, 12, 3)).shows("3 selected");
    terminal.type_text(&press(8, 9, 4)).shows("2 cursors");
    terminal.type_text("x").keys(&["C-s"]).until_file("a.txt", "x signal\nxhorn\n");
}

#[test]
fn any_size_down_to_one_cell() {
    let terminal = Terminal::with(&[("a.txt", "fog signal\nhorn\n")]);
    terminal.start("a.txt");
    for (cols, rows) in [(60, 16), (59, 15), (20, 3), (7, 2), (1, 1), (300, 5), (142, 42)] {
        terminal.resize(cols, rows);
        terminal.keys(&["Down", "Up"]);
    }
    terminal.shows("F1 all keys").keys(&["C-q"]).ended(0);
}

#[test]
fn what_a_file_holds_does_not_reach_the_terminal() {
    let hostile = "a\u{1b}]0;owned\u{7}b\u{1b}[31mred\u{9b}2J\u{202e}x\n";
    let terminal = Terminal::with(&[("a.txt", hostile)]);
    terminal.start("a.txt").shows("a␛]0;owned␇b␛[31mred‹U+9B›2J‹U+202E›x");
    assert_ne!(terminal.flag("#{pane_title}"), "owned");
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn a_bare_copy_of_the_demo_opens() {
    let terminal = Terminal::with(&[]);
    terminal.start("demo --keep sound").shows("Skerry Sound").shows("Eight short tasks");
    assert!(terminal.path("sound/Forecast.java").exists());
    terminal.keys(&["C-o"]).shows("of 13").type_text("fogh").keys(&["Enter"]).shows("the fog signal");
    terminal.keys(&["C-q"]).ended(0);
    let folder = terminal.path("sound");
    let (code, _, error) = run(&["demo", "--keep", folder.to_str().unwrap()], b"");
    assert_eq!(code, 1);
    assert!(error.contains("is there already"), "{error}");
}

#[test]
fn without_colours_the_terminals_cursor_is_shown() {
    let terminal = Terminal::with(&[("a.txt", "fog\n")]);
    terminal.start_command(&format!("NO_COLOR=1 {} a.txt:1:3", crate::support::snarvel()));
    terminal.shows("1:3").until("the cursor", |_| terminal.flag("#{cursor_flag} #{cursor_x} #{cursor_y}") == "1 10 2");
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn an_older_clip_and_a_part_of_one_are_pasted_from_the_shelf() {
    let terminal = Terminal::with(&[("log.txt", "fog\nhorn\nbuoy light\n")]);
    terminal.start("log.txt").keys(&["C-c", "Down", "C-c", "Down", "C-c"]).shows("copied 1 line");
    terminal.keys(&["C-p"]).shows("3 of 3").shows("1 buoy light").shows("3 fog");
    terminal.type_text("ho").shows("1 of 3").keys(&["C-u"]).shows("3 of 3");
    terminal.keys(&["3"]).shows("pasted 1 line").keys(&["C-s"]);
    terminal.until_file("log.txt", "fog\nhorn\nfog\nbuoy light\n");
    // What was pasted is the newest now; into the light, past the first word, and only that word.
    terminal.keys(&["C-p"]).shows("1 fog").keys(&["Down", "Tab"]).shows("Shift+arrows");
    terminal.keys(&["C-S-Right", "Enter"]).shows("pasted 1 piece").keys(&["C-s"]);
    terminal.until_file("log.txt", "fog\nhorn\nfog\nbuoybuoy light\n");
    // Dropped from the shelf, it is not what paste puts in any more.
    terminal.keys(&["C-p"]).shows("4 of 4").keys(&["DC"]).shows("3 of 3").escape().shows("F1 all keys");
    terminal.keys(&["C-v"]).shows("pasted 1 line").keys(&["C-s"]);
    terminal.until_file("log.txt", "fog\nhorn\nfog\nfog\nbuoybuoy light\n");
    terminal.keys(&["C-q"]).ended(0);
    assert!(!terminal.own("state/snarvel/shelf.json").exists(), "the shelf is kept only where somebody wants it");
}

#[test]
fn the_shelf_is_kept_where_the_settings_say_so() {
    let terminal = Terminal::with(&[("a.txt", "fog\n"), ("b.txt", "")]);
    std::fs::create_dir_all(terminal.own("config/snarvel")).unwrap();
    std::fs::write(terminal.own("config/snarvel/settings.toml"), "keep_shelf = true\n").unwrap();
    terminal.start("a.txt").keys(&["C-c"]).shows("copied 1 line").keys(&["C-q"]).ended(0);
    let again = Terminal::with(&[("b.txt", "")]);
    std::fs::rename(terminal.own("config"), again.own("config")).unwrap();
    std::fs::rename(terminal.own("state"), again.own("state")).unwrap();
    again.start("b.txt").keys(&["C-v"]).shows("pasted 1 line").keys(&["C-s"]).until_file("b.txt", "fog\n");
}

#[test]
fn wrong_settings_are_told_and_keep_nobody_from_working() {
    let terminal = Terminal::with(&[("a.txt", "fog\n")]);
    std::fs::create_dir_all(terminal.own("config/snarvel")).unwrap();
    std::fs::write(terminal.own("config/snarvel/settings.toml"), "tab_width = 99\npairs = 1\n").unwrap();
    terminal.start("a.txt").shows("settings.toml line 1: tab_width is a number from 1 to 16");
    terminal.shows("settings.toml line 2: pairs is true or false");
    terminal.type_text("x").shows("xfog").until("the notice gone", |screen| !screen.contains("settings.toml"));
    terminal.keys(&["C-s"]).until_file("a.txt", "xfog\n");
}

#[test]
fn an_earlier_branch_is_looked_at_and_gone_to_on_the_trail() {
    let terminal = Terminal::with(&[("plan.txt", "one\ntwo\nthree\n")]);
    terminal.start("plan.txt").keys(&["M-s"]).shows("carried 1 line");
    terminal.keys(&["C-z", "M-x"]).shows("deleted 1 line").keys(&["M-d"]).shows("duplicated 1 line");
    terminal.keys(&["C-t"]).shows("as it was opened").shows("carry down").shows("4 of 4");
    // Newest first: duplicate, delete, carry on the branch that was left, the start.
    terminal.keys(&["Down", "Down"]).until("the other branch in the text", |screen| screen.contains("2 ┇ one"));
    terminal.escape().until("the text as it is", |screen| !screen.contains("as it was opened"));
    terminal.keys(&["C-s"]).until_file("plan.txt", "two\ntwo\nthree\n");
    terminal.keys(&["C-t"]).shows("saved").type_text("carry").shows("1 of 4").keys(&["Enter"]);
    terminal.shows("as it was then").keys(&["C-s"]).until_file("plan.txt", "two\none\nthree\n");
    terminal.keys(&["C-t", "Up", "Up", "Enter", "C-s"]).until_file("plan.txt", "two\ntwo\nthree\n");
}

#[test]
fn whole_lines_put_in_order_in_a_file_with_other_line_ends() {
    let terminal = Terminal::with(&[("list.txt", "buoy10\r\nbuoy9\r\n\r\nend")]);
    terminal.start("list.txt").shows("CR LF").keys(&["M-d", "M-d"]).shows("duplicated 1 line");
    terminal.keys(&["C-End", "M-w"]).shows("carried 1 line").keys(&["C-s"]);
    terminal.until_file("list.txt", "buoy10\r\nbuoy10\r\nbuoy10\r\nbuoy9\r\nend\r\n");
    terminal.keys(&["M-q"]).type_text("x").keys(&["C-s"]);
    terminal.until_file("list.txt", "buoy10\r\nbuoy10\r\nbuoy10\r\nbuoy9\r\nx\r\nend\r\n");
}

#[test]
fn back_to_where_the_caret_was_also_in_a_file_that_was_closed() {
    let long = "fog\n".repeat(60);
    let terminal = Terminal::with(&[("a.txt", &long), ("b.txt", "horn\n")]);
    terminal.start("a.txt:50").shows("50:1").keys(&["C-Home"]).shows(" 1:1");
    terminal.keys(&["M-Left"]).shows("a.txt line 50").keys(&["M-Right"]).shows("a.txt line 1");
    terminal
        .keys(&["M-Left"])
        .shows("a.txt line 50")
        .keys(&["C-o"])
        .type_text("b.tx")
        .keys(&["Enter"])
        .shows("b.txt: 1 line");
    terminal.keys(&["C-PPage"]).shows("▸ a.txt").keys(&["C-w"]).shows("▸ b.txt");
    terminal.keys(&["M-Left"]).shows("a.txt line 50").shows("50:1");
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn cursors_out_of_sight_are_seen_and_dropped_in_the_roster() {
    let text = "fog level\nhorn\n".repeat(40);
    let terminal = Terminal::with(&[("log.txt", &text)]);
    terminal.start("log.txt").keys(&["C-Space", "b"]).shows("40 cursors").shows("roster 40").shows("▼");
    terminal
        .keys(&["`"])
        .shows("40 of 40")
        .keys(&["Space"])
        .shows("39 of 40")
        .keys(&["`"])
        .shows("kept 39 cursors of 40");
    terminal.keys(&["C-Space"]).shows("WRITE").type_text("mist").keys(&["C-s"]);
    terminal.until_file("log.txt", &text.replace("fog", "mist").replacen("mist", "fog", 1));
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn pins_become_cursors_and_esc_and_recall_bring_sets_back() {
    let terminal = Terminal::with(&[("list.txt", "one\ntwo\nthree\nfour\n")]);
    terminal
        .start("list.txt")
        .keys(&["C-Space", ".", "Space"])
        .shows("1 pin")
        .keys(&["k", "k", ".", "Space"])
        .shows("2 pins");
    terminal.keys(&["Enter"]).shows("2 cursors").shows("WRITE").type_text("x").keys(&["C-s"]);
    terminal.until_file("list.txt", "x\ntwo\nx\nfour\n");
    terminal.escape().shows("1 cursor given up").keys(&["C-Space", "@"]).shows("2 cursors");
    terminal.keys(&["C-Space"]).type_text("y").keys(&["C-s"]).until_file("list.txt", "xy\ntwo\nxy\nfour\n");
}

#[test]
fn a_column_is_numbered() {
    let terminal = Terminal::with(&[("list.txt", "a 0 b\na 0 b\na 0 b\n")]);
    terminal.start("list.txt:1:3").keys(&["M-f", "M-f"]).shows("3 cursors").keys(&["S-Right"]).shows("3 selected");
    terminal.keys(&["C-x"]).shows("cut 3 pieces").keys(&["End", "C-v", "C-s"]);
    terminal.until_file("list.txt", "a  b0\na  b0\na  b0\n");
}

#[test]
fn ten_thousand_cursors() {
    let text = "level fog\n".repeat(10_000);
    let terminal = Terminal::with(&[("long.txt", &text)]);
    terminal.start("long.txt").keys(&["M-b"]).shows("10000 cursors").shows("roster 10000").type_text("mist");
    terminal.shows("mist fog").keys(&["C-s"]).until_file("long.txt", &text.replace("level", "mist"));
    terminal.keys(&["C-z", "C-s"]).until_file("long.txt", &text).keys(&["C-q"]).ended(0);
}

#[test]
fn the_tour_in_the_program() {
    let terminal = Terminal::with(&[]);
    terminal.start("demo --keep sound").shows("Eight short tasks");
    let go = |place: &str| {
        terminal.keys(&["C-g"]).type_text(place).keys(&["Enter"]).shows("of 127");
    };
    go("20");
    terminal.keys(&["M-w"]).shows("carried 1 line");
    go("30");
    // A busy machine may not know the structure yet. The keys then do less, say so, and are undone.
    let carried = || terminal.keys(&["M-W"]).until("what was carried", |screen| screen.contains("carried 1 ")).screen();
    while !carried().contains("carried 1 statement") {
        terminal.keys(&["C-z"]).shows("undid");
    }
    terminal.keys(&["M-W"]).shows("carried 1 statement");
    go("107");
    terminal.keys(&["M-,", "M-,", "M-,", "M-,", "M-,", "M-c"]).shows("commented 5 lines");
    go("44");
    terminal
        .keys(&["M-f", "M-f", "M-f", "M-f", "End"])
        .shows("5 cursors")
        .type_text(" // checked")
        .shows("1250 }, // checked");
    terminal.escape().shows("given up");
    go("37:9");
    let uses = || terminal.keys(&["F2"]).until("the uses", |screen| screen.contains("of offset_mm")).screen();
    while !uses().contains("7 uses of offset_mm") {
        go("37:9");
    }
    terminal.type_text("correction_mm").shows("pub correction_mm").escape().shows("given up");
    go("13");
    terminal
        .keys(&["C-x"])
        .shows("cut 1 line")
        .keys(&["Down", "C-v"])
        .shows("pasted 1 line")
        .keys(&["C-s"])
        .shows("saved gauges.rs");
    let text = terminal.file("sound/gauges.rs");
    for line in [
        "// fn print_raw(lines: &str) {",
        "    pub correction_mm: i32,",
        "    Missing,\n    Good,",
        "use std::fmt;\nuse std::coll",
    ] {
        assert!(text.contains(line), "{line} is not in\n{text}");
    }
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn a_function_is_found_in_the_outline_and_folded() {
    let source = "fn one() {\n    1;\n}\n\nfn two() {\n    2;\n    3;\n}\n";
    let terminal = Terminal::with(&[("a.rs", source)]);
    terminal.start("a.rs").keys(&["C-e"]).shows("fn one()").type_text("tw").shows("1 of 2");
    terminal.keys(&["Enter"]).shows("5:1").keys(&["C-Space", "("]).shows("fn two() {  … 3 lines");
    // What is folded goes along.
    terminal.keys(&["w", "w", "w", "w"]).keys(&["C-s"]);
    terminal.until_file("a.rs", "fn two() {\n    2;\n    3;\n}\nfn one() {\n    1;\n}\n\n");
    terminal.shows("fn two() {  … 3 lines").keys(&[")"]).shows("opened 1 fold").shows("    2;");
    terminal.keys(&["C-e"]).shows("2 of 2").escape().until("it gone", |screen| !screen.contains("2 of 2"));
}

#[test]
fn two_views_beside_each_other_and_one_above_the_other() {
    let terminal = Terminal::with(&[("a.txt", "fog\nhorn\n"), ("b.txt", "ebb\n")]);
    terminal.start("a.txt b.txt").shows("▸ a.txt");
    // The same text twice: what is typed at the left is there at the right, and one undo is enough.
    terminal.keys(&["S-F9"]).until("two views", |screen| screen.matches("  1 │ fog").count() == 2);
    terminal.type_text("dense ").until("both changed", |screen| screen.matches("dense fog").count() == 2);
    terminal.keys(&["M-NPage", "C-z"]).until("both as before", |screen| screen.matches("  1 │ fog").count() == 2);
    // Another text in the other view; the keys tell by a sign where they go.
    terminal
        .keys(&["C-NPage"])
        .shows("▸ b.txt")
        .until("both texts", |screen| screen.contains("fog") && screen.contains("ebb"));
    let order = |screen: &str| {
        let row = screen.lines().find(|row| row.contains("fog")).unwrap_or_default();
        row.find("fog").zip(row.find("ebb")).map(|(fog, ebb)| fog < ebb)
    };
    terminal.until("b.txt at the left", |screen| order(screen) == Some(false));
    terminal.keys(&["M-PPage"]).until("b.txt at the right", |screen| order(screen) == Some(true));
    terminal.keys(&["S-F11"]).until("one view", |screen| !(screen.contains("fog") && screen.contains("ebb")));
    terminal.keys(&["S-F8"]).until("one above the other", |screen| screen.matches("  1 │").count() == 2);
    // Under 100 columns a second view is below whatever was asked for; nothing is clipped away.
    terminal.keys(&["S-F11"]).until("one view again", |screen| screen.matches("  1 │").count() == 1);
    terminal.resize(80, 24).keys(&["S-F9"]).until("below", |screen| {
        let rows: Vec<usize> =
            screen.lines().enumerate().filter(|(_, row)| row.contains("  1 │")).map(|(y, _)| y).collect();
        rows.len() == 2 && rows[0] != rows[1]
    });
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn what_was_run_from_lookup_is_run_again() {
    let terminal = Terminal::with(&[("log.txt", "ebb\nflow\nslack\n")]);
    terminal
        .start("log.txt")
        .keys(&["C-l"])
        .type_text("repeat-lookup")
        .keys(&["Enter"])
        .shows("nothing was run from lookup yet");
    terminal
        .keys(&["C-l"])
        .type_text("lines-drop")
        .keys(&["Enter"])
        .type_text("^f")
        .keys(&["Enter"])
        .shows("deleted 1 line, 2 stay");
    terminal.keys(&["C-z"]).shows("undid: lines drop, 1 line").shows("flow");
    terminal.keys(&["C-l"]).type_text("repeat-lookup").keys(&["Enter"]).shows("deleted 1 line, 2 stay");
}
