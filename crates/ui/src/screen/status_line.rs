//! The status line: layer, cursors, what is pending, language and marks, layout, place, and what happened last.

use super::canvas::{Area, fill, put, width, wrapped};
use super::layout::Frame;
use crate::context::Context;
use crate::keys::layer::Layer;
use crate::palette::Role;
use crate::panels::faults::sign;
use ratatui::buffer::Buffer as Grid;
use snarvel_core::cursors::Selection;
use snarvel_core::languages::lexical::Syntax;
use snarvel_core::text::indent::IndentUnit;
use snarvel_core::units::Span;
use snarvel_core::verbs::scene::counted;
use snarvel_servers::news::FaultKind;
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::view::View;
use snarvel_workspace::view::scrolling::{first_line, last_line};
use std::fmt::Write;

/// What up to this many cursors select is counted anew for each frame.
const COUNTED_SPANS: usize = 1_000;

/// The same for selected bytes.
const COUNTED_BYTES: usize = 100_000;

/// Draws the status line.
pub fn draw(context: &Context, frame: &Frame, grid: &mut Grid) {
    let (area, palette) = (frame.status_line, &context.look.palette);
    if area.rows == 0 {
        return;
    }
    fill(grid, area, palette.style(Role::Raised));
    let (badge, role) = match context.keyboard.layer {
        Layer::Write => (" ● WRITE ", Role::WriteBadge),
        Layer::Shape => (" ◆ SHAPE ", Role::ShapeBadge),
    };
    let mut x = put(grid, (area, 0), badge, palette.style(role)) + 1;
    let message = said(context);
    // What endangers work is said for as long as it lasts, with the reason where there is room.
    if let Some(why) = context.workspace.why_unkept() {
        let all = format!("▲ edits are not kept: {why}");
        let fits = x + width(&all) + width(&message) + 3 <= area.cols;
        let shown = if fits { all.as_str() } else { "▲ not kept" };
        x = put(grid, (area, x + 1), shown, palette.style(Role::Changed)) + 1;
    }
    let room = area.cols.saturating_sub(width(&message) + 2);
    // A long message takes the place of what is there at all times: it may say why something was not done.
    for (text, role) in items(context, frame) {
        if x + width(&text) + 3 > room {
            break;
        }
        x = put(grid, (area, x + 1), &text, palette.style(role)) + 2;
    }
    if width(&message) + x + 2 > area.cols {
        long_message(context, frame, (&message, x), grid);
    } else if !message.is_empty() {
        let start = area.cols.saturating_sub(width(&message) + 1).max(x + 1);
        put(grid, (area, start), &message, palette.style(Role::Raised));
    }
}

/// A message that is too long for the line begins above it, so that all of it can be read.
fn long_message(context: &Context, frame: &Frame, (message, x): (&str, u16), grid: &mut Grid) {
    /// Rows that it takes at most.
    const MOST: usize = 6;
    let (area, style) = (frame.status_line, context.look.palette.style(Role::Raised));
    let lines = wrapped(message, area.cols.saturating_sub(x + 2));
    let shown = &lines[..lines.len().min(MOST).min(usize::from(area.y) + 1)];
    for (y, line) in shown.iter().rev().enumerate() {
        let row = Area { y: area.y - y as u16, rows: 1, ..area };
        if y > 0 {
            fill(grid, row, style);
        }
        put(grid, (row, x + 1), line, style);
    }
}

/// Cells of the bar that shows how much of a file is there.
const BAR: usize = 20;

/// What happened last, else what goes on.
fn said(context: &Context) -> String {
    let long_task = || {
        let (label, since) = context.workspace.tasks.long_running()?;
        Some(format!("{label} … {} s", since.as_secs()))
    };
    let message = context.workspace.told.message.clone();
    gathering(context)
        .or(message)
        .or_else(|| called(context))
        .or_else(|| loading(context))
        .or_else(|| context.learning.speaking.hint().map(|hint| format!("▹ {hint}")))
        .or_else(|| context.workspace.running_told())
        .or_else(long_task)
        .or_else(|| serving(context))
        .unwrap_or_default()
}

/// What is called at the caret: its argument that is being written between marks.
fn called(context: &Context) -> Option<String> {
    let signature = &context.workspace.call_here()?.signature;
    let (label, here) = (&signature.label, &signature.here);
    let part = |from: usize, to: usize| label.get(from..to).unwrap_or_default();
    let marked = match here.is_empty() {
        true => label.clone(),
        false => format!("{}‹{}›{}", part(0, here.start), part(here.start, here.end), part(here.end, label.len())),
    };
    let (index, count) = signature.of;
    let of = if count > 1 { format!("  {} of {count}", index + 1) } else { String::new() };
    Some(format!("{marked}{of}"))
}

/// How many more places there are for what was done at the last two.
fn echo(context: &Context) -> Option<String> {
    let count = context.workspace.echo_offered()?.chosen().count();
    Some(format!("echo: {count} more like the last two (Ctrl+6)"))
}

/// What a language server is doing, or that the names of the project are still being gathered.
fn serving(context: &Context) -> Option<String> {
    let busy =
        context.workspace.servers().into_iter().find_map(|server| {
            Some(format!("{}: {} …", server.name, server.progress?.trim_end_matches(['.', '…', ' '])))
        });
    busy.or_else(|| {
        let files = context.workspace.names_growing().filter(|files| *files > 0)?;
        Some(format!("names of the project: {} so far …", counted(files, "file")))
    })
}

/// A bar of which `share` is full.
fn bar(share: f64) -> String {
    let full = ((share * BAR as f64) as usize).min(BAR);
    "▓".repeat(full) + &"░".repeat(BAR - full)
}

