//! Cursors over several files in `play`.

use crate::support::play_in;
use serde_json::Value;

const FILES: [(&str, &str); 4] = [
    ("board.rs", "let ebb = 1;\nlow(ebb);\n"),
    ("tide.rs", "fn ebb() {}\r\nfn rise() { ebb(); }\r\n"),
    ("watch.py", "\tebb"),
    ("other.txt", "flow\n"),
];

fn state(keys: &str) -> Value {
    let names = ["board.rs", "tide.rs", "watch.py", "other.txt"];
    let (code, out, error, _folder) = play_in(&FILES, &names, &["--keys", keys, "--emit", "state"]);
    assert_eq!(code, 0, "{error}");
    serde_json::from_str(&out).unwrap()
}

fn texts(state: &Value) -> Vec<String> {
    state["files"].as_array().unwrap().iter().map(|file| file["text"].as_str().unwrap().to_owned()).collect()
}

/// Hits of the project become cursors.
const TAKE: &str = "@1:5 ctrl+f ctrl+f \"ebb\" alt+b ";

#[test]
fn what_keys_do_in_all_files_at_once() {
    for (keys, expected) in [
        ("\"tide\"", ["let tide = 1;\nlow(tide);\n", "fn tide() {}\r\nfn rise() { tide(); }\r\n", "\ttide"]),
        ("\"tide\" ctrl+z", [FILES[0].1, FILES[1].1, FILES[2].1]),
        (
            "\"tide\" ctrl+z ctrl+y",
            ["let tide = 1;\nlow(tide);\n", "fn tide() {}\r\nfn rise() { tide(); }\r\n", "\ttide"],
        ),
        // By the language of each file.
        ("alt+c", ["// let ebb = 1;\n// low(ebb);\n", "// fn ebb() {}\r\n// fn rise() { ebb(); }\r\n", "\t# ebb"]),
        (
            "alt+d",
            [
                "let ebb = 1;\nlow(ebb);\nlet ebb = 1;\nlow(ebb);\n",
                "fn ebb() {}\r\nfn rise() { ebb(); }\r\nfn ebb() {}\r\nfn rise() { ebb(); }\r\n",
                "\tebb\n\tebb",
            ],
        ),
        ("!number(1)", ["let 1 = 1;\nlow(2);\n", "fn 3() {}\r\nfn rise() { 4(); }\r\n", "\t5"]),
        (
            "ctrl+c right ctrl+v",
            ["let ebbebb = 1;\nlow(ebbebb);\n", "fn ebbebb() {}\r\nfn rise() { ebbebb(); }\r\n", "\tebbebb"],
        ),
        ("esc \"x\"", ["let x = 1;\nlow(ebb);\n", FILES[1].1, FILES[2].1]),
    ] {
        let told = state(&(TAKE.to_owned() + keys));
        let found = texts(&told);
        assert_eq!(found[..3], expected, "{keys}: {}", told["message"]);
        assert_eq!(found[3], "flow\n", "{keys}");
    }
}

#[test]
fn what_is_said_of_it() {
    for (keys, said) in [
        ("", "5 cursors in 3 files"),
        ("alt+d", "duplicated 5 lines in 3 files"),
        ("esc", "3 files act alone again"),
        ("esc !recall", "5 cursors in 3 files"),
        ("!next-cursor !next-cursor", "tide.rs: file 2 of 3"),
    ] {
        assert_eq!(state(&(TAKE.to_owned() + keys))["message"], said, "{keys}");
    }
    let told = state("@1:5 !convoy-add \"x\"");
    assert_eq!(texts(&told)[1], "fn x() {}\r\nfn rise() { x(); }\r\n");
}
