//! What the coach says, and how often: little, and nothing that is known already.

use snarvel_core::coach::patterns;
use snarvel_ledger::Said;
use std::collections::HashMap;

/// One thing in five minutes at most is said.
const PAUSE_MS: u64 = 5 * 60 * 1000;

/// Each pattern is said so many times at most, until its verb is used.
const MOST_SAID: u32 = 3;

/// A hint is shown until so many keys were pressed.
const SEEN_KEYS: u32 = 12;

/// What is said, and was.
#[derive(Debug, Default)]
pub struct Speaking {
    /// What was said of each pattern before.
    said: HashMap<String, Said>,
    said_ms: Option<u64>,
    hint: Option<String>,
    /// For how many more keys it is shown.
    seen_keys: u32,
    /// The pattern that was said last.
    last: Option<String>,
}

impl Speaking {
    /// What is said now.
    #[must_use]
    pub fn hint(&self) -> Option<&str> {
        self.hint.as_deref()
    }

    /// The pattern that was said last.
    #[must_use]
    pub fn last(&self) -> Option<&str> {
        self.last.as_deref()
    }

    /// Takes over what was said before.
    pub fn take_said(&mut self, said: HashMap<String, Said>) {
        self.said = said;
    }

    /// A key was pressed: what was said goes after some of them.
    pub fn note_press(&mut self) {
        self.seen_keys = self.seen_keys.saturating_sub(1);
        if self.seen_keys == 0 {
            self.hint = None;
        }
    }

    /// Says `sentence` of `pattern`, where it may be said; what is to be remembered then.
    pub fn say(&mut self, pattern: &str, sentence: String, now_ms: u64) -> Option<Said> {
        let said = self.said.entry(pattern.to_owned()).or_default();
        let is_pause = self.said_ms.is_none_or(|before| now_ms.saturating_sub(before) >= PAUSE_MS);
        if !is_pause || said.is_quiet || said.times >= MOST_SAID {
            return None;
        }
        said.times += 1;
        (self.said_ms, self.seen_keys) = (Some(now_ms), SEEN_KEYS);
        (self.last, self.hint) = (Some(pattern.to_owned()), Some(sentence));
        Some(*said)
    }

    /// A verb was used by its key: the patterns of which the hints begin anew by that, with what is to be remembered of them.
    pub fn used(&mut self, verb: &str) -> Vec<(String, Said)> {
        if self.said.is_empty() {
            return Vec::new();
        }
        let mut begun = Vec::new();
        for pattern in patterns().all.iter().filter(|pattern| pattern.helps == verb) {
            if let Some(said) = self.said.get_mut(&pattern.name).filter(|said| said.times > 0) {
                said.times = 0;
                begun.push((pattern.name.clone(), *said));
            }
        }
        begun
    }

    /// Says nothing more of what was said last; its pattern, where something was.
    pub fn be_quiet(&mut self) -> Option<(String, Said)> {
        let pattern = self.last.take()?;
        self.hint = None;
        let said = self.said.entry(pattern.clone()).or_default();
        said.is_quiet = true;
        Some((pattern, *said))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const MINUTE: u64 = 60_000;

    #[test]
    fn little_is_said_and_nothing_that_is_known() {
        let mut speaking = Speaking::default();
        let say = |speaking: &mut Speaking, pattern: &str, minute: u64| {
            speaking.say(pattern, format!("of {pattern}"), minute * MINUTE).is_some()
        };
        assert!(say(&mut speaking, "word-by-backspace", 0));
        assert!(!say(&mut speaking, "cut-to-carry-down", 4), "one in five minutes");
        assert!(say(&mut speaking, "cut-to-carry-down", 5));
        assert!(say(&mut speaking, "word-by-backspace", 10) && say(&mut speaking, "word-by-backspace", 15));
        assert!(!say(&mut speaking, "word-by-backspace", 20), "three times");
        assert_eq!(speaking.used("extend-word-back"), [("word-by-backspace".to_owned(), Said::default())]);
        assert!(say(&mut speaking, "word-by-backspace", 20), "its verb was used");
        assert_eq!(speaking.be_quiet(), Some(("word-by-backspace".to_owned(), Said { times: 1, is_quiet: true })));
        assert!(speaking.hint().is_none() && !say(&mut speaking, "word-by-backspace", 30));
        assert_eq!(speaking.be_quiet(), None);
    }

    #[test]
    fn what_is_said_stands_for_some_keys() {
        let mut speaking = Speaking::default();
        speaking.say("word-by-backspace", "ebb".to_owned(), 0);
        (1..SEEN_KEYS).for_each(|_| speaking.note_press());
        assert_eq!(speaking.hint(), Some("ebb"));
        speaking.note_press();
        assert_eq!(speaking.hint(), None);
    }
}
