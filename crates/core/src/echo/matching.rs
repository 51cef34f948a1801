//! Where a rule fits in a row, and what the row becomes there.

use super::lexemes::{Class, Lexeme, Row};
use super::making::{Part, counted_on};
use super::pattern::{HoleKind, Item, Side};
use super::rule::{Gap, Rule};
use crate::languages::scanner::Kind;
use crate::units::Direction;
use std::ops::Range;

/// A place of a row where a rule fits.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Fitting {
    /// The least level at which it fits.
    pub level: usize,
    /// What goes, in bytes of the row.
    pub goes: Range<usize>,
    /// What the holes hold, in bytes of the row.
    pub held: Vec<Option<Range<usize>>>,
}

/// A walk through lexemes in one direction, and what holes were found to hold.
#[derive(Clone)]
struct Walk<'a> {
    side: Side<'a>,
    rule: &'a Rule,
    held: Vec<Option<Range<usize>>>,
    /// Where the walk was when so many items were still to come.
    mark: (usize, usize),
}

impl<'a> Walk<'a> {
    fn lexeme(&self, at: usize, direction: Direction) -> Option<(usize, &'a Lexeme)> {
        let index = match direction {
            Direction::Forward => at,
            Direction::Back => at.checked_sub(1)?,
        };
        self.side.lexemes.get(index).map(|lexeme| (index, lexeme))
    }

    /// One past `index`, in the direction.
    fn past(index: usize, direction: Direction) -> usize {
        match direction {
            Direction::Forward => index + 1,
            Direction::Back => index,
        }
    }

    /// Goes over `items`, which are in the order of the walk, from `at` on; gives where that ends. A hole ends where what is after it
    /// can follow.
    fn over(&mut self, items: &[&Item], at: usize, direction: Direction) -> Option<usize> {
        if items.len() == self.mark.0 {
            self.mark.1 = at;
        }
        let Some((first, rest)) = items.split_first() else { return Some(at) };
        match first {
            Item::Literal { text, class, kind } => {
                let (index, lexeme) = self.lexeme(at, direction)?;
                let is_it = lexeme.class == *class && lexeme.kind == *kind && self.side.str(index) == text;
                if is_it { self.over(rest, Self::past(index, direction), direction) } else { None }
            }
            Item::Hole(hole) => {
                let known = self.held.clone();
                for end in self.ends_of(*hole, at, direction) {
                    if self.hold(*hole, at, end)
                        && let Some(done) = self.over(rest, end, direction)
                    {
                        return Some(done);
                    }
                    self.held.clone_from(&known);
                }
                None
            }
        }
    }

    /// Where a hole that begins at `at` may end, the nearest first.
    fn ends_of(&self, hole: usize, at: usize, direction: Direction) -> Vec<usize> {
        let hole = &self.rule.holes[hole];
        let Some((index, lexeme)) = self.lexeme(at, direction) else { return Vec::new() };
        let one =
            |is_it: bool| if is_it && lexeme.kind == hole.of { vec![Self::past(index, direction)] } else { Vec::new() };
        let pair = || {
            let partner = lexeme.partner.filter(|partner| (*partner > index) == (direction == Direction::Forward));
            partner.map(|partner| Self::past(partner, direction))
        };
        match hole.kind {
            HoleKind::Name => one(lexeme.class == Class::Name),
            HoleKind::Number => one(lexeme.class == Class::Number),
            HoleKind::Text => pair().filter(|_| lexeme.kind == hole.of).into_iter().collect(),
            HoleKind::Inside => self.inside(at, direction).into_iter().collect(),
            HoleKind::Expression => self.expression(at, direction),
            HoleKind::Words => self.words(hole.of, at, direction),
        }
    }

    /// The end of what is between two brackets or quotes, of which the one that comes first on the way was just passed.
    fn inside(&self, at: usize, direction: Direction) -> Option<usize> {
        let passed = match direction {
            Direction::Forward => at.checked_sub(1)?,
            Direction::Back => at,
        };
        let partner = self.side.lexemes.get(passed)?.partner?;
        Some(if direction == Direction::Forward { partner } else { partner + 1 })
    }

    /// Where an expression that begins at `at` may end.
    fn expression(&self, at: usize, direction: Direction) -> Vec<usize> {
        let (mut ends, mut at) = (Vec::new(), at);
        while let Some((index, lexeme)) = self.lexeme(at, direction) {
            let partner = lexeme.partner.filter(|partner| (*partner > index) == (direction == Direction::Forward));
            let is_bracket = matches!(lexeme.class, Class::Opener | Class::Closer);
            let ends_here =
                matches!(lexeme.class, Class::Separator | Class::Break) || (is_bracket && partner.is_none());
            if ends_here || lexeme.kind == Kind::Comment {
                break;
            }
            at = Self::past(partner.unwrap_or(index), direction);
            ends.push(at);
        }
        ends
    }

