//! The recipes that come with the program: what each does, in real code, and over the files of the demo.

use crate::support::run;
use snarvel_workspace::recipes::book::SHIPPED;
use snarvel_workspace::recipes::read;
use std::fs;

/// What the recipe called `name` makes of a file.
fn made(name: &str, (file, text): (&str, &str)) -> String {
    let folder = tempfile::tempdir().unwrap();
    let (_, source) = SHIPPED.iter().find(|(each, _)| *each == name).unwrap();
    let [recipe, path] = [name, file].map(|name| folder.path().join(name));
    fs::write(&recipe, source).unwrap();
    fs::write(&path, text).unwrap();
    let (code, _, why) = run(&["apply", "--write", recipe.to_str().unwrap(), path.to_str().unwrap()], b"");
    assert!(code == 0 || why.contains("strict"), "{name}: {why}");
    fs::read_to_string(path).unwrap()
}

#[test]
fn a_line_selected_in_part_is_taken_whole() {
    let rows = [
        (
            "a.txt",
            "ebb \"a\"\nlow\npier\nend\n",
            "@1:6-3:2 !play-recipe(quoted-list)",
            "\"ebb \\\"a\\\"\",\n\"low\",\n\"pier\",\nend\n",
        ),
        (
            "a.toml",
            "low = 1\nhigh = 2\nend = 3\n",
            "@1:3-2:2 !play-recipe(assignments-to-json)",
            "\"low\": 1,\n\"high\": 2,\nend = 3\n",
        ),
        (
            "a.rs",
            "    pub low: u8,\n    high: u8,\n",
            "@1:6-2:6 !play-recipe(fields-to-builder)",
            "    .low(low)\n    .high(high)\n",
        ),
    ];
    for (file, text, keys, made) in rows {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join(file);
        fs::write(&path, text).unwrap();
        let (_, told, why) = run(&["play", path.to_str().unwrap(), "--keys", keys, "--emit", "text"], b"");
        assert_eq!(String::from_utf8(told).unwrap(), made, "{file}: {why}");
    }
}

#[test]
fn each_does_what_its_note_says() {
    let rows: &[(&str, &str, &str, &str)] = &[
        ("quoted-list", "a.txt", "  ebb\n\nsay \"low\"  \na\\b", "  \"ebb\",\n\n\"say \\\"low\\\"\",\n\"a\\\\b\","),
        (
            "assignments-to-json",
            "a.toml",
            "name = \"low # tide\"\nchannel = 9   # of the gauge\n  open = [\"22:00\", \"05:30\"]\n[fog]\n",
            "\"name\": \"low # tide\",\n\"channel\": 9,\n  \"open\": [\"22:00\", \"05:30\"],\n[fog]\n",
        ),
        (
            "assignments-to-json",
            "a.js",
            "const level = 3;\nlet both = a == b;\nrun(() => {\n  board = read({\n",
            "\"level\": 3,\n\"both\": a == b,\nrun(() => {\n  board = read({\n",
        ),
        (
            "constants-to-enum",
            "a.rs",
            "    const LOW_WATER: u8 = 1;\n    pub const HIGH_WATER: u8 = 2;\nlet other = 3;\n",
            "    LowWater = 1,\n    HighWater = 2,\nlet other = 3;\n",
        ),
        (
            "constants-to-enum",
            "a.c",
            "#define NEAR_M 1000\n#include <stdio.h>\n",
            "NearM = 1000,\n#include <stdio.h>\n",
        ),
        (
            "fields-to-builder",
            "a.rs",
            "pub struct Gauge {\n    pub level_mm: u32,\n    pub(crate) name: Option<String>,\n}\n",
            "pub struct Gauge {\n    .level_mm(level_mm)\n    .name(name)\n}\n",
        ),
        ("fields-to-builder", "a.ts", "  depth: number;\n  side?: Side;\n", "  .depth(depth)\n  .side(side)\n"),
        (
            "fields-to-getters",
            "a.rs",
            "struct Gauge {\n    level: u32,\n    name: String,\n}\n",
            "struct Gauge {\n    pub fn level(&self) -> &u32 {\n        &self.level\n    }\n\n    pub fn name(&self) -> &String {\n        \
             &self.name\n    }\n}\n",
        ),
        ("fields-to-getters", "a.py", "level: int\n", "level: int\n"),
        (
            "imports-in-order",
            "a.py",
            "import sys\nimport os\nimport sys\nfrom tides import (\n    low,\n)\nimport re\nimport abc\n",
            "import os\nimport sys\nfrom tides import (\n    low,\n)\nimport abc\nimport re\n",
        ),
        ("imports-in-order", "a.rs", "use std::io;\r\nuse std::fmt;\r\n", "use std::fmt;\r\nuse std::io;\r\n"),
        ("imports-in-order", "a.md", "use the tide\nfrom the quay\n", "use the tide\nfrom the quay\n"),
        ("imports-in-order", "b.py", "'''\nimport b\nimport a\n'''\n", "'''\nimport b\nimport a\n'''\n"),
        ("blank-lines", "a.py", "low  \n\n\n\n\nhigh\n\n\nebb", "low\n\n\nhigh\n\n\nebb"),
        ("blank-lines", "a.rs", "a();\r\n\r\n\r\n \r\n\r\nb();\r\n", "a();\r\n\r\n\r\nb();\r\n"),
    ];
    for (name, file, text, expected) in rows {
        assert_eq!(made(name, (file, text)), *expected, "{name} over {file}");
        // What it has made of a file it leaves as it is, where it can be told from what there was.
        if matches!(*name, "imports-in-order" | "blank-lines" | "constants-to-enum") {
            assert_eq!(made(name, (file, expected)), *expected, "{name} again over {file}");
        }
    }
}

