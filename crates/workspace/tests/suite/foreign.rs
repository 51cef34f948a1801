//! Rules checked on sources of other projects: those of the packages that this build uses.

use crate::sources::packages;
use crate::support::editor::{Call, Editor};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::lexical::Syntax;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::languages::{by_name, detect};
use snarvel_core::text::indent::IndentUnit;
use snarvel_core::text::{Text, raw};
use snarvel_core::units::{Byte, Line, Span};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::registry::by_name as verb;
use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

/// Files looked at: enough to meet most of a language, few enough for every run.
const FILES: usize = 120;

/// Larger files teach nothing more and take long without optimisation.
const LONGEST: u64 = 40_000;

fn sources() -> Vec<PathBuf> {
    let mut found = Vec::new();
    packages().iter().for_each(|package| gather(package, &mut found));
    evenly(found)
}

/// Some of all, by a hash of their names: the same ones at every run, and nearly the same ones where a package more is there.
fn evenly(mut found: Vec<PathBuf>) -> Vec<PathBuf> {
    let within = |path: &Path| {
        let parts: Vec<_> = path.components().rev().take(4).collect();
        snarvel_files::stamp::number_of(&parts.into_iter().collect::<PathBuf>())
    };
    found.sort_by_cached_key(|path| within(path));
    found.truncate(FILES);
    found
}

fn gather(folder: &Path, found: &mut Vec<PathBuf>) {
    let Ok(entries) = std::fs::read_dir(folder) else { return };
    for entry in entries.flatten() {
        let (path, Ok(meta)) = (entry.path(), entry.metadata()) else { continue };
        if meta.is_dir() {
            gather(&path, found);
        } else if meta.len() < LONGEST
            && path
                .extension()
                .is_some_and(|ending| ["rs", "c", "h", "toml", "py", "js"].iter().any(|known| ending == *known))
        {
            found.push(path);
        }
    }
}

fn opened(path: &Path) -> Option<Editor> {
    let bytes = std::fs::read(path).ok()?;
    let text = Text::from(raw::decode(&bytes).as_str());
    let name = path.file_name()?.to_string_lossy().into_owned();
    let language = detect(&name, "");
    assert_eq!(raw::encode(&text.to_string()), bytes, "{}", path.display());
    Some(Editor::new(text, language))
}

fn run(editor: &mut Editor, name: &str) -> String {
    let clip = Clip::default();
    let call = Call { verb: verb(name).unwrap(), argument: "", times: 1, clip: &clip, now_ms: 0 };
    editor.run(call).message.unwrap_or_default()
}

#[test]
fn toggling_comments_twice_gives_back_every_file() {
    let mut toggled = 0;
    for path in sources() {
        let Some(mut editor) = opened(&path) else { continue };
        let first = editor.text().clone();
        run(&mut editor, "select-all");
        let message = run(&mut editor, "comment-toggle");
        if !message.starts_with("commented") {
            continue;
        }
        assert_only_comments(&editor, &path);
        run(&mut editor, "comment-toggle");
        assert!(*editor.text() == first, "{}", path.display());
        toggled += 1;
    }
    println!("{toggled} files toggled twice");
}

/// After toggling on, the scanner sees comment only, blank lines apart.
fn assert_only_comments(editor: &Editor, path: &Path) {
    let (text, syntax) = (editor.text(), editor.syntax());
    for line in (0..text.line_count()).map(Line).filter(|line| !text.is_blank(*line)) {
        let at = text.indentation_span(line).end;
        let inside = text.next_boundary(at);
        assert_eq!(
            syntax.kind_at(inside),
            Kind::Comment,
            "{} line {}: {}",
            path.display(),
            line.0 + 1,
            text.content(line)
        );
    }
}

#[test]
fn line_verbs_and_undo_on_every_file() {
    for path in sources().into_iter().step_by(3) {
        let Some(mut editor) = opened(&path) else { continue };
        let first = editor.text().clone();
        let places = [0, first.len() / 3, first.len() / 2, first.len()].map(|at| first.snap_forward(Byte(at)));
        editor.set_cursors(CursorSet::of(places.map(Selection::caret).to_vec(), 0));
        for name in [
            "carry-down",
            "duplicate-up",
            "indent",
            "join-lines",
            "comment-toggle",
            "split-line",
            "outdent",
            "delete-lines",
            "open-below",
        ] {
            run(&mut editor, name);
            editor.assert_invariants();
        }
        while editor.history().can_undo() {
            run(&mut editor, "undo");
        }
        assert!(*editor.text() == first, "{}", path.display());
    }
}

