//! The other places of a text where a rule fits.

use super::edit::Edit;
use super::lexemes::Row;
use super::making::{Part, counted_on};
use super::matching::Fitting;
use super::pattern::Side;
use super::rule::Rule;
use crate::languages::Language;
use crate::languages::lexical::{Block, Lexical, Scanned, Syntax};
use crate::text::Text;
use crate::text::ends::LineEnd;
use crate::text::reader::Reader;
use crate::text::words::WordRule;
use crate::units::{Byte, Line, Span};
use std::collections::VecDeque;
use std::ops::Range;
use std::sync::Arc;

/// A place, and what comes there.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Place {
    /// The least level of the rule at which it fits.
    pub level: usize,
    /// What goes, in the text.
    pub span: Span,
    /// The line it is on.
    pub line: Line,
    /// The lines that it is in, without the end of the last one.
    pub before: String,
    /// What goes, in bytes of these lines; all of them where the lines are taken away.
    pub goes: Range<usize>,
    /// What comes: text, and numbers that are counted on.
    written: Vec<Part>,
}

impl Place {
    /// The place of an edit in its own lines.
    #[must_use]
    pub fn of_edit(fitting: &Fitting, (edit, written): (&Edit, Vec<Part>)) -> Place {
        Place {
            level: fitting.level,
            span: Span::new(Byte(fitting.goes.start), Byte(fitting.goes.end)),
            line: edit.line,
            before: edit.before.text.clone(),
            goes: fitting.goes.clone(),
            written,
        }
    }

    /// What comes at the place that is `step` places after the last edit; none where a number would become less than nothing.
    #[must_use]
    pub fn comes(&self, step: i64) -> Option<String> {
        let part = |part: &Part| match part {
            Part::Text(text) => Some(text.clone()),
            Part::Count { last, by } => counted_on(last, by.checked_mul(step)?),
            Part::Held { .. } | Part::Plus { .. } => None,
        };
        self.written.iter().map(part).collect()
    }

    /// What its lines become.
    #[must_use]
    pub fn after(&self, comes: &str) -> String {
        format!("{}{comes}{}", &self.before[..self.goes.start], &self.before[self.goes.end..])
    }
}

/// Longer lines are passed over, in bytes: a program has written them.
const LONGEST_LINE: usize = 10_000;

/// So many places are gathered at most.
pub const MOST_PLACES: usize = 100_000;

/// So many lines are scanned in between two looks at whether the places are still wanted.
const AT_A_TIME: usize = 4_096;

/// The text in which places are looked for.
#[derive(Clone, Copy, Debug)]
pub struct Scope<'a> {
    /// The text.
    pub text: &'a Text,
    /// Its language.
    pub language: &'a Arc<Language>,
    /// Lines of the edits themselves, which have no places.
    pub edited: &'a [Line],
}

/// Looks for places in one text.
pub struct Search<'a> {
    /// The rule.
    pub rule: &'a Rule,
    /// Where.
    pub scope: Scope<'a>,
}

