//! Rows: what a line is on the screen. Without wrapping each shown line is one row; with it a line is as many rows as it needs.
//!
//! A row ends at a word where the line allows it, and never within a cluster. The rows after the first begin under the line's
//! indentation, with room for a sign. A line is laid out in stretches of [`STRETCH`] bytes, each by itself, so that a place in a line of
//! any length is found in the time of a short one. Moves, the mouse, the gutter and drawing all ask the same [`RowMap`].

use crate::folds::Folds;
use crate::text::Text;
use crate::text::cells::{CellPlace, TabWidth, cluster_cells, places_from};
use crate::units::{Byte, Cell, Direction, Line, Span};

/// Bytes of a line that are laid out together.
const STRETCH: usize = 8 << 10;

/// Cells of the sign with which a row begins that goes on with a line, and of the space after it.
const SIGN: u32 = 2;

/// Rows narrower than this have no indentation and no sign.
const NARROW: u32 = 12;

/// A row.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Row {
    /// The line that it is of.
    pub line: Line,
    /// Its part of the text, without the line end.
    pub span: Span,
    /// The display column of the line at which it begins, counted from the start of its stretch.
    pub first: Cell,
    /// The column of the screen at which its text begins.
    pub indent: u32,
    /// Where its stretch begins.
    stretch: Byte,
}

impl Row {
    /// Whether the line begins with it.
    #[must_use]
    pub fn begins(&self, text: &Text) -> bool {
        self.span.start == text.line_start(self.line)
    }

    /// Whether the line ends with it.
    #[must_use]
    pub fn ends(&self, text: &Text) -> bool {
        self.span.end == text.content_span(self.line).end
    }
}

/// The rows of a text as a view shows it.
#[derive(Clone, Copy)]
pub struct RowMap<'a> {
    text: &'a Text,
    folds: &'a Folds,
    tabs: TabWidth,
    /// How wide rows are, in cells; none where lines are not wrapped.
    width: Option<u32>,
}

