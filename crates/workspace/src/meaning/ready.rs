//! What edits make of texts: worked out in the background, before anything is changed.
//!
//! Edits of whole lines go through a comparison, so that cursors, pins and bookmarks stay with what is the same.

use crate::differences;
use crate::ids::BufferId;
use snarvel_core::changes::{Change, ChangeBuilder};
use snarvel_core::text::{LineEnd, Text};
use snarvel_core::units::Span;
use snarvel_files::loading::Opened;
use snarvel_servers::news::{Base, FileEdit, FileStep};
use std::path::{Path, PathBuf};

/// A text that is to be changed.
#[derive(Debug)]
pub(crate) enum Target {
    /// It is open.
    Open { id: BufferId, revision: u64 },
    /// It was read from the disk, or is a new one.
    Read { path: PathBuf, opened: Option<Box<Opened>> },
}

/// Edits that are worked out.
#[derive(Debug)]
pub struct Ready {
    pub(crate) parts: Vec<(Target, Change)>,
    pub(crate) steps: Vec<FileStep>,
}

/// What the edits of a file make of it: of its open text, where it is open.
///
/// # Errors
/// The file cannot be read, or has changed since the edits were made.
pub(crate) fn part(
    file: FileEdit,
    open: Option<(BufferId, u64, Text)>,
    steps: &[FileStep],
) -> Result<(Target, Change), String> {
    let name = name_of(&file.path);
    let changed = || format!("{name} has changed since");
    match (open, &file.base) {
        (Some((id, revision, text)), Base::Open(of)) => {
            if *of != revision {
                return Err(changed());
            }
            Ok((Target::Open { id, revision }, change_of(&text, &file.edits)))
        }
        // It was opened meanwhile: it may hold the same.
        (Some((id, revision, text)), Base::Disk(of)) => {
            if *of != text {
                return Err(changed());
            }
            Ok((Target::Open { id, revision }, change_of(&text, &file.edits)))
        }
        (None, Base::Open(_)) => Err(format!("{name} was closed meanwhile")),
        (None, Base::Disk(of)) => {
            let is_made = steps.iter().any(|step| matches!(step, FileStep::Create(path) if *path == file.path));
            if is_made {
                let target = Target::Read { path: file.path, opened: None };
                return Ok((target, change_of(of, &file.edits)));
            }
            let opened = Opened::read(&file.path).map_err(|error| error.to_string())?;
            let text = opened.loaded.as_ref().map(|loaded| loaded.text.clone()).unwrap_or_default();
            if text != *of {
                return Err(changed());
            }
            let change = change_of(&text, &file.edits);
            Ok((Target::Read { path: file.path, opened: Some(Box::new(opened)) }, change))
        }
    }
}

fn name_of(path: &Path) -> String {
    path.file_name().unwrap_or_default().to_string_lossy().into_owned()
}

/// What edits make of a text, as a change. Line ends become those of the text.
#[must_use]
pub fn change_of(text: &Text, edits: &[(Span, String)]) -> Change {
    let line_end = LineEnd::most_frequent(text);
    let is_over_lines = |span: Span| text.line_of(span.start) != text.line_of(span.end);
    let mut builder = ChangeBuilder::new(text);
    for (span, with) in edits {
        match line_end {
            LineEnd::CrLf => builder.replace(*span, &line_end.convert(&with.replace("\r\n", "\n"))),
            LineEnd::Lf => builder.replace(*span, with),
        }
    }
    let change = builder.finish();
    if !edits.iter().any(|(span, _)| is_over_lines(*span)) {
        return change;
    }
    let mut after = text.clone();
    after.apply(&change);
    tightened(text, &differences::change(text, &after))
}

/// The same change without what is the same at both ends of its edits, line by line where as many lines come as go.
fn tightened(text: &Text, change: &Change) -> Change {
    let mut builder = ChangeBuilder::new(text);
    for edit in change.edits() {
        let (removed, inserted) = (change.removed(edit), change.inserted(edit));
        let [gone, come]: [Vec<&str>; 2] = [removed, inserted].map(|text| text.split_inclusive('\n').collect());
        let pairs: Vec<(&str, &str)> = match gone.len() == come.len() {
            true => gone.into_iter().zip(come).collect(),
            false => vec![(removed, inserted)],
        };
        let mut at = edit.start();
        for (gone, come) in pairs {
            let start: usize =
                gone.chars().zip(come.chars()).take_while(|(a, b)| a == b).map(|(c, _)| c.len_utf8()).sum();
            let ends = gone[start..].chars().rev().zip(come[start..].chars().rev());
            let end: usize = ends.take_while(|(a, b)| a == b).map(|(c, _)| c.len_utf8()).sum();
            if gone != come {
                let span = Span::new(at + start, at + (gone.len() - end));
                builder.replace(span, &come[start..come.len() - end]);
            }
            at += gone.len();
        }
    }
    builder.finish()
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_core::units::Byte;

    #[test]
    fn edits_of_whole_texts_change_no_more_than_what_differs() {
        let text = Text::from("a = 1\r\nb=2\r\nc = 3\r\n");
        let change = change_of(&text, &[(text.span(), "a = 1\nb = 2\nc = 3\n".to_owned())]);
        let mut after = text.clone();
        after.apply(&change);
        assert_eq!(after.to_string(), "a = 1\r\nb = 2\r\nc = 3\r\n");
        let touched: usize = change.edits().iter().map(snarvel_core::changes::Edit::removed_len).sum();
        assert!(touched <= 6, "{touched} bytes touched");
        let one = change_of(&text, &[(Span::at(Byte(1)), "x".to_owned())]);
        assert_eq!(one.edits().len(), 1);
    }
}
