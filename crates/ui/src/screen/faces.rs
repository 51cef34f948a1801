//! The faces of the deck: what it shows of the keyboard at a time, so that every key is on one of them.
//!
//! First the letters, then the same with Shift; then the signs, the keys with Ctrl, and the keys that have a name. Where both hands do
//! not fit, each has a face of its own, and a list that is longer than the deck goes on on the next face.

use crate::context::Context;
use crate::keys::Key;
use crate::keys::bindings::KeyAction;
use crate::keys::layer::Layer;
use crate::screen::canvas::width;
use crossterm::event::{KeyCode, KeyModifiers};

/// Rows of keys.
pub const ROWS: usize = 3;

/// Keys of one hand in a row.
const HAND: usize = 5;

/// From this many columns on the labels of both hands fit.
const BOTH_HANDS: u16 = 130;

/// A key on a face.
#[derive(Clone, Debug)]
pub struct FaceKey {
    /// What is written for it.
    pub cap: String,
    /// What it does.
    pub action: KeyAction,
}

/// What the deck shows.
#[derive(Clone, Debug)]
pub struct Face {
    /// What is said of it.
    pub title: &'static str,
    /// What is held down with all of its keys.
    pub held: &'static str,
    /// Its keys, by rows; nothing where a place has no key.
    pub rows: [Vec<Option<FaceKey>>; ROWS],
    /// Whether the rows are those of the keyboard.
    pub is_keyboard: bool,
}

impl Face {
    /// Its keys.
    pub fn keys(&self) -> impl Iterator<Item = &FaceKey> {
        self.rows.iter().flatten().flatten()
    }
}

/// The faces in the layer that the keyboard is in, on a screen of so many columns.
#[must_use]
pub fn faces(context: &Context, cols: u16) -> Vec<Face> {
    let mut faces = Vec::new();
    let hands: &[(usize, usize)] = if cols >= BOTH_HANDS { &[(0, 2 * HAND)] } else { &[(0, HAND), (HAND, 2 * HAND)] };
    for (shift, title) in [(0, "keys"), (1, "with Shift")] {
        for &(first, end) in hands {
            let rows = [0, 1, 2].map(|row| (first..end).map(|column| letter(context, (row, column), shift)).collect());
            faces.push(Face { title, held: held_with_letters(context), rows, is_keyboard: true });
        }
    }
    for (title, held, keys) in lists(context) {
        let cap = keys.iter().map(|key| width(&key.cap) + 1 + width(label_of(&key.action))).max().unwrap_or(1);
        let each = usize::from((cols.saturating_sub(10) / (cap + 2)).max(1));
        for page in keys.chunks(each * ROWS) {
            let mut rows = [const { Vec::new() }; ROWS];
            for (index, key) in page.iter().enumerate() {
                rows[index / each].push(Some(key.clone()));
            }
            faces.push(Face { title, held, rows, is_keyboard: false });
        }
    }
    faces
}

fn held_with_letters(context: &Context) -> &'static str {
    if context.keyboard.layer == Layer::Write { "Alt+" } else { "" }
}

/// The key in a row and column of the deck, with Shift or without.
fn letter(context: &Context, (row, column): (usize, usize), shift: usize) -> Option<FaceKey> {
    let keymap = &context.keyboard.keymap;
    let c = keymap.keyboard().on_deck(row, column)[shift]?;
    let action = keymap.on_deck(c)?.clone();
    let cap = if shift == 0 { c.to_uppercase().to_string() } else { c.to_string() };
    Some(FaceKey { cap, action })
}

/// The keys that are on no face of letters, in groups: what is said of each, and what is held.
fn lists(context: &Context) -> Vec<(&'static str, &'static str, Vec<FaceKey>)> {
    let keymap = &context.keyboard.keymap;
    let layer = context.keyboard.layer;
    let on_letters = |c: char| {
        let deck = (0..ROWS).flat_map(|row| (0..2 * HAND).map(move |column| (row, column)));
        deck.into_iter().any(|(row, column)| keymap.keyboard().on_deck(row, column).contains(&Some(c)))
    };
    let (mut signs, mut ctrl, mut named) = (Vec::new(), Vec::new(), Vec::new());
    for (key, action) in keymap.bound(layer) {
        let other = key.mods - KeyModifiers::SHIFT;
        match key.code {
            KeyCode::Char(c) if on_letters(c) && !other.contains(KeyModifiers::CONTROL) => {}
            // In Shape, what works bare works with Alt too.
            KeyCode::Char(_) if other == KeyModifiers::ALT && layer == Layer::Shape => {}
            KeyCode::Char(_) if other == KeyModifiers::ALT || other.is_empty() => signs.push((key, action)),
            KeyCode::Char(_) if key.mods == KeyModifiers::CONTROL => ctrl.push((key, action)),
            _ => named.push((key, action)),
        }
    }
    // Terminals send the same for some signs and digits: the sign is enough.
    let signs_too = ctrl.clone();
    let has_sign =
        |(key, action): &(Key, KeyAction)| signs_too.iter().any(|(other, same)| other != key && same == action);
    ctrl.retain(|each| !(matches!(each.0.code, KeyCode::Char('0'..='9')) && has_sign(each)));
    let of = |keys: Vec<(Key, KeyAction)>, held: &str| {
        let mut keys: Vec<(u8, String, FaceKey)> = keys
            .into_iter()
            .map(|(key, action)| {
                let spelled = key.to_string();
                let cap = spelled.strip_prefix(held).map_or(spelled.clone(), str::to_owned);
                (rank(key), format!("{:>4}{}", cap.len(), cap), FaceKey { cap, action })
            })
            .collect();
        keys.sort_by(|one, other| (one.0, &one.1).cmp(&(other.0, &other.1)));
        keys.into_iter().map(|(.., key)| key).collect::<Vec<FaceKey>>()
    };
    let held = held_with_letters(context);
    let groups = [
        ("signs", held, of(signs, held)),
        ("with Ctrl", "Ctrl+", of(ctrl, "Ctrl+")),
        ("named keys", "", of(named, "")),
    ];
    groups.into_iter().filter(|(.., keys)| !keys.is_empty()).collect()
}

/// Function keys first, then the others by how many keys are held with them.
fn rank(key: Key) -> u8 {
    match key.code {
        KeyCode::F(number) => number,
        _ => 100 + key.mods.bits().count_ones() as u8,
    }
}

/// What the deck calls an action.
#[must_use]
pub fn label_of(action: &KeyAction) -> &str {
    match action {
        KeyAction::Verb(verb, _) => verb.label,
        KeyAction::Text(text) => text,
        KeyAction::Nothing => "",
    }
}

/// A label in so many cells, in whole words: the first ones go until the rest fits; nothing where not even the last fits.
#[must_use]
pub fn whole_words(label: &str, room: u16) -> &str {
    let mut rest = label;
    while width(rest) > room {
        // A sign for a direction says nothing by itself.
        match rest.split_once(' ') {
            Some((_, behind)) if behind.chars().count() > 1 => rest = behind,
            _ => return "",
        }
    }
    rest
}
