//! The coach: what a stretch of keys did that a shorter way would have done.
//!
//! A [`Coach`] is told of each [`Stroke`]: which verb a key ran, never what text it put in. When a stretch of strokes that a [`Pattern`]
//! describes has come to its end, it is [`Found`], with the [ways](Way) that may be shorter. Whether one of them gives the same is for
//! the caller to try, on the text as it was before the stretch: nothing is said that was not tried.
//!
//! Cost: one pass over the last [`MOST_STROKES`] strokes for each key, whatever the text.

mod pattern;
mod way;

pub use pattern::{Pattern, patterns};
pub use way::{Step, Values, Way};

use std::collections::VecDeque;
use std::ops::Range;

/// So many strokes are remembered.
pub const MOST_STROKES: usize = 64;

/// One key, or the keys of one panel, and what they ran.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Stroke {
    /// The name of the verb; for typed text its class instead ([`typed`]).
    pub token: &'static str,
    /// How many keys it took.
    pub keys: u32,
}

/// The token of typed text by its first character; `is_mark` where that is a piece of the comment marks at the caret.
#[must_use]
pub fn typed(text: &str, is_mark: impl Fn(char) -> bool) -> &'static str {
    match text.chars().next() {
        Some(c) if is_mark(c) => "type-mark",
        Some(c) if c.is_alphanumeric() || c == '_' => "type-word",
        Some(' ' | '\t') => "type-space",
        Some('(' | '[' | '{') => "type-open",
        Some(')' | ']' | '}') => "type-close",
        Some('"' | '\'' | '`') => "type-quote",
        _ => "type-other",
    }
}

/// A stretch that a pattern describes.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Found {
    /// The pattern.
    pub pattern: &'static Pattern,
    /// The strokes, by their numbers.
    pub strokes: Range<u64>,
    /// Those of them in which the text was typed that the shorter way types, too.
    pub typed: Range<u64>,
    /// How many keys it took.
    pub keys: u32,
}

/// The strokes so far.
#[derive(Clone, Debug, Default)]
pub struct Coach {
    strokes: VecDeque<Stroke>,
    /// Their tokens, each followed by a space.
    line: String,
    /// The number of the first of them.
    first: u64,
}

impl Coach {
    /// The number that the next stroke will have.
    #[must_use]
    pub fn next(&self) -> u64 {
        self.first + self.strokes.len() as u64
    }

    /// The number of the first stroke that is remembered.
    #[must_use]
    pub fn first(&self) -> u64 {
        self.first
    }

    /// Takes a stroke in.
    pub fn note(&mut self, stroke: Stroke) {
        if self.strokes.len() == MOST_STROKES {
            self.drop_first(1);
        }
        self.line.push_str(stroke.token);
        self.line.push(' ');
        self.strokes.push_back(stroke);
    }

    /// One more key of the last stroke.
    pub fn note_key(&mut self) {
        self.strokes.back_mut().into_iter().for_each(|last| last.keys += 1);
    }

    /// Forgets the strokes before the one with the number `until`: they were spoken of, or what they did is of no interest any more.
    pub fn forget(&mut self, until: u64) {
        let count = until.saturating_sub(self.first).min(self.strokes.len() as u64);
        self.drop_first(count as usize);
    }

    fn drop_first(&mut self, count: usize) {
        let bytes: usize = self.strokes.drain(..count).map(|stroke| stroke.token.len() + 1).sum();
        self.line.drain(..bytes);
        self.first += count as u64;
    }

    /// What has come to its end by the stroke before the one with the number `end`: stretches that end with it, and those that could
    /// have gone on and were ended by it.
    #[must_use]
    pub fn found(&self, end: u64) -> Vec<Found> {
        let count = end.saturating_sub(self.first).min(self.strokes.len() as u64) as usize;
        let Some(last) = count.checked_sub(1).map(|last| &self.strokes[last]) else { return Vec::new() };
        let bytes: usize = self.strokes.range(..count).map(|stroke| stroke.token.len() + 1).sum();
        let line = &self.line[..bytes];
        let before_last = &line[..line.len() - last.token.len() - 1];
        let is_run = before_last.strip_suffix(' ').is_some_and(|line| {
            let token = line.rsplit(' ').next().unwrap_or_default();
            token == last.token
        });
        let mut found: Vec<Found> = self.matching(line, false);
        if !is_run {
            found.extend(self.matching(before_last, true));
        }
        found
    }

