//! Selections that a block comment cannot be put round: by where their edges are.

use crate::languages::lexical::Piece;
use crate::languages::scanner::{Form, Kind};
use crate::structure::Roles;
use crate::units::{Byte, Line, Span};
use crate::verbs::scene::Scene;

/// The language in which `span` begins, inside the file's own, and another that it reaches into.
pub(super) fn two_languages(scene: &Scene, span: Span) -> Option<[String; 2]> {
    let first = scene.language_at(span.start);
    let lines = || (scene.text.line_of(span.start).0 + 1..=scene.text.line_of(span.end).0).map(Line);
    if scene.language.embeds.is_empty() {
        return None;
    }
    let ends_elsewhere = Some(scene.language_at(span.end)).filter(|last| last.name != first.name);
    let own = scene.syntax.file_language();
    let between = || match first.name == own.name {
        true => None,
        false => {
            lines().map(|line| scene.language_at(scene.text.line_start(line))).find(|other| other.name != first.name)
        }
    };
    ends_elsewhere.or_else(between).map(|other| [first.title.clone(), other.title.clone()])
}

/// Whether `at` is after the first mark of a fence and before the end of its line (`CommonMark` 0.31, 4.5), in a language that has
/// fences.
fn is_in_fence(scene: &Scene, at: Byte) -> bool {
    if !scene.syntax.file_language().embeds.iter().any(|rule| rule.fence) {
        return false;
    }
    let line = scene.text.line_of(at);
    let start = scene.text.indentation_span(line).end;
    let content = scene.text.slice(Span::new(start, scene.text.content_span(line).end));
    start < at && at < start + content.len() && ["```", "~~~"].iter().any(|fence| content.starts_with(fence))
}

/// Whether `at` is at the start of the line that ends a fence: a mark there would leave the fence open, and all after it in it.
fn ends_fence(scene: &Scene, at: Byte) -> bool {
    if !scene.syntax.file_language().embeds.iter().any(|rule| rule.fence) {
        return false;
    }
    let line = scene.text.line_of(at);
    let content = scene.text.content(line);
    let is_fence = ["```", "~~~"].iter().any(|fence| content.trim_start().starts_with(fence));
    let is_at_start = at <= scene.text.indentation_span(line).end;
    is_fence && is_at_start && line.previous().is_some_and(|above| !scene.syntax.inside(above).is_empty())
}

/// Where `span` begins or ends so that a mark there would be none.
pub(super) fn no_mark_at(scene: &Scene, span: Span) -> Option<&'static str> {
    let at = span.start;
    let fenced = [(at, "begins inside a fence"), (span.end, "ends inside a fence")];
    if let Some((_, what)) = fenced.into_iter().find(|(place, _)| is_in_fence(scene, *place)) {
        return Some(what);
    }
    if ends_fence(scene, at) {
        return Some("begins where a fence ends");
    }
    let pieces = scene.syntax.pieces(scene.text.line_of(at));
    let inside = |piece: &&Piece| {
        (piece.span.start < at || (piece.span.start == at && !piece.token.opens))
            && (at < piece.span.end || !piece.token.closes)
    };
    let piece = pieces.iter().find(inside)?;
    let is_hole = || scene.find_having(Roles::HOLE | Roles::STRING, Span::at(at), |visited| Some(visited.node.roles));
    match piece.token.form {
        Form::Block(_) => None,
        Form::Line(_) => Some("begins inside a comment"),
        _ if piece.token.kind == Kind::String && !is_hole().is_some_and(|roles| roles.has(Roles::HOLE)) => {
            Some("begins inside a string")
        }
        _ => None,
    }
}
