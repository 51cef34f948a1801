//! Depths and comments in sources of other projects: what a formatter laid out stays, what is wrapped comes back.

use crate::sources::{evenly, gathered};
use crate::support::editor::{Call, Editor};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::{Language, by_name, detect};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::registry::by_name as verb;
use std::fmt::Write;
use std::path::Path;
use std::sync::Arc;

fn run(editor: &mut Editor, name: &str) -> String {
    let clip = Clip::default();
    let call = Call { verb: verb(name).unwrap(), argument: "", times: 1, clip: &clip, now_ms: 0 };
    editor.run(call).message.unwrap_or_default()
}

fn read(path: &Path) -> Option<(Text, Arc<Language>)> {
    let source = std::fs::read_to_string(path).ok()?;
    let name = path.file_name()?.to_string_lossy().into_owned();
    Some((Text::from(source.as_str()), detect(&name, &source)))
}

/// Whether no formatter can have laid `text` out: some lines begin with spaces, others with tabs, or there are lines that are data.
fn is_mixed(text: &Text) -> bool {
    /// Longer lines hold data.
    const LONGEST: usize = 400;
    let lines = (0..text.line_count()).map(Line).map(|line| text.content(line).into_owned());
    let (mut spaces, mut tabs, mut is_data) = (false, false, false);
    for line in lines {
        spaces |= line.starts_with("  ");
        tabs |= line.starts_with('\t') || line.starts_with(" \t");
        is_data |= line.len() > LONGEST;
    }
    (spaces && tabs) || is_data
}

/// How many lines of a hundred may change, by ending. What changes are continuation lines that hang less deep than the line they
/// go on with, comments among the arguments of a call, and files that have no layout: arrays at the depth of their brackets in JSON,
/// namespaces made by macros in C++, shell scripts that hang their commands by a space.
const MISFITS: &[(&str, usize)] = &[
    ("rs", 1),
    ("py", 1),
    ("css", 1),
    ("toml", 1),
    ("js", 2),
    ("c", 3),
    ("h", 6),
    ("yaml", 3),
    ("sh", 5),
    ("json", 3),
];

#[test]
fn what_is_laid_out_stays() {
    /// Files of each ending.
    const FILES: usize = 25;
    let mut told = String::new();
    for (ending, misfits) in MISFITS {
        let (mut lines, mut changed) = (0, 0);
        for path in evenly(gathered(ending), FILES) {
            let Some((text, language)) = read(&path) else { continue };
            if is_mixed(&text) {
                continue;
            }
            let mut editor = Editor::parsed(text.clone(), language);
            editor.workspace.settle_structure();
            run(&mut editor, "select-all");
            run(&mut editor, "reindent");
            let all = (0..text.line_count()).map(Line).filter(|line| !text.is_blank(*line));
            lines += all.clone().count();
            changed += all.filter(|line| text.content(*line) != editor.text().content(*line)).count();
        }
        let _ = writeln!(told, "{ending}: {changed} of {lines} lines changed");
        assert!(changed * 100 <= lines * misfits, "{told}");
    }
    println!("{told}");
}

/// Random numbers, the same at every run: the generator of Knuth's MMIX.
struct Dice(u64);

impl Dice {
    fn below(&mut self, limit: usize) -> usize {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        ((self.0 >> 33) as usize) % limit.max(1)
    }
}

#[test]
fn what_is_wrapped_in_a_block_comment_comes_back() {
    /// Files of each ending, and selections in each.
    const FILES: usize = 12;
    const SELECTIONS: usize = 12;
    let mut dice = Dice(7);
    for ending in ["rs", "c", "h", "js", "css", "html", "xml", "sql", "php", "lua", "go", "java", "md"] {
        let mut wrapped = 0;
        for path in evenly(gathered(ending), FILES) {
            let Some((text, language)) = read(&path) else { continue };
            for _ in 0..SELECTIONS {
                let mut editor = Editor::new(text.clone(), language.clone());
                let ends = [dice.below(text.len()), dice.below(400)];
                let start = text.snap_forward(Byte(ends[0]));
                let end = text.snap_forward(Byte((start.0 + ends[1]).min(text.len())));
                // Half of them are whole lines, blank ones at their ends included.
                let span = match dice.below(2) {
                    0 => [start, end],
                    _ => [text.line_start(text.line_of(start)), text.line_start(text.line_of(end))],
                };
                editor.set_cursors(CursorSet::of(vec![Selection::new(span[0], span[1])], 0));
                if !run(&mut editor, "block-comment-toggle").starts_with("put") {
                    continue;
                }
                run(&mut editor, "block-comment-toggle");
                let place = format!("{}: {} to {}", path.display(), span[0].0, span[1].0);
                assert!(*editor.text() == text, "{place}");
                wrapped += 1;
            }
        }
        println!("{ending}: {wrapped} selections wrapped and back");
    }
}

#[test]
fn lines_that_are_commented_come_back() {
    const FILES: usize = 12;
    const SELECTIONS: usize = 8;
    let mut dice = Dice(3);
    for ending in ["rs", "c", "js", "css", "html", "xml", "sql", "php", "py", "sh", "toml", "yaml", "md", "pl"] {
        for path in evenly(gathered(ending), FILES) {
            let Some((text, language)) = read(&path) else { continue };
            for _ in 0..SELECTIONS {
                let mut editor = Editor::parsed(text.clone(), language.clone());
                editor.workspace.settle_structure();
                let first = dice.below(text.line_count());
                let last = (first + dice.below(12)).min(text.line_count() - 1);
                let ends = [text.line_start(Line(first)), text.content_span(Line(last)).end];
                editor.set_cursors(CursorSet::of(vec![Selection::new(ends[0], ends[1])], 0));
                if !run(&mut editor, "comment-toggle").starts_with("commented") {
                    continue;
                }
                run(&mut editor, "comment-toggle");
                assert!(*editor.text() == text, "{}: lines {first} to {last}", path.display());
            }
        }
    }
}

#[test]
fn scrambled_text_is_put_right() {
    let mut dice = Dice(11);
    for (language, sound) in [
        (
            "html",
            "<ul>\n    <li>one</li>\n    <li>\n        <b>two</b>\n        <br>\n        three\n    </li>\n</ul>\n",
        ),
        ("css", "@media print {\n    a,\n    b {\n        color: red;\n    }\n}\np {\n    top: 0;\n}\n"),
        (
            "rust",
            "fn f(\n    a: Map<\n        u8,\n        Vec<u8>,\n    >,\n) {\n    match a {\n        A => b(),\n        C => {\n            d();\n        }\n    }\n}\n",
        ),
        ("javascript", "f({\n    a: [\n        1,\n        2,\n    ],\n}, () => {\n    g();\n});\n"),
        (
            "tsx",
            "const a = (\n    <p>\n        <b />\n        {c && (\n            <i>x</i>\n        )}\n    </p>\n);\n",
        ),
        ("xml", "<a>\n    <b c=\"d\">\n        <e/>\n    </b>\n</a>\n"),
    ] {
        for _ in 0..6 {
            let line = |line: &str| " ".repeat(dice.below(9)) + line.trim_start() + "\n";
            let scrambled: String = sound.lines().map(line).collect();
            // What is below it shows the unit.
            let text = scrambled + &sound.repeat(6);
            let mut editor = Editor::parsed(Text::from(text.as_str()), by_name(language).unwrap());
            editor.workspace.settle_structure();
            run(&mut editor, "select-all");
            run(&mut editor, "reindent");
            let found = editor.text().to_string();
            assert!(found.starts_with(sound), "{language}:\n{text}\n{found}");
        }
    }
}
