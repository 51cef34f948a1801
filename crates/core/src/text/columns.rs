//! Display columns of places in a text, and the places at columns.
//!
//! Cost: what is walked of the line, [`STRIDE`] bytes at most where its anchors are known.

use super::Text;
use super::anchors::STRIDE;
use super::cells::{CellPlace, TabWidth, are_plain, cluster_cells, places_from, width};
use super::reader::Reader;
use crate::units::{Byte, Cell, Line, Span};
use std::sync::PoisonError;

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
    pub fn place_at(&self, line: Line, wanted: Cell, tabs: TabWidth) -> CellPlace {
        let whole = self.content_span(line);
        let from = match whole.len() > STRIDE {
            true => self.anchor(whole, tabs, |place| place.cell <= wanted),
            false => CellPlace { at: whole.start, cell: Cell(0) },
        };
        // The next known place lies after what is wanted.
        let span = Span::new(from.at, self.snap_forward((from.at + 2 * STRIDE).min(whole.end)));
        let wanted_here = (wanted.0 - from.cell.0) as usize;
        // With the byte in that column, lest a mark combine with the one before.
        let looked_at = span.len().min(wanted_here.saturating_add(1));
        if self.is_plain_in(Span::new(span.start, span.start + looked_at)) {
            let cells = looked_at.min(wanted_here);
            return CellPlace { at: span.start + cells, cell: from.cell + cells as u32 };
        }
        let content = self.slice(span);
        let mut last = from;
        for (place, cluster) in places_from(&content, from, tabs) {
            let behind =
                CellPlace { at: place.at + cluster.len(), cell: place.cell + cluster_cells(cluster, place.cell, tabs) };
            if behind.cell > wanted {
                return place;
            }
            last = behind;
        }
        last
    }

    /// The last known place of the long line with the content `line` that `is_before` holds for.
    fn anchor(&self, line: Span, tabs: TabWidth, is_before: impl Fn(CellPlace) -> bool) -> CellPlace {
        let mut known = self.anchors.0.lock().unwrap_or_else(PoisonError::into_inner);
        known.last((line, tabs), is_before, |from| self.next_anchor(from, line.end, tabs))
    }

    /// The place about a stride after `from`, if the line reaches that far.
    fn next_anchor(&self, from: CellPlace, end: Byte, tabs: TabWidth) -> Option<CellPlace> {
        let wanted = from.at + STRIDE;
        if wanted >= end {
            return None;
        }
        let at = self.snap_back(wanted).max(from.at);
        (at > from.at).then(|| CellPlace { at, cell: self.walked(from, at, tabs) })
    }

    /// The column of `at`, walking from `from`.
    fn walked(&self, from: CellPlace, at: Byte, tabs: TabWidth) -> Cell {
        let between = Span::new(from.at, at);
        if self.is_plain_in(between) {
            return from.cell + between.len() as u32;
        }
        let content = self.slice(between);
        let last = places_from(&content, from, tabs).last();
        last.map_or(from.cell, |(place, cluster)| place.cell + cluster_cells(cluster, place.cell, tabs))
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
    pub fn place_at(&mut self, line: Line, wanted: Cell, tabs: TabWidth) -> CellPlace {
        let whole = self.content_span(line);
        // With the byte in that column, lest a mark combine with the one before.
        let looked_at = whole.len().min((wanted.0 as usize).saturating_add(1));
        if self.is_plain_in(Span::new(whole.start, whole.start + looked_at)) {
            let cells = looked_at.min(wanted.0 as usize);
            return CellPlace { at: whole.start + cells, cell: Cell(cells as u32) };
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
    use crate::changes::ChangeBuilder;
    use crate::units::Line;

    const TABS: TabWidth = TabWidth(4);

    /// The column by walking the whole line.
    fn plainly(text: &Text, at: Byte) -> Cell {
        text.walked(CellPlace { at: text.line_start(text.line_of(at)), cell: Cell(0) }, at, TABS)
    }

    #[test]
    fn columns_far_along_a_line_are_those_found_by_walking_it_through_edits() {
        let line = "tide\té 漢 e\u{301} 😀 ebb and flow; ".repeat(3 * STRIDE / 30);
        let mut text = Text::from(format!("short\n{line}\nshort again\n").as_str());
        for step in 0..12_usize {
            let at = text.snap_back(Byte(7 + step * 7919 * 3 % (line.len() - 10)));
            assert_eq!(text.cell_of(at, TABS), plainly(&text, at), "{step}");
            let there = text.place_at(Line(1), text.cell_of(at, TABS), TABS);
            assert_eq!((there.at, there.cell), (at, plainly(&text, at)), "{step}");
            let end = text.content_span(Line(1)).end;
            assert_eq!(text.width_of(Line(1), TABS), plainly(&text, end));
            assert_eq!(text.place_at(Line(1), Cell(u32::MAX), TABS).at, end);
            let edit = text.snap_back(Byte((step * 104_729) % text.len()));
            let mut builder = ChangeBuilder::new(&text);
            builder.insert(edit, if step % 5 == 4 { "\n" } else { "x\t" });
            let change = builder.finish();
            if step % 5 == 4 {
                continue;
            }
            text.apply(&change);
        }
    }

    #[test]
    fn a_wanted_column_inside_a_tab_or_wide_cell_is_before_it() {
        let text = Text::from("a\tb漢c");
        let columns: Vec<usize> = (0..10).map(|cell| text.place_at(Line(0), Cell(cell), TABS).at.0).collect();
        assert_eq!(columns, [0, 1, 1, 1, 2, 3, 3, 6, 7, 7]);
        assert_eq!(text.cell_of(Byte(6), TABS), Cell(7));
    }
}
