//! Typing another name at all its uses: Enter ends it, and what the name would break is told before.

use crate::context::Context;
use crate::keys::Key;
use crate::panels::panel::{NextKey, NextKeys};
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_core::history::StepId;
use snarvel_core::verbs::scene::counted;
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::workspace::StructureWait;

/// Letters may follow, then Enter or Esc.
#[derive(Debug)]
pub struct RenameKeys {
    buffer: BufferId,
    /// The step of the history before the first letter.
    before: StepId,
    /// The revision that was looked at last, and what the name would break there.
    looked_at: Option<(u64, Option<String>)>,
    /// From when on Enter renames in spite of that, in milliseconds of the clock of keys. None before it is told.
    enter_counts_from: Option<u64>,
}

/// An Enter that comes sooner after the warning, in milliseconds, was pressed before it could be read.
const READ_AFTER_MS: u64 = 400;

impl RenameKeys {
    /// For the uses that are cursors now.
    #[must_use]
    pub fn begin(context: &Context) -> RenameKeys {
        let buffer = context.workspace.active();
        RenameKeys { buffer: buffer.id, before: buffer.history().here(), looked_at: None, enter_counts_from: None }
    }

    /// Whether it is still about the active text and something was typed.
    fn is_typed(&self, context: &Context) -> bool {
        let buffer = context.workspace.active();
        buffer.id == self.buffer && buffer.history().here() != self.before
    }

    /// Looks at the text as it is; true where the name would break something.
    fn look(&mut self, wait: StructureWait, context: &mut Context) -> bool {
        let revision = context.workspace.active().revision();
        let is_known = |(seen, _): &(u64, _)| *seen == revision;
        if self.is_typed(context)
            && !self.looked_at.as_ref().is_some_and(is_known)
            && let Some(conflict) = context.workspace.conflict_of_typed(wait)
        {
            self.looked_at = Some((revision, conflict));
            self.enter_counts_from = None;
        }
        let (_, conflict) = self.looked_at.as_ref().filter(|seen| is_known(seen)).cloned().unwrap_or_default();
        if let Some(conflict) = &conflict {
            self.enter_counts_from.get_or_insert(context.workspace.now_ms + READ_AFTER_MS);
            context.say(format!("{conflict} · Enter rename anyway · Esc take it back"));
        }
        conflict.is_some()
    }

    fn finish(context: &mut Context) {
        let count = context.workspace.view().cursors().len();
        let name = context.workspace.typed_name().unwrap_or_default();
        let (buffer, view) = context.workspace.active_pair_mut();
        let only = view.cursors().only_primary();
        view.set_cursors(buffer, only);
        context.say(format!("renamed {} to {name}", counted(count, "use")));
    }

    fn take_back(&self, context: &mut Context) {
        while self.is_typed(context) {
            match context.workspace.undo(1) {
                Ok(travelled) if travelled.steps > 0 => {}
                _ => break,
            }
        }
        context.say("not renamed");
    }
}

impl NextKeys for RenameKeys {
    fn press(&mut self, key: Key, context: &mut Context) -> NextKey {
        let is_plain = key.mods == KeyModifiers::NONE;
        match key.code {
            KeyCode::Enter if is_plain && self.is_typed(context) => {
                let now = context.workspace.now_ms;
                let was_read = self.enter_counts_from.is_some_and(|from| now >= from);
                if self.look(StructureWait::Short, context) && !was_read {
                    self.enter_counts_from = Some(now);
                    return NextKey::Taken;
                }
                Self::finish(context);
                NextKey::TakenAsLast
            }
            KeyCode::Esc if self.look(StructureWait::None, context) => {
                self.take_back(context);
                NextKey::TakenAsLast
            }
            KeyCode::Backspace if is_plain => NextKey::Left,
            _ if key.typed().is_some() => NextKey::Left,
            _ => NextKey::LeftAsLast,
        }
    }

    fn settle(&mut self, context: &mut Context) {
        let is_told = context.workspace.told.message.is_some();
        if !is_told {
            self.look(StructureWait::None, context);
        }
    }
}
