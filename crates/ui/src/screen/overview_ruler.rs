//! The overview ruler: the whole file small. Its left column shows the part in view, its right one cursors and changes; each half
//! cell is a slice of the file.

use super::canvas::{Area, put};
use super::layout::Pane;
use crate::context::Context;
use crate::palette::{Palette, Role};
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::changes::saved_diff::Differs;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line, Span};
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::view::View;
use snarvel_workspace::view::scrolling::{first_line, last_line};

/// Draws the ruler of `pane`; `hits` are what a panel shows on it.
pub fn draw(context: &Context, (pane, hits): (&Pane, &[Span]), grid: &mut Grid) {
    let area = pane.ruler;
    if area.cols == 0 || area.rows == 0 {
        return;
    }
    let palette = &context.look.palette;
    let (buffer, view) = context.workspace.shown(pane.view);
    let slices = Slices { halves: usize::from(area.rows) * 2, lines: buffer.text().line_count() };
    let marks = marks((buffer, view), &slices, hits);
    let first = slices.of(first_line(view, buffer));
    let last = slices.of(last_line(view, buffer, usize::from(pane.seen_rows)));
    for y in 0..area.rows {
        let row = Area { y: area.y + y, rows: 1, ..area };
        let halves = [usize::from(y) * 2, usize::from(y) * 2 + 1];
        let in_view = halves.iter().any(|half| (first..=last).contains(half));
        let (sign, role) = if in_view { ("┃", Role::Quiet) } else { ("│", Role::Edge) };
        put(grid, (row, 1), sign, palette.style(role));
        let [upper, lower] = halves.map(|half| marks[half]);
        if let Some((sign, style)) = half_cell(palette, upper, lower) {
            put(grid, (row, 2), sign, style);
        }
    }
}

/// How lines fall onto half cells: one each where there is room, else evenly.
struct Slices {
    halves: usize,
    lines: usize,
}

impl Slices {
    fn of(&self, line: Line) -> usize {
        let slice = if self.lines <= self.halves { line.0 } else { line.0 * self.halves / self.lines };
        slice.min(self.halves - 1)
    }

    /// Where each slice begins, and where the last one ends: past the end of the text, so that the end is in it.
    fn edges(&self, text: &Text) -> Vec<Byte> {
        let first_line = |half: usize| match self.lines <= self.halves {
            true => half,
            false => (half * self.lines).div_ceil(self.halves),
        };
        let place = |line: usize| if line < self.lines { text.line_start(Line(line)) } else { text.end() + 1 };
        (0..=self.halves).map(|half| place(first_line(half))).collect()
    }
}

/// The most telling thing in each half cell. Each slice is asked for what it holds, not each cursor or change for its slice: there
/// may be a million of those.
fn marks((buffer, view): (&Buffer, &View), slices: &Slices, hits: &[Span]) -> Vec<Option<Role>> {
    let (text, cursors) = (buffer.text(), view.cursors());
    let mut marks = vec![None; slices.halves];
    let has_own = cursors.len() > 1 || !buffer.saved.diff.is_empty() || !view.pins(buffer).is_empty();
    if has_own || !hits.is_empty() || !buffer.bookmarks().is_empty() {
        let edges = slices.edges(text);
        for (mark, edges) in marks.iter_mut().zip(edges.windows(2)).filter(|(_, edges)| edges[0] < edges[1]) {
            let span = Span::new(edges[0], edges[1]);
            let first = hits.partition_point(|hit| hit.start < span.start);
            let holds_hit = hits.get(first).is_some_and(|hit| hit.start < span.end);
            *mark = if holds_hit { Some(Role::HitSign) } else { mark_of((buffer, view), span) };
        }
    }
    marks[slices.of(text.line_of(cursors.primary().head))] = Some(Role::PrimarySign);
    marks
}

fn mark_of((buffer, view): (&Buffer, &View), span: Span) -> Option<Role> {
    let list = view.cursors().list();
    let first = list.partition_point(|each| each.head < span.start);
    if list.len() > 1 && list.get(first).is_some_and(|each| each.head < span.end) {
        return Some(Role::OtherSign);
    }
    let pins = view.pins(buffer);
    let first = pins.partition_point(|pin| pin.end < span.start);
    if pins.get(first).is_some_and(|pin| pin.end < span.end) {
        return Some(Role::PinSign);
    }
    if buffer.bookmarks().within(span) {
        return Some(Role::MarkSign);
    }
    buffer.saved.diff.glance(buffer.text(), span).map(|differs| match differs {
        Differs::Added => Role::Added,
        Differs::Changed => Role::Changed,
        Differs::DeletedBefore => Role::Removed,
    })
}

fn half_cell(palette: &Palette, upper: Option<Role>, lower: Option<Role>) -> Option<(&'static str, Style)> {
    let style = |role: Role| palette.style(role);
    match (upper, lower) {
        (None, None) => None,
        (Some(role), None) => Some(("▀", style(role))),
        (None, Some(role)) => Some(("▄", style(role))),
        (Some(one), Some(other)) if one == other => Some(("█", style(one))),
        (Some(one), Some(other)) => Some(("▀", Style { bg: style(other).fg, ..style(one) })),
    }
}
