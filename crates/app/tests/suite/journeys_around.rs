//! What people do around the text, in the real program in a real terminal: find, go, open, look up, bind, come back.

use crate::support::{Terminal, run};

const GAUGES: &str = "fn read(level: i32) -> i32 {\n    // the level\n    let low = level - 1;\n    low + level\n}\n\nfn other(level: i32) {}\n";

#[test]
fn find_see_and_replace_in_a_file() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES)]);
    terminal.start("gauges.rs").keys(&["C-f"]).type_text("level").shows("1 of 5").shows("comments 1");
    terminal.keys(&["M-3"]).shows("1 of 4").keys(&["Tab"]).type_text("height");
    terminal.shows("levelheight").keys(&["Enter"]).shows("replaced one, 3 left").keys(&["M-Enter"]);
    terminal.shows("replaced 3 hits").keys(&["C-s"]);
    let replaced = GAUGES.replace("level", "height").replace("the height", "the level");
    terminal.until_file("gauges.rs", &replaced);
    terminal.keys(&["C-z", "C-z", "C-s"]).until_file("gauges.rs", GAUGES);
}

#[test]
fn hits_become_cursors_and_an_expression_says_what_is_wrong() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES)]);
    terminal.start("gauges.rs").keys(&["C-f", "M-e"]).type_text("le(vel").shows("character 3: unclosed group");
    terminal.type_text("|w)").shows("1 of 5");
    terminal.keys(&["Down"]).shows("2 of 5").keys(&["M-b"]).shows("5 cursors").type_text("tide").keys(&["C-s"]);
    terminal.until_file("gauges.rs", &GAUGES.replace("level", "tide"));
    // The pattern is remembered, and Esc leaves everything as it was.
    terminal.escape().shows("given up").keys(&["C-f"]).shows("le(vel|w)").escape();
    terminal.until("sift gone", |screen| !screen.contains("Alt+E"));
}

#[test]
fn find_and_replace_in_the_project_and_take_it_back() {
    let files =
        [("a.rs", "let tide = 1;\n"), ("b.py", "tide = 2 # tide\n"), ("c.log", "tide\n"), (".gitignore", "*.log\n")];
    let terminal = Terminal::with(&files);
    std::fs::create_dir(terminal.path(".git")).unwrap();
    terminal.start("a.rs").keys(&["C-f", "C-f"]).type_text("tide").shows("3 hits in 2 files");
    // From hit to hit, never to the name of a file.
    terminal.keys(&["Down"]).shows("1 │ tide = 2").keys(&["Tab"]).type_text("ebb");
    terminal.shows("tideebb = 2 # tideebb").keys(&["M-Enter"]).shows("replaced 3 hits in 2 files, 1 of them open");
    terminal.until_file("b.py", "ebb = 2 # ebb\n");
    assert_eq!((terminal.file("a.rs"), terminal.file("c.log")), ("let tide = 1;\n".to_owned(), "tide\n".to_owned()));
    terminal.keys(&["C-z"]).shows("2 files as before").until_file("b.py", "tide = 2 # tide\n");
    // What was searched last is searched again.
    terminal.escape().until("sift gone", |screen| !screen.contains("in all files")).keys(&["C-f"]).shows("● project");
    terminal.escape().keys(&["C-q"]).ended(0);
}

#[test]
fn a_name_is_changed_where_it_is_used() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES)]);
    terminal.start("gauges.rs:1:10").keys(&["F2"]).shows("3 uses of level").type_text("mm").keys(&["C-s"]);
    let renamed = GAUGES.replacen("level", "mm", 1).replace("= level", "= mm").replace("+ level", "+ mm");
    terminal.until_file("gauges.rs", &renamed);
    terminal.keys(&["C-z", "F2"]).shows("4 uses of level in this file");
    terminal.escape().keys(&["F4"]).shows("line ");
}

#[test]
fn going_by_name_number_and_bookmark_which_stay_over_a_restart() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES)]);
    terminal.start("gauges.rs:3:5").keys(&["F5"]).shows("1 bookmark set").keys(&["C-g"]).shows("⚑ let low");
    terminal
        .type_text("oth")
        .shows("1 of 3")
        .keys(&["Enter"])
        .shows("7:1")
        .keys(&["F5", "F6"])
        .shows("bookmark 1 of 2");
    terminal.keys(&["C-g"]).type_text("2:8").shows("line 2 of 8").keys(&["Enter"]).shows("2:8");
    terminal.keys(&["C-Home"]).type_text("// first").keys(&["Enter", "C-s", "C-q"]).ended(0);
    let again = terminal.again();
    again.start("gauges.rs").keys(&["F7"]).shows("bookmark 1 of 2").shows("4:5").keys(&["C-g"]).shows("⚑ fn other");
    again.keys(&["Home", "Delete"]).until("one mark", |screen| screen.matches('⚑').count() <= 2);
}

