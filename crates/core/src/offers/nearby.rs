//! The words of a text near a place.

use crate::cursors::CursorSet;
use crate::text::Text;
use crate::text::words::{Class, WordRule};
use crate::units::{Byte, Span};

/// Words are looked for within so many bytes before and after the place: enough for any file that is written by hand, and read in
/// some milliseconds.
pub const REACH: usize = 1 << 20;

/// Longer runs are data, not words.
const LONGEST: usize = 200;

/// Calls `found` with each word within [`REACH`] of `at` that could be typed: not those that begin with a digit, nor those that a caret
/// of `carets` touches. Cost: linear in the bytes within reach.
pub fn words((text, at): (&Text, Byte), carets: Option<&CursorSet>, rule: WordRule, mut found: impl FnMut(&str, Byte)) {
    let start = text.snap_back(Byte(at.0.saturating_sub(REACH)));
    let end = text.snap_back((at + REACH).min(text.end()));
    let window = text.slice(Span::new(start, end.max(start)));
    let carets = carets.map_or(&[][..], CursorSet::list);
    let mut next_caret = carets.partition_point(|each| each.head < start);
    let mut word_start: Option<usize> = None;
    let mut take = |from: usize, to: usize| {
        let word = &window[from..to];
        let span = Span::new(start + from, start + to);
        while carets.get(next_caret).is_some_and(|each| each.head < span.start) {
            next_caret += 1;
        }
        let is_typed = carets.get(next_caret).is_some_and(|each| each.head <= span.end);
        let is_word = word.len() <= LONGEST && !word.starts_with(|c: char| c.is_numeric());
        if is_word && !is_typed {
            found(word, span.start);
        }
    };
    for (offset, c) in window.char_indices() {
        let belongs = if c.is_ascii() {
            c.is_ascii_alphanumeric() || c == '_' || (!rule.extra.is_empty() && rule.extra.contains(c))
        } else {
            matches!(rule.class(c), Class::Word | Class::Script(_))
        };
        match (belongs, word_start) {
            (true, None) => word_start = Some(offset),
            (false, Some(from)) => {
                take(from, offset);
                word_start = None;
            }
            _ => {}
        }
    }
    if let Some(from) = word_start {
        take(from, window.len());
    }
}
