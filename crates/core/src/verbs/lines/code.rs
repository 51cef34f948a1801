//! The code of lines, without what is in their strings and comments.

use crate::languages::scanner::Kind;
use crate::units::Line;
use crate::verbs::scene::Scene;

/// How many lines above the first one the structure is read from; longer functions begin at column 0 anyway.
pub(super) const LINES_READ: usize = 5_000;

/// The code of a line, with blanks in place of its strings and comments.
#[must_use]
pub fn code_of(scene: &Scene, line: Line) -> String {
    let span = scene.text.content_span(line);
    let mut code = scene.text.slice(span).into_owned().into_bytes();
    for piece in scene.syntax.pieces(line) {
        let fill = if piece.token.kind == Kind::String { b'"' } else { b' ' };
        let [start, end] = [piece.span.start, piece.span.end].map(|at| at.min(span.end) - span.start);
        code[start..end].fill(fill);
    }
    // Strings and comments begin and end between characters, so that this is UTF-8 still.
    String::from_utf8_lossy(&code).into_owned()
}
