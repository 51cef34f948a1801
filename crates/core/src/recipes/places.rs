//! What recipes find in a text: lines, matches, blocks, and the cursors that are kept. Pure functions of a scene.

use super::Header;
use crate::cursors::{CursorSet, Selection};
use crate::languages::scanner::Kind;
use crate::search::pattern::Pattern;
use crate::text::reader::Reader;
use crate::units::{Byte, Direction, Line, Span};
use crate::verbs::scene::Scene;
use crate::verbs::selects;
use std::collections::HashSet;

/// What a recipe looks at: the selections, or the whole text where there are only carets.
#[must_use]
pub fn scopes(scene: &Scene) -> Vec<Span> {
    let selected: Vec<Span> = scene.cursors.iter().map(Selection::span).filter(|span| !span.is_empty()).collect();
    if selected.is_empty() { vec![scene.text.span()] } else { selected }
}

/// The cursors that a header of places asks for; none where there are none, or where it asks for other things.
#[must_use]
pub fn of_header(scene: &Scene, header: &Header) -> Option<CursorSet> {
    let list = match header {
        Header::EachLine(pattern) => lines(scene, pattern.as_deref()),
        Header::EachMatch(pattern, _) => selections(matches(scene, pattern)),
        Header::EachBlock => selections(blocks(scene)),
        Header::If(pattern) => return kept(scene, &found(scene, pattern)),
        Header::Unless(pattern) => {
            let others: Vec<bool> = found(scene, pattern).into_iter().map(|is_found| !is_found).collect();
            return kept(scene, &others);
        }
        Header::In(kind) => {
            let kinds: Vec<bool> = scene.cursors.iter().map(|each| kind_at(scene, each) == *kind).collect();
            return kept(scene, &kinds);
        }
        Header::InLanguage(names) => {
            let is_in = |each: Selection| names.contains(&scene.language_at(character_at(scene, each).start).name);
            let languages: Vec<bool> = scene.cursors.iter().map(is_in).collect();
            return kept(scene, &languages);
        }
        Header::Repeat(_) | Header::RepeatWhileChanges | Header::EachCursor => return None,
    };
    (!list.is_empty()).then(|| CursorSet::of(list, 0))
}

fn selections(spans: Vec<Span>) -> Vec<Selection> {
    spans.into_iter().map(|span| Selection::over(span, Direction::Forward)).collect()
}

fn kept(scene: &Scene, keep: &[bool]) -> Option<CursorSet> {
    scene.cursors.retaining(|at, _| keep[at])
}

/// A caret before the first character of each line that `pattern` finds and that is none of white space; at the end of a blank line
/// that it finds. The empty line after a final line end is never one.
fn lines(scene: &Scene, pattern: Option<&Pattern>) -> Vec<Selection> {
    let text = scene.text;
    let real = text.lines_in_file();
    let mut lines: Vec<Line> = Vec::new();
    for [first, last] in line_ranges(scene) {
        let behind = lines.last().map_or(0, |line| line.0 + 1);
        lines.extend((first.0.max(behind)..=last.0).take_while(|line| *line < real).map(Line));
    }
    match pattern {
        None => lines.retain(|line| !text.is_blank(*line)),
        // One that goes over lines is in the line in which it begins.
        Some(pattern) if pattern.names_line_end => {
            let begun: HashSet<Line> = matches(scene, pattern).iter().map(|hit| text.line_of(hit.start)).collect();
            lines.retain(|line| begun.contains(line));
        }
        Some(pattern) => {
            let begun = lines_found(scene, pattern, &lines);
            lines.retain(|line| begun.contains(line));
        }
    }
    lines.into_iter().map(|line| Selection::caret(text.indentation_span(line).end)).collect()
}

