//! The roster: the cursors beside the text, each with its line and what it covers there. Only what is on the screen is
//! looked at, however many cursors there are.

use super::list::RosterList;
use super::rows::{RosterRow, RosterRows};
use crate::context::Context;
use crate::palette::{Palette, Role};
use crate::screen::canvas::{Area, fill, put, width};
use ratatui::buffer::Buffer as Grid;
use ratatui::style::{Modifier, Style};
use similar::{ChangeTag, TextDiff};
use snarvel_core::cursors::Selection;
use snarvel_core::languages::lexical::Syntax;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::units::{Byte, Line, Span};
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::meaning::names::shown_path;
use snarvel_workspace::view::View;

/// How many bytes before a selection are shown of its line.
const BEFORE: usize = 14;

/// How many bytes of a line are looked at.
const LINE_BYTES: usize = 200;

/// What is on a longer line, in bytes, is not told apart: it would be scanned for every row at every frame.
const LONGEST_SCANNED: usize = 64 << 10;

/// On a longer line, in bytes, new words are not told apart: they are looked for in every row at every frame.
const LONGEST_COMPARED: usize = 2_000;

/// Draws the cursors of the view with the keys into `area`; `list` is there while it takes keys.
pub fn draw(context: &Context, (area, list): (Area, Option<&RosterList>), grid: &mut Grid) {
    if area.cols == 0 || area.rows == 0 {
        return;
    }
    let palette = &context.look.palette;
    fill(grid, area, palette.style(Role::Raised));
    // A blank column parts it from the overview ruler.
    let inner = Area { x: area.x + 1, cols: area.cols - 1, ..area };
    let (buffer, view) = context.workspace.shown_here();
    let painter = RosterPainter { palette, area: inner, buffer, view, list };
    let rows = list.map_or_else(|| RosterRows::of(&context.workspace), |list| list.rows.clone());
    painter.head(rows.cursors(), grid);
    let room = usize::from(inner.rows.saturating_sub(if list.is_some() { 4 } else { 1 }));
    let pins = view.pins(buffer);
    let for_pins =
        if pins.is_empty() { 0 } else { pins.len().min(room.saturating_sub(rows.count() + 1).max(room / 4)) };
    let room = room - for_pins;
    painter.rows(context, (&rows, room), grid);
    // Below the cursors, with a blank row between where there is room for one.
    let gap = usize::from(rows.count() < room);
    painter.pins(pins, (1 + (rows.count() + gap).min(room) as u16, for_pins), grid);
    if list.is_some() {
        painter.keys(grid);
    }
}

struct RosterPainter<'a> {
    palette: &'a Palette,
    area: Area,
    buffer: &'a Buffer,
    view: &'a View,
    list: Option<&'a RosterList>,
}

/// The words of a line, and each other character by itself.
fn words(line: &str) -> Vec<&str> {
    let is_of_word = |c: char| c.is_alphanumeric() || c == '_';
    let mut words = Vec::new();
    let mut left = line;
    while let Some(first) = left.chars().next() {
        let end_of_word = left.find(|c| !is_of_word(c)).unwrap_or(left.len());
        let len = if is_of_word(first) { end_of_word } else { first.len_utf8() };
        let (word, rest) = left.split_at(len);
        words.push(word);
        left = rest;
    }
    words
}

