//! The way through the stops of a template that was put in: which are gone to, which are still there.
//!
//! A session knows no positions: its callers keep the spans of the places, and give them in the order of the places.

use super::LAST_STOP;
use crate::text::Text;
use crate::units::{Direction, Span};
use std::collections::BTreeMap;

/// The stops of a template that was put in, at each cursor.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Stops {
    /// Where it was put in.
    pub copies: Vec<StopCopy>,
    /// The words of stops that are choices.
    pub choices: BTreeMap<u32, Vec<String>>,
}

/// The stops at one cursor.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct StopCopy {
    /// All that was put in.
    pub span: Span,
    /// The places of the stops.
    pub places: Vec<StopPlace>,
}

/// A place of a stop.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct StopPlace {
    /// The number of the stop.
    pub number: u32,
    /// Where it is.
    pub span: Span,
    /// Which place of the same copy it is inside of.
    pub outer: Option<usize>,
}

/// How the span of a place takes in text that is put in at its edges.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Edges {
    /// It takes it in: the stop is being typed at, or holds one that is.
    Holds,
    /// It takes nothing in: there is text in it, and what is beside it is another place's.
    Keeps,
    /// It is empty, and stays before it.
    StaysBefore,
    /// It is empty, and goes after it.
    GoesAfter,
}

#[derive(Clone, Debug)]
struct Placed {
    number: u32,
    copy: usize,
    outer: Option<usize>,
    /// Whether there was text in it at first.
    had_text: bool,
    /// What was in the outer place before and after it at first.
    around: [String; 2],
}

/// A way through stops.
#[derive(Clone, Debug)]
pub struct Session {
    places: Vec<Placed>,
    choices: BTreeMap<u32, Vec<String>>,
    /// The stops in their order, and at which of them it is.
    numbers: Vec<u32>,
    at: usize,
}

impl Session {
    /// Of the stops that were put into `text`, and the spans of their places; at the first of them. Cost: linear in the places.
    #[must_use]
    pub fn begin(stops: Stops, text: &Text) -> (Session, Vec<Span>) {
        let (mut places, mut spans) = (Vec::new(), Vec::new());
        for (copy, StopCopy { places: of_copy, .. }) in stops.copies.iter().enumerate() {
            let first = places.len();
            for place in of_copy {
                let around = place.outer.and_then(|outer| of_copy.get(outer)).map_or_else(Default::default, |outer| {
                    let before = Span::new(outer.span.start, place.span.start);
                    let after = Span::new(place.span.end, outer.span.end);
                    [before, after].map(|span| text.slice(span).into_owned())
                });
                let outer = place.outer.map(|outer| first + outer);
                places.push(Placed { number: place.number, copy, outer, had_text: !place.span.is_empty(), around });
                spans.push(place.span);
            }
        }
        let mut numbers: Vec<u32> = places.iter().map(|place| place.number).collect();
        numbers.sort_by_key(|number| (*number == LAST_STOP, *number));
        numbers.dedup();
        (Session { places, choices: stops.choices, numbers, at: 0 }, spans)
    }

    /// The number of the stop that it is at.
    #[must_use]
    pub fn number(&self) -> u32 {
        self.numbers.get(self.at).copied().unwrap_or(LAST_STOP)
    }

    /// The words of the stop that it is at, where that is a choice.
    #[must_use]
    pub fn choice(&self) -> Option<&[String]> {
        self.choices.get(&self.number()).map(Vec::as_slice)
    }

    /// Whether it is at its last stop.
    #[must_use]
    pub fn is_over(&self) -> bool {
        self.number() == LAST_STOP
    }

    /// The places of the stop that it is at, with the copies that they are in.
    pub fn here(&self) -> impl Iterator<Item = (usize, usize)> + '_ {
        let number = self.number();
        let is_here = move |(_, place): &(usize, &Placed)| place.number == number;
        self.places.iter().enumerate().filter(is_here).map(|(index, place)| (index, place.copy))
    }

    /// Whether a place is there still: one inside another goes when that is typed over.
    fn is_there(&self, index: usize, spans: &[Span], text: &Text) -> bool {
        let place = &self.places[index];
        let Some(outer) = place.outer else { return true };
        let is_intact = match place.had_text {
            true => !spans[index].is_empty(),
            false => {
                let now = text.slice(spans[outer]);
                let [before, after] = &place.around;
                now.len() >= before.len() + after.len()
                    && now.starts_with(before.as_str())
                    && now.ends_with(after.as_str())
            }
        };
        is_intact && self.is_there(outer, spans, text)
    }

    fn has(&self, number: u32, spans: &[Span], text: &Text) -> bool {
        (0..self.places.len()).any(|index| self.places[index].number == number && self.is_there(index, spans, text))
    }

    /// How many stops are still to come.
    #[must_use]
    pub fn left(&self, spans: &[Span], text: &Text) -> usize {
        self.numbers.iter().skip(self.at + 1).filter(|number| self.has(**number, spans, text)).count()
    }

    /// Goes to the next stop, or the one before; false where there is none.
    pub fn step(&mut self, direction: Direction, (spans, text): (&[Span], &Text)) -> bool {
        let is_there = |at: &usize| self.has(self.numbers[*at], spans, text);
        let to = match direction {
            Direction::Forward => (self.at + 1..self.numbers.len()).find(is_there),
            Direction::Back => (0..self.at).rev().find(is_there),
        };
        self.at = to.unwrap_or(self.at);
        to.is_some()
    }

    /// How the edges of each place are to behave while the stop that it is at is typed at. Cost: linear in the places.
    #[must_use]
    pub fn edges(&self, spans: &[Span]) -> Vec<Edges> {
        let number = self.number();
        let mut edges = vec![None; self.places.len()];
        for (index, place) in self.places.iter().enumerate().filter(|(_, place)| place.number == number) {
            edges[index] = Some(Edges::Holds);
            let mut outer = place.outer;
            while let Some(at) = outer {
                edges[at] = Some(Edges::Holds);
                outer = self.places[at].outer;
            }
        }
        // The places are in the order of the text: an empty one that is where a place of the stop begins, and comes before it, stays before.
        let mut starts = None;
        for index in (0..self.places.len()).rev() {
            if self.places[index].number == number {
                starts = Some(spans[index].start);
            } else if edges[index].is_none() {
                let touches = starts == Some(spans[index].end) && !self.is_inside_one(index);
                edges[index] = Some(match touches {
                    _ if !spans[index].is_empty() => Edges::Keeps,
                    true => Edges::StaysBefore,
                    false => Edges::GoesAfter,
                });
            }
        }
        edges.into_iter().map(|edges| edges.unwrap_or(Edges::GoesAfter)).collect()
    }

    /// Whether the place at `index` is inside one of the stop.
    fn is_inside_one(&self, index: usize) -> bool {
        let number = self.number();
        std::iter::successors(Some(index), |at| self.places[*at].outer).any(|at| self.places[at].number == number)
    }
}
