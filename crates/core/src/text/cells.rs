//! Display cells: how wide a cluster is, and what stands at a display column.
//!
//! East Asian wide characters (Unicode UAX #11), flags and joined emoji take 2 cells, a base with its marks
//! as many as the base, a mark without a base 1. A tab reaches to the next stop. What a terminal must not
//! receive or a person could not see is drawn as a *chip*, and is as wide as its chip. Cost: O(line).

use super::anchors::STRIDE;
use super::reader::Reader;
use super::{Text, raw};
use crate::units::{Byte, Cell, Line, Span};
use unicode_segmentation::UnicodeSegmentation;
use unicode_width::UnicodeWidthStr;

/// The distance between tab stops, in cells; at least 1.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct TabWidth(pub u32);

impl TabWidth {
    /// The first stop after `cell`.
    #[must_use]
    pub fn next_stop(self, cell: Cell) -> Cell {
        let width = self.0.max(1);
        Cell((cell.0 / width + 1) * width)
    }
}

/// What is drawn in place of `cluster` where the cluster itself must not reach a terminal: controls, bytes
/// that are no UTF-8, characters that are invisible or turn the direction of writing.
#[must_use]
pub fn chip(cluster: &str) -> Option<String> {
    if let [b' '..=b'~'] = cluster.as_bytes() {
        return None;
    }
    let first = cluster.chars().next()?;
    let code = u32::from(first);
    if let Some(byte) = raw::byte_of(first) {
        return Some(format!("‹{byte:02X}›"));
    }
    match code {
        0x00..=0x1F => char::from_u32(0x2400 + code).map(String::from),
        0x7F => Some("␡".to_owned()),
        _ if is_invisible(code) => Some(format!("‹U+{code:X}›")),
        _ if cluster.width() == 0 => Some(format!("◌{cluster}")),
        _ => None,
    }
}

/// Characters of the general categories Cc and Cf that stand alone, and the line separators.
fn is_invisible(code: u32) -> bool {
    matches!(code,
        0x80..=0x9F | 0xAD | 0x61C | 0x180E | 0x200B..=0x200F | 0x2028..=0x202E | 0x2060..=0x206F
        | 0xFEFF | 0xFFF9..=0xFFFB | 0x1D173..=0x1D17A | 0xE0000..=0xE0FFF)
}

/// Whether `character` does not show, or turns the order of others, where it is not what joins emoji or letters.
#[must_use]
pub fn is_hidden(character: char) -> bool {
    is_invisible(u32::from(character)) && !matches!(character, '\u{200C}' | '\u{200D}')
}

/// How many cells `cluster` takes when it begins at `from`. A line end takes none.
#[must_use]
pub fn cluster_cells(cluster: &str, from: Cell, tabs: TabWidth) -> u32 {
    match cluster.as_bytes() {
        [b' '..=b'~'] => 1,
        [b'\t'] => tabs.next_stop(from).0 - from.0,
        [b'\n'] | [b'\r', b'\n'] => 0,
        _ => chip(cluster).map_or_else(|| cluster.width(), |chip| chip.width()) as u32,
    }
}

/// A place on a line and the display column it stands in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Place {
    /// Where.
    pub at: Byte,
    /// Its column.
    pub cell: Cell,
}

/// Each cluster of a line: where it begins, in which column, and its characters.
pub fn places(content: &str, start: Byte, tabs: TabWidth) -> impl Iterator<Item = (Place, &str)> {
    places_from(content, Place { at: start, cell: Cell(0) }, tabs)
}

/// The same for the part of a line that begins with `first`.
pub fn places_from(content: &str, first: Place, tabs: TabWidth) -> impl Iterator<Item = (Place, &str)> {
    let (start, mut cell, mut offset) = (first.at, first.cell, 0);
    std::iter::from_fn(move || {
        let cluster = first_cluster(&content[offset..])?;
        let place = Place { at: start + offset, cell };
        offset += cluster.len();
        cell = cell + cluster_cells(cluster, cell, tabs);
        Some((place, cluster))
    })
}

