//! Anchors: places of long lines whose columns are known, so that a column far along a line is found without walking the whole line.
//!
//! A text keeps the anchors of the long lines that were asked about last. They are shared by its clones, and what an edit does not
//! touch stays known. Cost: the first question about a place walks to it once; later ones walk [`STRIDE`] bytes at most.

use super::cells::{CellPlace, TabWidth};
use crate::units::{Byte, Cell, Span};
use std::sync::{Arc, Mutex, PoisonError};

/// Bytes between two anchors: less than a millisecond of walking, whatever is in them.
pub(super) const STRIDE: usize = 8 << 10;

/// Bytes before an edit whose clusters it may still change.
const NEAR: usize = 1 << 10;

/// The most lines that are known: more than a screen shows.
const MOST_LINES: usize = 200;

/// What is known of one line.
#[derive(Clone, Debug)]
struct KnownLine {
    line: Span,
    places: Vec<CellPlace>,
}

/// The known places of some lines, those asked for last at the end.
#[derive(Clone, Debug, Default)]
pub(super) struct KnownColumns {
    tabs: Option<TabWidth>,
    lines: Vec<KnownLine>,
}

impl KnownColumns {
    /// The last known place of the long line with the content `line` that `is_before` holds for. `next` gives the place about a
    /// stride after another one, as far as the line reaches.
    pub(super) fn last(
        &mut self,
        (line, tabs): (Span, TabWidth),
        is_before: impl Fn(CellPlace) -> bool,
        next: impl Fn(CellPlace) -> Option<CellPlace>,
    ) -> CellPlace {
        if self.tabs != Some(tabs) {
            *self = KnownColumns { tabs: Some(tabs), lines: Vec::new() };
        }
        let known = match self.lines.iter().position(|known| known.line == line) {
            Some(at) => self.lines.remove(at),
            None => KnownLine { line, places: Vec::new() },
        };
        if self.lines.len() >= MOST_LINES {
            self.lines.remove(0);
        }
        self.lines.push(known);
        let places = &mut self.lines.last_mut().expect("it was just put there").places;
        let found = places.partition_point(|place| is_before(*place));
        let start = CellPlace { at: line.start, cell: Cell(0) };
        let mut last = found.checked_sub(1).map_or(start, |at| places[at]);
        if found == places.len() {
            while let Some(next) = next(last).filter(|next| is_before(*next)) {
                places.push(next);
                last = next;
            }
        }
        last
    }
}

/// What a text knows of its long lines.
#[derive(Clone, Debug, Default)]
pub(super) struct Anchors(pub(super) Arc<Mutex<KnownColumns>>);

impl Anchors {
    /// What stays known when the text is changed within `edited` and grows by `added` bytes.
    pub(super) fn after(&self, edited: Span, added: isize) -> Anchors {
        let mut known = self.0.lock().unwrap_or_else(PoisonError::into_inner).clone();
        let moved = |at: Byte| Byte(at.0.saturating_add_signed(added));
        known.lines.retain_mut(|KnownLine { line, places }| {
            if line.start > edited.end {
                *line = Span::new(moved(line.start), moved(line.end));
                places.iter_mut().for_each(|place| place.at = moved(place.at));
            } else if line.end >= edited.start {
                // The line itself may be another one now, but for what is well before the edit.
                places.retain(|place| place.at.0 + NEAR <= edited.start.0);
                line.end = moved(line.end.max(edited.end)).max(line.start);
            }
            line.end < edited.start || line.start > edited.start || !places.is_empty()
        });
        Anchors(Arc::new(Mutex::new(known)))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::changes::ChangeBuilder;
    use crate::text::Text;
    use proptest::prelude::*;

    proptest! {
        #![proptest_config(ProptestConfig { cases: 60, failure_persistence: None, ..ProptestConfig::default() })]

        #[test]
        fn columns_of_several_long_lines_stay_right_whatever_is_edited(
            edits in prop::collection::vec((0usize..100_000, 0usize..40, "[a漢\u{301}\n\t]{0,6}", any::<bool>()), 1..12),
        ) {
            let tabs = TabWidth(4);
            let line = |piece: &str| piece.repeat(3 * STRIDE / piece.len());
            let mut text = Text::from([line("level_mm "), line("潮e\u{301}\t"), line("漢\u{202e}x"), "short".to_owned()].join("\n").as_str());
            for (at, len, with, is_twice) in edits {
                // What is asked before an edit is known after it.
                for at in (0..text.len()).step_by(5_000) {
                    let _ = text.cell_of(text.snap_back(Byte(at)), tabs);
                }
                let start = text.snap_back(Byte(at % (text.len() + 1)));
                let end = text.snap_back((start + len).min(text.end()));
                let mut builder = ChangeBuilder::new(&text);
                builder.replace(Span::new(start, end.max(start)), &with);
                if is_twice {
                    builder.insert(text.end(), "\n漢");
                }
                text.apply(&builder.finish());
                let fresh = Text::from(text.to_string().as_str());
                for at in (0..text.len()).step_by(7_001) {
                    let at = text.snap_back(Byte(at));
                    prop_assert_eq!(text.cell_of(at, tabs), fresh.cell_of(at, tabs), "{:?}", at);
                }
            }
        }
    }
}
