//! Lines of markup with code of another language in tags of its own, `<% … %>`: each part is switched off in its own way.

use super::children::Edits;
use super::escaping::{self, Nesting};
use crate::languages::{BlockMarks, EmbeddedCode};
use crate::units::{Byte, Line, Span};
use crate::verbs::scene::Scene;
use std::borrow::Cow;

/// A part of a line, in bytes of the text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Part {
    /// Code, with its tags; whether it is switched off.
    Code(Span, bool),
    /// Markup, without white space around it; whether it is one comment.
    Markup(Span, bool),
    /// Code whose opening tag is on a line above; whether it is a comment.
    Inner(Span, bool),
}

/// How many lines up the opening tag of code is looked for.
const TAG_LINES: usize = 200;

/// A line of markup, and what is in it.
pub(super) struct Mixed<'a> {
    /// Where it begins.
    start: Byte,
    content: Cow<'a, str>,
    parts: Vec<Part>,
    marks: &'a EmbeddedCode,
    pair: &'a BlockMarks,
}

impl<'a> Mixed<'a> {
    /// Reads `line`. Code whose tag is opened on `first` or below it is switched off with that.
    pub fn of(scene: &'a Scene, line: Line, marks: &'a EmbeddedCode, first: Line) -> Mixed<'a> {
        let pair = &scene.language.block[0];
        let span = scene.text.content_span(line);
        let content = scene.text.slice(span);
        let mut mixed = Mixed { start: span.start, content: content.clone(), parts: Vec::new(), marks, pair };
        let mut at = 0;
        if let Some(opened) = opened_above(scene, line, marks) {
            at = content.find(marks.close.as_str()).map_or(content.len(), |found| found + marks.close.len());
            let code = content[..at].trim();
            let start = span.start + (content.len() - content.trim_start().len());
            if opened < first && !code.is_empty() {
                let is_off = code.starts_with(marks.line.as_str());
                mixed.parts.push(Part::Inner(Span::new(start, start + code.len()), is_off));
            }
        }
        while at < content.len() {
            // A comment of the markup may hold tags.
            let comment = content[at..].find(pair.open.as_str()).map(|found| at + found);
            let tag = content[at..].find(marks.open.as_str()).map(|found| at + found);
            match (comment, tag) {
                (Some(comment), tag) if tag.is_none_or(|tag| comment < tag) => {
                    mixed.add_markup(&content[at..comment], span.start + at);
                    let end =
                        content[comment..].find(pair.close.as_str()).map(|found| comment + found + pair.close.len());
                    let end = end.unwrap_or(content.len());
                    let is_whole = content[comment..end].ends_with(pair.close.as_str());
                    mixed.parts.push(Part::Markup(Span::new(span.start + comment, span.start + end), is_whole));
                    at = end;
                }
                (_, Some(tag)) => {
                    mixed.add_markup(&content[at..tag], span.start + at);
                    let end = content[tag..].find(marks.close.as_str()).map(|found| tag + found + marks.close.len());
                    let end = end.unwrap_or(content.len());
                    let is_off = content[tag + marks.open.len()..].starts_with(marks.off.as_str());
                    mixed.parts.push(Part::Code(Span::new(span.start + tag, span.start + end), is_off));
                    at = end;
                }
                _ => {
                    mixed.add_markup(&content[at..], span.start + at);
                    break;
                }
            }
        }
        mixed
    }

    fn add_markup(&mut self, markup: &str, start: Byte) {
        let head = markup.len() - markup.trim_start().len();
        let body = markup.trim();
        if !body.is_empty() {
            self.parts.push(Part::Markup(Span::new(start + head, start + head + body.len()), false));
        }
    }

    /// Whether there is nothing in it to be switched off.
    pub fn is_empty(&self) -> bool {
        self.parts.is_empty()
    }

    /// Whether all of it is switched off.
    pub fn is_comment(&self) -> bool {
        self.parts.iter().all(|part| matches!(part, Part::Code(_, true) | Part::Markup(_, true) | Part::Inner(_, true)))
    }

    /// Whether any of it is.
    pub fn has_comment(&self) -> bool {
        self.parts.iter().any(|part| matches!(part, Part::Code(_, true) | Part::Markup(_, true) | Part::Inner(_, true)))
    }

    /// Switches those parts off that are not.
    pub fn on_where_off(&self) -> Edits {
        let is_off =
            |part: &&Part| matches!(part, Part::Code(_, false) | Part::Markup(_, false) | Part::Inner(_, false));
        self.parts.iter().filter(is_off).flat_map(|part| self.marks_on(part)).collect()
    }

    /// Switches every part off, once more where it is already.
    pub fn on_everywhere(&self) -> Edits {
        self.parts.iter().flat_map(|part| self.marks_on(part)).collect()
    }

    fn marks_on(&self, part: &Part) -> Edits {
        match part {
            Part::Code(span, _) => vec![(Span::at(span.start + self.marks.open.len()), self.marks.off.clone())],
            Part::Inner(span, _) => vec![(Span::at(span.start), format!("{} ", self.marks.line))],
            Part::Markup(span, _) => {
                let mut edits = vec![(Span::at(span.start), format!("{} ", self.pair.open))];
                let places = escaping::places_to_escape(self.within(*span), self.pair, Nesting::Flat);
                edits.extend(places.into_iter().map(|place| (Span::at(span.start + place), "\\".to_owned())));
                edits.push((Span::at(span.end), format!(" {}", self.pair.close)));
                edits
            }
        }
    }

    /// Switches every part on that is off.
    pub fn off(&self) -> Edits {
        let mut edits = Edits::new();
        for part in &self.parts {
            match part {
                Part::Code(span, true) => {
                    let start = span.start + self.marks.open.len();
                    edits.push((Span::new(start, start + self.marks.off.len()), String::new()));
                }
                Part::Markup(span, true) => {
                    let inner = Span::new(span.start + self.pair.open.len(), span.end - self.pair.close.len());
                    let content = self.within(inner);
                    let head = usize::from(content.starts_with(' '));
                    let tail = usize::from(content.len() > head && content.ends_with(' '));
                    let body = Span::new(inner.start + head, inner.end - tail);
                    edits.push((Span::new(span.start, body.start), String::new()));
                    for place in escaping::places_to_unescape(self.within(body), self.pair, Nesting::Flat) {
                        edits.push((Span::new(body.start + place, body.start + place + 1), String::new()));
                    }
                    edits.push((Span::new(body.end, span.end), String::new()));
                }
                Part::Inner(span, true) => {
                    let behind = span.start + self.marks.line.len();
                    let space = usize::from(self.within(Span::new(behind, span.end)).starts_with(' '));
                    edits.push((Span::new(span.start, behind + space), String::new()));
                }
                Part::Code(..) | Part::Markup(..) | Part::Inner(..) => {}
            }
        }
        edits
    }

    fn within(&self, span: Span) -> &str {
        &self.content[span.start - self.start..span.end - self.start]
    }
}

/// The line on which the code is opened that `line` begins in; none where it begins in markup.
fn opened_above(scene: &Scene, line: Line, marks: &EmbeddedCode) -> Option<Line> {
    for above in (line.0.saturating_sub(TAG_LINES)..line.0).rev().map(Line) {
        let content = scene.text.content(above);
        match (content.rfind(marks.open.as_str()), content.rfind(marks.close.as_str())) {
            (Some(open), close) if close.is_none_or(|close| close < open) => return Some(above),
            (None, None) => {}
            _ => return None,
        }
    }
    None
}
