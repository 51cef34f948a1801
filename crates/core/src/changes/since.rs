//! What differs from the text as it was saved, line by line, kept up to date with each change.
//!
//! Units are lines. Cost of a change: linear in its edits and in the stretches that differ already.

use super::{Bias, Change, Mapper};
use crate::text::Text;
use crate::units::{Byte, Line, Span};

/// How a line differs from what was saved.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Differs {
    /// It was put in.
    Added,
    /// It reads otherwise.
    Changed,
    /// Lines before it are gone.
    DeletedBefore,
}

/// A stretch of lines that differs: where it is now, and what it was.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Stretch {
    now: Span,
    saved: Span,
}

impl Stretch {
    /// How far places of the saved text are from those of the text behind it.
    fn shift(self) -> i64 {
        self.saved.end.0 as i64 - self.now.end.0 as i64
    }
}

/// The stretches that differ, in the order of the text.
#[derive(Clone, Debug)]
pub struct Since {
    saved: Text,
    stretches: Vec<Stretch>,
}

/// Longer stretches, in bytes with what was saved, are not compared line by line: this is asked for at every frame.
const LONGEST_COMPARED: usize = 512 << 10;

impl Since {
    /// Nothing differs from `saved` yet.
    #[must_use]
    pub fn new(saved: Text) -> Since {
        Since { saved, stretches: Vec::new() }
    }

    /// Takes in `change`, which is about to be carried out on `text`.
    pub fn follow(&mut self, text: &Text, change: &Change) {
        let mut merged: Vec<Stretch> = Vec::with_capacity(self.stretches.len() + change.edits().len());
        let mut old = std::mem::take(&mut self.stretches).into_iter().peekable();
        // How far the places of the text are from those of the saved one, behind the stretches passed so far.
        let mut shift = 0i64;
        let mut push = |stretch: Stretch| match merged.last_mut() {
            Some(last) if stretch.now.start <= last.now.end => {
                last.now.end = last.now.end.max(stretch.now.end);
                last.saved.end = last.saved.end.max(stretch.saved.end);
            }
            _ => merged.push(stretch),
        };
        for edit in change.edits() {
            let now = whole_lines(text, Span::new(edit.start(), edit.end()));
            while let Some(before) = old.next_if(|stretch| stretch.now.end < now.start) {
                shift = before.shift();
                push(before);
            }
            let saved = |at: Byte, shift: i64| Byte((at.0 as i64 + shift).max(0) as usize);
            let mut whole = Stretch { now, saved: Span::at(saved(now.start, shift)) };
            while let Some(touched) = old.next_if(|stretch| stretch.now.start <= now.end) {
                shift = touched.shift();
                whole.now = Span::new(whole.now.start.min(touched.now.start), whole.now.end.max(touched.now.end));
                whole.saved.start = whole.saved.start.min(touched.saved.start);
            }
            whole.saved.end = saved(whole.now.end, shift).max(whole.saved.start);
            push(whole);
        }
        old.for_each(push);
        self.stretches = merged;
        self.after(change);
    }

    fn after(&mut self, change: &Change) {
        let mut mapper = Mapper::new(change);
        for stretch in &mut self.stretches {
            let start = mapper.map(stretch.now.start, Bias::Before);
            let end = mapper.map(stretch.now.end, Bias::After);
            stretch.now = Span::new(start, end);
        }
    }

    /// How the lines of `text` from `first` to `last` differ; lines that do not are left out.
    #[must_use]
    pub fn lines(&self, text: &Text, first: Line, last: Line) -> Vec<(Line, Differs)> {
        let from = text.line_start(first);
        let skipped = self.stretches.partition_point(|stretch| stretch.now.end < from);
        let mut found: Vec<(Line, Differs)> = Vec::new();
        for stretch in &self.stretches[skipped..] {
            if stretch.now.start >= text.line_span(last).end && last < text.last_line() {
                break;
            }
            let mut see = |line: Line, how: Differs| {
                if first <= line && line <= last && found.last().is_none_or(|(before, _)| *before < line) {
                    found.push((line, how));
                }
            };
            match stretch.now.len() + stretch.saved.len() <= LONGEST_COMPARED {
                true => self.lines_of(text, *stretch, &mut see),
                false => self.lines_by_number(text, *stretch, [first, last], &mut see),
            }
        }
        found
    }

