//! Lines whose comments are not one mark a line: children of tags, attributes at a tag's end, embedded code.
//!
//! Each run of them is decided by itself. What is done to them is a list of replacements, in order.

use super::children::{self, Edits, Inside, Widened};
use super::embedded;
use super::style::LineMarking;
use crate::languages::scanner::{Form, Kind};
use crate::units::{Byte, Line, Span};
use crate::verbs::scene::{Run, Scene};

/// What is done to the lines that are apart.
#[derive(Default)]
pub(super) struct Apart {
    pub edits: Edits,
    /// How many lines got marks, and lost them.
    pub on: usize,
    pub off: usize,
    /// How many were comments already that should become some.
    pub were: usize,
    /// Whether more lines were taken than were touched, so that elements are whole.
    pub is_widened: bool,
    /// Lines that are not among them after all.
    reach: Byte,
}

/// What a line is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Place {
    /// One whose marks are those of its language.
    Usual,
    /// A child of a tag.
    Child,
    /// Attributes, and the end of their tag.
    TagEnd(Span),
}

impl Apart {
    /// Whether there can be such lines.
    pub fn may_have(scene: &Scene) -> bool {
        let has_tags = scene.language.children.is_some() && scene.structure.structure().is_some();
        has_tags || scene.language.embedded.is_some()
    }

    /// Takes those of the lines of `run` that are apart; gives the others, in order.
    pub fn take(&mut self, scene: &Scene, run: &Run, wish: LineMarking) -> Vec<Line> {
        if scene.language.embedded.is_some() {
            return self.take_embedded(scene, run, wish);
        }
        let mut usual = Vec::new();
        let mut lines = run.lines().peekable();
        let full: Vec<Line> = run.lines().filter(|line| !scene.text.is_blank(*line)).collect();
        let mut places = full.iter().map(|line| place_of(scene, *line));
        let first = places.next();
        // Marks of two kinds in one run would not come off again together.
        let is_mixed = first.is_some_and(|place| place != Place::Child) && places.any(|place| place == Place::Child);
        let is_off = first == Some(Place::Usual) && full.iter().all(|line| begins_with_line_mark(scene, *line));
        if is_mixed || is_off {
            return run.lines().collect();
        }
        while let Some(line) = lines.next() {
            match place_of(scene, line) {
                Place::Usual => usual.push(line),
                Place::TagEnd(attributes) => self.attributes(scene, attributes, wish),
                Place::Child => {
                    let mut group = vec![line];
                    // Lines inside of an element, or of code, that begins among the children belong to that.
                    let mut end = end_of_child(scene, line);
                    let goes_on = |next: &Line, end: Line| {
                        *next <= end || scene.text.is_blank(*next) || place_of(scene, *next) == Place::Child
                    };
                    while let Some(next) = lines.next_if(|next| goes_on(next, end)) {
                        if next > end && !scene.text.is_blank(next) {
                            end = end_of_child(scene, next);
                        }
                        group.push(next);
                    }
                    if !self.children(scene, &group, wish) {
                        usual.extend(group);
                    }
                }
            }
        }
        usual
    }

    fn take_embedded(&mut self, scene: &Scene, run: &Run, wish: LineMarking) -> Vec<Line> {
        let Some(marks) = &scene.language.embedded else { return Vec::new() };
        let is_mixed = |line: &Line| !scene.text.is_blank(*line) && !scene.syntax.begins_inside(*line);
        let (mixed, usual): (Vec<Line>, Vec<Line>) = run.lines().partition(is_mixed);
        let mut lines: Vec<embedded::Mixed> =
            mixed.iter().map(|line| embedded::Mixed::of(scene, *line, marks, run.first)).collect();
        lines.retain(|line| !line.is_empty());
        let marked = lines.iter().filter(|line| line.is_comment()).count();
        let takes_off = wish == LineMarking::Off || (wish == LineMarking::Toggle && marked == lines.len());
        for line in &lines {
            let off = takes_off || (wish == LineMarking::Flip && line.is_comment());
            if off && line.has_comment() {
                self.edits.extend(line.off());
                self.off += 1;
            } else if !off && (wish == LineMarking::Toggle || !line.is_comment()) {
                let all = wish != LineMarking::On;
                self.edits.extend(if all { line.on_everywhere() } else { line.on_where_off() });
                self.on += 1;
            } else if !off {
                self.were += 1;
            }
        }
        usual
    }

