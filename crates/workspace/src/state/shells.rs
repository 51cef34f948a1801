//! Programs that run in terminals of their own.

use crate::ids::{BufferId, ShellId};
use crate::tasks::TaskHandle;
use snarvel_shell::places::Place;
use snarvel_shell::runners::{Runner, Table};
use snarvel_shell::session::{Exit, Session};
use std::path::PathBuf;
use std::time::Instant;

/// What a program is there for.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Purpose {
    /// The person's own shell.
    Shell,
    /// The shell of a language.
    Language(String),
    /// A command: a file that is run, a task.
    Command(String),
}

/// A program in a terminal of its own.
#[derive(Debug)]
pub struct Shell {
    /// What it is known by.
    pub id: ShellId,
    /// What it is called.
    pub name: String,
    /// What it is there for.
    pub purpose: Purpose,
    /// The program.
    pub session: Session,
    /// When it was started.
    pub began: Instant,
    /// How it has ended.
    pub exit: Option<Exit>,
    /// Rows and columns.
    pub size: [u16; 2],
    /// The places that its newest run has printed, in order.
    pub(crate) places: Vec<Place>,
    /// Lines that it is given once it has shown that it is there.
    pub(crate) waiting: Option<(Runner, String)>,
    /// Places in files that are not open are looked for.
    pub(crate) placing: Option<TaskHandle>,
}

impl Shell {
    /// Whether it still runs.
    #[must_use]
    pub fn is_running(&self) -> bool {
        self.exit.is_none()
    }
}

/// What is to be run.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Wanted {
    /// The person's own shell: one more.
    Shell,
    /// Lines, in the shell of their language.
    Lines {
        /// The name of the language.
        language: String,
        /// The lines.
        text: String,
    },
    /// A command.
    Command {
        /// What it is called.
        name: String,
        /// The command.
        command: String,
        /// Where it runs.
        folder: PathBuf,
    },
}

/// Programs that run in terminals of their own.
#[derive(Debug, Default)]
pub(crate) struct Shells {
    pub(crate) list: Vec<Shell>,
    /// Which of them is shown.
    pub(crate) shown: usize,
    /// Whether it is seen below the text while the text has the keys.
    pub(crate) is_seen: bool,
    /// The person's runners and tasks.
    pub(crate) table: Table,
    /// What is run once the person has said that commands may run here.
    pub(crate) pending: Option<Wanted>,
    /// What is run once a text is saved.
    pub(crate) after_save: Option<(BufferId, Wanted)>,
    /// The room that a terminal has: rows and columns.
    pub(crate) room: [u16; 2],
    /// The task that ran last.
    pub(crate) last_task: Option<String>,
    /// The program that F12 has asked about: a second press ends it.
    pub(crate) asked_to_end: Option<ShellId>,
    /// Texts that wait to be taken in: of which shell all text was asked for.
    pub(crate) copying: Option<ShellId>,
}
