//! Rehearsal: what a command would do, shown before it is done.
//!
//! The command runs on a twin of the text and of the view with all that they remember, so that it gives what it would give. The twin is
//! looked at in the place of the view's own text, with what would go before what would come. Cost: that of the command, and a copy of the
//! history; nothing is written anywhere.

use crate::buffer::Buffer;
use crate::buffer::parsing::Taken;
use crate::command::Command;
use crate::differences;
use crate::editing;
use crate::recipes::{Host, run};
use crate::registry::verb::{Does, Replay};
use crate::structure::structure;
use crate::view::{Overlay, Preview, View};
use crate::workspace::{StructureWait, Workspace};
use snarvel_core::changes::Change;
use snarvel_core::changes::feed::Since;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::history::{History, Travel};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use snarvel_core::verbs::scene::{Outcome, Scene};
use snarvel_files::commands::Failure;
use snarvel_task::waits;
use std::time::Instant;

/// What a command would do.
#[derive(Clone, Debug)]
pub struct Rehearsal {
    /// The text as it would be.
    pub text: Text,
    /// What would be said.
    pub message: String,
    /// Whether nothing at all would be another: neither text nor cursors.
    pub is_nothing: bool,
}

impl Workspace {
    /// Shows what `command` would do, in place of what was shown so before; none where it is no verb that changes text or cursors by
    /// what is in the text alone.
    pub fn rehearse(&mut self, command: &Command) -> Option<Rehearsal> {
        self.end_rehearsal();
        let times = command.count.unwrap_or(1).max(1);
        let mut buffer = self.active().twin();
        let mut view = self.view().same(&buffer);
        let pair = (&mut buffer, &mut view);
        let message = match command.verb.does {
            Does::Edit(function) | Does::Jump(function) => {
                self.rehearse_edit(pair, command, &|scene| function(scene, &command.values))
            }
            Does::Undo => travelled(pair, times, (History::undo, "undo")),
            Does::Redo => travelled(pair, times, (History::redo, "redo")),
            Does::CursorsUndo => editing::cursors_undo(pair, times).message.unwrap_or_default(),
            Does::Replay(what) => self.rehearse_replay(pair, (what, command.values.text(0)), times),
            Does::Filter | Does::OfWorkspace(_) | Does::OfWorkspaceOrAsk(..) | Does::Ask(_) => return None,
        };
        let (now, own) = (self.active(), self.view());
        let is_nothing = buffer.text() == now.text() && view.cursors() == own.cursors() && view.folds() == own.folds();
        let text = buffer.text().clone();
        let preview = both(now, (&buffer, &view));
        self.past.rehearsed = Some((self.views.focus(), text.clone()));
        self.active_pair_mut().1.preview = Some(Box::new(preview));
        Some(Rehearsal { text, message, is_nothing })
    }

    /// The block around the primary caret, as the verb takes it that selects blocks; by brackets and lines where the structure is not known
    /// yet.
    pub fn block_here(&mut self) -> Span {
        let head = self.view().cursors().primary().head;
        let mut buffer = self.active().copy_to_look_at();
        let mut view = View::of(&mut buffer);
        view.set_cursors(&mut buffer, CursorSet::caret(head));
        let command = Command::named("select-block");
        let Does::Edit(function) = command.verb.does else { return Span::new(head, head) };
        self.rehearse_edit((&mut buffer, &mut view), &command, &|scene| function(scene, &command.values));
        view.cursors().primary().span()
    }

    /// Shows the text as it is again.
    pub fn end_rehearsal(&mut self) {
        if let Some((view, _)) = self.past.rehearsed.take() {
            self.views.get_mut(view).into_iter().for_each(|view| view.preview = None);
        }
    }

    /// The text as it would be after what is rehearsed.
    #[must_use]
    pub fn rehearsed(&self) -> Option<&Text> {
        self.past.rehearsed.as_ref().map(|(_, text)| text)
    }

