//! What a recipe would do to a text, seen before it is done.

use super::applying::{Patient, needs_structure};
use super::machine::run;
use super::news::{Ended, WouldDo};
use super::{Program, unified};
use crate::event::Payload;
use crate::tasks::{About, TaskHandle};
use crate::view::{Overlay, Preview};
use crate::workspace::Workspace;
use snarvel_core::cursors::CursorSet;
use snarvel_core::units::{Line, Span};
use snarvel_task::{Cancel, waits};
use std::time::Instant;

/// Lines that a screen shows at most.
const MOST_ROWS: usize = 150;

impl Workspace {
    /// Begins to look what `program` would do to the active text, in the background, for no longer than
    /// [`waits::RECIPE_LIMIT`]. What is found is told by [`Payload::WouldDo`], for the text as it is now.
    pub fn look_ahead(&mut self, program: Program) -> TaskHandle {
        let (buffer, view) = self.active_pair_mut();
        let (id, revision) = (buffer.id, buffer.revision());
        let mut copy = buffer.copy_to_look_at();
        copy.mark_saved();
        let cursors: CursorSet = view.cursors().clone();
        let mut preview = Preview::like(view, copy);
        preview.view.set_cursors(&mut preview.buffer, cursors);
        let about = About { revision: Some(revision), ..About::new("looking what a recipe would do") };
        let about = about.of(id).awaited(waits::RECIPE_PREVIEW);
        self.tasks.start(about, Payload::WouldDo, move |sink| {
            snarvel_task::spawn(sink, move |context| {
                let found = would_do(&program, preview, context.cancel().clone());
                context.send(found.map(Box::new));
            })
        })
    }
}

fn would_do(program: &Program, mut preview: Preview, cancel: Cancel) -> Result<WouldDo, Ended> {
    let before = preview.buffer.text().clone();
    let mut host = Patient::new(needs_structure(&program.body));
    host.limit(Instant::now() + waits::RECIPE_LIMIT, cancel);
    if let Some(sink) = host.sink() {
        preview.buffer.set_language(&preview.buffer.language().clone(), Some(sink));
    }
    let ran = run(program, (&mut preview.buffer, &mut preview.view), &mut host)?;
    let text = preview.buffer.text();
    let top = preview.view.scroll.top;
    let last = Line(top.0 + MOST_ROWS).min(text.last_line());
    let seen = Span::new(text.line_start(top.min(last)), text.line_span(last).end);
    host.colour(&mut preview.buffer, seen, Instant::now() + waits::STRUCTURE);
    let come = preview.buffer.saved.diff.stretches().map(|(now, _)| now).collect();
    preview.overlay = Overlay { gone: Vec::new(), come };
    let places = unified::replaced_in(&before, preview.buffer.text(), preview.buffer.saved.diff.stretches()).len();
    Ok(WouldDo { preview, places, not_done: ran.not_done })
}
