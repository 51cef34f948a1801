//! Meaning in `play`: by name without a server, and with the scripted one.

use crate::support::{play_in, scripted};
use serde_json::Value;
use snarvel_core::offers::Source;
use snarvel_files::loading::Opened;
use snarvel_servers::table::Table;
use snarvel_ui::app::App;
use snarvel_ui::keys::script;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_workspace::project::{Project, Trust};
use snarvel_workspace::workspace::Workspace;
use std::path::Path;
use std::time::Duration;

fn servers(how: &str) -> String {
    let command = scripted();
    format!(
        "[[server]]\nname = \"scripted\"\nlanguages = [\"c\", \"python\"]\ncommand = \"{}\"\nargs = [{how:?}]\n\n\
         [[formatter]]\nlanguage = \"lua\"\ncommand = \"sed 's/ *$//'\"\n\n\
         [[formatter]]\nlanguage = \"ruby\"\ncommand = \"echo that is wrong >&2; exit 3\"\n",
        command.display()
    )
}

/// The state after keys in the first of `names`.
fn state(files: &[(&str, &str)], names: &[&str], arguments: &[&str]) -> Value {
    let arguments: Vec<&str> = arguments.iter().copied().chain(["--emit", "state"]).collect();
    let (code, out, error, _folder) = play_in(files, names, &arguments);
    assert_eq!(code, 0, "{error}");
    serde_json::from_str(&out).unwrap()
}

/// The same with the scripted server, which behaves as `how` says.
fn with_server(how: &str, files: &[(&str, &str)], names: &[&str], keys: &str) -> Value {
    let servers = servers(how);
    let files: Vec<(&str, &str)> = files.iter().copied().chain([("config/servers.toml", servers.as_str())]).collect();
    state(&files, names, &["--trust", "--config", "CONFIG", "--keys", keys])
}

fn message(state: &Value) -> &str {
    state["message"].as_str().unwrap()
}

const GAUGE: (&str, &str) = (
    "gauge.rs",
    "use crate::tide::ebb;\n\nfn read(level: i32) -> i32 {\n    let low = ebb(level);\n    low + level // ebb\n}\n",
);
const TIDE: (&str, &str) = (
    "tide.rs",
    "/// Falls.\npub fn ebb(level: i32) -> i32 {\n    level - 1\n}\n\nstruct Board { ebb: i32 }\nimpl Board { fn show(&self) -> i32 { self.ebb } }\n",
);

#[test]
fn without_a_server_names_are_found_by_name() {
    let files = [GAUGE, TIDE];
    for (keys, said, line) in [
        ("@4:16 !definition", "ebb: tide.rs line 2 (1 of 2), by name (index)", 2),
        ("@5:5 !definition", "low: gauge.rs line 4, by name (index)", 4),
        ("@4:16 !uses", "6 uses of ebb in 2 files: 5 in code, 1 comment, by name (text of the files)", 4),
        ("@4:16 !relations", "1 name with ebb, by the outline of the file", 4),
        ("@4:16 !describe", "`pub fn ebb(level: i32) -> i32 {`, by name (index)", 4),
        ("@4:9 !definition", "low: gauge.rs line 4, by name (index)", 4),
        ("@2:1 !definition", "no name here", 2),
    ] {
        let told = state(&files, &["gauge.rs"], &["--keys", keys]);
        assert_eq!((message(&told), &told["selections"][0]["head"]["line"]), (said, &Value::from(line)), "{keys}");
    }
}

#[test]
fn renaming_by_name_leaves_out_what_is_another_name() {
    let files = [GAUGE, TIDE];
    let told = state(&files, &["gauge.rs", "tide.rs"], &["--keys", "@4:16 !rename(fall)"]);
    assert_eq!(message(&told), "renamed to fall, by name in code: 3 places in 2 files");
    assert_eq!(told["text"], GAUGE.1.replace("ebb;", "fall;").replace("ebb(", "fall("));
    assert_eq!(told["files"][1]["text"], TIDE.1.replace("fn ebb(", "fn fall("));
    // One step over both files.
    let told = state(&files, &["gauge.rs", "tide.rs"], &["--keys", "@4:16 !rename(fall) ctrl+z"]);
    assert_eq!((&told["text"], &told["files"][1]["text"]), (&Value::from(GAUGE.1), &Value::from(TIDE.1)));
    // A local is renamed in its function only; a file that is not open becomes open.
    let told = state(&files, &["gauge.rs", "tide.rs"], &["--keys", "@5:11 !rename(height)"]);
    assert_eq!(told["text"], GAUGE.1.replace("level", "height"));
    assert_eq!(told["files"][1]["modified"], false);
    for (keys, said) in [
        ("@4:16 !rename(ebb)", "it is called ebb already"),
        ("@4:16 !rename(3x)", "\"3x\" is no name: letters, digits and _ are, and no digit first"),
        ("@2:1 !rename(x)", "no name here"),
    ] {
        assert_eq!(message(&state(&files, &["gauge.rs"], &["--keys", keys])), said, "{keys}");
    }
}

