//! More cursors out of selections, and fewer by what they hold: splitting, filters, every Nth.

use crate::cursors::{CursorSet, Selection};
use crate::languages::scanner::Kind;
use crate::recipes::places;
use crate::search::pattern::Pattern;
use crate::units::{Byte, Direction, Span};
use crate::verbs::scene::{Outcome, Scene, counted};
use regex::Regex;

/// Cuts every selection at the matches of a pattern, which are left out.
pub fn split_at(scene: &Scene, pattern: &Regex) -> Outcome {
    let born = scene.cursors.next_birth();
    let (mut list, mut primary) = (Vec::new(), None);
    for (index, each) in scene.cursors.iter().enumerate() {
        let content = scene.text.slice(each.span());
        let (mut from, first) = (0, list.len());
        let ends = pattern.find_iter(&content).map(|found| (found.start(), found.end()));
        for (start, end) in ends.chain([(content.len(), content.len())]) {
            if start > from {
                let span = Span::new(each.start() + from, each.start() + start);
                list.push(Selection::over(span, each.direction()).aged(born));
            }
            from = end.max(from);
        }
        if index == scene.cursors.primary_index() && list.len() > first {
            let backward = each.head < each.anchor;
            primary = Some(if backward { first } else { list.len() - 1 });
        }
    }
    let unchanged = list.iter().map(|each| each.span()).eq(scene.cursors.iter().map(Selection::span));
    if list.is_empty() || unchanged {
        return Outcome::nothing(format!("nothing to split at {pattern}"));
    }
    let last = list.len() - 1;
    list[primary.unwrap_or(last)].born = 0;
    let message = counted(list.len(), "cursor");
    Outcome::cursors(CursorSet::of(list, primary.unwrap_or(last))).saying(message)
}

/// A selection on every match of a pattern, in what is selected or in the whole text.
pub fn take_matches(scene: &Scene, pattern: &Pattern) -> Outcome {
    let born = scene.cursors.next_birth();
    let hits = places::matches(scene, pattern);
    if hits.is_empty() {
        return Outcome::nothing(format!("{} matches nothing here", pattern.wish().what));
    }
    let list: Vec<Selection> =
        hits.into_iter().map(|hit| Selection::over(hit, Direction::Forward).aged(born)).collect();
    let message = format!("took {}", counted(list.len(), "match"));
    Outcome::cursors(CursorSet::of(list, 0)).saying(message)
}

/// Whether the cursors whose text matches stay or go.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Filter {
    /// They stay.
    Keep,
    /// They go.
    Drop,
}

/// What cursors are told apart by.
#[derive(Clone, Debug)]
pub enum Criterion {
    /// What they select, or the line of a caret, matches this.
    Text(Regex),
    /// They are in code, in a string or in a comment.
    Kind(Kind),
}

/// Keeps or drops the cursors that meet `criterion`.
pub fn filter(scene: &Scene, filter: Filter, criterion: &Criterion) -> Outcome {
    let text = scene.text;
    let holds = |each: Selection| match criterion {
        Criterion::Text(pattern) if each.is_caret() => pattern.is_match(&text.content(text.line_of(each.head))),
        Criterion::Text(pattern) => pattern.is_match(&text.slice(each.span())),
        Criterion::Kind(kind) => *kind == scene.syntax.kind_at(inside(scene, each)),
    };
    match scene.cursors.retaining(|_, each| holds(each) == (filter == Filter::Keep)) {
        None => Outcome::nothing("no cursor would be left"),
        Some(set) if set.len() == scene.cursors.len() => Outcome::already("every cursor stays"),
        Some(set) => {
            let message = format!("{} left", counted(set.len(), "cursor"));
            Outcome::cursors(set).saying(message)
        }
    }
}

/// A place inside a selection, so that a whole literal counts as one.
fn inside(scene: &Scene, each: Selection) -> Byte {
    if each.is_caret() { each.head } else { scene.text.next_boundary(each.start()).min(each.end()) }
}

/// Keeps every `nth` cursor, beginning with the `first`, counted from 1.
///
/// # Panics
/// If `nth` is 0.
pub fn every_nth(scene: &Scene, nth: usize, first: usize) -> Outcome {
    match scene.cursors.retaining(|at, _| {
        scene.memory.together.first + at + 1 >= first
            && (scene.memory.together.first + at + 1 - first).is_multiple_of(nth)
    }) {
        None => Outcome::nothing("no cursor would be left"),
        Some(set) => {
            let message = format!("{} left", counted(set.len(), "cursor"));
            Outcome::cursors(set).saying(message)
        }
    }
}
