//! The keys file: `keys.toml` in the configuration folder. Each of its lines binds a key.
//!
//! ```toml
//! "v" = "delete-lines"                    # a key of the deck: bare in Shape, with Alt in both layers
//! "ctrl+k" = "split-at(/, /)"             # a verb with its argument
//! "f10" = { text = "// the duty pilot: " } # text
//! "ctrl+e" = "none"                       # nothing
//! ```
//!
//! Every line is by itself: a wrong one is told with its number, the others are in force.

use super::key::Key;
use super::keyboard::Keyboard;
use super::script::verb_call;
use crate::problem::{LineTable, Problem, in_order};
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_core::written::entries;
use snarvel_files::reading;
use snarvel_workspace::registry::Verb;
use std::path::Path;
use toml::de::DeValue;

/// What a key does.
#[derive(Clone, Debug)]
pub enum KeyAction {
    /// It runs a verb, with an argument where that is not empty.
    Verb(&'static Verb, String),
    /// It types a text.
    Text(String),
    /// It does nothing.
    Nothing,
}

impl Eq for KeyAction {}

impl PartialEq for KeyAction {
    fn eq(&self, other: &KeyAction) -> bool {
        match (self, other) {
            (KeyAction::Verb(one, argument), KeyAction::Verb(other, other_argument)) => {
                one.name == other.name && argument == other_argument
            }
            (KeyAction::Text(one), KeyAction::Text(other)) => one == other,
            (KeyAction::Nothing, KeyAction::Nothing) => true,
            _ => false,
        }
    }
}

/// A key and what it does.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Binding {
    /// The key. One that types a character is a key of the deck.
    pub key: Key,
    /// What it does.
    pub action: KeyAction,
}

/// What a person has changed.
#[derive(Clone, Debug, Default)]
pub struct Bindings {
    /// The keyboard, where the file says which.
    pub keyboard: Option<Keyboard>,
    /// Keys, in the order of the file.
    pub list: Vec<Binding>,
}

/// The setting that says which keyboard it is.
const KEYBOARD: &str = "keyboard";

/// Reads `text`, the contents of `file`.
pub fn parse(text: &str, file: &Path) -> (Bindings, Vec<Problem>) {
    let (table, mistakes) = entries(text);
    let lines_of_text = LineTable::of(text);
    let line_of = |at: usize| lines_of_text.line_of(at);
    let problem = |at: usize, what: String| Problem { file: file.to_owned(), line: Some(line_of(at)), what };
    let mut problems: Vec<Problem> = mistakes.into_iter().map(|mistake| problem(mistake.at, mistake.what)).collect();
    let mut bindings = Bindings::default();
    let mut lines: Vec<(Key, usize)> = Vec::new();
    let mut sorted: Vec<_> = table.get_ref().iter().collect();
    sorted.sort_by_key(|(name, _)| name.span().start);
    for (name, value) in sorted {
        let (spelled, at) = (name.get_ref().as_ref(), name.span().start);
        if spelled == KEYBOARD {
            let known = value.get_ref().as_str().and_then(keyboard_called);
            bindings.keyboard = known;
            if known.is_none() {
                problems.push(problem(at, format!("{KEYBOARD} is {}", keyboard_names())));
            }
            continue;
        }
        match key(spelled).and_then(|key| Ok(Binding { key, action: action(value.get_ref())? })) {
            Ok(binding) => {
                if let Some((_, line)) = lines.iter().find(|(key, _)| *key == binding.key) {
                    problems
                        .push(problem(at, format!("{spelled} is bound in line {line} already: one of them has to go")));
                    continue;
                }
                lines.push((binding.key, line_of(at)));
                bindings.list.push(binding);
            }
            Err(why) => problems.push(problem(at, format!("{spelled}: {why}"))),
        }
    }
    (bindings, in_order(problems))
}

