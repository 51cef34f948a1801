//! Folds: lines that are not shown, below one that is. They move with edits.
//!
//! A fold is a span from the end of its header's content to the end of the content of the last line that it hides.
//! Folds may lie inside each other. What a line verb does to a header it does to all that is folded under it; a fold in
//! which a cursor would be hidden opens. Cost of a question: logarithmic in the folds; of a change: linear in them.

use crate::changes::Bias;
use crate::cursors::CursorSet;
use crate::spans::{Gone, Policy};
use crate::text::Text;
use crate::units::{Byte, Direction, Line, Span};

/// The folds of one text.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Folds {
    /// In order, the larger of two that begin together first.
    list: Vec<Span>,
    /// Those that lie in no other.
    outer: Vec<Span>,
}

impl Folds {
    /// How folds move with edits: what is put in at an edge of the hidden lines is not hidden.
    pub const POLICY: Policy = Policy { start: Bias::After, end: Bias::Before, gone: Gone::Vanishes, settle };

    /// Those of `list`, in any order.
    #[must_use]
    pub fn of(mut list: Vec<Span>) -> Folds {
        list.sort_by_key(|span| (span.start, std::cmp::Reverse(span.end)));
        list.dedup();
        let mut outer: Vec<Span> = Vec::new();
        for span in &list {
            match outer.last_mut() {
                // Edits may have left two that overlap.
                Some(last) if span.start < last.end => last.end = last.end.max(span.end),
                _ => outer.push(*span),
            }
        }
        Folds { list, outer }
    }

    /// The fold that hides the lines from the one after `first` to `last`.
    ///
    /// # Panics
    /// In debug builds, if `last` is not after `first`.
    #[must_use]
    pub fn hiding(text: &Text, first: Line, last: Line) -> Span {
        debug_assert!(first < last, "a fold from line {} to line {} hides nothing", first.0, last.0);
        Span::new(text.content_span(first).end, text.content_span(last).end)
    }

    /// All of them, in order.
    #[must_use]
    pub fn list(&self) -> &[Span] {
        &self.list
    }

    /// Whether nothing is folded.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.list.is_empty()
    }

    /// Those for which `keep`.
    #[must_use]
    pub fn retaining(&self, keep: impl Fn(Span) -> bool) -> Folds {
        Folds::of(self.list.iter().copied().filter(|span| keep(*span)).collect())
    }

    /// The outermost fold in which `at` is hidden.
    fn over(&self, at: Byte) -> Option<Span> {
        let before = self.outer.partition_point(|span| span.start < at);
        self.outer[..before].last().copied().filter(|span| at <= span.end)
    }

    /// The line itself where it is shown, else the header under which it is hidden.
    #[must_use]
    pub fn shown(&self, text: &Text, line: Line) -> Line {
        self.over(text.line_start(line)).map_or(line, |span| text.line_of(span.start))
    }

    /// The outermost fold under `line`, if it is a header that is shown.
    #[must_use]
    pub fn under(&self, text: &Text, line: Line) -> Option<Span> {
        let end = text.content_span(line).end;
        let first = self.outer.partition_point(|span| span.start < end);
        self.outer.get(first).copied().filter(|span| span.start == end)
    }

    /// The last line that goes with `line`: itself, or what is folded under it.
    #[must_use]
    pub fn last_under(&self, text: &Text, line: Line) -> Line {
        if self.is_empty() {
            return line;
        }
        self.under(text, line).map_or(line, |span| text.line_of(span.end))
    }

    /// The line that is shown `lines` lines from `line` in `direction`, or as many as there are.
    #[must_use]
    pub fn step(&self, text: &Text, line: Line, direction: Direction, lines: usize) -> Line {
        let last = text.last_line();
        if self.is_empty() {
            return match direction {
                Direction::Back => Line(line.0.saturating_sub(lines)),
                Direction::Forward => Line((line.0 + lines).min(last.0)),
            };
        }
        let mut line = line;
        for _ in 0..lines {
            let next = match direction {
                Direction::Back => line.previous().map(|previous| self.shown(text, previous)),
                Direction::Forward => Some(self.last_under(text, line).next()).filter(|next| *next <= last),
            };
            let Some(next) = next else { break };
            line = next;
        }
        line
    }

    /// Checks what always holds.
    ///
    /// # Panics
    /// If a fold does not lie between the ends of two lines of `text`, or hides an end of one of `cursors`.
    pub fn assert_invariants(&self, text: &Text, cursors: &CursorSet) {
        for span in &self.list {
            let (first, last) = (text.line_of(span.start), text.line_of(span.end));
            assert!(first < last, "the fold {span:?} hides no line");
            assert_eq!(*span, Folds::hiding(text, first, last), "a fold between lines {} and {}", first.0, last.0);
        }
        let mut opened = self.clone();
        opened.reveal(cursors);
        assert_eq!(opened, *self, "a cursor is hidden");
    }

    /// Opens those in which `cursors` have an end.
    pub fn reveal(&mut self, cursors: &CursorSet) {
        if self.list.is_empty() {
            return;
        }
        let list = cursors.list();
        let hides_one = |span: Span| {
            let first = list.partition_point(|each| each.end() <= span.start);
            list.get(first)
                .is_some_and(|each| each.end() <= span.end || (span.start < each.start() && each.start() <= span.end))
        };
        *self = self.retaining(|span| !hides_one(span));
    }
}