    /// Marks neighbouring lines of children; false where they are no children that can be marked.
    fn children(&mut self, scene: &Scene, lines: &[Line], wish: LineMarking) -> bool {
        let text = scene.text;
        let content = |line: &Line| {
            let start = text.indentation_span(*line).end;
            Span::new(start, text.trimmed(Span::new(start, text.content_span(*line).end)).end.max(start))
        };
        let full: Vec<Span> = lines.iter().filter(|line| !text.is_blank(**line)).map(content).collect();
        let around = |span: &Span| {
            children::comment_around(scene, span.start)
                .filter(|whole| whole.start <= span.start && span.end <= whole.end)
        };
        let comments: Vec<Option<Span>> = full.iter().map(around).collect();
        let all = comments.iter().all(Option::is_some);
        let takes_off =
            wish == LineMarking::Off || (wish == LineMarking::Toggle && all) || (wish == LineMarking::Flip && all);
        if takes_off {
            let mut whole: Vec<Span> = comments.into_iter().flatten().collect();
            self.off += whole.len();
            whole.dedup();
            for comment in whole.into_iter().filter(|comment| comment.start >= self.reach).collect::<Vec<_>>() {
                self.reach = comment.end;
                self.edits.extend(children::unwrap(scene, comment));
            }
            return true;
        }
        if all {
            self.were += full.len();
            return true;
        }
        let (Some(first), Some(last)) = (full.first(), full.last()) else { return false };
        match children::widened(scene, Span::new(first.start, last.end)) {
            Widened::To(whole) if whole.start >= self.reach => {
                let count = text.line_of(whole.end).0 - text.line_of(whole.start).0 + 1;
                let blank = (text.line_of(whole.start).0..=text.line_of(whole.end).0).map(Line);
                self.on += count - blank.filter(|line| text.is_blank(*line)).count();
                self.is_widened |= whole.start < first.start || whole.end > last.end;
                self.edits.extend(children::wrap(scene, whole));
                self.reach = whole.end;
                true
            }
            Widened::To(_) => true,
            Widened::NoChildren | Widened::NotPossible => false,
        }
    }

    /// Marks attributes that have the end of their tag after them.
    fn attributes(&mut self, scene: &Scene, attributes: Span, wish: LineMarking) {
        let marks = &scene.language.block[0];
        let content = scene.text.slice(attributes);
        let inner = content.strip_prefix(marks.open.as_str()).and_then(|rest| rest.strip_suffix(marks.close.as_str()));
        let is_comment = inner.is_some();
        match wish {
            LineMarking::Off | LineMarking::Toggle | LineMarking::Flip if is_comment => {
                let head = marks.open.len() + usize::from(inner.is_some_and(|inner| inner.starts_with(' ')));
                let tail = marks.close.len() + usize::from(inner.is_some_and(|inner| inner.ends_with(' ')));
                self.edits.push((Span::new(attributes.start, attributes.start + head), String::new()));
                self.edits.push((Span::new(attributes.end - tail, attributes.end), String::new()));
                self.off += 1;
            }
            LineMarking::Off => {}
            LineMarking::On if is_comment => self.were += 1,
            _ => {
                self.edits.push((Span::at(attributes.start), format!("{} ", marks.open)));
                self.edits.push((Span::at(attributes.end), format!(" {}", marks.close)));
                self.on += 1;
            }
        }
    }
}

/// The last line of the child that begins on `line`.
fn end_of_child(scene: &Scene, line: Line) -> Line {
    let text = scene.text;
    let start = text.indentation_span(line).end;
    let content = Span::new(start, text.trimmed(Span::new(start, text.content_span(line).end)).end.max(start));
    match children::widened(scene, content) {
        Widened::To(whole) => text.line_of(whole.end),
        Widened::NoChildren | Widened::NotPossible => line,
    }
}

/// Whether `line` is a comment that begins with the mark of a line.
fn begins_with_line_mark(scene: &Scene, line: Line) -> bool {
    let at = scene.text.indentation_span(line).end;
    scene.language.line.iter().any(|mark| scene.text.has_at(at, mark))
}

fn place_of(scene: &Scene, line: Line) -> Place {
    let text = scene.text;
    if text.is_blank(line) {
        return Place::Usual;
    }
    let at = text.indentation_span(line).end;
    match children::inside(scene, at) {
        Inside::Element => Place::Child,
        Inside::Tag(tag) if tag.end <= text.content_span(line).end && tag.start < at => {
            let end = if text.has_at(tag.end - 2, "/>") { tag.end - 2 } else { tag.end - 1 };
            let attributes = text.trimmed(Span::new(at, end.max(at)));
            let has_comment_line = scene
                .syntax
                .pieces(line)
                .iter()
                .any(|piece| piece.token.kind == Kind::Comment && matches!(piece.token.form, Form::Line(_)));
            if attributes.is_empty() || has_comment_line { Place::Usual } else { Place::TagEnd(attributes) }
        }
        _ if children::comment_around(scene, at).is_some() => Place::Child,
        _ => Place::Usual,
    }
}