/// The bindings in the file at `path`; none where there is no such file.
pub fn read(path: &Path) -> (Bindings, Vec<Problem>) {
    match reading::read(path, reading::SETTINGS) {
        Ok(bytes) => parse(&String::from_utf8_lossy(&bytes), path),
        Err(error) if error.kind() == std::io::ErrorKind::NotFound => (Bindings::default(), Vec::new()),
        Err(error) => {
            let what = format!("cannot be read: {error}; the shipped keys are in force");
            (Bindings::default(), vec![Problem { file: path.to_owned(), line: None, what }])
        }
    }
}

/// The keyboard that settings call `name`.
pub fn keyboard_called(name: &str) -> Option<Keyboard> {
    Keyboard::ALL.iter().find(|(known, _)| *known == name).map(|(_, keyboard)| *keyboard)
}

/// What settings call keyboards.
pub fn keyboard_names() -> String {
    Keyboard::ALL.map(|(name, _)| format!("{name:?}")).join(", ")
}

/// Reads a key that may be bound. A character with Alt is the key of the deck.
fn key(spelled: &str) -> Result<Key, String> {
    let key = Key::parse(spelled).ok_or("no such key: d, alt+d, ctrl+k, shift+up, f5 are keys")?;
    let lower = spelled.to_ascii_lowercase();
    let held = KeyModifiers::CONTROL;
    if key.mods.contains(held) && lower.contains("shift+") && matches!(key.code, KeyCode::Char(c) if c != ' ') {
        return Err("a terminal sends the same with Shift and without after Ctrl".to_owned());
    }
    if let Some(why) = never_arrives(key) {
        return Err(why.to_owned());
    }
    if lower.contains("alt+") && needs_enhanced(key) {
        return Err("after Alt it begins an escape sequence; without alt+ it is bound in Shape".to_owned());
    }
    Ok(of_deck(key))
}

/// The key of the deck that `key` is with Alt; other keys are themselves.
pub fn of_deck(key: Key) -> Key {
    match key.code {
        KeyCode::Char(_) if key.mods == KeyModifiers::ALT => Key { mods: KeyModifiers::NONE, ..key },
        _ => key,
    }
}

/// Why a key cannot be bound: because no terminal sends it as itself, or because it has to stay what it is.
pub fn never_arrives(key: Key) -> Option<&'static str> {
    let only_ctrl = key.mods == KeyModifiers::CONTROL;
    match key.code {
        KeyCode::Char('h') if only_ctrl => Some("a terminal sends Backspace for it"),
        KeyCode::Char('i') if only_ctrl => Some("a terminal sends Tab for it"),
        KeyCode::Char('j') if only_ctrl => Some("a terminal sends a line feed for it"),
        KeyCode::Char('m') if only_ctrl => Some("a terminal sends Enter for it"),
        KeyCode::Char('[') if key.mods.contains(KeyModifiers::CONTROL) => Some("a terminal sends Esc for it"),
        KeyCode::Char(c) if key.mods.contains(KeyModifiers::CONTROL) && !has_control(c) => {
            Some("a terminal sends it without Ctrl")
        }
        KeyCode::Char('0'..='9') if (key.mods - KeyModifiers::ALT).is_empty() => Some("digits are the repeat count"),
        KeyCode::Char(' ') if key.mods.is_empty() => None,
        KeyCode::Esc => Some("Esc steps back, always"),
        KeyCode::Enter | KeyCode::Tab | KeyCode::Backspace if key.mods.contains(KeyModifiers::CONTROL) => {
            Some("a terminal sends it without Ctrl")
        }
        KeyCode::Enter | KeyCode::Tab | KeyCode::Backspace | KeyCode::Delete if key.mods.is_empty() => {
            Some("it writes, always")
        }
        KeyCode::F(3) if !key.mods.is_empty() => Some("a terminal sends the report of a place for it"),
        _ => None,
    }
}

/// Whether a terminal has a control character for Ctrl with `c` (ECMA-48, and what is usual beside it).
fn has_control(c: char) -> bool {
    c.is_ascii_lowercase() || matches!(c, ' ' | ']' | '\\' | '/' | '^' | '_' | '4'..='7')
}