    /// Where words of a comment or a string that begin at `at` may end.
    fn words(&self, kind: Kind, at: usize, direction: Direction) -> Vec<usize> {
        let (mut ends, mut at) = (Vec::new(), at);
        while let Some((index, lexeme)) = self.lexeme(at, direction) {
            let ends_text = kind == Kind::String && matches!(lexeme.class, Class::Opener | Class::Closer);
            if lexeme.kind != kind || lexeme.class == Class::Break || ends_text {
                break;
            }
            at = Self::past(index, direction);
            ends.push(at);
        }
        ends
    }

    /// Takes in what a hole holds; no where it holds something else already.
    fn hold(&mut self, hole: usize, from: usize, to: usize) -> bool {
        let range = from.min(to)..from.max(to);
        let lexemes = &self.side.lexemes[range.clone()];
        let bytes = match (lexemes.first(), lexemes.last()) {
            (Some(first), Some(last)) => first.at.start..last.at.end,
            _ => {
                let at = self.side.lexemes.get(range.start).map_or(self.side.row.text.len(), |lexeme| lexeme.at.start);
                at..at
            }
        };
        let text = |range: &Range<usize>| &self.side.row.text[range.clone()];
        if let Some(known) = &self.held[hole] {
            return text(known) == text(&bytes);
        }
        self.held[hole] = Some(bytes);
        true
    }
}

impl Rule {
    /// Where it fits in a row, in order; places do not overlap. Cost: linear in the row where it has few expressions.
    #[must_use]
    pub fn fittings(&self, side: Side) -> Vec<Fitting> {
        let mut found: Vec<Fitting> = Vec::new();
        let count = side.lexemes.len();
        for at in 0..=count {
            let is_free = |fitting: &Fitting| {
                found.last().is_none_or(|last| fitting.goes.start >= last.goes.end && fitting.goes != last.goes)
            };
            if let Some(fitting) = self.fitting_at(side, at).filter(is_free) {
                found.push(fitting);
            }
        }
        found
    }

    fn fitting_at(&self, side: Side, at: usize) -> Option<Fitting> {
        // The unit next to the edit helps to tell where an expression ends.
        let next: Vec<&Item> = self.right.first().into_iter().flatten().collect();
        let goes: Vec<&Item> = self.goes.iter().collect();
        let with_next: Vec<&Item> = goes.iter().chain(&next).copied().collect();
        let mut walk = Walk { side, rule: self, held: vec![None; self.holes.len()], mark: (next.len(), at) };
        walk.over(&with_next, at, Direction::Forward)?;
        let (_, end) = walk.mark;
        let end = if next.is_empty() && self.ends_open() { self.longest_end(&mut walk, [at, end])? } else { end };
        let goes = self.bytes(side, [at, end])?;
        let matched = [self.matched(&mut walk, at, Direction::Back), self.matched(&mut walk, end, Direction::Forward)];
        let level = self.levels.iter().position(|[left, right]| *left <= matched[0] && *right <= matched[1])?;
        Some(Fitting { level, goes, held: walk.held })
    }

    /// Whether what goes ends with an expression or with words.
    fn ends_open(&self) -> bool {
        let is_open = |item: &Item| {
            let Item::Hole(hole) = item else { return false };
            matches!(self.holes[*hole].kind, HoleKind::Expression | HoleKind::Words)
        };
        self.goes.last().is_some_and(is_open)
    }

    /// With nothing after it to tell where it ends, it goes on as far as it can.
    fn longest_end(&self, walk: &mut Walk, [at, end]: [usize; 2]) -> Option<usize> {
        let Some(Item::Hole(hole)) = self.goes.last() else { return Some(end) };
        let longest = walk.ends_of(*hole, end, Direction::Forward).last().copied();
        let Some(longest) = longest else { return Some(end) };
        let lexemes = walk.side.lexemes;
        let held = walk.held[*hole].take()?;
        walk.held[*hole] = Some(held.start..lexemes[longest - 1].at.end);
        debug_assert!(at < longest, "what goes begins at {at} and ends at {longest}");
        Some(longest)
    }

    /// How many units before or after the edit are there, the line edge counted as one.
    fn matched(&self, walk: &mut Walk, from: usize, direction: Direction) -> usize {
        let units = if direction == Direction::Back { &self.left } else { &self.right };
        let mut at = from;
        for (count, unit) in units.iter().enumerate() {
            let known = walk.held.clone();
            let mut items: Vec<&Item> = unit.iter().collect();
            if direction == Direction::Back {
                items.reverse();
            }
            match walk.over(&items, at, direction) {
                Some(next) => at = next,
                None => {
                    walk.held = known;
                    return count;
                }
            }
        }
        let (edge, is_there) = match direction {
            Direction::Back => (self.edges[0], at == 0),
            Direction::Forward => (self.edges[1], at == walk.side.lexemes.len()),
        };
        units.len() + usize::from(edge && is_there)
    }

