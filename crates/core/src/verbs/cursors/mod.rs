//! Which cursors there are: adding above and below, taking matches, dropping, keeping, leading.

pub mod binding;
pub mod conflicts;
pub mod filters;
pub mod names;
pub mod pins;
pub mod rename;
pub mod tags;
pub mod transforms;

use crate::cursors::{CursorSet, GoalColumn, Selection};
use crate::languages::scanner::Kind;
use crate::search::{Matches, all_within, last_within};
use crate::structure::Roles;
use crate::text::cells::TabWidth;
use crate::units::{Byte, Cell, Direction, Line, Span};
use crate::verbs::cursors::names::{Belongs, belongs_to, kind_of_name};
use crate::verbs::moves::occurrences;
use crate::verbs::scene::{Outcome, PinsAfter, Scene, counted};
use crate::verbs::selects;
use crate::verbs::selects::paragraph;

/// Which lines an added cursor may be on.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Fit {
    /// The next line, whatever its length.
    Any,
    /// The nearest line on which both columns exist.
    Full,
}

/// Adds beside the outermost cursor in `direction`, and beside each that is on its line, one with the
/// same two columns on the next line.
pub fn add_line(scene: &Scene, direction: Direction, fit: Fit) -> Outcome {
    let outermost = |each: Selection| match direction {
        Direction::Back => scene.text.line_of(each.start()),
        Direction::Forward => scene.text.line_of(each.end()),
    };
    let edge = match direction {
        Direction::Back => outermost(scene.cursors.list()[0]),
        Direction::Forward => outermost(scene.cursors.list()[scene.cursors.len() - 1]),
    };
    let on_edge: Vec<Selection> = match direction {
        Direction::Back => scene.cursors.iter().take_while(|each| outermost(*each) == edge).collect(),
        Direction::Forward => scene.cursors.iter().rev().take_while(|each| outermost(*each) == edge).collect(),
    };
    let columns: Vec<[Cell; 2]> = on_edge.iter().map(|each| columns_of(scene, *each)).collect();
    let Some(line) = landing_line(scene, edge, &columns, (direction, fit)) else {
        return Outcome::nothing(match (fit, direction) {
            (Fit::Full, _) => "no further line is long enough",
            (Fit::Any, Direction::Back) => "no line above",
            (Fit::Any, Direction::Forward) => "no line below",
        });
    };
    // The cursors at the edge were collected from the edge inward: the last in the verb's direction comes
    // last, and is primary.
    let mut added: Vec<Selection> = columns.iter().map(|each| on_line(scene, line, *each)).collect();
    added.reverse();
    let set = scene.cursors.with_primary(&added);
    let message = counted(set.len(), "cursor");
    Outcome::cursors(set).saying(message)
}

fn columns_of(scene: &Scene, each: Selection) -> [Cell; 2] {
    let head = scene.wanted(each);
    let anchor = each.goal_anchor.get().unwrap_or_else(|| match each.is_caret() {
        true => head,
        false => scene.cell(each.anchor),
    });
    [anchor, head]
}

fn landing_line(scene: &Scene, edge: Line, columns: &[[Cell; 2]], (direction, fit): (Direction, Fit)) -> Option<Line> {
    let widest = columns.iter().flatten().max().copied().unwrap_or_default();
    let mut line = scene.neighbour(edge, direction)?;
    while fit == Fit::Full && scene.text.width_of(line, scene.settings.tabs) < widest {
        line = scene.neighbour(line, direction)?;
    }
    Some(line)
}

fn on_line(scene: &Scene, line: Line, [anchor, head]: [Cell; 2]) -> Selection {
    let tabs: TabWidth = scene.settings.tabs;
    let long_enough = scene.text.width_of(line, tabs) >= anchor.max(head);
    let ends = if long_enough {
        Selection::new(scene.text.place_at(line, anchor, tabs).at, scene.text.place_at(line, head, tabs).at)
    } else {
        Selection::caret(scene.text.content_span(line).end)
    };
    Selection { goal_anchor: GoalColumn::cell(anchor), goal_head: GoalColumn::cell(head), ..ends }
}

/// What a take looks for: the newest selection's text, and where it is.
struct Take {
    needle: String,
    newest: Selection,
    whole_words: bool,
}

/// Carets take the word they are at; none when no cursor is a caret, or none of them is at a word.
fn carets_to_words(scene: &Scene) -> Option<CursorSet> {
    let words = scene.cursors.map(|each| match each.is_caret() {
        true => selects::word_of(scene, each).unwrap_or(each),
        false => each,
    });
    (words.list() != scene.cursors.list()).then(|| words.taking_whole_words())
}

fn wish(scene: &Scene, set: &CursorSet) -> Option<Take> {
    let newest = set.list()[set.newest_index()];
    if newest.is_caret() {
        return None;
    }
    let needle = scene.text.slice(newest.span()).into_owned();
    Some(Take { needle, newest, whole_words: set.takes_whole_words() })
}

