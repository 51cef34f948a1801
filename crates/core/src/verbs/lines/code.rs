//! The code of lines, without what is in their strings and comments.

use crate::languages::lexical::Syntax;
use crate::languages::scanner::Kind;
use crate::text::Text;
use crate::units::Line;
use crate::verbs::scene::Scene;

/// How many lines above the first one the structure is read from; longer functions begin at column 0 anyway.
pub(super) const LINES_READ: usize = 5_000;

/// The code of a line, with quotes in place of its strings and blanks in place of its comments.
#[must_use]
pub fn code_of(scene: &Scene, line: Line) -> String {
    code_in((scene.text, scene.syntax), line)
}

/// Whether a line has nothing but comments.
#[must_use]
pub fn is_comment_in((text, syntax): (&Text, &dyn Syntax), line: Line) -> bool {
    let pieces = syntax.pieces(line);
    !pieces.is_empty()
        && pieces.iter().all(|piece| piece.token.kind == Kind::Comment)
        && code_in((text, syntax), line).trim().is_empty()
}

/// The same of a text whose pieces `syntax` tells.
#[must_use]
pub fn code_in((text, syntax): (&Text, &dyn Syntax), line: Line) -> String {
    let span = text.content_span(line);
    let mut code = text.slice(span).into_owned().into_bytes();
    for piece in syntax.pieces(line) {
        let fill = if piece.token.kind == Kind::String { b'"' } else { b' ' };
        let [start, end] = [piece.span.start, piece.span.end].map(|at| at.min(span.end) - span.start);
        code[start..end].fill(fill);
    }
    // Strings and comments begin and end between characters, so that this is UTF-8 still.
    String::from_utf8_lossy(&code).into_owned()
}
