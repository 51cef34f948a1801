//! What is asked of lines of comment, and how a language writes them.

use crate::languages::{BlockMarks, Fixed, Language};

/// What is done to the lines of a run.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum LineMarking {
    /// Off when every line is a comment, else on, once more where it is one already.
    Toggle,
    /// On, where it is not.
    On,
    /// Off, where it is.
    Off,
    /// Each line by itself: on where it is off, off where it is on.
    Flip,
}

/// How a language marks a whole line.
pub(super) enum Style<'a> {
    Mark(&'a [String], Option<&'a Fixed>),
    Wrap(&'a BlockMarks),
}

pub(super) fn style_of(language: &Language) -> Option<Style<'_>> {
    match (language.line.is_empty(), language.block.first()) {
        (false, _) => Some(Style::Mark(&language.line, language.fixed.as_ref())),
        (true, Some(marks)) => Some(Style::Wrap(marks)),
        (true, None) => None,
    }
}
