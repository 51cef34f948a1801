//! Patterns: what the same two edits have before them, as lexemes that are equal in both and holes for what differs.
//!
//! Two stretches are laid over each other unit by unit (a lexeme, or a pair of brackets or quotes with what is between). What is
//! equal stays as it is; what differs becomes a hole of the narrowest kind that holds both. This is anti-unification of two sequences of
//! trees, whose trees are the pairs. Cost: the product of the lengths of both stretches.

use super::lexemes::{Class, Lexeme, Row, Unit, units};
use crate::languages::scanner::Kind;
use std::ops::Range;

/// What a hole holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum HoleKind {
    /// One name.
    Name,
    /// One number.
    Number,
    /// A string with its quotes.
    Text,
    /// What is between two brackets or quotes; it may be nothing.
    Inside,
    /// An expression: units up to a separator or the end of what it is in.
    Expression,
    /// Words of a comment or a string, up to its end or the end of the line.
    Words,
}

/// A hole, with what it held in the two edits.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Hole {
    /// What it holds.
    pub kind: HoleKind,
    /// Code, string or comment.
    pub of: Kind,
    /// What it held in each edit.
    pub held: [String; 2],
}

/// A part of a pattern.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Item {
    /// This lexeme.
    Literal {
        /// Its characters.
        text: String,
        /// What it is.
        class: Class,
        /// Code, string or comment.
        kind: Kind,
    },
    /// The hole of this number.
    Hole(usize),
}

impl Item {
    /// The name or number that it is: it says more than punctuation does.
    #[must_use]
    pub fn telling(&self) -> Option<&str> {
        match self {
            Item::Literal { text, class: Class::Name | Class::Number, .. } => Some(text),
            _ => None,
        }
    }
}

/// A row with its lexemes.
#[derive(Clone, Copy, Debug)]
pub struct Side<'a> {
    /// The row.
    pub row: &'a Row,
    /// Its lexemes.
    pub lexemes: &'a [Lexeme],
}

impl<'a> Side<'a> {
    /// The characters of a lexeme, by its index.
    #[must_use]
    pub fn str(self, at: usize) -> &'a str {
        self.row.str(&self.lexemes[at])
    }

    /// The characters of some lexemes, with the white space between them.
    #[must_use]
    pub fn between(self, range: &Range<usize>) -> &'a str {
        match self.lexemes.get(range.clone()) {
            Some([first, .., last]) => &self.row.text[first.at.start..last.at.end],
            Some([only]) => &self.row.text[only.at.clone()],
            _ => "",
        }
    }

    fn first(self, unit: Unit) -> &'a Lexeme {
        &self.lexemes[unit.from]
    }
}

/// How alike what is between two brackets is to be.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Grain {
    /// It is looked into.
    Fine,
    /// It is one hole, where it differs.
    Coarse,
}

/// How well two units fit.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum Fit {
    /// Not at all.
    Not,
    /// They are of one kind: a hole holds both.
    Kind,
    /// They have the same brackets or quotes.
    Pair,
    /// They are equal.
    Equal,
}

/// Makes patterns of two rows; the holes are numbered over all that it makes.
#[derive(Debug)]
pub struct Generalising<'a> {
    /// The two rows.
    pub sides: [Side<'a>; 2],
    /// The holes so far.
    pub holes: Vec<Hole>,
    grain: Grain,
}

