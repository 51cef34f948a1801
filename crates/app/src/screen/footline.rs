//! The footline: layer, cursors, what is pending, language and marks, layout, place, and what happened last.

use super::layout::{Frame, first_line};
use super::{fill, put, width};
use crate::app::App;
use crate::palette::Role;
use ratatui::buffer::Buffer;
use snarvel_core::languages::lexical::Syntax;
use snarvel_core::text::indent::IndentUnit;
use snarvel_core::units::{Line, Span};
use snarvel_core::verbs::scene::{Layer, counted};
use std::fmt::Write;

/// Up to this many selected bytes their characters are counted anew for each frame.
const COUNTED_BYTES: usize = 100_000;

pub(super) fn draw(app: &App, frame: &Frame, buffer: &mut Buffer) {
    let area = frame.footline;
    if area.rows == 0 {
        return;
    }
    fill(buffer, area, app.palette.style(Role::Raised));
    let (badge, role) = match app.layer {
        Layer::Write => (" ● WRITE ", Role::WriteBadge),
        Layer::Shape => (" ◆ SHAPE ", Role::ShapeBadge),
    };
    let mut x = put(buffer, area, 0, badge, app.palette.style(role)) + 1;
    let message = app.message.clone().or_else(|| loading(app)).unwrap_or_default();
    let room = area.cols.saturating_sub(width(&message) + 2);
    // A long message takes the place of what stands there at all times: it may say why something was not done.
    for (text, role) in items(app, frame) {
        if x + width(&text) + 2 > room {
            break;
        }
        x = put(buffer, area, x + 1, &text, app.palette.style(role)) + 2;
    }
    if !message.is_empty() {
        let start = area.cols.saturating_sub(width(&message) + 1).max(x + 1);
        put(buffer, area, start, &message, app.palette.style(Role::Raised));
    }
}

/// Cells of the bar that shows how much of a file is there.
const BAR: usize = 20;

/// How much of the file is there, how fast it comes, and what can be done meanwhile.
fn loading(app: &App) -> Option<String> {
    let (done, all, rate) = app.shown().progress()?;
    if all == 0 {
        return Some("loading: the disk takes its time, other files do not wait".to_owned());
    }
    let share = done as f64 / all as f64;
    let full = ((share * BAR as f64) as usize).min(BAR);
    let bar = "▓".repeat(full) + &"░".repeat(BAR - full);
    let rate = rate / 1e6;
    Some(format!("loading {bar} {:.0} %, {rate:.0} MB/s: read, move, find meanwhile", share * 100.0))
}

/// What the footline says, most wanted first.
fn items(app: &App, frame: &Frame) -> Vec<(String, Role)> {
    let document = app.shown();
    let editor = &document.editor;
    let mut items = Vec::new();
    items.extend(app.count.map(|count| (format!("{count} ×"), Role::Raised)));
    if editor.cursors().len() > 1 {
        items.push((cursors(app, frame), Role::Raised));
    }
    if !editor.pins().is_empty() {
        items.push((counted(editor.pins().len(), "pin"), Role::Raised));
    }
    items.push((place(app), Role::Raised));
    items.extend(selected(app).map(|text| (text, Role::Raised)));
    let language = editor.syntax().language_at(editor.cursors().primary().head);
    items.push((format!("{}  {}", language.name, language.marks()).trim_end().to_owned(), Role::RaisedQuiet));
    items.push((
        match editor.layout().unit {
            IndentUnit::Tab => "tab".to_owned(),
            IndentUnit::Spaces(count) => format!("{count} sp"),
        },
        Role::RaisedQuiet,
    ));
    items.push((editor.layout().line_end.name().to_owned(), Role::RaisedQuiet));
    items.extend(document.encoding.unusual_name().map(|name| (name.to_owned(), Role::RaisedQuiet)));
    items
}

/// How many cursors there are, and how many of them above and below the view.
fn cursors(app: &App, frame: &Frame) -> String {
    let [above, below] = out_of_view(app, frame);
    let mut said = counted(app.shown().editor.cursors().len(), "cursor");
    for (sign, count) in [("▲", above), ("▼", below)] {
        if count > 0 {
            let _ = write!(said, " {sign}{count}");
        }
    }
    said
}

/// How many cursors have their heads above and below the view.
pub fn out_of_view(app: &App, frame: &Frame) -> [usize; 2] {
    let document = app.shown();
    let (text, list) = (document.editor.text(), document.editor.cursors().list());
    let top = text.line_start(first_line(document));
    let bottom = text.content_span(frame.last_line(document)).end;
    let above = list.partition_point(|each| each.head < top);
    [above, list.len() - list.partition_point(|each| each.head <= bottom)]
}

fn place(app: &App) -> String {
    let text = app.shown().editor.text();
    let head = app.shown().editor.cursors().primary().head;
    let line: Line = text.line_of(head);
    let cell = text.cell_of(head, app.shown().editor.layout().tabs);
    format!("{}:{}", line.0 + 1, cell.0 + 1)
}

fn selected(app: &App) -> Option<String> {
    let editor = &app.shown().editor;
    let spans = || editor.cursors().iter().filter(|each| !each.is_caret()).map(snarvel_core::cursors::Selection::span);
    let bytes: usize = spans().map(Span::len).sum();
    if bytes == 0 {
        return None;
    }
    if bytes > COUNTED_BYTES {
        return Some(format!("{bytes} bytes selected"));
    }
    let characters: usize = spans().map(|span| editor.text().slice(span).chars().count()).sum();
    let ends: usize = spans().map(|span| editor.text().slice(span).matches('\n').count()).sum();
    let lines = if ends > 0 { format!(", {}", counted(ends, "line end")) } else { String::new() };
    Some(format!("{characters} selected{lines}"))
}
