//! Keyboards: the same verbs under the same fingers, whatever letters the keys bear.
//!
//! The deck's thirty keys keep their places. A verb on another key keeps its character where the keyboard types it and no
//! key of the deck does; else it takes the character at its old place, else one that is still free. Digits stay counts.

use super::key::Key;
use crossterm::event::KeyCode;
use snarvel_workspace::registry::VERBS;
use std::collections::HashMap;

/// Which letters the keys bear.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Keyboard {
    /// The reference: American.
    #[default]
    Qwerty,
    /// German.
    Qwertz,
    /// French.
    Azerty,
    /// American simplified (ANSI INCITS 207).
    Dvorak,
    /// A rearranged American one.
    Colemak,
}

/// A keyboard's characters, row by row, plain and with Shift; a blank is a dead key or none. What only the third level or a key
/// beside the rows types comes last.
struct Characters {
    plain: [&'static str; 4],
    shifted: [&'static str; 4],
    others: &'static str,
}

const QWERTY: Characters = Characters {
    plain: ["`1234567890-=", "qwertyuiop[]\\", "asdfghjkl;'", "zxcvbnm,./"],
    shifted: ["~!@#$%^&*()_+", "QWERTYUIOP{}|", "ASDFGHJKL:\"", "ZXCVBNM<>?"],
    others: "",
};

const QWERTZ: Characters = Characters {
    plain: [" 1234567890ß ", "qwertzuiopü+#", "asdfghjklöä", "yxcvbnm,.-"],
    shifted: ["°!\"§$%&/()=? ", "QWERTZUIOPÜ*'", "ASDFGHJKLÖÄ", "YXCVBNM;:_"],
    others: "<>|@{[]}\\~",
};

const AZERTY: Characters = Characters {
    plain: ["²&é\"'(-è_çà)=", "azertyuiop $*", "qsdfghjklmù", "wxcvbn,;:!"],
    shifted: [" 1234567890°+", "AZERTYUIOP £µ", "QSDFGHJKLM%", "WXCVBN?./§"],
    others: "<>~#{[|`\\^@]}",
};

const DVORAK: Characters = Characters {
    plain: ["`1234567890[]", "',.pyfgcrl/=\\", "aoeuidhtns-", ";qjkxbmwvz"],
    shifted: ["~!@#$%^&*(){}", "\"<>PYFGCRL?+|", "AOEUIDHTNS_", ":QJKXBMWVZ"],
    others: "",
};

const COLEMAK: Characters = Characters {
    plain: ["`1234567890-=", "qwfpgjluy;[]\\", "arstdhneio'", "zxcvbkm,./"],
    shifted: ["~!@#$%^&*()_+", "QWFPGJLUY:{}|", "ARSTDHNEIO\"", "ZXCVBKM<>?"],
    others: "",
};

/// Which character runs what a character of the reference runs.
pub type Moved = HashMap<char, char>;

/// A place on the keyboard: row from the top, key from the left.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct KeyPlace {
    /// The row: digits, upper, home, lower.
    pub row: usize,
    /// The key in it.
    pub key: usize,
}

/// How many keys of the upper, the home and the lower row belong to the deck.
pub const DECK_KEYS: usize = 10;

impl Keyboard {
    /// All of them, with the names that settings use.
    pub const ALL: [(&'static str, Keyboard); 5] = [
        ("qwerty", Keyboard::Qwerty),
        ("qwertz", Keyboard::Qwertz),
        ("azerty", Keyboard::Azerty),
        ("dvorak", Keyboard::Dvorak),
        ("colemak", Keyboard::Colemak),
    ];

    /// Its name.
    pub fn name(self) -> &'static str {
        Keyboard::ALL.iter().find(|(_, each)| *each == self).map_or("", |(name, _)| name)
    }

    fn characters(self) -> &'static Characters {
        match self {
            Keyboard::Qwerty => &QWERTY,
            Keyboard::Qwertz => &QWERTZ,
            Keyboard::Azerty => &AZERTY,
            Keyboard::Dvorak => &DVORAK,
            Keyboard::Colemak => &COLEMAK,
        }
    }

    /// What the key at `place` types, plain and with Shift; none where that is nothing, or an accent waiting for a letter.
    pub fn at(self, place: KeyPlace) -> [Option<char>; 2] {
        let characters = self.characters();
        [characters.plain, characters.shifted]
            .map(|rows| rows.get(place.row).and_then(|row| row.chars().nth(place.key)).filter(|c| !c.is_whitespace()))
    }

    /// How many keys `row` has.
    pub fn keys_in(self, row: usize) -> usize {
        self.characters().plain.get(row).map_or(0, |row| row.chars().count())
    }

    /// The key of the deck in `row` from its top and `column` from the left.
    pub fn deck(self, row: usize, column: usize) -> Option<char> {
        self.at(KeyPlace { row: row + 1, key: column })[0]
    }

