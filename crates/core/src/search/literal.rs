//! Search for a literal in a rope, forward and back, without copying it.
//!
//! Matches may overlap each other: who takes them decides which may. Cost: one pass of memmem over what is
//! looked at.

use crate::parallel::span_in_halves;
use crate::text::Text;
use crate::units::{Byte, Span};
use memchr::memmem::Finder;

/// Bytes looked at in one piece: more than the rope's pieces of a kilobyte, less than a processor's cache.
const WINDOW: usize = 32 * 1024;

/// Bytes looked at in one piece when searching back.
const BACK_WINDOW: usize = 64 * 1024;

/// The places of a literal from a byte on, in the order of the text.
pub struct Matches<'a> {
    text: &'a Text,
    finder: Finder<'a>,
    needle_len: usize,
    /// The bytes under search, which begin at `base`; looked through up to `done`.
    window: Vec<u8>,
    base: usize,
    done: usize,
    next_chunk: Byte,
    until: Byte,
}

impl<'a> Matches<'a> {
    /// All places of `needle` that lie within `span`.
    ///
    /// # Panics
    /// If `needle` is empty.
    #[must_use]
    pub fn within(text: &'a Text, needle: &'a str, span: Span) -> Matches<'a> {
        assert!(!needle.is_empty(), "an empty text matches everywhere");
        Matches {
            text,
            finder: Finder::new(needle),
            needle_len: needle.len(),
            window: Vec::new(),
            base: span.start.0,
            done: 0,
            next_chunk: span.start,
            until: span.end,
        }
    }

    /// Drops what is searched, but for what a match across pieces needs, and adds the next pieces.
    fn refill(&mut self) -> bool {
        if self.next_chunk >= self.until {
            return false;
        }
        let kept = self.window.len().min(self.needle_len - 1).min(self.window.len() - self.done.min(self.window.len()));
        let dropped = self.window.len() - kept;
        self.window.drain(..dropped);
        self.base += dropped;
        self.done = 0;
        for chunk in self.text.chunks_from(self.next_chunk) {
            let from = self.next_chunk - chunk.start;
            let to = chunk.text.len().min(self.until - chunk.start);
            self.window.extend_from_slice(&chunk.text.as_bytes()[from..to]);
            self.next_chunk = chunk.start + to;
            if self.window.len() >= WINDOW || self.next_chunk >= self.until {
                break;
            }
        }
        true
    }
}

impl Iterator for Matches<'_> {
    type Item = Span;

    fn next(&mut self) -> Option<Span> {
        loop {
            if let Some(found) = self.finder.find(&self.window[self.done..]) {
                let at = self.done + found;
                self.done = at + 1;
                let start = Byte(self.base + at);
                return Some(Span::new(start, start + self.needle_len));
            }
            self.done = self.done.max((self.window.len() + 1).saturating_sub(self.needle_len));
            if !self.refill() {
                return None;
            }
        }
    }
}

/// All places of `needle` that lie within `span`, in order.
///
/// # Panics
/// If `needle` is empty.
#[must_use]
pub fn all_within(text: &Text, needle: &str, span: Span) -> Vec<Span> {
    let beginning_in = |half: Span| {
        let reach = (half.end + (needle.len() - 1)).min(span.end);
        Matches::within(text, needle, Span::new(half.start, reach)).collect::<Vec<Span>>()
    };
    span_in_halves(span, beginning_in).concat()
}

/// The last place of `needle` that lies within `span` and that `accept` holds for.
pub fn last_within(text: &Text, needle: &str, span: Span, accept: impl Fn(Span) -> bool) -> Option<Span> {
    let mut end = span.end;
    while end > span.start {
        let start = Byte(end.0.saturating_sub(BACK_WINDOW)).max(span.start);
        let reach = (end + (needle.len() - 1)).min(span.end);
        let found = Matches::within(text, needle, Span::new(start, reach)).filter(|&each| accept(each)).last();
        if found.is_some() {
            return found;
        }
        end = start;
    }
    None
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn plain(text: &str, needle: &str, from: usize, to: usize) -> Vec<usize> {
        let bytes = &text.as_bytes()[from..to];
        let places = bytes.windows(needle.len()).enumerate();
        places.filter(|(_, window)| *window == needle.as_bytes()).map(|(at, _)| from + at).collect()
    }

    #[test]
    fn two_halves_find_what_one_pass_finds() {
        let text = Text::from("aab".repeat(500_000).as_str());
        for needle in ["a", "aa", "baab", "é"] {
            for span in [text.span(), Span::new(Byte(1), text.end() - 1)] {
                let one: Vec<Span> = Matches::within(&text, needle, span).collect();
                assert!(all_within(&text, needle, span) == one, "{needle} in {span:?}");
            }
        }
    }

    proptest! {
        #[test]
        fn agrees_with_looking_everywhere(pad in 0usize..2100, text in "[ab]{0,80}", needle in "[ab]{1,4}", from in 0usize..40) {
            let whole = format!("{}{text}{}", "c".repeat(pad), "ab".repeat(600));
            let rope = Text::from(whole.as_str());
            let span = Span::new(Byte(from), Byte(whole.len() - from));
            let found: Vec<usize> = Matches::within(&rope, &needle, span).map(|each| each.start.0).collect();
            let expected = plain(&whole, &needle, from, whole.len() - from);
            prop_assert_eq!(&found, &expected);
            let last = last_within(&rope, &needle, span, |_| true).map(|each| each.start.0);
            prop_assert_eq!(last, expected.last().copied());
        }
    }
}
