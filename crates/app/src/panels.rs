//! Panels: what rises from the footline for a question, a name to type, a file to choose.
//!
//! A panel takes keys until it is done or left with Esc; what it decides it gives back as an [`Answer`].

use crate::keys::Key;
use crossterm::event::{KeyCode, KeyModifiers};
use nucleo_matcher::pattern::{CaseMatching, Normalization, Pattern};
use nucleo_matcher::{Config, Matcher, Utf32Str};
use snarvel_core::verbs::Verb;
use std::path::PathBuf;

/// What a question is about.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Matter {
    /// Closing the current file.
    Close,
    /// Ending the program.
    Quit,
}

/// What a panel has decided.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Answer {
    /// Nothing yet: it stays.
    None,
    /// Nothing: it goes.
    Left,
    /// Save what is unsaved, then go on.
    SaveAnd(Matter),
    /// Go on and lose what is unsaved.
    Discard(Matter),
    /// Open this file.
    Open(PathBuf),
    /// Run this verb with this argument.
    Run(&'static str, String),
    /// Write the current text here, then go on with what asked for it.
    SaveTo(PathBuf, Option<Matter>),
}

/// A panel.
#[derive(Debug)]
pub enum Panel {
    /// What to do with unsaved changes.
    Question(Question),
    /// A name to save under.
    SaveAs(SaveAs),
    /// A file to open.
    Open(Opening),
    /// What a verb is to work with.
    Argument(Argument),
}

/// What a verb is to work with.
#[derive(Debug)]
pub struct Argument {
    /// The verb.
    pub verb: &'static Verb,
    /// What was typed so far.
    pub line: Line,
}

/// What to do with unsaved changes.
#[derive(Debug)]
pub struct Question {
    /// What is about to happen.
    pub matter: Matter,
    /// The files with unsaved changes.
    pub names: Vec<String>,
}

/// A line that is typed.
#[derive(Debug, Default)]
pub struct Line {
    /// What stands in it.
    pub text: String,
}

impl Line {
    /// Takes a key that edits the line; whether it did.
    fn press(&mut self, key: Key) -> bool {
        match (key.code, key.typed()) {
            (KeyCode::Backspace, _) => self.text.pop().is_some(),
            (KeyCode::Char('u'), None) if key.mods == KeyModifiers::CONTROL => {
                self.text.clear();
                true
            }
            (_, Some(c)) => {
                self.text.push(c);
                true
            }
            _ => false,
        }
    }
}

/// A name to save under.
#[derive(Debug, Default)]
pub struct SaveAs {
    /// The path so far.
    pub line: Line,
    /// What is to happen afterwards.
    pub then: Option<Matter>,
}

/// A file to open.
#[derive(Debug)]
pub struct Opening {
    /// The letters so far.
    pub line: Line,
    /// All files to choose from.
    pub files: Vec<PathBuf>,
    /// Those that the letters fit, best first.
    pub shown: Vec<usize>,
    /// The chosen one of those shown.
    pub chosen: usize,
}

/// How many files the panel lists at most: more than anybody would look through.
pub const MOST_SHOWN: usize = 200;

impl Opening {
    /// All of `files` to choose from.
    pub fn of(files: Vec<PathBuf>) -> Opening {
        let mut opening = Opening { line: Line::default(), shown: Vec::new(), files, chosen: 0 };
        opening.filter();
        opening
    }

    fn filter(&mut self) {
        self.chosen = 0;
        if self.line.text.is_empty() {
            self.shown = (0..self.files.len().min(MOST_SHOWN)).collect();
            return;
        }
        let mut matcher = Matcher::new(Config::DEFAULT.match_paths());
        let pattern = Pattern::parse(&self.line.text, CaseMatching::Smart, Normalization::Smart);
        let mut buffer = Vec::new();
        let mut score = |index: usize| {
            let name = self.files[index].to_string_lossy();
            pattern.score(Utf32Str::new(&name, &mut buffer), &mut matcher).map(|score| (score, index))
        };
        let mut found: Vec<(u32, usize)> = (0..self.files.len()).filter_map(&mut score).collect();
        found.sort_by_key(|(score, index)| (std::cmp::Reverse(*score), *index));
        self.shown = found.into_iter().take(MOST_SHOWN).map(|(_, index)| index).collect();
    }

