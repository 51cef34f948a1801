//! The real program in a terminal: what is counted and what the coach says, drills, keys shown to an audience, sheets from inside;
//! and the commands that tell of it afterwards.

use crate::support::{Terminal, snarvel};
use serde_json::Value;
use std::process::Command;

const LOG: &str = "north 1840\nsouth 1795\neast 1900\nwest 1712\n";

/// Runs the program to its end as the person at `terminal`: exit code, standard output, standard error.
fn tells(terminal: &Terminal, arguments: &[&str]) -> (i32, String, String) {
    let mut command = Command::new(snarvel());
    command.args(arguments).env("XDG_STATE_HOME", terminal.own("state")).env("XDG_CONFIG_HOME", terminal.own("config"));
    let out = command.output().unwrap();
    let words = |bytes: &[u8]| String::from_utf8_lossy(bytes).into_owned();
    (out.status.code().unwrap(), words(&out.stdout), words(&out.stderr))
}

fn report(terminal: &Terminal) -> Value {
    let (code, out, error) = tells(terminal, &["ledger", "--json"]);
    assert_eq!((code, error.as_str()), (0, ""));
    serde_json::from_str(&out).unwrap()
}

fn times_of(report: &Value, verb: &str) -> u64 {
    let verbs = report["verbs"].as_array().unwrap();
    verbs.iter().find(|each| each["verb"] == verb).map_or(0, |each| each["times"].as_u64().unwrap())
}

#[test]
fn the_coach_speaks_once_and_the_ledger_counts_without_a_word_of_the_text() {
    let terminal = Terminal::with(&[("secret-log.txt", LOG)]);
    // The line is copied and put below by hand.
    terminal.start("secret-log.txt").keys(&["Home", "S-End", "C-c", "End", "Enter", "C-v", "Right"]);
    terminal.shows("is 1").shows("that was");
    terminal.keys(&["M-s", "M-s", "C-z", "C-s"]).shows("saved").keys(&["C-q"]).ended(0);
    let report = report(&terminal);
    assert_eq!((times_of(&report, "carry-down"), times_of(&report, "save")), (2, 1), "{report:#}");
    assert_eq!(report["habits"][0]["verb"], "duplicate-down", "{report:#}");
    let carry = report["verbs"].as_array().unwrap().iter().find(|each| each["verb"] == "carry-down").unwrap();
    assert_eq!(carry["undone"], 1, "{report:#}");
    let kept = std::fs::read_dir(terminal.own("state/snarvel")).unwrap().map(|file| file.unwrap().path());
    for file in kept.filter(|file| file.to_string_lossy().contains("ledger")) {
        let bytes = String::from_utf8_lossy(&std::fs::read(&file).unwrap()).into_owned();
        assert!(!bytes.contains("north") && !bytes.contains("secret"), "{} holds words of the text", file.display());
    }
    let (code, out, _) = tells(&terminal, &["ledger", "--clear"]);
    assert_eq!((code, out.as_str()), (0, "everything that was counted is forgotten\n"));
    assert_eq!(self::report(&terminal)["keys"], 0);
}

#[test]
fn nothing_is_counted_where_it_is_not_wanted() {
    let terminal = Terminal::with(&[("log.txt", LOG)]);
    let settings = terminal.own("config/snarvel/settings.toml");
    std::fs::create_dir_all(settings.parent().unwrap()).unwrap();
    std::fs::write(&settings, "servers = \"off\"\nledger = false\ncoach = false\n").unwrap();
    terminal.start("log.txt").keys(&["Home", "S-End", "C-c", "End", "Enter", "C-v", "Right", "C-s"]).shows("saved");
    assert!(!terminal.screen().contains("that was"));
    terminal.keys(&["C-q"]).ended(0);
    let (code, _, error) = tells(&terminal, &["ledger"]);
    assert_eq!((code, error.contains("nothing is counted yet")), (1, true), "{error}");
}

#[test]
fn two_programs_count_into_one_ledger() {
    let first = Terminal::with(&[("a.txt", LOG), ("b.txt", LOG)]);
    let second = first.again();
    first.start("a.txt").keys(&["M-s", "M-s"]);
    second.start("b.txt").keys(&["M-s", "M-s", "M-s"]);
    first.keys(&["C-s", "C-q"]);
    second.keys(&["C-s", "C-q"]).ended(0);
    first.ended(0);
    assert_eq!(times_of(&report(&first), "carry-down"), 5);
}

#[test]
fn a_damaged_ledger_is_put_aside_and_said_and_never_in_the_way() {
    let terminal = Terminal::with(&[("log.txt", LOG)]);
    let file = terminal.own("state/snarvel/ledger.sqlite");
    std::fs::create_dir_all(file.parent().unwrap()).unwrap();
    std::fs::write(&file, "no ledger").unwrap();
    terminal.start("log.txt").shows("ledger.sqlite.damaged-1").keys(&["M-s", "C-s"]).shows("saved");
    terminal.keys(&["C-q"]).ended(0);
    assert_eq!(std::fs::read_to_string(terminal.own("state/snarvel/ledger.sqlite.damaged-1")).unwrap(), "no ledger");
    assert_eq!(times_of(&report(&terminal), "carry-down"), 1);
    // The commands tell it, too.
    std::fs::write(&file, "no ledger again, and longer than before").unwrap();
    for ending in ["-wal", "-shm"] {
        let _ = std::fs::remove_file(terminal.own(&format!("state/snarvel/ledger.sqlite{ending}")));
    }
    let (code, _, error) = tells(&terminal, &["ledger"]);
    assert_eq!((code, error.contains("damaged-2")), (0, true), "{error}");
}

