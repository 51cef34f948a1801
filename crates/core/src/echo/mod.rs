//! Echo: from two alike edits by hand to all the other places where the same would be done.
//!
//! An [`edit::Edit`] is what happened in one line, cut to what differs at the edges of [`lexemes`]. Two edits are alike when one
//! [`rule::Rule`] makes both: what is equal in both stays ([`pattern`]), what differs is a hole, and what came is written with what the holes
//! held ([`making`]). The rule is then looked for in the text ([`matching`], [`places`]), first with all that the lines of the two
//! edits agree in, then with less and less of it, until a further place is found. `docs/echo.md` tells what is found and what is not.
//!
//! Nothing here is fast enough for a key: all of it is done on a thread of its own.

pub mod edit;
pub mod lexemes;
pub mod made;
pub mod making;
pub mod matching;
pub mod pattern;
pub mod places;
pub mod rule;

use crate::units::{Direction, Line, Span};
use edit::Edit;
use pattern::{Grain, Side};
pub use places::Scope;
use places::{Place, Search};
use rule::{Rule, rule_of};

/// A place of an offer.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Change {
    /// Where.
    pub line: Line,
    /// What goes, in the text.
    pub span: Span,
    /// What comes.
    pub comes: String,
    /// The lines before, without the end of the last one.
    pub before: String,
    /// The lines after.
    pub after: String,
    /// What goes, in bytes of the lines before.
    pub goes: std::ops::Range<usize>,
}

/// What was found for some edits.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Echo {
    /// The rule.
    pub rule: Rule,
    /// The levels at which there are more places than at the one before, the narrowest first.
    pub levels: Vec<usize>,
    /// All places, at all levels.
    places: Vec<Place>,
    /// Where the last edit was made.
    last: Line,
}

impl Echo {
    fn find_levels(&self) -> Vec<usize> {
        let mut levels: Vec<usize> = self.places.iter().map(|place| place.level).collect();
        levels.sort_unstable();
        levels.dedup();
        // Only of numbers that are counted on may there be none: on the side to which they went.
        levels.retain(|level| !self.rule.counts() || !self.at(*level).is_empty());
        levels
    }

    /// The places at a level, in the order of the text. Where numbers are counted on, only those on the side of the edits to which they
    /// went count, one after the other. Cost: linear in all places.
    #[must_use]
    pub fn at(&self, level: usize) -> Vec<Change> {
        let fits = |place: &&Place| place.level <= level;
        if !self.rule.counts() {
            return self.places.iter().filter(fits).filter_map(|place| change_of(place, 1)).collect();
        }
        let ahead = |place: &&Place| match self.rule.side {
            Direction::Forward => place.line > self.last,
            Direction::Back => place.line < self.last,
        };
        let mut ahead: Vec<&Place> = self.places.iter().filter(fits).filter(ahead).collect();
        if self.rule.side == Direction::Back {
            ahead.reverse();
        }
        let mut changes: Vec<Change> = (1..).zip(ahead).map_while(|(step, place)| change_of(place, step)).collect();
        changes.sort_by_key(|change| change.span.start);
        changes
    }
}

fn change_of(place: &Place, step: i64) -> Option<Change> {
    let comes = place.comes(step)?;
    let after = place.after(&comes);
    let Place { line, span, before, goes, .. } = place.clone();
    Some(Change { line, span, comes, before, after, goes })
}

/// The rules that make all of these edits, which are in the order in which they were made: the one with most that has to be there first.
#[must_use]
pub fn rules_of(edits: &[Edit]) -> Vec<Rule> {
    let Some((last, others)) = edits.split_last() else { return Vec::new() };
    let mut rules: Vec<Rule> = Vec::new();
    for grain in [Grain::Fine, Grain::Coarse] {
        let mut pairs = others.iter().rev().filter_map(|other| rule_of([other, last], grain));
        let makes_all = |mut rule: Rule| {
            let steps = (1 - edits.len() as i64)..=0;
            let levels = edits.iter().zip(steps).map(|(edit, step)| level_of(&rule, edit, step));
            let level = levels.collect::<Option<Vec<usize>>>()?.into_iter().max()?;
            rule.levels.drain(..level);
            Some(rule)
        };
        rules.extend(pairs.find_map(makes_all));
    }
    rules.dedup();
    rules
}

/// The level at which the rule makes an edit, `step` places after the last one.
fn level_of(rule: &Rule, edit: &Edit, step: i64) -> Option<usize> {
    let side = Side { row: &edit.before, lexemes: &edit.lexemes };
    let fitting = rule.fittings(side).into_iter().find(|fitting| fitting.goes == edit.goes)?;
    let written = rule.written_at(&edit.before, &fitting)?;
    let place = Place::of_edit(&fitting, (edit, written));
    (place.comes(step)? == edit.came()).then_some(fitting.level)
}

/// What is found for some edits, in the order in which they were made: of the first rule that has a further place. None where there is no
/// such rule, or when `is_unwanted` has said so. Cost: one pass of the scanner for each rule.
#[must_use]
pub fn look(edits: &[Edit], scope: Scope, is_unwanted: &dyn Fn() -> bool) -> Option<Echo> {
    let last = edits.last()?.line;
    rules_of(edits).into_iter().find_map(|rule| look_by(rule, scope, (last, is_unwanted)))
}

/// The same by one rule, which is known.
#[must_use]
pub fn look_by(rule: Rule, scope: Scope, (last, is_unwanted): (Line, &dyn Fn() -> bool)) -> Option<Echo> {
    let places = Search { rule: &rule, scope }.places(is_unwanted)?;
    let echo = Echo { rule, levels: Vec::new(), places, last };
    let levels = echo.find_levels();
    (!levels.is_empty()).then_some(Echo { levels, ..echo })
}
