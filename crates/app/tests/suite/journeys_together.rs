//! The real program in a terminal: echo, rehearsal, and cursors over several files.

use crate::support::Terminal;

const DEPTHS: &str = "depth_a = gauge(\"A\")\ndepth_b = gauge(\"B\")\ndepth_c = gauge(\"C\")\ndepth_d = gauge(\"D\")\n";

#[test]
fn what_was_done_twice_is_done_at_the_rest() {
    let terminal = Terminal::with(&[("depth.py", DEPTHS)]);
    terminal.start("depth.py");
    terminal.keys(&["End", "Left"]).type_text(", mm=True").keys(&["Down", "End", "Left"]);
    terminal.type_text(", mm=True").shows("echo: 2 more like the last two");
    // The next one is seen in the text before anything is done.
    terminal.until("the third line as it would be", |screen| screen.contains("gauge(\"C\", mm=True)"));
    terminal.keys(&["C-^"]).shows("what you did twice, at 2 places");
    terminal.keys(&["Space"]).shows("at 1 place");
    terminal.keys(&["Enter"]).shows("echo: done at 1 more place");
    terminal.keys(&["C-s"]).shows("saved");
    let expected = DEPTHS.replace("\")", "\", mm=True)").replace("\"C\", mm=True", "\"C\"");
    assert_eq!(terminal.file("depth.py"), expected);
    terminal.keys(&["C-z"]).until("the step taken back", |screen| screen.contains("depth_d = gauge(\"D\")\u{20}"));
}

#[test]
fn a_verb_is_seen_before_it_is_done() {
    let terminal = Terminal::with(&[("depth.py", DEPTHS)]);
    terminal.start("depth.py").keys(&["M-%"]).shows("press a verb");
    terminal.keys(&["M-x"]).shows("delete lines would do this");
    terminal.keys(&["M-s"]).shows("carry down would do this");
    terminal.escape().until("the text as it was", |screen| !screen.contains("would do this"));
    terminal.keys(&["M-%", "M-x"]).shows("delete lines would do this").keys(&["Enter"]).shows("deleted 1 line");
    terminal.keys(&["C-s"]).shows("saved");
    assert_eq!(terminal.file("depth.py"), DEPTHS.split_once('\n').unwrap().1);
}

#[test]
fn hits_of_the_project_become_cursors_over_its_files() {
    let files =
        [("board.rs", "fn board() { ebb(); }\n"), ("tide.rs", "pub fn ebb() {}\n"), ("watch.rs", "ebb();\nebb();\n")];
    let terminal = Terminal::with(&files);
    terminal.start("board.rs").keys(&["C-f"]).type_text("ebb").keys(&["C-f"]).shows("in 3 files");
    terminal.keys(&["M-b"]).shows("4 cursors in 3 files");
    terminal.type_text("flow").shows("flow();");
    // Each file of it is marked, and its cursors are in the roster.
    terminal.until("the files in the roster", |screen| screen.contains("⇉") && screen.matches("watch.rs").count() > 1);
    terminal.keys(&["C-l"]).type_text("save-all").keys(&["Enter"]).shows("saved");
    for (name, content) in files {
        assert_eq!(terminal.file(name), content.replace("ebb", "flow"), "{name}");
    }
    terminal.keys(&["C-z"]).shows("ebb();");
    terminal.escape().shows("3 files act alone again");
}