    /// What goes, in bytes; none where the white space around it is not as it was.
    fn bytes(&self, side: Side, [from, to]: [usize; 2]) -> Option<Range<usize>> {
        let text = &side.row.text;
        let before = from.checked_sub(1).map_or(0, |last| side.lexemes[last].at.end);
        let after = side.lexemes.get(to).map_or(text.len(), |lexeme| lexeme.at.start);
        if from == to {
            let gap = &text[before..after];
            return self.in_gap(gap).map(|range| before + range.start..before + range.end);
        }
        let (first, last) = (side.lexemes[from].at.start, side.lexemes[to - 1].at.end);
        let [lead, tail] = [&text[before..first], &text[last..after]];
        let [lead, tail] =
            [lead.strip_suffix(self.goes_space[0].as_str())?, tail.strip_prefix(self.goes_space[1].as_str())?];
        let is_right = |gap: Option<Gap>, space: &str| gap.is_none_or(|gap| gap.holds(space));
        let fits = is_right(self.space[0], lead) && is_right(self.space[1], tail);
        fits.then(|| before + lead.len()..after - tail.len())
    }

    /// What goes of the white space between two lexemes, where nothing else does.
    fn in_gap(&self, gap: &str) -> Option<Range<usize>> {
        let goes = self.goes_space[0].len();
        if goes == 0 {
            return self.put_in(gap).map(|at| at..at);
        }
        let len = |gap: Option<Gap>| match gap {
            Some(Gap::Open(len)) => len,
            Some(Gap::Closed) | None => 0,
        };
        let [lead, tail] = self.space.map(len);
        (gap.len() == lead + goes + tail).then_some(lead..lead + goes)
    }

    /// Where in the white space between two lexemes something is put.
    fn put_in(&self, gap: &str) -> Option<usize> {
        match self.space {
            [Some(Gap::Closed), Some(Gap::Closed)] => gap.is_empty().then_some(0),
            [Some(Gap::Closed), Some(Gap::Open(_))] => (!gap.is_empty()).then_some(0),
            [Some(Gap::Open(_)), Some(Gap::Closed)] => (!gap.is_empty()).then_some(gap.len()),
            [Some(Gap::Open(_)), Some(Gap::Open(after))] => gap.len().checked_sub(after).filter(|at| *at > 0),
            [Some(Gap::Closed), None] => Some(0),
            [None, Some(Gap::Closed)] => Some(gap.len()),
            [Some(Gap::Open(_)), None] | [None, Some(Gap::Open(_)) | None] => None,
        }
    }

    /// What comes at a place: text, and numbers that are counted on. None where a number would become less than nothing.
    #[must_use]
    pub fn written_at(&self, row: &Row, fitting: &Fitting) -> Option<Vec<Part>> {
        let held = |hole: usize| fitting.held[hole].clone().map(|range| &row.text[range]);
        let part = |part: &Part| {
            Some(Part::Text(match part {
                Part::Text(text) => text.clone(),
                Part::Held { hole, shape: None } => held(*hole)?.to_owned(),
                Part::Held { hole, shape: Some(shape) } => shape.of(held(*hole)?),
                Part::Plus { hole, by } => counted_on(held(*hole)?, *by)?,
                Part::Count { .. } => return Some(part.clone()),
            }))
        };
        self.comes.iter().map(part).collect()
    }

    /// Whether the row has, around the place, what would come there: then it was done there before.
    #[must_use]
    pub fn is_done(&self, row: &Row, fitting: &Fitting, comes: &str) -> bool {
        let gone = &row.text[fitting.goes.clone()];
        if comes.is_empty() || comes == gone {
            return comes == gone;
        }
        let (before, after) = (&row.text[..fitting.goes.start], &row.text[fitting.goes.end..]);
        // What is next to the edit was next to it before, too.
        let literal = |unit: Option<&Vec<Item>>| {
            let text = |item: &Item| match item {
                Item::Literal { text, .. } => Some(text.clone()),
                Item::Hole(_) => None,
            };
            unit.and_then(|unit| unit.iter().map(text).collect::<Option<String>>()).unwrap_or_default()
        };
        let next = [literal(self.left.first()), literal(self.right.first())];
        comes.match_indices(gone).any(|(at, _)| {
            let rest = [before.strip_suffix(&comes[..at]), after.strip_prefix(&comes[at + gone.len()..])];
            let [Some(lead), Some(tail)] = rest else { return false };
            lead.trim_end().ends_with(&next[0]) && tail.trim_start().starts_with(&next[1])
        })
    }
}
