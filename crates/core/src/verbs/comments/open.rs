//! Block comments that nothing closes.

use crate::languages::scanner::Kind;
use crate::languages::{BlockMarks, Language};
use crate::units::{Byte, Line};
use crate::verbs::scene::Scene;

/// Lines below that are looked through for what closes a comment.
const REACH: usize = 500;

/// The marks of the block comment that begins before `head` on its line and that nothing closes: another one begins before the next
/// closing mark.
#[must_use]
pub fn open_comment<'l>(scene: &Scene, head: Byte, language: &'l Language) -> Option<&'l BlockMarks> {
    let text = scene.text;
    let line = text.line_of(head);
    let pieces = scene.syntax.pieces(line);
    let is_open = |piece: &&crate::languages::lexical::Piece| {
        piece.token.kind == Kind::Comment && piece.token.opens && !piece.token.closes
    };
    let last = pieces.last().filter(is_open)?;
    let marks = language.block.iter().find(|marks| text.has_at(last.span.start, &marks.open))?;
    let below = (line.0 + 1..text.line_count()).take(REACH).map(Line);
    let is_closed_below = below.into_iter().find_map(|below| {
        let content = text.content(below);
        let (closes, opens) = (content.find(marks.close.as_str()), content.find(marks.open.as_str()));
        (closes.is_some() || opens.is_some()).then(|| closes.is_some_and(|at| opens.is_none_or(|open| at < open)))
    });
    (last.span.start < head && is_closed_below != Some(true)).then_some(marks)
}
