//! Going to what was changed since the last save.

use crate::cursors::CursorSet;
use crate::units::{Direction, Line};
use crate::verbs::scene::{Outcome, Scene};

/// Goes to the first line of the next, or of the previous, changed lines that lie together; round the text. Cost: linear in the
/// lines that differ.
pub fn next_change(scene: &Scene, direction: Direction) -> Outcome {
    let here = scene.text.line_of(scene.cursors.primary().head);
    let mut starts: Vec<Line> = Vec::new();
    let mut before = None;
    for line in (scene.remembered.changed_lines)() {
        if before.replace(line).is_none_or(|before: Line| before.next() != line) {
            starts.push(line);
        }
    }
    let index = match direction {
        Direction::Forward => starts.iter().position(|start| *start > here).or((!starts.is_empty()).then_some(0)),
        Direction::Back => starts.iter().rposition(|start| *start < here).or(starts.len().checked_sub(1)),
    };
    let Some(index) = index else { return Outcome::nothing("nothing has changed since the last save") };
    let at = scene.text.indentation_span(starts[index]).end;
    Outcome::cursors(CursorSet::caret(at)).saying(format!("change {} of {}", index + 1, starts.len()))
}