impl RosterPainter<'_> {
    fn row(&self, index: u16) -> Area {
        Area { y: self.area.y + index, rows: u16::from(index < self.area.rows), ..self.area }
    }

    fn over(&self, style: Style, role: Role) -> Style {
        Style { bg: style.bg, ..style.patch(self.palette.style(role)) }
    }

    fn head(&self, all: usize, grid: &mut Grid) {
        let raised = self.palette.style(Role::Raised);
        let quiet = self.palette.style(Role::RaisedQuiet);
        let x = put(grid, (self.row(0), 1), "roster", quiet) + 1;
        let Some(list) = self.list else {
            put(grid, (self.row(0), x), &all.to_string(), raised);
            return;
        };
        let x = put(grid, (self.row(0), x), &list.line.text, raised);
        put(grid, (self.row(0), x), " ", self.palette.style(Role::Primary));
        let is_cursor = |index: &&usize| matches!(list.rows.at(**index), Some(RosterRow::Cursor(..)));
        let kept = list.shown.iter().filter(is_cursor).filter(|index| !list.dropped.contains(index)).count();
        let count = format!("{kept} of {all}");
        put(grid, (self.row(0), self.area.cols.saturating_sub(width(&count) + 1)), &count, quiet);
    }

    /// The pins nearest to the primary cursor, in `count` rows from row `top` on.
    fn pins(&self, pins: &[Span], (top, count): (u16, usize), grid: &mut Grid) {
        let style = self.over(self.palette.style(Role::Raised), Role::RaisedQuiet);
        let text = self.buffer.text();
        let near = pins.partition_point(|pin| pin.start < self.view.cursors().primary().head);
        let first = near.saturating_sub(count / 2).min(pins.len().saturating_sub(count));
        for (y, pin) in pins[first..].iter().take(count).enumerate() {
            let row = self.row(top + y as u16);
            let line = text.line_of(pin.start);
            put(grid, (row, 0), "◇", self.over(style, Role::PinSign));
            put(grid, (row, 1), &format!("{:>5}", line.0 + 1), style);
            let from = text.indentation_span(line).end.min(pin.start);
            let from = text.snap_forward(from.max(Byte(pin.start.0.saturating_sub(BEFORE))));
            let end = text.snap_back(text.content_span(line).end.min(from + LINE_BYTES));
            put(grid, (row, 9), &text.slice(Span::new(from, end.max(from))).replace('\t', " "), style);
        }
    }

    /// The cursors around the primary one, or around the chosen one, in `rows` rows.
    fn rows(&self, context: &Context, (all, rows): (&RosterRows, usize), grid: &mut Grid) {
        let workspace = &context.workspace;
        let primary = all.place(workspace.views.focus(), self.view.cursors().primary_index());
        let (count, chosen) = match self.list {
            Some(list) => (list.shown.len(), list.chosen),
            None => (all.count(), primary.unwrap_or(0)),
        };
        let first = chosen.saturating_sub(rows / 2).min(count.saturating_sub(rows));
        for (y, place) in (first..count).take(rows).enumerate() {
            let place = self.list.map_or(place, |list| list.shown[place]);
            let row = self.row(1 + y as u16);
            match all.at(place) {
                Some(RosterRow::File(view)) => {
                    let buffer = workspace.pair(view).0;
                    let path = buffer.path().map(|path| shown_path(path, &workspace.project.folder));
                    self.file(&path.unwrap_or_else(|| buffer.name()), (place, row), grid);
                }
                Some(RosterRow::Cursor(id, index)) => {
                    // What is shown in the place of the active text is looked at; of the others there is no more than themselves.
                    let is_here = id == workspace.views.focus();
                    let (buffer, view) = if is_here { (self.buffer, self.view) } else { workspace.pair(id) };
                    let painter = RosterPainter { buffer, view, ..*self };
                    let role = Some(place) == primary;
                    if let Some(each) = view.cursors().list().get(index) {
                        painter.cursor(grid, (row, place), (*each, role));
                    }
                }
                None => {}
            }
        }
    }

    /// The row of a file, before its cursors.
    fn file(&self, name: &str, (place, row): (usize, Area), grid: &mut Grid) {
        let is_chosen = self.list.is_some_and(|list| list.index() == Some(place));
        let style = self.over(self.palette.style(Role::Raised), Role::Function);
        let style = if is_chosen { style.add_modifier(Modifier::BOLD) } else { style };
        // Where there is no room for all of it, the end tells more.
        let room = usize::from(row.cols.saturating_sub(2));
        let from = name.char_indices().rev().map(|(at, _)| at).take(room).last().unwrap_or(0);
        put(grid, (row, 1), &name[from..], style);
    }

    fn cursor(&self, grid: &mut Grid, (row, index): (Area, usize), (each, is_primary): (Selection, bool)) {
        let text = self.buffer.text();
        let line = text.line_of(each.head);
        let is_dropped = self.list.is_some_and(|list| list.dropped.contains(&index));
        let is_chosen = self.list.is_some_and(|list| list.index() == Some(index));
        let style = self.palette.style(Role::Raised);
        let words = match (is_dropped, is_chosen) {
            (true, _) => self.over(style, Role::RaisedQuiet).add_modifier(Modifier::CROSSED_OUT),
            (false, true) => style.add_modifier(Modifier::BOLD),
            (false, false) => style,
        };
        let (sign, role) = if is_primary { ("▸", Role::PrimarySign) } else { ("▹", Role::OtherSign) };
        put(grid, (row, 0), sign, self.over(style, role));
        let number = format!("{:>5}", line.0 + 1);
        put(grid, (row, 1), &number, self.over(style, Role::RaisedQuiet));
        if let Some((sign, role)) = self.sign_of_change(line) {
            put(grid, (row, 6), sign, self.over(style, role));
        }
        let is_short = text.line_span(line).len() <= LONGEST_SCANNED;
        let kind = match is_short.then(|| self.buffer.parsing.kinds(text).kind_at(each.start())) {
            None | Some(Kind::Code) => " ",
            Some(Kind::String) => "\"",
            Some(Kind::Comment) => "/",
        };
        put(grid, (row, 7), kind, self.over(style, Role::RaisedQuiet));
        self.words((row, words), (each, is_primary), grid);
    }

    /// The text around a cursor, what it covers marked, and what of the line is new.
    fn words(&self, (row, style): (Area, Style), (each, is_primary): (Selection, bool), grid: &mut Grid) {
        let text = self.buffer.text();
        let line = text.line_of(each.start());
        let content = text.content_span(line);
        let from = text.snap_forward(content.start.max(Byte(each.start().0.saturating_sub(BEFORE))));
        let end = each.end().min(content.end).max(each.start());
        let until = text.snap_back(content.end.min(end + LINE_BYTES)).max(end);
        let first = text.indentation_span(line).end;
        let from = if from <= first { first.min(each.start()) } else { from.min(each.start()) };
        let mut writer = Writer { roster: self, grid, row, x: 9, news: self.news(line) };
        writer.stretch(Span::new(from, each.start()), style);
        let selection = self.over(style, Role::Raised).patch(self.palette.style(Role::Selection));
        let other = self.palette.style(if is_primary { Role::Primary } else { Role::Other });
        match each.is_caret() {
            true => writer
                .put("▏", Style { bg: style.bg, ..style.patch(Style { fg: other.bg.or(other.fg), ..Style::new() }) }),
            false => writer.stretch(Span::new(each.start(), end), selection),
        }
        if text.line_of(each.end()) != line {
            writer.put("…", selection);
        }
        writer.stretch(Span::new(end, until), style);
    }

    /// How `line` differs from what was saved: something was put in, taken out, or put in the place of something else.
    fn sign_of_change(&self, line: Line) -> Option<(&'static str, Role)> {
        if self.buffer.saved.diff.lines(self.buffer.text(), line, line).is_empty() {
            return None;
        }
        Some(match self.news(line) {
            Some(News { spans, has_gone: true }) if spans.is_empty() => ("−", Role::Removed),
            Some(News { has_gone: true, .. }) => ("┇", Role::Changed),
            _ => ("+", Role::Added),
        })
    }

    /// What is new on `line` since it was saved: the stretch that is, and whether something was in its place.
    fn news(&self, line: Line) -> Option<News> {
        let text = self.buffer.text();
        let content = text.content_span(line);
        if content.len() > LONGEST_COMPARED {
            return None;
        }
        let was = self.buffer.saved.diff.was(text, line)?;
        let now = text.slice(content);
        let mut news = News { spans: Vec::new(), has_gone: false };
        let mut at = content.start;
        let (words, words_now) = (words(&was), words(&now));
        for change in TextDiff::from_slices(&words, &words_now).iter_all_changes() {
            let len = change.value().len();
            match change.tag() {
                ChangeTag::Delete => news.has_gone = true,
                ChangeTag::Insert => {
                    news.spans.push(Span::new(at, at + len));
                    at += len;
                }
                ChangeTag::Equal => at += len,
            }
        }
        Some(news)
    }

    fn keys(&self, grid: &mut Grid) {
        let raised = self.palette.style(Role::Raised);
        let key = self.over(raised, Role::KeyCap);
        let last = self.area.rows.saturating_sub(1);
        let within = self.list.and_then(|list| list.within.as_deref()).map(|name| format!("in {name}"));
        put(
            grid,
            (self.row(last.saturating_sub(2)), 1),
            &within.unwrap_or_default(),
            self.over(raised, Role::Function),
        );
        for (row, keys) in [
            (last.saturating_sub(1), [("↑↓", "show"), ("Space", "drop")]),
            (last, [("Enter", "keep"), ("Esc", "leave")]),
        ] {
            let mut x = 1;
            for (cap, meaning) in keys {
                x = put(grid, (self.row(row), x), cap, key) + 1;
                x = put(grid, (self.row(row), x), meaning, raised) + 2;
            }
        }
    }
}

