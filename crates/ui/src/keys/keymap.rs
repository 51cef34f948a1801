//! What a key does in which layer: drawn from the table of verbs, the keyboard, and what a person has bound.

use super::bindings::{Binding, KeyAction, needs_enhanced, of_deck};
use super::key::Key;
use super::keyboard::{Keyboard, translated};
use super::layer::{Layer, Protocol};
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_workspace::registry::VERBS;
use snarvel_workspace::registry::{Verb, by_name};
use std::collections::HashMap;

/// What a key means.
#[derive(Clone, Debug)]
pub enum Meaning {
    /// It runs a verb.
    Verb(&'static Verb),
    /// It runs a verb with an argument.
    Call(&'static Verb, String),
    /// It puts a text in.
    Insert(String),
    /// It types a character.
    Text(char),
    /// It is a digit of a repeat count.
    Digit(u32),
}

/// What keys do, for each layer.
#[derive(Clone, Debug)]
pub struct Keymap {
    write: HashMap<Key, KeyAction>,
    shape: HashMap<Key, KeyAction>,
    keyboard: Keyboard,
    protocol: Protocol,
    own: Vec<Binding>,
}

/// The verb that takes pins; its key runs the other one in Write where there are none.
pub const TAKES_PINS: &str = "pins-take";
/// The verb that finishes statements.
pub const FINISHES: &str = "finish";

/// How the keys of a verb are spelled in each layer.
#[derive(Debug, PartialEq, Eq)]
pub struct Spelled {
    /// In Write.
    pub write: Vec<String>,
    /// In Shape.
    pub shape: Vec<String>,
}

impl Keymap {
    /// The keys as shipped, on the reference keyboard. `protocol` tells which keys the terminal keeps apart.
    pub fn shipped(protocol: Protocol) -> Keymap {
        Keymap::new(protocol, Keyboard::Qwerty, &[])
    }

    /// The keys of `keyboard` as shipped, but for those that a person has bound otherwise.
    ///
    /// # Panics
    /// If a verb of the table has a key that is none: a test goes through them.
    pub fn new(protocol: Protocol, keyboard: Keyboard, own: &[Binding]) -> Keymap {
        let mut map = Keymap { write: HashMap::new(), shape: HashMap::new(), keyboard, protocol, own: own.to_vec() };
        let moved = keyboard.moved();
        for verb in VERBS.iter() {
            let parse = |name: &&str| Key::parse(name).unwrap_or_else(|| panic!("{}: no key {name:?}", verb.name));
            let action = || KeyAction::Verb(verb, String::new());
            for key in verb.keys.deck.iter().map(parse).filter_map(|key| translated(key, &moved, keyboard)) {
                map.put_on_deck(key, &action());
            }
            for key in verb.keys.both.iter().map(parse) {
                map.shape.insert(key, action());
                map.write.insert(key, action());
            }
            map.shape.extend(verb.keys.shape.iter().map(parse).map(|key| (key, action())));
            map.write.extend(verb.keys.write.iter().map(parse).map(|key| (key, action())));
        }
        for Binding { key, action } in own {
            match is_of_deck(*key) {
                true => map.put_on_deck(*key, action),
                false => {
                    map.shape.insert(*key, action.clone());
                    map.write.insert(*key, action.clone());
                }
            }
        }
        map
    }

    /// The same keys on a terminal of another kind.
    #[must_use]
    pub fn on(&self, protocol: Protocol) -> Keymap {
        Keymap::new(protocol, self.keyboard, &self.own)
    }

    /// The same verbs under the same fingers of another keyboard.
    #[must_use]
    pub fn on_keyboard(&self, keyboard: Keyboard) -> Keymap {
        Keymap::new(self.protocol, keyboard, &self.own)
    }

    /// With these keys bound by the person.
    #[must_use]
    pub fn with_own(&self, own: &[Binding]) -> Keymap {
        Keymap::new(self.protocol, self.keyboard, own)
    }

    /// What the person has bound.
    pub fn own(&self) -> &[Binding] {
        &self.own
    }

    /// The keyboard.
    pub fn keyboard(&self) -> Keyboard {
        self.keyboard
    }

    /// Bare in Shape, with Alt in both layers.
    fn put_on_deck(&mut self, key: Key, action: &KeyAction) {
        self.shape.insert(key, action.clone());
        let with_alt = key.with_alt();
        if self.protocol == Protocol::Enhanced || !needs_enhanced(with_alt) {
            self.shape.insert(with_alt, action.clone());
            self.write.insert(with_alt, action.clone());
        }
    }

    fn of(&self, layer: Layer) -> &HashMap<Key, KeyAction> {
        if layer == Layer::Write { &self.write } else { &self.shape }
    }

    /// Every key that does something in `layer`.
    pub fn bound(&self, layer: Layer) -> impl Iterator<Item = (Key, KeyAction)> + '_ {
        let does = |action: &KeyAction| *action != KeyAction::Nothing;
        self.of(layer).iter().filter(move |(_, action)| does(action)).map(|(key, action)| (*key, action.clone()))
    }

    /// What `key` means in `layer`.
    pub fn meaning(&self, key: Key, layer: Layer) -> Option<Meaning> {
        match self.of(layer).get(&key) {
            Some(KeyAction::Verb(verb, argument)) if argument.is_empty() => return Some(Meaning::Verb(verb)),
            Some(KeyAction::Verb(verb, argument)) => return Some(Meaning::Call(verb, argument.clone())),
            Some(KeyAction::Text(text)) => return Some(Meaning::Insert(text.clone())),
            Some(KeyAction::Nothing) => return None,
            None => {}
        }
        let digit = match key.code {
            KeyCode::Char(c) if key.mods == KeyModifiers::ALT || layer == Layer::Shape => c.to_digit(10),
            _ => None,
        };
        match (digit, key.typed()) {
            (Some(digit), _) => Some(Meaning::Digit(digit)),
            (None, Some(c)) if layer == Layer::Write => Some(Meaning::Text(c)),
            _ => None,
        }
    }

    /// What `key` does in the layer in which it does something, Write first; nothing where it types or does nothing.
    pub fn action(&self, key: Key) -> Option<&KeyAction> {
        let key = if is_of_deck(key) { key.with_alt() } else { key };
        let bare = Key { mods: key.mods - KeyModifiers::ALT, ..key };
        let found = self.write.get(&key).or_else(|| self.shape.get(&key)).or_else(|| self.shape.get(&bare));
        found.filter(|action| **action != KeyAction::Nothing)
    }

    /// What the character `c` of the deck does in Shape.
    pub fn on_deck(&self, c: char) -> Option<&KeyAction> {
        self.shape.get(&Key::character(c)).filter(|action| **action != KeyAction::Nothing)
    }

    /// The keys of `verb`, as they are bound: those of the deck without Alt.
    pub fn keys_of(&self, verb: &Verb) -> Vec<Key> {
        let runs = |action: &KeyAction| matches!(action, KeyAction::Verb(other, _) if other.name == verb.name);
        let all = self.shape.iter().chain(&self.write).filter(|(_, action)| runs(action));
        let mut keys: Vec<Key> = all.map(|(key, _)| of_deck(*key)).collect();
        keys.sort_by_key(ToString::to_string);
        keys.dedup();
        keys
    }

    /// How the keys of `verb` are spelled, the shortest first.
    pub fn spelled(&self, verb: &Verb) -> Spelled {
        let of = |map: &HashMap<Key, KeyAction>| {
            let runs = |action: &KeyAction| matches!(action, KeyAction::Verb(other, _) if other.name == verb.name);
            let mut keys: Vec<String> =
                map.iter().filter(|(_, action)| runs(action)).map(|(key, _)| key.to_string()).collect();
            keys.sort_by_key(|name| (name.len(), name.clone()));
            keys
        };
        let mut write = of(&self.write);
        if verb.name == FINISHES
            && let Some(takes_pins) = by_name(TAKES_PINS)
        {
            // It shares a key, which takes pins where there are any.
            write.extend(self.spelled(takes_pins).write.into_iter().filter(|key| key.contains("Alt")));
        }
        Spelled { write, shape: of(&self.shape) }
    }
}

/// Whether `key` types a character: then it is a key of the deck.
pub fn is_of_deck(key: Key) -> bool {
    matches!(key.code, KeyCode::Char(_)) && key.mods.is_empty()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn no_key_runs_two_verbs_in_one_layer() {
        let mut seen: HashMap<(Key, bool), &str> = HashMap::new();
        for verb in VERBS.iter() {
            let keys = |names: &[&str]| names.iter().filter_map(|name| Key::parse(name)).collect::<Vec<_>>();
            let mut claim = |key: Key, in_write: bool| {
                let other = seen.insert((key, in_write), verb.name).unwrap_or(verb.name);
                assert_eq!(other, verb.name, "{key}");
            };
            keys(verb.keys.deck).into_iter().for_each(|key| {
                claim(key, false);
                claim(key.with_alt(), true);
            });
            keys(verb.keys.both).into_iter().for_each(|key| {
                claim(key, true);
                claim(key, false);
            });
            keys(verb.keys.write).into_iter().for_each(|key| claim(key, true));
            keys(verb.keys.shape).into_iter().for_each(|key| claim(key, false));
        }
    }

    #[test]
    fn keys_that_begin_escape_sequences_are_bound_only_where_they_arrive() {
        let alt = |name: &str| Key::parse(name).unwrap().with_alt();
        let (plain, enhanced) = (Keymap::shipped(Protocol::Plain), Keymap::shipped(Protocol::Enhanced));
        for name in ["O", "["] {
            assert!(plain.meaning(alt(name), Layer::Write).is_none(), "{name}");
            assert!(matches!(enhanced.meaning(alt(name), Layer::Write), Some(Meaning::Verb(_))), "{name}");
        }
        assert!(matches!(plain.meaning(Key::character('O'), Layer::Shape), Some(Meaning::Verb(_))));
    }

    #[test]
    fn every_name_of_a_verb_is_its_own() {
        let mut names: Vec<_> = VERBS.iter().map(|verb| verb.name).collect();
        names.sort_unstable();
        names.dedup();
        assert_eq!(names.len(), VERBS.len());
        assert!(VERBS.iter().all(|verb| verb.words.len() >= 3 && verb.sentence.ends_with('.')));
    }

    #[test]
    fn no_verb_is_lost_on_another_keyboard() {
        for (name, keyboard) in Keyboard::ALL {
            let (map, shipped) = (Keymap::new(Protocol::Plain, keyboard, &[]), Keymap::shipped(Protocol::Plain));
            for verb in VERBS.iter().filter(|verb| !shipped.spelled(verb).shape.is_empty()) {
                assert!(!map.spelled(verb).shape.is_empty(), "{name}: {}", verb.name);
            }
        }
    }

    #[test]
    fn what_a_person_binds_holds_in_both_layers_and_the_rest_stays() {
        let delete = KeyAction::Verb(by_name("delete-lines").unwrap(), String::new());
        let own = [
            Binding { key: Key::character('v'), action: delete.clone() },
            Binding { key: Key::parse("f10").unwrap(), action: KeyAction::Text("pilot".to_owned()) },
            Binding { key: Key::parse("ctrl+e").unwrap(), action: KeyAction::Nothing },
        ];
        let map = Keymap::shipped(Protocol::Plain).with_own(&own);
        let means = |key: &str, layer| map.meaning(Key::parse(key).unwrap(), layer);
        assert!(matches!(means("v", Layer::Shape), Some(Meaning::Verb(verb)) if verb.name == "delete-lines"));
        assert!(matches!(means("alt+v", Layer::Write), Some(Meaning::Verb(verb)) if verb.name == "delete-lines"));
        assert!(matches!(means("v", Layer::Write), Some(Meaning::Text('v'))));
        assert!(matches!(means("f10", Layer::Shape), Some(Meaning::Insert(text)) if text == "pilot"));
        assert!(means("ctrl+e", Layer::Write).is_none());
        assert!(matches!(means("x", Layer::Shape), Some(Meaning::Verb(verb)) if verb.name == "delete-lines"));
        assert_eq!(map.action(Key::parse("alt+v").unwrap()), Some(&delete));
        assert!(map.action(Key::parse("ctrl+e").unwrap()).is_none());
    }
}
