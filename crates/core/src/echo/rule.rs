//! The rule that makes two edits: what has to be there, what of it goes, and what comes.
//!
//! Around what goes, a rule keeps all that the lines of both edits agree in, from the edit outwards. How much of that has to be there
//! again is its level: at level 0 all of it; at each further level the part that is farthest away has been dropped, but never the part
//! next to the edit, nor one whose hole is needed for what comes. At every level a name or number is among what has to be there.

use super::edit::Edit;
use super::lexemes::units;
use super::making::{Part, parts_of};
use super::pattern::{Generalising, Grain, Hole, Item, Side};
use crate::units::Direction;

/// A rule.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Rule {
    /// What is before the edit, the nearest first: each is a unit, its items in the order of the text.
    pub left: Vec<Vec<Item>>,
    /// What goes.
    pub goes: Vec<Item>,
    /// The white space at the edges of what goes: before its first lexeme and after its last one.
    pub goes_space: [String; 2],
    /// What is after it, the nearest first.
    pub right: Vec<Vec<Item>>,
    /// The line edges that both edits agree in, where all that is before or after it agrees: as if it were one unit more.
    pub edges: [bool; 2],
    /// What comes.
    pub comes: Vec<Part>,
    /// The holes.
    pub holes: Vec<Hole>,
    /// Whether there has to be white space before and after what goes; none where that does not matter.
    pub space: [Option<Gap>; 2],
    /// How many lines it is in.
    pub lines: usize,
    /// Whether these lines are taken away.
    pub takes_lines: bool,
    /// On which side of the edits the next place is: only numbers that are counted on care.
    pub side: Direction,
    /// How many units before and after the edit have to be there at each level, with the line edge counted as one.
    pub levels: Vec<[usize; 2]>,
}

/// What is between two lexemes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Gap {
    /// Nothing.
    Closed,
    /// So many bytes of white space in the first edit, at least one in any.
    Open(usize),
}

impl Gap {
    fn of(space: &str) -> Gap {
        if space.is_empty() { Gap::Closed } else { Gap::Open(space.len()) }
    }

    /// Whether this white space is such a gap.
    #[must_use]
    pub fn holds(self, space: &str) -> bool {
        (self == Gap::Closed) == space.is_empty()
    }
}

/// The rule that makes both edits; none where no one does. Cost: the product of the lengths of their lines.
#[must_use]
pub fn rule_of([one, other]: [&Edit; 2], grain: Grain) -> Option<Rule> {
    let is_alike = one.before.lines == other.before.lines && one.takes_lines() == other.takes_lines();
    if !is_alike || one.before.text.len().max(other.before.text.len()) > LONGEST_ROW {
        return None;
    }
    let edits = [one, other];
    let sides = edits.map(|edit| Side { row: &edit.before, lexemes: &edit.lexemes });
    let mut making = Generalising::new(sides, grain);
    let gone = edits.map(Edit::gone);
    let goes = making.stretch(&gone)?;
    let space = space_of(edits)?;
    let starts = [0, 1].map(|side| units(sides[side].lexemes, 0..gone[side].start));
    let ends = [0, 1].map(|side| units(sides[side].lexemes, gone[side].end..sides[side].lexemes.len()));
    let (mut left, mut right) = (Vec::new(), Vec::new());
    for (one, other) in starts[0].iter().rev().zip(starts[1].iter().rev()) {
        let Some(items) = making.unit([*one, *other]) else { break };
        left.push(items);
    }
    for (one, other) in ends[0].iter().zip(&ends[1]) {
        let Some(items) = making.unit([*one, *other]) else { break };
        right.push(items);
    }
    let is_whole = |units: &[Vec<_>; 2], agreed: usize| units.iter().all(|units| units.len() == agreed);
    let edges = [is_whole(&starts, left.len()), is_whole(&ends, right.len())];
    let holes = making.holes;
    let comes = parts_of(edits.map(Edit::came), &holes)?;
    let mut rule = Rule {
        left,
        goes_space: goes_space(one),
        goes,
        right,
        edges,
        comes,
        holes,
        space,
        lines: one.before.lines,
        takes_lines: one.takes_lines(),
        side: if other.line >= one.line { Direction::Forward } else { Direction::Back },
        levels: Vec::new(),
    };
    rule.levels = rule.find_levels();
    (!rule.levels.is_empty()).then_some(rule)
}

/// Longer lines are not learned from, in bytes.
pub const LONGEST_ROW: usize = 2_000;

