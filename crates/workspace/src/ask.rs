//! What the workspace wants to know from a person before it goes on.

use crate::differences::Row;
use crate::ids::BufferId;
use std::path::PathBuf;

/// Something that waits until nothing would be lost by it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum PendingExit {
    /// Closing this text.
    Close(BufferId),
    /// Ending the program.
    Quit,
}

/// What a choice is about.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum AskAbout {
    /// Work left by a crash for a text.
    Recovery(BufferId),
    /// The file of a text holds something else than when it was opened.
    Outside(BufferId),
    /// A file of that name is there already.
    Over(BufferId, PathBuf),
    /// The file of a text may not be written.
    ReadOnly(BufferId),
}

impl AskAbout {
    /// The text that it is about.
    #[must_use]
    pub fn buffer(&self) -> BufferId {
        match self {
            AskAbout::Recovery(buffer)
            | AskAbout::Outside(buffer)
            | AskAbout::Over(buffer, _)
            | AskAbout::ReadOnly(buffer) => *buffer,
        }
    }
}

/// What was chosen.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Choice {
    /// What a crash left, or what the file holds now.
    Take,
    /// What a crash left is thrown away.
    Discard,
    /// What is here is written, whatever the file holds or its rights say.
    Write,
}

/// Two forms of a text to choose from.
#[derive(Debug)]
pub struct Comparison {
    /// What it is about.
    pub about: AskAbout,
    /// What is to be done after a save.
    pub then: Option<PendingExit>,
    /// What it says above.
    pub title: String,
    /// What differs.
    pub rows: Vec<Row>,
}

/// A question.
#[derive(Debug)]
pub enum Ask {
    /// Which of two forms of a text.
    Compare(Comparison),
    /// What is to become of changes that are not saved.
    Unsaved {
        /// What is about to happen.
        exit: PendingExit,
        /// The names of the texts.
        names: Vec<String>,
    },
    /// The name of the file that a text is saved to; and what is to be done then.
    Name(BufferId, Option<PendingExit>),
}

impl Ask {
    /// What is said in its place where something else is being asked; none where it waits until that is answered.
    #[must_use]
    pub fn said_instead(&self, name: &str) -> Option<String> {
        let why = match self {
            Ask::Compare(Comparison { about: AskAbout::Outside(_) | AskAbout::Over(..), .. }) => {
                "another program has written there, too"
            }
            Ask::Compare(Comparison { about: AskAbout::ReadOnly(_), .. }) => "its rights say that nobody writes it",
            _ => return None,
        };
        Some(format!("{name} is not saved: {why}; Ctrl+S asks"))
    }
}
