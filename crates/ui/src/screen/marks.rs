//! What a panel shows on the text.

use crate::palette::Role;
use snarvel_core::units::{Line, Span};

/// What a panel shows on the text.
#[derive(Debug, Default)]
pub struct TextMarks {
    /// The line that it is about.
    pub lit: Option<Line>,
    /// Spans that are drawn otherwise, in order.
    pub overlays: Vec<(Span, Role)>,
    /// Whether carets and selections are left out: a caret would say that keys go there.
    pub hides_cursors: bool,
}
