//! What is wrong in a file of configuration.

use snarvel_servers::table::Table;
use snarvel_workspace::offering::Told;
use std::fmt;
use std::path::{Path, PathBuf};

/// What is wrong in a file of settings, and where.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Problem {
    /// The file.
    pub file: PathBuf,
    /// The line, from 1; none where the file could not be read.
    pub line: Option<usize>,
    /// What is wrong, and what is allowed.
    pub what: String,
}

impl Problem {
    /// What is wrong in files of templates.
    #[must_use]
    pub fn of_templates(told: Vec<Told>) -> Vec<Problem> {
        told.into_iter().map(|Told { file, line, what }| Problem { file, line, what }).collect()
    }
}

impl Problem {
    /// The person's servers in the file at `path`, and what is wrong in it; no servers where there is no such file.
    #[must_use]
    pub fn of_servers(path: &Path) -> (Table, Vec<Problem>) {
        let told = |line: Option<usize>, what: String| Problem { file: path.to_owned(), line, what };
        let bytes = match snarvel_files::reading::read(path, snarvel_files::reading::SETTINGS) {
            Ok(bytes) => bytes,
            Err(error) if error.kind() == std::io::ErrorKind::NotFound => return (Table::default(), Vec::new()),
            Err(error) => return (Table::default(), vec![told(None, error.to_string())]),
        };
        let Ok(text) = String::from_utf8(bytes) else {
            return (Table::default(), vec![told(None, "it is no UTF-8".to_owned())]);
        };
        let lines = LineTable::of(&text);
        let (table, mistakes) = Table::read(&text);
        let problems =
            mistakes.into_iter().map(|mistake| told(Some(lines.line_of(mistake.at)), mistake.what)).collect();
        (table, in_order(problems))
    }
}

/// Problems of one file that are told at most.
const MOST_TOLD: usize = 100;

/// The problems of a file in the order of its lines, each once; the last one says how many are not told, where there are many.
#[must_use]
pub fn in_order(mut problems: Vec<Problem>) -> Vec<Problem> {
    problems.sort_by_key(|problem| problem.line);
    problems.dedup();
    if problems.len() > MOST_TOLD {
        let more = problems.len() - MOST_TOLD;
        problems.truncate(MOST_TOLD);
        let file = problems[0].file.clone();
        problems.push(Problem { file, line: None, what: format!("{more} more lines are wrong") });
    }
    problems
}

/// Where the lines of a text begin, to tell the line of a place. Cost: one pass, then logarithmic in the lines.
#[derive(Debug)]
pub struct LineTable {
    ends: Vec<usize>,
}

impl LineTable {
    /// Of `text`.
    #[must_use]
    pub fn of(text: &str) -> LineTable {
        LineTable { ends: text.bytes().enumerate().filter(|(_, byte)| *byte == b'\n').map(|(at, _)| at).collect() }
    }

    /// The line of the byte at `at`, from 1.
    #[must_use]
    pub fn line_of(&self, at: usize) -> usize {
        self.ends.partition_point(|end| *end < at) + 1
    }
}

impl fmt::Display for Problem {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        let name = self.file.file_name().map_or_else(|| self.file.to_string_lossy(), |name| name.to_string_lossy());
        match self.line {
            Some(line) => write!(out, "{name} line {line}: {}", self.what),
            None => write!(out, "{}: {}", self.file.display(), self.what),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lines_are_found_and_no_more_problems_told_than_help() {
        let table = LineTable::of("a\nbc\n\nd");
        assert_eq!([0, 1, 2, 4, 5, 6, 7].map(|at| table.line_of(at)), [1, 1, 2, 2, 3, 4, 4]);
        let problem =
            |line| Problem { file: PathBuf::from("settings.toml"), line: Some(line), what: "wrong".to_owned() };
        assert_eq!(in_order(vec![problem(3), problem(1), problem(3)]), [problem(1), problem(3)]);
        let told = in_order((0..20_000).rev().map(problem).collect());
        assert_eq!((told.len(), told[100].what.as_str()), (101, "19900 more lines are wrong"));
    }
}
