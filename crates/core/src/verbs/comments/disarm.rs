//! Marks inside a comment: disarmed by a backslash, so that they end nothing, and armed again.
//!
//! A closing mark gets a backslash behind its first character, a mark that has backslashes there one more:
//! `*/` becomes `*\/`, `*\/` becomes `*\\/`. Taking one away from each gives back the first text. In markup it
//! is every `--`, since none may stand in a comment. Where comments nest, balanced marks stay as they are.

use crate::languages::BlockMarks;

/// A mark as what disarming looks for: its first character, and what follows it.
struct Target<'a> {
    first: &'a str,
    rest: &'a str,
}

impl<'a> Target<'a> {
    fn of(mark: &'a str) -> Target<'a> {
        let (first, rest) = mark.split_at(mark.chars().next().map_or(0, char::len_utf8));
        Target { first, rest }
    }

    /// How many backslashes stand in the mark at the start of `text`; none where there is no such mark.
    fn backslashes(&self, text: &str) -> Option<usize> {
        let behind = text.strip_prefix(self.first)?;
        let tail = behind.trim_start_matches('\\');
        tail.starts_with(self.rest).then(|| behind.len() - tail.len())
    }
}

fn targets(marks: &BlockMarks, nests: bool) -> Vec<Target<'_>> {
    match marks.close.as_str() {
        "-->" => vec![Target::of("--")],
        close if nests => vec![Target::of(close), Target::of(&marks.open)],
        close => vec![Target::of(close)],
    }
}

/// Where a backslash goes in so that nothing in `inner` ends the comment around it.
#[must_use]
pub fn places_to_disarm(inner: &str, marks: &BlockMarks, nests: bool) -> Vec<usize> {
    let kept = if nests { balanced_marks(inner, marks) } else { Vec::new() };
    let needs = |at: usize, backslashes: usize| backslashes > 0 || !kept.contains(&at);
    places(inner, marks, nests, needs)
}

/// Which backslashes go so that `inner` is again what was put into the comment.
#[must_use]
pub fn places_to_rearm(inner: &str, marks: &BlockMarks, nests: bool) -> Vec<usize> {
    places(inner, marks, nests, |_, backslashes| backslashes > 0)
}

/// The places behind the first character of each mark that `wanted` holds for.
fn places(inner: &str, marks: &BlockMarks, nests: bool, wanted: impl Fn(usize, usize) -> bool) -> Vec<usize> {
    let targets = targets(marks, nests);
    let mut found = Vec::new();
    for (at, _) in inner.char_indices() {
        let hit = targets.iter().find_map(|target| Some((target.first.len(), target.backslashes(&inner[at..])?)));
        if let Some((first, _)) = hit.filter(|&(_, backslashes)| wanted(at, backslashes)) {
            found.push(at + first);
        }
    }
    found
}

/// Where the marks of comments stand that both open and close inside `inner`.
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

    fn disarmed(inner: &str, marks: &BlockMarks, nests: bool) -> String {
        let mut out = inner.to_owned();
        places_to_disarm(inner, marks, nests).into_iter().rev().for_each(|at| out.insert(at, '\\'));
        out
    }

    fn rearmed(inner: &str, marks: &BlockMarks, nests: bool) -> String {
        let mut out = inner.to_owned();
        places_to_rearm(inner, marks, nests).into_iter().rev().for_each(|at| {
            out.remove(at);
        });
        out
    }

    #[test]
    fn marks_get_one_backslash_more() {
        let (c, markup) = (marks("/*", "*/"), marks("<!--", "-->"));
        assert_eq!(disarmed("a */ b *\\/ c /*", &c, false), "a *\\/ b *\\\\/ c /*");
        assert_eq!(disarmed("--- -\\-", &markup, false), "-\\-\\- -\\\\-");
        assert_eq!(disarmed("/* a */ b */ /*", &c, true), "/* a */ b *\\/ /\\*");
    }

    proptest! {
        #[test]
        fn arming_again_gives_back_the_text(inner in "[-/*\\\\<>! a]{0,24}", nests: bool) {
            for marks in [marks("/*", "*/"), marks("<!--", "-->"), marks("--[[", "]]")] {
                let nests = nests && marks.open == "/*";
                let out = disarmed(&inner, &marks, nests);
                prop_assert_eq!(rearmed(&out, &marks, nests), inner.clone());
                let ends_nothing = if nests { is_balanced(&out, &marks) } else { !out.contains(&marks.close) };
                prop_assert!(ends_nothing, "{}", out);
            }
        }
    }
}
