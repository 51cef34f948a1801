//! Reflowing: the words of a comment's paragraph, or of prose, are laid out anew in the text's width.
//!
//! Marks and indentation stay; a list item begins a paragraph of its own and keeps its lines hanging under its text.
//! Lines that hold the opening or the closing mark of a block comment are left alone. Width in cells. Cost: linear in
//! the paragraphs.

use crate::changes::ChangeBuilder;
use crate::cursors::{CursorSet, Selection};
use crate::languages::scanner::{Form, Kind};
use crate::text::cells::{TabWidth, width};
use crate::units::{Byte, Line, Span};
use crate::verbs::scene::{Outcome, Run, Scene, counted};

/// A line as reflowing sees it: what is before its words, and the words.
#[derive(Clone, Debug, PartialEq, Eq)]
struct Parts {
    /// Indentation, mark, spacing.
    lead: String,
    /// The mark alone: paragraphs do not go over from one mark to another.
    mark: String,
    words: String,
}

/// Lines that belong together.
#[derive(Debug)]
struct Paragraph {
    first: Line,
    last: Line,
    /// What is before the words of the first line, and of the others.
    leads: [String; 2],
    words: Vec<String>,
}

/// Lays the paragraphs of the touched lines out anew; with carets, the paragraph around each.
pub fn reflow(scene: &Scene) -> Outcome {
    let mut paragraphs: Vec<Paragraph> = Vec::new();
    for run in scene.runs() {
        if paragraphs.last().is_some_and(|last| run.last <= last.last) {
            continue;
        }
        for paragraph in paragraphs_of(scene, &run) {
            if paragraphs.last().is_none_or(|last| last.last < paragraph.first) {
                paragraphs.push(paragraph);
            }
        }
    }
    if paragraphs.is_empty() {
        return Outcome::nothing("no comment and no prose here");
    }
    let mut builder = ChangeBuilder::new(scene.text);
    let mut places: Vec<(Span, String, Byte)> = Vec::new();
    for paragraph in &paragraphs {
        let old = Span::new(scene.text.line_start(paragraph.first), scene.text.content_span(paragraph.last).end);
        let new = laid_out(scene, paragraph);
        if scene.text.slice(old) != new {
            let start = builder.now(old.start);
            builder.replace(old, &new);
            places.push((old, new, start));
        }
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::nothing(format!("laid out in {} cells already", scene.settings.text_width));
    }
    let mapped = scene.cursors.mapped_each(&change, crate::changes::Bias::After);
    let moved = |(each, other): (Selection, Selection)| {
        let place = |at: Byte| {
            let first = places.partition_point(|(old, ..)| old.end < at);
            places.get(first).filter(|(old, ..)| old.start <= at)
        };
        match (place(each.anchor), place(each.head)) {
            (None, None) => other,
            (anchor, head) => {
                let to = |at: Byte, found: Option<&(Span, String, Byte)>, fallback: Byte| {
                    found.map_or(fallback, |(old, new, start)| same_letter(scene, at, *old, (new, *start)))
                };
                Selection {
                    anchor: to(each.anchor, anchor, other.anchor),
                    head: to(each.head, head, other.head),
                    ..each
                }
            }
        }
    };
    let list = scene.cursors.iter().zip(mapped).map(moved).collect();
    let message = format!("reflowed {}", counted(places.len(), "paragraph"));
    Outcome::edit(change, CursorSet::of(list, scene.cursors.primary_index())).saying(message)
}

/// Where the letter at `at` is in the text that took the place of `old`: as many letters in.
fn same_letter(scene: &Scene, at: Byte, old: Span, (new, start): (&str, Byte)) -> Byte {
    let marks = ['/', '*', '#', '-', ';', '%', '!'];
    let counts = |c: char| !c.is_whitespace() && !marks.contains(&c);
    let before = scene.text.slice(Span::new(old.start, at)).chars().filter(|c| counts(*c)).count();
    if before == 0 {
        // In what is before the words of the first line, which stays; or there are no words but marks.
        return start + new.floor_char_boundary(at - old.start);
    }
    let ends_word = scene.text.char_at(at).is_none_or(char::is_whitespace);
    let wanted = if ends_word { before - 1 } else { before };
    let found = new.char_indices().filter(|(_, c)| counts(*c)).nth(wanted);
    found.map_or(start + new.len(), |(offset, c)| start + offset + if ends_word { c.len_utf8() } else { 0 })
}

