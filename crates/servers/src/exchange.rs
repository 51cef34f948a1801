//! What goes into a session and what comes out of it.

use crate::ask::Ask;
use crate::news::{FileFaults, News};
use serde_json::Value;
use snarvel_core::changes::Change;
use snarvel_core::text::Text;
use std::path::PathBuf;
use std::sync::Arc;

/// What happens to a session.
#[derive(Debug)]
pub enum Input {
    /// Its process runs.
    Started,
    /// Its process cannot be started; why.
    CannotStart(String),
    /// A message came.
    Message(Value),
    /// Something came that is no message, between messages that are.
    Garbled(String),
    /// Its process has ended, or can be read no more; why.
    Gone(String),
    /// A text is opened.
    Open {
        /// Its file.
        path: PathBuf,
        /// What the protocol calls its language.
        language: String,
        /// The text.
        text: Text,
        /// Its revision.
        revision: u64,
    },
    /// A text has changed, and is of that revision now.
    Change(PathBuf, Vec<Arc<Change>>, u64),
    /// A text is another one, of that revision.
    Replace(PathBuf, Text, u64),
    /// A text was saved.
    Saved(PathBuf),
    /// A text was closed.
    Close(PathBuf),
    /// Something is asked, by a number that the answer bears.
    Ask(u64, Ask),
    /// The answer of that number is not wanted any more.
    Cancel(u64),
    /// What became of edits that the server wanted.
    Applied(u64, Result<(), String>),
    /// What was chosen of what the server asked.
    Chosen(u64, Option<String>),
    /// Time has passed.
    Tick,
    /// It is to end.
    End,
}

/// What a session wants.
#[derive(Debug)]
pub enum Output {
    /// Send this message.
    Send(Value),
    /// Tell this.
    News(News),
    /// Tell what is wrong in a file.
    Faults(Box<FileFaults>),
    /// Start the process.
    Start,
    /// End the process, if it still runs.
    Stop,
    /// There is nothing more to come.
    Over,
}

/// What a server was started as.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Profile {
    /// Its name.
    pub name: String,
    /// The folder of the project.
    pub root: PathBuf,
    /// What it is told of its settings.
    pub settings: Value,
}