/// What white space has to be around what goes: it matters where nothing goes, and where what goes or comes has white space at that
/// edge. None where it matters and the edits differ in it.
fn space_of(edits: [&Edit; 2]) -> Option<[Option<Gap>; 2]> {
    let blank = |c: char| c == ' ' || c == '\t';
    let around = edits.map(|edit| {
        let (before, after) = (&edit.before.text[..edit.goes.start], &edit.before.text[edit.goes.end..]);
        let lead = &before[before.trim_end_matches(blank).len()..];
        [lead, &after[..after.len() - after.trim_start_matches(blank).len()]].map(Gap::of)
    });
    let is_put_in = edits.iter().all(|edit| edit.gone().is_empty());
    let is_same = |side: usize| around[0][side].holds(if around[1][side] == Gap::Closed { "" } else { " " });
    let matters = |side: usize| {
        edits.iter().any(|edit| {
            let (goes, came) = (&edit.before.text[edit.goes.clone()], edit.came());
            if side == 0 {
                goes.starts_with(blank) || came.starts_with(blank)
            } else {
                goes.ends_with(blank) || came.ends_with(blank)
            }
        })
    };
    let of = |side: usize| (is_same(side) && (is_put_in || matters(side))).then_some(around[0][side]);
    let space = [of(0), of(1)];
    let is_unclear = (0..2).any(|side| matters(side) && space[side].is_none()) || (is_put_in && space == [None, None]);
    (!is_unclear).then_some(space)
}

/// The white space at the edges of what goes.
fn goes_space(edit: &Edit) -> [String; 2] {
    let goes = &edit.before.text[edit.goes.clone()];
    let blank = |c: char| c == ' ' || c == '\t';
    let lead = goes.len() - goes.trim_start_matches(blank).len();
    let tail = goes[lead..].len() - goes[lead..].trim_end_matches(blank).len();
    [goes[..lead].to_owned(), goes[goes.len() - tail..].to_owned()]
}

impl Rule {
    /// Whether numbers are counted on.
    #[must_use]
    pub fn counts(&self) -> bool {
        self.comes.iter().any(|part| matches!(part, Part::Count { .. }))
    }

    /// The items of a side, with the edge as an empty unit at its end.
    fn sizes(&self, side: usize) -> Vec<usize> {
        let units = if side == 0 { &self.left } else { &self.right };
        let edge = self.edges[side].then_some(1);
        units.iter().map(Vec::len).chain(edge).collect()
    }

    /// So many units of a side have to be there, since the edit is next to them or what comes needs their holes.
    fn least(&self, side: usize) -> usize {
        let units = if side == 0 { &self.left } else { &self.right };
        let in_goes = |hole: &usize| self.goes.contains(&Item::Hole(*hole));
        let needed: Vec<usize> = self
            .comes
            .iter()
            .filter_map(|part| match part {
                Part::Held { hole, .. } | Part::Plus { hole, .. } => Some(*hole),
                Part::Text(_) | Part::Count { .. } => None,
            })
            .filter(|hole| !in_goes(hole))
            .collect();
        let holds =
            |unit: &Vec<Item>| unit.iter().any(|item| matches!(item, Item::Hole(hole) if needed.contains(hole)));
        let far = units.iter().rposition(holds).map_or(0, |at| at + 1);
        far.max(1).min(self.sizes(side).len())
    }

    /// Whether a name or number has to be there at a level.
    fn is_telling(&self, [left, right]: [usize; 2]) -> bool {
        let is_telling = |item: &Item| item.telling().is_some();
        let near = |units: &[Vec<Item>], count: usize| units.iter().take(count).flatten().any(is_telling);
        self.goes.iter().any(is_telling) || near(&self.left, left) || near(&self.right, right)
    }

    fn find_levels(&self) -> Vec<[usize; 2]> {
        let sizes = [self.sizes(0), self.sizes(1)];
        let least = [self.least(0), self.least(1)];
        let mut level = [sizes[0].len(), sizes[1].len()];
        let mut levels = Vec::new();
        while self.is_telling(level) {
            levels.push(level);
            let far = |side: usize| {
                let reach: usize = sizes[side][..level[side]].iter().sum();
                (level[side] > least[side]).then_some(reach)
            };
            match (far(0), far(1)) {
                (Some(left), Some(right)) if left >= right => level[0] -= 1,
                (Some(_), None) => level[0] -= 1,
                (_, Some(_)) => level[1] -= 1,
                (None, None) => break,
            }
        }
        levels
    }

    /// The longest name or number that every place has, where there is any: lines without it need not be looked at.
    #[must_use]
    pub fn longest_literal(&self) -> Option<&str> {
        let last = self.levels.last().copied().unwrap_or_default();
        let all = self
            .goes
            .iter()
            .chain(self.left.iter().take(last[0]).flatten())
            .chain(self.right.iter().take(last[1]).flatten());
        all.filter_map(Item::telling).max_by_key(|text| text.len())
    }
}