#[test]
fn files_are_opened_by_letters_with_a_glimpse_of_them() {
    let terminal = Terminal::with(&[("tides.py", "print('tide')\n"), ("gauges.rs", GAUGES), (".hidden.txt", "h\n")]);
    terminal.start("gauges.rs").keys(&["C-o"]).shows("2 of 2").type_text("ti").shows("print('tide')");
    terminal.keys(&["C-u", "M-a"]).shows("3 of 3").shows(".hidden.txt").type_text("ti").keys(&["Enter"]);
    terminal.shows("tides.py: 1 line").keys(&["C-o"]).shows("open").keys(&["Enter"]).shows("fn read");
}

#[test]
fn a_hit_is_left_out_and_a_file_is_opened_at_a_line() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES), ("tides.py", "ebb\nflow\nslack\n")]);
    terminal.start("gauges.rs").keys(&["C-f"]).type_text("level").shows("1 of 5").keys(&["Tab"]).type_text("mm");
    terminal.keys(&["M-x"]).shows("1 of 4").keys(&["M-Enter"]).shows("replaced 4 hits").keys(&["C-s"]);
    terminal.until_file("gauges.rs", &GAUGES.replace("level", "mm").replacen("mm", "level", 1));
    terminal.keys(&["C-o"]).type_text("ti*py:3").shows("1 of").keys(&["Enter"]).shows("3:1").shows("▸   3 │ slack");
}

#[test]
fn the_folder_is_put_in_order() {
    let terminal = Terminal::with(&[("old.rs", "fn a() {}\n")]);
    terminal.start("old.rs").keys(&["F8"]).shows("old.rs  open").keys(&["F2", "C-u"]).type_text("new.rs");
    terminal.keys(&["Enter"]).shows("old.rs is new.rs now").keys(&["C-n"]).type_text("sub/").keys(&["Enter"]);
    terminal.shows("▹ sub").keys(&["C-n"]).type_text("sub/log.md").keys(&["Enter"]).shows("log.md: ");
    assert!(terminal.path("new.rs").exists() && terminal.path("sub/log.md").exists());
    terminal.keys(&["F8"]).shows("▿ sub").keys(&["DC"]).shows("move log.md to the trash?").type_text("y");
    terminal.shows("log.md is in the trash");
    assert!(!terminal.path("sub/log.md").exists());
}

#[test]
fn a_verb_is_looked_up_run_and_bound_to_a_key() {
    let terminal = Terminal::with(&[("a.txt", "b\na\nb\n")]);
    terminal.start("a.txt").keys(&["C-l"]).type_text("remove row").shows("Deletes the touched lines").keys(&["Enter"]);
    terminal.shows("1:1").keys(&["C-l", "M-d"]).shows("what Alt+d does").shows("▸ duplicate-down").keys(&["C-l"]);
    terminal.shows("what Ctrl+L does").escape().keys(&["C-a", "C-l"]).type_text("sort").keys(&["C-k", "C-i"]);
    terminal
        .shows("it writes, always")
        .keys(&["M-v"])
        .shows("runs caret-per-line; take it over")
        .type_text("y")
        .escape();
    terminal.keys(&["M-v", "C-s"]).until_file("a.txt", "a\nb\n").keys(&["C-q"]).ended(0);
    assert_eq!(std::fs::read_to_string(terminal.own("config/snarvel/keys.toml")).unwrap(), "v = \"sort-lines\"\n");
    let again = terminal.again();
    std::fs::write(again.path("a.txt"), "2\n1\n").unwrap();
    again.start("a.txt").keys(&["C-a", "M-v", "C-s"]).until_file("a.txt", "1\n2\n").keys(&["C-q"]).ended(0);
}

#[test]
fn what_was_open_comes_back_with_the_folder() {
    let terminal = Terminal::with(&[("a.rs", GAUGES), ("b.txt", "ebb\nflow\n")]);
    terminal.start("a.rs:4:5 b.txt:2:2").keys(&["C-q"]).ended(0);
    let again = terminal.again();
    again
        .start("")
        .shows("fn read")
        .shows("4:5")
        .shows("b.txt")
        .keys(&["C-NPage"])
        .shows("2:2")
        .keys(&["C-q"])
        .ended(0);
}