#[test]
fn f2_goes_on_to_the_project() {
    let files = [GAUGE, TIDE];
    let keys = "@4:16 f2 f2 f2 f2 f2 \"fall\" enter";
    let told = state(&files, &["gauge.rs", "tide.rs"], &["--keys", keys]);
    assert_eq!(told["files"][1]["text"], TIDE.1.replace("fn ebb(", "fn fall("), "{}", message(&told));
}

#[test]
fn the_project_is_gone_through_by_names() {
    let files = [GAUGE, TIDE];
    let told = state(&files, &["gauge.rs"], &["--keys", "ctrl+g ctrl+g \"boa\" enter"]);
    assert_eq!(told["text"], TIDE.1);
    assert_eq!(told["selections"][0]["head"]["line"], 6);
}

#[test]
fn what_is_asked_without_trust_starts_nothing() {
    let servers = servers("good");
    let files = [("a.c", "int wrong;\n"), ("config/servers.toml", servers.as_str())];
    let told = state(&files, &["a.c"], &["--config", "CONFIG", "--keys", "!format"]);
    assert_eq!(
        (&told["servers"], &told["diagnostics"]),
        (&Value::from(Vec::<Value>::new()), &Value::from(Vec::<Value>::new()))
    );
    assert_eq!(message(&told), "no server and no command lays out C: the depths are right already");
}

const WRONG: (&str, &str) = ("a.c", "int wrong;\nint b;\n\nint wrong2;\n");

#[test]
fn faults_are_told_and_gone_through_the_worst_first() {
    let told = with_server("good", &[WRONG], &["a.c"], "");
    assert_eq!(told["diagnostics"][0]["col"], 5);
    assert_eq!(
        (&told["diagnostics"][0]["kind"], &told["diagnostics"][1]["line"]),
        (&Value::from("error"), &Value::from(4))
    );
    assert_eq!(told["servers"][0]["state"], "ready");
    for (keys, said, line) in [
        ("f10", "1 of 2: error: this is wrong (script)", 1),
        ("f10 f10", "2 of 2: error: this is wrong (script)", 4),
        ("f10 f10 f10", "1 of 2: error: this is wrong (script)", 1),
        ("shift+f10", "2 of 2: error: this is wrong (script)", 4),
        // They move with edits, and go when they are mended.
        ("\"x\" enter f10", "1 of 2: error: this is wrong (script)", 2),
        ("!next-fault delete", "", 1),
    ] {
        let told = with_server("good", &[WRONG], &["a.c"], keys);
        assert_eq!((message(&told), &told["selections"][0]["head"]["line"]), (said, &Value::from(line)), "{keys}");
        if keys.ends_with("delete") {
            assert_eq!(told["diagnostics"].as_array().unwrap().len(), 1);
        }
    }
}

#[test]
fn fixes_are_offered_at_a_fault_and_one_step() {
    let told = with_server("good", &[WRONG], &["a.c"], "f10 ctrl+k");
    let offers: Vec<&str> =
        told["offers"].as_array().unwrap().iter().map(|each| each["text"].as_str().unwrap()).collect();
    assert_eq!(offers, ["Make it right", "Say so above"]);
    assert_eq!(told["offers"][0]["source"], "fix");
    let told = with_server("good", &[WRONG], &["a.c"], "f10 ctrl+k tab");
    assert_eq!(
        (&told["text"], &told["undo_depth"]),
        (&Value::from("int right;\nint b;\n\nint wrong2;\n"), &Value::from(1))
    );
    // A command of the server: what it wants to change is carried out.
    let told = with_server("good", &[WRONG], &["a.c"], "f10 !fixes down tab");
    assert_eq!(told["text"], "// by command\nint wrong;\nint b;\n\nint wrong2;\n");
    let told = with_server("good", &[WRONG], &["a.c"], "f10 !fixes down tab ctrl+z");
    assert_eq!(told["text"], WRONG.1);
}

