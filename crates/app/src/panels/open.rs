//! A file to open, by a few letters of its name.

use super::Answer;
use super::chooser::{Chooser, Order, Pressed};
use crate::keys::Key;
use crossterm::event::{KeyCode, KeyModifiers};
use std::path::PathBuf;

/// A file to open.
#[derive(Debug)]
pub struct Opening {
    /// All files to choose from.
    pub files: Vec<PathBuf>,
    /// The letters so far, and what they leave to choose from.
    pub chooser: Chooser,
}

impl Opening {
    /// All of `files` to choose from.
    pub fn of(files: Vec<PathBuf>) -> Opening {
        let mut opening = Opening { files, chooser: Chooser::new(Order::BestFirst) };
        opening.filter();
        opening
    }

    fn filter(&mut self) {
        self.chooser.filter(self.files.iter().map(|path| path.to_string_lossy()));
    }

    /// What Enter opens: the chosen file, else the path that was typed.
    pub fn target(&self) -> Option<PathBuf> {
        match self.chooser.index() {
            Some(index) => Some(self.files[index].clone()),
            None if self.chooser.line.text.is_empty() => None,
            None => Some(PathBuf::from(&self.chooser.line.text)),
        }
    }

    /// Takes a key.
    pub(super) fn press(&mut self, key: Key) -> Answer {
        match key.code {
            KeyCode::Tab => {
                if let Some(target) = self.target() {
                    self.chooser.line.text = target.to_string_lossy().into_owned();
                    self.filter();
                }
            }
            KeyCode::Enter if key.mods == KeyModifiers::ALT && !self.chooser.line.text.is_empty() => {
                return Answer::Open(PathBuf::from(&self.chooser.line.text));
            }
            KeyCode::Enter => return self.target().map_or(Answer::None, Answer::Open),
            _ => {
                if self.chooser.press(key) == Pressed::Typed {
                    self.filter();
                }
            }
        }
        Answer::None
    }

    /// Takes pasted text.
    pub(super) fn paste(&mut self, typed: &str) {
        self.chooser.line.text.push_str(typed);
        self.filter();
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::keys::keymap::Keymap;
    use crate::panels::Panel;

    #[test]
    fn letters_find_files_and_a_new_name_is_taken_as_it_is() {
        let files = ["berths.ts", "board.html", "gauges.rs", "tides.py"].map(PathBuf::from).to_vec();
        let keymap = Keymap::shipped(false);
        let mut panel = Panel::Open(Opening::of(files));
        "gs".chars().for_each(|c| drop(panel.press(Key::character(c), &keymap)));
        assert_eq!(panel.press(Key::parse("enter").unwrap(), &keymap), Answer::Open("gauges.rs".into()));
        "zz.txt".chars().for_each(|c| drop(panel.press(Key::character(c), &keymap)));
        assert_eq!(panel.press(Key::parse("enter").unwrap(), &keymap), Answer::Open("gszz.txt".into()));
        assert_eq!(panel.press(Key::parse("esc").unwrap(), &keymap), Answer::Left);
    }
}