    fn matching(&self, line: &str, is_open: bool) -> Vec<Found> {
        let found = patterns().matching(line, is_open).into_iter();
        found.map(|(pattern, all, typed)| self.stretch(pattern, all, typed)).collect()
    }

    fn stretch(&self, pattern: &'static Pattern, all: Range<usize>, typed: Range<usize>) -> Found {
        let number = |at: usize| self.line[..at].bytes().filter(|byte| *byte == b' ').count();
        let [start, end] = [number(all.start), number(all.end)];
        let keys = self.strokes.range(start..end).map(|stroke| stroke.keys).sum();
        let numbered = |at: usize| self.first + at as u64;
        Found {
            pattern,
            strokes: numbered(start)..numbered(end),
            typed: numbered(number(typed.start))..numbered(number(typed.end)),
            keys,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn told(tokens: &str) -> Vec<String> {
        let mut coach = Coach::default();
        let mut said = Vec::new();
        for token in tokens.split_whitespace() {
            coach.note(Stroke { token: Box::leak(token.to_owned().into_boxed_str()), keys: 1 });
            let all = coach.found(coach.next()).into_iter();
            said.extend(
                all.map(|found| format!("{} {}..{}", found.pattern.name, found.strokes.start, found.strokes.end)),
            );
        }
        said
    }

    #[test]
    fn a_run_is_found_once_when_it_has_ended_and_a_series_at_its_last_stroke() {
        assert_eq!(told("line-up char-right char-right char-right char-right"), [""; 0]);
        let found = told("line-up char-right char-right char-right char-right char-right delete-back");
        assert!(found.contains(&"right-to-word 1..6".to_owned()), "{found:?}");
        let found = told("cut line-down line-down paste");
        assert_eq!(found, ["cut-to-carry-down 0..4"]);
        // What ended some strokes ago is found as it was found then.
        let mut coach = Coach::default();
        for token in ["cut", "line-down", "line-down", "paste", "save"] {
            coach.note(Stroke { token, keys: 1 });
        }
        assert_eq!((coach.found(4).len(), coach.found(4)[0].strokes.clone(), coach.found(5).len()), (1, 0..4, 0));
        assert_eq!((coach.found(0).len(), coach.found(99).len()), (0, 0));
    }

    #[test]
    fn strokes_are_numbered_and_forgotten_from_the_front() {
        let mut coach = Coach::default();
        for _ in 0..MOST_STROKES + 3 {
            coach.note(Stroke { token: "char-left", keys: 1 });
        }
        assert_eq!((coach.first(), coach.next()), (3, MOST_STROKES as u64 + 3));
        coach.note(Stroke { token: "line-down", keys: 2 });
        let found = coach.found(coach.next());
        let longest = found.iter().find(|found| found.pattern.name == "left-to-word").unwrap();
        assert_eq!((longest.strokes.clone(), longest.keys), (4..67, 63));
        coach.forget(67);
        assert_eq!((coach.first(), coach.found(coach.next()).len()), (67, 0));
        coach.forget(900);
        assert_eq!((coach.first(), coach.next()), (68, 68));
    }

    #[test]
    fn typed_text_is_told_by_its_kind_only() {
        let kind = |text| typed(text, |c| c == '#');
        assert_eq!(
            ["ebb", " ", "(", "}", "\"", "#", ";", ""].map(kind),
            [
                "type-word",
                "type-space",
                "type-open",
                "type-close",
                "type-quote",
                "type-mark",
                "type-other",
                "type-other"
            ]
        );
    }
}