    /// The characters of that key, plain and with Shift.
    pub fn on_deck(self, row: usize, column: usize) -> [Option<char>; 2] {
        self.at(KeyPlace { row: row + 1, key: column })
    }

    /// Which character of this keyboard runs what a character of the reference runs. Those that stay are not in it.
    pub fn moved(self) -> Moved {
        let mut moved = Moved::new();
        if self == Keyboard::Qwerty {
            return moved;
        }
        let mut taken: Vec<char> = Vec::new();
        let place = |from: char, to: char, moved: &mut Moved, taken: &mut Vec<char>| {
            moved.insert(from, to);
            taken.push(to);
        };
        let on_deck = |place: KeyPlace| place.row > 0 && place.key < DECK_KEYS;
        for (from, at, level) in reference().filter(|(_, at, _)| on_deck(*at)) {
            if let Some(to) = self.at(at)[level] {
                place(from, to, &mut moved, &mut taken);
            }
        }
        let others: Vec<_> = reference().filter(|(from, at, _)| !on_deck(*at) && runs_a_verb(*from)).collect();
        let typed: Vec<char> = self.typed();
        let mut homeless = Vec::new();
        for (from, at, level) in others {
            match typed.contains(&from) && !taken.contains(&from) {
                true => place(from, from, &mut moved, &mut taken),
                false => homeless.push((from, at, level)),
            }
        }
        for (from, at, level) in homeless {
            let is_free = |c: char, taken: &[char]| !c.is_ascii_digit() && !taken.contains(&c);
            let there = self.at(at)[level].filter(|c| is_free(*c, &taken));
            let any = || typed.iter().copied().find(|c| !c.is_alphabetic() && is_free(*c, &taken));
            if let Some(to) = there.or_else(any) {
                place(from, to, &mut moved, &mut taken);
            }
        }
        moved
    }

    /// Everything that it types.
    fn typed(self) -> Vec<char> {
        let characters = self.characters();
        let rows = characters.plain.iter().chain(&characters.shifted).chain([&characters.others]);
        rows.flat_map(|row| row.chars()).filter(|c| !c.is_whitespace()).collect()
    }
}

/// The characters of the reference with their places and whether Shift is held (1) or not (0).
fn reference() -> impl Iterator<Item = (char, KeyPlace, usize)> {
    [QWERTY.plain, QWERTY.shifted].into_iter().enumerate().flat_map(|(level, rows)| {
        rows.into_iter().enumerate().flat_map(move |(row, characters)| {
            characters.chars().enumerate().map(move |(key, c)| (c, KeyPlace { row, key }, level))
        })
    })
}

fn runs_a_verb(c: char) -> bool {
    let key = Key::character(c);
    VERBS.iter().any(|verb| verb.keys.deck.iter().any(|name| Key::parse(name) == Some(key)))
}

/// `key` of the reference where this keyboard has it; none where nothing types it.
pub fn translated(key: Key, moved: &Moved, keyboard: Keyboard) -> Option<Key> {
    match key.code {
        KeyCode::Char(c) if keyboard != Keyboard::Qwerty && c != ' ' && runs_a_verb(c) => {
            moved.get(&c).map(|to| Key { code: KeyCode::Char(*to), ..key })
        }
        _ => Some(key),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rows_are_as_long_as_those_of_the_reference() {
        for (name, keyboard) in Keyboard::ALL {
            for row in 0..4 {
                let [plain, shifted] = [keyboard.characters().plain[row], keyboard.characters().shifted[row]]
                    .map(|row| row.chars().count());
                assert_eq!([plain, shifted], [QWERTY.plain[row].len(); 2], "{name} row {row}");
            }
        }
    }

    #[test]
    fn every_verb_of_the_deck_has_a_key_of_its_own_on_every_keyboard() {
        for (name, keyboard) in Keyboard::ALL.into_iter().skip(1) {
            let moved = keyboard.moved();
            let mut to: Vec<char> = moved.values().copied().collect();
            to.sort_unstable();
            to.dedup();
            assert_eq!(to.len(), moved.len(), "{name}: two verbs on one key");
            let lost: Vec<char> =
                reference().map(|(c, ..)| c).filter(|c| runs_a_verb(*c) && !moved.contains_key(c)).collect();
            assert!(lost.is_empty(), "{name}: {lost:?}");
            assert!(to.iter().all(|c| !c.is_ascii_digit()), "{name}: digits are counts");
        }
    }

    #[test]
    fn the_deck_stays_under_the_fingers() {
        let moved = Keyboard::Qwertz.moved();
        assert_eq!([moved[&'z'], moved[&'y'], moved[&';'], moved[&'/']], ['y', 'z', 'ö', '-']);
        let moved = Keyboard::Azerty.moved();
        assert_eq!([moved[&'q'], moved[&'w'], moved[&';'], moved[&'m']], ['a', 'z', 'm', ',']);
        let moved = Keyboard::Dvorak.moved();
        assert_eq!([moved[&'q'], moved[&'s'], moved[&'/']], ['\'', 'o', 'z']);
    }
}
