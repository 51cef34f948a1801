//! The gutter: a sign for cursors, the line number, and an edge that tells by its shape what has changed.

use super::layout::{Area, Frame, first_line, lines_in_view};
use super::put;
use crate::app::App;
use crate::palette::Role;
use crate::settings::Numbers;
use ratatui::buffer::Buffer;
use snarvel_core::changes::since::Differs;
use snarvel_core::text::Text;
use snarvel_core::text::cells::is_hidden;
use snarvel_core::units::{Line, Span};

pub(super) fn draw(app: &App, frame: &Frame, buffer: &mut Buffer) {
    let area = frame.gutter;
    if area.cols == 0 {
        return;
    }
    let document = app.shown();
    let text = document.editor.text();
    let (top, last) = (first_line(document), frame.last_line(document));
    let changed = document.editor.since_saved().lines(text, top, last);
    let quiet = app.palette.style(Role::Quiet);
    for (y, line) in lines_in_view(document, usize::from(frame.seen.rows)).enumerate() {
        let row = Area { y: area.y + y as u16, rows: 1, ..area };
        let number = format!("{:>width$}", number_of(app, line), width = usize::from(area.cols) - 5);
        let cursor = cursor_on(app, line);
        let style = if cursor == Some(Role::PrimarySign) { app.palette.style(Role::Text) } else { quiet };
        put(buffer, row, 2, &number, style);
        if let Some(role) = cursor {
            let sign = match role {
                Role::PrimarySign => "▸",
                Role::OtherSign => "▹",
                _ => "◇",
            };
            put(buffer, row, 0, sign, app.palette.style(role));
        }
        if document.editor.bookmarks().holds(text, line) {
            put(buffer, row, 1, "⚑", app.palette.style(Role::MarkSign));
        } else if hides_something(text, line) {
            put(buffer, row, 1, "‼", app.palette.style(Role::Removed));
        }
        // What is folded under a line is told on it.
        let under = document.editor.folds().last_under(text, line);
        let differs = changed.iter().find(|(changed, _)| (line..=under).contains(changed)).map(|(_, how)| *how);
        let (edge, role) = match differs {
            None => ("│", None),
            Some(Differs::Added) => ("┃", Some(Role::Added)),
            Some(Differs::Changed) => ("┇", Some(Role::Changed)),
            Some(Differs::DeletedBefore) => ("┷", Some(Role::Removed)),
        };
        put(buffer, row, area.cols - 2, edge, app.palette.style(role.unwrap_or(Role::Edge)));
    }
}

/// What `line` is called: its number, or how far it is from the primary cursor.
fn number_of(app: &App, line: Line) -> usize {
    let editor = &app.shown().editor;
    let here = editor.text().line_of(editor.cursors().primary().head);
    match app.settings.numbers {
        Numbers::Relative if line != here => line.0.abs_diff(here.0),
        Numbers::Relative | Numbers::Absolute => line.0 + 1,
    }
}

/// Which kind of cursor has its head on `line`, or whether a pin begins there.
fn cursor_on(app: &App, line: Line) -> Option<Role> {
    let editor = &app.shown().editor;
    let (text, cursors) = (editor.text(), editor.cursors());
    let span = text.line_span(line);
    let holds = |at| span.start <= at && (at < span.end || (at == span.end && line == text.last_line()));
    if holds(cursors.primary().head) {
        return Some(Role::PrimarySign);
    }
    let list = cursors.list();
    let first = list.partition_point(|each| each.end() < span.start);
    let here = list[first..].iter().take_while(|each| each.start() <= span.end);
    if here.into_iter().any(|each| holds(each.head)) {
        return Some(Role::OtherSign);
    }
    let first = editor.pins().partition_point(|pin| pin.start() < span.start);
    editor.pins().get(first).is_some_and(|pin| holds(pin.start())).then_some(Role::PinSign)
}

/// Bytes of a line that are looked at for what does not show.
const LOOKED_AT: usize = 4 << 10;

/// Whether `line` holds characters that turn the order of others or do not show at all: what is read there may not be what
/// is meant (Unicode Technical Report 36).
fn hides_something(text: &Text, line: Line) -> bool {
    let content = text.content_span(line);
    let end = text.snap_back(content.end.min(content.start + LOOKED_AT));
    text.slice(Span::new(content.start, end)).chars().any(|c| !c.is_ascii() && is_hidden(c))
}