#[test]
fn offers_of_a_server_bring_their_import_in_the_same_step() {
    let file = ("a.py", "x = 1\n");
    let told = with_server("good", &[file], &["a.py"], "!describe esc ctrl+end \"tid\"");
    assert_eq!(
        (&told["offers"][0]["text"], &told["offers"][0]["source"]),
        (&Value::from("tide_level"), &Value::from("server"))
    );
    let told = with_server("good", &[file], &["a.py"], "!describe esc ctrl+end \"tid\" tab");
    assert_eq!(told["text"], "import tide\nx = 1\ntide_level(at)");
    assert_eq!(told["stops"], 1);
    let told = with_server("good", &[file], &["a.py"], "!describe esc ctrl+end \"tid\" tab \"3\" tab \"+\"");
    assert_eq!(told["text"], "import tide\nx = 1\ntide_level(3)+");
    let told = with_server("good", &[file], &["a.py"], "!describe esc ctrl+end \"tid\" tab ctrl+z");
    assert_eq!(told["text"], "x = 1\ntid");
    // At two cursors: the import comes once.
    let two = ("a.py", "x = 1\ny\ny\n");
    let told = with_server("good", &[two], &["a.py"], "!describe esc @2:2 alt+shift+down \" tide_t\" tab");
    assert_eq!(told["text"], "import tide\nx = 1\ny tide_table\ny tide_table\n");
    // Another one than the first: its import comes, too.
    let told = with_server("good", &[file], &["a.py"], "!describe esc ctrl+end \"tid\" down tab");
    assert_eq!(told["text"], "import tide\nx = 1\ntide_table");
    // Right after a character that calls for them.
    let told = with_server("good", &[file], &["a.py"], "!describe esc ctrl+end \"x.\"");
    assert_eq!(told["offers"][0]["text"], "tide_level");
}

/// An application with a server that tells the rest of an offer only once that is in the text, and its offers shown.
fn offered_late(folder: &Path) -> App {
    let path = folder.join("a.py");
    std::fs::write(&path, "x = 1\n").unwrap();
    let project = Project { trust: Trust::Everything, ..Project::in_folder(folder) };
    let mut workspace = Workspace::new(project);
    workspace.use_servers(Table::read(&servers("late-rest")).0);
    workspace.take_buffer(&path, Opened::read(&path).unwrap());
    let mut app = App::new(workspace, Palette::new(&Theme::night(), Depth::True), Size::REFERENCE);
    let act = |app: &mut App, keys: &str| script::parse(keys).unwrap().iter().for_each(|step| app.act(step));
    act(&mut app, "!describe esc");
    app.settle_background();
    act(&mut app, "ctrl+end \"tid\"");
    app.after_frame();
    let is_server =
        |app: &App| app.context.workspace.offers().is_some_and(|shown| shown.list[0].source == Source::Server);
    while !is_server(&app) {
        let event = app.context.workspace.tasks.receive(Duration::from_secs(30)).expect("the server offers something");
        app.context.workspace.take(event);
        app.context.workspace.ask_queued();
    }
    act(&mut app, "tab");
    app
}

#[test]
fn an_import_that_the_server_tells_late_is_a_step_of_its_own() {
    let folder = tempfile::tempdir().unwrap();
    let mut app = offered_late(folder.path());
    let text = |app: &App| app.context.workspace.active().text().to_string();
    assert_eq!(text(&app), "x = 1\ntide_level(at)");
    app.settle_background();
    assert_eq!(text(&app), "import tide\nx = 1\ntide_level(at)");
    script::parse("ctrl+z").unwrap().iter().for_each(|step| app.act(step));
    assert_eq!(text(&app), "x = 1\ntide_level(at)");
    app.context.workspace.end_servers();
    // One that was taken back meanwhile brings nothing.
    let mut app = offered_late(folder.path());
    script::parse("ctrl+z ctrl+home \"(at)\"").unwrap().iter().for_each(|step| app.act(step));
    app.settle_background();
    assert_eq!(text(&app), "(at)x = 1\ntid");
    app.context.workspace.end_servers();
}

