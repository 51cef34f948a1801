//! What differs from the text as it was saved, line by line, kept up to date with each change.
//!
//! What differs is kept as the edits left it, and widened to whole lines when it is read. Cost of a change: linear in its
//! edits and in the stretches that differ already; of a look: linear in the stretches and bytes that are looked at.

use super::Change;
use crate::text::Text;
use crate::units::{Byte, Line, Span};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

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

/// A stretch that differs: where it is now, and what it was.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Stretch {
    now: Span,
    saved: Span,
}

impl Stretch {
    /// How far places of the saved text are from those of the text after it.
    fn shift(self) -> i64 {
        self.saved.end.0 as i64 - self.now.end.0 as i64
    }
}

/// Stretches on their way through a change: those that touch become one.
struct Merging {
    list: Vec<Stretch>,
    /// The last one: where it begins after the change, and for the rest what it is before it.
    open: Option<(Byte, Stretch)>,
    /// How much longer the text is after the edits so far.
    grown: i64,
}

impl Merging {
    /// Adds a stretch as it is before the change, which goes through no edit so far but those of the one before it.
    fn add(&mut self, stretch: Stretch) {
        match &mut self.open {
            Some((_, last)) if stretch.now.start <= last.now.end => {
                last.now.end = last.now.end.max(stretch.now.end);
                last.saved.end = last.saved.end.max(stretch.saved.end);
            }
            _ => {
                self.close();
                self.open = Some((self.after(stretch.now.start), stretch));
            }
        }
    }

    fn close(&mut self) {
        if let Some((start, Stretch { now, saved })) = self.open.take() {
            self.list.push(Stretch { now: Span::new(start, self.after(now.end).max(start)), saved });
        }
    }

    fn after(&self, at: Byte) -> Byte {
        Byte((at.0 as i64 + self.grown).max(0) as usize)
    }
}

/// A stretch that is widened to whole lines.
#[derive(Clone, Copy, Debug)]
struct Wide {
    stretch: Stretch,
    /// Whether lines came or went in it.
    moves_lines: bool,
}

impl Wide {
    /// Whether it is to be compared as one with `next`: they share a line, or a line may have gone from one to the other.
    fn belongs_to(self, next: Wide) -> bool {
        let (end, start) = (self.stretch.now.end, next.stretch.now.start);
        end > start || (end == start && (self.moves_lines || next.moves_lines))
    }
}

/// The stretches that differ, in the order of the text.
#[derive(Debug)]
pub struct SavedDiff {
    saved: Text,
    stretches: Vec<Stretch>,
    /// What was looked at last: a screen asks for line after line of it, and for a line as often as it has cursors.
    last: Mutex<Option<Looked>>,
}

/// What was asked, the longest stretch that was found, and the result of comparing it, once that was asked.
#[derive(Debug)]
struct Looked {
    asked: [Byte; 2],
    found: Vec<Stretch>,
    whole: Stretch,
    compared: Option<Arc<Compared>>,
}

impl Clone for SavedDiff {
    fn clone(&self) -> SavedDiff {
        SavedDiff { saved: self.saved.clone(), stretches: self.stretches.clone(), last: Mutex::default() }
    }
}

/// Longer stretches, in bytes with what was saved, are not compared line by line: this is asked for at every frame.
const LONGEST_COMPARED: usize = 512 << 10;

impl SavedDiff {
    /// Nothing differs from `saved` yet.
    #[must_use]
    pub fn new(saved: Text) -> SavedDiff {
        SavedDiff { saved, stretches: Vec::new(), last: Mutex::default() }
    }

    /// Takes in `change`, which the text goes through.
    pub fn follow(&mut self, change: &Change) {
        let mut merging =
            Merging { list: Vec::with_capacity(self.stretches.len() + change.edits().len()), open: None, grown: 0 };
        let mut old = std::mem::take(&mut self.stretches).into_iter().peekable();
        // How far the places of the text are from those of the saved one, after the stretches passed so far.
        let mut shift = 0i64;
        for edit in change.edits() {
            let now = edit.span();
            while let Some(before) = old.next_if(|stretch| stretch.now.end < now.start) {
                shift = before.shift();
                merging.add(before);
            }
            let saved = |at: Byte, shift: i64| Byte((at.0 as i64 + shift).max(0) as usize);
            let mut whole = Stretch { now, saved: Span::at(saved(now.start, shift)) };
            while let Some(touched) = old.next_if(|stretch| stretch.now.start <= now.end) {
                shift = touched.shift();
                whole.now = Span::new(whole.now.start.min(touched.now.start), whole.now.end.max(touched.now.end));
                whole.saved.start = whole.saved.start.min(touched.saved.start);
            }
            whole.saved.end = saved(whole.now.end, shift).max(whole.saved.start);
            merging.add(whole);
            merging.grown += edit.inserted_len() as i64 - edit.removed_len() as i64;
        }
        old.for_each(|stretch| merging.add(stretch));
        merging.close();
        self.stretches = merging.list;
        *self.last() = None;
    }

