//! Bookmarks: lines that a person has marked, which stay with their lines through edits.
//!
//! A bookmark is the place where its line's content begins. Two that come to be on one line are one. Cost of a
//! change: linear in its edits and in the bookmarks.

use crate::spans::Policy;
use crate::text::Text;
use crate::units::{Byte, Direction, Line, Span};

/// The bookmarks of one text, in its order.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Bookmarks {
    list: Vec<Byte>,
}

impl Bookmarks {
    /// How bookmarks move with edits: what is put in at a mark goes before it.
    pub const POLICY: Policy = Policy { settle, ..Policy::PLACES };

    /// Those at the places of `spans`, which are in the order of the text.
    #[must_use]
    pub fn at(spans: &[Span]) -> Bookmarks {
        Bookmarks { list: spans.iter().map(|span| span.start).collect() }
    }

    /// Their places, as a store of spans keeps them.
    #[must_use]
    pub fn spans(&self) -> Vec<Span> {
        self.list.iter().copied().map(Span::at).collect()
    }

    /// Marks for these lines of `text`; those that it does not have are left out.
    #[must_use]
    pub fn on(text: &Text, lines: impl IntoIterator<Item = Line>) -> Bookmarks {
        let known = lines.into_iter().filter(|line| line.0 < text.line_count());
        Bookmarks { list: known.map(|line| place(text, line)).collect() }.settled(text)
    }

    /// The lines that are marked, in order.
    pub fn lines<'a>(&'a self, text: &'a Text) -> impl DoubleEndedIterator<Item = Line> + ExactSizeIterator + 'a {
        self.list.iter().map(|at| text.line_of(*at))
    }

    /// Where the marked lines begin, in order.
    #[must_use]
    pub fn places(&self) -> &[Byte] {
        &self.list
    }

    /// Whether there is none.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.list.is_empty()
    }

    /// How many there are.
    #[must_use]
    pub fn len(&self) -> usize {
        self.list.len()
    }

    /// Whether `line` is marked.
    #[must_use]
    pub fn holds(&self, text: &Text, line: Line) -> bool {
        let span = text.line_span(line);
        let first = self.list.partition_point(|at| *at < span.start);
        self.list.get(first).is_some_and(|at| text.line_of(*at) == line)
    }

    /// Whether a mark is within `span`.
    #[must_use]
    pub fn within(&self, span: Span) -> bool {
        let first = self.list.partition_point(|at| *at < span.start);
        self.list.get(first).is_some_and(|at| *at < span.end)
    }

    /// With a mark on each of `lines`, or without where all of them have one.
    #[must_use]
    pub fn turned(&self, text: &Text, lines: &[Line]) -> Bookmarks {
        let all = lines.iter().all(|line| self.holds(text, *line));
        let others = self.lines(text).filter(|line| !lines.contains(line));
        let added = lines.iter().copied().filter(|_| !all);
        Bookmarks::on(text, others.chain(added))
    }

    /// The nearest marked line in `direction` from `line`, round the text where there is none on the way.
    #[must_use]
    pub fn next(&self, text: &Text, line: Line, direction: Direction) -> Option<Line> {
        let mut lines = self.lines(text);
        match direction {
            Direction::Forward => self.lines(text).find(|each| *each > line).or_else(|| lines.next()),
            Direction::Back => self.lines(text).rev().find(|each| *each < line).or_else(|| lines.next_back()),
        }
    }

    fn settled(mut self, text: &Text) -> Bookmarks {
        self.list.sort_unstable();
        self.list.dedup_by_key(|at| text.line_of(*at));
        self
    }
}

/// Two that come to be on one line are one.
fn settle(spans: &mut Vec<Span>, text: &Text) {
    *spans = Bookmarks { list: spans.iter().map(|span| span.start).collect() }.settled(text).spans();
}

/// Where the bookmark of `line` is: what is put in before the first letter goes before it.
fn place(text: &Text, line: Line) -> Byte {
    text.indentation_span(line).end
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::changes::ChangeBuilder;
    use crate::spans::{Owner, SpanStore};

    fn lines(bookmarks: &Bookmarks, text: &Text) -> Vec<usize> {
        bookmarks.lines(text).map(|line| line.0).collect()
    }

    #[test]
    fn bookmarks_stay_with_their_lines() {
        let mut text = Text::from("tide\n  ebb\nflow\n");
        let owner = Owner::of_text("bookmarks");
        let mut store = SpanStore::default();
        let marks = Bookmarks::on(&text, [Line(1), Line(2), Line(9)]);
        assert_eq!(lines(&marks, &text), [1, 2]);
        store.set(owner, Bookmarks::POLICY, marks.spans());
        let mut builder = ChangeBuilder::new(&text);
        builder.insert(Byte(0), "new\n");
        builder.insert(Byte(7), "// ");
        let change = builder.finish();
        text.apply(&change);
        store.follow(&change, &text);
        assert_eq!(lines(&Bookmarks::at(store.get(owner)), &text), [2, 3]);
        // The lines between are gone: two become one.
        let mut builder = ChangeBuilder::new(&text);
        builder.remove(Span::new(Byte(4), text.end()));
        let change = builder.finish();
        text.apply(&change);
        store.follow(&change, &text);
        assert_eq!(lines(&Bookmarks::at(store.get(owner)), &text), [1]);
    }

    #[test]
    fn turning_marks_and_going_round() {
        let text = Text::from("a\nb\nc\nd\n");
        let marks = Bookmarks::default().turned(&text, &[Line(1), Line(3)]);
        assert_eq!(lines(&marks, &text), [1, 3]);
        assert!(marks.holds(&text, Line(3)) && !marks.holds(&text, Line(2)));
        let go = |line: usize, direction| marks.next(&text, Line(line), direction).map(|line| line.0);
        assert_eq!([go(1, Direction::Forward), go(3, Direction::Forward)], [Some(3), Some(1)]);
        assert_eq!([go(3, Direction::Back), go(1, Direction::Back)], [Some(1), Some(3)]);
        assert_eq!(lines(&marks.turned(&text, &[Line(0), Line(1)]), &text), [0, 1, 3]);
        assert_eq!(lines(&marks.turned(&text, &[Line(3)]), &text), [1]);
        assert_eq!(Bookmarks::default().next(&text, Line(0), Direction::Back), None);
    }
}
