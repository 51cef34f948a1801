//! The real program in a terminal: the shell, running, and the errors that are printed.

use crate::support::Terminal;

/// A terminal whose program knows no shell of the person's but `sh`.
fn terminal(files: &[(&str, &str)]) -> Terminal {
    let terminal = Terminal::with(files);
    terminal.start_command_of_program("env SHELL=/bin/sh ENV= PS1='sh> '", files[0].0);
    terminal
}

#[test]
fn a_shell_is_opened_used_and_put_away() {
    let terminal = terminal(&[("tide.txt", "one\n")]);
    terminal.keys(&["C-\\"]).shows("back to the text");
    terminal
        .type_text("echo $((6*7))")
        .keys(&["Enter"])
        .until("42", |screen| screen.lines().any(|line| line.trim() == "42"));
    // Its size is that of its room, and follows.
    terminal.type_text("stty size").keys(&["Enter"]).shows("20 142");
    terminal.resize(100, 30).type_text("clear; stty size").keys(&["Enter"]).shows("14 100");
    // It goes on while it is away.
    terminal.type_text("name=ebb").keys(&["Enter"]).keys(&["C-\\"]).until("the text", |screen| !screen.contains("sh>"));
    terminal.type_text("x").shows("xone").keys(&["C-\\"]).shows("sh>");
    terminal.type_text("echo [$name]").keys(&["Enter"]).shows("[ebb]");
    // One more, and back to the first.
    terminal.keys(&["C-\\", "C-l"]).type_text("shell-new").keys(&["Enter"]).shows("2 of 2");
    terminal.type_text("exit").keys(&["Enter"]).until("the first one", |screen| !screen.contains("2 of 2"));
    terminal.keys(&["C-\\"]).until("the text", |screen| !screen.contains("sh>"));
    terminal.keys(&["C-z", "C-q"]).ended(0);
}

#[test]
fn programs_in_full_screen_run_in_it() {
    let terminal = terminal(&[("tide.txt", "one\n")]);
    let lines: Vec<String> = (1..200).map(|number| format!("gauge {number}")).collect();
    std::fs::write(terminal.path("long.txt"), lines.join("\n")).unwrap();
    terminal.keys(&["C-\\"]).shows("sh>");
    terminal.type_text("less long.txt").keys(&["Enter"]).shows("gauge 12");
    terminal.keys(&["PageDown"]).shows("gauge 30").type_text("G").shows("gauge 199");
    terminal.type_text("q").shows("sh>");
    terminal.type_text("top").keys(&["Enter"]).shows("load average").resize(90, 36).shows("load average");
    terminal.type_text("q").until("top to end", |screen| screen.contains("sh>"));
    // What was scrolled out of view is looked at, and typing leads back.
    terminal.type_text("seq 500").keys(&["Enter"]).shows("500").keys(&["C-PgUp", "C-PgUp"]).shows("rows back");
    terminal.type_text("#").until("the end", |screen| !screen.contains("rows back"));
}

#[test]
fn nothing_that_is_printed_reaches_the_terminal_around_it() {
    let terminal = terminal(&[("tide.txt", "one\n")]);
    let title = terminal.flag("#{pane_title}");
    terminal.keys(&["C-\\"]).shows("sh>");
    let hostile = "printf '\\033]2;pwned\\007\\033]52;c;cHduZWQ=\\007\\033[?1049h\\033[8;5;5t\\033[c\\033[6n\\033P$qm\\033\\\\'; echo o''ver";
    terminal.type_text(hostile).keys(&["Enter"]).shows("over");
    assert_eq!(terminal.flag("#{pane_title}"), title);
    assert_eq!(terminal.flag("#{window_width} #{window_height}"), "142 42");
    terminal.keys(&["C-\\"]).type_text("y").shows("yone").keys(&["C-z", "C-q"]).ended(0);
}

#[test]
fn python_remembers_names_from_one_selection_to_the_next() {
    let terminal = terminal(&[("tide.py", "level = 6\nlevel = level * 7\nprint('level', level)\n")]);
    terminal.keys(&["F12"]).shows("Run commands in").type_text("1").shows("keys to it");
    terminal.keys(&["F12"]).shows("level * 7").keys(&["F12"]).shows("level 42");
    // A block in one go, and its indentation put right.
    terminal
        .keys(&["C-End"])
        .paste("    def ebb(by):\n        low = level - by\n\n        return low\n    print('ebb', ebb(2))\n");
    terminal
        .keys(&["Up", "Up", "Up", "Up", "Up", "Home", "S-Down", "S-Down", "S-Down", "S-Down", "S-Down", "F12"])
        .shows("ebb 40");
    // Esc puts it away; it goes on.
    terminal.escape().escape().until("no shell", |screen| !screen.contains("keys to it"));
}

