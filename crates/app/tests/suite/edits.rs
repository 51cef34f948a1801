//! Everyday edits, a row each: a file, keys, and the text that should come of it (`tests/edits/*.txt`).
//!
//! A row is `name ¦ file ¦ before ¦ keys ¦ after`, and maybe what is said: `⏎` is a line end, `↵` one of CR LF, `→` a tab; `=` for what
//! is said is nothing. Undoing everything must give the first text back in every row.

use snarvel::play::on_file;
use std::path::Path;

struct Row<'a> {
    name: &'a str,
    file: &'a str,
    before: String,
    keys: &'a str,
    after: String,
    said: Option<&'a str>,
}

fn rows(text: &str) -> Vec<Row<'_>> {
    let marked = |part: &str| part.replace('⏎', "\n").replace('↵', "\r\n").replace('→', "\t");
    let lines = text.lines().filter(|line| !line.is_empty() && !line.starts_with("# "));
    lines
        .map(|line| {
            let parts: Vec<&str> = line.split(" ¦ ").collect();
            let (parts, said) = match parts[..] {
                [name, file, before, keys, after] => ([name, file, before, keys, after], None),
                [name, file, before, keys, after, said] => ([name, file, before, keys, after], Some(said)),
                _ => panic!("five or six parts: {line}"),
            };
            let [name, file, before, keys, after] = parts;
            Row { name, file, before: marked(before), keys, after: marked(after), said }
        })
        .collect()
}

/// Plays the rows of a file; gives what is wrong with each that is.
fn wrong(text: &str) -> Vec<String> {
    let folder = tempfile::tempdir().unwrap();
    let mut wrong = Vec::new();
    for row in rows(text) {
        let path = folder.path().join(row.file);
        std::fs::write(&path, &row.before).unwrap();
        let keys = row.keys.replace('⏎', "\\n").replace('→', "\\t");
        let mut played = on_file(&path, &keys, None).unwrap_or_else(|error| panic!("{}: {error}", row.name));
        let found = played.app.context.workspace.active().text().to_string();
        let said = played.app.message().unwrap_or_default().to_owned();
        let is_said = row.said.is_none_or(|wanted| if wanted == "=" { said.is_empty() } else { said.contains(wanted) });
        if found != row.after || !is_said {
            wrong.push(format!(
                "{}: {}\n  found    {found:?}\n  expected {:?}\n  says {said}",
                row.name, row.keys, row.after
            ));
        }
        let undo = snarvel_ui::keys::script::parse("esc esc ctrl+z").unwrap();
        for _ in 0..60 {
            undo.iter().for_each(|step| played.app.act(step));
        }
        let undone = played.app.context.workspace.active().text().to_string();
        if undone != row.before {
            wrong.push(format!("{}: undone to {undone:?}", row.name));
        }
        std::fs::remove_file(&path).unwrap();
    }
    wrong
}

fn check(name: &str) {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/edits").join(name);
    let wrong = wrong(&std::fs::read_to_string(path).unwrap());
    assert!(wrong.is_empty(), "{} rows\n{}", wrong.len(), wrong.join("\n"));
}

#[test]
fn keys_destroy_nothing_that_they_were_not_asked_to() {
    check("keys.txt");
}

#[test]
fn elements_are_carried_swapped_and_spread() {
    check("elements.txt");
}

#[test]
fn lines_keep_separators_and_blank_lines() {
    check("lines.txt");
}

#[test]
fn comments_keep_their_marks() {
    check("comments.txt");
}

#[test]
fn writing_is_finished_and_offered() {
    check("writing.txt");
}

#[test]
fn names_tags_and_blocks_are_told_apart() {
    check("names.txt");
}

#[test]
fn indentation_is_that_of_the_place() {
    check("indentation.txt");
}

#[test]
fn pasted_text_takes_the_depth_steps_and_gaps_of_its_place() {
    check("pasting.txt");
}
