//! Views that are looked at together.

use crate::ids::ViewId;
use crate::tasks::TaskHandle;
use crate::views_compared::ViewsCompared;
use snarvel_core::units::Line;

/// Views that are looked at together.
#[derive(Debug, Default)]
pub(crate) struct SideBySide {
    /// Whether the shown views scroll together; then where the one with the keys was last.
    pub(crate) together: Option<(ViewId, Line)>,
    /// The two views that are compared.
    pub(crate) wanted: Option<[ViewId; 2]>,
    /// What differs between them.
    pub(crate) found: Option<ViewsCompared>,
    /// They are being compared.
    pub(crate) comparing: Option<TaskHandle>,
    /// Whether it is to be said how many differences there are.
    pub(crate) is_told: bool,
}
