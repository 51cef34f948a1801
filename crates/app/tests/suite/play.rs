//! `snarvel play`, the listings, and the demo's files: what is printed, and with which exit code.

use crate::support::{play, play_in, run};
use serde_json::Value;
use snarvel::demo::FILES;
use std::path::Path;
use std::process::Command;

fn state(name: &str, content: &str, keys: &str) -> Value {
    serde_json::from_slice(&play(name, content.as_bytes(), keys, &["--emit", "state"])).unwrap()
}

#[test]
fn text_comes_out_byte_for_byte() {
    let rows: &[&[u8]] =
        &[b"", b"a\r\nb\nc", b"\xEF\xBB\xBFa\n", b"a\xFF\0\x80b\r", b"\xFF\xFEa\0\n\0", "\u{F7A0}".as_bytes()];
    for bytes in rows {
        assert_eq!(play("a.txt", bytes, "", &[]), *bytes);
        assert_eq!(play("a.txt", bytes, "\"x\" ctrl+z", &[]), *bytes);
    }
}

#[test]
fn the_state_says_everything() {
    let found = state("a.rs", "é = 1;\nlet b = 2;\n", "@1:1 alt+g alt+f ctrl+space");
    let text = "é = 1;\nlet b = 2;\n";
    let place = |line: u32, col: u32, byte: u32| serde_json::json!({ "line": line, "col": col, "byte": byte });
    let expected = serde_json::json!({
        "text": text,
        "selections": [
            { "anchor": place(1, 1, 0), "head": place(1, 2, 2) },
            { "anchor": place(2, 1, 8), "head": place(2, 2, 9) },
        ],
        "primary": 1,
        "pins": [],
        "layer": "shape",
        "modified": false,
        "message": "",
        "undo_depth": 0,
        "cursors_above": 0,
        "cursors_below": 0,
        "recording": null,
        "coach": null,
        "diagnostics": [], "echo": null, "rehearsal": null,
        "servers": [],
        "stops": 0,
        "offers": null,
        "offered": null,
    });
    assert_eq!(found, expected);
    let lossy = play("a.txt", b"a\xFFb", "end", &["--emit", "state"]);
    let lossy: Value = serde_json::from_slice(&lossy).unwrap();
    assert_eq!((&lossy["text"], &lossy["lossy"]), (&Value::from("a\u{FFFD}b"), &Value::from(true)));
}

#[test]
fn frames_have_exactly_their_rows_at_every_size() {
    for size in ["142x42", "80x24", "60x16", "59x15", "30x4", "3x2", "1x1"] {
        let (_, rows) = size.split_once('x').unwrap();
        let frame = play("a.rs", b"fn main() {}\n", "ctrl+space", &["--emit", "frame", "--size", size]);
        let frame = String::from_utf8(frame).unwrap();
        assert_eq!(frame.matches('\n').count().to_string(), rows, "{size}");
    }
}

#[test]
fn times_are_measured() {
    let times = play("a.txt", b"a\n", "5*\"x\"", &["--emit", "timing"]);
    let times: Value = serde_json::from_slice(&times).unwrap();
    assert_eq!(times["keys"], 5);
    for group in ["update", "draw", "total"] {
        for share in ["p50", "p90", "p99", "max"] {
            assert!(times[group][share].as_f64().unwrap() > 0.0, "{group}.{share}");
        }
    }
    assert!(times["open_ms"].as_f64().unwrap() > 0.0 && times["first_frame_ms"].as_f64().unwrap() > 0.0);
    assert!(times["peak_rss_bytes"].as_u64().unwrap() > 1_000_000);
}

#[test]
fn wrong_use_is_named_and_changes_nothing() {
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("a.txt");
    std::fs::write(&file, "a\n").unwrap();
    let file = file.to_str().unwrap();
    let rows: &[(&[&str], i32, &str)] = &[
        (&["play", file, "--keys", "x quark", "--write"], 2, "\"quark\""),
        (&["play", file, "--keys", "!no-verb"], 2, "no verb is called \"no-verb\""),
        (&["play", file, "--language", "klingon"], 2, "klingon"),
        (&["play", file, "--emit", "song"], 2, "song"),
        (&["play", file, "--size", "0x9"], 2, "0x9"),
        (&["play", folder.path().to_str().unwrap()], 1, "is a folder"),
        (&["play", file, "--keys-file", "/no/such"], 1, "/no/such"),
        (&["verbs", "--wrong"], 2, "--wrong"),
    ];
    for (arguments, code, wanted) in rows {
        let (found, out, error) = run(arguments, b"");
        assert_eq!((found, out.len()), (*code, 0), "{arguments:?} {error}");
        assert!(error.contains(wanted), "{arguments:?}: {error}");
    }
    assert_eq!(std::fs::read_to_string(file).unwrap(), "a\n");
}

