//! The gutter: a sign for cursors, the line number, and an edge that tells by its shape what has changed.

use super::canvas::{Area, put};
use super::layout::Pane;
use crate::context::Context;
use crate::palette::Role;
use crate::panels::faults::sign;
use crate::settings::Numbers;
use ratatui::buffer::Buffer as Grid;
use snarvel_core::bookmarks::Bookmarks;
use snarvel_core::changes::saved_diff::Differs;
use snarvel_core::rows::Row;
use snarvel_core::text::Text;
use snarvel_core::text::cells::hides_something;
use snarvel_core::units::{Line, Span};
use snarvel_servers::news::FaultKind;
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::meaning::faults::FaultHere;
use snarvel_workspace::view::View;
use snarvel_workspace::view::scrolling::{first_line, last_line, rows_in_view};

/// Draws the gutter of `pane`.
pub fn draw(context: &Context, pane: &Pane, grid: &mut Grid) {
    let area = pane.gutter;
    if area.cols == 0 {
        return;
    }
    let (buffer, view) = context.workspace.shown(pane.view);
    let (text, palette) = (buffer.text(), &context.look.palette);
    let rows = usize::from(pane.seen_rows);
    let (top, last) = (first_line(view, buffer), last_line(view, buffer, rows));
    let changed = buffer.saved.diff.lines(text, top, last);
    let bookmarks = buffer.bookmarks();
    let quiet = palette.style(Role::Quiet);
    let in_view = Span::new(text.line_start(top), text.line_span(last).end);
    let faults = context.workspace.faults_within(buffer, in_view);
    let differing = context.workspace.differences_in(pane.view, in_view);
    for (y, shown) in rows_in_view(view, buffer, rows).into_iter().enumerate() {
        let row = Area { y: area.y + y as u16, rows: 1, ..area };
        let line = shown.line;
        let cursor = cursor_on((buffer, view), &shown);
        // A row that goes on with its line has no number and no signs of its own.
        if shown.begins(text) {
            let width = usize::from(area.cols) - 5;
            let number = format!("{:>width$}", number_of(context.settings.numbers, (buffer, view), line));
            let style = if cursor == Some(Role::PrimarySign) { palette.style(Role::Text) } else { quiet };
            put(grid, (row, 2), &number, style);
            signs_of(context, (text, line, worst_on(text, line, &faults)), (row, cursor), (&bookmarks, grid));
        }
        if let Some(sign) = differing.iter().any(|place| touches(text, place, &shown)).then_some("≠") {
            put(grid, (row, 1), sign, palette.style(Role::Changed));
        }
        if let Some(role) = cursor {
            let sign = match role {
                Role::PrimarySign => "▸",
                Role::OtherSign => "▹",
                _ => "◇",
            };
            put(grid, (row, 0), sign, palette.style(role));
        }
        // What is folded under a line is told on it.
        let under = view.folds().last_under(text, line);
        let differs = changed.iter().find(|(changed, _)| (line..=under).contains(changed)).map(|(_, how)| *how);
        let (edge, role) = match differs {
            None => ("│", None),
            Some(Differs::Added) => ("┃", Some(Role::Added)),
            Some(Differs::Changed) => ("┇", Some(Role::Changed)),
            Some(Differs::DeletedBefore) => ("┷", Some(Role::Removed)),
        };
        put(grid, (row, area.cols - 2), edge, palette.style(role.unwrap_or(Role::Edge)));
    }
}

/// Whether a place that differs is in a row; one without text is before the line that it is at.
fn touches(text: &Text, place: &Span, row: &Row) -> bool {
    let line = text.line_span(row.line);
    let end = if row.ends(text) { line.end } else { row.span.end };
    let is_last = row.line == text.last_line() && row.ends(text);
    let begins = row.span.start <= place.start && (place.start < end || (is_last && place.start == end));
    begins || (place.start < row.span.start && place.end > row.span.start)
}

/// The signs of a line: what is wrong on it, a bookmark, what may mislead.
fn signs_of(
    context: &Context,
    (text, line, worst): (&Text, Line, Option<FaultKind>),
    (row, cursor): (Area, Option<Role>),
    (bookmarks, grid): (&Bookmarks, &mut Grid),
) {
    let palette = &context.look.palette;
    if let Some(kind) = worst {
        let (shape, role) = sign(kind);
        put(grid, (row, 1), shape, palette.style(role));
        if bookmarks.holds(text, line) && cursor.is_none() {
            put(grid, (row, 0), "⚑", palette.style(Role::MarkSign));
        }
    } else if bookmarks.holds(text, line) {
        put(grid, (row, 1), "⚑", palette.style(Role::MarkSign));
    } else if may_mislead(text, line) {
        put(grid, (row, 1), "‼", palette.style(Role::Removed));
    }
}

/// What `line` is called: its number, or how far it is from the primary cursor.
fn number_of(numbers: Numbers, (buffer, view): (&Buffer, &View), line: Line) -> usize {
    let here = buffer.text().line_of(view.cursors().primary().head);
    match numbers {
        Numbers::Relative if line != here => line.0.abs_diff(here.0),
        Numbers::Relative | Numbers::Absolute => line.0 + 1,
    }
}

/// Which kind of cursor has its head in a row, or whether a pin begins there.
fn cursor_on((buffer, view): (&Buffer, &View), row: &Row) -> Option<Role> {
    let (text, cursors) = (buffer.text(), view.cursors());
    let line = text.line_span(row.line);
    let span = if row.ends(text) { Span::new(row.span.start, line.end) } else { row.span };
    let is_last = row.line == text.last_line() && row.ends(text);
    let holds = |at| span.start <= at && (at < span.end || (at == span.end && is_last));
    if holds(cursors.primary().head) {
        return Some(Role::PrimarySign);
    }
    let list = cursors.list();
    let first = list.partition_point(|each| each.end() < span.start);
    let here = list[first..].iter().take_while(|each| each.start() <= span.end);
    if here.into_iter().any(|each| holds(each.head)) {
        return Some(Role::OtherSign);
    }
    let pins = view.pins(buffer);
    let first = pins.partition_point(|pin| pin.start < span.start);
    pins.get(first).is_some_and(|pin| holds(pin.start)).then_some(Role::PinSign)
}

/// The worst kind of what is wrong on `line`.
fn worst_on(text: &Text, line: Line, faults: &[FaultHere]) -> Option<FaultKind> {
    let span = text.line_span(line);
    let is_last = line == text.last_line();
    let first = faults.partition_point(|here| here.span.start < span.start);
    let here = faults[first..]
        .iter()
        .take_while(|here| here.span.start < span.end || (is_last && here.span.start == span.end));
    here.map(|here| here.fault.kind).min()
}

/// Bytes of a line that are looked at for what does not show.
const LOOKED_AT: usize = 4 << 10;

/// Whether something on `line` may not be what it seems.
fn may_mislead(text: &Text, line: Line) -> bool {
    let content = text.content_span(line);
    let end = text.snap_back(content.end.min(content.start + LOOKED_AT));
    hides_something(&text.slice(Span::new(content.start, end)))
}