/// Keys of the deck that begin escape sequences after Alt: an ordinary terminal swallows the next key.
pub const NOT_BEHIND_ALT: &[char] = &['O', '[', ']'];

/// Whether a key arrives only where the terminal keeps keys and escape sequences apart.
pub fn needs_enhanced(key: Key) -> bool {
    let is_letter = |c: char| NOT_BEHIND_ALT.contains(&c);
    key.mods.contains(KeyModifiers::ALT) && matches!(key.code, KeyCode::Char(c) if is_letter(c))
}

fn action(value: &DeValue) -> Result<KeyAction, String> {
    if let Some(call) = value.as_str() {
        return called(call);
    }
    let text = value.as_table().filter(|table| table.len() == 1).and_then(|table| {
        let (name, text) = table.iter().next()?;
        (name.get_ref().as_ref() == "text").then(|| text.get_ref().as_str()).flatten()
    });
    match text {
        Some(text) if !text.is_empty() => Ok(KeyAction::Text(text.to_owned())),
        _ => Err("it is bound to \"a-verb\", \"a-verb(argument)\", \"none\" or { text = \"…\" }".to_owned()),
    }
}

/// Reads `verb`, `verb(argument)` or `none`.
fn called(call: &str) -> Result<KeyAction, String> {
    if call == "none" {
        return Ok(KeyAction::Nothing);
    }
    verb_call(call).map(|(verb, argument)| KeyAction::Verb(verb, argument))
}

/// The contents of a keys file that holds `text`, with `key` bound to `action`, or back as shipped where it is none; comments
/// and the other lines stay.
///
/// # Errors
/// The file is no TOML: it has to be mended first.
pub fn with(text: &str, key: Key, action: Option<&KeyAction>) -> Result<String, String> {
    let mut document: toml_edit::DocumentMut = text
        .parse()
        .map_err(|error: toml_edit::TomlError| error.message().lines().next().unwrap_or("it is no TOML").to_owned())?;
    let same: Vec<String> = document
        .iter()
        .map(|(name, _)| name.to_owned())
        .filter(|name| Key::parse(name).map(of_deck) == Some(key))
        .collect();
    for name in same {
        document.remove(&name);
    }
    let value = match action {
        None => return Ok(document.to_string()),
        Some(KeyAction::Nothing) => toml_edit::value("none"),
        Some(KeyAction::Verb(verb, argument)) if argument.is_empty() => toml_edit::value(verb.name),
        Some(KeyAction::Verb(verb, argument)) => toml_edit::value(format!("{}({argument})", verb.name)),
        Some(KeyAction::Text(text)) => {
            let mut table = toml_edit::InlineTable::new();
            table.insert("text", text.as_str().into());
            toml_edit::value(table)
        }
    };
    document.insert(&spelled(key), value);
    Ok(document.to_string())
}