fn paragraphs_of(scene: &Scene, run: &Run) -> Vec<Paragraph> {
    let is_sole = scene.cursors.list()[run.cursors.clone()].iter().all(|each| each.is_caret());
    let (mut first, mut last) = (run.first, run.last);
    if is_sole {
        let joins = |upper: Line, lower: Line| match (parts(scene, upper), parts(scene, lower)) {
            (Some(one), Some(other)) => goes_on(&one, &other),
            _ => false,
        };
        while let Some(above) = first.previous().filter(|above| joins(*above, first)) {
            first = above;
        }
        while last < scene.text.last_line() && joins(last, last.next()) {
            last = last.next();
        }
    }
    let mut found: Vec<Paragraph> = Vec::new();
    let mut before: Option<Parts> = None;
    for line in (first.0..=last.0).map(Line) {
        let Some(own) = parts(scene, line).filter(|parts| !parts.words.is_empty()) else {
            before = None;
            continue;
        };
        let words = own.words.split_whitespace().map(str::to_owned);
        match (found.last_mut(), &before) {
            (Some(paragraph), Some(previous)) if goes_on(previous, &own) => {
                if paragraph.last == paragraph.first {
                    paragraph.leads[1].clone_from(&own.lead);
                }
                paragraph.last = line;
                paragraph.words.extend(words);
            }
            _ => {
                let hanging = " ".repeat(item_mark(&own.words).chars().count());
                let leads = [own.lead.clone(), format!("{}{hanging}", own.lead)];
                found.push(Paragraph { first: line, last: line, leads, words: words.collect() });
            }
        }
        before = Some(own);
    }
    found
}

/// Whether `lower` goes on with the paragraph of `upper`.
fn goes_on(upper: &Parts, lower: &Parts) -> bool {
    upper.mark == lower.mark && !upper.words.is_empty() && !lower.words.is_empty() && item_mark(&lower.words).is_empty()
}

/// What a list item begins with, the space after it included; nothing where it is none.
fn item_mark(words: &str) -> &str {
    let digits = words.len() - words.trim_start_matches(|c: char| c.is_ascii_digit()).len();
    let behind = if digits > 0 { digits + 1 } else { 1 };
    let is_mark = match words[digits..].chars().next() {
        Some('.' | ')') => digits > 0,
        Some('-' | '*' | '+') => digits == 0,
        _ => false,
    };
    if is_mark && words[behind..].starts_with(' ') { &words[..=behind] } else { "" }
}

/// What `line` consists of; none where it is code, or holds the marks of a block comment.
fn parts(scene: &Scene, line: Line) -> Option<Parts> {
    let text = scene.text;
    let content = text.content(line);
    let indentation = content.len() - content.trim_start().len();
    let start = text.line_start(line) + indentation;
    let pieces = scene.syntax.pieces(line);
    let split = |mark: usize| {
        let behind = &content[indentation + mark..];
        let spacing = behind.len() - behind.trim_start().len();
        let lead = indentation + mark + spacing;
        Parts {
            lead: content[..lead].to_owned(),
            mark: content[indentation..indentation + mark].to_owned(),
            words: content[lead..].trim_end().to_owned(),
        }
    };
    match pieces.first().filter(|piece| piece.token.kind == Kind::Comment && piece.span.start <= start) {
        Some(piece) if matches!(piece.token.form, Form::Line(_)) => {
            let language = scene.language_at(piece.span.start);
            let begun = language.line.iter().filter(|mark| content[indentation..].starts_with(mark.as_str()));
            Some(split(begun.map(String::len).max()?))
        }
        Some(piece) if !piece.token.opens && !piece.token.closes => {
            Some(split(usize::from(content[indentation..].starts_with('*'))))
        }
        None if scene.language_at(start).prose && pieces.is_empty() => {
            let is_structure = content.trim_start().starts_with(['#', '|', '>', '<', '`', '~', '=']);
            Some(split(0)).filter(|_| !is_structure)
        }
        Some(_) | None => None,
    }
}

fn laid_out(scene: &Scene, paragraph: &Paragraph) -> String {
    let tabs: TabWidth = scene.settings.tabs;
    let limit = scene.settings.text_width;
    let cells = |text: &str| width(text, tabs).0;
    let mut out = paragraph.leads[0].clone();
    let mut column = cells(&out);
    let mut is_first = true;
    for word in &paragraph.words {
        let wide = cells(word);
        if !is_first && column + 1 + wide > limit {
            out.push_str(scene.settings.line_end.as_str());
            out.push_str(&paragraph.leads[1]);
            column = cells(&paragraph.leads[1]);
        } else if !is_first {
            out.push(' ');
            column += 1;
        }
        out.push_str(word);
        column += wide;
        is_first = false;
    }
    out
}
