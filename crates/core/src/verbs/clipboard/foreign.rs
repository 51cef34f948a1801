//! The depths of a text that comes from another program. What was copied from the first letter on has lost the indentation of its
//! first line, and its tabs are steps of another file.

use crate::languages::Language;
use crate::structure::Known;
use crate::text::cells::width;
use crate::text::indent::{IndentUnit, leading};
use crate::units::{Cell, Line};
use crate::verbs::clipboard::clip::{Clip, Piece};
use crate::verbs::lines::indent::{depth_after, opens_block};
use crate::verbs::scene::Scene;

/// Words that go on with, or end, what began at the depth of their own line.
const SECOND_PARTS: &[&str] = &[
    "else", "elif", "elsif", "elseif", "except", "finally", "catch", "rescue", "ensure", "end", "fi", "done", "esac",
    "until",
];

/// Words of headers that a statement may follow.
const HEADERS: &[&str] = &["if", "else", "for", "foreach", "while", "do", "case", "default", "when"];

/// `clip` as if it had been copied in a file with the steps of this one, from the first column on.
#[must_use]
pub fn settled(scene: &Scene, clip: &Clip) -> Clip {
    let language = scene.language_at(scene.cursors.primary().start());
    if language.prose {
        return clip.clone();
    }
    let pieces = clip.pieces.iter().map(|piece| match piece.depth {
        Some(_) => piece.clone(),
        None => settled_piece(scene, &language, piece),
    });
    Clip { pieces: pieces.collect(), ..clip.clone() }
}

fn settled_piece(scene: &Scene, language: &Language, piece: &Piece) -> Piece {
    let settings = scene.settings;
    let spread = |line: &str| match (leading(line), settings.unit) {
        (Some(white), IndentUnit::Spaces(step)) if white.contains('\t') => {
            white.replace('\t', &" ".repeat(step as usize)) + &line[white.len()..]
        }
        _ => line.to_owned(),
    };
    let mut lines: Vec<String> = piece.text.split('\n').map(spread).collect();
    if let Some(depth) = lost_depth(scene, language, &lines) {
        lines[0].insert_str(0, &settings.unit.fill(depth, settings.tabs));
    }
    Piece { text: lines.join("\n"), depth: None }
}

/// How deep the first of `lines` was, where the others show that it has lost its white space.
fn lost_depth(scene: &Scene, language: &Language, lines: &[String]) -> Option<Cell> {
    let tabs = scene.settings.tabs;
    let (first, later) = lines.split_first()?;
    if first.trim().is_empty() || !leading(first)?.is_empty() {
        return None;
    }
    let later: Vec<(Cell, &str)> =
        later.iter().filter_map(|line| leading(line).map(|white| (width(white, tabs), line.trim()))).collect();
    let smallest = later.iter().map(|(depth, _)| *depth).min().filter(|depth| *depth > Cell(0))?;
    // Where a line does not end a statement by itself, what is deeper below it goes on with it.
    let is_offside = language.offside && !matches!(scene.structure, Known::NoGrammar);
    let is_ended = language.line_ends_statements || is_offside || first.trim_end().ends_with([';', '}']);
    let goes_on = !is_ended || opens_block(language, first.trim()) || is_unfinished(first.trim(), later[0].1);
    // What comes first at that depth tells whose it is.
    let is_beside = later.iter().find(|(depth, _)| *depth == smallest).is_some_and(|(_, line)| is_second_part(line));
    if is_beside || later[0].0 > smallest || !goes_on {
        return Some(smallest);
    }
    let deeper = later.iter().map(|(depth, _)| *depth).filter(|depth| *depth > smallest).min();
    let step = deeper.map_or(scene.settings.unit.cells(tabs), |deeper| deeper.0 - smallest.0);
    Some(Cell(smallest.0.saturating_sub(step)))
}

fn is_second_part(line: &str) -> bool {
    let word = line.split(|c: char| !c.is_alphanumeric()).next().unwrap_or_default();
    line.starts_with([')', ']', '}']) || line.starts_with("</") || SECOND_PARTS.contains(&word)
}

/// Whether `next` goes on with the statement that `line` begins.
fn is_unfinished(line: &str, next: &str) -> bool {
    let depth: i32 = line.chars().map(|c| i32::from("([{".contains(c)) - i32::from(")]}".contains(c))).sum();
    let operators = ["&&", "||", "=", ",", "+", "\\", "|", "?", ":", "=>", "->"];
    let word = line.split(|c: char| !c.is_alphanumeric()).next().unwrap_or_default();
    // A header whose body is a single statement without braces.
    let is_header = HEADERS.contains(&word) && !line.ends_with([';', '}']);
    is_header
        || depth > 0
        || operators.iter().any(|operator| line.ends_with(operator))
        || [".", "&&", "||", "+", "?", "|>", "->"].iter().any(|operator| next.starts_with(operator))
}

/// How deep lines go that are put in at the empty line `line`: as deep as the block that it is in.
#[must_use]
pub fn depth_in_block(scene: &Scene, line: Line) -> Cell {
    let (text, tabs) = (scene.text, scene.settings.tabs);
    let full = |line: &Line| !text.is_blank(*line);
    let above = (0..line.0).rev().map(Line).find(full);
    let below = (line.0 + 1..text.line_count()).map(Line).find(full);
    let (Some(above), Some(below)) = (above, below) else { return Cell(0) };
    let inner = width(&depth_after(scene, above), tabs);
    let content = text.content(below);
    match is_second_part(content.trim()) {
        true => inner.max(text.depth_of(below, tabs)),
        false => inner.min(text.depth_of(below, tabs)),
    }
}