/// How much of the file is there, how fast it comes, and what can be done meanwhile.
fn loading(context: &Context) -> Option<String> {
    let progress = context.workspace.progress(context.workspace.active().id)?;
    let (done, all, rate) = (progress.done, progress.size, progress.rate);
    if all == 0 {
        return Some("loading: the disk takes its time, other files do not wait".to_owned());
    }
    let share = done as f64 / all as f64;
    let (bar, rate) = (bar(share), rate / 1e6);
    Some(format!("loading {bar} {:.0} %, {rate:.0} MB/s: read, move, find meanwhile", share * 100.0))
}

/// How many files of those whose cursors are to act together are there.
fn gathering(context: &Context) -> Option<String> {
    let (left, all) = (context.workspace.convoy_arriving(), context.workspace.convoy_files());
    let there = all.saturating_sub(left);
    (left > 0).then(|| {
        format!("reading {} {there} of {}: then keys go to all", bar(there as f64 / all as f64), counted(all, "file"))
    })
}

/// What the status line says, most wanted first.
fn items(context: &Context, frame: &Frame) -> Vec<(String, Role)> {
    let (buffer, view) = context.workspace.shown_here();
    let mut items = Vec::new();
    if let Some(recording) = &context.workspace.recipes().recording {
        items.push((format!("● REC {}", recording.len()), Role::Changed));
    }
    items.extend(echo(context).map(|said| (said, Role::Raised)));
    items.extend(context.keyboard.count.map(|count| (format!("{count} ×"), Role::Raised)));
    let convoy = context.workspace.convoy().map(<[_]>::len);
    if view.cursors().len() > 1 || convoy.is_some() {
        let rows = usize::from(frame.focused(context).seen_rows);
        let all = convoy.map(|files| (context.workspace.convoy_cursors(), files));
        items.push((cursors((buffer, view), rows, all), Role::Raised));
    }
    if !view.pins(buffer).is_empty() {
        items.push((counted(view.pins(buffer).len(), "pin"), Role::Raised));
    }
    items.push((place(buffer, view), Role::Raised));
    items.extend(faults(context, buffer));
    items.extend(selected(buffer, view).map(|text| (text, Role::Raised)));
    let kinds = buffer.parsing.kinds(buffer.text());
    let language = kinds.language_at(view.cursors().primary().head);
    items.push((format!("{}  {}", language.name, language.marks()).trim_end().to_owned(), Role::RaisedQuiet));
    let unit = match buffer.settings().unit {
        IndentUnit::Tab => "tab".to_owned(),
        IndentUnit::Spaces(count) => format!("{count} sp"),
    };
    items.push((unit, Role::RaisedQuiet));
    items.push((buffer.settings().line_end.name().to_owned(), Role::RaisedQuiet));
    items.extend(buffer.saved.encoding.unusual_name().map(|name| (name.to_owned(), Role::RaisedQuiet)));
    items
}

/// How many errors, warnings and notes there are in the text, each with its sign.
fn faults(context: &Context, buffer: &Buffer) -> impl Iterator<Item = (String, Role)> {
    let counts = context.workspace.fault_counts(buffer);
    let kinds =
        [(FaultKind::Error, Role::Removed), (FaultKind::Warning, Role::Changed), (FaultKind::Note, Role::Raised)];
    let told = |((kind, role), count): ((FaultKind, Role), usize)| (format!("{}{count}", sign(kind).0), role);
    kinds.into_iter().zip(counts).filter(|(_, count)| *count > 0).map(told)
}

/// How many cursors there are, and how many of them above and below the view.
fn cursors((buffer, view): (&Buffer, &View), rows: usize, convoy: Option<(usize, usize)>) -> String {
    let [above, below] = out_of_view((buffer, view), rows);
    let mut said = match convoy {
        Some((cursors, files)) => format!("{} in {}", counted(cursors, "cursor"), counted(files, "file")),
        None => counted(view.cursors().len(), "cursor"),
    };
    for (sign, count) in [("▲", above), ("▼", below)] {
        if count > 0 {
            let _ = write!(said, " {sign}{count}");
        }
    }
    said
}

/// How many cursors have their heads above and below the view, which has so many rows.
#[must_use]
pub fn out_of_view((buffer, view): (&Buffer, &View), rows: usize) -> [usize; 2] {
    let (text, list) = (buffer.text(), view.cursors().list());
    let top = text.line_start(first_line(view, buffer));
    let bottom = text.content_span(last_line(view, buffer, rows)).end;
    let above = list.partition_point(|each| each.head < top);
    [above, list.len() - list.partition_point(|each| each.head <= bottom)]
}

/// Line and column of the primary caret, both from 1.
#[must_use]
pub fn place(buffer: &Buffer, view: &View) -> String {
    let head = view.cursors().primary().head;
    let cell = buffer.text().cell_of(head, buffer.settings().tabs);
    format!("{}:{}", buffer.text().line_of(head).0 + 1, cell.0 + 1)
}

fn selected(buffer: &Buffer, view: &View) -> Option<String> {
    if view.cursors().len() > COUNTED_SPANS {
        return None;
    }
    let spans = || view.cursors().iter().filter(|each| !each.is_caret()).map(Selection::span);
    let bytes: usize = spans().map(Span::len).sum();
    if bytes == 0 {
        return None;
    }
    if bytes > COUNTED_BYTES {
        return Some(format!("{bytes} bytes selected"));
    }
    let characters: usize = spans().map(|span| buffer.text().slice(span).chars().count()).sum();
    let ends: usize = spans().map(|span| buffer.text().slice(span).matches('\n').count()).sum();
    let lines = if ends > 0 { format!(", {}", counted(ends, "line end")) } else { String::new() };
    Some(format!("{characters} selected{lines}"))
}
