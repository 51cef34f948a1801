//! The screen: drawn from the application's values into a grid of cells, nothing else.

mod deck;
mod footline;
mod gutter;
mod highlight;
pub mod layout;
mod panel;
mod rail;
mod roster;
mod strip;
mod text;

use crate::app::App;
use crate::palette::Role;
use layout::{Area, Frame};
use ratatui::buffer::{Buffer, Cell};
use ratatui::layout::Rect;
use ratatui::style::Style;
use unicode_width::UnicodeWidthStr;

/// Draws all of `app` into `buffer`, which has the application's size.
pub fn draw(app: &App, buffer: &mut Buffer) {
    let frame = Frame::of(app);
    let whole = Area { x: 0, y: 0, cols: app.size.cols, rows: app.size.rows };
    fill(buffer, whole, app.palette.style(Role::Text));
    strip::draw(app, frame.strip, buffer);
    rule(app, frame.rule_above, buffer);
    text::draw(app, app.shown(), frame.seen, app.palette.style(Role::Text), buffer);
    gutter::draw(app, &frame, buffer);
    rail::draw(app, &frame, buffer);
    roster::draw(app, frame.roster, buffer);
    if frame.panel.rows > 0 {
        panel::draw(app, &frame, buffer);
    } else {
        deck::draw(app, frame.deck, buffer);
    }
    rule(app, frame.rule_below, buffer);
    footline::draw(app, &frame, buffer);
}

/// How many cursors are above and below the view.
pub fn cursors_out_of_view(app: &App) -> [usize; 2] {
    footline::out_of_view(app, &Frame::of(app))
}

/// Where the terminal's own cursor is shown: at the primary caret where there are no colours to tell it by.
pub fn shown_cursor(app: &App) -> Option<[u16; 2]> {
    let wants = !app.palette.has_colour() && app.panel.is_none();
    wants.then(|| Frame::of(app).caret_cell(app.shown())).flatten()
}

fn rule(app: &App, area: Area, buffer: &mut Buffer) {
    if area.rows > 0 {
        fill(buffer, area, app.palette.style(Role::Text));
        put(buffer, area, 0, &"─".repeat(area.cols as usize), app.palette.style(Role::Edge));
    }
}

/// Gives every cell of `area` the style and a blank.
fn fill(buffer: &mut Buffer, area: Area, style: Style) {
    let area = rect(area).intersection(buffer.area);
    let mut blank = Cell::EMPTY;
    blank.set_style(style);
    for y in area.top()..area.bottom() {
        for x in area.left()..area.right() {
            buffer[(x, y)].clone_from(&blank);
        }
    }
}

fn rect(area: Area) -> Rect {
    Rect::new(area.x, area.y, area.cols, area.rows)
}

/// Writes `text` into the first row of `area` from its column `x` on, cut at its right edge; gives the column
/// behind it. What could harm a terminal is replaced on the way.
fn put(buffer: &mut Buffer, area: Area, x: u16, text: &str, style: Style) -> u16 {
    if area.rows == 0 || x >= area.cols || area.y >= buffer.area.height {
        return x;
    }
    if let [byte @ b' '..=b'~'] = text.as_bytes() {
        buffer[(area.x + x, area.y)].set_char(char::from(*byte)).set_style(style);
        return x + 1;
    }
    let clean = harmless(text);
    let room = usize::from(area.cols - x);
    let (end, _) = buffer.set_stringn(area.x + x, area.y, &clean, room, style);
    end - area.x
}

/// `text` with chips in place of what must not reach a terminal.
pub fn harmless(text: &str) -> String {
    use snarvel_core::text::cells::chip;
    use unicode_segmentation::UnicodeSegmentation;
    if text.bytes().all(|byte| (0x20..0x7F).contains(&byte)) {
        return text.to_owned();
    }
    text.graphemes(true).map(|cluster| chip(cluster).unwrap_or_else(|| cluster.to_owned())).collect()
}

/// The width of `text` as [`put`] writes it.
fn width(text: &str) -> u16 {
    harmless(text).width().min(usize::from(u16::MAX)) as u16
}
