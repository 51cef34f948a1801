//! What a recipe would do to a text, seen before it is done.

use super::applying::{Patient, needs_structure};
use super::machine::{Ended, run};
use super::{Program, unified};
use crate::view::{Overlay, Preview};
use crate::workspace::Workspace;
use snarvel_core::cursors::CursorSet;
use snarvel_task::waits;
use std::time::Instant;

/// What a recipe would do.
#[derive(Debug)]
pub struct WouldDo {
    /// The text as it would be, with the cursors as they would be.
    pub preview: Preview,
    /// How many runs of lines would change.
    pub places: usize,
    /// How many steps could not be done.
    pub not_done: usize,
}

impl Workspace {
    /// What `program` would do to the active text, looked for no longer than [`waits::RECIPE_PREVIEW`].
    ///
    /// # Errors
    /// Why it would end; [`Ended::Stopped`] where it takes too long to be shown.
    pub fn would_do(&self, program: &Program) -> Result<WouldDo, Ended> {
        let (buffer, view) = (self.active(), self.view());
        let mut copy = buffer.copy_to_look_at();
        let before = buffer.text().clone();
        copy.mark_saved();
        let mut host = Patient::new(needs_structure(&program.body));
        host.until = Some(Instant::now() + waits::RECIPE_PREVIEW);
        if let Some(sink) = host.sink() {
            copy.set_language(buffer.language().clone(), Some(sink));
        }
        let mut preview = Preview::like(view, copy);
        let set: CursorSet = view.cursors().clone();
        preview.view.set_cursors(&mut preview.buffer, set);
        let ran = run(program, (&mut preview.buffer, &mut preview.view), &mut host)?;
        let come = preview.buffer.saved.diff.stretches().map(|(now, _)| now).collect();
        preview.overlay = Overlay { gone: Vec::new(), come };
        let places = unified::replaced_in(&before, preview.buffer.text(), preview.buffer.saved.diff.stretches()).len();
        Ok(WouldDo { preview, places, not_done: ran.not_done })
    }
}
