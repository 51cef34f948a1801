//! Echo in `play`: two edits by hand, what is offered after them, and what becomes of the offer.

use crate::support::play_in;
use serde_json::Value;

fn state(files: &[(&str, &str)], names: &[&str], keys: &str) -> Value {
    let (code, out, error, _folder) = play_in(files, names, &["--keys", keys, "--emit", "state"]);
    assert_eq!(code, 0, "{error}");
    serde_json::from_str(&out).unwrap()
}

/// The places as `line:col after`; `-` where nothing is offered.
fn places(state: &Value) -> String {
    let Some(places) = state["echo"]["places"].as_array() else { return "-".to_owned() };
    let told = |place: &Value| format!("{}:{} {}", place["line"], place["col"], place["after"].as_str().unwrap());
    places.iter().map(told).collect::<Vec<_>>().join(" | ")
}

const DEPTHS: &str = "depth_a = gauge(\"A\")\ndepth_b = gauge(\"B\")\ndepth_c = gauge(\"C\")\ndepth = gauge()\n# depth_d = gauge(\"D\")\n";

/// Adds the argument in a line.
const ADD: &str = "end left \", mm=True\" ";

#[test]
fn the_rest_is_offered_after_two_alike_edits() {
    let third = "3:20 depth_c = gauge(\"C\", mm=True)";
    let add = |lines: &str| lines.split(' ').fold(String::new(), |keys, line| keys + &format!("@{line}:1 {ADD}"));
    for (name, keys, expected) in [
        ("one edit is not enough", add("1"), "-"),
        ("offered before the caret leaves the second line", add("1 2"), third),
        ("offered after it has left it", add("1 2") + "ctrl+end", third),
        ("upwards, too", add("3 2"), "1:20 depth_a = gauge(\"A\", mm=True)"),
        ("what is undone does not count", add("1 2") + "ctrl+z", "-"),
        ("nor an edit of several cursors", "@1:1 !cursor-below end left \", mm=True\"".to_owned(), "-"),
        ("one that is not alike lets it go", add("1 2") + "@4:1 \"x\" ctrl+end", "-"),
        ("one that is only begun does not", add("1 2") + "@4:1 \"x\"", third),
        ("a paste is an edit", "@1:20 paste\", mm=True\" @2:20 paste\", mm=True\"".to_owned(), third),
        ("Esc lets it go", add("1 2") + "esc", "-"),
        ("Esc in the list, too", add("1 2") + "ctrl+6 esc", "-"),
    ] {
        assert_eq!(places(&state(&[("depth.py", DEPTHS)], &["depth.py"], &keys)), expected, "{name}: {keys}");
    }
}

#[test]
fn what_becomes_of_an_offer() {
    let add = format!("@1:1 {ADD} @2:1 {ADD} ");
    let more = format!("{DEPTHS}depth_e = gauge(\"E\")\n");
    let done = |text: &str, names: &[&str]| {
        names.iter().fold(text.to_owned(), |text, name| {
            text.replace(
                &format!("\ndepth_{} = gauge(\"{name}\")", name.to_lowercase()),
                &format!("\ndepth_{} = gauge(\"{name}\", mm=True)", name.to_lowercase()),
            )
        })
    };
    let by_hand = done(&format!("\n{more}"), &["A", "B"])[1..].to_owned();
    for (name, keys, expected) in [
        ("all", "ctrl+6 enter", done(&by_hand, &["C", "E"])),
        ("one left out", "ctrl+6 space enter", done(&by_hand, &["E"])),
        ("one step back", "ctrl+6 enter ctrl+z", by_hand.clone()),
        ("one step back and on", "ctrl+6 enter ctrl+z ctrl+y", done(&by_hand, &["C", "E"])),
        ("cursors there", "ctrl+6 alt+b \"!\"", by_hand.replace("(\"C\")", "(\"C\"!)").replace("(\"E\")", "(\"E\"!)")),
        ("looked at only", "ctrl+6", by_hand.clone()),
        ("all, by the other name of the key", "ctrl+^ enter", done(&by_hand, &["C", "E"])),
    ] {
        let told = state(&[("depth.py", &more)], &["depth.py"], &(add.clone() + keys));
        assert_eq!(told["text"], expected, "{name}: {}", told["message"]);
    }
}

#[test]
fn after_it_is_done_only_an_edit_by_hand_offers_again() {
    let text = format!("{DEPTHS}low = gauge(\"F\") + 1\nhigh = gauge(\"H\") * 2\n");
    let keys = format!("@1:1 {ADD} @2:1 {ADD} ctrl+6 enter ctrl+end");
    assert_eq!(places(&state(&[("depth.py", &text)], &["depth.py"], &keys)), "-");
    let keys = format!("{keys} @6:16 \", mm=True\"");
    assert_eq!(places(&state(&[("depth.py", &text)], &["depth.py"], &keys)), "7:17 high = gauge(\"H\", mm=True) * 2");
}

