//! Which part of a text a view shows. Units are rows ([`snarvel_core::rows`]), and cells across.

use super::{Room, Scroll, View};
use crate::buffer::Buffer;
use crate::buffer::defaults::Wraps;
use crate::editing::Effects;
use crate::workspace::Workspace;
use snarvel_core::rows::{Row, RowMap};
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

/// The first row of `view` in view.
#[must_use]
pub fn first_row(view: &View, buffer: &Buffer) -> Row {
    let (map, top) = (view.row_map(buffer), first_line(view, buffer));
    let (line, within) = view.scroll.within;
    if line != top || within == 0 {
        return map.first_of(top);
    }
    let content = buffer.text().content_span(top);
    map.row_at(buffer.text().snap_back(content.end.min(content.start + within)))
}

/// The rows in view, as many as there is room for.
pub fn rows_in_view(view: &View, buffer: &Buffer, rows: usize) -> Vec<Row> {
    view.row_map(buffer).from(first_row(view, buffer)).take(rows).collect()
}

/// The last line in view where there are so many rows, with what is folded under it.
#[must_use]
pub fn last_line(view: &View, buffer: &Buffer, rows: usize) -> Line {
    let (text, folds) = (buffer.text(), view.folds());
    let last = match view.wrap_width(buffer) {
        None => folds.step(text, first_line(view, buffer), Direction::Forward, rows.max(1) - 1),
        Some(_) => view.row_map(buffer).step(first_row(view, buffer), Direction::Forward, rows.max(1) - 1).line,
    };
    folds.last_under(text, last)
}

/// The lines of which something is in view where there are so many rows.
pub fn lines_in_view(view: &View, buffer: &Buffer, rows: usize) -> Vec<Line> {
    let mut lines: Vec<Line> = rows_in_view(view, buffer, rows).iter().map(|row| row.line).collect();
    lines.dedup();
    lines
}

impl View {
    /// Whether lines are wrapped here.
    #[must_use]
    pub fn wraps(&self, buffer: &Buffer) -> bool {
        self.layout.wraps.unwrap_or_else(|| match buffer.defaults().wraps {
            Wraps::Never => false,
            Wraps::Always => true,
            Wraps::Prose => buffer.language().prose,
        })
    }

    /// How wide rows are, in cells; none where lines are not wrapped.
    #[must_use]
    pub fn wrap_width(&self, buffer: &Buffer) -> Option<u32> {
        (self.layout.cols > 0 && self.wraps(buffer)).then_some(self.layout.cols)
    }

    /// The rows of the text as this view shows it.
    #[must_use]
    pub fn row_map<'a>(&'a self, buffer: &'a Buffer) -> RowMap<'a> {
        RowMap::new((buffer.text(), self.folds()), buffer.settings().tabs, self.wrap_width(buffer))
    }

    /// Shows the rows from `row` on.
    fn scroll_to(&mut self, buffer: &Buffer, row: &Row) {
        self.scroll = Scroll { left: self.scroll.left, ..scroll_of(buffer, row) };
    }

    /// Scrolls by so many rows.
    pub fn scroll_by(&mut self, buffer: &Buffer, direction: Direction, rows: usize) {
        let row = self.row_map(buffer).step(first_row(self, buffer), direction, rows);
        self.scroll_to(buffer, &row);
    }
}

impl Workspace {
    /// Lines are wrapped in the view with the keys from now on, or are not any more.
    pub(crate) fn toggle_wrap(&mut self) -> Effects {
        let (buffer, view) = self.active_pair_mut();
        let wraps = !view.wraps(buffer);
        view.layout.wraps = Some(wraps);
        view.scroll.left = Cell(0);
        Effects::saying(if wraps { "long lines are wrapped here" } else { "long lines go on beyond the edge here" })
    }
}

fn scroll_of(buffer: &Buffer, row: &Row) -> Scroll {
    let within = row.span.start - buffer.text().line_start(row.line);
    Scroll { top: row.line, within: (row.line, within), left: Cell(0) }
}

/// The same as [`following_caret`], by rows of wrapped lines.
fn following_by_rows(view: &View, buffer: &Buffer, rows: usize) -> Scroll {
    let map = view.row_map(buffer);
    let own = map.row_at(view.cursors().primary().head);
    let margin = MARGIN.min((rows - 1) / 2);
    let top = first_row(view, buffer);
    let (lowest, highest) =
        (map.step(own, Direction::Back, (rows - 1).saturating_sub(margin)), map.step(own, Direction::Back, margin));
    let near = (map.step(top, Direction::Back, rows), map.step(top, Direction::Forward, 2 * rows - 1));
    let is_near = own.span.start >= near.0.span.start && own.span.start <= near.1.span.start;
    let at = |row: &Row| row.span.start;
    let row = match (is_near, at(&top) < at(&lowest), at(&top) > at(&highest)) {
        (_, false, false) => top,
        (false, ..) => map.step(own, Direction::Back, rows / 2),
        (true, true, _) => lowest,
        (true, false, true) => highest,
    };
    scroll_of(buffer, &row)
}

/// What `view`, which has so much room, shows so that its primary caret is in it: moved by as little as it takes where the caret
/// is near, else with the caret in the middle.
fn following_caret(view: &View, buffer: &Buffer, room: Room) -> Scroll {
    let (text, folds) = (buffer.text(), view.folds());
    let head = view.cursors().primary().head;
    let line = folds.shown(text, text.line_of(head));
    let rows = usize::from(room.rows).max(1);
    if view.wrap_width(buffer).is_some() {
        return following_by_rows(view, buffer, rows);
    }
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
    Scroll { top: new_top, left: Cell(new_left), ..Scroll::default() }
}

/// The line with which a view begins so that `line` is a third of the way down.
#[must_use]
pub fn top_to_show(view: &View, buffer: &Buffer, (line, rows): (Line, usize)) -> Line {
    let (text, folds) = (buffer.text(), view.folds());
    let line = folds.shown(text, line.min(text.last_line()));
    folds.step(text, line, Direction::Back, rows / 3)
}
