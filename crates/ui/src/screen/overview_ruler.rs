//! The overview ruler: the whole file small. Its left column shows the part in view, its right one cursors and changes; each half
//! cell is a slice of the file.

use super::canvas::{Area, put};
use super::layout::Pane;
use crate::context::Context;
use crate::palette::{Palette, Role};
use crate::panels::faults::sign;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::changes::saved_diff::Differs;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line, Span};
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::view::View;
use snarvel_workspace::view::scrolling::{first_line, last_line};
use std::collections::BTreeSet;

/// Draws the ruler of `pane`; `hits` are what a panel shows on it.
pub fn draw(context: &Context, (pane, hits): (&Pane, &[Span]), grid: &mut Grid) {
    let area = pane.ruler;
    if area.cols == 0 || area.rows == 0 {
        return;
    }
    let palette = &context.look.palette;
    let (buffer, view) = context.workspace.shown(pane.view);
    let slices = Slices { halves: usize::from(area.rows) * 2, lines: buffer.text().line_count() };
    let faults: Vec<(Span, Role)> =
        context.workspace.each_fault(buffer).map(|here| (here.span, sign(here.fault.kind).1)).collect();
    let marks = marks((buffer, view), &slices, (hits, &faults));
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

    /// Where a slice begins: after the last one, past the end of the text, so that the end is in that.
    fn start(&self, text: &Text, half: usize) -> Byte {
        let line = match self.lines <= self.halves {
            true => half,
            false => (half * self.lines).div_ceil(self.halves),
        };
        if line < self.lines { text.line_start(Line(line)) } else { text.end() + 1 }
    }
}

/// The most things of a kind that are looked at one by one to see in which slices they are.
const FEW: usize = 16;

/// The most telling thing in each half cell. Where there is little to show, only the slices are asked in which it is; where there is
/// more, each slice is asked for what it holds, not each cursor or change for its slice: there may be a million of those.
fn marks(
    (buffer, view): (&Buffer, &View),
    slices: &Slices,
    (hits, faults): (&[Span], &[(Span, Role)]),
) -> Vec<Option<Role>> {
    let text = buffer.text();
    let mut marks = vec![None; slices.halves];
    let asked = slices_of_few((buffer, view), slices, hits).unwrap_or_else(|| (0..slices.halves).collect());
    for half in asked {
        let span = Span::new(slices.start(text, half), slices.start(text, half + 1));
        if !span.is_empty() {
            let first = hits.partition_point(|hit| hit.start < span.start);
            let holds_hit = hits.get(first).is_some_and(|hit| hit.start < span.end);
            marks[half] = if holds_hit { Some(Role::HitSign) } else { mark_of((buffer, view), span) };
        }
    }
    // Every fault is asked for its slice: no more of them are kept than that costs little. The worst is drawn last.
    let starts: Vec<Byte> = match faults.is_empty() {
        true => Vec::new(),
        false => (0..slices.halves).map(|half| slices.start(text, half)).collect(),
    };
    for role in [Role::Function, Role::Changed, Role::Removed] {
        for (span, _) in faults.iter().filter(|(_, other)| *other == role) {
            let after = starts.partition_point(|start| *start <= span.start);
            marks[after.saturating_sub(1)] = Some(role);
        }
    }
    marks[slices.of(text.line_of(view.cursors().primary().head))] = Some(Role::PrimarySign);
    marks
}

/// The slices in which there is anything to show; none where there is much.
fn slices_of_few((buffer, view): (&Buffer, &View), slices: &Slices, hits: &[Span]) -> Option<BTreeSet<usize>> {
    let text = buffer.text();
    let (cursors, pins, bookmarks) = (view.cursors().list(), view.pins(buffer), buffer.bookmarks());
    if [cursors.len(), pins.len(), bookmarks.len(), hits.len()].iter().any(|count| *count > FEW) {
        return None;
    }
    let differing = buffer.saved.diff.few(FEW)?;
    let others = if cursors.len() > 1 { cursors } else { &[] };
    let places = others.iter().map(|each| Span::at(each.head)).chain(bookmarks.places().iter().map(|at| Span::at(*at)));
    let spans = places.chain(pins.iter().copied()).chain(hits.iter().copied()).chain(differing);
    let slice_at = |at: Byte| slices.of(text.line_of(at.min(text.end())));
    Some(spans.flat_map(|span| slice_at(span.start)..=slice_at(span.end)).collect())
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
