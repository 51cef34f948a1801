//! Columns: the box between two corners, one selection for each line.

use crate::cursors::{CursorSet, GoalColumn, Selection};
use crate::units::{Byte, Cell, Line};
use crate::verbs::scene::{Outcome, Scene, counted};

/// Whether lines too short for a box get a caret.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Short {
    /// They get none.
    Skipped,
    /// They get one at their end.
    Ragged,
}

/// Each selection becomes the box between its corners: one selection a line.
pub fn column(scene: &Scene, short: Short) -> Outcome {
    let born = scene.cursors.next_birth();
    let (mut list, mut primary) = (Vec::new(), 0);
    for (index, each) in scene.cursors.iter().enumerate() {
        let head_line = scene.text.line_of(each.head);
        for (line, piece) in box_of(scene, each, short) {
            let with_head = line == head_line;
            if with_head && index == scene.cursors.primary_index() {
                primary = list.len();
            }
            list.push(piece.aged(if with_head { each.born } else { born }));
        }
    }
    if list.is_empty() {
        return Outcome::nothing("no line reaches the column");
    }
    let message = counted(list.len(), "cursor") + " in columns";
    let set = CursorSet::of(list, primary);
    match set.list() == scene.cursors.list() && scene.cursors.is_column() {
        true => Outcome::already("it is a column already"),
        false => Outcome::cursors(set.as_column()).saying(message),
    }
}

/// The lines of a selection's box, each with its piece.
fn box_of(scene: &Scene, each: Selection, short: Short) -> Vec<(Line, Selection)> {
    let (text, tabs) = (scene.text, scene.settings.tabs);
    let anchor = each.goal_anchor.get().unwrap_or_else(|| scene.cell(each.anchor));
    let head = scene.wanted(each);
    let left = anchor.min(head);
    let [first, last] = [each.start(), each.end()].map(|at| text.line_of(at));
    let on_line = |line: Line| {
        let width = text.width_of(line, tabs);
        let piece = match (width < left, short) {
            (true, Short::Skipped) => return None,
            (true, Short::Ragged) => Selection::caret(text.content_span(line).end),
            (false, _) if anchor == head => Selection::caret(text.place_at(line, head, tabs).at),
            (false, _) => Selection::new(edge(scene, line, anchor), edge(scene, line, head)),
        };
        let wanted = Selection { goal_anchor: GoalColumn::cell(anchor), goal_head: GoalColumn::cell(head), ..piece };
        Some((line, wanted))
    };
    (first.0..=last.0).map(Line).filter_map(on_line).collect()
}

/// The first cluster of `line` that begins at `cell` or after it: a tab or wide cluster belongs to a box when
/// its first cell does.
#[must_use]
pub fn edge(scene: &Scene, line: Line, cell: Cell) -> Byte {
    let place = scene.text.place_at(line, cell, scene.settings.tabs);
    let end = scene.text.content_span(line).end;
    if place.cell < cell && place.at < end { scene.text.next_boundary(place.at) } else { place.at }
}