impl<'a> Generalising<'a> {
    /// Of two rows.
    #[must_use]
    pub fn new(sides: [Side<'a>; 2], grain: Grain) -> Generalising<'a> {
        Generalising { sides, holes: Vec::new(), grain }
    }

    fn fit(&self, units: [Unit; 2]) -> Fit {
        let [one, other] = [0, 1].map(|side| (self.sides[side], units[side]));
        let [first, second] = [one.0.first(one.1), other.0.first(other.1)];
        if first.kind != second.kind || first.class != second.class || one.1.is_pair() != other.1.is_pair() {
            return Fit::Not;
        }
        let lexemes = |(side, unit): (Side<'a>, Unit)| (unit.from..unit.to).map(move |at| side.str(at));
        if lexemes(one).eq(lexemes(other)) {
            return Fit::Equal;
        }
        let ends = |(side, unit): (Side<'a>, Unit)| [side.str(unit.from), side.str(unit.to - 1)];
        match first.class {
            _ if one.1.is_pair() && ends(one) == ends(other) => Fit::Pair,
            Class::Opener if one.1.is_pair() && first.kind == Kind::String => Fit::Kind,
            Class::Name | Class::Number => Fit::Kind,
            _ => Fit::Not,
        }
    }

    /// The hole that held these stretches; the same one where both were held before.
    fn hole(&mut self, kind: HoleKind, of: Kind, ranges: [&Range<usize>; 2]) -> Item {
        let held = [0, 1].map(|side| self.sides[side].between(ranges[side]).to_owned());
        let known = self.holes.iter().position(|hole| hole.kind == kind && hole.of == of && hole.held == held);
        Item::Hole(known.unwrap_or_else(|| {
            self.holes.push(Hole { kind, of, held });
            self.holes.len() - 1
        }))
    }

    fn literal(&self, at: usize) -> Item {
        let side = self.sides[0];
        let Lexeme { class, kind, .. } = side.lexemes[at];
        Item::Literal { text: side.str(at).to_owned(), class, kind }
    }

    /// The pattern of two units; none where nothing holds both.
    pub fn unit(&mut self, units: [Unit; 2]) -> Option<Vec<Item>> {
        let [one, other] = units;
        let kind = self.sides[0].first(one).kind;
        match self.fit(units) {
            Fit::Not => None,
            Fit::Equal => Some((one.from..one.to).map(|at| self.literal(at)).collect()),
            Fit::Kind => {
                let hole = match self.sides[0].first(one).class {
                    Class::Name => HoleKind::Name,
                    Class::Number => HoleKind::Number,
                    _ => HoleKind::Text,
                };
                Some(vec![self.hole(hole, kind, [&(one.from..one.to), &(other.from..other.to)])])
            }
            Fit::Pair => {
                let inside = [one, other].map(|unit| unit.from + 1..unit.to - 1);
                let known = self.holes.len();
                let is_looked_into = kind != Kind::String && self.grain == Grain::Fine;
                let finer = is_looked_into.then(|| self.stretch(&inside)).flatten();
                let items = finer.unwrap_or_else(|| {
                    self.holes.truncate(known);
                    vec![self.hole(HoleKind::Inside, kind, [&inside[0], &inside[1]])]
                });
                Some([vec![self.literal(one.from)], items, vec![self.literal(one.to - 1)]].concat())
            }
        }
    }

    /// The pattern of two stretches of lexemes; none where what differs is in no hole.
    pub fn stretch(&mut self, ranges: &[Range<usize>; 2]) -> Option<Vec<Item>> {
        let units = [0, 1].map(|side| units(self.sides[side].lexemes, ranges[side].clone()));
        let mut items = Vec::new();
        for step in self.aligned(&units)? {
            match step {
                Step::Both(one, other) => items.extend(self.unit([units[0][one], units[1][other]])?),
                Step::Apart(ranges) => items.push(self.apart(&units, &ranges)?),
            }
        }
        Some(items)
    }

    /// A hole for an expression in both, or for words.
    fn apart(&mut self, units: &[Vec<Unit>; 2], ranges: &[Range<usize>; 2]) -> Option<Item> {
        let range = |side: usize| {
            let of = &units[side][ranges[side].clone()];
            Some(of.first()?.from..of.last()?.to)
        };
        let both = [range(0)?, range(1)?];
        let kind = self.sides[0].lexemes[both[0].start].kind;
        let is_words = |side: usize| {
            let lexemes = &self.sides[side].lexemes[both[side].clone()];
            kind != Kind::Code && lexemes.iter().all(|lexeme| lexeme.kind == kind && lexeme.class != Class::Break)
        };
        let is_expression = |side: usize| {
            units[side][ranges[side].clone()].iter().all(|unit| {
                let first = self.sides[side].first(*unit);
                let ends = matches!(first.class, Class::Separator | Class::Break | Class::Closer);
                !ends && first.kind != Kind::Comment && (unit.is_pair() || first.class != Class::Opener)
            })
        };
        let [one, other] = &both;
        match (is_words(0) && is_words(1), is_expression(0) && is_expression(1)) {
            (true, _) => Some(self.hole(HoleKind::Words, kind, [one, other])),
            (_, true) => Some(self.hole(HoleKind::Expression, Kind::Code, [one, other])),
            _ => None,
        }
    }

    /// Lays two rows of units over each other so that as much as possible fits.
    fn aligned(&self, units: &[Vec<Unit>; 2]) -> Option<Vec<Step>> {
        let [rows, cols] = [units[0].len(), units[1].len()];
        if rows * cols > MOST_PAIRS {
            return None;
        }
        let worth = |row: usize, col: usize| match self.fit([units[0][row], units[1][col]]) {
            Fit::Not => None,
            Fit::Kind => Some(2),
            Fit::Pair => Some(3),
            Fit::Equal => Some(if self.sides[0].first(units[0][row]).class == Class::Mark { 4 } else { 6 }),
        };
        // The best from (row, col) on.
        let mut best = vec![vec![0; cols + 1]; rows + 1];
        for row in (0..rows).rev() {
            for col in (0..cols).rev() {
                let both = worth(row, col).map_or(-1, |worth| worth + best[row + 1][col + 1]);
                best[row][col] = both.max(best[row + 1][col]).max(best[row][col + 1]);
            }
        }
        let mut steps: Vec<Step> = Vec::new();
        let (mut row, mut col) = (0, 0);
        while row < rows || col < cols {
            let both = (row < rows && col < cols).then(|| worth(row, col)).flatten();
            if both.is_some_and(|worth| worth + best[row + 1][col + 1] == best[row][col]) {
                steps.push(Step::Both(row, col));
                (row, col) = (row + 1, col + 1);
                continue;
            }
            if !matches!(steps.last(), Some(Step::Apart(_))) {
                steps.push(Step::Apart([row..row, col..col]));
            }
            let Some(Step::Apart(ranges)) = steps.last_mut() else { return None };
            match row < rows && (col == cols || best[row + 1][col] >= best[row][col + 1]) {
                true => row += 1,
                false => col += 1,
            }
            *ranges = [ranges[0].start..row, ranges[1].start..col];
        }
        Some(self.filled(units, steps))
    }

    /// What is apart and empty on one side takes in an operand beside it, so that both sides have something.
    fn filled(&self, units: &[Vec<Unit>; 2], steps: Vec<Step>) -> Vec<Step> {
        let is_operand = |one: usize| {
            let first = self.sides[0].first(units[0][one]);
            matches!(first.class, Class::Name | Class::Number | Class::Opener)
        };
        let mut done: Vec<Step> = Vec::new();
        let mut steps = steps.into_iter().peekable();
        while let Some(step) = steps.next() {
            let Step::Apart(mut ranges) = step else {
                done.push(step);
                continue;
            };
            while let Some(Step::Both(one, other)) = done.last().filter(|_| ranges.iter().any(Range::is_empty)) {
                if !is_operand(*one) {
                    break;
                }
                ranges = [*one..ranges[0].end, *other..ranges[1].end];
                done.pop();
            }
            if ranges.iter().any(Range::is_empty)
                && let Some(Step::Both(one, other)) =
                    steps.peek().filter(|step| matches!(step, Step::Both(one, _) if is_operand(*one)))
            {
                ranges = [ranges[0].start..one + 1, ranges[1].start..other + 1];
                steps.next();
            }
            match done.last_mut() {
                Some(Step::Apart(last)) => *last = [last[0].start..ranges[0].end, last[1].start..ranges[1].end],
                _ => done.push(Step::Apart(ranges)),
            }
        }
        done
    }
}

/// Longer stretches are not laid over each other: the product of their lengths.
const MOST_PAIRS: usize = 40_000;

/// A step over two rows of units.
#[derive(Debug)]
enum Step {
    /// Two units that fit.
    Both(usize, usize),
    /// Units that fit nothing: one hole holds them.
    Apart([Range<usize>; 2]),
}
