//! Anchors: places of one very long line whose columns are known, so that a column far along it is found without walking
//! the whole line.
//!
//! A text keeps the anchors of the long line that was asked about last. They are shared by its clones, and what lies before
//! an edit stays known. Cost: the first question about a place walks to it once; later ones walk [`STRIDE`] bytes at most.

use super::Text;
use super::cells::{Place, TabWidth, cluster_cells, places_from};
use crate::units::{Byte, Cell, Span};
use std::sync::{Arc, Mutex, PoisonError};

/// Bytes between two anchors: some tens of microseconds of walking.
pub(super) const STRIDE: usize = 64 << 10;

/// Bytes before an edit whose clusters it may still change.
const NEAR: usize = 1 << 10;

/// The known places of one line.
#[derive(Clone, Debug, Default)]
struct Known {
    tabs: Option<TabWidth>,
    line: Span,
    places: Vec<Place>,
}

/// What a text knows of its long line.
#[derive(Clone, Debug, Default)]
pub(super) struct Anchors(Arc<Mutex<Known>>);

impl Anchors {
    /// What stays known when the text is changed from `start` on and grows by `added` bytes.
    pub(super) fn after(&self, start: Byte, added: isize) -> Anchors {
        let mut known = self.0.lock().unwrap_or_else(PoisonError::into_inner).clone();
        if known.line.start.0 + NEAR > start.0 {
            return Anchors::default();
        }
        known.places.retain(|place| place.at.0 + NEAR <= start.0);
        known.line.end = Byte(known.line.end.0.saturating_add_signed(added));
        Anchors(Arc::new(Mutex::new(known)))
    }
}

impl Text {
    /// The last known place of the long line with the content `line` that `is_before` holds for.
    pub(super) fn anchor(&self, line: Span, tabs: TabWidth, is_before: impl Fn(Place) -> bool) -> Place {
        let mut known = self.anchors.0.lock().unwrap_or_else(PoisonError::into_inner);
        let start = Place { at: line.start, cell: Cell(0) };
        if known.tabs != Some(tabs) || known.line != line {
            *known = Known { tabs: Some(tabs), line, places: Vec::new() };
        }
        let found = known.places.partition_point(|place| is_before(*place));
        let mut last = found.checked_sub(1).map_or(start, |at| known.places[at]);
        if found < known.places.len() {
            return last;
        }
        while let Some(next) = self.next_anchor(last, line.end, tabs).filter(|next| is_before(*next)) {
            known.places.push(next);
            last = next;
        }
        last
    }

    /// The place about a stride behind `from`, if the line reaches that far.
    fn next_anchor(&self, from: Place, end: Byte, tabs: TabWidth) -> Option<Place> {
        let wanted = from.at + STRIDE;
        if wanted >= end {
            return None;
        }
        let at = self.snap_back(wanted).max(from.at);
        (at > from.at).then(|| Place { at, cell: self.walked(from, at, tabs) })
    }

    /// The column of `at`, walking from `from`.
    pub(super) fn walked(&self, from: Place, at: Byte, tabs: TabWidth) -> Cell {
        let between = Span::new(from.at, at);
        if self.is_plain_in(between) {
            return from.cell + between.len() as u32;
        }
        let content = self.slice(between);
        let last = places_from(&content, from, tabs).last();
        last.map_or(from.cell, |(place, cluster)| place.cell + cluster_cells(cluster, place.cell, tabs))
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
        text.walked(Place { at: text.line_start(text.line_of(at)), cell: Cell(0) }, at, TABS)
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
}
