//! What is shown to an audience: the last keys, the block that is lit.

use super::App;
use crate::keys::Key;
use crate::panels::shell::ShellPanel;
use crate::presenting::{Lit, Press};
use snarvel_workspace::command::Command;
use std::any::Any;

impl App {
    /// Shows the last keys from now on, or hides them again.
    pub(super) fn toggle_keys(&mut self) {
        let shown = &mut self.context.look.presenting.shown;
        *shown = if shown.is_some() { None } else { Some([].into()) };
        let said = if shown.is_some() { "the keys are shown" } else { "the keys are not shown any more" };
        self.context.say(said);
    }

    /// Lights the block at the caret only, or everything again.
    pub(super) fn toggle_spotlight(&mut self) {
        let presenting = &mut self.context.look.presenting;
        presenting.is_spotlit = !presenting.is_spotlit;
        presenting.lit = None;
        let said = if presenting.is_spotlit { "the block at the caret is lit" } else { "everything is lit" };
        self.context.say(said);
    }

    /// Notes a key that has run `command`, or was taken by a panel.
    pub(super) fn show_key(&mut self, key: Key, command: Option<&Command>) {
        if self.context.look.presenting.shown.is_none() {
            return;
        }
        let panel: Option<&dyn Any> = self.panel.as_deref().map(|panel| panel as &dyn Any);
        // What is typed into a shell may be a password.
        if command.is_none() && panel.is_some_and(<dyn Any>::is::<ShellPanel>) {
            return;
        }
        let typed = match command {
            Some(command) => command.values.text(0).filter(|_| command.verb.name == "type-text").map(str::to_owned),
            None => key.typed().map(String::from),
        };
        let press = match (typed, command) {
            (Some(text), _) => Press::Typed(text),
            (None, command) => {
                let label = command.map_or("", |command| command.verb.label).to_owned();
                Press::Verb { key: key.on_keyboard(), label, times: 1 }
            }
        };
        self.context.look.presenting.note(press);
    }

    /// Finds the block at the caret, where it is another one by now.
    pub(super) fn light(&mut self) {
        if !self.context.look.presenting.is_spotlit {
            return;
        }
        let workspace = &mut self.context.workspace;
        let (buffer, view) = (workspace.active(), workspace.view());
        let of = (view.id, buffer.id, buffer.revision(), view.cursors().primary().head.0);
        if self.context.look.presenting.lit.is_none_or(|lit| lit.of != of) {
            let span = workspace.block_here();
            self.context.look.presenting.lit = Some(Lit { of, span });
        }
    }
}
