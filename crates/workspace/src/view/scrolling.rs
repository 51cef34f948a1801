//! Which part of a text a view shows. Units are lines, and cells across.

use super::{Room, Scroll, View};
use crate::buffer::Buffer;
use snarvel_core::units::{Cell, Direction, Line};

/// Lines kept in view above and below the caret.
const MARGIN: usize = 2;

impl View {
    /// Moves what is in view so that the primary caret is in it, where the caret, the text or the room is another than when this
    /// was done last.
    pub fn follow_caret(&mut self, buffer: &Buffer, room: Room) {
        let here = (self.cursors.primary().head, buffer.revision());
        if self.followed != Some((here, room)) {
            self.scroll = following_caret(self, buffer, room);
            self.followed = Some((here, room));
        }
    }
}

/// The first line of `view` in view: one that is shown.
#[must_use]
pub fn first_line(view: &View, buffer: &Buffer) -> Line {
    let text = buffer.text();
    view.folds().shown(text, view.scroll.top.min(text.last_line()))
}

/// The last line in view where there are so many rows, with what is folded under it.
#[must_use]
pub fn last_line(view: &View, buffer: &Buffer, rows: usize) -> Line {
    let (text, folds) = (buffer.text(), view.folds());
    let last = folds.step(text, first_line(view, buffer), Direction::Forward, rows.max(1) - 1);
    folds.last_under(text, last)
}

/// The lines that are shown from the first one in view on, as many as there is room for.
pub fn lines_in_view<'a>(view: &'a View, buffer: &'a Buffer, rows: usize) -> impl Iterator<Item = Line> + 'a {
    let (text, folds) = (buffer.text(), view.folds());
    let next = move |line: &Line| Some(folds.step(text, *line, Direction::Forward, 1)).filter(|next| next > line);
    std::iter::successors(Some(first_line(view, buffer)), next).take(rows)
}

/// What `view`, which has so much room, shows so that its primary caret is in it: moved by as little as it takes where the caret
/// is near, else with the caret in the middle.
fn following_caret(view: &View, buffer: &Buffer, room: Room) -> Scroll {
    let (text, folds) = (buffer.text(), view.folds());
    let head = view.cursors().primary().head;
    let line = folds.shown(text, text.line_of(head));
    let rows = usize::from(room.rows).max(1);
    let margin = MARGIN.min((rows - 1) / 2);
    let top = first_line(view, buffer);
    let back = |lines: usize| folds.step(text, line, Direction::Back, lines);
    let (lowest, highest) = (back((rows - 1).saturating_sub(margin)), back(margin));
    let is_near = line >= folds.step(text, top, Direction::Back, rows)
        && line <= folds.step(text, top, Direction::Forward, 2 * rows - 1);
    let new_top = match (is_near, top < lowest, top > highest) {
        (_, false, false) => top,
        (false, ..) => back(rows / 2),
        (true, true, _) => lowest,
        (true, false, true) => highest,
    };
    let cols = u32::from(room.cols).max(1);
    let cell = text.cell_of(head, buffer.settings().tabs).0;
    let left = view.scroll.left.0;
    let new_left = match () {
        () if cell + 1 < cols => 0,
        () if cell < left + 1 || cell + 2 > left + cols => cell.saturating_sub(cols / 2),
        () => left,
    };
    Scroll { top: new_top, left: Cell(new_left) }
}

/// The line with which a view begins so that `line` is a third of the way down.
#[must_use]
pub fn top_to_show(view: &View, buffer: &Buffer, (line, rows): (Line, usize)) -> Line {
    let (text, folds) = (buffer.text(), view.folds());
    let line = folds.shown(text, line.min(text.last_line()));
    folds.step(text, line, Direction::Back, rows / 3)
}
