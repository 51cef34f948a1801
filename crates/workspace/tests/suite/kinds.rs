//! The scanner against the trees, on sources of other projects: where each sees code, string and comment.

use crate::sources::{evenly, gathered};
use crate::support::editor::{Call, Editor};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::by_name;
use snarvel_core::languages::layers::{Found, Layers};
use snarvel_core::languages::scanner::Kind;
use snarvel_core::text::Text;
use snarvel_core::units::{Direction, Line, Span};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::registry::by_name as verb;
use std::path::Path;
use tree_sitter::{Node, Parser};

/// Files of each language.
const FILES: usize = 80;

/// How many bytes of a language may differ, in ten-thousandths.
const MOST: usize = 4;

/// What a node of this kind is, wholly; none where its parts decide.
fn kind_of(language: &str, node: Node) -> Option<Kind> {
    let kind = node.kind();
    let is_string = match language {
        // A byte string is one, a lifetime or a label none.
        "rust" => matches!(kind, "string_literal" | "raw_string_literal" | "char_literal"),
        "python" | "json" => kind == "string",
        "c" => matches!(kind, "string_literal" | "char_literal"),
        "javascript" => matches!(kind, "string" | "template_string" | "regex"),
        "go" => matches!(kind, "interpreted_string_literal" | "raw_string_literal" | "rune_literal"),
        "shell" => matches!(kind, "string" | "raw_string" | "ansi_c_string" | "heredoc_body" | "heredoc_end"),
        "css" => matches!(kind, "string_value"),
        // "Quoted keys follow the exact same rules as either basic strings or literal strings" (TOML 1.0, Keys).
        "toml" => matches!(kind, "string" | "quoted_key"),
        "yaml" => matches!(kind, "double_quote_scalar" | "single_quote_scalar" | "block_scalar"),
        _ => false,
    };
    let is_comment = matches!(kind, "comment" | "line_comment" | "block_comment" | "html_comment" | "js_comment");
    match (is_comment, is_string) {
        (true, _) => Some(Kind::Comment),
        (_, true) => Some(Kind::String),
        _ => None,
    }
}

/// What grammars take as it is, without looking for strings in it: the text of a macro.
const OPAQUE: &[&str] = &["preproc_arg"];

/// What each byte is by the tree; none where the grammar does not understand the source.
fn by_tree(language: &str, parser: &mut Parser, source: &str) -> Option<Vec<Option<Kind>>> {
    let tree = parser.parse(source, None)?;
    if tree.root_node().has_error() {
        return None;
    }
    let mut kinds = vec![Some(Kind::Code); source.len()];
    let mut cursor = tree.walk();
    loop {
        let node = cursor.node();
        let kind = kind_of(language, node);
        if OPAQUE.contains(&node.kind()) {
            kinds[node.byte_range()].fill(None);
        }
        if let Some(kind) = kind {
            let range = node.byte_range();
            // The letters before a quote (`r"`, `b'`) may be either: no key does anything else there.
            let letters =
                source[range.clone()].bytes().take_while(|byte| kind == Kind::String && byte.is_ascii_alphabetic());
            let prefix = letters.count();
            // The line with the sign of a block scalar is its key's.
            let header = source[range.clone()].find('\n').filter(|_| node.kind() == "block_scalar").unwrap_or(0);
            kinds[range.start + prefix.max(header)..range.end].fill(Some(kind));
        }
        let mut goes_on = (kind.is_none() && cursor.goto_first_child()) || cursor.goto_next_sibling();
        while !goes_on && cursor.goto_parent() {
            goes_on = cursor.goto_next_sibling();
        }
        if !goes_on {
            return Some(kinds);
        }
    }
}

fn by_scanner(language: &str, source: &str) -> Vec<Kind> {
    let layers = Layers::new(&by_name(language).unwrap());
    let mut layer = layers.beginning(source.chars().next());
    let mut kinds = Vec::with_capacity(source.len());
    for line in source.split_inclusive('\n') {
        let mut row = vec![Kind::Code; line.len()];
        layer = layers.scan(line, &layer, &mut |found| {
            if let Found::Token(token) = found {
                row[token.start..token.end].fill(token.kind);
            }
        });
        kinds.extend(row);
    }
    kinds
}

/// Takes the letters before a quote for code, as the trees' kinds have them here.
fn forgive_prefixes(source: &str, kinds: &mut [Kind]) {
    let bytes = source.as_bytes();
    for at in 0..kinds.len() {
        let begins = kinds[at] == Kind::String && (at == 0 || kinds[at - 1] != Kind::String);
        if begins && bytes[at].is_ascii_alphabetic() {
            kinds[at] = Kind::Code;
        }
    }
}

/// The line of the first place where they differ, white space apart.
fn first_difference(source: &str, [tree, scanner]: [&[Kind]; 2]) -> String {
    let differs = |at: &usize| tree[*at] != scanner[*at] && !source.as_bytes()[*at].is_ascii_whitespace();
    let Some(at) = (0..source.len()).find(differs) else { return String::new() };
    let line = source[..at].matches('\n').count();
    let content = source.lines().nth(line).unwrap_or("");
    format!("{}: tree {:?}, scanner {:?}: {content}", line + 1, tree[at], scanner[at])
}