#[test]
fn writing_needs_to_be_asked_for() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("a.txt");
    std::fs::write(&path, "a\n").unwrap();
    let file = path.to_str().unwrap();
    run(&["play", file, "--keys", "\"x\" ctrl+s"], b"");
    assert_eq!(std::fs::read_to_string(&path).unwrap(), "a\n");
    run(&["play", file, "--keys", "\"x\"", "--write"], b"");
    assert_eq!(std::fs::read_to_string(&path).unwrap(), "xa\n");
    let (code, out, _) = run(&["play", "-", "--keys", "alt+x"], b"one\ntwo\n");
    assert_eq!((code, out.as_slice()), (0, b"two\n".as_slice()));
}

#[test]
fn listings_are_whole() {
    let (_, out, _) = run(&["verbs", "--json"], b"");
    let verbs: Vec<Value> = serde_json::from_slice(&out).unwrap();
    let carry = verbs.iter().find(|verb| verb["name"] == "carry-up").unwrap();
    assert_eq!(carry["keys"]["shape"], serde_json::json!(["w", "Alt+w", "Alt+Up"]));
    assert_eq!(carry["keys"]["write"], serde_json::json!(["Alt+w", "Alt+Up"]));
    let (_, out, _) = run(&["languages", "--json"], b"");
    let languages: Vec<Value> = serde_json::from_slice(&out).unwrap();
    let rust = languages.iter().find(|language| language["name"] == "rust").unwrap();
    assert_eq!((&rust["line"][0], &rust["nests"]), (&Value::from("//"), &Value::from(true)));
    for plain in [["verbs"], ["languages"]] {
        let (code, out, _) = run(&plain, b"");
        assert_eq!(code, 0);
        assert!(out.len() > 1000);
    }
}

#[test]
fn ten_verbs_on_each_file_of_the_demo_and_back() {
    let script = "@20:1 alt+s alt+w alt+d alt+x alt+c alt+c alt+, alt+c ctrl+z esc alt+f alt+f alt+g alt+b esc alt+m \
                  alt+a \"x\" ctrl+space > < e E Q q esc ctrl+space ctrl+c ctrl+v alt+z 40*ctrl+z";
    for (name, content) in FILES {
        let out = play(name, content.as_bytes(), script, &[]);
        assert_eq!(String::from_utf8(out).unwrap(), *content, "{name}");
    }
}

/// Runs a tool of the machine on a file of the demo; a tool that is not there is passed over.
fn passes(tool: &str, arguments: &[&str]) {
    match Command::new(tool).args(arguments).output() {
        Err(_) => println!("{tool} is not on this machine: passed over"),
        Ok(out) => assert!(out.status.success(), "{tool} {arguments:?}\n{}", String::from_utf8_lossy(&out.stderr)),
    }
}

#[test]
fn the_files_of_the_demo_are_real() {
    let copy = snarvel::demo::copy(None).unwrap();
    let file = |name: &str| copy.folder().join(name).display().to_string();
    let out = |name: &str| copy.folder().join(name).display().to_string();
    passes("rustc", &["--edition", "2021", "-D", "warnings", "-o", &out("g"), &file("gauges.rs")]);
    passes("python3", &[&file("tides.py")]);
    passes("gcc", &["-Wall", "-Wextra", "-Werror", "-o", &out("f"), &file("foghorn.c")]);
    passes("bash", &[&file("watch.sh"), "/no/such", "/dev/null"]);
    passes("javac", &["-Xlint:all", "-Werror", "-d", &out(""), &file("Forecast.java")]);
    passes("lua5.4", &[&file("buoys.lua")]);
    passes("sqlite3", &[":memory:", &format!(".read {}", file("pilots.sql"))]);
    if Command::new("go").arg("version").output().is_ok() {
        passes("gofmt", &["-e", "-l", &file("relay.go")]);
    }
    let table = std::fs::read_to_string(Path::new(&file("stations.toml"))).unwrap();
    assert!(table.parse::<toml::Table>().is_ok());
    for (name, content) in FILES {
        let lines = content.lines().count();
        assert!((40..=300).contains(&lines), "{name}: {lines} lines");
        assert!(content.ends_with('\n') && !content.contains('\r'), "{name}");
    }
}