#[test]
fn nothing_but_the_text_is_shown_on_wish() {
    let terminal = Terminal::with(&[("a.txt", "one\ntwo\n")]);
    terminal.start("a.txt").keys(&["F9"]).until("the text at the top", |screen| screen.starts_with("one\ntwo\n"));
    terminal.keys(&["F9"]).until("everything", |screen| screen.contains("Alt+"));
}

#[test]
fn wrong_keys_are_told_and_the_doctor_names_their_lines() {
    let terminal = Terminal::with(&[("a.txt", "a\n")]);
    let config = terminal.own("config/snarvel");
    std::fs::create_dir_all(&config).unwrap();
    std::fs::write(config.join("keys.toml"), "f10 = { text = \"fog\" }\n\"ctrl+i\" = \"undo\"\n").unwrap();
    terminal.start("a.txt").shows("keys.toml line 2: ctrl+i: a terminal sends Tab for it").keys(&["F10"]).shows("foga");
    terminal.keys(&["C-z", "C-q"]).ended(0);
    let doctor = terminal.again();
    doctor.start_command(&format!("{} doctor", crate::support::snarvel()));
    doctor.shows("keys.toml line 2").shows("Alt+d").keys(&["M-d"]).shows("arrives").keys(&["Enter"]).shows("skipped");
    doctor.keys(&["M-x"]).shows("arrives as Alt+x").escape().shows("ended-1");
}

#[test]
fn sheets_are_drawn_and_a_wrong_ending_is_told() {
    let folder = tempfile::tempdir().unwrap();
    let path = |name: &str| folder.path().join(name).display().to_string();
    assert_eq!(run(&["sheet", "keys", "--out", &path("keys.pdf"), "--paper", "letter"], b"").0, 0);
    assert!(std::fs::read(path("keys.pdf")).unwrap().starts_with(b"%PDF"));
    let (code, _, error) = run(&["sheet", "keys", "--out", &path("keys.png")], b"");
    assert_eq!(code, 1);
    assert!(error.contains("neither .svg nor .pdf"), "{error}");
}

#[test]
fn open_begins_with_the_file_that_was_shown_before() {
    let names: Vec<String> = (1..=12).map(|number| format!("gauge_station_{number}.txt")).collect();
    let files: Vec<(&str, &str)> = names.iter().map(|name| (name.as_str(), "low water\n")).collect();
    let terminal = Terminal::with(&files);
    terminal.start(&names.join(" ")).shows("▸ gauge_station_1.txt").shows("more");
    terminal.keys(&["C-o"]).shows("Enter open").keys(&["Enter"]).shows("▸ gauge_station_2.txt");
    terminal.keys(&["C-o"]).shows("Enter open").keys(&["Enter"]).shows("▸ gauge_station_1.txt");
    terminal.keys(&["C-PPage"]).shows("▸ gauge_station_12.txt");
    terminal.keys(&["C-o"]).shows("Enter open").keys(&["Enter"]).shows("▸ gauge_station_1.txt");
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn bookmarks_are_gone_through_and_listed_over_files() {
    let files = [("gauges.rs", GAUGES), ("tides.py", "ebb\nflow\nslack\n"), ("notes.txt", "low\nhigh\n")];
    let terminal = Terminal::with(&files);
    terminal.start("gauges.rs:2 tides.py:2 notes.txt:2").keys(&["F5"]).shows("1 bookmark set");
    terminal.keys(&["C-NPage"]).shows("▸ tides.py").keys(&["F5"]).shows("1 bookmark set");
    terminal.keys(&["C-NPage"]).shows("▸ notes.txt").keys(&["F5"]).shows("1 bookmark set");
    terminal.keys(&["F7"]).shows("bookmark 1 of 3: gauges.rs").keys(&["F6"]).shows("bookmark 3 of 3: notes.txt");
    // A closed file keeps its bookmark.
    terminal.keys(&["C-w"]).shows("▸ tides.py").keys(&["F7"]).shows("bookmark 3 of 3: notes.txt").shows("2:1");
    terminal.keys(&["C-w"]).shows("▸ tides.py");
    terminal.keys(&["C-l"]).type_text("bookmarks").keys(&["Enter"]).shows("flow").shows("notes.txt:2");
    terminal.type_text("hi").shows("1 of 3").keys(&["Delete"]).shows("0 of 2").shows("no bookmark matches");
    terminal.keys(&["C-u"]).shows("2 of 2").keys(&["Home", "Enter"]).shows("▸ gauges.rs").shows("2:");
    terminal.keys(&["C-l"]).type_text("drop-all-bookmarks").keys(&["Enter"]).shows("2 bookmarks cleared");
    terminal.keys(&["F7"]).shows("there is no bookmark").keys(&["C-q"]).ended(0);
}