fn grammars() -> [(&'static str, &'static str, tree_sitter::Language); 10] {
    [
        ("rust", "rs", tree_sitter_rust::LANGUAGE.into()),
        ("python", "py", tree_sitter_python::LANGUAGE.into()),
        ("c", "c", tree_sitter_c::LANGUAGE.into()),
        ("javascript", "js", tree_sitter_javascript::LANGUAGE.into()),
        ("go", "go", tree_sitter_go::LANGUAGE.into()),
        ("shell", "sh", tree_sitter_bash::LANGUAGE.into()),
        ("css", "css", tree_sitter_css::LANGUAGE.into()),
        ("toml", "toml", tree_sitter_toml_ng::LANGUAGE.into()),
        ("json", "json", tree_sitter_json::LANGUAGE.into()),
        ("yaml", "yml", tree_sitter_yaml::LANGUAGE.into()),
    ]
}

#[test]
fn the_scanner_sees_what_the_trees_see() {
    for (language, ending, grammar) in grammars() {
        let mut parser = Parser::new();
        parser.set_language(&grammar).unwrap();
        let (mut files, mut bytes, mut differing) = (0, 0, 0);
        for path in evenly(gathered(ending), FILES) {
            let Ok(source) = std::fs::read_to_string(&path) else { continue };
            let Some(mut tree) = by_tree(language, &mut parser, &source) else { continue };
            let mut scanner = by_scanner(language, &source);
            forgive_prefixes(&source, &mut scanner);
            // What a grammar does not look into.
            tree.iter_mut()
                .zip(&scanner)
                .filter(|(tree, _)| tree.is_none())
                .for_each(|(tree, kind)| *tree = Some(*kind));
            let tree: Vec<Kind> = tree.into_iter().flatten().collect();
            let count = (0..source.len())
                .filter(|&at| tree[at] != scanner[at] && !source.as_bytes()[at].is_ascii_whitespace())
                .count();
            if count > 0 {
                println!(
                    "{} {count} of {}: {}",
                    show(&path),
                    source.len(),
                    first_difference(&source, [&tree, &scanner])
                );
            }
            (files, bytes, differing) = (files + 1, bytes + source.len(), differing + count);
        }
        println!("{language}: {files} files, {bytes} bytes, {differing} differ");
        assert!(differing * 10_000 <= bytes * MOST + 10_000, "{language}: {differing} of {bytes} bytes differ");
    }
}

fn run(editor: &mut Editor, name: &str) -> String {
    let clip = Clip::default();
    let call = Call { verb: verb(name).unwrap(), argument: "", times: 1, clip: &clip, now_ms: 0 };
    editor.run(call).message.unwrap_or_default()
}

/// The first line among `lines` that is not blank and not all comment.
fn line_of_code(text: &Text, kinds: &[Kind], mut lines: impl Iterator<Item = Line>) -> Option<Line> {
    lines.find(|line| {
        let span = text.content_span(*line);
        let bytes = text.slice(span);
        let is_code =
            |(at, byte): (usize, u8)| !byte.is_ascii_whitespace() && kinds[span.start.0 + at] != Kind::Comment;
        bytes.bytes().enumerate().any(is_code)
    })
}

#[test]
fn toggled_lines_are_comment_to_the_scanner_and_to_the_trees_and_come_back() {
    let (mut files, mut ranges, mut by_trees) = (0, 0, 0);
    for (language, ending, grammar) in grammars() {
        let mut parser = Parser::new();
        parser.set_language(&grammar).unwrap();
        for (index, path) in evenly(gathered(ending), FILES / 2).enumerate() {
            let Ok(source) = std::fs::read_to_string(&path) else { continue };
            files += 1;
            let whole = Text::from(source.as_str());
            let lines = whole.line_count();
            let first = index * 7919 % lines;
            let range = [Line(first), Line((first + index % 9).min(lines - 1))];
            for [first, last] in [[Line(0), Line(lines - 1)], range] {
                let mut editor = Editor::new(whole.clone(), by_name(language).unwrap());
                let span = Span::new(whole.line_start(first), whole.content_span(last).end);
                editor.set_cursors(CursorSet::of(vec![Selection::over(span, Direction::Forward)], 0));
                if !run(&mut editor, "comment-toggle").starts_with("commented") {
                    continue;
                }
                let toggled = editor.text().clone();
                let touched =
                    || (first.0..=last.0).map(Line).filter(|line| span.start < toggled.content_span(*line).end);
                let place = |line: Line| format!("{}:{} {}", path.display(), line.0 + 1, toggled.content(line));
                let kinds = by_scanner(language, &toggled.to_string());
                assert_eq!(line_of_code(&toggled, &kinds, touched()).map(place), None, "by the scanner");
                if let Some(kinds) = by_tree(language, &mut parser, &toggled.to_string()) {
                    let kinds: Vec<Kind> = kinds.into_iter().map(|kind| kind.unwrap_or(Kind::Code)).collect();
                    assert_eq!(line_of_code(&toggled, &kinds, touched()).map(place), None, "by the tree");
                    by_trees += 1;
                }
                ranges += 1;
                run(&mut editor, "comment-toggle");
                assert!(*editor.text() == whole, "{}:{}: not what it was", path.display(), first.0 + 1);
            }
        }
    }
    println!("{files} files, {ranges} ranges toggled twice, {by_trees} of them seen by a tree in between");
}

fn show(path: &Path) -> String {
    let parts: Vec<_> = path.iter().map(|part| part.to_string_lossy()).collect();
    parts[parts.len().saturating_sub(3)..].join("/")
}
