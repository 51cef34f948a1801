//! White space at line ends.

use crate::changes::{Bias, ChangeBuilder};
use crate::languages::scanner::Kind;
use crate::text::reader::Reader;
use crate::units::{Byte, Line, Span};
use crate::verbs::scene::{Outcome, Run, Scene, counted};

/// White space at the ends of the touched lines goes; with nothing but one caret, of all lines. The insides of strings stay as they
/// are, and so do the two blanks with which a line of Markdown asks for a line break (`CommonMark` 0.31, 6.7).
pub fn trim_trailing(scene: &Scene) -> Outcome {
    let text = scene.text;
    let is_lone_caret = scene.cursors.len() == 1 && scene.cursors.primary().is_caret();
    let whole = Run { first: Line(0), last: text.last_line(), start: Byte(0), cursors: 0..1 };
    let runs = if is_lone_caret { vec![whole] } else { scene.runs() };
    let mut builder = ChangeBuilder::new(text);
    let mut count = 0;
    let mut reader = Reader::new(text);
    for line in runs.iter().flat_map(Run::lines) {
        let span = reader.content_span(line);
        let content = text.slice(span);
        let kept = kept_of(scene, line, &content);
        if kept < content.len() {
            builder.remove(Span::new(span.start + kept, span.end));
            count += 1;
        }
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::already("no white space at line ends");
    }
    let cursors = scene.remap(&change, |_| [Bias::Before; 2]);
    Outcome::edit(change, cursors).saying(format!("trimmed {}", counted(count, "line")))
}

/// How many bytes of `line` stay, of which this is the content.
fn kept_of(scene: &Scene, line: Line, content: &str) -> usize {
    /// What asks for a line break in Markdown.
    const HARD_BREAK: &str = "  ";
    let body = content.trim_end();
    let end = || scene.text.content_span(line).end;
    let goes_on = || {
        scene.syntax.kind_at(end()) == Kind::String
            && line < scene.text.last_line()
            && scene.syntax.kind_before_line(line.next()) == Kind::String
    };
    if body.len() == content.len() || goes_on() {
        return content.len();
    }
    let is_fence = ["```", "~~~"].iter().any(|fence| body.trim_start().starts_with(fence));
    let breaks = content[body.len()..].starts_with(HARD_BREAK) && !body.is_empty() && !is_fence;
    let is_markdown = || scene.language_at(end()).name == "markdown";
    body.len() + if breaks && is_markdown() { HARD_BREAK.len() } else { 0 }
}