/// Brings folds to the ends of their lines; those that hide no line any more go.
fn settle(spans: &mut Vec<Span>, text: &Text) {
    let settled = spans.iter().filter_map(|span| {
        let (first, last) = (text.line_of(span.start), text.line_of(span.end));
        (first < last).then(|| Folds::hiding(text, first, last))
    });
    *spans = settled.collect();
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::changes::{Change, ChangeBuilder};
    use crate::cursors::Selection;
    use crate::spans::{Owner, SpanStore};

    fn text() -> Text {
        Text::from("a\nb\nc\nd\ne\nf\n")
    }

    fn fold(text: &Text, first: usize, last: usize) -> Span {
        Folds::hiding(text, Line(first), Line(last))
    }

    #[test]
    fn steps_pass_over_what_is_folded() {
        let text = text();
        let folds = Folds::of(vec![fold(&text, 1, 3), fold(&text, 2, 3)]);
        let forward: Vec<usize> = (0..5).map(|n| folds.step(&text, Line(0), Direction::Forward, n).0).collect();
        assert_eq!(forward, [0, 1, 4, 5, 6]);
        let back: Vec<usize> = (0..5).map(|n| folds.step(&text, Line(5), Direction::Back, n).0).collect();
        assert_eq!(back, [5, 4, 1, 0, 0]);
        assert_eq!(folds.shown(&text, Line(2)), Line(1));
        assert_eq!([1, 2, 4].map(|line| folds.last_under(&text, Line(line)).0), [3, 2, 4]);
    }

    #[test]
    fn a_fold_opens_only_for_an_end_of_a_cursor_inside() {
        let text = text();
        let rows =
            [(2, 2, true), (3, 3, true), (7, 7, false), (8, 8, true), (0, 12, true), (0, 4, false), (4, 12, false)];
        for (anchor, head, is_kept) in rows {
            let mut folds = Folds::of(vec![fold(&text, 1, 3)]);
            folds.reveal(&CursorSet::of(vec![Selection::new(Byte(anchor), Byte(head))], 0));
            assert_eq!(!folds.is_empty(), is_kept, "{anchor}..{head}");
        }
    }

    /// `folds` after an edit, as a store of spans moves them.
    fn followed(folds: &[Span], change: &Change, after: &Text) -> Vec<Span> {
        let owner = Owner::of_text("folds");
        let mut store = SpanStore::default();
        store.set(owner, Folds::POLICY, folds.to_vec());
        store.follow(change, after);
        store.get(owner).to_vec()
    }

    #[test]
    fn folds_move_with_edits_and_with_what_is_moved() {
        let mut text = text();
        let mut builder = ChangeBuilder::new(&text);
        builder.insert(Byte(0), "x\n");
        builder.insert(Byte(3), "y");
        let change = builder.finish();
        let folds = [fold(&text, 1, 3)];
        text.apply(&change);
        let folds = followed(&folds, &change, &text);
        assert_eq!(folds, [fold(&text, 2, 4)]);
        // The folded lines change places with the one below.
        let lines = Span::new(text.line_start(Line(2)), text.line_start(Line(5)));
        let mut builder = ChangeBuilder::new(&text);
        builder.remove(lines);
        let to = builder.now(text.line_start(Line(6)));
        builder.insert(text.line_start(Line(6)), &text.slice(lines));
        builder.note_move(lines, to);
        let change = builder.finish();
        text.apply(&change);
        let folds = followed(&folds, &change, &text);
        assert_eq!(text.to_string(), "x\na\ne\nby\nc\nd\nf\n");
        assert_eq!(folds, [fold(&text, 3, 5)]);
        // Without a line end inside nothing is left to fold.
        let mut builder = ChangeBuilder::new(&text);
        builder.remove(Span::new(text.content_span(Line(3)).end, text.line_start(Line(6))));
        let change = builder.finish();
        text.apply(&change);
        assert_eq!(followed(&folds, &change, &text), []);
    }
}