/// What is new on a line.
struct News {
    /// The words that are, in order.
    spans: Vec<Span>,
    /// Whether some that were saved are gone.
    has_gone: bool,
}

/// Writes a row from left to right.
struct Writer<'a> {
    roster: &'a RosterPainter<'a>,
    grid: &'a mut Grid,
    row: Area,
    x: u16,
    news: Option<News>,
}

impl Writer<'_> {
    fn put(&mut self, characters: &str, style: Style) {
        self.x = put(self.grid, (self.row, self.x), characters, style);
    }

    /// The text of `span`, with what is new in it told apart.
    fn stretch(&mut self, span: Span, style: Style) {
        let text = self.roster.buffer.text();
        let slice = |from: Byte, to: Byte| text.slice(Span::new(from, to.max(from))).replace('\t', " ");
        let mut at = span.start;
        let spans = self.news.as_ref().map(|news| news.spans.clone()).unwrap_or_default();
        for new in spans.into_iter().filter(|new| new.end > span.start && new.start < span.end) {
            let [start, end] = [new.start, new.end].map(|edge| edge.max(at).min(span.end));
            self.put(&slice(at, start), style);
            self.put(&slice(start, end), self.roster.over(style, Role::Added));
            at = end;
        }
        self.put(&slice(at, span.end), style);
    }
}
