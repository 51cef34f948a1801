//! Statements carried in sources that nobody here wrote: nothing is lost, nothing is left broken.

use snarvel_core::cursors::CursorSet;
use snarvel_core::editor::{Call, Editor};
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_core::units::Line;
use snarvel_core::verbs::by_name as verb;
use snarvel_core::verbs::clip::Clip;
use std::path::{Path, PathBuf};
use tree_sitter::Parser;

/// Longer than any parse here takes on the slowest machine.
const PATIENCE: std::time::Duration = std::time::Duration::from_mins(1);

/// Files of each language: enough to meet most of it.
const FILES: usize = 15;

/// Lines of each file that are carried.
const LINES: usize = 12;

/// How many of a hundred may fail: several parameters on one line of a list over lines, comments that a grammar takes
/// into the table before them, the inside of macros.
const MISFITS: usize = 5;

fn gather(folder: &Path, ending: &str, found: &mut Vec<PathBuf>) {
    let Ok(entries) = std::fs::read_dir(folder) else { return };
    for entry in entries.flatten() {
        let (path, Ok(meta)) = (entry.path(), entry.metadata()) else { continue };
        if meta.is_dir() {
            gather(&path, ending, found);
        } else if meta.len() < 40_000
            && !path.display().to_string().contains("/doc/")
            && path.extension().is_some_and(|own| own == ending)
        {
            found.push(path);
        }
    }
}

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
/// left broken code behind or did not come back.
fn carried(language: &str, grammar: &tree_sitter::Language, files: Vec<PathBuf>) -> (usize, usize) {
    let mut parser = Parser::new();
    parser.set_language(grammar).unwrap();
    let step = (files.len() / FILES).max(1);
    let (mut count, mut misfits) = (0, 0);
    for path in files.into_iter().step_by(step).take(FILES) {
        let Ok(source) = std::fs::read_to_string(&path) else { continue };
        if !is_sound(&mut parser, &source) {
            continue;
        }
        let text = Text::from(source.as_str());
        let lines = text.line_count();
        for line in (0..LINES).map(|index| Line(index * lines / LINES)) {
            let mut editor = Editor::new(text.clone(), by_name(language).unwrap());
            editor.set_tree(snarvel_syntax::tree_for(&by_name(language).unwrap(), PATIENCE));
            editor.set_cursors(CursorSet::caret(text.indentation_span(line).end));
            let place = format!("{}:{}", path.display(), line.0 + 1);
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
            run(&mut editor, "carry-statement-up");
            if !is_right || *editor.text() != text {
                println!("{place} is not as it was");
                misfits += 1;
            }
        }
    }
    (count, misfits)
}

fn registry() -> PathBuf {
    let home = std::env::var("CARGO_HOME").map(PathBuf::from).ok();
    let home = home.or_else(|| Some(Path::new(&std::env::var("HOME").ok()?).join(".cargo")));
    home.unwrap_or_default().join("registry/src")
}

#[test]
fn statements_of_foreign_sources_go_down_and_come_back() {
    let grammars: [(&str, &str, tree_sitter::Language); 4] = [
        ("rust", "rs", tree_sitter_rust::LANGUAGE.into()),
        ("c", "c", tree_sitter_c::LANGUAGE.into()),
        ("javascript", "js", tree_sitter_javascript::LANGUAGE.into()),
        ("toml", "toml", tree_sitter_toml_ng::LANGUAGE.into()),
    ];
    for (language, ending, grammar) in grammars {
        let mut files = Vec::new();
        gather(&registry(), ending, &mut files);
        files.sort();
        meets_the_bar(language, carried(language, &grammar, files));
    }
    let mut files = Vec::new();
    gather(Path::new("/usr/lib/python3"), "py", &mut files);
    gather(Path::new("/usr/lib/python3.11"), "py", &mut files);
    files.sort();
    meets_the_bar("python", carried("python", &tree_sitter_python::LANGUAGE.into(), files));
}

fn meets_the_bar(language: &str, (count, misfits): (usize, usize)) {
    println!("{language}: {count} statements carried, {misfits} not right");
    assert!(misfits * 100 <= count * MISFITS + 200, "{language}: {misfits} of {count}");
}