#[test]
fn editorconfig_is_read_also_here() {
    let folder = tempfile::tempdir().unwrap();
    let config = "root = true\n[*]\nindent_style = tab\nend_of_line = crlf\ntrim_trailing_whitespace = true\ninsert_final_newline = true\n";
    std::fs::write(folder.path().join(".editorconfig"), config).unwrap();
    let file = folder.path().join("a.rs");
    std::fs::write(&file, "a  ").unwrap();
    let path = file.to_str().unwrap();
    let (code, out, _) = run(&["play", path, "--keys", "alt+. !indent alt+a", "--write"], b"");
    assert_eq!((code, String::from_utf8(out).unwrap().as_str()), (0, "\ta  \r\n\t"));
    assert_eq!(std::fs::read_to_string(&file).unwrap(), "\ta\r\n");
}

#[test]
fn settings_of_a_file_that_is_named() {
    let folder = tempfile::tempdir().unwrap();
    let config = folder.path().join("mine.toml");
    let config = config.to_str().unwrap();
    std::fs::write(config, "pairs = false\nindentation = 2\ntrim_trailing = true\nfinal_line_end = true\n").unwrap();
    let text = |keys: &str, more: &[&str]| String::from_utf8(play("a.rs", b"f ", keys, more)).unwrap();
    assert_eq!(text("end \"(\"", &[]), "f ()");
    assert_eq!(text("end \"(\"", &["--config", config]), "f (");
    assert_eq!(text("!indent", &["--config", config]), "  f ");
    let file = folder.path().join("a.rs");
    std::fs::write(&file, "f ").unwrap();
    let path = file.to_str().unwrap();
    let (code, ..) = run(&["play", path, "--keys", "end \"x \"", "--write", "--config", config], b"");
    assert_eq!((code, std::fs::read_to_string(&file).unwrap().as_str()), (0, "f x\n"));
    std::fs::write(config, "indentation = 2\npairs = 3\n").unwrap();
    let (code, out, error) = run(&["play", path, "--keys", "!indent", "--config", config], b"");
    assert_eq!((code, out.as_slice()), (0, b"  f x\n".as_slice()), "what is right is in force");
    assert_eq!(error, "snarvel play: mine.toml line 2: pairs is true or false\n");
    let (code, _, error) = run(&["play", path, "--config", "/no/such.toml"], b"");
    assert!(code == 1 && error.contains("/no/such.toml"), "{error}");
}

#[test]
fn saving_in_a_script_writes_the_file_that_was_named() {
    let folder = tempfile::tempdir().unwrap();
    std::fs::create_dir(folder.path().join("sub")).unwrap();
    std::fs::write(folder.path().join("sub/a.txt"), "fog").unwrap();
    let out = Command::new(env!("CARGO_BIN_EXE_snarvel"))
        .current_dir(folder.path())
        .args(["play", "sub/a.txt", "--keys", "\"x\" ctrl+s", "--write", "--emit", "state"])
        .output()
        .unwrap();
    let state: serde_json::Value = serde_json::from_slice(&out.stdout).unwrap();
    assert_eq!(state["message"], "saved a.txt: 4 bytes");
    assert_eq!(std::fs::read_to_string(folder.path().join("sub/a.txt")).unwrap(), "xfog");
}

