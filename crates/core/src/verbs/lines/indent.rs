//! Indentation: in and out by one unit, and the depth that a new line gets.

use crate::changes::ChangeBuilder;
use crate::languages::scanner::Kind;
use crate::languages::{Language, Structure};
use crate::text::cells::{TabWidth, cluster_cells};
use crate::units::{Byte, Cell, Line, Span};
use crate::verbs::lines::code::code_of;
use crate::verbs::lines::depth::finish;
use crate::verbs::lines::line_words::leaves_block_open;
use crate::verbs::scene::{Outcome, Scene, counted};

/// Every touched line that is not blank goes one unit in.
pub fn indent(scene: &Scene) -> Outcome {
    let unit = scene.settings.unit.text();
    let mut builder = ChangeBuilder::new(scene.text);
    let lines = full_lines(scene);
    for &line in &lines {
        builder.insert(scene.text.line_start(line), &unit);
    }
    going_on(scene, finish(scene, builder, format!("indented {}", counted(lines.len(), "line"))))
}

/// Every touched line goes at most one unit out.
pub fn outdent(scene: &Scene) -> Outcome {
    let mut builder = ChangeBuilder::new(scene.text);
    let mut count = 0;
    for line in full_lines(scene) {
        let indentation = scene.text.indentation_span(line);
        let content = scene.text.slice(indentation);
        let (bytes, left) =
            unit_at_start(&content, scene.settings.unit.cells(scene.settings.tabs), scene.settings.tabs);
        if bytes > 0 {
            let span = Span::new(indentation.start, indentation.start + bytes);
            builder.replace(span, &" ".repeat(left as usize));
            count += 1;
        }
    }
    going_on(scene, finish(scene, builder, format!("outdented {}", counted(count, "line"))))
}

/// `outcome`, after which the same lines are touched whatever columns the ends of selections have come to. Not where a cursor is in
/// the empty last line, which only some verbs touch.
fn going_on(scene: &Scene, outcome: Outcome) -> Outcome {
    let after = outcome.cursors.as_ref().unwrap_or(scene.cursors);
    let runs = scene.runs();
    let kept_lines = (runs == scene.runs_with_last()).then(|| Scene::keep_lines(runs, after));
    Outcome { kept_lines, ..outcome }
}

/// How many bytes of `indentation` make up one unit of `cells`, and how many cells the last of them reaches
/// too far (a tab wider than the unit).
fn unit_at_start(indentation: &str, cells: u32, tabs: TabWidth) -> (usize, u32) {
    let mut reached = Cell(0);
    for (at, c) in indentation.char_indices() {
        if reached.0 >= cells {
            return (at, reached.0 - cells);
        }
        reached = reached + cluster_cells(c.encode_utf8(&mut [0; 4]), reached, tabs);
    }
    (indentation.len(), reached.0.saturating_sub(cells))
}

fn full_lines(scene: &Scene) -> Vec<Line> {
    let lines = scene.runs().into_iter().flat_map(|run| run.lines());
    lines.filter(|line| !scene.text.is_blank(*line)).collect()
}

/// The white space of a line that follows `line`: its own, and one unit more after an opener.
#[must_use]
pub fn depth_after(scene: &Scene, line: Line) -> String {
    indentation_behind(scene, scene.text.content_span(line).end)
}

/// The white space of a line that begins where the text at `at` is cut: that of the line that `at` is on, and
/// one unit more where what is before `at` opens a deeper line.
#[must_use]
pub fn indentation_behind(scene: &Scene, at: Byte) -> String {
    let line = scene.text.line_of(at);
    let indentation = scene.text.slice(scene.text.indentation_span(line)).into_owned();
    if opens_deeper(scene, line, at) { indentation + &scene.settings.unit.text() } else { indentation }
}

/// Whether what is on `line` before `at` ends, comments apart, with an opener of the language.
fn opens_deeper(scene: &Scene, line: Line, at: Byte) -> bool {
    let language = scene.language_at(at);
    if language.prose {
        return false;
    }
    let start = scene.text.line_start(line);
    let Some(end) = code_end(scene, line, at) else { return false };
    let before = scene.text.slice(Span::new(start, end));
    let code = before.trim_end();
    let by_word = |structure: &Structure| {
        let code = code_of(scene, line);
        leaves_block_open(structure, code.get(..before.len()).unwrap_or(&code))
    };
    ends_with_opener(&language, code) || language.structure.as_ref().is_some_and(by_word)
}

/// Whether what follows `code`, which is in no text yet, is a step deeper.
#[must_use]
pub fn opens_block(language: &Language, code: &str) -> bool {
    let by_word = |structure: &Structure| leaves_block_open(structure, code);
    ends_with_opener(language, code) || language.structure.as_ref().is_some_and(by_word)
}

fn ends_with_opener(language: &Language, code: &str) -> bool {
    code.ends_with(['(', '[', '{']) || language.openers.iter().any(|opener| ends_with_word(code, opener))
}

/// Whether `code` ends with `opener`, and, where that is a word, with the whole of it.
fn ends_with_word(code: &str, opener: &str) -> bool {
    let is_word = |c: char| c.is_alphanumeric() || c == '_';
    let rest = code.strip_suffix(opener);
    rest.is_some_and(|rest| !opener.chars().all(char::is_alphanumeric) || !rest.ends_with(is_word))
}

/// Where the code of `line` before `at` ends: before a comment that reaches to `at`. None when `at` is in a
/// string or inside a comment that began on another line.
fn code_end(scene: &Scene, line: Line, at: Byte) -> Option<Byte> {
    let mut end = at;
    for piece in scene.syntax.pieces(line).iter().rev().filter(|piece| piece.span.start < at) {
        let gap = scene.text.slice(Span::new(piece.span.end.min(end), end));
        match piece.token.kind {
            Kind::Comment if gap.trim().is_empty() && piece.token.opens => end = piece.span.start,
            Kind::Comment if gap.trim().is_empty() => return None,
            Kind::String if piece.span.end >= end => return None,
            _ => break,
        }
    }
    Some(end)
}