impl<'a> RowMap<'a> {
    /// Of `text` with what is folded; rows are `width` cells wide, or as long as their lines where that is none.
    #[must_use]
    pub fn new((text, folds): (&'a Text, &'a Folds), tabs: TabWidth, width: Option<u32>) -> RowMap<'a> {
        RowMap { text, folds, tabs, width: width.map(|width| width.max(1)) }
    }

    /// The row that `at` is in; the header of the fold that hides it. Between two rows of a line it is in the later one. Cost: linear in
    /// a stretch at most.
    #[must_use]
    pub fn row_at(&self, at: Byte) -> Row {
        let line = self.text.line_of(at);
        let shown = self.folds.shown(self.text, line);
        if shown != line {
            return self.first_of(shown);
        }
        let mut row = self.first_in(line, self.stretch_of(line, at));
        while row.span.end <= at && !row.ends(self.text) {
            row = self.next_in(&row);
        }
        row
    }

    /// The first row of a line.
    #[must_use]
    pub fn first_of(&self, line: Line) -> Row {
        self.first_in(line, self.text.line_start(line))
    }

    /// The row `count` rows from `row`, or as many as there are.
    #[must_use]
    pub fn step(&self, row: Row, direction: Direction, count: usize) -> Row {
        let mut row = row;
        if self.width.is_none() {
            return self.first_of(self.folds.step(self.text, row.line, direction, count));
        }
        if direction == Direction::Back {
            return self.step_back(row, count);
        }
        for _ in 0..count {
            match self.next(&row) {
                Some(next) => row = next,
                None => break,
            }
        }
        row
    }

    /// The row `count` rows before `row`: each stretch is laid out once.
    fn step_back(&self, row: Row, count: usize) -> Row {
        let (mut row, mut left) = (row, count);
        while left > 0 {
            let mut before = Vec::new();
            let mut each = self.first_in(row.line, row.stretch);
            while each.span.start < row.span.start {
                before.push(each);
                each = self.next_in(&each);
            }
            if let Some(at) = before.len().checked_sub(left) {
                return before.get(at).copied().unwrap_or(row);
            }
            left -= before.len();
            let first = before.first().copied().unwrap_or(row);
            match self.previous(&first) {
                Some(previous) => (row, left) = (previous, left - 1),
                None => return first,
            }
        }
        row
    }

    /// The row after this one; none after the last.
    #[must_use]
    pub fn next(&self, row: &Row) -> Option<Row> {
        if !row.ends(self.text) {
            return Some(self.next_in(row));
        }
        let next = self.folds.step(self.text, row.line, Direction::Forward, 1);
        (next > row.line).then(|| self.first_of(next))
    }

    /// The row before this one; none before the first.
    #[must_use]
    pub fn previous(&self, row: &Row) -> Option<Row> {
        if row.begins(self.text) {
            let before = self.folds.step(self.text, row.line, Direction::Back, 1);
            return (before < row.line).then(|| self.last_of(before));
        }
        let stretch = match row.span.start == row.stretch {
            true => self.stretch_of(row.line, self.text.previous_boundary(row.span.start)),
            false => row.stretch,
        };
        let mut before = self.first_in(row.line, stretch);
        while before.span.end < row.span.start {
            before = self.next_in(&before);
        }
        Some(before)
    }

    /// The last row of a line.
    fn last_of(&self, line: Line) -> Row {
        let end = self.text.content_span(line).end;
        let mut row = self.first_in(line, self.stretch_of(line, end));
        while !row.ends(self.text) {
            row = self.next_in(&row);
        }
        row
    }

    /// The rows from `row` on.
    pub fn from(&self, row: Row) -> impl Iterator<Item = Row> + use<'a> {
        let map = *self;
        std::iter::successors(Some(row), move |row| map.next(row))
    }

    /// The column of the screen at which `at` is in its row.
    #[must_use]
    pub fn column_of(&self, row: &Row, at: Byte) -> u32 {
        if self.width.is_none() {
            return self.text.cell_of(at, self.tabs).0;
        }
        let cell = self.cell_after(row, at.clamp(row.span.start, row.span.end));
        row.indent + (cell.0 - row.first.0)
    }

    /// The column of the stretch at which what is before `at` in `row` ends.
    fn cell_after(&self, row: &Row, at: Byte) -> Cell {
        let content = self.text.slice(Span::new(row.span.start, at));
        if content.bytes().all(|byte| matches!(byte, b' '..=b'~')) {
            return row.first + content.len() as u32;
        }
        let mut cell = row.first;
        for (place, cluster) in places_from(&content, CellPlace { at: row.span.start, cell: row.first }, self.tabs) {
            cell = place.cell + cluster_cells(cluster, place.cell, self.tabs);
        }
        cell
    }

    /// The place at a column of the screen in `row`: the nearest before it. A row that goes on in the next ends before its last
    /// cluster's end, which is the next row's start.
    #[must_use]
    pub fn place_in(&self, row: &Row, column: u32) -> Byte {
        if self.width.is_none() {
            return self.text.place_at(row.line, Cell(column), self.tabs).at;
        }
        let wanted = row.first.0 + column.saturating_sub(row.indent);
        let content = self.text.slice(row.span);
        let mut last = row.span.start;
        for (place, cluster) in places_from(&content, CellPlace { at: row.span.start, cell: row.first }, self.tabs) {
            last = place.at;
            if place.cell.0 + cluster_cells(cluster, place.cell, self.tabs) > wanted {
                return place.at;
            }
        }
        if row.ends(self.text) { row.span.end } else { last }
    }

    /// The last place of a row: the end of its line, or its last cluster.
    #[must_use]
    pub fn end_of(&self, row: &Row) -> Byte {
        if row.ends(self.text) { row.span.end } else { self.text.previous_boundary(row.span.end) }
    }

    /// Where the stretch of `line` begins in which `at` is.
    fn stretch_of(&self, line: Line, at: Byte) -> Byte {
        let content = self.text.content_span(line);
        if self.width.is_none() || content.len() <= STRETCH {
            return content.start;
        }
        let count = (at.0.min(content.end.0) - content.start.0) / STRETCH;
        let start = |count: usize| match count {
            0 => content.start,
            _ => self.text.snap_back(content.start + count * STRETCH),
        };
        // What begins after it is cut back to a cluster before.
        let own = start(count);
        if own > at && count > 0 { start(count - 1) } else { own }
    }

    /// Where the stretch after that of `row` begins; the end of the line after the last.
    fn stretch_end(&self, line: Line, stretch: Byte) -> Byte {
        let content = self.text.content_span(line);
        if self.width.is_none() || content.len() <= STRETCH {
            return content.end;
        }
        // A stretch begins at most a cluster before the place that it is counted from.
        let mut count = (stretch.0 - content.start.0) / STRETCH + 1;
        loop {
            let counted = content.start + count * STRETCH;
            if counted >= content.end {
                return content.end;
            }
            let end = self.text.snap_back(counted);
            if end > stretch {
                return end;
            }
            count += 1;
        }
    }

    fn first_in(&self, line: Line, stretch: Byte) -> Row {
        let is_first = stretch == self.text.line_start(line);
        let indent = if is_first { 0 } else { self.indent_of(line) };
        self.laid_out(line, (stretch, stretch, Cell(0)), indent)
    }

    fn next_in(&self, row: &Row) -> Row {
        let end = self.stretch_end(row.line, row.stretch);
        if row.span.end == end {
            return self.first_in(row.line, end);
        }
        let cell = self.cell_after(row, row.span.end);
        self.laid_out(row.line, (row.stretch, row.span.end, cell), self.indent_of(row.line))
    }

    /// How far the rows after the first of a line are in.
    fn indent_of(&self, line: Line) -> u32 {
        let Some(width) = self.width.filter(|width| *width >= NARROW) else { return 0 };
        let indentation = self.text.indentation_span(line);
        let within = Span::new(indentation.start, indentation.end.min(indentation.start + STRETCH));
        let own = if within.len() > width as usize { width } else { self.text.cell_of(within.end, self.tabs).0 };
        own.min(width / 2) + SIGN
    }

    /// The row of `line` that begins at `start`, in the column `first` of its stretch.
    fn laid_out(&self, line: Line, (stretch, start, first): (Byte, Byte, Cell), indent: u32) -> Row {
        let end = self.stretch_end(line, stretch);
        let Some(width) = self.width else {
            return Row { line, span: Span::new(start, end), first, indent: 0, stretch };
        };
        let room = width.saturating_sub(indent).max(1);
        let mut looked = end.min(start + (room as usize + 1) * LONGEST_CLUSTER);
        if looked < end {
            looked = self.text.snap_back(looked).max(self.text.next_boundary(start)).min(end);
        }
        let row = |end: Byte| Row { line, span: Span::new(start, end), first, indent, stretch };
        let content = self.text.slice(Span::new(start, looked));
        if let Some(length) = plain_row(content.as_bytes(), room as usize) {
            return row(start + length);
        }
        let (mut at_word, mut before) = (None, None);
        for (place, cluster) in places_from(&content, CellPlace { at: start, cell: first }, self.tabs) {
            if place.at > start {
                if may_break(before, cluster) {
                    at_word = Some(place.at);
                }
                let after = place.cell + cluster_cells(cluster, place.cell, self.tabs);
                if after.0 - first.0 > room {
                    return row(at_word.unwrap_or(place.at));
                }
            }
            before = Some(cluster);
        }
        row(looked)
    }
}