#[test]
fn a_header_is_dated_below_what_must_come_first_and_only_once() {
    let dated = |name: &str, text: &str| made("dated-header", (name, text));
    let date = |line: &str| line.chars().filter(|c| c.is_ascii_digit() || *c == '-').collect::<String>();
    let rust = dated("a.rs", "fn main() {}\n");
    let (head, rest) = rust.split_once('\n').unwrap();
    assert!(head.starts_with("// Changed on 20") && head.ends_with('.'), "{head}");
    assert_eq!((date(head).len(), rest), ("2026-11-28".len(), "fn main() {}\n"));
    let shell = dated("watch.sh", "#!/bin/sh\necho low\n");
    assert!(shell.starts_with("#!/bin/sh\n# Changed on ") && shell.ends_with(".\necho low\n"), "{shell}");
    let page = dated("a.xml", "<?xml version=\"1.0\"?>\n<tide/>\n");
    assert!(page.starts_with("<?xml version=\"1.0\"?>\n<!-- Changed on "), "{page}");
    assert_eq!(dated("b.rs", "// Changed on 1999-01-02.\nfn main() {}\n"), rust);
    assert_eq!(dated("a.json", "{}\n"), "{}\n", "there are no comments in it");
}

#[test]
fn each_is_in_the_one_form_and_says_what_it_does() {
    for (name, source) in SHIPPED {
        assert!(read(source).is_ok(), "{name}");
        assert_eq!(run(&["recipe", "--format", "-"], source.as_bytes()).1, source.as_bytes(), "{name}");
        let notes: Vec<&str> = source.lines().take_while(|line| line.starts_with("// ")).collect();
        assert!(!notes.is_empty() && notes.iter().all(|line| line.chars().count() <= 72), "{name}: {notes:?}");
    }
}

#[test]
fn over_the_demo_each_ends_and_tells_what_it_would_do() {
    let folder = tempfile::tempdir().unwrap();
    for (name, text) in snarvel::demo::FILES {
        fs::write(folder.path().join(name), text).unwrap();
    }
    let mut told = String::new();
    for (name, source) in SHIPPED {
        let (code, diff, said) = run(&["apply", "-", folder.path().to_str().unwrap()], source.as_bytes());
        assert_eq!(code, 0, "{name}: {said}");
        let files = diff.windows(6).filter(|part| part == b"+++ b/").count();
        assert!(said.starts_with(&format!("{files} of ")), "{name}: {said}");
        told.extend([name, ": ", &said]);
    }
    insta::assert_snapshot!(told);
}

/// The blocks of a page: what is written after their fences, and what is in them.
fn blocks(page: &str) -> Vec<(&str, String)> {
    let mut found = Vec::new();
    let mut open: Option<(&str, String)> = None;
    for line in page.lines() {
        match (&mut open, line.strip_prefix("```")) {
            (None, Some(about)) => open = Some((about, String::new())),
            (Some(_), Some(_)) => found.extend(open.take()),
            (Some((_, text)), None) => text.extend([line, "\n"]),
            (None, None) => {}
        }
    }
    found
}

#[test]
fn the_examples_of_the_reference_do_what_it_says() {
    let page = include_str!("../../../../docs/recipes.md");
    let blocks = blocks(page);
    let recipes: Vec<usize> =
        blocks.iter().enumerate().filter(|(_, (about, _))| about.starts_with("recipe ")).map(|(at, _)| at).collect();
    for at in &recipes {
        let [(about, recipe), (before, text), (after, expected)] = &blocks[*at..*at + 3] else {
            panic!("a recipe without before and after")
        };
        assert_eq!((*before, *after), ("before", "after"), "{recipe}");
        let folder = tempfile::tempdir().unwrap();
        let file = folder.path().join(about.strip_prefix("recipe ").unwrap());
        fs::write(&file, text).unwrap();
        let (code, _, why) = run(&["apply", "-", "--write", file.to_str().unwrap()], recipe.as_bytes());
        assert_eq!(code, 0, "{recipe}: {why}");
        assert_eq!(fs::read_to_string(&file).unwrap(), *expected, "{recipe}");
    }
    // Each header and each kind of step has one.
    let all: String = recipes.iter().map(|at| blocks[*at].1.as_str()).collect();
    let words = [
        "repeat 2",
        "repeat while it changes",
        "each line\n",
        "each line /",
        "each match /",
        "each block",
        "each cursor",
        "in comments",
        "in language ",
        "if /",
        "unless /",
        "type \"",
        "keep ",
        "use ",
        "strict",
        "take-matches /",
    ];
    for word in words {
        assert!(all.contains(word), "no example has {word:?}");
    }
}

#[test]
fn the_reference_names_what_is_shipped() {
    let page = include_str!("../../../../docs/recipes.md");
    for (name, _) in SHIPPED {
        assert!(page.contains(&format!("- `{name}`: ")), "{name}");
    }
}