#[test]
fn languages_of_ones_own() {
    let folder = tempfile::tempdir().unwrap();
    let config = folder.path().join("mine.toml");
    let entry = |name: &str, extension: &str, mark: &str| {
        format!(
            "[[language]]\nname = \"{name}\"\ntitle = \"{name}\"\nextensions = [\"{extension}\"]\nline = [\"{mark}\"]\n"
        )
    };
    std::fs::write(&config, entry("tidal", "tide", "~~") + &entry("rust", "rs", "##") + &entry("own c", "c", "@@"))
        .unwrap();
    let config = config.to_str().unwrap();
    for (file, commented) in [("a.tide", "~~ a"), ("a.rs", "## a"), ("a.c", "@@ a"), ("a.py", "# a")] {
        let out = play(file, b"a", "alt+c", &["--config", config]);
        assert_eq!(String::from_utf8(out).unwrap(), commented, "{file}");
    }
}

#[test]
fn places_that_were_jumped_from() {
    let text = "a\n".repeat(60);
    let line_after = |keys: &str| {
        let state: serde_json::Value =
            serde_json::from_slice(&play("a.txt", text.as_bytes(), keys, &["--emit", "state"])).unwrap();
        state["selections"][0]["head"]["line"].as_u64().unwrap()
    };
    let rows = [
        ("@20:1 @50:1 alt+left", 20),
        ("@20:1 @50:1 alt+left alt+right", 50),
        ("@20:1 @50:1 !place-back !place-forward !place-back", 20),
        ("@20:1 @30:1 alt+left", 1),
        ("@20:1 11*down alt+left", 1),
        ("@20:1 @50:1 @5:1 2*alt+left", 20),
        ("@20:1 @50:1 @5:1 ctrl+space 2 alt+left", 20),
        ("@20:1 @50:1 alt+left @5:1 alt+right", 5),
        ("@20:1 @50:1 @1:1 enter enter alt+left alt+left", 22),
        ("alt+left", 1),
    ];
    for (keys, line) in rows {
        assert_eq!(line_after(keys), line, "{keys}");
    }
}

#[test]
fn the_page_of_languages_is_current() {
    let page = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/languages.md");
    let table = snarvel::listings::languages_table();
    if std::env::var("SNARVEL_DOCS").as_deref() == Ok("write") {
        std::fs::write(&page, &table).unwrap();
    }
    assert!(
        std::fs::read_to_string(page).unwrap() == table,
        "docs/languages.md: write it anew with SNARVEL_DOCS=write"
    );
    assert!(snarvel_core::languages::all().len() >= 120);
    let grammars =
        snarvel_core::languages::all().iter().filter(|language| snarvel_syntax::has_own_grammar(&language.name));
    assert!(grammars.count() >= 24);
}

#[test]
fn the_tasks_of_the_tour_are_done_by_their_keys() {
    let (code, said, _) = run(&["demo", "--check"], b"");
    let said = String::from_utf8(said).unwrap();
    assert_eq!(code, 0, "{said}");
    assert_eq!(said.lines().filter(|line| line.contains(": done by ")).count(), 8, "{said}");
    for (number, task) in snarvel::demo::tour().iter().enumerate() {
        let keys = task.keys.trim_end_matches(" esc");
        let undone = play("gauges.rs", FILES[0].1.as_bytes(), &format!("{keys} 9*ctrl+z"), &[]);
        assert_eq!(String::from_utf8(undone).unwrap(), FILES[0].1, "task {}", number + 1);
    }
}

#[test]
fn structure_in_the_program() {
    let text =
        |file: &str, content: &str, keys: &str| String::from_utf8(play(file, content.as_bytes(), keys, &[])).unwrap();
    assert_eq!(text("a.rs", "fn a() {}\n\nfn b() {}\n", "alt+S"), "fn b() {}\n\nfn a() {}\n");
    assert_eq!(text("a.json", "[1, 2, 3]\n", "@1:2 ctrl+space S S"), "[2, 3, 1]\n");
    assert_eq!(text("a.txt", "a\nb\n", "alt+S"), "b\na\n", "no grammar: the line is carried");
    let rust = "fn a() {\n    let b = 1;\n    // b\n    f(b, \"b\");\n}\nfn c() { b }\n";
    assert_eq!(
        text("a.rs", rust, "@2:9 alt+B \"x\""),
        "fn a() {\n    let x = 1;\n    // b\n    f(x, \"b\");\n}\nfn c() { b }\n"
    );
    assert_eq!(
        text("a.py", "def f():\n    a = [1, 2]\n    b()\n", "@2:10 3*!widen \"x\""),
        "def f():\n    a = x\n    b()\n"
    );
}

