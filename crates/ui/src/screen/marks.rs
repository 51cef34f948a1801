//! What a panel shows on the text.

use crate::palette::Role;
use snarvel_core::units::{Line, Span};
use snarvel_servers::news::FaultKind;
use snarvel_syntax::paints::Paints;
use snarvel_workspace::offering::seen::Seen;

/// What a panel shows on the text.
#[derive(Debug, Default)]
pub struct TextMarks {
    /// The line that it is about.
    pub lit: Option<Line>,
    /// Spans that are drawn otherwise, in order.
    pub overlays: Vec<(Span, Role)>,
    /// What would come if an offer were taken, in order.
    pub ghosts: Vec<Seen>,
    /// What is wrong in the text, in order.
    pub faults: Vec<(Span, FaultKind)>,
    /// The kinds of words, as a language server knows them.
    pub meant: Option<Paints>,
    /// Whether carets and selections are left out: a caret would say that keys go there.
    pub hides_cursors: bool,
    /// Whether the keys go to another view: the primary caret is hollow then, as the others are.
    pub is_elsewhere: bool,
}
