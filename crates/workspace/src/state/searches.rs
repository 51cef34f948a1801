//! What was looked for before.

use snarvel_core::search::pattern::{Case, Edges, Form};

/// What was looked for before.
#[derive(Debug, Default)]
pub struct SearchMemory {
    /// Patterns, the newest last.
    pub patterns: Vec<String>,
    /// The switches as they were left.
    pub switches: (Form, Case, Edges),
    /// Whether the whole project was searched last.
    pub is_in_project: bool,
}

/// How many patterns are remembered.
const MOST_PATTERNS: usize = 100;

impl SearchMemory {
    /// Remembers `pattern`.
    pub fn note(&mut self, pattern: &str) {
        if pattern.is_empty() {
            return;
        }
        self.patterns.retain(|each| each != pattern);
        self.patterns.push(pattern.to_owned());
        let dropped = self.patterns.len().saturating_sub(MOST_PATTERNS);
        self.patterns.drain(..dropped);
    }
}
