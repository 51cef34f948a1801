//! Writing with help, in the real program in a real terminal.

use crate::support::Terminal;

const GAUGES: &str = "fn read_level(station: &str) -> i32 {\n    0\n}\n\nfn main() {\n    \n}\n";

#[test]
fn a_word_is_offered_seen_and_taken() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES)]);
    terminal.start("gauges.rs:6:5").type_text("rea").shows("read_level function").shows("Tab take");
    // It is in the text before it is taken, and not in the file.
    terminal.shows("    read_level ").keys(&["C-s"]).until_file("gauges.rs", &GAUGES.replace("    \n", "    rea\n"));
    terminal.keys(&["BSpace"]).type_text("a").shows("read_level function").keys(&["Tab"]).type_text("(");
    terminal.keys(&["C-s"]).until_file("gauges.rs", &GAUGES.replace("    \n", "    read_level()\n"));
    terminal.keys(&["C-z", "C-z"]).shows("rea").keys(&["C-q"]).shows("What before").keys(&["d"]).ended(0);
}

#[test]
fn a_template_is_filled_in_at_two_cursors() {
    let terminal = Terminal::with(&[("tides.py", "\n\n")]);
    terminal.start("tides.py").keys(&["M-S-Down"]).shows("2 cursors").type_text("while").shows("while template");
    terminal.keys(&["Tab"]).shows("1 stop to come").shows("while condition:");
    terminal.type_text("ebb").shows("while ebb:").keys(&["Tab"]).type_text("flow()");
    let loops = "while ebb:\n    flow()\n".repeat(2);
    terminal.keys(&["C-s"]).until_file("tides.py", &loops);
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn everything_that_can_be_put_here_is_in_a_panel() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES)]);
    terminal.start("gauges.rs:6:5").keys(&["C-k"]).shows("Ctrl+K all").keys(&["C-k"]).shows("what can be put here");
    terminal.type_text("loop").shows("1 of 2").keys(&["Down"]).shows("2 of 2").keys(&["Enter"]).shows("    loop {");
    terminal.keys(&["C-s"]).until_file("gauges.rs", &GAUGES.replace("    \n", "    loop {\n        \n    }\n"));
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn a_statement_is_finished_and_goes_on() {
    let terminal = Terminal::with(&[("gauges.rs", GAUGES)]);
    terminal.start("gauges.rs:6:5").type_text("if level > 0").keys(&["M-Enter"]).shows("finished 1 statement");
    terminal.type_text("warn(level").keys(&["M-Enter", "M-Enter"]).type_text("stop").keys(&["M-Enter"]);
    let body = "    if level > 0 {\n        warn(level);\n        stop;\n    }\n";
    terminal.keys(&["C-s"]).until_file("gauges.rs", &GAUGES.replace("    \n", body));
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn lines_go_into_a_construct() {
    let terminal = Terminal::with(&[("gauges.rs", "fn main() {\n    read();\n    write();\n}\n")]);
    terminal.start("gauges.rs:2:5").keys(&["S-Down", "S-End", "C-k"]).shows("around what?").keys(&["Tab"]);
    terminal.shows("put around 2 lines").type_text("ebb").keys(&["C-s"]);
    terminal.until_file("gauges.rs", "fn main() {\n    if ebb {\n        read();\n        write();\n    }\n}\n");
    terminal.keys(&["C-q"]).ended(0);
}