impl Search<'_> {
    /// All places, at every level, in the order of the text; none when `is_unwanted` has said so. Cost: one pass of the scanner.
    pub fn places(&self, is_unwanted: &dyn Fn() -> bool) -> Option<Vec<Place>> {
        let lexical = Lexical::new(self.scope.language);
        let view = lexical.of(self.scope.text);
        let mut reader = Reader::new(self.scope.text);
        let mut waiting: VecDeque<Scanned> = VecDeque::new();
        let mut found = Vec::new();
        let lines = self.scope.text.line_count();
        let mut first = 0;
        while first < lines && found.len() < MOST_PLACES {
            if is_unwanted() {
                return None;
            }
            let count = AT_A_TIME.min(lines - first);
            let start = reader.line_start(Line(first));
            for scanned in view.scanned(&[Block { first: Line(first), start, count }]) {
                waiting.push_back(scanned);
                if waiting.len() == self.rule.lines.max(1) {
                    self.places_in(waiting.make_contiguous(), &mut found);
                    waiting.pop_front();
                }
            }
            first += count;
        }
        if self.rule.takes_lines {
            end_with_the_text(self.scope.text, &mut found);
        }
        Some(found)
    }

    fn places_in(&self, lines: &[Scanned], found: &mut Vec<Place>) {
        let is_long = lines.iter().any(|scanned| scanned.content.len() > LONGEST_LINE);
        if is_long || lines.iter().any(|scanned| self.scope.edited.contains(&scanned.line)) {
            return;
        }
        let contents: Vec<_> = lines.iter().map(|scanned| self.scope.text.slice(scanned.content)).collect();
        let may_fit = |word: &str| {
            contents.iter().any(|content| memchr::memmem::find(content.as_bytes(), word.as_bytes()).is_some())
        };
        if self.rule.longest_literal().is_some_and(|word| !may_fit(word)) {
            return;
        }
        let Some(row) = Row::of(lines.iter().zip(contents.iter().map(|content| &**content))) else { return };
        let rule: WordRule = self.scope.language.word_rule();
        let lexemes = row.lexemes(rule);
        let side = Side { row: &row, lexemes: &lexemes };
        let fittings = self.rule.fittings(side);
        // Lines are taken away once, wherever the rule fits in them.
        let most = if self.rule.takes_lines { 1 } else { fittings.len() };
        for fitting in fittings.into_iter().take(most) {
            let taken_up_to = found.last().map_or(Byte(0), |place: &Place| place.span.end);
            found.extend(self.place(lines, &row, &fitting).filter(|place| place.span.start >= taken_up_to));
        }
    }

    fn place(&self, lines: &[Scanned], row: &Row, fitting: &Fitting) -> Option<Place> {
        let (first, last) = (lines.first()?, lines.last()?);
        let before = self.scope.text.slice(Span::new(first.content.start, last.content.end)).into_owned();
        let (level, line) = (fitting.level, first.line);
        if self.rule.takes_lines {
            let span = Span::new(first.content.start, self.scope.text.line_span(last.line).end);
            return Some(Place { level, span, line, goes: 0..before.len(), before, written: Vec::new() });
        }
        let break_with = format!("{}{}", self.scope.text.line_end(line).map_or("\n", LineEnd::as_str), row.indentation);
        let mut written = self.rule.written_at(row, fitting)?;
        for part in &mut written {
            if let Part::Text(text) = part {
                *text = text.replace('\n', &break_with);
            }
        }
        let span = Span::new(self.offset(lines, row, fitting.goes.start), self.offset(lines, row, fitting.goes.end));
        let goes = span.start - first.content.start..span.end - first.content.start;
        let place = Place { level, span, line, before, goes, written };
        let is_done = self.rule.is_done(row, fitting, &place.comes(1)?);
        (!is_done).then_some(place)
    }

    /// Where an offset of the row is in the text.
    fn offset(&self, lines: &[Scanned], row: &Row, offset: usize) -> Byte {
        let above = &row.text[..offset];
        let index = memchr::memchr_iter(b'\n', above.as_bytes()).count();
        let within = above.len() - above.rfind('\n').map_or(0, |end| end + 1);
        let content = lines[index].content;
        let text = self.scope.text.slice(content);
        let own = if index > 0 && text.trim().is_empty() { 0 } else { row.indentation.len() };
        (content.start + own + within).min(content.end)
    }
}

/// Lines that are taken away at the end of a text without a final line end go with the line end before them, so that the text still has
/// none; so do those that are right above them. Of the first line there is none before.
fn end_with_the_text(text: &Text, places: &mut [Place]) {
    let mut end = text.end();
    let reaches_end = |place: &&Place| {
        let reaches = place.span.end == end;
        end = place.span.start;
        reaches
    };
    let count = places.iter().rev().take_while(reaches_end).count();
    let first = places.len() - count;
    let is_all = places[first..].first().is_some_and(|place| place.line == Line(0));
    if is_all || text.is_after_final_end(text.last_line()) {
        return;
    }
    for place in &mut places[first..] {
        let [before, last] = [place.span.start, place.span.end].map(|at| end_of_line_before(text, at));
        place.span = Span::new(before, if place.span.end == text.end() { text.end() } else { last });
    }
}

/// The end of what is on the line before the one that begins at `at`.
fn end_of_line_before(text: &Text, at: Byte) -> Byte {
    text.line_of(at).previous().map_or(at, |line| text.content_span(line).end)
}
