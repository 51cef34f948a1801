//! What a person does in the first hour, in the real program in a real terminal: doors, faces of the deck, looking up, settings, the
//! tour, files as a whole.

use crate::support::Terminal;

const GAUGES: &str = "fn read(level: i32) -> i32 {\n    let low = level - 1;\n    low + level\n}\n";

fn ends_with_doors(screen: &str) -> bool {
    let last = screen.lines().rfind(|line| !line.trim().is_empty()).unwrap_or_default();
    last.contains("Ctrl+L lookup") && last.trim_end().ends_with("Ctrl+F find")
}

#[test]
fn the_doors_are_always_in_the_last_row() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES)]);
    terminal.start("gauges.rs").until("doors in Write", ends_with_doors);
    terminal.keys(&["C-Space"]).shows("each letter runs a verb").until("doors in Shape", ends_with_doors);
    for (cols, rows) in [(80, 24), (70, 24), (60, 20), (142, 42)] {
        terminal.resize(cols, rows).until("doors", ends_with_doors);
    }
    // Off is what comes after the last face: the doors are there still.
    for _ in 0..30 {
        // Each face has another last row, which is drawn last.
        let last_row = |screen: &str| screen.trim_end().lines().last().map(str::to_owned);
        let before = last_row(&terminal.screen());
        terminal.keys(&["F1"]).until("F1 to show", |screen| last_row(screen) != before);
        if terminal.screen().contains("F1 keys") {
            break;
        }
    }
    terminal.shows("F1 keys").until("doors without a deck", ends_with_doors).keys(&["C-q"]).ended(0);
}

#[test]
fn every_key_is_on_a_face_of_the_deck() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES)]);
    terminal.start("gauges.rs").shows("F1 all keys").keys(&["F1"]).shows("add match").keys(&["F1"]).shows("with Shift");
    terminal.keys(&["F1"]).shows("' surround").keys(&["F1"]).shows("with Ctrl").shows("L lookup");
    // Keys with Ctrl take two faces.
    terminal
        .keys(&["F1"])
        .shows("Space layer")
        .keys(&["F1"])
        .shows("named keys")
        .shows("F2 rename")
        .keys(&["C-q"])
        .ended(0);
    // The deck is as it was left.
    terminal.again().start("gauges.rs").shows("1 of ").keys(&["C-q"]).ended(0);
}

#[test]
fn verbs_settings_languages_and_files_are_looked_up() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES), ("notes.txt", "ebb\n")]);
    terminal.start("gauges.rs notes.txt").keys(&["C-l"]).type_text("sort-l").shows("▸ sort-lines").escape();
    terminal.keys(&["C-l"]).type_text("line num").shows("▸ line numbers").escape();
    terminal.keys(&["C-l"]).type_text("dark").shows("▸ toggle-palette").escape();
    terminal.keys(&["C-l"]).type_text("file notes").shows("▸ file notes.txt").keys(&["Enter"]).shows("▸ notes.txt");
    terminal.keys(&["C-l"]).type_text("language python").shows("▸ language Python").keys(&["Enter"]);
    terminal.shows("the text is Python now");
    // What was run last from here is the first where nothing is typed; what takes an argument asks for it.
    terminal.keys(&["C-l"]).shows("▸ language-of-file").type_text("sort-lines").keys(&["Enter"]).shows("takes desc");
    terminal.type_text("desc").keys(&["Enter"]).shows("nothing to change").keys(&["C-q"]).ended(0);
}

#[test]
fn settings_are_changed_from_inside_and_kept_with_their_comments() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES)]);
    let file = terminal.own("config/snarvel/settings.toml");
    std::fs::create_dir_all(file.parent().unwrap()).unwrap();
    std::fs::write(&file, "# mine\ntab_width = 8 # wide\n").unwrap();
    terminal.start("gauges.rs").keys(&["C-l"]).type_text("settings").keys(&["Enter"]).shows("which setting?");
    terminal.type_text("tab width").keys(&["Down"]).shows("your settings file").keys(&["Right"]).shows("changed now");
    terminal.keys(&["Enter"]).shows("tab_width: kept in");
    assert_eq!(std::fs::read_to_string(&file).unwrap(), "# mine\ntab_width = 9 # wide\n");
    // Esc leaves everything as it was.
    terminal.keys(&["C-l"]).type_text("settings").keys(&["Enter"]).type_text("line numbers").keys(&["Right"]);
    terminal.shows("relative").escape().keys(&["C-l"]).type_text("settings").keys(&["Enter"]);
    terminal.type_text("line numbers").shows("absolute").escape().keys(&["C-q"]).ended(0);
}

#[test]
fn the_guided_tour_notices_what_is_done_and_goes_on_where_it_was_left() {
    let terminal = Terminal::with(&[]);
    terminal.start("demo --tour").shows("Tour 1 of 8").keys(&["C-g"]).type_text("20").keys(&["Enter"]);
    terminal.shows("20:1").keys(&["M-w"]).shows("Done. Tour 2 of 8").keys(&["C-g"]).type_text("30").keys(&["Enter"]);
    terminal.keys(&["M-W", "M-W"]).shows("Done. Tour 3 of 8").keys(&["C-q"]).shows("not saved").keys(&["d"]).ended(0);
    terminal.again().start("demo --tour").shows("Tour 3 of 8").keys(&["C-q"]).ended(0);
}

#[test]
fn a_file_is_closed_opened_again_reloaded_and_compared() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES), ("notes.txt", "ebb\n")]);
    let run = |verb: &str| {
        terminal.keys(&["C-l"]).type_text(verb).shows(&format!("▸ {verb}")).keys(&["Enter"]);
    };
    terminal.start("notes.txt gauges.rs").shows("ebb").keys(&["C-w"]).shows("fn read");
    run("reopen-closed");
    terminal.shows("opened notes.txt again").type_text("flow ");
    run("compare-with-disk");
    terminal.shows("− is yours, + what the file holds").escape();
    run("reload");
    terminal.shows("as the file holds").keys(&["C-z"]).shows("flow ebb");
    run("count");
    terminal.shows("1 line, 2 words, 9 characters, 9 bytes in the file").keys(&["C-s"]).shows("saved notes.txt");
    run("save-as");
    terminal.shows("save as notes.txt").keys(&["C-u"]).type_text("no").keys(&["Tab"]).shows("save as notes.txt");
    terminal.type_text(".bak").keys(&["Enter"]).until_file("notes.txt.bak", "flow ebb\n").keys(&["C-q"]).ended(0);
}
