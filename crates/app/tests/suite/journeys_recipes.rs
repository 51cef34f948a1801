//! Recording, playing, the panel of recipes, text through commands: in the real program in a real terminal.

use crate::support::Terminal;

#[test]
fn record_play_name_and_play_again_after_a_restart() {
    let terminal = Terminal::with(&[("list.txt", "ebb\nflow\nslack\n")]);
    terminal.start("list.txt").keys(&["C-Space"]).shows("SHAPE");
    terminal.type_text("\"").shows("● REC 0");
    terminal.keys(&["d"]).shows("● REC 1").escape().shows("WRITE");
    terminal.type_text("low ").shows("low ebb").keys(&["Down", "Home", "C-Space"]).shows("SHAPE");
    terminal.type_text("\"").shows("$ plays them");
    terminal.type_text("$").shows("played last recording");
    terminal.keys(&["C-s"]).until_file("list.txt", "ebb\nlow ebb\nflow\nlow flow\nslack\n");
    terminal.keys(&["C-r"]).shows("duplicate-down").shows("would change 1 place");
    terminal.keys(&["C-s"]).shows("keep it as").type_text("low-twin").keys(&["Enter"]).shows("yours");
    terminal.escape().keys(&["C-q"]).ended(0);
    let kept = std::fs::read_to_string(terminal.own("config/snarvel/recipes/low-twin.recipe")).unwrap();
    assert_eq!(kept, "duplicate-down\ntype \"low \"\nline-down\nline-start text\n");
    let again = terminal.again();
    again.start("list.txt:5").keys(&["C-Space"]).shows("SHAPE").type_text("$").shows("played");
    again.keys(&["C-s"]).until_file("list.txt", "ebb\nlow ebb\nflow\nlow flow\nslack\nlow slack\n");
    again.keys(&["C-q"]).ended(0);
}

#[test]
fn a_recipe_over_the_project_and_back() {
    let terminal = Terminal::with(&[("a.txt", "tide\n"), ("b.txt", "tide\n"), ("c.txt", "fog\n")]);
    terminal.start("a.txt").keys(&["C-r"]).shows("quoted-list").type_text("quoted").shows("would change 1 place");
    terminal.keys(&["M-Enter"]).shows("3 files, 3 places, of 3 files").keys(&["Down", "DC"]).shows("2 files, 2 places");
    terminal.keys(&["Enter"]).shows("changed 2 places in 2 files, 1 of them open and not saved yet");
    terminal.until_file("c.txt", "\"fog\",\n").keys(&["C-z"]).shows("2 files as before").until_file("c.txt", "fog\n");
    assert_eq!(terminal.file("b.txt"), "tide\n");
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn text_goes_through_a_command_and_esc_ends_one_that_does_not_end() {
    let terminal = Terminal::with(&[("list.txt", "flow\nebb\n")]);
    terminal.start("list.txt").keys(&["C-l"]).type_text("filter-through").keys(&["Enter"]).shows("shell");
    terminal.type_text("sort").keys(&["Enter"]).shows("This command is new").keys(&["y"]);
    terminal.shows("went through the command").keys(&["C-s"]).until_file("list.txt", "ebb\nflow\n");
    terminal.keys(&["C-l"]).type_text("filter-through").keys(&["Enter"]).shows("shell");
    terminal.type_text("sleep 1000").keys(&["Enter"]).shows("This command is new").keys(&["y"]);
    // It goes on in the background: the text can be typed into.
    terminal.shows("running a command").type_text("x").shows("xebb").escape().shows("the command was ended");
    terminal.keys(&["C-s"]).until_file("list.txt", "xebb\nflow\n").keys(&["C-q"]).ended(0);
}