/// `key` as the keys file spells it.
fn spelled(key: Key) -> String {
    let name = key.to_string().replace("Page Up", "pgup").replace("Page Down", "pgdn");
    match key.code {
        KeyCode::Char(c) if key.mods.is_empty() && c != ' ' => c.to_string(),
        _ => name.to_lowercase(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_workspace::registry::by_name;

    fn told(text: &str) -> (Bindings, Vec<String>) {
        let (bindings, problems) = parse(text, Path::new("/home/pilot/keys.toml"));
        (bindings, problems.iter().map(ToString::to_string).collect())
    }

    #[test]
    fn verbs_arguments_text_and_nothing_are_bound() {
        let text = "keyboard = \"dvorak\"\n\"alt+v\" = \"delete-lines\"\n\"ctrl+k\" = \"split-at(/, (x)/)\"\nf10 = { text = \"pilot\" }\n\"shift+up\" = \"none\"\n";
        let (bindings, problems) = told(text);
        assert_eq!(problems, [""; 0]);
        assert_eq!(bindings.keyboard, Some(Keyboard::Dvorak));
        let deeds: Vec<&KeyAction> = bindings.list.iter().map(|binding| &binding.action).collect();
        assert!(
            matches!(deeds[0], KeyAction::Verb(verb, argument) if verb.name == "delete-lines" && argument.is_empty())
        );
        assert!(
            matches!(deeds[1], KeyAction::Verb(verb, argument) if verb.name == "split-at" && argument == "/, (x)/")
        );
        assert_eq!([deeds[2], deeds[3]], [&KeyAction::Text("pilot".to_owned()), &KeyAction::Nothing]);
        assert_eq!(bindings.list[0].key, Key::character('v'));
    }

    #[test]
    fn what_is_wrong_says_where_and_leaves_the_rest_in_force() {
        let rows = [
            ("\"hyper+d\" = \"undo\"", "keys.toml line 2: hyper+d: no such key"),
            ("\"ctrl+i\" = \"undo\"", "keys.toml line 2: ctrl+i: a terminal sends Tab for it"),
            ("\"ctrl+shift+d\" = \"undo\"", "keys.toml line 2: ctrl+shift+d: a terminal sends the same"),
            ("\"alt+O\" = \"undo\"", "keys.toml line 2: alt+O: after Alt it begins an escape sequence"),
            ("\"ctrl+1\" = \"undo\"", "keys.toml line 2: ctrl+1: a terminal sends it without Ctrl"),
            ("\"3\" = \"undo\"", "keys.toml line 2: 3: digits are the repeat count"),
            ("\"esc\" = \"undo\"", "keys.toml line 2: esc: Esc steps back"),
            ("\"f5\" = \"un-do\"", "keys.toml line 2: f5: no verb is called \"un-do\""),
            ("\"f5\" = \"undo(1)\"", "keys.toml line 2: f5: undo takes no argument"),
            ("\"f5\" = 3", "keys.toml line 2: f5: it is bound to"),
            ("\"v\" = \"undo\"\n\"alt+v\" = \"redo\"", "keys.toml line 3: alt+v is bound in line 2 already"),
            ("keyboard = \"abc\"", "keys.toml line 2: keyboard is \"qwerty\", \"qwertz\""),
            ("= =", "keys.toml line 2: "),
        ];
        for (line, expected) in rows {
            let (bindings, problems) = told(&format!("\"f9\" = \"undo\"\n{line}\n"));
            assert!(problems.iter().any(|problem| problem.starts_with(expected)), "{line}: {problems:?}");
            assert!(bindings.list.iter().any(|binding| binding.key == Key::parse("f9").unwrap()), "{line}");
        }
    }

    #[test]
    fn a_key_is_bound_in_the_file_and_the_rest_of_it_stays() {
        let undo = KeyAction::Verb(by_name("undo").unwrap(), String::new());
        let text = "# my keys\n\"alt+v\" = \"redo\" # often\nf10 = \"save\"\n";
        let bound = with(text, Key::character('v'), Some(&undo)).unwrap();
        assert_eq!(bound, "# my keys\nf10 = \"save\"\nv = \"undo\"\n".replace("# my keys\n", ""));
        let (bindings, problems) =
            told(&with(&bound, Key::parse("shift+pgup").unwrap(), Some(&KeyAction::Nothing)).unwrap());
        assert_eq!((bindings.list.len(), problems.len()), (3, 0));
        assert_eq!(with(&bound, Key::parse("f10").unwrap(), None).unwrap(), "v = \"undo\"\n");
        assert!(with("= =", Key::character('v'), None).is_err());
        for key in ["v", "V", "ctrl+k", "shift+f5", "space", "alt+up", "\"", "\\"] {
            let key = Key::parse(key).unwrap();
            let (bindings, problems) = told(&with("", key, Some(&undo)).unwrap());
            assert_eq!((bindings.list.first().map(|each| each.key), problems.len()), (Some(key), 0), "{key}");
        }
    }
}