    /// What Enter opens: the chosen file, else the path that was typed.
    pub fn target(&self) -> Option<PathBuf> {
        match self.shown.get(self.chosen) {
            Some(&index) => Some(self.files[index].clone()),
            None if self.line.text.is_empty() => None,
            None => Some(PathBuf::from(&self.line.text)),
        }
    }
}

impl Panel {
    /// Presses a key in it.
    pub fn press(&mut self, key: Key) -> Answer {
        if key.code == KeyCode::Esc {
            return Answer::Left;
        }
        match self {
            Panel::Question(question) => match key.typed() {
                Some('s') => Answer::SaveAnd(question.matter),
                Some('d') => Answer::Discard(question.matter),
                _ => Answer::None,
            },
            Panel::SaveAs(save) => match key.code {
                KeyCode::Enter if !save.line.text.is_empty() => {
                    Answer::SaveTo(PathBuf::from(&save.line.text), save.then)
                }
                _ => {
                    save.line.press(key);
                    Answer::None
                }
            },
            Panel::Open(opening) => open_key(opening, key),
            Panel::Argument(argument) => match key.code {
                // One character is one key.
                _ if argument.verb.argument == "a character" => match key.typed() {
                    Some(c) => Answer::Run(argument.verb.name, c.to_string()),
                    None => Answer::None,
                },
                KeyCode::Enter if !argument.line.text.is_empty() => {
                    Answer::Run(argument.verb.name, argument.line.text.clone())
                }
                _ => {
                    argument.line.press(key);
                    Answer::None
                }
            },
        }
    }

    /// Puts pasted text into the line that is typed.
    pub fn paste(&mut self, text: &str) {
        let typed = text.lines().next().unwrap_or("").to_owned();
        match self {
            Panel::Question(_) => {}
            Panel::SaveAs(save) => save.line.text.push_str(&typed),
            Panel::Argument(argument) => argument.line.text.push_str(&typed),
            Panel::Open(opening) => {
                opening.line.text.push_str(&typed);
                opening.filter();
            }
        }
    }
}

fn open_key(opening: &mut Opening, key: Key) -> Answer {
    let last = opening.shown.len().saturating_sub(1);
    match key.code {
        KeyCode::Up => opening.chosen = opening.chosen.saturating_sub(1),
        KeyCode::Down => opening.chosen = (opening.chosen + 1).min(last),
        KeyCode::Tab => {
            if let Some(target) = opening.target() {
                opening.line.text = target.to_string_lossy().into_owned();
                opening.filter();
            }
        }
        KeyCode::Enter if key.mods == KeyModifiers::ALT && !opening.line.text.is_empty() => {
            return Answer::Open(PathBuf::from(&opening.line.text));
        }
        KeyCode::Enter => return opening.target().map_or(Answer::None, Answer::Open),
        _ => {
            if opening.line.press(key) {
                opening.filter();
            }
        }
    }
    Answer::None
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn letters_find_files_and_a_new_name_is_taken_as_it_is() {
        let files = ["berths.ts", "board.html", "gauges.rs", "tides.py"].map(PathBuf::from).to_vec();
        let mut panel = Panel::Open(Opening::of(files));
        "gs".chars().for_each(|c| drop(panel.press(Key::character(c))));
        assert_eq!(panel.press(Key::parse("enter").unwrap()), Answer::Open("gauges.rs".into()));
        "zz.txt".chars().for_each(|c| drop(panel.press(Key::character(c))));
        assert_eq!(panel.press(Key::parse("enter").unwrap()), Answer::Open("gszz.txt".into()));
        assert_eq!(panel.press(Key::parse("esc").unwrap()), Answer::Left);
    }
}
