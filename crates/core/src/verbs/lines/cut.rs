//! Cutting whole lines.

use crate::units::Line;
use crate::verbs::clipboard::clip::{Clip, Piece};
use crate::verbs::clipboard::described;
use crate::verbs::lines::{cursors_after_deletion, deletion};
use crate::verbs::scene::{Outcome, Run, Scene};

/// Cuts the touched lines, whatever of them is selected.
pub fn cut_lines(scene: &Scene) -> Outcome {
    let text = scene.text;
    let runs = scene.runs();
    if runs.is_empty() {
        return Outcome::nothing("nothing here to cut");
    }
    let lines = runs.iter().flat_map(Run::lines);
    let depth = |line: Line| Some(text.depth_of(line, scene.settings.tabs));
    let pieces = lines.map(|line| Piece { text: text.content(line).into_owned(), depth: depth(line) }).collect();
    let clip = Clip { pieces, lines: true };
    let message = format!("cut {}", described(&clip));
    let change = deletion(text, &runs);
    let cursors = cursors_after_deletion(scene, &runs, &change);
    Outcome { clip: Some(clip), ..Outcome::edit(change, cursors) }.saying(message)
}