    /// What `line` of `text` read when it was saved, if it reads otherwise now; none for one that was added, and in
    /// stretches too long to be compared.
    #[must_use]
    pub fn was(&self, text: &Text, line: Line) -> Option<String> {
        let start = text.line_start(line);
        let skipped = self.stretches.partition_point(|stretch| stretch.now.end <= start);
        let stretch = self.stretches.get(skipped).filter(|stretch| stretch.now.start <= start)?;
        if stretch.now.len() + stretch.saved.len() > LONGEST_COMPARED {
            return None;
        }
        let (saved, now) = (self.saved.slice(stretch.saved), text.slice(stretch.now));
        let compared = Compared::of(&saved, &now);
        let index = line.0.checked_sub(text.line_of(stretch.now.start).0 + compared.same_before)?;
        let was = (index < compared.gone.len().min(compared.come)).then(|| compared.gone[index])?;
        let was = was.strip_suffix('\n').map_or(was, |was| was.strip_suffix('\r').unwrap_or(was));
        (*was != *text.content(line)).then(|| was.to_owned())
    }

    /// Whether nothing differs.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.stretches.is_empty()
    }

    /// How the first stretch that begins or lies within `span` differs, at a glance: for a view of the whole
    /// file. Cost: O(log n) in the stretches.
    #[must_use]
    pub fn glance(&self, span: Span) -> Option<Differs> {
        let first = self.stretches.partition_point(|stretch| stretch.now.end < span.start);
        let stretch = self.stretches.get(first).filter(|stretch| stretch.now.start < span.end)?;
        let touches = stretch.now.start >= span.start || stretch.now.end > span.start;
        touches.then_some(match (stretch.now.is_empty(), stretch.saved.is_empty()) {
            (true, _) => Differs::DeletedBefore,
            (_, true) => Differs::Added,
            _ => Differs::Changed,
        })
    }

    /// The lines of a stretch too long to be compared: as many as were saved are changed, the others are added.
    fn lines_by_number(&self, text: &Text, stretch: Stretch, view: [Line; 2], see: &mut dyn FnMut(Line, Differs)) {
        let begin = text.line_of(stretch.now.start);
        let behind = text.line_of(Byte(stretch.now.end.0.saturating_sub(1)).max(stretch.now.start));
        let saved = self.saved.line_of(stretch.saved.end).0 - self.saved.line_of(stretch.saved.start).0;
        for line in (view[0].max(begin).0..=view[1].min(behind).0).map(Line) {
            see(line, if line.0 - begin.0 < saved.max(1) { Differs::Changed } else { Differs::Added });
        }
    }

    /// The lines of a stretch: those that both have are changed where they differ, the others are added.
    fn lines_of(&self, text: &Text, stretch: Stretch, see: &mut dyn FnMut(Line, Differs)) {
        let saved = self.saved.slice(stretch.saved);
        let now = text.slice(stretch.now);
        let first = text.line_of(stretch.now.start);
        if saved == now {
            return;
        }
        let Compared { same_before, gone, come } = Compared::of(&saved, &now);
        let gone = gone.len();
        for index in 0..come {
            see(Line(first.0 + same_before + index), if index < gone { Differs::Changed } else { Differs::Added });
        }
        if gone > come && come == 0 {
            see(Line((first.0 + same_before).min(text.last_line().0)), Differs::DeletedBefore);
        }
    }
}

/// The lines of a stretch, without those at its start and its end that are the same.
struct Compared<'a> {
    same_before: usize,
    /// The lines that were saved.
    gone: Vec<&'a str>,
    /// How many stand in their place.
    come: usize,
}

impl<'a> Compared<'a> {
    fn of(saved: &'a str, now: &str) -> Compared<'a> {
        let (mut old, new) = (split(saved), split(now));
        let same_before = old.iter().zip(&new).take_while(|(a, b)| a == b).count();
        let behind = old[same_before..].iter().rev().zip(new[same_before..].iter().rev());
        let same_behind = behind.take_while(|(a, b)| a == b).count();
        let come = new.len() - same_before - same_behind;
        Compared { same_before, gone: old.drain(same_before..old.len() - same_behind).collect(), come }
    }
}

fn split(text: &str) -> Vec<&str> {
    text.split_inclusive('\n').collect()
}

/// `span` widened to whole lines.
fn whole_lines(text: &Text, span: Span) -> Span {
    // Mostly a line lies in one piece of the rope, and need not be asked for.
    let chunk = text.chunk_at(span.start);
    let bytes = chunk.text.as_bytes();
    let before = memchr::memrchr(b'\n', &bytes[..(span.start - chunk.start).min(bytes.len())]);
    let behind = bytes.get(span.end - chunk.start..).and_then(|rest| memchr::memchr(b'\n', rest));
    match (before, behind) {
        (Some(before), Some(behind)) => Span::new(chunk.start + before + 1, span.end + behind + 1),
        _ => Span::new(text.line_start(text.line_of(span.start)), text.line_span(text.line_of(span.end)).end),
    }
}
