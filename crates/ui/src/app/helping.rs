//! What keys do while something is offered, or a template is being filled in.

use super::App;
use crate::keys::Key;
use crate::keys::keymap::{FINISHES, TAKES_PINS};
use crate::keys::layer::Layer;
use crate::panels::offers::OffersPanel;
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_core::units::Direction;
use snarvel_workspace::registry::{Verb, by_name};
use snarvel_workspace::state::offering::{About, Called};

impl App {
    /// Does what `key` means while something is offered or a template is being filled in; false where it means nothing of that.
    pub(super) fn press_helped(&mut self, key: Key) -> bool {
        let workspace = &mut self.context.workspace;
        let called = workspace.offers().map(|shown| shown.called);
        let is_in_template = workspace.view().stops().is_open();
        let is_at_stop = workspace.is_at_stop();
        let is_of_lines = workspace.offers().is_some_and(|shown| matches!(shown.about, About::Around | About::Fixes));
        match (key.code, key.mods) {
            // What is seen in the text is taken; in a template Tab goes on where nothing is.
            (KeyCode::Tab, KeyModifiers::NONE)
                if called.is_some_and(|called| {
                    !is_in_template || called > Called::ByTyping || workspace.offer_in_text().is_some()
                }) =>
            {
                self.take_chosen()
            }
            (KeyCode::Tab, KeyModifiers::NONE) if is_in_template => workspace.step_stop(Direction::Forward),
            (KeyCode::Enter, KeyModifiers::NONE) if is_at_stop && called != Some(Called::Chosen) => {
                workspace.step_stop(Direction::Forward)
            }
            (KeyCode::Tab, KeyModifiers::SHIFT) if is_in_template => workspace.step_stop(Direction::Back),
            (KeyCode::Down, KeyModifiers::NONE) if called.is_some() => {
                workspace.choose_offer(Direction::Forward);
                true
            }
            (KeyCode::Up, KeyModifiers::NONE) if called.is_some() => {
                workspace.choose_offer(Direction::Back);
                true
            }
            (KeyCode::Enter, KeyModifiers::NONE) if called == Some(Called::Chosen) => self.take_chosen(),
            (KeyCode::Char(digit @ '1'..='9'), KeyModifiers::ALT) if called.is_some() => {
                self.take_row(usize::from(digit as u8 - b'1'))
            }
            // Letters narrow a list that is about no word.
            (KeyCode::Char(_), _) if is_of_lines && key.typed().is_some() => {
                let letter = key.typed().map(String::from).unwrap_or_default();
                let panel = OffersPanel::narrowed(&mut self.context.workspace, &letter);
                self.open(panel);
                true
            }
            // What echo offers is let go first.
            (KeyCode::Esc, KeyModifiers::NONE) if workspace.echo_offered().is_none() => workspace.put_offers_away(),
            _ => false,
        }
    }

    /// The verb that a key runs: in Write the key that takes pins finishes statements where there are none.
    pub(super) fn verb_of_key(&self, verb: &'static Verb) -> &'static Verb {
        let (buffer, view) = (self.context.workspace.active(), self.context.workspace.view());
        let takes_nothing = verb.name == TAKES_PINS && view.pins(buffer).is_empty();
        let is_write = self.context.keyboard.layer == Layer::Write;
        if takes_nothing && is_write { by_name(FINISHES).unwrap_or(verb) } else { verb }
    }

    /// Whether what `key` does may depend on what is offered.
    pub(super) fn may_be_helped(key: Key) -> bool {
        match key.code {
            KeyCode::Tab | KeyCode::Down | KeyCode::Up | KeyCode::Enter | KeyCode::Esc => true,
            KeyCode::Char(c) => key.mods == KeyModifiers::ALT && c.is_ascii_digit(),
            _ => false,
        }
    }

    fn take_chosen(&mut self) -> bool {
        let chosen = self.context.workspace.offers().map_or(0, |shown| shown.chosen);
        self.take_row(chosen)
    }

    fn take_row(&mut self, row: usize) -> bool {
        let effects = self.context.workspace.take_offer(row);
        let is_taken = effects.is_some();
        effects.into_iter().for_each(|effects| self.context.follow(effects));
        is_taken
    }

    /// Asks for everything that can be put here; where that is shown already, shows all of it in a panel.
    pub(super) fn call_offers(&mut self) {
        match self.context.workspace.offers().is_some() {
            true => self.open(OffersPanel::of(&self.context.workspace)),
            false => {
                let effects = self.context.workspace.ask_for_offers();
                self.context.follow(effects);
            }
        }
    }
}
