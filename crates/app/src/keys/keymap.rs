//! Which verb a key runs in which layer: drawn from the table of verbs alone.

use super::Key;
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_core::verbs::scene::Layer;
use snarvel_core::verbs::table::VERBS;
use snarvel_core::verbs::{Verb, by_name};
use std::collections::HashMap;

/// Keys of the deck that begin escape sequences behind Alt: an ordinary terminal swallows the next key.
const NOT_BEHIND_ALT: &[char] = &['O', '[', ']'];

/// What a key means.
#[derive(Clone, Copy, Debug)]
pub enum Meaning {
    /// It runs a verb.
    Verb(&'static Verb),
    /// It types a character.
    Text(char),
    /// It is a digit of a repeat count.
    Digit(u32),
}

/// Verbs by key, for each layer.
#[derive(Debug)]
pub struct Keymap {
    write: HashMap<Key, &'static Verb>,
    shape: HashMap<Key, &'static Verb>,
}

/// How the keys of a verb are spelled in each layer.
#[derive(Debug, PartialEq, Eq)]
pub struct Spelled {
    /// In Write.
    pub write: Vec<String>,
    /// In Shape.
    pub shape: Vec<String>,
}

impl Keymap {
    /// The keys as shipped. `enhanced` says that the terminal keeps keys and escape sequences apart.
    ///
    /// # Panics
    /// If a verb of the table has a key that is none: a test goes through them.
    pub fn shipped(enhanced: bool) -> Keymap {
        let mut map = Keymap { write: HashMap::new(), shape: HashMap::new() };
        for verb in VERBS {
            let parse = |name: &&str| Key::parse(name).unwrap_or_else(|| panic!("{}: no key {name:?}", verb.name));
            for key in verb.deck.iter().map(parse) {
                map.shape.insert(key, verb);
                let swallowed = matches!(key.code, KeyCode::Char(c) if NOT_BEHIND_ALT.contains(&c));
                if enhanced || !swallowed {
                    map.shape.insert(key.with_alt(), verb);
                    map.write.insert(key.with_alt(), verb);
                }
            }
            for key in verb.both.iter().map(parse) {
                map.shape.insert(key, verb);
                map.write.insert(key, verb);
            }
            map.write.extend(verb.write.iter().map(parse).map(|key| (key, verb)));
        }
        map
    }

    /// What `key` means in `layer`.
    pub fn meaning(&self, key: Key, layer: Layer) -> Option<Meaning> {
        let map = if layer == Layer::Write { &self.write } else { &self.shape };
        if let Some(verb) = map.get(&key) {
            return Some(Meaning::Verb(verb));
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

    /// How the keys of `verb` are spelled.
    pub fn spelled(&self, verb: &Verb) -> Spelled {
        let of = |map: &HashMap<Key, &'static Verb>| {
            let mut keys: Vec<String> =
                map.iter().filter(|(_, other)| other.name == verb.name).map(|(key, _)| key.to_string()).collect();
            keys.sort_by_key(|name| (name.len(), name.clone()));
            keys
        };
        Spelled { write: of(&self.write), shape: of(&self.shape) }
    }
}

/// The verb behind a bare key of the deck.
pub fn on_deck(key: &str) -> Option<&'static Verb> {
    VERBS.iter().find(|verb| verb.deck.contains(&key))
}

/// The verb that types text.
///
/// # Panics
/// If the table has lost it.
pub fn typing() -> &'static Verb {
    by_name("type-text").expect("the table has the verb type-text")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn no_key_runs_two_verbs_in_one_layer() {
        let mut seen: HashMap<(Key, bool), &str> = HashMap::new();
        for verb in VERBS {
            let keys = |names: &[&str]| names.iter().filter_map(|name| Key::parse(name)).collect::<Vec<_>>();
            let mut claim = |key: Key, in_write: bool| {
                let other = seen.insert((key, in_write), verb.name).unwrap_or(verb.name);
                assert_eq!(other, verb.name, "{key}");
            };
            keys(verb.deck).into_iter().for_each(|key| {
                claim(key, false);
                claim(key.with_alt(), true);
            });
            keys(verb.both).into_iter().for_each(|key| {
                claim(key, true);
                claim(key, false);
            });
            keys(verb.write).into_iter().for_each(|key| claim(key, true));
        }
    }

    #[test]
    fn keys_that_begin_escape_sequences_are_bound_only_where_they_arrive() {
        let alt = |name: &str| Key::parse(name).unwrap().with_alt();
        let (plain, enhanced) = (Keymap::shipped(false), Keymap::shipped(true));
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
}