    fn rehearse_edit(
        &mut self,
        (buffer, view): (&mut Buffer, &mut View),
        command: &Command,
        function: &dyn Fn(&Scene) -> Outcome,
    ) -> String {
        let clip = self.shelf.newest();
        let wait = self.wait_of(command.verb);
        let mut known = (wait == StructureWait::Short).then(|| {
            let id = self.views.focus();
            let (tasks, views, buffers) = (&mut self.tasks, &mut self.views, &mut self.buffers);
            let own = views.get_mut(id)?;
            let text = buffers.iter_mut().find(|buffer| buffer.id == own.buffer)?;
            Some(structure(tasks, text, own, waits::STRUCTURE))
        });
        let call = command.as_call(function, (&clip, self.now_ms), &|| false);
        // What is known of the structure is known for the first time only.
        let mut take = |_: &mut Buffer, _: &View| known.take().flatten().unwrap_or(Taken::NotYet);
        editing::run((buffer, view), &call, &mut take).message.unwrap_or_default()
    }

    fn rehearse_replay(
        &mut self,
        (buffer, view): (&mut Buffer, &mut View),
        (what, name): (Replay, Option<&str>),
        times: u32,
    ) -> String {
        let known = match self.to_replay(what, name) {
            Ok(known) => known,
            Err(why) => return why,
        };
        let program = match self.read_recipe(&known.source) {
            Ok(program) => program,
            Err(mistakes) => return mistakes.first().map(ToString::to_string).unwrap_or_default(),
        };
        let mut host = Looking { until: Instant::now() + waits::RECIPE_LIMIT };
        for _ in 0..times {
            if let Err(ended) = run(&program, (&mut *buffer, &mut *view), &mut host) {
                return ended.to_string();
            }
        }
        format!("{} would be played", known.name)
    }
}

/// Goes through the history of the twin.
fn travelled(
    (buffer, view): (&mut Buffer, &mut View),
    times: u32,
    (step, way): (fn(&mut History) -> Option<Travel>, &str),
) -> String {
    let mut steps = 0;
    while steps < times {
        let Some(travel) = step(buffer.history_mut()) else { break };
        editing::travel((buffer, view), travel);
        steps += 1;
    }
    if steps == 0 { format!("nothing to {way}") } else { snarvel_core::verbs::scene::counted(steps as usize, "step") }
}

/// Runs recipes that are only looked at: no command of the system is run.
struct Looking {
    until: Instant,
}

impl Host for Looking {
    fn structure(&mut self, _: &mut Buffer, _: &View) -> Taken {
        Taken::NotYet
    }

    fn is_stopped(&self) -> bool {
        Instant::now() > self.until
    }

    fn filtered(&mut self, _: &str, _: &[Vec<u8>]) -> Result<Vec<String>, Failure> {
        Err(Failure::Start("no command is run in a rehearsal".to_owned()))
    }
}

/// The text before with what would come after what would go, looked at where the cursors would be.
fn both(before: &Buffer, (after, twin): (&Buffer, &View)) -> Preview {
    let (was, is) = (before.text(), after.text());
    let change = match after.feed().since(0) {
        Since::Changes(entries) if entries.len() == 1 => (*entries[0].change).clone(),
        _ => differences::change(was, is),
    };
    let (shown, overlay) = Overlay::of_both(was, &change);
    let mut preview = Preview::like(twin, before.preview_of(shown));
    let text = preview.buffer.text().clone();
    let place = |at: Byte| text.snap_back(in_both(&change, at).min(text.end()));
    let moved = |each: Selection| Selection::new(place(each.anchor), place(each.head));
    let list: Vec<Selection> = twin.cursors().iter().map(moved).collect();
    preview.view.set_cursors(&mut preview.buffer, CursorSet::of(list, twin.cursors().primary_index()));
    preview.overlay = overlay;
    preview
}

/// Where a place of the text as it would be is in the text with both.
fn in_both(change: &Change, at: Byte) -> Byte {
    let (mut shift, mut gone) = (0_isize, 0_usize);
    for edit in change.edits() {
        // Where what comes begins in the text as it would be.
        let start = Byte(edit.start().0.saturating_add_signed(shift));
        if at < start {
            break;
        }
        gone += edit.removed_len();
        shift += edit.inserted_len() as isize - edit.removed_len() as isize;
    }
    at + gone
}
