//! The rail: the whole file small. Its left column shows the part in view, its right one cursors and changes;
//! each half cell is a slice of the file.

use super::layout::{Area, Frame};
use super::put;
use crate::app::App;
use crate::palette::Role;
use ratatui::buffer::Buffer;
use ratatui::style::Style;
use snarvel_core::changes::since::Differs;
use snarvel_core::units::Line;

pub(super) fn draw(app: &App, frame: &Frame, buffer: &mut Buffer) {
    let area = frame.rail;
    if area.cols == 0 || area.rows == 0 {
        return;
    }
    let slices = Slices { halves: usize::from(area.rows) * 2, lines: app.document().editor.text().line_count() };
    let marks = marks(app, &slices);
    let document = app.document();
    let first = slices.of(document.view.top);
    let last = slices.of(frame.last_line(document));
    for y in 0..area.rows {
        let row = Area { y: area.y + y, rows: 1, ..area };
        let halves = [usize::from(y) * 2, usize::from(y) * 2 + 1];
        let in_view = halves.iter().any(|half| (first..=last).contains(half));
        let (sign, role) = if in_view { ("┃", Role::Quiet) } else { ("│", Role::Edge) };
        put(buffer, row, 1, sign, app.palette.style(role));
        let [upper, lower] = halves.map(|half| marks[half]);
        if let Some((sign, style)) = half_cell(app, upper, lower) {
            put(buffer, row, 2, sign, style);
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
}

/// The most telling thing in each half cell.
fn marks(app: &App, slices: &Slices) -> Vec<Option<Role>> {
    let editor = &app.document().editor;
    let mut marks = vec![None; slices.halves];
    editor.since_saved().each(editor.text(), |line, differs| {
        marks[slices.of(line)] = Some(match differs {
            Differs::Added => Role::Added,
            Differs::Changed => Role::Changed,
            Differs::DeletedBefore => Role::Removed,
        });
    });
    let cursors = editor.cursors();
    if cursors.len() > 1 {
        mark_cursors(app, slices, &mut marks);
    }
    marks[slices.of(editor.text().line_of(cursors.primary().head))] = Some(Role::PrimarySign);
    marks
}

/// Marks each slice that holds a cursor: by asking each slice, not each cursor, of which there may be a
/// million.
fn mark_cursors(app: &App, slices: &Slices, marks: &mut [Option<Role>]) {
    let editor = &app.document().editor;
    let (text, list) = (editor.text(), editor.cursors().list());
    if list.len() <= slices.halves {
        list.iter().for_each(|each| marks[slices.of(text.line_of(each.head))] = Some(Role::OtherSign));
        return;
    }
    for (half, mark) in marks.iter_mut().enumerate() {
        let line =
            |half: usize| Line((half * slices.lines.max(slices.halves)).div_ceil(slices.halves).min(slices.lines));
        let start = |line: Line| if line.0 < slices.lines { text.line_start(line) } else { text.end() + 1 };
        let (from, to) = (start(line(half)), start(line(half + 1)));
        let first = list.partition_point(|each| each.head < from);
        if list.get(first).is_some_and(|each| each.head < to) {
            *mark = Some(Role::OtherSign);
        }
    }
}

fn half_cell(app: &App, upper: Option<Role>, lower: Option<Role>) -> Option<(&'static str, Style)> {
    let style = |role: Role| app.palette.style(role);
    match (upper, lower) {
        (None, None) => None,
        (Some(role), None) => Some(("▀", style(role))),
        (None, Some(role)) => Some(("▄", style(role))),
        (Some(one), Some(other)) if one == other => Some(("█", style(one))),
        (Some(one), Some(other)) => Some(("▀", Style { bg: style(other).fg, ..style(one) })),
    }
}