#[test]
fn cursors_out_of_view_are_counted_in_the_state() {
    let text = "fog\n".repeat(100);
    let more = ["--emit", "state", "--size", "80x24"];
    let state: serde_json::Value =
        serde_json::from_slice(&play("a.txt", text.as_bytes(), "@50:1 alt+b", &more)).unwrap();
    let count = |name: &str| state[name].as_u64().unwrap();
    assert_eq!((state["selections"].as_array().unwrap().len(), count("primary")), (100, 49));
    let shown = 100 - count("cursors_above") - count("cursors_below");
    assert_eq!(shown, 19, "the rows of the text");
}

#[test]
fn keys_of_ones_own_and_other_keyboards_hold_where_they_are_named() {
    let folder = tempfile::tempdir().unwrap();
    let keys = "v = \"delete-lines\"\nf10 = { text = \"fog\" }\n\"ctrl+k\" = \"filter-keep(/a/)\"\n";
    std::fs::write(folder.path().join("keys.toml"), keys).unwrap();
    std::fs::write(folder.path().join("settings.toml"), "keyboard = \"qwertz\"\n").unwrap();
    let config = folder.path().to_str().unwrap();
    let text =
        |keys: &str, config: &str| String::from_utf8(play("a.txt", b"a\nb\nc\n", keys, &["--config", config])).unwrap();
    assert_eq!(text("alt+v", config), "b\nc\n");
    assert_eq!(text("ctrl+space v esc f10", config), "fogb\nc\n");
    // The key at the left of the lowest row splits, whatever it is called.
    assert_eq!(text("@2:2 alt+y", config), "a\nb\n\nc\n");
    assert_eq!(text("@1:2 alt+f alt+f ctrl+k \"x\"", &format!("{config}/keys.toml")), "ax\nb\nc\n");
}

#[test]
fn sift_is_scriptable_and_one_step_a_file() {
    let text = |keys: &str| String::from_utf8(play("a.rs", b"let tide = \"tide\"; // tide\r\n", keys, &[])).unwrap();
    assert_eq!(text("ctrl+f \"tide\" tab \"ebb\" alt+2 alt+3 alt+enter"), "let ebb = \"tide\"; // tide\r\n");
    assert_eq!(text("ctrl+f \"tide\" tab \"ebb\" alt+enter ctrl+z"), "let tide = \"tide\"; // tide\r\n");
    assert_eq!(
        text("ctrl+f alt+e \"t(i)de\" tab \"\\\\U$1\\\\E\\\\n\" enter alt+enter"),
        "let I\r\n = \"I\r\n\"; // I\r\n\r\n"
    );
    // In what is selected only.
    let keys = "@1:5-2:1 ctrl+f ctrl+u \"tide\" alt+b \"x\"";
    assert_eq!(text(keys), "let x = \"x\"; // x\r\n");
    let two = |keys: &str| String::from_utf8(play("a.txt", b"a a\na a\na\n", keys, &[])).unwrap();
    assert_eq!(two("@1:2-2:2 ctrl+f \"a\" tab \"b\" alt+enter"), "a b\nb a\na\n");
}

#[test]
fn several_files_are_open_and_each_is_told() {
    let files = [("a.txt", "a\n"), ("b.txt", "b\n"), ("c.txt", "c\n")];
    let names = ["a.txt", "b.txt", "c.txt"];
    let keys = ["--keys", "\"x\" ctrl+pgdn \"y\"", "--emit", "state", "--emit", "text"];
    let (code, out, error, _folder) = play_in(&files, &names, &keys);
    assert_eq!(code, 0, "{error}");
    let (state, text) = out.split_once('\n').unwrap();
    let state: Value = serde_json::from_str(state).unwrap();
    assert_eq!((text, &state["text"]), ("yb\n", &Value::from("yb\n")));
    let told: Vec<(bool, &str)> = state["files"]
        .as_array()
        .unwrap()
        .iter()
        .map(|file| (file["modified"].as_bool().unwrap(), file["text"].as_str().unwrap()))
        .collect();
    assert_eq!(told, [(true, "xa\n"), (true, "yb\n"), (false, "c\n")]);
    assert!(state["files"][2]["name"].as_str().unwrap().ends_with("c.txt"));
    assert_eq!(state["files"][0]["selections"][0]["head"]["col"], 2);
    let (_, _, _, folder) = play_in(&files, &names, &["--keys", "\"x\" ctrl+pgdn \"y\"", "--write"]);
    let held: Vec<String> =
        names.iter().map(|name| std::fs::read_to_string(folder.path().join(name)).unwrap()).collect();
    assert_eq!(held, ["xa\n", "yb\n", "c\n"]);
}

