//! How well a word fits the letters that were typed: the letters in their order, anywhere in the word.
//!
//! One score: the word begins with the letters; else how many of them begin a part of the word, how few stretches they are in, and
//! whether the last of them ends a part, no letter like it left out. An upper-case letter is only that letter; in lower case both count.
//! Cost: letters times the characters of the word.

/// Only so many characters of a word are looked at.
const LONGEST: usize = 200;

/// How well a word fits: more is better.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Score(i32);

impl Score {
    /// A template whose name was typed in full.
    pub const WHOLE: Score = Score(i32::MAX);
    /// A word that begins with the letters.
    const PREFIX: Score = Score(i32::MAX - 1);
}

/// Letters that begin a part of the word count most, then that they are in few stretches, then that the last one ends a part.
const PART_START: i32 = 10_000;
const STRETCH: i32 = 10;
const ENDS_PART: i32 = 1;

/// The letters that were typed.
#[derive(Clone, Debug, Default)]
pub struct Letters {
    typed: String,
    characters: Vec<char>,
    has_upper: bool,
}

impl Letters {
    /// Of `typed`.
    #[must_use]
    pub fn of(typed: &str) -> Letters {
        let has_upper = typed.chars().any(char::is_uppercase);
        Letters { typed: typed.to_owned(), characters: typed.chars().collect(), has_upper }
    }

    /// As they were typed.
    #[must_use]
    pub fn as_str(&self) -> &str {
        &self.typed
    }

    /// Whether `word` is what was typed, all of it.
    #[must_use]
    pub fn is_all_of(&self, word: &str) -> bool {
        !self.typed.is_empty() && self.typed == word
    }

    fn is(&self, letter: char, c: char) -> bool {
        if c.is_ascii() {
            return letter == c || (!self.has_upper && letter == c.to_ascii_lowercase());
        }
        letter == c || (!self.has_upper && c.to_lowercase().eq([letter]))
    }

    /// Whether the letters are in `word` in their order. Cost: linear in the word, without memory of its own.
    #[must_use]
    pub fn are_in(&self, word: &str) -> bool {
        let mut left = self.characters.iter().peekable();
        for c in word.chars() {
            left.next_if(|letter| self.is(**letter, c));
        }
        left.peek().is_none()
    }

    /// How well `word` fits; none where the letters are not in it in their order.
    #[must_use]
    pub fn score(&self, word: &str) -> Option<Score> {
        if !self.are_in(word) {
            return None;
        }
        let word: Vec<char> = word.chars().take(LONGEST).collect();
        let begins = word.len() >= self.characters.len()
            && self.characters.iter().zip(&word).all(|(letter, c)| self.is(*letter, *c));
        if begins {
            return Some(Score::PREFIX);
        }
        self.best_way(&word).map(Score)
    }

    /// The best way to find the letters in `word`: for each letter, the best score with it at each character.
    fn best_way(&self, word: &[char]) -> Option<i32> {
        let starts = starts_of_parts(word);
        let mut before: Vec<Option<i32>> = vec![None; word.len()];
        for (index, letter) in self.characters.iter().enumerate() {
            let mut now = vec![None; word.len()];
            // The best score with the letter before this one anywhere further to the left than the character before.
            let mut apart: Option<i32> = None;
            for at in 0..word.len() {
                if at >= 2 {
                    apart = apart.max(before[at - 2]);
                }
                if !self.is(*letter, word[at]) {
                    continue;
                }
                let beside = if at >= 1 { before[at - 1] } else { None };
                let found = if index == 0 { Some(-STRETCH) } else { beside.max(apart.map(|score| score - STRETCH)) };
                let start = if starts[at] { PART_START } else { 0 };
                now[at] = found.map(|score| score + start);
                let is_last = index + 1 == self.characters.len();
                if is_last && index > 0 && ends_part(&starts, at) {
                    // The letter before it is not further to the left than another one that is like it.
                    let like = word[..at].iter().rposition(|c| self.is(*letter, *c)).unwrap_or(0);
                    let near = before[like..at.saturating_sub(1).max(like)].iter().flatten().max();
                    let first = beside.max(near.map(|score| score - STRETCH));
                    now[at] = now[at].max(first.map(|score| score + start + ENDS_PART));
                }
            }
            before = now;
        }
        before.into_iter().flatten().max()
    }
}

