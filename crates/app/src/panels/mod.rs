//! Panels: what rises from the footline for a question, a name to type, a file to choose.
//!
//! A panel takes keys until it is done or left with Esc; what it decides it gives back as an [`Answer`].

pub mod chooser;
pub mod open;
pub mod outline;
pub mod roster;
pub mod shelf;
pub mod trail;

use crate::keys::Key;
use crate::keys::keymap::Keymap;
use crossterm::event::{KeyCode, KeyModifiers};
use open::Opening;
use outline::OutlinePanel;
use roster::RosterPanel;
use shelf::ShelfPanel;
use snarvel_core::history::StepId;
use snarvel_core::verbs::Verb;
use snarvel_core::verbs::clip::Clip;
use std::path::PathBuf;
use std::sync::Arc;
use trail::TrailPanel;

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
    /// Go, and take this key as if there had been no panel.
    PassOn(Key),
    /// Copy this clip again and paste it.
    Paste(Arc<Clip>),
    /// Copy this clip again.
    Copy(Arc<Clip>),
    /// Take this clip off the shelf; the panel stays.
    DropClip(usize),
    /// Look at this state of the text; the panel stays.
    Look(StepId),
    /// Go to this state of the text.
    GoToStep(StepId),
    /// Make this cursor the primary one; the panel stays.
    Lead(usize),
    /// Show this line without going there; the panel stays.
    ShowLine(snarvel_core::units::Line),
    /// Go to this line.
    GoToLine(snarvel_core::units::Line),
    /// Keep only these cursors.
    Keep(Vec<usize>),
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
    /// What was copied of late.
    Shelf(ShelfPanel),
    /// The history.
    Trail(TrailPanel),
    /// What the text consists of.
    Outline(OutlinePanel),
    /// All cursors.
    Roster(RosterPanel),
    /// Something to be told; any key goes on.
    Notice(Notice),
}

/// Something to be told.
#[derive(Debug)]
pub struct Notice {
    /// What it is about.
    pub title: String,
    /// What there is to say.
    pub lines: Vec<String>,
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

impl Panel {
    /// Presses a key in it. `keymap` is for what can be done in a text that the panel shows.
    pub fn press(&mut self, key: Key, keymap: &Keymap) -> Answer {
        match self {
            Panel::Shelf(shelf) => return shelf.press(key, keymap),
            _ if key.code == KeyCode::Esc => return Answer::Left,
            _ => {}
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
            Panel::Open(opening) => opening.press(key),
            Panel::Shelf(shelf) => shelf.press(key, keymap),
            Panel::Trail(trail) => trail.press(key),
            Panel::Roster(roster) => roster.press(key),
            Panel::Outline(outline) => outline.press(key),
            Panel::Notice(_) => Answer::PassOn(key),
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
            Panel::Question(_) | Panel::Notice(_) => {}
            Panel::SaveAs(save) => save.line.text.push_str(&typed),
            Panel::Argument(argument) => argument.line.text.push_str(&typed),
            Panel::Open(opening) => opening.paste(&typed),
            Panel::Shelf(shelf) => shelf.paste(&typed),
            Panel::Trail(trail) => trail.paste(&typed),
            Panel::Roster(roster) => roster.paste(&typed),
            Panel::Outline(outline) => outline.paste(&typed),
        }
    }
}
