//! Words: letters, digits, marks and `_`, plus what the language adds; a run of punctuation is a word too.
//!
//! Letters by Unicode UAX #29; ideographs and kana form runs of one script each. Cost: O(word).

use super::Text;
use crate::units::{Byte, Direction, Span};
use unicode_script::{Script, UnicodeScript};

/// What kind of run a cluster belongs to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Class {
    /// White space and line ends.
    Space,
    /// Letters, digits, marks, `_`, and what the language adds.
    Word,
    /// Ideographs or kana of one script.
    Script(Script),
    /// Everything else.
    Punctuation,
}

impl Class {
    /// Whether it is a word in the narrow sense: no space, no punctuation.
    #[must_use]
    pub fn is_word(self) -> bool {
        matches!(self, Class::Word | Class::Script(_))
    }
}

/// What a language counts into its words beside letters, digits and `_`.
#[derive(Clone, Copy, Debug, Default)]
pub struct WordRule<'a> {
    /// Characters that are part of words.
    pub extra: &'a str,
    /// Whether `'` between letters joins them, as in plain text and markup.
    pub apostrophe_joins: bool,
}

impl WordRule<'_> {
    /// The class of a cluster that begins with `character`.
    #[must_use]
    pub fn class(&self, character: char) -> Class {
        if character == '_' || self.extra.contains(character) {
            return Class::Word;
        }
        if character.is_ascii_alphanumeric() {
            return Class::Word;
        }
        if character.is_whitespace() {
            return Class::Space;
        }
        if character.is_ascii() {
            return Class::Punctuation;
        }
        match character.script() {
            script @ (Script::Han | Script::Hiragana | Script::Katakana) => Class::Script(script),
            _ if character.is_alphanumeric() || is_mark(character) => Class::Word,
            _ => Class::Punctuation,
        }
    }
}

/// Combining marks: a mark that is alone counts as part of a word (UAX #29, WB4).
fn is_mark(character: char) -> bool {
    unicode_width::UnicodeWidthChar::width(character) == Some(0) && !character.is_control()
}

impl Text {
    /// The class of the cluster on one side of `at`; none at the edge of the text.
    #[must_use]
    pub fn class_beside(&self, at: Byte, side: Direction, rule: WordRule) -> Option<Class> {
        let (place, first) = match side {
            Direction::Forward => (at, self.char_at(at)?),
            Direction::Back if at.0 == 0 => return None,
            Direction::Back => {
                let place = self.previous_boundary(at);
                (place, self.char_at(place)?)
            }
        };
        if first == '\'' && rule.apostrophe_joins && self.stands_between_letters(place, rule) {
            return Some(Class::Word);
        }
        Some(rule.class(first))
    }

    fn stands_between_letters(&self, quote: Byte, rule: WordRule) -> bool {
        let is_letter = |character: Option<char>| character.is_some_and(|c| rule.class(c) == Class::Word);
        is_letter(self.char_before(quote)) && is_letter(self.char_at(quote + 1))
    }

    /// The end of the run of one class that `at` is at, going in `direction`.
    #[must_use]
    pub fn run_end(&self, at: Byte, direction: Direction, rule: WordRule) -> Byte {
        let Some(class) = self.class_beside(at, direction, rule) else { return at };
        self.run_end_of(class, at, direction, rule)
    }

    fn run_end_of(&self, class: Class, at: Byte, direction: Direction, rule: WordRule) -> Byte {
        let mut place = at;
        while self.class_beside(place, direction, rule) == Some(class) {
            place = self.step(place, direction);
        }
        place
    }

    /// One word on: spaces are passed over together with what follows in the direction of the move, so that
    /// going forward stops at word ends and going back at word starts.
    #[must_use]
    pub fn word_step(&self, at: Byte, direction: Direction, rule: WordRule) -> Byte {
        let place = self.run_end_of(Class::Space, at, direction, rule);
        self.run_end(place, direction, rule)
    }

    /// The word at a caret: one that touches the caret, else a run of punctuation that does, else the next
    /// word of the line, else the line's last; none on a line without any.
    #[must_use]
    pub fn word_at(&self, caret: Byte, rule: WordRule) -> Option<Span> {
        let after = self.class_beside(caret, Direction::Forward, rule);
        let before = self.class_beside(caret, Direction::Back, rule);
        let is = |class: Option<Class>, word: bool| class.filter(|&c| c != Class::Space && c.is_word() == word);
        let class = is(after, true).or(is(before, true)).or(is(after, false)).or(is(before, false));
        match class {
            Some(class) => Some(Span::new(
                self.run_end_of(class, caret, Direction::Back, rule),
                self.run_end_of(class, caret, Direction::Forward, rule),
            )),
            None => self.word_near(caret, rule),
        }
    }

    fn word_near(&self, caret: Byte, rule: WordRule) -> Option<Span> {
        let line = self.content_span(self.line_of(caret));
        let next = self.run_end_of(Class::Space, caret, Direction::Forward, rule);
        if next < line.end {
            return Some(Span::new(next, self.run_end(next, Direction::Forward, rule)));
        }
        let last = self.run_end_of(Class::Space, caret, Direction::Back, rule);
        (last > line.start).then(|| Span::new(self.run_end(last, Direction::Back, rule), last))
    }