#[test]
fn a_recording_is_told_as_lines_and_played_again() {
    let keys = "ctrl+space \"\\\"\" d esc \"x\" ctrl+space";
    let found = state("a.txt", "a\nb\n", keys);
    assert_eq!(found["recording"], serde_json::json!(["duplicate-down", "type \"x\""]));
    let played = state("a.txt", "a\nb\n", &format!("{keys} \"\\\"$!\""));
    assert_eq!((&played["recording"], &played["text"]), (&Value::Null, &Value::from("a\nxa\nxxxa\nb\n")), "{played}");
}

#[test]
fn a_place_that_came_from_a_click_cannot_be_played_again() {
    for click in ["click(2,1)", "alt+click(2,1)", "alt+drag(1,1,2,2)"] {
        let keys = format!("ctrl+space \"\\\"\" {click} d \"\\\"\"");
        let said = state("a.txt", "a\nb\n", &keys)["message"].as_str().unwrap().to_owned();
        assert_eq!(said, "recorded 2 steps that cannot be played again: a place came from a click", "{click}");
    }
}

#[test]
fn recipes_are_from_the_configuration_and_with_trust_from_the_folder() {
    let files = [
        ("a.txt", "tide\n"),
        ("config/recipes/own.recipe", "type \"own \""),
        (".snarvel/recipes/shared.recipe", "type \"shared \""),
    ];
    let text = |keys: &str, more: &[&str]| {
        let arguments: Vec<&str> = ["--keys", keys].iter().chain(more).copied().collect();
        play_in(&files, &["a.txt"], &arguments).1
    };
    assert_eq!(text("!play-recipe(own)", &["--config", "CONFIG"]), "own tide\n");
    assert_eq!(text("!play-recipe(own)", &[]), "tide\n");
    assert_eq!(text("!play-recipe(shared)", &["--config", "CONFIG"]), "tide\n");
    assert_eq!(text("!play-recipe(shared)", &["--trust"]), "shared tide\n");
    assert_eq!(text("!play-recipe(quoted-list)", &[]), "\"tide\",\n");
}

#[test]
fn text_goes_through_a_command_only_with_trust() {
    let files = [("a.txt", "b\r\na\r\nword\r\n")];
    let played = |keys: &str, more: &[&str]| {
        let arguments: Vec<&str> = ["--keys", keys, "--emit", "state"].iter().chain(more).copied().collect();
        let state: Value = serde_json::from_str(&play_in(&files, &["a.txt"], &arguments).1).unwrap();
        (state["text"].as_str().unwrap().to_owned(), state["message"].as_str().unwrap().to_owned())
    };
    let (text, said) = played("!filter-through(sort)", &[]);
    assert_eq!((text.as_str(), said.as_str()), ("b\r\na\r\nword\r\n", "not run: only played (--trust runs it)"));
    assert_eq!(played("!filter-through(sort)", &["--trust"]).0, "a\r\nb\r\nword\r\n");
    assert_eq!(played("!filter-through(sort) ctrl+z", &["--trust"]).0, "b\r\na\r\nword\r\n");
    // Each selection by itself; a line end that the command adds to a part of a line is left out.
    let (text, said) = played("@1:1-1:2 alt+f !filter-through(echo low)", &["--trust"]);
    assert_eq!(text, "low\r\nlow\r\nword\r\n", "{said}");
    let (text, said) = played("!filter-through(echo fog >&2; exit 3)", &["--trust"]);
    assert_eq!(text, "b\r\na\r\nword\r\n");
    assert_eq!(said, "nothing has changed: echo fog >&2; exit 3: it ended with code 3: fog");
}
