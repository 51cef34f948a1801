//! Lookup: a verb by everyday words, by its name or by its key; what it does; running it; binding it to a key.

use super::Answer;
use super::chooser::{Chooser, Order, Pressed};
use crate::keys::Key;
use crate::keys::bindings::{Binding, Deed, never_arrives, of_deck};
use crate::keys::keymap::Keymap;
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_core::verbs::Verb;
use snarvel_core::verbs::lookup::look_up;
use snarvel_core::verbs::table::VERBS;

/// What is being asked about keys.
#[derive(Clone, Debug, PartialEq)]
pub enum Asking {
    /// Nothing.
    Nothing,
    /// For a key that is to run the chosen verb; and what was wrong with the last one.
    Which(Option<String>),
    /// Whether the key may be taken from what it does now.
    TakeOver(Key, String),
    /// Whether the chosen verb is to lose its keys.
    Unbind(Vec<Key>),
    /// Whether all keys are to be as shipped.
    Reset,
}

/// A verb to look up.
#[derive(Debug)]
pub struct LookupPanel {
    /// The letters so far, and the verbs that they may mean, as places in the table.
    pub chooser: Chooser,
    /// The key that was pressed to ask for what it does, and whether it does anything.
    pub pressed: Option<(Key, bool)>,
    /// What is being asked about keys.
    pub asking: Asking,
}

impl LookupPanel {
    /// All verbs.
    pub fn new() -> LookupPanel {
        let mut panel = LookupPanel { chooser: Chooser::new(Order::AsListed), pressed: None, asking: Asking::Nothing };
        panel.filter();
        panel
    }

    fn filter(&mut self) {
        self.pressed = None;
        let place = |verb: &Verb| VERBS.iter().position(|other| other.name == verb.name);
        self.chooser.shown = look_up(&self.chooser.line.text).into_iter().filter_map(place).collect();
        self.chooser.chosen = 0;
    }

    /// The verb that is chosen.
    pub fn verb(&self) -> Option<&'static Verb> {
        self.chooser.index().map(|index| &VERBS[index])
    }

    /// Takes a key.
    pub(super) fn press(&mut self, key: Key, keymap: &Keymap) -> Answer {
        match std::mem::replace(&mut self.asking, Asking::Nothing) {
            Asking::Nothing => self.choose(key, keymap),
            // Esc steps back, so that it is never a key to bind.
            _ if key.code == KeyCode::Esc => Answer::None,
            Asking::Which(_) => self.key_for(key, keymap),
            Asking::TakeOver(taken, _) => self.agreed(key, || Answer::None, |panel| panel.bind(taken)),
            Asking::Unbind(keys) => self.agreed(
                key,
                || Answer::None,
                |_| Answer::Bind(keys.into_iter().map(|key| Binding { key, deed: Deed::Nothing }).collect()),
            ),
            Asking::Reset => self.agreed(key, || Answer::None, |_| Answer::ResetKeys),
        }
    }

    fn agreed(
        &mut self,
        key: Key,
        no: impl FnOnce() -> Answer,
        yes: impl FnOnce(&mut LookupPanel) -> Answer,
    ) -> Answer {
        if key.typed() == Some('y') { yes(self) } else { no() }
    }

    fn bind(&mut self, key: Key) -> Answer {
        let Some(verb) = self.verb() else { return Answer::None };
        Answer::Bind(vec![Binding { key, deed: Deed::Verb(verb, String::new()) }])
    }

    /// A key that was pressed to be bound.
    fn key_for(&mut self, key: Key, keymap: &Keymap) -> Answer {
        if let Some(why) = never_arrives(key) {
            self.asking = Asking::Which(Some(format!("{key} cannot be bound: {why}")));
            return Answer::None;
        }
        let key = of_deck(key);
        match keymap.deed(key) {
            Some(Deed::Verb(other, _)) if Some(other.name) != self.verb().map(|verb| verb.name) => {
                self.asking = Asking::TakeOver(key, other.name.to_owned());
                Answer::None
            }
            Some(Deed::Text(text)) => {
                self.asking = Asking::TakeOver(key, format!("the text {text:?}"));
                Answer::None
            }
            _ => self.bind(key),
        }
    }

    fn choose(&mut self, key: Key, keymap: &Keymap) -> Answer {
        let ctrl = |c: char| key.code == KeyCode::Char(c) && key.mods == KeyModifiers::CONTROL;
        let is_empty = self.chooser.line.text.is_empty();
        match key.code {
            KeyCode::Esc => return Answer::Left,
            KeyCode::Enter => return self.verb().map_or(Answer::None, |verb| Answer::Verb(verb.name)),
            KeyCode::Delete if is_empty || self.chooser.line.parts().1.is_empty() => self.ask_unbind(keymap),
            _ if ctrl('k') => self.asking = Asking::Which(None),
            _ if ctrl('r') => self.asking = Asking::Reset,
            _ if is_asked_for(key) && (is_empty || !(ctrl('u') || ctrl('w'))) => self.find_key(key, keymap),
            _ => {
                if self.chooser.press(key) == Pressed::Typed {
                    self.filter();
                }
            }
        }
        Answer::None
    }

    fn ask_unbind(&mut self, keymap: &Keymap) {
        let keys = self.verb().map(|verb| keymap.keys_of(verb)).unwrap_or_default();
        if !keys.is_empty() {
            self.asking = Asking::Unbind(keys);
        }
    }

    /// Shows what a key does.
    fn find_key(&mut self, key: Key, keymap: &Keymap) {
        self.chooser.line.set("");
        let verb = match keymap.deed(key) {
            Some(Deed::Verb(verb, _)) => VERBS.iter().position(|other| other.name == verb.name),
            _ => None,
        };
        match verb {
            Some(index) => {
                self.filter();
                self.chooser.choose(index);
            }
            None => self.chooser.shown = Vec::new(),
        }
        self.pressed = Some((key, verb.is_some()));
    }

    /// Takes pasted text.
    pub(super) fn paste(&mut self, typed: &str) {
        self.chooser.line.insert(typed);
        self.filter();
    }
}