/// The cluster at the start of `rest`, which begins with one. Most often it is a character that nothing can join.
fn first_cluster(rest: &str) -> Option<&str> {
    match rest.as_bytes() {
        [b' '..=b'~' | b'\t'] | [b' '..=b'~' | b'\t', 0..=0x7F, ..] => Some(&rest[..1]),
        _ => rest.graphemes(true).next(),
    }
}

/// The display width of `content`, which begins at column 0.
#[must_use]
pub fn width(content: &str, tabs: TabWidth) -> Cell {
    if is_plain(content) {
        return Cell(content.len() as u32);
    }
    places(content, Byte(0), tabs)
        .last()
        .map_or(Cell(0), |(place, cluster)| place.cell + cluster_cells(cluster, place.cell, tabs))
}

fn is_plain(content: &str) -> bool {
    are_plain(content.as_bytes())
}

fn are_plain(bytes: &[u8]) -> bool {
    bytes.iter().all(|byte| matches!(byte, b' '..=b'~'))
}

impl Text {
    /// The display column of `at` in its line.
    #[must_use]
    pub fn cell_of(&self, at: Byte, tabs: TabWidth) -> Cell {
        let line = self.line_of(at);
        let before = Span::new(self.line_start(line), at);
        if before.len() > STRIDE {
            let from = self.anchor(self.content_span(line), tabs, |place| place.at <= at);
            return self.walked(from, at, tabs);
        }
        self.width_in(before, tabs)
    }

    /// Whether each byte of `span` is a cell of its own. A line may be as long as a file: nothing is copied.
    pub(super) fn is_plain_in(&self, span: Span) -> bool {
        let chunks = self.chunks_from(span.start).take_while(|chunk| chunk.start < span.end);
        span.is_empty()
            || chunks.into_iter().all(|chunk| {
                let from = span.start.0.saturating_sub(chunk.start.0);
                are_plain(&chunk.text.as_bytes()[from..chunk.text.len().min(span.end - chunk.start)])
            })
    }

    fn width_in(&self, span: Span, tabs: TabWidth) -> Cell {
        if self.is_plain_in(span) {
            return Cell(span.len() as u32);
        }
        width(&self.slice(span), tabs)
    }

    /// The display width of `line` without its line end.
    #[must_use]
    pub fn width_of(&self, line: Line, tabs: TabWidth) -> Cell {
        let span = self.content_span(line);
        if span.len() > STRIDE { self.cell_of(span.end, tabs) } else { self.width_in(span, tabs) }
    }

    /// The place of `line` at column `wanted`: before a tab or wide cluster that covers it, at the end of a
    /// line that is shorter.
    #[must_use]
    pub fn place_at(&self, line: Line, wanted: Cell, tabs: TabWidth) -> Place {
        let whole = self.content_span(line);
        let from = match whole.len() > STRIDE {
            true => self.anchor(whole, tabs, |place| place.cell <= wanted),
            false => Place { at: whole.start, cell: Cell(0) },
        };
        // The next known place lies behind what is wanted.
        let span = Span::new(from.at, self.snap_forward((from.at + 2 * STRIDE).min(whole.end)));
        let wanted_here = (wanted.0 - from.cell.0) as usize;
        // With the byte in that column, lest a mark combine with the one before.
        let looked_at = span.len().min(wanted_here.saturating_add(1));
        if self.is_plain_in(Span::new(span.start, span.start + looked_at)) {
            let cells = looked_at.min(wanted_here);
            return Place { at: span.start + cells, cell: from.cell + cells as u32 };
        }
        let content = self.slice(span);
        let mut last = from;
        for (place, cluster) in places_from(&content, from, tabs) {
            let behind =
                Place { at: place.at + cluster.len(), cell: place.cell + cluster_cells(cluster, place.cell, tabs) };
            if behind.cell > wanted {
                return place;
            }
            last = behind;
        }
        last
    }
}

