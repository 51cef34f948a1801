//! How a stretch of text is drawn: a list of pieces, each with its colour's role. It moves with edits until a better one is known.

use snarvel_core::changes::{Bias, Change, Mapper};
use snarvel_core::units::Span;

/// What a stretch of text is drawn as.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Paint {
    /// A word of the language itself.
    Keyword,
    /// The name of a type, a tag's attribute, a key.
    Type,
    /// The name of something that is called.
    Function,
    /// Text.
    String,
    /// A number or another constant.
    Number,
    /// A comment.
    Comment,
    /// None of these, though what lies around it may be one.
    Plain,
}

/// A stretch of text and what it is drawn as.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Painted {
    /// Where.
    pub span: Span,
    /// As what.
    pub paint: Paint,
}

/// How a stretch of text is drawn.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Paints {
    /// The stretch of which it is known.
    pub span: Span,
    /// Its parts, in order and without overlaps; what is in none of them is plain.
    pub list: Vec<Painted>,
}

impl Paints {
    /// What of it is in `span`; none where nothing is.
    #[must_use]
    pub fn within(&self, span: Span) -> Option<Paints> {
        let (start, end) = (self.span.start.max(span.start), self.span.end.min(span.end));
        if start >= end {
            return None;
        }
        let reach = Span::new(start, end);
        let first = self.list.partition_point(|each| each.span.end <= span.start);
        let touching = self.list[first..].iter().take_while(|each| each.span.start < span.end);
        Some(Paints { span: reach, list: touching.copied().collect() })
    }

    /// The same with `top` drawn over it, as far as that reaches. Cost: linear in both.
    #[must_use]
    pub fn overlaid(mut self, top: &Paints) -> Paints {
        let mut list: Vec<Painted> = Vec::with_capacity(self.list.len() + top.list.len());
        let mut over = top.list.iter().copied().filter(|each| each.span.overlaps(self.span)).peekable();
        for mut piece in self.list.drain(..) {
            while let Some(next) = over.next_if(|next| next.span.end <= piece.span.start) {
                list.push(next);
            }
            while let Some(next) = over.peek().copied().filter(|next| next.span.start < piece.span.end) {
                if piece.span.start < next.span.start {
                    list.push(Painted { span: Span::new(piece.span.start, next.span.start), ..piece });
                }
                if next.span.end > piece.span.end {
                    piece.span.start = piece.span.end;
                    break;
                }
                list.push(next);
                over.next();
                piece.span.start = next.span.end.max(piece.span.start);
            }
            if !piece.span.is_empty() {
                list.push(piece);
            }
        }
        list.extend(over);
        Paints { list, ..self }
    }

    /// Moves it with `change`: what is put in after a part is drawn like it, until more is known.
    pub fn follow(&mut self, change: &Change) {
        let mut mapper = Mapper::new(change);
        let start = mapper.map(self.span.start, Bias::Before);
        for each in &mut self.list {
            let from = mapper.map(each.span.start, Bias::After);
            each.span = Span::new(from, mapper.map(each.span.end, Bias::After).max(from));
        }
        self.list.retain(|each| !each.span.is_empty());
        self.span = Span::new(start, mapper.map(self.span.end, Bias::After).max(start));
    }
}

#[cfg(test)]
mod tests {
    use super::Paint::{Function, Keyword, Type};
    use super::*;
    use snarvel_core::units::Byte;

    #[test]
    fn what_is_drawn_over_something_cuts_it() {
        let span = |start: usize, end: usize| Span::new(Byte(start), Byte(end));
        let paints = |list: &[(usize, usize, Paint)]| Paints {
            span: span(0, 100),
            list: list.iter().map(|(start, end, paint)| Painted { span: span(*start, *end), paint: *paint }).collect(),
        };
        let base = [(0, 10, Keyword), (20, 30, Keyword)];
        for (top, expected) in [
            (vec![], vec![(0, 10, Keyword), (20, 30, Keyword)]),
            (vec![(2, 4, Type)], vec![(0, 2, Keyword), (2, 4, Type), (4, 10, Keyword), (20, 30, Keyword)]),
            (vec![(0, 10, Type)], vec![(0, 10, Type), (20, 30, Keyword)]),
            (
                vec![(12, 14, Type), (40, 41, Function)],
                vec![(0, 10, Keyword), (12, 14, Type), (20, 30, Keyword), (40, 41, Function)],
            ),
            (vec![(8, 22, Type)], vec![(0, 8, Keyword), (8, 22, Type), (22, 30, Keyword)]),
        ] {
            assert_eq!(paints(&base).overlaid(&paints(&top)), paints(&expected), "{top:?}");
        }
    }

    #[test]
    fn what_is_painted_elsewhere_is_not_here() {
        let span = |start: usize, end: usize| Span::new(Byte(start), Byte(end));
        let list = vec![Painted { span: span(12, 14), paint: Paint::Keyword }];
        let paints = Paints { span: span(10, 20), list };
        for (asked, expected) in [
            (span(0, 5), None),
            (span(0, 10), None),
            (span(20, 30), None),
            (span(25, 30), None),
            (span(0, 13), Some((span(10, 13), 1))),
            (span(15, 40), Some((span(15, 20), 0))),
        ] {
            let found = paints.within(asked).map(|paints| (paints.span, paints.list.len()));
            assert_eq!(found, expected, "{asked:?}");
        }
    }
}
