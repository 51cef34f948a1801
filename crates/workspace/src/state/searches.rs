//! What was looked for before.

use serde::{Deserialize, Serialize};
use snarvel_core::search::pattern::{Case, Edges, Form};

/// A pattern that was looked for, and how it was matched.
#[derive(Clone, Debug, Default, Deserialize, PartialEq, Eq, Serialize)]
#[serde(from = "StoredSearch")]
pub struct PastSearch {
    /// What was typed.
    pub pattern: String,
    /// How it was read.
    pub form: Form,
    /// Upper and lower case.
    pub case: Case,
    /// Whole words.
    pub edges: Edges,
}

/// A search as a session has it: older versions stored the pattern alone.
#[derive(Deserialize)]
#[serde(untagged)]
enum StoredSearch {
    Pattern(String),
    Whole { pattern: String, form: Form, case: Case, edges: Edges },
}

impl From<StoredSearch> for PastSearch {
    fn from(stored: StoredSearch) -> PastSearch {
        match stored {
            StoredSearch::Pattern(pattern) => PastSearch { pattern, ..PastSearch::default() },
            StoredSearch::Whole { pattern, form, case, edges } => PastSearch { pattern, form, case, edges },
        }
    }
}

/// What was looked for before.
#[derive(Debug, Default)]
pub struct SearchMemory {
    /// Searches, the newest last.
    pub past: Vec<PastSearch>,
    /// Whether the whole project was searched last.
    pub is_in_project: bool,
}

/// How many searches are remembered.
const MOST_SEARCHES: usize = 100;

impl SearchMemory {
    /// Remembers `search` as the newest; the same pattern is remembered once.
    pub fn note(&mut self, search: PastSearch) {
        if search.pattern.is_empty() {
            return;
        }
        self.past.retain(|each| each.pattern != search.pattern);
        self.past.push(search);
        let dropped = self.past.len().saturating_sub(MOST_SEARCHES);
        self.past.drain(..dropped);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn sessions_of_older_versions_are_read() {
        let old: Vec<PastSearch> = serde_json::from_str(r#"["tide"]"#).unwrap();
        assert_eq!(old, [PastSearch { pattern: "tide".to_owned(), ..PastSearch::default() }]);
        let new = PastSearch { pattern: "t.de".to_owned(), form: Form::Expression, ..PastSearch::default() };
        let text = serde_json::to_string(&new).unwrap();
        assert_eq!(serde_json::from_str::<PastSearch>(&text).unwrap(), new);
    }
}
