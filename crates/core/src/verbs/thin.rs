//! More cursors out of selections, and fewer by what they hold: columns, splitting, filters, every Nth.

use super::scene::{Outcome, Scene, counted};
use crate::cursors::{CursorSet, Selection, Wanted};
use crate::units::{Byte, Cell, Line, Span};
use regex::Regex;

/// Reads `/pattern/` or `pattern`; as written, no smart case.
fn pattern(argument: &str) -> Result<Regex, String> {
    let inner = argument.strip_prefix('/').and_then(|rest| rest.strip_suffix('/')).filter(|_| argument.len() > 1);
    let inner = inner.unwrap_or(argument);
    if inner.is_empty() {
        return Err("a pattern is needed".to_owned());
    }
    Regex::new(inner).map_err(|error| {
        let text = error.to_string();
        format!("the pattern {inner}: {}", text.lines().last().unwrap_or("it is wrong"))
    })
}

/// Whether lines too short for a box get a caret.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Short {
    Skipped,
    Ragged,
}

/// Each selection becomes the box between its corners: one selection a line. `argument`: `ragged`.
pub fn column(scene: &Scene, argument: &str) -> Outcome {
    let short = match argument.trim() {
        "" => Short::Skipped,
        "ragged" => Short::Ragged,
        other => return Outcome::nothing(format!("{other:?} is no kind of column: ragged is")),
    };
    let born = scene.cursors.next_birth();
    let (mut list, mut primary) = (Vec::new(), 0);
    for (index, each) in scene.cursors.iter().enumerate() {
        let head_line = scene.text.line_of(each.head);
        for (line, piece) in box_of(scene, each, short) {
            let with_head = line == head_line;
            if with_head && index == scene.cursors.primary_index() {
                primary = list.len();
            }
            list.push(piece.aged(if with_head { each.born } else { born }));
        }
    }
    if list.is_empty() {
        return Outcome::nothing("no line reaches the column");
    }
    let message = counted(list.len(), "cursor") + " in columns";
    let set = CursorSet::of(list, primary);
    if set == *scene.cursors {
        Outcome::nothing("it is a column already")
    } else {
        Outcome::cursors(set).saying(message)
    }
}

/// The lines of a selection's box, each with its piece.
fn box_of(scene: &Scene, each: Selection, short: Short) -> Vec<(Line, Selection)> {
    let (text, tabs) = (scene.text, scene.layout.tabs);
    let anchor = each.wanted_anchor.get().unwrap_or_else(|| scene.cell(each.anchor));
    let head = scene.wanted(each);
    let left = anchor.min(head);
    let [first, last] = [each.start(), each.end()].map(|at| text.line_of(at));
    let on_line = |line: Line| {
        let width = text.width_of(line, tabs);
        let piece = match (width < left, short) {
            (true, Short::Skipped) => return None,
            (true, Short::Ragged) => Selection::caret(text.content_span(line).end),
            (false, _) if anchor == head => Selection::caret(text.place_at(line, head, tabs).at),
            (false, _) => Selection::new(edge(scene, line, anchor), edge(scene, line, head)),
        };
        let wanted = Selection { wanted_anchor: Wanted::cell(anchor), wanted_head: Wanted::cell(head), ..piece };
        Some((line, wanted))
    };
    (first.0..=last.0).map(Line).filter_map(on_line).collect()
}

/// The first cluster of `line` that begins at `cell` or behind it: a tab or wide cluster belongs to a box when
/// its first cell does.
#[must_use]
pub fn edge(scene: &Scene, line: Line, cell: Cell) -> Byte {
    let place = scene.text.place_at(line, cell, scene.layout.tabs);
    let end = scene.text.content_span(line).end;
    if place.cell < cell && place.at < end { scene.text.next_boundary(place.at) } else { place.at }
}

/// Cuts every selection at the matches of a pattern, which are left out.
pub fn split_at(scene: &Scene, argument: &str) -> Outcome {
    let pattern = match pattern(argument) {
        Ok(pattern) => pattern,
        Err(why) => return Outcome::nothing(why),
    };
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
        return Outcome::nothing(format!("nothing to split at {argument}"));
    }
    let last = list.len() - 1;
    list[primary.unwrap_or(last)].born = 0;
    let message = counted(list.len(), "cursor");
    Outcome::cursors(CursorSet::of(list, primary.unwrap_or(last))).saying(message)
}

/// Whether the cursors whose text matches stay or go.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Filter {
    /// They stay.
    Keep,
    /// They go.
    Drop,
}

/// Thins the cursors by a pattern, or by what the syntax says there: `code`, `string`, `comment`.
pub fn filter(scene: &Scene, filter: Filter, argument: &str) -> Outcome {
    use crate::languages::scanner::Kind;
    let kind = match argument.trim() {
        "code" => Some(Kind::Code),
        "string" => Some(Kind::String),
        "comment" => Some(Kind::Comment),
        _ => None,
    };
    let rule = match (kind, pattern(argument)) {
        (None, Err(why)) => return Outcome::nothing(why),
        (Some(_), _) => None,
        (None, Ok(pattern)) => Some(pattern),
    };
    let text = scene.text;
    let holds = |each: Selection| match (&rule, kind) {
        (Some(pattern), _) if each.is_caret() => pattern.is_match(&text.content(text.line_of(each.head))),
        (Some(pattern), _) => pattern.is_match(&text.slice(each.span())),
        (None, kind) => kind == Some(scene.syntax.kind_at(inside(scene, each))),
    };
    match scene.cursors.retaining(|_, each| holds(each) == (filter == Filter::Keep)) {
        None => Outcome::nothing("no cursor would be left"),
        Some(set) if set.len() == scene.cursors.len() => Outcome::nothing("every cursor stays"),
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

/// Keeps every Nth cursor, beginning with the Kth: `N` or `N,K`.
pub fn every_nth(scene: &Scene, argument: &str) -> Outcome {
    let mut numbers = argument.split(',').map(|part| part.trim().parse::<usize>().ok().filter(|&n| n > 0));
    let (Some(Some(nth)), first) = (numbers.next(), numbers.next().unwrap_or(Some(1))) else {
        return Outcome::nothing("every which cursor? N, or N,K to begin with the Kth");
    };
    let Some(first) = first else { return Outcome::nothing("K is a number from 1") };
    match scene.cursors.retaining(|at, _| at + 1 >= first && (at + 1 - first).is_multiple_of(nth)) {
        None => Outcome::nothing("no cursor would be left"),
        Some(set) => {
            let message = format!("{} left", counted(set.len(), "cursor"));
            Outcome::cursors(set).saying(message)
        }
    }
}