impl Take {
    fn is_free(&self, scene: &Scene, set: &CursorSet, found: Span) -> bool {
        let list = set.list();
        let after = list.partition_point(|each| each.end() <= found.start);
        let taken = list[after..].iter().take(2).any(|each| each.start() < found.end && each.end() > found.start);
        !taken && (!self.whole_words || scene.text.is_whole_word(found, scene.words()))
    }

    /// The nearest free match in `direction`, and whether the search went round the file for it.
    fn nearest(&self, scene: &Scene, set: &CursorSet, direction: Direction) -> Option<(Span, bool)> {
        let text = scene.text;
        let free = |found: Span| self.is_free(scene, set, found);
        let first = |span: Span| Matches::within(text, &self.needle, span).find(|&found| free(found));
        let last = |span: Span| last_within(text, &self.needle, span, free);
        let before = Span::new(Byte(0), self.newest.start());
        let behind = Span::new(self.newest.end(), text.end());
        match direction {
            Direction::Forward => first(behind).map(|found| (found, false)).or_else(|| Some((first(before)?, true))),
            Direction::Back => last(before).map(|found| (found, false)).or_else(|| Some((last(behind)?, true))),
        }
    }

    fn selection(&self, found: Span) -> Selection {
        Selection::over(found, self.newest.direction())
    }
}

const NOTHING_TO_TAKE: &str = "no word here to take";
const ALL_TAKEN: &str = "every match is taken";

/// Carets take their words; else the nearest match of the newest selection is added.
pub fn take(scene: &Scene, direction: Direction) -> Outcome {
    if let Some(words) = carets_to_words(scene) {
        return Outcome::cursors(words).saying("took the word");
    }
    let Some(wish) = wish(scene, scene.cursors) else { return Outcome::nothing(NOTHING_TO_TAKE) };
    match wish.nearest(scene, scene.cursors, direction) {
        None => Outcome::nothing(ALL_TAKEN),
        Some((found, wrapped)) => {
            let set = scene.cursors.with_primary(&[wish.selection(found)]);
            let round = match (wrapped, direction) {
                (false, _) => "",
                (true, Direction::Forward) => ", on from the start of the file",
                (true, Direction::Back) => ", on from the end of the file",
            };
            let message =
                format!("took the {} match{round}", if direction == Direction::Back { "previous" } else { "next" });
            Outcome::cursors(set).saying(message)
        }
    }
}

/// Gives up the newest selection and takes the next match.
pub fn skip_next(scene: &Scene) -> Outcome {
    if let Some(words) = carets_to_words(scene) {
        return Outcome::cursors(words).saying("took the word");
    }
    let Some(wish) = wish(scene, scene.cursors) else { return Outcome::nothing(NOTHING_TO_TAKE) };
    let Some((found, _)) = wish.nearest(scene, scene.cursors, Direction::Forward) else {
        return Outcome::nothing("no other match to go to");
    };
    let newest = scene.cursors.newest_index();
    let added = wish.selection(found);
    let rest = scene.cursors.retaining(|at, _| at != newest);
    let set = match rest {
        Some(rest) => rest.with_primary(&[added]),
        None => CursorSet::one(added).taking_as(scene.cursors),
    };
    Outcome::cursors(set).saying("skipped one match")
}

/// All matches at once; the primary stays where it is.
pub fn take_all(scene: &Scene) -> Outcome {
    take_all_within(scene, scene.text.span())
}

/// All matches inside the enclosing function (else block, else file); from code only those in code.
pub fn take_all_in_block(scene: &Scene) -> Outcome {
    let at = scene.cursors.primary().start();
    let subject = occurrences::subject(scene);
    let Some((span, is_name)) = subject else { return take_where(scene, function_around(scene, at), |_| true) };
    let only_code = kind_of_name(scene, span) == Kind::Code;
    let belongs = (only_code && is_name).then(|| belongs_to(scene, span));
    take_where(scene, function_around(scene, at), |found| {
        let is_meant = |belongs: Belongs| belongs.agrees(belongs_to(scene, found));
        !only_code || (kind_of_name(scene, found) == Kind::Code && belongs.is_none_or(is_meant))
    })
}

/// The function around `at`, else the class or the like, else the paragraph where there is no tree, else everything.
pub(super) fn function_around(scene: &Scene, at: Byte) -> Span {
    let (mut is_known, mut block) = (false, None);
    let function = scene.find_around(Span::at(at), |visited| {
        is_known = true;
        let node = visited.node;
        block = block.or(node.is(Roles::BLOCK).then_some(node.span));
        node.is(Roles::FUNCTION).then_some(node.span)
    });
    let paragraph = || if is_known { None } else { paragraph(scene, at) };
    function.or(block).or_else(paragraph).unwrap_or_else(|| scene.text.span())
}

