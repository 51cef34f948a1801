//! The keyboard as a sheet: what each key does, as the keymap says.

use crate::keys::Key;
use crate::keys::bindings::{KeyAction, of_deck};
use crate::keys::keyboard::{DECK_KEYS, KeyPlace};
use crate::keys::keymap::{Keymap, is_of_deck};
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_draw::keys::{Does, Group, Key as DrawnKey, KeySheet, Other};
use snarvel_workspace::registry::VERBS;
use snarvel_workspace::registry::Verb;

/// What the sheet of `keymap` shows.
pub fn key_sheet(keymap: &Keymap) -> KeySheet {
    let keyboard = keymap.keyboard();
    let key = |place: KeyPlace| {
        let [plain, shifted] = keyboard.at(place);
        let counts = || Does { label: "count".to_owned(), is_own: false };
        let does = |c: Option<char>| c.and_then(|c| does(keymap, Key::character(c), None));
        let text = |c: Option<char>| c.map(String::from).unwrap_or_default();
        DrawnKey {
            plain: text(plain),
            shifted: text(shifted),
            does: does(plain).or_else(|| plain.filter(char::is_ascii_digit).map(|_| counts())),
            does_shifted: does(shifted),
            is_deck: place.row > 0 && place.key < DECK_KEYS,
        }
    };
    let row = |row: usize| (0..keyboard.keys_in(row)).map(|key_at| key(KeyPlace { row, key: key_at })).collect();
    KeySheet { keyboard: keyboard.name().to_owned(), rows: (0..4).map(row).collect(), groups: groups(keymap) }
}

/// What a key does, in the words of the deck; `verb` where it is known.
fn does(keymap: &Keymap, key: Key, verb: Option<&'static Verb>) -> Option<Does> {
    let is_own = keymap.own().iter().any(|binding| of_deck(binding.key) == of_deck(key));
    let action = match (verb, keymap.action(key)) {
        (Some(verb), None) => &KeyAction::Verb(verb, String::new()),
        (_, action) => action?,
    };
    let label = match (verb, action) {
        (Some(verb), KeyAction::Verb(other, _)) if other.name != verb.name => verb.label.to_owned(),
        (_, KeyAction::Verb(verb, argument)) if argument.is_empty() => verb.label.to_owned(),
        (_, KeyAction::Verb(verb, argument)) => format!("{} {argument}", verb.label),
        (_, KeyAction::Text(text)) => format!("“{text}”"),
        (_, KeyAction::Nothing) => return None,
    };
    Some(Does { label, is_own })
}

/// The keys beside the rows by what they are about: those of verbs in the table's order, then what the person has bound to
/// text. Shift with a move is told once.
fn groups(keymap: &Keymap) -> Vec<Group> {
    let mut groups: Vec<Group> = Vec::new();
    let mut put = |group: &str, key: String, does: Does| {
        if groups.last().is_none_or(|last| last.name != group) {
            groups.push(Group { name: group.to_owned(), keys: Vec::new() });
        }
        groups.iter_mut().rev().take(1).for_each(|last| last.keys.push(Other { key: key.clone(), does: does.clone() }));
    };
    for verb in VERBS.iter().filter(|verb| !verb.name.starts_with("extend-")) {
        let keys = keymap.keys_of(verb);
        let spelled = keymap.spelled(verb);
        for key in keys.iter().filter(|key| is_beside(**key) && !is_twin(**key, &keys)) {
            let Some(does) = does(keymap, *key, Some(verb)) else { continue };
            let name = key.to_string();
            let only = match (spelled.write.contains(&name), spelled.shape.contains(&name)) {
                (true, false) => " in Write",
                (false, true) => " in Shape",
                _ => "",
            };
            put(verb.group.name(), name + only, does);
        }
        if verb.name == "file-end" {
            let extends = Does { label: "extends".to_owned(), is_own: false };
            put(verb.group.name(), "Shift + a move".to_owned(), extends);
        }
    }
    for binding in keymap.own().iter().filter(|binding| matches!(binding.action, KeyAction::Text(_))) {
        if let Some(does) = does(keymap, binding.key, None).filter(|_| is_beside(binding.key)) {
            put("your texts", binding.key.to_string(), does);
        }
    }
    groups
}

/// Whether a key is none of the rows.
fn is_beside(key: Key) -> bool {
    !is_of_deck(key) || key.code == KeyCode::Char(' ')
}

/// Whether a key is only another form of a key of the same verb: with Alt for the one without; Ctrl+5 for Ctrl+] and Ctrl+7 for
/// Ctrl+/ on some terminals.
fn is_twin(key: Key, keys: &[Key]) -> bool {
    let bare = Key { mods: key.mods - KeyModifiers::ALT, ..key };
    (bare != key && keys.contains(&bare)) || ["ctrl+5", "ctrl+7"].iter().any(|twin| Key::parse(twin) == Some(key))
}
