//! Marks inside a comment: escaped by a backslash, so that they end nothing, and unescaped again.
//!
//! A closing mark gets a backslash after its first character, a mark that has backslashes there one more:
//! `*/` becomes `*\/`, `*\/` becomes `*\\/`. Taking one away from each gives back the first text. In markup it
//! is every `--`, since none may be in a comment. Where comments nest, balanced marks stay as they are.

use crate::languages::{BlockMarks, Language};

/// How block comments go together: whether one inside another counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Nesting {
    /// It does.
    Nested,
    /// The first closing mark ends the comment.
    Flat,
}

impl Nesting {
    /// That of `language`.
    #[must_use]
    pub fn of(language: &Language) -> Nesting {
        if language.nests { Nesting::Nested } else { Nesting::Flat }
    }
}

/// A mark as what escaping looks for: its first character, and what follows it.
struct Target<'a> {
    first: &'a str,
    rest: &'a str,
}

impl<'a> Target<'a> {
    fn of(mark: &'a str) -> Target<'a> {
        let (first, rest) = mark.split_at(mark.chars().next().map_or(0, char::len_utf8));
        Target { first, rest }
    }

    /// How many backslashes are in the mark at the start of `text`; none where there is no such mark.
    fn backslashes(&self, text: &str) -> Option<usize> {
        let behind = text.strip_prefix(self.first)?;
        let tail = behind.trim_start_matches('\\');
        tail.starts_with(self.rest).then(|| behind.len() - tail.len())
    }
}

fn targets(marks: &BlockMarks, nesting: Nesting) -> Vec<Target<'_>> {
    match marks.close.as_str() {
        "-->" => vec![Target::of("--")],
        close if nesting == Nesting::Nested => vec![Target::of(close), Target::of(&marks.open)],
        close => vec![Target::of(close)],
    }
}

/// Where a backslash goes in so that nothing in `inner` ends the comment around it.
#[must_use]
pub fn places_to_escape(inner: &str, marks: &BlockMarks, nesting: Nesting) -> Vec<usize> {
    let kept = if nesting == Nesting::Nested { balanced_marks(inner, marks) } else { Vec::new() };
    let needs = |at: usize, backslashes: usize| backslashes > 0 || !kept.contains(&at);
    places(inner, marks, nesting, needs)
}

/// Which backslashes go so that `inner` is again what was put into the comment.
#[must_use]
pub fn places_to_unescape(inner: &str, marks: &BlockMarks, nesting: Nesting) -> Vec<usize> {
    places(inner, marks, nesting, |_, backslashes| backslashes > 0)
}

/// The places after the first character of each mark that `wanted` holds for.
fn places(inner: &str, marks: &BlockMarks, nesting: Nesting, wanted: impl Fn(usize, usize) -> bool) -> Vec<usize> {
    let targets = targets(marks, nesting);
    let mut found = Vec::new();
    for (at, _) in inner.char_indices() {
        let hit = targets.iter().find_map(|target| Some((target.first.len(), target.backslashes(&inner[at..])?)));
        if let Some((first, _)) = hit.filter(|&(_, backslashes)| wanted(at, backslashes)) {
            found.push(at + first);
        }
    }
    found
}

/// Where the marks of comments are that both open and close inside `inner`.
fn balanced_marks(inner: &str, marks: &BlockMarks) -> Vec<usize> {
    let (mut open, mut balanced, mut at) = (Vec::new(), Vec::new(), 0);
    while at < inner.len() {
        let rest = &inner[at..];
        if rest.starts_with(&marks.open) {
            open.push(at);
            at += marks.open.len();
        } else if rest.starts_with(&marks.close) {
            balanced.extend(open.pop().map(|start| [start, at]).into_iter().flatten());
            at += marks.close.len();
        } else {
            at += rest.chars().next().map_or(1, char::len_utf8);
        }
    }
    balanced
}

/// Whether every mark in `inner` belongs to a comment that opens and closes in it.
#[must_use]
pub fn is_balanced(inner: &str, marks: &BlockMarks) -> bool {
    let (mut depth, mut at) = (0usize, 0);
    while at < inner.len() {
        let rest = &inner[at..];
        if rest.starts_with(&marks.open) {
            depth += 1;
            at += marks.open.len();
        } else if rest.starts_with(&marks.close) {
            let Some(less) = depth.checked_sub(1) else { return false };
            depth = less;
            at += marks.close.len();
        } else {
            at += rest.chars().next().map_or(1, char::len_utf8);
        }
    }
    depth == 0
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn marks(open: &str, close: &str) -> BlockMarks {
        BlockMarks::from([open.to_owned(), close.to_owned()])
    }

    fn escaped_marks(inner: &str, marks: &BlockMarks, nesting: Nesting) -> String {
        let mut out = inner.to_owned();
        places_to_escape(inner, marks, nesting).into_iter().rev().for_each(|at| out.insert(at, '\\'));
        out
    }

    fn unescaped(inner: &str, marks: &BlockMarks, nesting: Nesting) -> String {
        let mut out = inner.to_owned();
        places_to_unescape(inner, marks, nesting).into_iter().rev().for_each(|at| {
            out.remove(at);
        });
        out
    }

    #[test]
    fn marks_get_one_backslash_more() {
        let (c, markup) = (marks("/*", "*/"), marks("<!--", "-->"));
        assert_eq!(escaped_marks("a */ b *\\/ c /*", &c, Nesting::Flat), "a *\\/ b *\\\\/ c /*");
        assert_eq!(escaped_marks("--- -\\-", &markup, Nesting::Flat), "-\\-\\- -\\\\-");
        assert_eq!(escaped_marks("/* a */ b */ /*", &c, Nesting::Nested), "/* a */ b *\\/ /\\*");
    }

    proptest! {
        #[test]
        fn unescaping_gives_back_the_text(inner in "[-/*\\\\<>! a]{0,24}", nests: bool) {
            for marks in [marks("/*", "*/"), marks("<!--", "-->"), marks("--[[", "]]")] {
                let nesting = if nests && marks.open == "/*" { Nesting::Nested } else { Nesting::Flat };
                let out = escaped_marks(&inner, &marks, nesting);
                prop_assert_eq!(unescaped(&out, &marks, nesting), inner.clone());
                let ends_nothing = if nesting == Nesting::Nested { is_balanced(&out, &marks) } else { !out.contains(&marks.close) };
                prop_assert!(ends_nothing, "{}", out);
            }
        }
    }
}