impl Default for LookupPanel {
    fn default() -> LookupPanel {
        LookupPanel::new()
    }
}

/// Whether a key asks for what it does, rather than typing or moving in the list.
fn is_asked_for(key: Key) -> bool {
    let held = key.mods.intersects(KeyModifiers::ALT | KeyModifiers::CONTROL);
    held || matches!(key.code, KeyCode::F(_))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn pressed(panel: &mut LookupPanel, keys: &str) -> Answer {
        let keymap = Keymap::shipped(false);
        let mut last = Answer::None;
        for key in keys.split(' ') {
            last = panel.press(Key::parse(key).unwrap(), &keymap);
        }
        last
    }

    #[test]
    fn words_and_keys_find_verbs() {
        let mut panel = LookupPanel::new();
        assert_eq!(panel.chooser.shown.len(), VERBS.len());
        pressed(&mut panel, "r e m o v e space r o w");
        assert_eq!(panel.verb().unwrap().name, "delete-lines");
        assert_eq!(pressed(&mut panel, "enter"), Answer::Verb("delete-lines"));
        pressed(&mut panel, "alt+d");
        assert_eq!(panel.verb().unwrap().name, "duplicate-down");
        pressed(&mut panel, "alt+shift+up");
        assert_eq!(panel.verb().unwrap().name, "cursor-above");
        pressed(&mut panel, "ctrl+k esc f12");
        assert_eq!((panel.verb().is_none(), panel.pressed), (true, Some((Key::parse("f12").unwrap(), false))));
    }

    #[test]
    fn a_clash_is_named_before_a_key_is_bound_and_some_keys_are_refused() {
        let mut panel = LookupPanel::new();
        pressed(&mut panel, "s o r t ctrl+k alt+v");
        assert_eq!(panel.asking, Asking::TakeOver(Key::character('v'), "per-line".to_owned()));
        let Answer::Bind(bound) = pressed(&mut panel, "y") else { panic!("nothing is bound") };
        assert!(
            bound[0].key == Key::character('v')
                && matches!(&bound[0].deed, Deed::Verb(verb, _) if verb.name == "sort-lines")
        );
        pressed(&mut panel, "ctrl+k alt+v n");
        assert_eq!(panel.asking, Asking::Nothing);
        pressed(&mut panel, "ctrl+k ctrl+i");
        assert!(matches!(&panel.asking, Asking::Which(Some(why)) if why.contains("Tab")));
        assert!(matches!(pressed(&mut panel, "f12"), Answer::Bind(_)));
        assert_eq!(pressed(&mut panel, "ctrl+r y"), Answer::ResetKeys);
    }
}