#[test]
fn every_language_toggles_on_and_off() {
    for language in snarvel_core::languages::all() {
        let mut editor = Editor::new(Text::from("alpha\n  beta\n\ngamma"), by_name(&language.name).unwrap());
        let first = editor.text().clone();
        run(&mut editor, "select-all");
        let message = run(&mut editor, "comment-toggle");
        if language.line.is_empty() && language.block.is_empty() {
            assert!(message.contains("no comments"), "{}", language.name);
            continue;
        }
        // No line reaches the column in which the first mark would have to be.
        let is_narrow = language.fixed.as_ref().is_some_and(|fixed| fixed.column > 5);
        let first_mark = if is_narrow { language.line.get(1) } else { language.line.first() };
        let open = first_mark.unwrap_or_else(|| &language.block[0].open);
        let text = editor.text().to_string();
        assert!(text.starts_with(&format!("{open} alpha")), "{}: {text}", language.name);
        assert_eq!(message, "commented 3 lines", "{}", language.name);
        assert_only_comments(&editor, Path::new(&language.name));
        run(&mut editor, "comment-toggle");
        assert!(*editor.text() == first, "{}: {}", language.name, editor.text());
        if !language.block.is_empty() {
            run(&mut editor, "block-comment-toggle");
            run(&mut editor, "block-comment-toggle");
            assert!(*editor.text() == first, "{} in a block: {}", language.name, editor.text());
        }
    }
}

/// How many of a file's lines must get back the depth that their authors gave them, for it to count as put right.
const LINES_RIGHT: f64 = 0.97;

/// How many of the files must be put right. Generated files and macros whose authors indent otherwise are not.
const FILES_RIGHT: f64 = 0.85;

#[test]
fn depths_taken_away_come_back() {
    let (mut right, mut files) = (0usize, 0usize);
    for path in sources().into_iter().filter(|path| path.extension().is_some_and(|ending| ending == "rs")) {
        let Some(editor) = opened(&path) else { continue };
        if editor.settings().unit != IndentUnit::Spaces(4) {
            continue;
        }
        let first = editor.text().clone();
        let mut flat = Editor::new(without_depth(&editor), editor.language().clone());
        run(&mut flat, "select-all");
        run(&mut flat, "reindent");
        let lines = (0..first.line_count()).map(Line).filter(|line| !first.is_blank(*line));
        let same = lines.clone().filter(|line| first.content(*line) == flat.text().content(*line)).count();
        files += 1;
        right += usize::from(same as f64 >= lines.count() as f64 * LINES_RIGHT);
    }
    assert!(right as f64 >= files as f64 * FILES_RIGHT, "{right} of {files} files");
    eprintln!("{right} of {files} files have their depths back");
}

/// The text with no white space before code; comments and strings that began on a line before stay as they are.
fn without_depth(editor: &Editor) -> Text {
    let text = editor.text();
    let syntax = editor.syntax();
    let mut flat = String::new();
    for line in (0..text.line_count()).map(Line) {
        let whole = text.slice(text.line_span(line));
        let is_code = syntax.kind_before_line(line) == Kind::Code;
        let is_blank = text.is_blank(line);
        flat.push_str(if is_code && !is_blank { whole.trim_start() } else { &whole });
    }
    Text::from(flat.as_str())
}