#[test]
fn a_text_is_laid_out_with_as_little_change_as_can_be() {
    let file = ("a.c", "int a;   \r\nint b;\r\nint c;  \r\n");
    let told = with_server("good", &[file], &["a.c"], "@2:6 !format");
    assert_eq!((&told["text"], message(&told)), (&Value::from("int a;\r\nint b;\r\nint c;\r\n"), "laid out: 2 places"));
    assert_eq!(
        (&told["selections"][0]["head"]["line"], &told["selections"][0]["head"]["col"]),
        (&Value::from(2), &Value::from(6))
    );
    let told = with_server("good", &[file], &["a.c"], "@2:6 !format ctrl+z");
    assert_eq!(told["text"], file.1);
    // By a command where no server is for the language.
    let lua = ("a.lua", "x = 1   \ny = 2\n");
    let told = with_server("good", &[lua], &["a.lua"], "!format");
    assert_eq!((&told["text"], message(&told)), (&Value::from("x = 1\ny = 2\n"), "laid out by sed"));
    let ruby = ("a.rb", "x = 1   \n");
    let told = with_server("good", &[ruby], &["a.rb"], "!format");
    assert_eq!(told["text"], ruby.1);
    assert!(message(&told).contains("that is wrong"), "{}", message(&told));
}

#[test]
fn whatever_a_server_does_the_text_is_what_was_typed() {
    for how in [
        "silent",
        "slow",
        "garbage",
        "crash-when-asked",
        "crash-at-start",
        "wrong-types",
        "errors",
        "edits-overlapping",
        "edits-old-version",
        "edits-nowhere",
        "many-diagnostics",
        "request-storm",
        "question-storm",
        "endless-progress",
    ] {
        let keys = "\"a\" !definition @1:2 \"b\" !uses esc @1:3 \"c\" f10 @1:4 \"d\" !format ctrl+end \"e\"";
        let told = with_server(how, &[("a.c", "int level;\n")], &["a.c"], keys);
        assert_eq!(told["text"], "abcdint level;\ne", "{how}");
    }
}

/// What people press, with many cursors, wide characters and line ends of both kinds.
const PRESSED: [&str; 26] = [
    "\"x\"",
    "\"🌊é\"",
    "\"(\"",
    "\"\\n\"",
    "enter",
    "backspace",
    "delete",
    "alt+d",
    "alt+e",
    "alt+w",
    "alt+s",
    "alt+x",
    "alt+m",
    "alt+z",
    "alt+f",
    "alt+r",
    "alt+g",
    "alt+c",
    "alt+v",
    "ctrl+z",
    "ctrl+y",
    "shift+right",
    "down",
    "ctrl+home",
    "paste\"log\\r\\n雾\"",
    "!sort-lines",
];

#[test]
fn the_copy_of_the_server_is_the_text_after_any_keys() {
    let text = "int level = 1;\r\nint 🌊 = level; // e\u{301} 雾\r\nlevel = level + 1;\n\tif (level) { level(); }\nend";
    let mut number: u64 = 20;
    let mut chance = move |limit: usize| {
        number = number.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        usize::try_from(number >> 33).unwrap() % limit
    };
    for how in ["good", "utf-8", "full-sync"] {
        for _ in 0..3 {
            let keys: Vec<&str> = (0..60).map(|_| PRESSED[chance(PRESSED.len())]).collect();
            let keys = keys.join(" ");
            let kept = tempfile::tempdir().unwrap();
            let copy = kept.path().join("copy");
            let with_copy = format!("env = {{ SCRIPTED_COPY = {:?} }}\n\n[[formatter]]", copy.to_str().unwrap());
            let servers = servers(how).replacen("[[formatter]]", &with_copy, 1);
            let files = [("a.c", text), ("config/servers.toml", servers.as_str())];
            let arguments = ["--trust", "--config", "CONFIG", "--keys", keys.as_str(), "--emit", "state"];
            let (code, out, error, _folder) = play_in(&files, &["a.c"], &arguments);
            assert_eq!(code, 0, "{error}");
            let state: Value = serde_json::from_str(&out).unwrap();
            assert_eq!(state["servers"][0]["state"], "ready", "{how}: {keys}");
            assert_eq!(std::fs::read_to_string(&copy).unwrap(), state["text"].as_str().unwrap(), "{how}: {keys}");
        }
    }
}
