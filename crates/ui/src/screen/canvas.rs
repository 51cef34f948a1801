//! Writing into the grid of cells: what could harm a terminal is replaced on the way.

use ratatui::buffer::{Buffer, Cell};
use ratatui::layout::Rect;
use ratatui::style::Style;
use std::borrow::Cow;
use unicode_width::UnicodeWidthStr;

/// A part of the screen, in cells.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Area {
    /// Its left column.
    pub x: u16,
    /// Its top row.
    pub y: u16,
    /// Its width.
    pub cols: u16,
    /// Its height.
    pub rows: u16,
}

impl Area {
    /// The row `y` of a screen that is `cols` wide.
    #[must_use]
    pub fn row(y: u16, cols: u16) -> Area {
        Area { x: 0, y, cols, rows: 1 }
    }

    /// Whether a cell, column then row, is in it.
    #[must_use]
    pub fn holds(&self, [x, y]: [u16; 2]) -> bool {
        y >= self.y && y < self.y + self.rows && x >= self.x && x < self.x + self.cols
    }
}

/// Gives every cell of `area` the style and a blank.
pub fn fill(buffer: &mut Buffer, area: Area, style: Style) {
    let area = Rect::new(area.x, area.y, area.cols, area.rows).intersection(buffer.area);
    let mut blank = Cell::EMPTY;
    blank.set_style(style);
    for y in area.top()..area.bottom() {
        for x in area.left()..area.right() {
            buffer[(x, y)].clone_from(&blank);
        }
    }
}

/// Writes `text` into the first row of an area from its column `x` on, cut at its right edge; gives the column after it.
pub fn put(buffer: &mut Buffer, (area, x): (Area, u16), text: &str, style: Style) -> u16 {
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
#[must_use]
pub fn harmless(text: &str) -> String {
    use snarvel_core::text::cells::chip;
    use unicode_segmentation::UnicodeSegmentation;
    if text.bytes().all(|byte| (0x20..0x7F).contains(&byte)) {
        return text.to_owned();
    }
    text.graphemes(true).map(|cluster| chip(cluster).unwrap_or_else(|| cluster.to_owned())).collect()
}

/// The width of `text` as [`put`] writes it.
#[must_use]
pub fn width(text: &str) -> u16 {
    harmless(text).width().min(usize::from(u16::MAX)) as u16
}

/// `text` where it fits into `cols` cells, else its beginning with a sign that there is more.
#[must_use]
pub fn cut(text: &str, cols: u16) -> Cow<'_, str> {
    use unicode_segmentation::UnicodeSegmentation;
    if width(text) <= cols {
        return Cow::Borrowed(text);
    }
    let mut kept = String::new();
    for cluster in text.graphemes(true) {
        if width(&kept) + width(cluster) + 1 > cols {
            break;
        }
        kept.push_str(cluster);
    }
    Cow::Owned(kept.trim_end().to_owned() + "…")
}

/// `text` in lines of `cols` cells, broken between words.
#[must_use]
pub fn wrapped(text: &str, cols: u16) -> Vec<String> {
    let mut lines: Vec<String> = vec![String::new()];
    for word in text.split(' ') {
        let last = lines.len() - 1;
        let line = &mut lines[last];
        if !line.is_empty() && width(line) + 1 + width(word) > cols {
            lines.push(word.to_owned());
        } else {
            if !line.is_empty() {
                line.push(' ');
            }
            line.push_str(word);
        }
    }
    lines
}
