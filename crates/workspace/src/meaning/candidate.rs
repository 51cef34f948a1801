//! A server that can be started.

use snarvel_servers::life::Launch;

/// A server that can be started for a text.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Candidate {
    /// How it is started.
    pub launch: Launch,
    /// The title of the language that it is for.
    pub language: String,
}
