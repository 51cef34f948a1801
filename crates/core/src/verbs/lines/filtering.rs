//! Deleting lines by what they hold.

use crate::changes::Bias;
use crate::cursors::Selection;
use crate::units::Line;
use crate::verbs::lines::deletion;
use crate::verbs::scene::{Outcome, Run, Scene, counted};
use regex::Regex;

/// Which lines stay.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Stay {
    /// Those in which the pattern is.
    With,
    /// Those in which it is not.
    Without,
}

/// Deletes the touched lines that are not to stay; without a selection, of the whole text. Cost: linear in those lines.
pub fn filter_lines(scene: &Scene, stay: Stay, pattern: &Regex) -> Outcome {
    let text = scene.text;
    let lines: Vec<Line> = match scene.cursors.iter().all(Selection::is_caret) {
        true => (0..text.real_line_count()).map(Line).collect(),
        false => scene.runs().iter().flat_map(Run::lines).collect(),
    };
    let (mut gone, mut kept): (Vec<Run>, usize) = (Vec::new(), 0);
    for line in lines {
        if pattern.is_match(&text.content(line)) == (stay == Stay::With) {
            kept += 1;
            continue;
        }
        match gone.last_mut() {
            Some(run) if run.last.next() == line => run.last = line,
            _ => gone.push(Run { first: line, last: line, start: text.line_start(line), cursors: 0..0 }),
        }
    }
    if gone.is_empty() {
        return Outcome::nothing(format!("nothing to delete: all {} stay", counted(kept, "line")));
    }
    let change = deletion(text, &gone);
    let cursors = scene.cursors.mapped(&change, Bias::After);
    let deleted = counted(gone.iter().map(Run::len).sum(), "line");
    Outcome::edit(change, cursors).saying(format!("deleted {deleted}, {kept} stay"))
}
