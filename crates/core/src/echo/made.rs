//! What happened in one line: the text before and after, and what of it keys touched; it grows with each key.

use super::edit::Edit;
use super::lexemes::Row;
use crate::changes::Change;
use crate::languages::Language;
use crate::languages::lexical::{Block, Lexical, Syntax};
use crate::text::Text;
use crate::units::{Byte, Line, Span};
use std::sync::Arc;

/// An edit under way, or one that has come to its end.
#[derive(Clone, Debug)]
pub struct Made {
    texts: [Text; 2],
    touched: [Span; 2],
}

impl Made {
    /// The change that made `after` of `before`; none where it changes nothing or carries text elsewhere.
    #[must_use]
    pub fn of([before, after]: [Text; 2], change: &Change) -> Option<Made> {
        let old = old_span(change)?;
        let made = Made { touched: [old, old], texts: [before.clone(), before] };
        made.and(change, after)
    }

    /// With one more change, after which the text is `after`; none where that changes nothing or carries text elsewhere.
    #[must_use]
    pub fn and(mut self, change: &Change, after: Text) -> Option<Made> {
        let old = old_span(change)?;
        let [before, now] = self.touched;
        let both = Span::new(now.start.min(old.start), now.end.max(old.end));
        self.touched[0] = Span::new(before.start - (now.start - both.start), before.end + (both.end - now.end));
        let end = Byte((both.end.0 + after.len()).saturating_sub(self.texts[1].len()));
        self.touched[1] = Span::new(both.start, end.max(both.start));
        self.texts[1] = after;
        Some(self)
    }

    /// The text after it.
    #[must_use]
    pub fn after(&self) -> &Text {
        &self.texts[1]
    }

    /// What keys touched, in the text after it.
    #[must_use]
    pub fn touched_now(&self) -> Span {
        self.touched[1]
    }

    /// Whether `span` of the text after it is on its lines.
    #[must_use]
    pub fn reaches(&self, span: Span) -> bool {
        let text = self.after();
        let lines = |span: Span| [text.line_of(span.start), text.line_of(span.end)];
        let [own, other] = [lines(self.touched[1]), lines(span)];
        other[0] <= own[1] && other[1] >= own[0]
    }

    /// Whether a change to the text after it goes on with it.
    #[must_use]
    pub fn goes_on(&self, change: &Change) -> bool {
        old_span(change).is_some_and(|old| self.reaches(old))
    }

    /// The lines of both texts that it is in: the first of each, and how many.
    fn lines(&self) -> [(Line, usize); 2] {
        let starts = |side: usize, at: Byte| self.texts[side].line_start(self.texts[side].line_of(at)) == at;
        let first = self.texts[0].line_of(self.touched[0].start);
        let is_whole = !self.touched[0].is_empty()
            && starts(0, self.touched[0].start)
            && (0..2).all(|side| starts(side, self.touched[side].end));
        [0, 1].map(|side| {
            let last = self.texts[side].line_of(self.touched[side].end);
            (first, last.0 + usize::from(!is_whole) - first.0)
        })
    }

    /// The edit, whose first line is now `line`; none where nothing differs but indentation, or where it is too long to learn from.
    /// Cost: the scanner goes over the text before its lines.
    #[must_use]
    pub fn edit(&self, language: &Arc<Language>, line: Line) -> Option<Edit> {
        let lines = self.lines();
        if lines.iter().any(|(_, count)| *count > MOST_LINES) {
            return None;
        }
        let of = |side: usize| {
            let ((first, count), text) = (lines[side], &self.texts[side]);
            let start = text.line_start(first);
            let row = row_of(text, language, (first, count))?;
            let own = start + row.indentation.len();
            let offset = |at: Byte| {
                let above = text.slice(Span::new(start, at.min(text.end())));
                // Each line after the first one is written without the indentation of that, and its end is one byte.
                let breaks = memchr::memchr_iter(b'\n', above.as_bytes()).count();
                let ends = above.matches("\r\n").count();
                (at.0.saturating_sub(own.0)).saturating_sub(breaks * row.indentation.len() + ends)
            };
            let touched = offset(self.touched[side].start)..offset(self.touched[side].end).min(row.text.len());
            Some((row, touched))
        };
        let [(before, gone), (after, come)] = [of(0)?, of(1)?];
        Edit::of([before, after], &[gone, come], (language.word_rule(), line))
    }

    /// The first line of it, in the text after it.
    #[must_use]
    pub fn first_line(&self) -> Line {
        self.texts[1].line_of(self.touched[1].start)
    }

    /// How many lines it is in, in the text after it.
    #[must_use]
    pub fn line_count(&self) -> usize {
        self.lines()[1].1
    }
}

/// Edits in more lines are not learned from.
const MOST_LINES: usize = 20;

/// Rows with a longer line are not learned from, in bytes.
const LONGEST_LINE: usize = 2_000;

/// From the first edit to the last one of a change, in the text before it; none where it changes nothing or carries text elsewhere.
fn old_span(change: &Change) -> Option<Span> {
    let (first, last) = (change.edits().first()?, change.edits().last()?);
    change.moves().is_empty().then(|| Span::new(first.start(), last.end()))
}

fn row_of(text: &Text, language: &Arc<Language>, (first, count): (Line, usize)) -> Option<Row> {
    let lines = (first.0..first.0 + count).map(Line);
    if lines.clone().any(|line| text.content_span(line).len() > LONGEST_LINE) {
        return None;
    }
    let lexical = Lexical::new(language);
    let view = lexical.of(text);
    let blocks: Vec<Block> = lines.map(|line| Block::of(line, text.line_start(line))).collect();
    let scanned = view.scanned(&blocks);
    let contents: Vec<_> = scanned.iter().map(|scanned| text.slice(scanned.content)).collect();
    Row::of(scanned.iter().zip(contents.iter().map(|content| &**content)))
}
