//! One edit by hand: the lines it was in before and after, cut to what differs, at the edges of lexemes.

use super::lexemes::{Lexeme, Row};
use crate::text::words::WordRule;
use crate::units::Line;
use std::ops::Range;

/// An edit.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Edit {
    /// The lines before it.
    pub before: Row,
    /// The lexemes of these.
    pub lexemes: Vec<Lexeme>,
    /// The lines after it.
    pub after: Row,
    /// What goes, in bytes of `before`.
    pub goes: Range<usize>,
    /// What comes, in bytes of `after`.
    pub comes: Range<usize>,
    /// The first of the lines after it, as the text is now.
    pub line: Line,
}

impl Edit {
    /// The edit that made `after` of `before` where keys touched these bytes of both; none where nothing differs but indentation.
    /// Cost: linear in the rows.
    #[must_use]
    pub fn of(rows: [Row; 2], touched: &[Range<usize>; 2], (rule, line): (WordRule, Line)) -> Option<Edit> {
        let lexemes = [rows[0].lexemes(rule), rows[1].lexemes(rule)];
        let [before, after] = rows;
        let lens = [before.text.len(), after.text.len()];
        let mut cut = Cut {
            start: touched[0].start.min(touched[1].start).min(lens[0]).min(lens[1]),
            tail: lens[0].saturating_sub(touched[0].end).min(lens[1].saturating_sub(touched[1].end)),
        };
        cut.grow_to_characters([&before.text, &after.text]);
        cut.grow_to_edges(&lexemes, lens);
        cut.shrink_to_what_differs([&before, &after], &lexemes);
        let [goes, comes] = lens.map(|len| cut.start..len - cut.tail);
        let [lexemes, _] = lexemes;
        (before.text[goes.clone()] != after.text[comes.clone()]).then_some(Edit {
            before,
            lexemes,
            after,
            goes,
            comes,
            line,
        })
    }

    /// Whether it takes its lines away.
    #[must_use]
    pub fn takes_lines(&self) -> bool {
        self.after.lines == 0
    }

    /// What came.
    #[must_use]
    pub fn came(&self) -> &str {
        &self.after.text[self.comes.clone()]
    }

    /// Which lexemes go.
    #[must_use]
    pub fn gone(&self) -> Range<usize> {
        let first = self.lexemes.partition_point(|lexeme| lexeme.at.end <= self.goes.start);
        let count = self.lexemes[first..].partition_point(|lexeme| lexeme.at.start < self.goes.end);
        first..first + count
    }
}

/// What two rows have in common at their starts and at their ends, in bytes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Cut {
    start: usize,
    tail: usize,
}

impl Cut {
    /// Moves it out to the edges of characters: what keys touched is told for lines with their indentation.
    fn grow_to_characters(&mut self, texts: [&str; 2]) {
        while texts.iter().any(|text| !text.is_char_boundary(self.start)) {
            self.start -= 1;
        }
        while texts.iter().any(|text| !text.is_char_boundary(text.len() - self.tail)) {
            self.tail -= 1;
        }
    }

    /// Moves it out to the edges of the lexemes that it goes through.
    fn grow_to_edges(&mut self, lexemes: &[Vec<Lexeme>; 2], lens: [usize; 2]) {
        loop {
            let known = *self;
            for (lexemes, len) in lexemes.iter().zip(lens) {
                if let Some(through) = through(lexemes, self.start) {
                    self.start = through.at.start;
                }
                if let Some(through) = through(lexemes, len - self.tail) {
                    self.tail = len - through.at.end;
                }
            }
            if *self == known {
                return;
            }
        }
    }

    /// Moves it in over whole lexemes and white space that are equal in both.
    fn shrink_to_what_differs(&mut self, rows: [&Row; 2], lexemes: &[Vec<Lexeme>; 2]) {
        let first_at = |side: usize, at: usize| {
            let index = lexemes[side].partition_point(|lexeme| lexeme.at.start < at);
            lexemes[side].get(index).filter(|lexeme| lexeme.at.start == at)
        };
        let last_at = |side: usize, at: usize| {
            let index = lexemes[side].partition_point(|lexeme| lexeme.at.end < at);
            lexemes[side].get(index).filter(|lexeme| lexeme.at.end == at)
        };
        let same = |[one, other]: [Option<&Lexeme>; 2]| {
            let (one, other) = (one?, other?);
            let is_same = one.kind == other.kind && rows[0].str(one) == rows[1].str(other);
            is_same.then_some(one.at.len())
        };
        let space = |[one, other]: [Option<char>; 2]| {
            one.filter(|c| *c == ' ' || *c == '\t').filter(|_| one == other).map(char::len_utf8)
        };
        loop {
            let ends = [rows[0].text.len() - self.tail, rows[1].text.len() - self.tail];
            let room = ends[0].min(ends[1]).saturating_sub(self.start);
            let fits = |len: &usize| *len <= room && room > 0;
            let firsts = [0, 1].map(|side| first_at(side, self.start));
            let spaces = [0, 1].map(|side| rows[side].text[self.start..].chars().next());
            if let Some(len) = same(firsts).or(space(spaces)).filter(fits) {
                self.start += len;
                continue;
            }
            let lasts = [0, 1].map(|side| last_at(side, ends[side]));
            let spaces = [0, 1].map(|side| rows[side].text[..ends[side]].chars().next_back());
            match same(lasts).or(space(spaces)).filter(fits) {
                Some(len) => self.tail += len,
                None => return,
            }
        }
    }
}

/// The lexeme that `at` lies within.
fn through(lexemes: &[Lexeme], at: usize) -> Option<&Lexeme> {
    let index = lexemes.partition_point(|lexeme| lexeme.at.end <= at);
    lexemes.get(index).filter(|lexeme| lexeme.at.start < at)
}