#[test]
fn an_error_in_a_c_file_is_found_walked_to_and_mended() {
    let program = "#include <stdio.h>\n\nint main(void) {\n    printf(\"%d\\n\", ebb);\n    retrun 0;\n}\n";
    let terminal = terminal(&[("tide.c", program)]);
    terminal.keys(&["S-F12"]).shows("Run commands in").type_text("1").shows("ended with exit code 1");
    terminal.keys(&["F10"]).shows("1 of ").until("the first error", |screen| screen.contains("4:20"));
    terminal.keys(&["F2"]).type_text("42").keys(&["F10"]).until("the second", |screen| screen.contains("5:5"));
    terminal.keys(&["F2"]).type_text("return").keys(&["S-F12"]).shows("ran through in");
    // It was saved before it ran, and what was wrong is forgotten.
    assert!(terminal.file("tide.c").contains("return 0;"));
    terminal.until("what it printed", |screen| screen.lines().any(|line| line.trim() == "42"));
    terminal.keys(&["F10"]).shows("nothing is known to be wrong");
}

#[test]
fn a_task_is_chosen_by_letters_and_ended() {
    let makefile = "test:\n\t@echo begun; sleep 60\nall:\n\t@echo built\n";
    let terminal = terminal(&[("Makefile", makefile)]);
    terminal.keys(&["C-l"]).type_text("check").keys(&["Enter"]).shows("make test");
    terminal.type_text("test").keys(&["Enter"]).shows("Run commands in").type_text("2").shows("begun");
    // How long it takes is told; the key once more ends it.
    terminal.shows("make test … 1 s").keys(&["F12"]).shows("once more ends it").keys(&["F12"]).shows("was ended after");
    terminal.keys(&["C-q"]).ended(0);
}

#[test]
fn a_shell_that_does_not_want_to_end_ends_with_the_program() {
    let terminal = terminal(&[("tide.txt", "one\n")]);
    terminal.keys(&["C-\\"]).shows("sh>");
    terminal.type_text("trap '' HUP; echo pid:$$:").keys(&["Enter"]).until("its number", |screen| {
        screen.lines().any(|line| line.trim().starts_with("pid:") && line.trim().ends_with(':') && !line.contains("$$"))
    });
    let screen = terminal.screen();
    let line = screen.lines().find(|line| line.trim().starts_with("pid:")).unwrap();
    let pid: u32 = line.trim().trim_matches(|c: char| !c.is_ascii_digit()).parse().unwrap();
    terminal.keys(&["C-\\", "C-q"]).ended(0);
    assert!(!std::path::Path::new(&format!("/proc/{pid}")).exists(), "{pid} still runs");
}

#[test]
fn a_task_runs_after_each_save_and_a_missing_runner_is_told() {
    let terminal = Terminal::with(&[("tide.js", "ebb();\n")]);
    let settings = terminal.own("config/snarvel/settings.toml");
    std::fs::create_dir_all(settings.parent().unwrap()).unwrap();
    let own = "servers = \"off\"\n[[runner]]\nlanguage = \"javascript\"\nfile = \"no-such-runner {file}\"\n\n\
        [[task]]\nname = \"tides\"\ncommand = \"echo tide.js:1: dry; exit 2\"\nwhen = \"save\"\n";
    std::fs::write(settings, own).unwrap();
    terminal
        .start("tide.js")
        .keys(&["S-F12"])
        .shows("Run commands in")
        .type_text("1")
        .shows("ended with exit code 127");
    terminal.type_text("x").keys(&["C-s"]).shows("tides ended with exit code 2").shows("1 place (F10)");
    terminal.keys(&["F10"]).shows("1 of 1: note: dry");
    look_up(&terminal, "shell-places").shows("tide.js").escape();
}

#[test]
fn output_of_a_shell_is_gone_through_as_a_text() {
    let terminal = terminal(&[("tide.txt", "one\n")]);
    terminal.keys(&["C-\\"]).shows("sh>").type_text("echo fairway $((40+2))").keys(&["Enter"]).shows("fairway 42");
    terminal.keys(&["C-\\"]);
    look_up(&terminal, "shell-copy")
        .shows("as a text of its own")
        .keys(&["C-f"])
        .type_text("fairway 42")
        .keys(&["Enter"]);
    terminal.keys(&["M-b"]).keys(&["C-c"]);
    look_up(&terminal, "shell-close").keys(&["C-\\"]).shows("sh>").keys(&["C-\\"]).keys(&["C-q"]).ended(0);
}

/// Runs a verb by its name in lookup.
fn look_up<'a>(terminal: &'a Terminal, verb: &str) -> &'a Terminal {
    terminal.keys(&["C-l"]).type_text(verb).keys(&["Enter"])
}