/// Those of `lines` in which `pattern` finds something. One whose hits never go over a line end is looked for once in each run of
/// lines.
fn lines_found(scene: &Scene, pattern: &Pattern, lines: &[Line]) -> HashSet<Line> {
    let mut reader = Reader::new(scene.text);
    let mut found = HashSet::new();
    if !pattern.is_within_lines() {
        let contents: Vec<Span> = lines.iter().map(|line| reader.content_span(*line)).collect();
        let is_found = pattern.is_in_each(scene.text, &contents, scene.words());
        found.extend(lines.iter().zip(is_found).filter(|(_, is)| *is).map(|(line, _)| *line));
        return found;
    }
    for run in lines.chunk_by(|line, next| line.next() == *next) {
        let whole = Span::new(scene.text.line_start(run[0]), scene.text.content_span(run[run.len() - 1]).end);
        found.extend(pattern.all(scene.text, whole, scene.words()).iter().map(|hit| reader.line_of(hit.start)));
    }
    found
}

/// The first and the last line of each scope.
fn line_ranges(scene: &Scene) -> Vec<[Line; 2]> {
    scopes(scene).into_iter().map(|scope| scene.touched(Selection::over(scope, Direction::Forward))).collect()
}

/// The matches of `pattern` in the scopes, in order.
#[must_use]
pub fn matches(scene: &Scene, pattern: &Pattern) -> Vec<Span> {
    let mut hits = Vec::new();
    pattern.each_within(scene.text, &scopes(scene), scene.words(), &mut |_, hit| hits.push(hit));
    hits.dedup();
    hits
}

/// The outermost functions, classes and the like in the scopes, with what belongs to each directly above it; paragraphs in a text
/// that has none.
fn blocks(scene: &Scene) -> Vec<Span> {
    let whole = scene.text.span();
    let has_blocks = || selects::blocks::outermost_in(scene, whole).next().is_some();
    let is_structured = scene.structure.structure().is_some() && has_blocks();
    let mut found: Vec<Span> = Vec::new();
    for scope in scopes(scene) {
        let is_inner =
            |span: &Span| scope.start <= span.start && span.end <= scope.end && (*span != scope || scope == whole);
        let list: Vec<Span> = if is_structured {
            selects::blocks::outermost_in(scene, scope).collect()
        } else {
            selects::paragraphs_in(scene, scope)
        };
        found.extend(list.into_iter().filter(is_inner));
    }
    found.dedup();
    found
}

/// Whether the pattern finds what each cursor selects, or the line of a caret.
fn found(scene: &Scene, pattern: &Pattern) -> Vec<bool> {
    let text = scene.text;
    let looked_at = |each: Selection| match each.is_caret() {
        true => text.content_span(text.line_of(each.head)),
        false => each.span(),
    };
    let spans: Vec<Span> = scene.cursors.iter().map(looked_at).collect();
    pattern.is_in_each(text, &spans, scene.words())
}

/// The character that a cursor is at: the first that it selects, the one after a caret, or the one before it at the end of a line.
fn character_at(scene: &Scene, each: Selection) -> Span {
    let text = scene.text;
    let at = each.start();
    let content = text.content_span(text.line_of(at));
    if at < content.end || (!each.is_caret() && at < text.end()) {
        return Span::new(at, text.next_boundary(at));
    }
    if at > content.start { Span::new(text.previous_boundary(at), at) } else { Span::at(at) }
}

/// What the text is at the character of a cursor.
fn kind_at(scene: &Scene, each: Selection) -> Kind {
    let character = character_at(scene, each);
    let line = scene.text.line_of(character.start);
    let covers = |span: Span| span.start <= character.start && character.end <= span.end && !span.is_empty();
    let pieces = scene.syntax.pieces(line);
    let piece = pieces.iter().find(|piece| covers(piece.span));
    // A line without characters inside a comment or string is in it.
    let is_blank = |at: Byte| character.is_empty() && at == scene.text.line_start(line);
    match piece {
        Some(piece) => piece.token.kind,
        None if is_blank(character.start) => scene.syntax.kind_before_line(line),
        None => Kind::Code,
    }
}
