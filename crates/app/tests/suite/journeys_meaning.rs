//! What people do with language servers, in the real program in a real terminal.

use crate::support::{Terminal, scripted, snarvel};

const HORN: &str = "int wrong = 1;\nint level = 2;\nint sound(void) { return level; }\n";

/// A terminal with servers, and the scripted one for C, which behaves as `how` says.
fn with_server(how: &str) -> Terminal {
    let terminal = Terminal::with(&[("horn.c", HORN)]);
    let own = terminal.own("config/snarvel");
    std::fs::create_dir_all(&own).unwrap();
    std::fs::write(own.join("settings.toml"), "").unwrap();
    let row = "[[server]]\nname = \"clangd\"\nenabled = false\n\n[[server]]\nname = \"scripted\"\nlanguages = [\"c\"]";
    let row = format!("{row}\ncommand = \"{}\"\nargs = [\"{how}\"]\n", scripted().display());
    std::fs::write(own.join("servers.toml"), row).unwrap();
    terminal
}

#[test]
fn a_server_is_asked_about_once_and_then_tells_what_is_wrong() {
    let terminal = with_server("good");
    terminal.start("horn.c").shows("Start scripted for C");
    // Who types on is not held up, and is told how to be asked again.
    terminal.type_text("x").shows("xint wrong").until("no question", |screen| !screen.contains("Start scripted"));
    terminal.keys(&["C-z", "C-l"]).type_text("restart-servers").keys(&["Enter"]).shows("Start scripted for C");
    terminal.keys(&["2"]).until("its sign", |screen| screen.contains("■"));
    terminal.keys(&["F10"]).shows("1 of 1: error:");
    terminal.keys(&["C-q"]).ended(0);
    let again = terminal.again();
    again
        .start("horn.c")
        .until("its sign, unasked", |screen| screen.contains("■") && !screen.contains("Start scripted"));
    again.keys(&["C-q"]).ended(0);
}

#[test]
fn a_definition_is_shown_in_place_and_gone_to() {
    let terminal = with_server("good");
    terminal.start("horn.c:3:27").shows("Start scripted for C").keys(&["3"]);
    // Refused: the index answers, and says so.
    terminal.keys(&["C-d"]).shows("by name (index)").shows("line 2");
    terminal.keys(&["Enter"]).until("the caret on line 2", |screen| screen.contains("2:5"));
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn a_server_that_dies_is_told_and_names_are_found_without_it() {
    let terminal = with_server("crash-at-start");
    terminal.start("horn.c:3:27").shows("Start scripted for C").keys(&["1"]).shows("scripted does not run");
    terminal.keys(&["C-d"]).shows("by name (index)");
    terminal.escape().until("the panel gone", |screen| !screen.contains("by name (index)"));
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn what_was_said_of_a_server_is_listed_and_forgotten() {
    let terminal = with_server("good");
    terminal
        .start("horn.c")
        .shows("Start scripted for C")
        .keys(&["2"])
        .until("its sign", |screen| screen.contains("■"));
    terminal.keys(&["C-q"]).ended(0);
    let again = terminal.again();
    let snarvel = snarvel();
    again.start_command(&format!(
        "{snarvel} trust; {snarvel} trust --forget .; {snarvel} trust; {snarvel} trust --forget ."
    ));
    again.ended(1).shows("scripted").shows("nothing is trusted yet").shows("nothing was said of");
}
