//! Statements carried in sources of other projects: nothing is lost, nothing is left broken.

use crate::sources::{evenly, gathered};
use crate::support::editor::{Call, Editor};
use snarvel_core::cursors::CursorSet;
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_core::units::Line;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::registry::by_name as verb;
use std::path::PathBuf;
use tree_sitter::Parser;

/// Files of each language: enough to meet most of it.
const FILES: usize = 15;

/// Lines of each file that are carried.
const LINES: usize = 12;

/// How many of a hundred may fail: several parameters on one line of a list over lines, comments that a grammar takes
/// into the table before them, the inside of macros.
const MISFITS: usize = 5;

fn run(editor: &mut Editor, name: &str) -> String {
    let clip = Clip::default();
    editor
        .run(Call { verb: verb(name).unwrap(), argument: "", times: 1, clip: &clip, now_ms: 0 })
        .message
        .unwrap_or_default()
}

fn is_sound(parser: &mut Parser, text: &str) -> bool {
    parser.parse(text, None).is_some_and(|tree| !tree.root_node().has_error())
}

/// Carries lines of every file down and up again; gives how many were carried, and how many of them
/// left broken code after or did not come back.
fn carried(language: &str, grammar: &tree_sitter::Language, files: Vec<PathBuf>) -> (usize, usize) {
    let mut parser = Parser::new();
    parser.set_language(grammar).unwrap();
    let (mut count, mut misfits) = (0, 0);
    for path in evenly(files, FILES) {
        let Ok(source) = std::fs::read_to_string(&path) else { continue };
        if !is_sound(&mut parser, &source) {
            continue;
        }
        let text = Text::from(source.as_str());
        let lines = text.line_count();
        for line in (0..LINES).map(|index| Line(index * lines / LINES)) {
            let mut editor = Editor::parsed(text.clone(), by_name(language).unwrap());
            editor.set_cursors(CursorSet::caret(text.indentation_span(line).end));
            let place = format!("{}:{}", path.display(), line.0 + 1);
            editor.workspace.settle_structure();
            if !run(&mut editor, "carry-statement-down").starts_with("carried") {
                assert!(*editor.text() == text, "{place}: refused, but changed");
                continue;
            }
            count += 1;
            let once = editor.text().to_string();
            let is_right = is_sound(&mut parser, &once);
            let mut sorted = [source.clone().into_bytes(), once.into_bytes()];
            sorted.iter_mut().for_each(|bytes| bytes.sort_unstable());
            assert!(sorted[0] == sorted[1], "{place}: something is lost or added");
            editor.workspace.settle_structure();
            run(&mut editor, "carry-statement-up");
            if !is_right || *editor.text() != text {
                println!("{place} is not as it was");
                misfits += 1;
            }
        }
    }
    (count, misfits)
}

#[test]
fn statements_of_foreign_sources_go_down_and_come_back() {
    let grammars: [(&str, &str, tree_sitter::Language); 5] = [
        ("rust", "rs", tree_sitter_rust::LANGUAGE.into()),
        ("c", "c", tree_sitter_c::LANGUAGE.into()),
        ("javascript", "js", tree_sitter_javascript::LANGUAGE.into()),
        ("toml", "toml", tree_sitter_toml_ng::LANGUAGE.into()),
        ("python", "py", tree_sitter_python::LANGUAGE.into()),
    ];
    for (language, ending, grammar) in grammars {
        let is_page = |path: &PathBuf| path.display().to_string().contains("/doc/");
        let files = gathered(ending).into_iter().filter(|path| !is_page(path)).collect();
        meets_the_bar(language, carried(language, &grammar, files));
    }
}

fn meets_the_bar(language: &str, (count, misfits): (usize, usize)) {
    println!("{language}: {count} statements carried, {misfits} not right");
    assert!(misfits * 100 <= count * MISFITS + 200, "{language}: {misfits} of {count}");
}