impl Reader<'_> {
    /// [`Text::cell_of`].
    pub fn cell_of(&mut self, at: Byte, tabs: TabWidth) -> Cell {
        let line = self.line_of(at);
        let before = Span::new(self.line_start(line), at);
        match self.is_plain_in(before) {
            true => Cell(before.len() as u32),
            false => self.text().cell_of(at, tabs),
        }
    }

    /// [`Text::place_at`].
    pub fn place_at(&mut self, line: Line, wanted: Cell, tabs: TabWidth) -> Place {
        let whole = self.content_span(line);
        // With the byte in that column, lest a mark combine with the one before.
        let looked_at = whole.len().min((wanted.0 as usize).saturating_add(1));
        if self.is_plain_in(Span::new(whole.start, whole.start + looked_at)) {
            let cells = looked_at.min(wanted.0 as usize);
            return Place { at: whole.start + cells, cell: Cell(cells as u32) };
        }
        self.text().place_at(line, wanted, tabs)
    }

    /// Whether `span` lies in one piece, and each byte of it is a cell of its own.
    fn is_plain_in(&mut self, span: Span) -> bool {
        let piece = self.piece_at(span.start);
        let bytes = piece.text.as_bytes();
        span.is_empty() || bytes.get(span.start - piece.start..span.end - piece.start).is_some_and(are_plain)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const TABS: TabWidth = TabWidth(4);

    #[test]
    fn widths_of_single_clusters() {
        let rows: &[(&str, u32)] = &[
            ("a", 1),
            ("漢", 2),
            ("e\u{301}", 1),
            ("\u{301}", 1),
            ("🇳🇴", 2),
            ("👩‍👩‍👧", 2),
            ("👍🏽", 2),
            ("❤\u{fe0f}", 2),
            ("\u{1b}", 1),
            ("\u{7f}", 1),
            ("\u{202e}", 8),
            ("\u{f7ff}", 4),
            ("\r\n", 0),
        ];
        for &(cluster, cells) in rows {
            assert_eq!(cluster_cells(cluster, Cell(0), TABS), cells, "{cluster:?}");
        }
    }

    #[test]
    fn clusters_one_by_one_are_those_of_the_whole() {
        let parts =
            ["a", "e\u{301}", "\t", "\r\n", "\r", "\u{301}", "🇳🇴", "🇳", "👩‍👩‍👧", "\u{200d}", "क्ष", "한", "\u{600}1"];
        for seed in 0..2_000_usize {
            let content: String =
                (0..8).map(|step| parts[(seed * 31 + step * step * 17 + seed / 7) % parts.len()]).collect();
            let whole: Vec<&str> = content.graphemes(true).collect();
            let found: Vec<&str> = places(&content, Byte(0), TABS).map(|(_, cluster)| cluster).collect();
            assert_eq!(found, whole, "{content:?}");
        }
    }

    #[test]
    fn a_wanted_column_inside_a_tab_or_wide_cell_is_before_it() {
        let text = Text::from("a\tb漢c");
        let columns: Vec<usize> = (0..10).map(|cell| text.place_at(Line(0), Cell(cell), TABS).at.0).collect();
        assert_eq!(columns, [0, 1, 1, 1, 2, 3, 3, 6, 7, 7]);
        assert_eq!(text.cell_of(Byte(6), TABS), Cell(7));
    }

    #[test]
    fn no_control_character_is_drawn_as_itself() {
        for code in (0..0x20).chain(0x7f..0xa0).chain([0x202e, 0x2066, 0xfeff, 0x2028]) {
            let character = char::from_u32(code).unwrap();
            let shown = chip(&character.to_string()).unwrap_or_default();
            assert!(!shown.is_empty() && !shown.contains(character), "U+{code:X}");
        }
    }
}