/// Finishing changes nothing of what is finished: of a line that ends with its terminator, or that opens a block which is there.
#[test]
fn what_is_finished_gets_no_more_than_a_line() {
    let (mut looked_at, mut wrong) = (0usize, Vec::new());
    for path in sources() {
        let Some(mut editor) = opened(&path) else { continue };
        if editor.language().finish.terminator != ";" {
            continue;
        }
        let first = editor.text().clone();
        let is_whole = |line: &Line| {
            let end = first.content_span(*line).end;
            let content = first.content(*line);
            let is_code =
                editor.syntax().kind_at(end) == Kind::Code && editor.syntax().kind_before_line(*line) == Kind::Code;
            is_code && (content.ends_with(';') || (content.ends_with('{') && content.contains(')')))
        };
        let lines: Vec<Line> = (0..first.line_count()).map(Line).filter(is_whole).collect();
        for line in lines.iter().step_by((lines.len() / 25).max(1)) {
            let end = first.content_span(*line).end;
            editor.set_cursors(CursorSet::caret(end));
            run(&mut editor, "finish");
            looked_at += 1;
            let is_same = editor.text().to_string().split_whitespace().eq(first.to_string().split_whitespace());
            if !is_same {
                let lines = editor.text().to_string();
                let other =
                    lines.lines().zip(first.to_string().lines().map(str::to_owned)).find(|(one, other)| one != other);
                wrong.push(format!(
                    "{}:{}: {}: {:?}",
                    path.display(),
                    line.0 + 1,
                    first.content(*line),
                    other.map(|(one, _)| one.to_owned())
                ));
                run(&mut editor, "undo");
            } else if *editor.text() != first {
                run(&mut editor, "undo");
            }
            assert!(*editor.text() == first);
        }
    }
    assert!(looked_at > 300, "only {looked_at} lines");
    assert!(wrong.is_empty(), "{} of {looked_at}:\n{}", wrong.len(), wrong.join("\n"));
}

/// How many of the lines whose last brackets and terminator were cut off must get just those back, in each language.
const COME_BACK: f64 = 0.98;

/// Files of the library of Python, where there is one: the language's own, written by many.
fn python_library() -> Vec<PathBuf> {
    let folders = ["/usr/lib/python3.11", "/usr/lib/python3.12", "/usr/lib/python3.13", "/usr/lib/python3"];
    let mut found = Vec::new();
    folders.iter().for_each(|folder| gather(Path::new(folder), &mut found));
    found.retain(|path| path.extension().is_some_and(|ending| ending == "py"));
    evenly(found)
}

/// The lines of `editor` that are whole by themselves and end with what a statement ends with.
fn whole_lines(editor: &Editor) -> Vec<Line> {
    let text = editor.text();
    let end = if editor.language().finish.terminator.is_empty() { ")" } else { ");" };
    let is_whole = |line: &Line| {
        let content = text.content(*line);
        let pairs = [['(', ')'], ['[', ']'], ['{', '}']];
        let balanced =
            pairs.iter().all(|[open, close]| content.matches(*open).count() == content.matches(*close).count());
        let is_code = editor.syntax().pieces(*line).is_empty() && editor.syntax().kind_before_line(*line) == Kind::Code;
        is_code && balanced && content.ends_with(end)
    };
    (0..text.line_count()).map(Line).filter(is_whole).collect()
}

#[test]
fn what_is_cut_off_a_statement_comes_back() {
    let mut counts: BTreeMap<String, [usize; 2]> = BTreeMap::new();
    let mut wrong = Vec::new();
    for path in sources().into_iter().chain(python_library()) {
        let Some(mut editor) = opened(&path) else { continue };
        let name = editor.language().name.clone();
        if !["rust", "c", "python"].contains(&name.as_str()) {
            continue;
        }
        let first = editor.text().clone();
        let lines = whole_lines(&editor);
        for line in lines.iter().step_by((lines.len() / 15).max(1)) {
            let content = first.content_span(*line);
            let left = first.content(*line).trim_end_matches([')', ']', ';']).len();
            let cut = Span::new(content.start + left, content.end);
            editor.set_cursors(CursorSet::of(vec![Selection::new(cut.start, cut.end)], 0));
            run(&mut editor, "delete-selected");
            run(&mut editor, "finish");
            let is_back = *editor.text() == first;
            let count = counts.entry(name.clone()).or_default();
            *count = [count[0] + usize::from(is_back), count[1] + 1];
            if !is_back {
                let got = editor.text().content(*line).into_owned();
                wrong.push(format!("{}:{}: {} -> {got}", path.display(), line.0 + 1, first.content(*line)));
            }
            run(&mut editor, "undo");
            run(&mut editor, "undo");
            assert!(*editor.text() == first);
        }
    }
    eprintln!("come back: {counts:?}");
    assert!(counts["rust"][1] > 300, "{counts:?}");
    let is_right = |[right, all]: &[usize; 2]| *right as f64 >= *all as f64 * COME_BACK;
    assert!(counts.values().all(is_right), "{counts:?}\n{}", wrong.join("\n"));
}
