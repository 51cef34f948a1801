//! Reflowing: the words of a comment's paragraph, or of prose, are laid out anew in the text's width.
//!
//! Marks and indentation stay; what a line begins with can make it an item, which begins a paragraph and keeps its lines hanging
//! under its text, or something with a form of its own, which is left alone (`rows`). Width in cells. Cost: linear in
//! the paragraphs.

use crate::changes::ChangeBuilder;
use crate::cursors::{CursorSet, Selection};
use crate::text::cells::{TabWidth, width};
use crate::units::{Byte, Line, Span};
use crate::verbs::comments::rows::{Row, Words, rows_around};
use crate::verbs::scene::{Outcome, Run, Scene, counted};

/// Lines that belong together.
#[derive(Debug)]
struct Paragraph {
    first: Line,
    last: Line,
    /// What is before the words of the first line, and of the others.
    leads: [String; 2],
    words: Vec<String>,
    /// What asks for a line break at its end.
    hard_break: &'static str,
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
        return Outcome::nothing("no comment, documentation or prose here");
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
        return Outcome::already(format!("laid out in {} cells already", scene.settings.text_width));
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
    let rows = rows_around(scene, run, is_sole);
    let mut found: Vec<Paragraph> = Vec::new();
    let mut before: Option<&Words> = None;
    let selected = |line: &Line| is_sole || (run.first <= *line && *line <= run.last);
    for (line, row) in rows.iter().filter(|(line, _)| selected(line)) {
        let Row::Words(own) = row else {
            before = None;
            continue;
        };
        let words = own.said.split_whitespace().map(str::to_owned);
        match (found.last_mut(), before) {
            (Some(paragraph), Some(previous)) if goes_on(previous, own) => {
                if paragraph.last == paragraph.first {
                    paragraph.leads[1].clone_from(&own.lead);
                }
                paragraph.last = *line;
                paragraph.words.extend(words);
            }
            _ => {
                let hanging = " ".repeat(own.item.chars().count());
                let leads = [own.lead.clone(), format!("{}{hanging}", own.lead)];
                found.push(Paragraph { first: *line, last: *line, leads, words: words.collect(), hard_break: "" });
            }
        }
        if let (Some(paragraph), true) = (found.last_mut(), own.breaks) {
            paragraph.hard_break = "  ";
        }
        before = Some(own);
    }
    found.retain(|paragraph| paragraph.first <= run.last && run.first <= paragraph.last);
    found
}

/// Whether `lower` goes on with the paragraph of `upper`.
fn goes_on(upper: &Words, lower: &Words) -> bool {
    let hangs = !upper.item.is_empty() || upper.hangs;
    upper.mark == lower.mark
        && lower.item.is_empty()
        && !upper.breaks
        && (upper.lead == lower.lead || hangs || !lower.is_deeper_than(upper))
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
    out + paragraph.hard_break
}