fn take_all_within(scene: &Scene, within: Span) -> Outcome {
    take_where(scene, within, |_| true)
}

/// All matches inside `within` that `counts` holds for.
fn take_where(scene: &Scene, within: Span, counts: impl Fn(Span) -> bool) -> Outcome {
    let set = carets_to_words(scene).unwrap_or_else(|| scene.cursors.clone());
    let Some(wish) = wish(scene, &set) else { return Outcome::nothing(NOTHING_TO_TAKE) };
    let (mut reach, mut left_out) = (Byte(0), 0);
    let mut added = Vec::new();
    for found in all_within(scene.text, &wish.needle, within) {
        if found.start >= reach && wish.is_free(scene, &set, found) {
            reach = found.end;
            match counts(found) {
                true => added.push(wish.selection(found)),
                false => left_out += 1,
            }
        }
    }
    if added.is_empty() && set == *scene.cursors {
        return Outcome::nothing(ALL_TAKEN);
    }
    let set = set.with(&added);
    let message = match left_out {
        0 => format!("{} taken", set.len()),
        _ => format!("{} taken, {left_out} in comments and strings left out", set.len()),
    };
    Outcome::cursors(set).saying(message)
}

/// Takes the last addition back.
pub fn drop_newest(scene: &Scene) -> Outcome {
    let newest = scene.cursors.next_birth() - 1;
    let oldest = scene.cursors.iter().map(|each| each.born).min().unwrap_or(0);
    if newest == oldest {
        return Outcome::nothing("there is no addition to take back");
    }
    match scene.cursors.retaining(|_, each| each.born != newest) {
        Some(set) => {
            let dropped = scene.cursors.len() - set.len();
            let left = set.len();
            Outcome::cursors(set).saying(format!("dropped {}, {left} left", counted(dropped, "cursor")))
        }
        None => Outcome::nothing("there is no addition to take back"),
    }
}

/// Drops the primary cursor.
pub fn drop_primary(scene: &Scene) -> Outcome {
    match scene.cursors.retaining(|at, _| at != scene.cursors.primary_index()) {
        Some(set) => {
            let message = format!("{} left", counted(set.len(), "cursor"));
            Outcome::cursors(set).saying(message)
        }
        None => Outcome::nothing("the only cursor stays"),
    }
}

/// Keeps only the primary cursor.
pub fn keep_primary(scene: &Scene) -> Outcome {
    if scene.cursors.len() == 1 {
        return Outcome::nothing("there is only one cursor");
    }
    Outcome::cursors(scene.cursors.only_primary())
        .saying(format!("{} given up", counted(scene.cursors.len() - 1, "cursor")))
}

/// Keeps only the cursor that was there first, or that was made the leading one.
pub fn keep_first(scene: &Scene) -> Outcome {
    if scene.cursors.len() == 1 {
        return Outcome::nothing("there is only one cursor");
    }
    Outcome::cursors(scene.cursors.only_first())
        .saying(format!("{} given up", counted(scene.cursors.len() - 1, "cursor")))
}

/// Every selection becomes a caret at its head.
pub fn unselect(scene: &Scene) -> Outcome {
    if scene.cursors.iter().all(Selection::is_caret) {
        return Outcome::already("nothing is selected");
    }
    Outcome::cursors(scene.cursors.map(|each| Selection::caret(each.head)))
}

/// Makes the next or the previous cursor the primary one.
pub fn lead(scene: &Scene, direction: Direction) -> Outcome {
    let (count, at) = (scene.cursors.len(), scene.cursors.primary_index());
    if count == 1 {
        return Outcome::nothing("there is only one cursor");
    }
    let to = match direction {
        Direction::Back => (at + count - 1) % count,
        Direction::Forward => (at + 1) % count,
    };
    Outcome::cursors(scene.cursors.leading(to)).saying(format!("cursor {} of {count}", to + 1))
}

/// Brings back the last set of more than one cursor that was given up, or the pins where those were dropped later.
pub fn recall(scene: &Scene) -> Outcome {
    if let Some(pins) = (scene.remembered.dropped_pins)() {
        let message = format!("{} are back", counted(pins.len(), "pin"));
        return Outcome { pins: Some(PinsAfter::Are(Some(pins))), ..Outcome::already(message) };
    }
    match (scene.remembered.dropped_cursors)() {
        Some(set) => {
            let message = format!("{} are back", counted(set.len(), "cursor"));
            Outcome::cursors(set).saying(message)
        }
        None => Outcome::nothing("no cursors were given up yet"),
    }
}

/// One selection from the first start to the last end.
pub fn fuse(scene: &Scene) -> Outcome {
    let list = scene.cursors.list();
    let span = Span::new(list[0].start(), list[list.len() - 1].end());
    Outcome::cursors(CursorSet::one(Selection::over(span, scene.cursors.primary().direction())))
}
