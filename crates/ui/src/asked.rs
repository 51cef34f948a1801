//! What is to be asked of a person about language servers and commands.

use snarvel_servers::news::FileStep;
use snarvel_workspace::ids::ServerId;
use snarvel_workspace::meaning::candidate::Candidate;

/// What is asked.
#[derive(Debug)]
pub enum Asked {
    /// Whether a server may be started.
    MayServe(Box<Candidate>),
    /// What a server asks.
    Question {
        /// The server.
        server: ServerId,
        /// The number of its question.
        number: u64,
        /// What it asks.
        message: String,
        /// What can be answered.
        choices: Vec<String>,
    },
    /// Whether files may be renamed and deleted.
    MayChangeFiles(Vec<FileStep>),
    /// Whether commands may run in this folder: the first one.
    MayRunHere(String),
    /// Whether a command may lay texts out.
    MayFormat(String),
}
