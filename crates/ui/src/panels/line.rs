//! A line that is typed into: its text and the caret in it.

use crate::keys::Key;
use crossterm::event::{KeyCode, KeyModifiers};
use unicode_segmentation::GraphemeCursor;

/// What a key did to a line that Enter ends and Esc leaves.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Entry {
    /// It was left.
    Left,
    /// It was ended, with something in it.
    Given,
    /// It is still typed into.
    Typing,
}

/// A line that is typed into.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct InputLine {
    /// What is in it.
    pub text: String,
    /// Where the caret is, in bytes; a cluster boundary.
    at: usize,
    /// Whether all of the text is selected.
    is_selected: bool,
}

impl InputLine {
    /// With `text` in it, the caret at its end.
    pub fn holding(text: impl Into<String>) -> InputLine {
        let text = text.into();
        InputLine { at: text.len(), text, is_selected: false }
    }

    /// With `text` in it, all of it selected: the first letter takes its place, a move edits it.
    pub fn selected(text: impl Into<String>) -> InputLine {
        let line = InputLine::holding(text);
        InputLine { is_selected: !line.text.is_empty(), ..line }
    }

    /// Whether all of its text is selected.
    #[must_use]
    pub fn is_selected(&self) -> bool {
        self.is_selected
    }

    /// Takes `text` in place of what is there.
    pub fn set(&mut self, text: impl Into<String>) {
        *self = InputLine::holding(text);
    }

    /// Puts `text` in at the caret.
    pub fn insert(&mut self, text: &str) {
        if std::mem::take(&mut self.is_selected) {
            *self = InputLine::default();
        }
        self.text.insert_str(self.at, text);
        self.at += text.len();
        // It may have grown into the cluster after it.
        self.at = self.boundary(self.at).unwrap_or_else(|| self.step(true));
    }

    /// What is before the caret, and from it on.
    pub fn parts(&self) -> (&str, &str) {
        self.text.split_at(self.at)
    }

    fn boundary(&self, at: usize) -> Option<usize> {
        let mut cursor = GraphemeCursor::new(at, self.text.len(), true);
        cursor.is_boundary(&self.text, 0).ok().filter(|is| *is).map(|_| at)
    }

    fn step(&self, is_forward: bool) -> usize {
        let mut cursor = GraphemeCursor::new(self.at, self.text.len(), true);
        let next = match is_forward {
            true => cursor.next_boundary(&self.text, 0),
            false => cursor.prev_boundary(&self.text, 0),
        };
        next.ok().flatten().unwrap_or(if is_forward { self.text.len() } else { 0 })
    }

    fn word_back(&self) -> usize {
        let before = self.text[..self.at].trim_end_matches(|c: char| !c.is_alphanumeric());
        before.trim_end_matches(char::is_alphanumeric).len()
    }

    fn remove(&mut self, from: usize, to: usize) -> bool {
        self.text.replace_range(from..to, "");
        self.at = from;
        from < to
    }

    /// Takes a key that ends the line, leaves it or edits it. An empty line cannot be ended.
    pub fn enter(&mut self, key: Key) -> Entry {
        match key.code {
            KeyCode::Esc => return Entry::Left,
            KeyCode::Enter if !self.text.is_empty() => return Entry::Given,
            _ => self.press(key),
        };
        Entry::Typing
    }

    /// Whether `key` is one that moves in a line or edits it.
    #[must_use]
    pub fn edits_with(key: Key) -> bool {
        let ctrl = key.mods == KeyModifiers::CONTROL;
        match key.code {
            KeyCode::Left | KeyCode::Right => key.mods.is_empty(),
            KeyCode::Home | KeyCode::End | KeyCode::Backspace | KeyCode::Delete => true,
            KeyCode::Char('u' | 'w') if ctrl => true,
            _ => key.typed().is_some(),
        }
    }

    /// Takes a key that moves in the line or edits it; whether its text is another one now. Where all of it is selected, what is typed
    /// takes its place.
    pub fn press(&mut self, key: Key) -> bool {
        let ctrl = key.mods == KeyModifiers::CONTROL;
        if self.is_selected && matches!(key.code, KeyCode::Backspace | KeyCode::Delete) {
            self.set("");
            return true;
        }
        self.is_selected &= key.typed().is_some() || !InputLine::edits_with(key);
        match (key.code, key.typed()) {
            (KeyCode::Left, _) if key.mods.is_empty() => self.at = self.step(false),
            (KeyCode::Right, _) if key.mods.is_empty() => self.at = self.step(true),
            (KeyCode::Home, _) => self.at = 0,
            (KeyCode::End, _) => self.at = self.text.len(),
            (KeyCode::Backspace, _) => return self.remove(self.step(false), self.at),
            (KeyCode::Delete, _) => return self.remove(self.at, self.step(true)),
            (KeyCode::Char('u'), None) if ctrl => return self.remove(0, self.text.len()),
            (KeyCode::Char('w'), None) if ctrl => return self.remove(self.word_back(), self.at),
            (_, Some(c)) => {
                self.insert(c.encode_utf8(&mut [0; 4]));
                return true;
            }
            _ => {}
        }
        false
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn keys_edit_at_the_caret_cluster_by_cluster() {
        let mut line = InputLine::holding("low tide");
        let press = |line: &mut InputLine, keys: &str| {
            for key in keys.split(' ') {
                line.press(Key::parse(key).unwrap());
            }
            (line.text.clone(), line.parts().0.to_owned())
        };
        assert_eq!(press(&mut line, "left left backspace"), ("low tde".to_owned(), "low t".to_owned()));
        assert_eq!(press(&mut line, "i right right"), ("low tide".to_owned(), "low tide".to_owned()));
        assert_eq!(press(&mut line, "ctrl+w"), ("low ".to_owned(), "low ".to_owned()));
        assert_eq!(press(&mut line, "home delete end x"), ("ow x".to_owned(), "ow x".to_owned()));
        line.set("e\u{301}a");
        assert_eq!(press(&mut line, "left left delete"), ("a".to_owned(), String::new()));
        line.insert("e");
        line.insert("\u{301}");
        assert_eq!(press(&mut line, "backspace ctrl+u"), (String::new(), String::new()));
        assert!(!line.press(Key::parse("backspace").unwrap()) && !line.press(Key::parse("left").unwrap()));
    }
}
