//! The lines of a recipe: which of them say something, and how far in.

use super::Mistake;

/// A line that says something.
#[derive(Clone, Copy, Debug)]
pub(super) struct SourceLine<'a> {
    /// Its number, from 1.
    pub number: usize,
    /// How many spaces, or tabs, it begins with.
    pub depth: usize,
    /// What it says, after its indentation.
    pub content: &'a str,
}

impl SourceLine<'_> {
    /// A mistake at the byte `at` of what the line says.
    pub fn mistake(&self, at: usize, why: impl Into<String>) -> Mistake {
        let characters = self.content[..self.content.floor_char_boundary(at)].chars().count();
        Mistake { line: self.number, column: self.depth + characters + 1, why: why.into() }
    }
}

/// The lines of `source` that say something, with what is wrong with their indentation. A byte-order mark is passed over.
pub(super) fn lines_of(source: &str) -> (Vec<SourceLine<'_>>, Vec<Mistake>) {
    let source = source.strip_prefix('\u{FEFF}').unwrap_or(source);
    let (mut lines, mut mistakes) = (Vec::new(), Vec::new());
    let mut first = None;
    for (index, line) in source.split('\n').enumerate() {
        let line = line.strip_suffix('\r').unwrap_or(line);
        let content = line.trim_start_matches([' ', '\t']);
        if is_silent(content) {
            continue;
        }
        let indentation = &line[..line.len() - content.len()];
        let number = index + 1;
        if let Some(c) = indentation.chars().next() {
            let kind = *first.get_or_insert(c);
            if let Some(at) = indentation.find(|c| c != kind) {
                let [has, other] = if kind == ' ' { ["spaces", "a tab"] } else { ["tabs", "a space"] };
                let why = format!("this recipe is indented with {has}, and here is {other}: one kind a file");
                mistakes.push(Mistake { line: number, column: at + 1, why });
            }
        }
        lines.push(SourceLine { number, depth: indentation.len(), content });
    }
    (lines, mistakes)
}

/// Whether a line that begins so after its indentation says nothing: it is blank, or a note.
pub(super) fn is_silent(content: &str) -> bool {
    content.trim().is_empty() || content.starts_with("//")
}
