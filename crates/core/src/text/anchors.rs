//! Anchors: places of one very long line whose columns are known, so that a column far along it is found without walking
//! the whole line.
//!
//! A text keeps the anchors of the long line that was asked about last. They are shared by its clones, and what lies before
//! an edit stays known. Cost: the first question about a place walks to it once; later ones walk [`STRIDE`] bytes at most.

use super::cells::{CellPlace, TabWidth};
use crate::units::{Byte, Span};
use std::sync::{Arc, Mutex, PoisonError};

/// Bytes between two anchors: some tens of microseconds of walking.
pub(super) const STRIDE: usize = 64 << 10;

/// Bytes before an edit whose clusters it may still change.
const NEAR: usize = 1 << 10;

/// The known places of one line.
#[derive(Clone, Debug, Default)]
pub(super) struct KnownColumns {
    pub(super) tabs: Option<TabWidth>,
    pub(super) line: Span,
    pub(super) places: Vec<CellPlace>,
}

/// What a text knows of its long line.
#[derive(Clone, Debug, Default)]
pub(super) struct Anchors(pub(super) Arc<Mutex<KnownColumns>>);

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
