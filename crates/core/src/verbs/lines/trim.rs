//! White space at line ends.

use crate::changes::{Bias, ChangeBuilder};
use crate::units::{Byte, Line, Span};
use crate::verbs::scene::{Outcome, Run, Scene, counted};

/// White space at the ends of the touched lines goes; with nothing but one caret, of all lines.
pub fn trim_trailing(scene: &Scene) -> Outcome {
    let text = scene.text;
    let is_lone_caret = scene.cursors.len() == 1 && scene.cursors.primary().is_caret();
    let whole = Run { first: Line(0), last: text.last_line(), start: Byte(0), cursors: 0..1 };
    let runs = if is_lone_caret { vec![whole] } else { scene.runs() };
    let mut builder = ChangeBuilder::new(text);
    let mut count = 0;
    for line in runs.iter().flat_map(Run::lines) {
        let span = text.content_span(line);
        let content = text.slice(span);
        let kept = content.trim_end().len();
        if kept < content.len() {
            builder.remove(Span::new(span.start + kept, span.end));
            count += 1;
        }
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::nothing("no white space at line ends");
    }
    let cursors = scene.remap(&change, |_| [Bias::Before; 2]);
    Outcome::edit(change, cursors).saying(format!("trimmed {}", counted(count, "line")))
}
