//! Widening a selection to what encloses it, and going back exactly the same way.
//!
//! Word, inside the enclosing quotes or brackets, with them, node by node of the structure (without a tree: the
//! paragraph), file: always the smallest that is more than what is selected. Cost: the lines up to the enclosing
//! brackets, and what a parse costs.

use crate::cursors::Selection;
use crate::languages::lexical::Piece;
use crate::languages::scanner::Kind;
use crate::units::Span;
use crate::verbs::scene::{Outcome, Scene, Widening};
use crate::verbs::selects::Paragraphs;
use crate::verbs::selects::brackets::Brackets;

/// Every selection becomes the next larger thing around it.
pub fn widen(scene: &Scene) -> Outcome {
    let mut around = Around { scene, brackets: Brackets::near_cursors(scene), paragraphs: Paragraphs::default() };
    let set = scene.cursors.map(|each| match around.wider(each.span()) {
        Some(span) => Selection::over(span, each.direction()),
        None => each,
    });
    if set == *scene.cursors {
        return Outcome::nothing("everything is selected");
    }
    Outcome { widening: Widening::Wider, ..Outcome::cursors(set) }
}

/// Back to what was widened last.
pub fn narrow(scene: &Scene) -> Outcome {
    match scene.memory.widened.last() {
        Some([before, after]) if after == scene.cursors => {
            Outcome { widening: Widening::Narrower, ..Outcome::cursors(before.clone()) }
        }
        _ => Outcome::nothing("nothing was widened"),
    }
}

/// What encloses the cursors, which ask in their order.
struct Around<'a, 'b> {
    scene: &'a Scene<'b>,
    brackets: Brackets<'a, 'b>,
    paragraphs: Paragraphs,
}

impl Around<'_, '_> {
    /// The smallest enclosing thing that is more than `span`.
    fn wider(&mut self, span: Span) -> Option<Span> {
        let (scene, text) = (self.scene, self.scene.text);
        // A run of brackets is no word: a part of it is half a pair.
        let word = text
            .word_at(span.start, scene.words())
            .filter(|word| !text.slice(*word).contains(['(', ')', '[', ']', '{', '}', '"', '\'', '`']));
        let mut candidates: Vec<Span> = word.into_iter().collect();
        candidates.extend(string_around(scene, span));
        candidates.extend(self.brackets.around(span));
        let is_wider =
            |each: &Span| each.start <= span.start && span.end <= each.end && *each != span && !each.is_empty();
        let mut is_known = false;
        candidates.extend(scene.find_around(span, |visited| {
            is_known = true;
            // One bracket is half a pair.
            let is_half =
                !visited.node.is_named && text.char_at(visited.node.span.start).is_some_and(|c| "()[]{}".contains(c));
            Some(trimmed(scene, visited.node.span)).filter(|span| is_wider(span) && !is_half)
        }));
        if !is_known {
            candidates.extend(self.paragraphs.around(scene, span.start));
        }
        candidates.push(text.span());
        candidates.into_iter().filter(is_wider).min_by_key(|each| each.len())
    }
}

/// `span` without the white space at its end: some grammars take line ends into their nodes.
fn trimmed(scene: &Scene, span: Span) -> Span {
    scene.text.trimmed(span)
}

/// The inside of the literal around `span` on its line, and the whole of it.
pub(crate) fn string_around(scene: &Scene, span: Span) -> Vec<Span> {
    let holds = |piece: &&Piece| {
        piece.token.kind == Kind::String && piece.span.start <= span.start && span.end <= piece.span.end
    };
    let pieces = scene.syntax.pieces(scene.text.line_of(span.start));
    let Some(piece) = pieces.iter().find(holds).filter(|piece| piece.token.opens && piece.token.closes) else {
        return Vec::new();
    };
    let content = scene.text.slice(piece.span);
    let is_quote = |c: char| matches!(c, '"' | '\'' | '`' | '#' | '/');
    let head = content.len() - content.trim_start_matches(|c: char| c.is_alphabetic()).len();
    let open = head + (content.len() - head - content[head..].trim_start_matches(is_quote).len());
    let close = content.len() - content.trim_end_matches(is_quote).len();
    let inner = (open + close <= content.len()).then(|| Span::new(piece.span.start + open, piece.span.end - close));
    inner.into_iter().chain([piece.span]).collect()
}
