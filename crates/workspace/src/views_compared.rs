//! What differs between two views, as of two revisions.

use crate::ids::ViewId;
use snarvel_core::changes::Change;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};

/// What differs between two views.
#[derive(Debug)]
pub struct ViewsCompared {
    /// The views.
    pub(crate) views: [ViewId; 2],
    /// The revisions of their texts.
    pub(crate) revisions: [u64; 2],
    /// The places that differ, in order: in the first text and in the second.
    pub(crate) places: Vec<[Span; 2]>,
    /// Within them the parts that differ, in order.
    pub(crate) parts: Vec<Part>,
}

/// A part of a place that differs.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Part {
    /// Where it is in the first text and in the second.
    pub(crate) spans: [Span; 2],
    /// Whether it is a part of one line: a place with other numbers of lines is a part by itself.
    pub(crate) is_of_line: bool,
}

/// Longer places are not looked into.
const LONGEST: usize = 64 << 10;

impl ViewsCompared {
    /// What `change` makes the second text of the first. Cost: the places that differ.
    pub(crate) fn of(views: [ViewId; 2], revisions: [u64; 2], (change, texts): (&Change, [&Text; 2])) -> ViewsCompared {
        let mut grown = 0_isize;
        let place = |edit: &snarvel_core::changes::Edit| {
            let start = Byte(edit.start().0.saturating_add_signed(grown));
            grown += edit.inserted_len() as isize - edit.removed_len() as isize;
            [edit.span(), Span::new(start, start + edit.inserted_len())]
        };
        let places: Vec<[Span; 2]> = change.edits().iter().map(place).collect();
        let parts = places.iter().flat_map(|place| parts(*place, texts)).collect();
        ViewsCompared { views, revisions, places, parts }
    }
}

/// The parts of a place that differ: line by line where both sides have as many lines.
fn parts(place: [Span; 2], texts: [&Text; 2]) -> Vec<Part> {
    let whole = vec![Part { spans: place, is_of_line: false }];
    if place.iter().any(|span| span.len() > LONGEST) {
        return whole;
    }
    let [one, other] = [0, 1].map(|side| texts[side].slice(place[side]));
    let lines = [&one, &other].map(|text| text.split_inclusive('\n').collect::<Vec<&str>>());
    if lines[0].len() != lines[1].len() {
        return whole;
    }
    let mut starts = place.map(|span| span.start);
    let mut parts = Vec::new();
    for (one, other) in lines[0].iter().zip(&lines[1]) {
        let both = one.chars().zip(other.chars());
        let head: usize = both.take_while(|(one, other)| one == other).map(|(c, _)| c.len_utf8()).sum();
        let both = one[head..].chars().rev().zip(other[head..].chars().rev());
        let tail: usize = both.take_while(|(one, other)| one == other).map(|(c, _)| c.len_utf8()).sum();
        if one != other {
            let part = |start: Byte, line: &str| Span::new(start + head, start + (line.len() - tail));
            let spans = [part(starts[0], one), part(starts[1], other)];
            parts.push(Part { spans, is_of_line: true });
        }
        starts = [starts[0] + one.len(), starts[1] + other.len()];
    }
    parts
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lines_that_answer_each_other_differ_in_the_parts_between_what_they_share() {
        for (one, other, expected) in [
            ("ebb = 3;\n", "ebb = 12;\n", vec![["3", "12"]]),
            ("@import \"tides\"\n", "@import \"tides\";\n", vec![["", ";"]]),
            ("ebb\nflow\n", "ebb\nflöw\n", vec![["o", "ö"]]),
            ("aaa", "aa", vec![["a", ""]]),
            ("one\ntwo\n", "two\n", vec![["one\ntwo\n", "two\n"]]),
            ("潮x", "潮y", vec![["x", "y"]]),
        ] {
            let texts = [Text::from(one), Text::from(other)];
            let whole = [&texts[0], &texts[1]].map(|text| Span::new(Byte(0), text.end()));
            let found = parts(whole, [&texts[0], &texts[1]]);
            let told = found.iter().map(|part| [0, 1].map(|side| texts[side].slice(part.spans[side]).into_owned()));
            let expected: Vec<[String; 2]> = expected.into_iter().map(|sides| sides.map(str::to_owned)).collect();
            assert_eq!(told.collect::<Vec<_>>(), expected, "{one:?} {other:?}");
        }
    }
}