    fn last(&self) -> MutexGuard<'_, Option<Looked>> {
        self.last.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// `stretch` of `text`, widened to whole lines.
    fn widened(&self, text: &Text, stretch: Stretch) -> Wide {
        let now = whole_lines(text, stretch.now);
        let (before, behind) = (stretch.now.start - now.start, now.end - stretch.now.end);
        let end = (stretch.saved.end + behind).min(self.saved.end());
        let start = Byte(stretch.saved.start.0.saturating_sub(before)).min(end);
        let crosses = |text: &Text, span: Span| text.line_of(span.start) != text.line_of(span.end);
        let moves_lines = crosses(text, stretch.now) || crosses(&self.saved, stretch.saved);
        Wide { stretch: Stretch { now, saved: Span::new(start, end) }, moves_lines }
    }

    /// The stretches in the lines of `text` from `first` to `last`, widened to whole lines; those that belong together are one.
    fn around(&self, text: &Text, first: Line, last: Line) -> Vec<Stretch> {
        let from = text.line_start(first);
        // What differs at the end of the text is on its last line.
        let until = if last < text.last_line() { text.line_span(last).end } else { text.end() + 1 };
        if let Some(last) = &*self.last() {
            if last.asked == [from, until] {
                return last.found.clone();
            }
            // Nothing else touches lines that lie inside of one.
            if last.whole.now.start < from && until <= last.whole.now.end {
                return vec![last.whole];
            }
        }
        let wide = |at: usize| self.widened(text, self.stretches[at]);
        let mut at = self.stretches.partition_point(|stretch| stretch.now.end < from);
        // Lines that are gone are told of on the line after; and what belongs to what is seen begins before it. But not
        // much is compared.
        let mut next: Option<Wide> = (at < self.stretches.len()).then(|| wide(at));
        while let Some(before) = at.checked_sub(1).map(wide)
            && (before.stretch.now.end >= from || next.is_some_and(|next| before.belongs_to(next)))
            && from.0.saturating_sub(before.stretch.now.start.0) <= LONGEST_COMPARED
        {
            (at, next) = (at - 1, Some(before));
        }
        let mut found: Vec<Wide> = Vec::new();
        for at in at..self.stretches.len() {
            let wide = wide(at);
            match found.last_mut() {
                Some(last) if last.belongs_to(wide) => {
                    let (now, saved) = (&mut last.stretch.now, &mut last.stretch.saved);
                    (now.end, saved.end) = (wide.stretch.now.end, wide.stretch.saved.end.max(saved.start));
                    last.moves_lines |= wide.moves_lines;
                }
                _ if wide.stretch.now.start >= until => break,
                _ => found.push(wide),
            }
        }
        let found: Vec<Stretch> = found.into_iter().map(|wide| wide.stretch).collect();
        if let Some(&whole) = found.iter().max_by_key(|stretch| stretch.now.len()) {
            *self.last() = Some(Looked { asked: [from, until], found: found.clone(), whole, compared: None });
        }
        found
    }

    /// The lines of `stretch`, compared.
    fn compared(&self, text: &Text, stretch: Stretch) -> Arc<Compared> {
        let mut last = self.last();
        let looked = last.as_mut().filter(|last| last.whole == stretch);
        if let Some(compared) = looked.as_ref().and_then(|looked| looked.compared.clone()) {
            return compared;
        }
        let compared = Arc::new(Compared::of(&self.saved.slice(stretch.saved), &text.slice(stretch.now)));
        looked.into_iter().for_each(|looked| looked.compared = Some(compared.clone()));
        compared
    }

    /// How the lines of `text` from `first` to `last` differ; lines that do not are left out.
    #[must_use]
    pub fn lines(&self, text: &Text, first: Line, last: Line) -> Vec<(Line, Differs)> {
        let mut found: Vec<(Line, Differs)> = Vec::new();
        for stretch in self.around(text, first, last) {
            let mut see = |line: Line, how: Differs| {
                if first <= line && line <= last && found.last().is_none_or(|(before, _)| *before < line) {
                    found.push((line, how));
                }
            };
            match stretch.now.len() + stretch.saved.len() <= LONGEST_COMPARED {
                true => self.lines_of(text, stretch, [first, last], &mut see),
                false => self.lines_by_number(text, stretch, [first, last], &mut see),
            }
        }
        found
    }