/// How many bytes of `content` a row of `room` cells takes, where all that it depends on are characters of one byte and one cell.
fn plain_row(content: &[u8], room: usize) -> Option<usize> {
    let looked = &content[..content.len().min(room + 1)];
    if !looked.iter().all(|byte| matches!(byte, b' '..=b'~')) {
        return None;
    }
    if content.len() <= room {
        return Some(content.len());
    }
    let breaks = |at: &usize| breaks_plain(content[at - 1], content[*at]);
    Some((1..=room).rev().find(breaks).unwrap_or(room))
}

/// The same as [`may_break`], between characters of one byte.
fn breaks_plain(before: u8, after: u8) -> bool {
    after != b' ' && matches!(before, b' ' | b'-' | b'/' | b',' | b';' | b'|' | b'&')
}

/// More bytes than any cluster that a person writes: so many are looked at for each cell.
const LONGEST_CLUSTER: usize = 32;

/// Whether a row may end between two clusters: after white space and after what joins words, and between wide characters (UAX #14 in
/// the small).
fn may_break(before: Option<&str>, after: &str) -> bool {
    let Some(before) = before else { return false };
    let is_space = |cluster: &str| cluster.chars().all(char::is_whitespace);
    if is_space(after) {
        return false;
    }
    let is_wide = |cluster: &str| cluster.chars().next().is_some_and(|c| ('\u{2E80}'..='\u{FFDC}').contains(&c));
    is_space(before)
        || matches!(before, "-" | "/" | "," | ";" | "|" | "&")
        || (is_wide(before) && is_wide(after) && !matches!(after, "、" | "。" | "，" | "．" | "）" | "」"))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn rows(text: &str, width: u32) -> Vec<String> {
        let text = Text::from(text);
        let folds = Folds::default();
        let map = RowMap::new((&text, &folds), TabWidth(4), Some(width));
        map.from(map.first_of(Line(0)))
            .map(|row| format!("{}{}", " ".repeat(row.indent as usize), text.slice(row.span)))
            .collect()
    }

    #[test]
    fn rows_end_at_words_and_begin_under_the_indentation() {
        assert_eq!(rows("the tide is out\n", 14), ["the tide is ", "  out", ""]);
        assert_eq!(rows("    let level = gauge + 1;", 16), ["    let level = ", "      gauge + 1;"]);
        assert_eq!(rows("abcdefghijklmnopqrst", 12), ["abcdefghijkl", "  mnopqrst"]);
        // Where there is no room for it, there is no indentation.
        assert_eq!(rows("abcdef", 4), ["abcd", "ef"]);
        assert_eq!(rows("潮が満ちる", 4), ["潮が", "満ち", "る"]);
        assert_eq!(rows("a\tb", 1), ["a", "\t", "b"]);
        assert_eq!(rows("", 10), [""]);
    }

    #[test]
    fn a_long_line_is_laid_out_from_the_place_in_view() {
        let text = Text::from("level ".repeat(2_000_000).as_str());
        let folds = Folds::default();
        let map = RowMap::new((&text, &folds), TabWidth(4), Some(80));
        let began = std::time::Instant::now();
        let row = map.row_at(Byte(6_000_000));
        let back = map.step(row, Direction::Back, 40);
        assert!(
            map.step(back, Direction::Forward, 40) == row
                && row.span.start <= Byte(6_000_000)
                && Byte(6_000_000) < row.span.end
        );
        assert!(began.elapsed() < std::time::Duration::from_millis(500), "{:?}", began.elapsed());
    }

    proptest! {
        #[test]
        fn each_place_is_in_one_row_and_back(
            content in "[a-d ,\\t潮é\u{301}\n-]{0,120}",
            width in 1_u32..24,
            fold in prop::option::of((0_usize..6, 1_usize..4)),
        ) {
            let text = Text::from(content.as_str());
            let lines = text.line_count();
            let folds = fold.filter(|(first, count)| first + count < lines).map_or(Folds::default(), |(first, count)| {
                Folds::of(vec![Folds::hiding(&text, Line(first), Line(first + count))])
            });
            let map = RowMap::new((&text, &folds), TabWidth(4), Some(width));
            let all: Vec<Row> = map.from(map.first_of(Line(0))).collect();
            // They cover each shown line, one after the other.
            let mut line = None;
            for pair in all.windows(2) {
                if pair[0].line == pair[1].line {
                    prop_assert_eq!(pair[0].span.end, pair[1].span.start);
                    prop_assert!(!pair[0].span.is_empty());
                } else {
                    prop_assert!(pair[0].ends(&text) && pair[1].begins(&text));
                }
                prop_assert_eq!(map.previous(&pair[1]), Some(pair[0]));
            }
            for row in &all {
                prop_assert!(line.is_none_or(|line| line <= row.line));
                line = Some(row.line);
                // No row is wider than there is room, but for a cluster that is wider itself.
                let clusters = places_from(&text.slice(row.span), CellPlace { at: row.span.start, cell: row.first }, TabWidth(4)).count();
                let end = map.column_of(row, row.span.end);
                prop_assert!(end <= width || clusters == 1, "{:?} ends in {}", row, end);
                // A cell belongs to one place, and that place is in the cell.
                for (place, cluster) in places_from(&text.slice(row.span), CellPlace { at: row.span.start, cell: row.first }, TabWidth(4)) {
                    let column = map.column_of(row, place.at);
                    for cell in column..column + cluster_cells(cluster, place.cell, TabWidth(4)) {
                        prop_assert_eq!(map.place_in(row, cell), place.at);
                    }
                    prop_assert_eq!(map.row_at(place.at), *row);
                }
            }
            prop_assert_eq!(map.previous(&all[0]), None);
            // Steps are what going one by one is.
            for (index, row) in all.iter().enumerate() {
                let to = (index + 3).min(all.len() - 1);
                prop_assert_eq!(map.step(*row, Direction::Forward, 3), all[to]);
                prop_assert_eq!(map.step(*row, Direction::Back, 2), all[index.saturating_sub(2)]);
            }
        }
    }
}
