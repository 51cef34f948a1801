//! A key: one spelling for each, whatever the terminal or a script calls it.

use crossterm::event::{KeyCode, KeyEvent, KeyModifiers};
use std::fmt;

/// A key with its modifiers. The shift of a character is in the character.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Key {
    /// The key itself.
    pub code: KeyCode,
    /// What is held with it.
    pub mods: KeyModifiers,
}

/// Named keys, as scripts and the keys file spell them; the first name of a key is the one shown.
const NAMES: &[(&str, KeyCode)] = &[
    ("enter", KeyCode::Enter),
    ("esc", KeyCode::Esc),
    ("tab", KeyCode::Tab),
    ("space", KeyCode::Char(' ')),
    ("backspace", KeyCode::Backspace),
    ("delete", KeyCode::Delete),
    ("insert", KeyCode::Insert),
    ("up", KeyCode::Up),
    ("down", KeyCode::Down),
    ("left", KeyCode::Left),
    ("right", KeyCode::Right),
    ("home", KeyCode::Home),
    ("end", KeyCode::End),
    ("pgup", KeyCode::PageUp),
    ("pgdn", KeyCode::PageDown),
];

/// What Shift makes of the keys of the reference keyboard that are no letters.
const SHIFTED: &[(char, char)] = &[
    (';', ':'),
    ('\'', '"'),
    (',', '<'),
    ('.', '>'),
    ('/', '?'),
    ('[', '{'),
    (']', '}'),
    ('\\', '|'),
    ('-', '_'),
    ('=', '+'),
    ('`', '~'),
    ('1', '!'),
    ('2', '@'),
    ('3', '#'),
    ('4', '$'),
    ('5', '%'),
    ('6', '^'),
    ('7', '&'),
    ('8', '*'),
    ('9', '('),
    ('0', ')'),
];

impl Key {
    /// A key in its one spelling.
    pub fn new(code: KeyCode, mods: KeyModifiers) -> Key {
        let known = mods & (KeyModifiers::SHIFT | KeyModifiers::CONTROL | KeyModifiers::ALT);
        match code {
            KeyCode::BackTab => Key { code: KeyCode::Tab, mods: known | KeyModifiers::SHIFT },
            KeyCode::Char(' ') => Key { code, mods: known },
            KeyCode::Char(c) => {
                let character = match (known.contains(KeyModifiers::SHIFT), known.contains(KeyModifiers::CONTROL)) {
                    // Terminals send one byte for both (ISO 646, RS).
                    (_, true) if c == '^' => '6',
                    (_, true) => c.to_ascii_lowercase(),
                    (true, false) => shifted(c),
                    (false, false) => c,
                };
                Key { code: KeyCode::Char(character), mods: known - KeyModifiers::SHIFT }
            }
            _ => Key { code, mods: known },
        }
    }

    /// A character by itself.
    pub fn character(c: char) -> Key {
        Key::new(KeyCode::Char(c), KeyModifiers::NONE)
    }

    /// The character that this key types, if it types one.
    pub fn typed(self) -> Option<char> {
        match self.code {
            KeyCode::Char(c) if self.mods - KeyModifiers::SHIFT == KeyModifiers::NONE => Some(c),
            _ => None,
        }
    }

    /// The same key with Alt.
    #[must_use]
    pub fn with_alt(self) -> Key {
        Key { mods: self.mods | KeyModifiers::ALT, ..self }
    }

    /// How the key is shown to people: as it is printed on the keyboard where something is held with it (`Alt+D`, `Alt+Shift+D`), as it
    /// is typed where nothing is (`d`, `D`).
    #[must_use]
    pub fn on_keyboard(self) -> String {
        match self.code {
            KeyCode::Char(c) if c.is_alphabetic() && self.mods.contains(KeyModifiers::ALT) => {
                let mods = if c.is_uppercase() { self.mods | KeyModifiers::SHIFT } else { self.mods };
                let upper = c.to_uppercase().next().unwrap_or(c);
                Key { code: KeyCode::Char(upper), mods }.to_string()
            }
            _ => self.to_string(),
        }
    }

    /// Reads a key like `d`, `alt+D`, `ctrl+shift+end`.
    pub fn parse(spelled: &str) -> Option<Key> {
        let mut mods = KeyModifiers::NONE;
        let mut rest = spelled;
        while let Some((head, tail)) = rest.split_once('+').filter(|(_, tail)| !tail.is_empty()) {
            mods |= match head.to_ascii_lowercase().as_str() {
                "ctrl" => KeyModifiers::CONTROL,
                "alt" => KeyModifiers::ALT,
                "shift" => KeyModifiers::SHIFT,
                _ => return None,
            };
            rest = tail;
        }
        Some(Key::new(code_of(rest)?, mods))
    }
}

fn shifted(c: char) -> char {
    let other = SHIFTED.iter().find(|(plain, _)| *plain == c).map(|(_, shifted)| *shifted);
    other.unwrap_or_else(|| c.to_uppercase().next().filter(|_| c.to_uppercase().count() == 1).unwrap_or(c))
}

fn code_of(name: &str) -> Option<KeyCode> {
    let mut characters = name.chars();
    if let (Some(c), None) = (characters.next(), characters.next()) {
        return (!c.is_control() && !c.is_whitespace()).then_some(KeyCode::Char(c));
    }
    let lower = name.to_ascii_lowercase();
    if let Some(number) = lower.strip_prefix('f').and_then(|number| number.parse::<u8>().ok()) {
        return (1..=12).contains(&number).then_some(KeyCode::F(number));
    }
    NAMES.iter().find(|(known, _)| *known == lower).map(|(_, code)| *code)
}

impl From<KeyEvent> for Key {
    fn from(event: KeyEvent) -> Key {
        Key::new(event.code, event.modifiers)
    }
}

impl fmt::Display for Key {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        let held = [(KeyModifiers::CONTROL, "Ctrl+"), (KeyModifiers::ALT, "Alt+"), (KeyModifiers::SHIFT, "Shift+")];
        for (modifier, name) in held {
            if self.mods.contains(modifier) {
                out.write_str(name)?;
            }
        }
        match self.code {
            KeyCode::Char(' ') => out.write_str("Space"),
            KeyCode::Char(c) if self.mods.contains(KeyModifiers::CONTROL) => write!(out, "{}", c.to_ascii_uppercase()),
            KeyCode::Char(c) => write!(out, "{c}"),
            KeyCode::F(number) => write!(out, "F{number}"),
            KeyCode::PageUp => out.write_str("Page Up"),
            KeyCode::PageDown => out.write_str("Page Down"),
            code => write!(out, "{code:?}"),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn all_spellings_of_a_key_are_one() {
        let rows: &[&[&str]] = &[
            &["D", "shift+d", "shift+D", "Shift+d"],
            &["alt+D", "alt+shift+d", "shift+alt+d"],
            &[":", "shift+;"],
            &["ctrl+s", "ctrl+S"],
            &["shift+tab", "shift+TAB"],
            &["alt++", "alt+shift+="],
            &["+", "shift+="],
        ];
        for row in rows {
            let keys: Vec<_> = row.iter().map(|name| Key::parse(name)).collect();
            assert!(keys[0].is_some() && keys.iter().all(|key| *key == keys[0]), "{row:?} {keys:?}");
        }
        let back_tab = Key::new(KeyCode::BackTab, KeyModifiers::SHIFT);
        assert_eq!(Key::parse("shift+tab"), Some(back_tab));
        for wrong in ["", "altd", "hyper+d", "f13", "ctrl+", "dd"] {
            assert_eq!(Key::parse(wrong), None, "{wrong}");
        }
    }
}
