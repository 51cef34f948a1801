//! Finding the block comment that a place is in.

use crate::languages::lexical::Piece;
use crate::languages::scanner::Form;
use crate::units::{Line, Span};
use crate::verbs::scene::Scene;

/// A block comment in the text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Block {
    pub span: Span,
    /// Which of the language's pairs of marks it has.
    pub pair: usize,
}

/// Whether `inner` lies in `outer`.
pub(super) fn holds(outer: Span, inner: Span) -> bool {
    outer.start <= inner.start && inner.end <= outer.end
}

/// The outermost block comment that holds `span`, found by the scanner.
pub(super) fn outer_block(scene: &Scene, span: Span) -> Option<Block> {
    let line = scene.text.line_of(span.start);
    let touches = |piece: &&Piece| {
        matches!(piece.token.form, Form::Block(_)) && piece.span.start <= span.start && span.start <= piece.span.end
    };
    let candidates: Vec<Piece> = scene.syntax.pieces(line).iter().filter(touches).copied().collect();
    candidates.into_iter().find_map(|piece| whole_block(scene, line, piece).filter(|block| holds(block.span, span)))
}

/// The whole comment of which `piece` lies on `line`; none where it does not end.
fn whole_block(scene: &Scene, line: Line, piece: Piece) -> Option<Block> {
    let Form::Block(pair) = piece.token.form else { return None };
    let (mut first, mut last) = ((line, piece), (line, piece));
    while !first.1.token.opens {
        let above = first.0.previous()?;
        first = (above, *scene.syntax.pieces(above).last()?);
    }
    while !last.1.token.closes {
        let below = Some(last.0.next()).filter(|line| *line <= scene.text.last_line())?;
        last = (below, *scene.syntax.pieces(below).first()?);
    }
    Some(Block { span: Span::new(first.1.span.start, last.1.span.end), pair: usize::from(pair) })
}