#[test]
fn where_nothing_can_be_counted_that_is_said_once_and_work_goes_on() {
    let terminal = Terminal::with(&[("log.txt", LOG)]);
    std::fs::create_dir_all(terminal.own("state/snarvel/ledger.sqlite")).unwrap();
    terminal.start("log.txt").shows("the ledger").type_text("x").keys(&["C-s"]).shows("saved").keys(&["C-q"]).ended(0);
    assert!(terminal.file("log.txt").starts_with("xnorth"));
}

#[test]
fn a_drill_is_done_played_again_and_left() {
    let terminal = Terminal::with(&[("log.txt", LOG)]);
    terminal.start("log.txt").type_text("half a word");
    terminal.keys(&["C-l"]).shows("what do you want to do?").type_text("drill").keys(&["Enter"]).shows("which drill?");
    terminal.type_text("two lines").shows("▸ lines").keys(&["Enter"]).shows("par is 2").shows("wanted-gauges.rs");
    // By hand first: more keys than par.
    terminal
        .keys(&["M-s"])
        .shows("1 key so far")
        .keys(&["M-s"])
        .shows("done")
        .shows("2 keys in")
        .shows("no shorter way known");
    terminal
        .keys(&["s"])
        .shows("0 of 2 keys")
        .keys(&["Right", "Right"])
        .shows("that was it")
        .keys(&["Enter"])
        .shows("0 keys so far");
    terminal.keys(&["M-s"]).shows("1 key so far");
    // Left in the middle: everything is as it was.
    terminal.keys(&["C-q"]).shows("the drill is left").shows("half a wordnorth");
    terminal.keys(&["C-s"]).shows("saved").keys(&["C-q"]).ended(0);
    assert!(terminal.file("log.txt").starts_with("half a wordnorth"));
    let (_, out, _) = tells(&terminal, &["drill", "--list"]);
    assert!(out.contains("two-lines-down         par 2, your best 2"), "{out}");
    assert_eq!(times_of(&report(&terminal), "carry-down"), 0, "keys of drills are no work");
}

#[test]
fn a_drill_from_the_command_line_ends_with_the_program_there() {
    let terminal = Terminal::with(&[]);
    terminal.start("drill two-lines-down").shows("par is 2").keys(&["M-2", "M-s"]).shows("2 keys in").keys(&["Enter"]);
    terminal.until("the drill's end", |screen| !screen.contains("wanted-gauges.rs")).keys(&["C-q"]).ended(0);
    let (code, _, error) = tells(&terminal, &["drill", "nothing"]);
    assert_eq!((code, error.contains("no drill is called \"nothing\"")), (1, true), "{error}");
}

#[test]
fn an_audience_sees_the_keys_but_nothing_that_goes_into_a_shell() {
    let terminal = Terminal::with(&[("log.txt", LOG)]);
    terminal.start("log.txt").keys(&["C-l"]).shows("what do you want to do?").type_text("show-keys").keys(&["Enter"]);
    terminal.shows("the keys are shown").keys(&["M-s", "M-s"]).shows("Alt+S ×2").shows("carry ↓");
    terminal.type_text("tide").shows("“tide”").paste("a long text that is pasted").shows("26 characters");
    terminal.keys(&["C-\\"]).shows("back to the text").type_text("passphrase").shows("passphrase");
    // The next key of the text follows those before the shell.
    terminal.keys(&["C-\\", "M-x"]).shows("Alt+X");
    assert!(!terminal.screen().contains("“passphrase”") && terminal.screen().contains("26 characters"));
    terminal.keys(&["C-l"]).shows("what do you want to do?").type_text("spotlight").keys(&["Enter"]).shows("is lit");
}

#[test]
fn sheets_are_drawn_from_inside() {
    let terminal = Terminal::with(&[("log.txt", LOG)]);
    terminal.start("log.txt").keys(&["M-s", "M-s"]);
    for (verb, name) in [("edit-sheet", "edit.pdf"), ("listing", "listing.svg")] {
        terminal
            .keys(&["C-l"])
            .shows("what do you want to do?")
            .type_text(verb)
            .keys(&["Enter"])
            .shows("print it instead");
        terminal.keys(&["C-u"]).type_text(name).keys(&["Enter"]).shows(name);
        terminal.until("the sheet", |_| terminal.path(name).exists());
    }
    let listing = terminal.file("listing.svg");
    assert!(listing.contains("north 1840") && listing.starts_with('<'), "{listing}");
}

#[test]
fn completions_and_the_manual_page_are_printed() {
    let terminal = Terminal::with(&[]);
    for (shell, expected) in [("bash", "complete -F"), ("zsh", "#compdef snarvel"), ("fish", "complete -c snarvel")] {
        let (code, out, _) = tells(&terminal, &["completions", shell]);
        assert_eq!(code, 0);
        assert!(out.contains(expected) && out.contains("listing") && out.contains("ledger"), "{shell}");
    }
    let (code, page, _) = tells(&terminal, &["man"]);
    assert_eq!((code, page.contains(".TH snarvel 1"), page.contains("snarvel\\-sheet")), (0, true, true));
    assert_eq!(tells(&terminal, &["completions", "tide"]).0, 2);
}
