//! What has happened to the workspace that panels may want to know.

use crate::ids::{BufferId, ServerId, ShellId};
use crate::meaning::candidate::Candidate;
use crate::meaning::finding::Finding;
use snarvel_index::store::Entry;
use snarvel_servers::news::FileStep;
use std::path::PathBuf;

/// Something that has happened.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Notice {
    /// This command is new in this folder: it runs where the person says so.
    MayRun(String),
    /// A command has failed: which, and what there is to say of it.
    Failed {
        /// The command.
        what: String,
        /// What there is to say.
        lines: Vec<String>,
    },
    /// This server may be started in this folder where the person says so.
    MayServe(Box<Candidate>),
    /// This command lays texts out where the person says so.
    MayFormat(String),
    /// A server wants to rename or delete these files.
    MayChangeFiles(Vec<FileStep>),
    /// A server asks something.
    ServerAsks {
        /// The server.
        server: ServerId,
        /// The number of its question.
        number: u64,
        /// What it asks.
        message: String,
        /// What can be answered.
        choices: Vec<String>,
    },
    /// Something was found about a name.
    Found(Box<Finding>),
    /// Names of the project that letters fit, for the question of that number.
    Names(u64, Vec<Entry>),
    /// What is wrong in files has changed.
    Faults,
    /// How servers are has changed.
    Servers,
    /// Commands may run in this folder where the person says so: the first one is this.
    MayRunHere(String),
    /// What a program in a terminal shows has changed.
    Shell(ShellId),
    /// The recipes that there are were read.
    Recipes,
    /// More is known of the structure of a text.
    Parsed(BufferId),
    /// Files of the project were replaced in, or put back: this is to be said.
    Replaced(String),
    /// This file was made.
    Created(PathBuf),
    /// Something was done to a file, or is being done: the path of what is there now, and what is to be said.
    Operated(Option<PathBuf>, String),
}