#[test]
fn what_counts_as_one_edit() {
    let lines = "low = 1\nmean = 2\nhigh = 3\nmost = 4";
    for (name, keys, expected) in [
        ("edits of lines that have no word in common", "@1:1 end \" + a\" @2:1 end \" + a\"", "-"),
        ("lines that are taken away", "@1:1 !delete-lines @1:1 !delete-lines", "-"),
    ] {
        assert_eq!(places(&state(&[("depth.py", lines)], &["depth.py"], keys)), expected, "{name}");
    }
    // Lines at the end of a text without a final line end go with the line end before them, one or all.
    let say = "say(1)\nlow()\nsay(2)\nlow()\nsay(3)\nsay(4)";
    let twice = "@1:1 !delete-lines @2:1 !delete-lines ctrl+6 ";
    for (keys, expected) in [
        ("enter", "low()\nlow()"),
        ("space enter", "low()\nlow()\nsay(3)"),
        ("down space enter", "low()\nlow()\nsay(4)"),
    ] {
        let told = state(&[("depth.py", say)], &["depth.py"], &(twice.to_owned() + keys));
        assert_eq!(told["text"], expected, "{keys}");
    }
    // What is undone and made again leaves the edit before it.
    let keys = format!("@1:1 {ADD} ctrl+z ctrl+y @2:1 {ADD} @3:1 {ADD}");
    let more = format!("{DEPTHS}depth_e = gauge(\"E\")\n");
    assert_eq!(places(&state(&[("depth.py", &more)], &["depth.py"], &keys)), "6:20 depth_e = gauge(\"E\", mm=True)");
    let keys =
        "@1:1 end 2*backspace @2:1 end !delete-back delete-back".replace("!delete-back delete-back", "2*backspace");
    let calls = "read(a)()\nread(b)()\nread(c)()\n";
    assert_eq!(places(&state(&[("depth.py", calls)], &["depth.py"], &keys)), "3:8 read(c)");
}

#[test]
fn line_ends_and_the_last_line_stay_as_they_are() {
    let crlf = DEPTHS.replace('\n', "\r\n");
    let text = crlf.trim_end_matches("\r\n");
    let told = state(&[("depth.py", text)], &["depth.py"], &format!("@1:1 {ADD} @2:1 {ADD} ctrl+6 enter"));
    let expected = ["A", "B", "C"].iter().fold(text.to_owned(), |text, name| {
        let line = format!("depth_{} = gauge(\"{name}\"", name.to_lowercase());
        text.replace(&format!("{line})\r\n"), &format!("{line}, mm=True)\r\n"))
    });
    assert_eq!(told["text"], expected);
}

#[test]
fn the_project_is_offered_at_the_second_key() {
    let files =
        [("depth.py", DEPTHS), ("other.py", "depth_x = gauge(\"X\")\n"), ("depth.rs", "depth_y = gauge(\"Y\")\n")];
    let keys = format!("@1:1 {ADD} @2:1 {ADD} ctrl+6 ctrl+6 enter");
    let told = state(&files, &["depth.py", "other.py", "depth.rs"], &keys);
    let texts: Vec<&str> =
        told["files"].as_array().unwrap().iter().map(|file| file["text"].as_str().unwrap()).collect();
    assert!(texts[0].contains("\"C\", mm=True"), "{}", told["message"]);
    assert_eq!(texts[1], "depth_x = gauge(\"X\", mm=True)\n", "{}", told["message"]);
    assert_eq!(texts[2], "depth_y = gauge(\"Y\")\n");
}

#[test]
fn numbers_go_on_in_the_direction_of_the_edits() {
    let stages = "at(0, \"low\")\nat(0, \"mean\")\nat(0, \"high\")\nat(0, \"storm\")\n";
    let count =
        |line: u8, number: &str| format!("@{line}:5 delete-back \"{number}\" ").replace("delete-back", "backspace");
    let told = state(&[("stages.py", stages)], &["stages.py"], &(count(1, "10") + &count(2, "20")));
    assert_eq!(places(&told), "3:4 at(30, \"high\") | 4:4 at(40, \"storm\")");
    let told = state(&[("stages.py", stages)], &["stages.py"], &(count(4, "10") + &count(3, "20")));
    assert_eq!(places(&told), "1:4 at(40, \"low\") | 2:4 at(30, \"mean\")");
}

#[test]
fn what_cannot_be_learned_from_is_left_alone() {
    let long = format!("x = \"{}\"\n", "a".repeat(100_000));
    for (name, text, keys) in [
        ("a very long line", format!("{long}{long}{long}"), "@1:1 \"y\" @2:1 \"y\""),
        ("an empty text", String::new(), "\"y\" enter \"y\""),
        ("too many places to say so", "say(x)\n".repeat(2_000), "@1:5 \"y.\" @2:5 \"y.\""),
    ] {
        let told = state(&[("depth.py", &text)], &["depth.py"], keys);
        assert!(told["echo"].is_null(), "{name}: {}", told["echo"]);
    }
    // Bytes that no key types are characters like others.
    let binary = "a\u{0}\u{1}(x)\na\u{0}\u{1}(x)\na\u{0}\u{1}(x)\n";
    let told = state(&[("depth.py", binary)], &["depth.py"], "@1:5 \"y.\" @2:5 \"y.\"");
    assert_eq!(places(&told), "3:5 a\u{0}\u{1}(y.x)");
    let told = state(&[("depth.py", &"say(x)\n".repeat(2_000))], &["depth.py"], "@1:5 \"y.\" @2:5 \"y.\" ctrl+6 enter");
    assert_eq!(told["text"], "say(y.x)\n".repeat(2_000));
}
