//! The rail: the whole file small. Its left column shows the part in view, its right one cursors and changes;
//! each half cell is a slice of the file.

use super::layout::{Area, Frame, first_line};
use super::put;
use crate::app::App;
use crate::palette::Role;
use crate::panels::Panel;
use ratatui::buffer::Buffer;
use ratatui::style::Style;
use snarvel_core::changes::since::Differs;
use snarvel_core::cursors::Selection;
use snarvel_core::editor::Editor;
use snarvel_core::text::Text;
use snarvel_core::units::{Line, Span};

pub(super) fn draw(app: &App, frame: &Frame, buffer: &mut Buffer) {
    let area = frame.rail;
    if area.cols == 0 || area.rows == 0 {
        return;
    }
    let slices = Slices { halves: usize::from(area.rows) * 2, lines: app.shown().editor.text().line_count() };
    let marks = marks(app, &slices);
    let document = app.shown();
    let first = slices.of(first_line(document));
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

    /// The text of a slice; its end is past the text's for the last one, so that the end belongs to it.
    fn span(&self, text: &Text, half: usize) -> Option<Span> {
        let first_line = |half: usize| match self.lines <= self.halves {
            true => half,
            false => (half * self.lines).div_ceil(self.halves),
        };
        let place = |line: usize| if line < self.lines { text.line_start(Line(line)) } else { text.end() + 1 };
        let span = Span::new(place(first_line(half)), place(first_line(half + 1)));
        (!span.is_empty()).then_some(span)
    }
}

/// The most telling thing in each half cell. Each slice is asked for what it holds, not each cursor or change
/// for its slice: there may be a million of those.
fn marks(app: &App, slices: &Slices) -> Vec<Option<Role>> {
    let editor = &app.shown().editor;
    let (text, cursors, since) = (editor.text(), editor.cursors(), editor.since_saved());
    let mut marks = vec![None; slices.halves];
    let hits = match &app.panel {
        Some(Panel::Sift(sift)) if sift.project.is_none() && sift.then.is_none() => sift.hits(),
        _ => &[],
    };
    let has_marks = cursors.len() > 1 || !since.is_empty() || !editor.pins().is_empty();
    if has_marks || !hits.is_empty() || !editor.bookmarks().is_empty() {
        for (half, mark) in marks.iter_mut().enumerate() {
            let Some(span) = slices.span(text, half) else { continue };
            let first = hits.partition_point(|hit| hit.start < span.start);
            let holds_hit = hits.get(first).is_some_and(|hit| hit.start < span.end);
            *mark = if holds_hit { Some(Role::HitSign) } else { mark_of(editor, span) };
        }
    }
    marks[slices.of(text.line_of(cursors.primary().head))] = Some(Role::PrimarySign);
    marks
}

fn mark_of(editor: &Editor, span: Span) -> Option<Role> {
    let holds_one = |list: &[Selection]| {
        let first = list.partition_point(|each| each.head < span.start);
        list.get(first).is_some_and(|each| each.head < span.end)
    };
    if editor.cursors().len() > 1 && holds_one(editor.cursors().list()) {
        return Some(Role::OtherSign);
    }
    if holds_one(editor.pins()) {
        return Some(Role::PinSign);
    }
    if editor.bookmarks().within(span) {
        return Some(Role::MarkSign);
    }
    editor.since_saved().glance(editor.text(), span).map(|differs| match differs {
        Differs::Added => Role::Added,
        Differs::Changed => Role::Changed,
        Differs::DeletedBefore => Role::Removed,
    })
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