    /// Whether `span` is one whole word: no word goes on at either end.
    #[must_use]
    pub fn is_whole_word(&self, span: Span, rule: WordRule) -> bool {
        if let Some(is_whole) = self.is_whole_plain_word(span, rule) {
            return is_whole;
        }
        let goes_on = |at: Byte| {
            let before = self.class_beside(at, Direction::Back, rule);
            let after = self.class_beside(at, Direction::Forward, rule);
            before == after && before.is_some_and(|class| class != Class::Space)
        };
        !goes_on(span.start) && !goes_on(span.end)
    }

    /// The same in one look, where all around it lies in one piece of memory and is plain; none where it does not.
    fn is_whole_plain_word(&self, span: Span, rule: WordRule) -> Option<bool> {
        let start = span.start.0.checked_sub(2)?;
        let chunk = self.chunk_at(Byte(start));
        let bytes = chunk.text.as_bytes().get(start - chunk.start.0..span.end.0 + 2 - chunk.start.0)?;
        let [_, before, inner @ .., behind, _] = bytes else { return None };
        let (first, last) = (*inner.first()?, *inner.last()?);
        // A mark may combine with what is before it, and an apostrophe may join.
        let is_plain = |byte: u8| byte.is_ascii() && byte != b'\'' && byte != b'\r';
        if !bytes.iter().all(|byte| is_plain(*byte)) {
            return None;
        }
        let goes_on = |one: u8, other: u8| {
            let [one, other] = [one, other].map(|byte| rule.class(char::from(byte)));
            one == other && one != Class::Space
        };
        Some(!goes_on(*before, first) && !goes_on(last, *behind))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const CODE: WordRule = WordRule { extra: "", apostrophe_joins: false };

    #[test]
    fn a_whole_word_in_one_look_is_one_by_all_looks() {
        let pieces = ["a", "_", " ", ".", "'", "é", "\u{301}", "\n", "\r\n", "b1"];
        for seed in 0..4_000_usize {
            let content: String =
                (0..9).map(|at| pieces[(seed * 7 + at * at * 13 + seed / 11) % pieces.len()]).collect();
            let text = Text::from(content.as_str());
            let (start, end) = (Byte(seed % text.len()), Byte(seed % text.len() + 1 + seed % 3));
            if end > text.end() || !text.is_boundary(start) || !text.is_boundary(end) {
                continue;
            }
            let span = Span::new(start, end);
            let goes_on = |at: Byte| {
                let before = text.class_beside(at, Direction::Back, CODE);
                let after = text.class_beside(at, Direction::Forward, CODE);
                before == after && before.is_some_and(|class| class != Class::Space)
            };
            let expected = !goes_on(span.start) && !goes_on(span.end);
            assert_eq!(text.is_whole_word(span, CODE), expected, "{content:?} {span:?}");
        }
    }
    const PROSE: WordRule = WordRule { extra: "", apostrophe_joins: true };

    fn stops(text: &str, direction: Direction, rule: WordRule) -> Vec<usize> {
        let text = Text::from(text);
        let (mut at, last) = match direction {
            Direction::Forward => (Byte(0), text.end()),
            Direction::Back => (text.end(), Byte(0)),
        };
        let mut found = Vec::new();
        while at != last {
            at = text.word_step(at, direction, rule);
            found.push(at.0);
        }
        found
    }

    #[test]
    fn forward_stops_at_ends_and_back_at_starts() {
        let text = "let  level_mm = 42;\n  x.y";
        assert_eq!(stops(text, Direction::Forward, CODE), [3, 13, 15, 18, 19, 23, 24, 25]);
        assert_eq!(stops(text, Direction::Back, CODE), [24, 23, 22, 18, 16, 14, 5, 0]);
    }

    #[test]
    fn apostrophes_join_in_prose_only() {
        assert_eq!(stops("don't", Direction::Forward, CODE), [3, 4, 5]);
        assert_eq!(stops("don't '", Direction::Forward, PROSE), [5, 7]);
    }

    #[test]
    fn scripts_are_runs_of_their_own() {
        assert_eq!(stops("漢字かなカナab", Direction::Forward, CODE), [6, 12, 18, 20]);
    }

    #[test]
    fn the_word_at_a_caret() {
        type Row = (&'static str, usize, Option<(usize, usize)>);
        let rows: &[Row] = &[
            ("ab cd", 2, Some((0, 2))),
            ("ab  cd", 3, Some((4, 6))),
            ("ab cd  ", 7, Some((3, 5))),
            ("ab+cd", 2, Some((0, 2))),
            ("a ++ b", 3, Some((2, 4))),
            ("a ++ b", 4, Some((2, 4))),
            ("   \nab", 1, None),
            ("", 0, None),
            ("x\n", 2, None),
        ];
        for &(text, caret, word) in rows {
            let found = Text::from(text).word_at(Byte(caret), CODE).map(|span| (span.start.0, span.end.0));
            assert_eq!(found, word, "{text:?} at {caret}");
        }
    }
}