/// Whether the character at `at` is the last of a part.
fn ends_part(starts: &[bool], at: usize) -> bool {
    starts.get(at + 1).is_none_or(|starts| *starts)
}

/// Which characters begin a part: `findRow`, `find_row`, `HTMLPage` and `row2` have two each. What is between parts begins none, and
/// ends the one before it.
fn starts_of_parts(word: &[char]) -> Vec<bool> {
    let is_part = |c: char| c.is_alphanumeric();
    (0..word.len())
        .map(|at| {
            let (c, before) = (word[at], at.checked_sub(1).map(|at| word[at]));
            let Some(before) = before.filter(|before| is_part(*before)) else { return true };
            if !is_part(c) {
                // An underscore ends a part; no letter is typed for it.
                return true;
            }
            let next_is_lower = word.get(at + 1).is_some_and(|next| next.is_lowercase());
            (c.is_uppercase() && (!before.is_uppercase() || next_is_lower)) || (c.is_numeric() != before.is_numeric())
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// Letters, then words in the order in which they are to be offered; after `-` words that do not fit.
    const TABLE: &[(&str, &[&str], &[&str])] = &[
        ("frb", &["find_row_backwards"], &["find_raw"]),
        ("frb", &["findRowBackwards", "fearbox"], &[]),
        ("lamd", &["lamp_rd", "lampshade"], &["lambent"]),
        ("lev", &["level", "lower_eave", "high_level"], &["lvl"]),
        ("gr", &["ground", "gauge_row", "agree"], &[]),
        ("hp", &["hpage", "HTMLPage", "chip"], &[]),
        ("r2", &["r2", "row2", "ar2x"], &["r3"]),
        ("st", &["state", "some_tide", "list"], &[]),
        ("iD", &["itemDepth"], &["item_depth", "idea"]),
        ("é", &["été"], &["eta"]),
        ("_in", &["_inner", "read_in"], &["inner"]),
    ];

    #[test]
    fn words_are_in_the_order_of_how_well_they_fit() {
        for (letters, order, others) in TABLE {
            let typed = Letters::of(letters);
            let scores: Vec<Option<Score>> = order.iter().map(|word| typed.score(word)).collect();
            assert!(scores.iter().all(Option::is_some), "{letters}: {scores:?}");
            assert!(scores.windows(2).all(|pair| pair[0] > pair[1]), "{letters} {order:?}: {scores:?}");
            assert!(others.iter().all(|word| typed.score(word).is_none()), "{letters} {others:?}");
        }
    }

    #[test]
    fn nothing_typed_fits_everything_alike() {
        let none = Letters::default();
        assert_eq!(none.score("level"), none.score("x"));
        assert!(!none.is_all_of(""));
    }

    /// The same by trying every way to find the letters.
    fn slow(letters: &Letters, word: &[char], from: [usize; 2], last: Option<usize>) -> Option<i32> {
        let [index, at] = from;
        let Some(letter) = letters.characters.get(index) else { return Some(0) };
        let starts = starts_of_parts(word);
        let ways = (at..word.len()).filter(|place| letters.is(*letter, word[*place])).filter_map(|place| {
            let rest = slow(letters, word, [index + 1, place + 1], Some(place))?;
            let goes_on = last.is_some_and(|last| last + 1 == place);
            let start = if starts[place] { PART_START } else { 0 };
            let left_out = last.is_some_and(|last| word[last + 1..place].iter().any(|c| letters.is(*letter, *c)));
            let is_last = index + 1 == letters.characters.len() && index > 0;
            let end = if is_last && ends_part(&starts, place) && !left_out { ENDS_PART } else { 0 };
            Some(rest + start + end - if goes_on { 0 } else { STRETCH })
        });
        ways.max()
    }

    proptest! {
        #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(3_000) })]

        #[test]
        fn the_best_way_is_found(typed in "[abAB_2]{1,4}", word in "[abAB_2]{1,9}") {
            let letters = Letters::of(&typed);
            let characters: Vec<char> = word.chars().collect();
            let best = slow(&letters, &characters, [0, 0], None);
            prop_assert_eq!(letters.are_in(&word), best.is_some());
            if letters.score(&word).is_some_and(|score| score != Score::PREFIX) {
                prop_assert_eq!(letters.score(&word).map(|score| score.0), best);
            }
        }
    }
}
