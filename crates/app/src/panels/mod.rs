//! Panels: what rises from the footline for a question, a name to type, a file to choose.
//!
//! A panel takes keys until it is done or left with Esc; what it decides it gives back as an [`Answer`].

pub mod chooser;
pub mod diff;
pub mod files;
pub mod line;
pub mod lookup;
pub mod open;
pub mod outline;
pub mod roster;
pub mod shelf;
pub mod sift;
pub mod trail;

use crate::keys::Key;
use crate::keys::bindings::Binding;
use crate::keys::keymap::Keymap;
use crossterm::event::KeyCode;
use diff::DiffPanel;
use files::FilesPanel;
pub use line::Line;
use lookup::LookupPanel;
use open::Opening;
use outline::OutlinePanel;
use roster::RosterPanel;
use shelf::ShelfPanel;
use sift::{SiftPanel, Wanted};
use snarvel_core::history::StepId;
use snarvel_core::verbs::Verb;
use snarvel_core::verbs::clip::Clip;
use snarvel_files::folder::Which;
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
    /// Take the bookmark off this line; the panel stays.
    ClearBookmark(snarvel_core::units::Line),
    /// Run this verb, asking for what it works with where it needs that.
    Verb(&'static str),
    /// Bind these keys; the panel stays.
    Bind(Vec<Binding>),
    /// All keys as shipped; the panel stays.
    ResetKeys,
    /// Offer these files; the panel stays.
    Walk(Which),
    /// Do this to a file; the panel stays.
    Files(files::Deed),
    /// This of two forms of a text.
    Choose(diff::Choice),
    /// Draw the keys into this file.
    Sheet(PathBuf),
    /// Do what sift wants; the panel stays unless that says otherwise.
    Sift(Wanted),
}

/// A panel.
#[derive(Debug)]
pub enum Panel {
    /// What to do with unsaved changes.
    Question(Question),
    /// A name to save under.
    SaveAs(SaveAs),
    /// A file to open.
    Open(Box<Opening>),
    /// What a verb is to work with.
    Argument(Argument),
    /// What was copied of late.
    Shelf(ShelfPanel),
    /// The history.
    Trail(TrailPanel),
    /// What the text consists of.
    Outline(OutlinePanel),
    /// Two forms of a text.
    Diff(DiffPanel),
    /// The files of the folder.
    Files(Box<FilesPanel>),
    /// A verb to look up.
    Lookup(Box<LookupPanel>),
    /// The name of the file for the key sheet.
    Sheet(Line),
    /// What is looked for.
    Sift(Box<SiftPanel>),
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
            Panel::Lookup(lookup) => return lookup.press(key, keymap),
            Panel::Files(files) => return files.press(key),
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
            Panel::Shelf(_) | Panel::Lookup(_) | Panel::Files(_) => Answer::None,
            Panel::Sheet(line) => match key.code {
                KeyCode::Enter if !line.text.is_empty() => Answer::Sheet(PathBuf::from(&line.text)),
                _ => {
                    line.press(key);
                    Answer::None
                }
            },
            Panel::Diff(diff) => diff.press(key),
            Panel::Trail(trail) => trail.press(key),
            Panel::Roster(roster) => roster.press(key),
            Panel::Outline(outline) => outline.press(key),
            Panel::Sift(sift) => sift.press(key),
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
    pub fn paste(&mut self, text: &str) -> Answer {
        let typed = text.lines().next().unwrap_or("").to_owned();
        match self {
            Panel::Question(_) | Panel::Notice(_) | Panel::Diff(_) => {}
            Panel::SaveAs(save) => save.line.insert(&typed),
            Panel::Argument(argument) => argument.line.insert(&typed),
            Panel::Open(opening) => opening.paste(&typed),
            Panel::Shelf(shelf) => shelf.paste(&typed),
            Panel::Trail(trail) => trail.paste(&typed),
            Panel::Roster(roster) => roster.paste(&typed),
            Panel::Outline(outline) => return outline.paste(&typed),
            Panel::Files(files) => files.paste(&typed),
            Panel::Lookup(lookup) => lookup.paste(&typed),
            Panel::Sheet(line) => line.insert(&typed),
            Panel::Sift(sift) => return sift.paste(&typed),
        }
        Answer::None
    }
}
