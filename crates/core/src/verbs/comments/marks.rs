//! The mark that a line comment begins with, whole: a run of comment characters is one mark.

use crate::languages::Language;

/// Signs after a mark that make documentation of a comment: `//!`, `#'`, `--|`, `///<`.
const SIGNS: [char; 5] = ['!', '\'', '|', '^', '<'];

/// The length of the mark that `comment` begins with, in bytes: the longest of the language's, with more of its last character and a sign
/// of documentation after it. 0 where there is none.
#[must_use]
pub fn whole_mark(comment: &str, language: &Language) -> usize {
    let marks = language.line.iter().filter(|mark| comment.starts_with(mark.as_str()));
    let Some(mark) = marks.max_by_key(|mark| mark.len()) else { return 0 };
    let Some(last) = mark.chars().next_back().filter(|c| !c.is_alphanumeric()) else { return mark.len() };
    let rest = comment[mark.len()..].trim_start_matches(last);
    let run = comment.len() - rest.len();
    let ends = |rest: &str| rest.is_empty() || rest.starts_with(char::is_whitespace);
    let sign = rest.strip_prefix(SIGNS).filter(|rest| ends(rest));
    match sign {
        Some(rest) => comment.len() - rest.len(),
        None if ends(rest) => run,
        None => mark.len(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::languages::by_name;

    #[test]
    fn runs_of_comment_characters_are_one_mark() {
        for (language, comment, mark) in [
            ("c", "/// a", "///"),
            ("java", "//", "//"),
            ("cpp", "//! a", "//!"),
            ("cpp", "///< a", "///<"),
            ("python", "## a", "##"),
            ("python", "#!/bin/sh", "#"),
            ("python", "#a", "#"),
            ("r", "#' a", "#'"),
            ("lisp", ";;; a", ";;;"),
            ("haskell", "-- | a", "--"),
            ("haskell", "--| a", "--|"),
            ("sql", "---- a", "----"),
            ("javascript", "//a", "//"),
        ] {
            let language = by_name(language).unwrap();
            assert_eq!(&comment[..whole_mark(comment, &language)], mark, "{comment}");
        }
    }
}