    /// The lines of `text` that an edit has touched since it was saved, in order.
    ///
    /// Cost: linear in the lines that differ.
    #[must_use]
    pub fn changed_lines(&self, text: &Text) -> Vec<Line> {
        let mut lines: Vec<Line> = Vec::new();
        for stretch in &self.stretches {
            let (first, last) = (text.line_of(stretch.now.start), text.line_of(stretch.now.end));
            let first = lines.last().map_or(first, |before| first.max(before.next()));
            lines.extend((first.0..=last.0).map(Line));
        }
        lines
    }

    /// What `line` of `text` read when it was saved, if it reads otherwise now; none for one that was added, and in
    /// stretches too long to be compared.
    #[must_use]
    pub fn was(&self, text: &Text, line: Line) -> Option<String> {
        let start = text.line_start(line);
        let holds = |stretch: &Stretch| stretch.now.start <= start && start < stretch.now.end;
        let stretch = self.around(text, line, line).into_iter().find(holds)?;
        if stretch.now.len() + stretch.saved.len() > LONGEST_COMPARED {
            return None;
        }
        let compared = self.compared(text, stretch);
        let index = line.0.checked_sub(text.line_of(stretch.now.start).0 + compared.same_before)?;
        if index >= compared.gone.min(compared.come) {
            return None;
        }
        let gone = self.saved.line_of(stretch.saved.start).0 + compared.same_before + index;
        let was = self.saved.content(Line(gone));
        (was != text.content(line)).then(|| was.into_owned())
    }

    /// The stretches that may differ, in order: where each is now, and what it was in the saved text.
    pub fn stretches(&self) -> impl Iterator<Item = (Span, Span)> + '_ {
        self.stretches.iter().map(|stretch| (stretch.now, stretch.saved))
    }

    /// Whether nothing differs.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.stretches.is_empty()
    }

    /// Where the stretches that differ are, in order, unless there are more than `most`.
    #[must_use]
    pub fn few(&self, most: usize) -> Option<impl Iterator<Item = Span> + '_> {
        (self.stretches.len() <= most).then(|| self.stretches.iter().map(|stretch| stretch.now))
    }

    /// How the first stretch that begins or lies within `span` differs, at a glance: for a view of the whole
    /// file. Cost: O(log n) in the stretches.
    #[must_use]
    pub fn glance(&self, text: &Text, span: Span) -> Option<Differs> {
        // One that ends where `span` begins lies before it, unless it is empty.
        let is_before = |now: Span| now.end < span.start || (now.end == span.start && now.start < now.end);
        let first = self.stretches.partition_point(|stretch| is_before(stretch.now));
        let stretch = self.stretches.get(first).filter(|stretch| stretch.now.start < span.end)?;
        let Stretch { now, saved } = self.widened(text, *stretch).stretch;
        Some(match (now.is_empty(), saved.is_empty()) {
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
    fn lines_of(&self, text: &Text, stretch: Stretch, view: [Line; 2], see: &mut dyn FnMut(Line, Differs)) {
        let Compared { same_before, gone, come } = *self.compared(text, stretch);
        let first = text.line_of(stretch.now.start).0 + same_before;
        for line in view[0].0.max(first)..(view[1].0 + 1).min(first + come) {
            see(Line(line), if line - first < gone { Differs::Changed } else { Differs::Added });
        }
        if gone > come && come == 0 {
            see(Line(first.min(text.last_line().0)), Differs::DeletedBefore);
        }
    }
}

/// The lines of a stretch, without those at its start and its end that are the same.
#[derive(Debug)]
struct Compared {
    same_before: usize,
    /// How many lines that were saved are gone.
    gone: usize,
    /// How many are in their place.
    come: usize,
}

impl Compared {
    fn of(saved: &str, now: &str) -> Compared {
        let split = |text| str::split_inclusive(text, '\n').collect::<Vec<&str>>();
        let (old, new) = (split(saved), split(now));
        let same_before = old.iter().zip(&new).take_while(|(a, b)| a == b).count();
        let behind = old[same_before..].iter().rev().zip(new[same_before..].iter().rev());
        let same = same_before + behind.take_while(|(a, b)| a == b).count();
        Compared { same_before, gone: old.len() - same, come: new.len() - same }
    }
}

/// `span` widened to whole lines.
fn whole_lines(text: &Text, span: Span) -> Span {
    Span::new(text.line_start(text.line_of(span.start)), text.line_span(text.line_of(span.end)).end)
}
