//! Elements of lists: each cursor's changes places with its neighbour, is deleted, or is copied.
//!
//! What parts the elements stays right: a deleted element takes its separator and the space that belongs to it along, a copy gets one.
//! Cost: the lists at the cursors.

use crate::changes::{Bias, ChangeBuilder};
use crate::cursors::{CursorSet, Selection};
use crate::languages::scanner::Kind;
use crate::units::{Byte, Direction, Span};
use crate::verbs::lines::lists::{List, Parting, find_list};
use crate::verbs::scene::{Outcome, Scene, counted};

const NO_LIST: &str = "no list here: no elements with commas, conditions or attributes";

/// Two neighbours, and which cursor goes along with which of the two.
struct Swap {
    elements: [Span; 2],
    cursor: usize,
    own: usize,
}

/// The element at each cursor changes places with the next or the previous one; the cursors go along. Never beyond the list's end.
pub fn swap(scene: &Scene, direction: Direction) -> Outcome {
    let mut swaps: Vec<Swap> = Vec::new();
    let mut refused = NO_LIST;
    for (cursor, each) in scene.cursors.iter().enumerate() {
        match neighbours(scene, each, direction) {
            Ok((elements, own)) if swaps.last().is_none_or(|last| last.elements[1].end <= elements[0].start) => {
                swaps.push(Swap { elements, cursor, own });
            }
            Ok(_) => refused = "two of them would change places with the same one",
            Err(why) => refused = why,
        }
    }
    if swaps.is_empty() {
        return Outcome::nothing(refused);
    }
    let text = scene.text;
    let mut builder = ChangeBuilder::new(text);
    let mut placed: Vec<Option<Selection>> = vec![None; scene.cursors.len()];
    for Swap { elements, cursor, own } in &swaps {
        let [first, second] = *elements;
        let texts = [first, second].map(|span| text.slice(span).into_owned());
        let new_first = builder.now(first.start);
        builder.replace(first, &texts[1]);
        let new_second = builder.now(second.start);
        builder.replace(second, &texts[0]);
        let (from, to) = if *own == 0 { (first, new_second) } else { (second, new_first) };
        let each = scene.cursors.list()[*cursor];
        let moved = |at: Byte| to + (at.max(from.start).min(from.end) - from.start);
        placed[*cursor] = Some(Selection { anchor: moved(each.anchor), head: moved(each.head), ..each });
    }
    finish(scene, builder, placed).saying(format!("swapped {}", counted(swaps.len(), "element")))
}

/// The element at a cursor and the one that it changes places with, in order; and which of the two is the cursor's.
fn neighbours(scene: &Scene, each: Selection, direction: Direction) -> Result<([Span; 2], usize), &'static str> {
    let list = find_list(scene, each.span(), |list| (list.items.len() > 1).then_some(list)).ok_or(NO_LIST)?;
    let [own, _] = list.touched(Span::at(each.start())).unwrap_or([0, 0]);
    let span = |index: usize| list.items[index].span;
    match direction {
        Direction::Forward if own + 1 < list.items.len() => Ok(([span(own), span(own + 1)], 0)),
        Direction::Back if own > 0 => Ok(([span(own - 1), span(own)], 1)),
        _ => Err("already at the edge of its list"),
    }
}

fn finish(scene: &Scene, builder: ChangeBuilder, placed: Vec<Option<Selection>>) -> Outcome {
    let change = builder.finish();
    let elsewhere = scene.cursors.mapped_each(&change, Bias::After);
    let list = placed.into_iter().zip(elsewhere).map(|(placed, other)| placed.unwrap_or(other)).collect();
    Outcome::edit(change, CursorSet::of(list, scene.cursors.primary_index()))
}

/// The lists at the cursors that count, each with the elements that they touch, in order; elements that several cursors touch come once.
fn touched_lists(scene: &Scene, counts: impl Fn(&List, [usize; 2]) -> bool) -> Vec<(List, Vec<usize>)> {
    let mut found: Vec<(List, Vec<usize>)> = Vec::new();
    for each in scene.cursors.iter() {
        let touched = find_list(scene, each.span(), |list| {
            let touched = list.touched(each.span()).filter(|touched| counts(&list, *touched))?;
            Some((list, touched))
        });
        let Some((list, [first, last])) = touched else { continue };
        match found.last_mut() {
            Some((other, taken)) if *other == list => {
                let from = taken.last().map_or(first, |taken| first.max(taken + 1));
                taken.extend(from..=last);
            }
            // A list inside of an element that goes is gone through with that.
            Some((other, _)) if other.items.iter().any(|item| item.span.end > list.items[0].span.start) => {}
            _ => found.push((list, (first..=last).collect())),
        }
    }
    found
}

/// The elements at the cursors go, each with its separator and the space that belongs to it.
pub fn delete(scene: &Scene) -> Outcome {
    let lists = touched_lists(scene, |list, [first, last]| {
        // Angle brackets without anything in them are no code.
        let is_angled = list.brackets.is_some_and(|[open, _]| scene.text.char_at(open.start) == Some('<'));
        let is_all = first == 0 && last + 1 == list.items.len();
        !(is_angled && is_all && list.parting == Parting::Comma)
    });
    if lists.is_empty() {
        return Outcome::nothing(NO_LIST);
    }
    let mut gone: Vec<Span> = Vec::new();
    let mut count = 0;
    for (list, taken) in &lists {
        count += taken.len();
        for run in taken.chunk_by(|one, other| one + 1 == *other) {
            gone.extend(deleted(scene, list, [run[0], run[run.len() - 1]]));
        }
    }
    gone.sort_unstable();
    let mut builder = ChangeBuilder::new(scene.text);
    let mut reach = Byte(0);
    for span in gone {
        builder.remove(Span::new(span.start.max(reach), span.end.max(reach)));
        reach = reach.max(span.end);
    }
    let change = builder.finish();
    let cursors = scene.remap(&change, |_| [Bias::Before; 2]);
    Outcome::edit(change, cursors).saying(format!("deleted {}", counted(count, "element")))
}

/// What goes with the elements from `first` to `last` of a list.
fn deleted(scene: &Scene, list: &List, [first, last]: [usize; 2]) -> Vec<Span> {
    let text = scene.text;
    let (start, end) = (list.items[first].span.start, list.items[last].span.end);
    let begins_line = |at: Byte| text.indentation_span(text.line_of(at)).end == at;
    if let Some(next) = list.items.get(last + 1) {
        return vec![Span::new(start, next.span.start)];
    }
    let end = with_comment_after(scene, list.items[last].separator.map_or(end, |separator| separator.end));
    let Some(before) = first.checked_sub(1).map(|before| list.items[before]) else {
        // All of it: the brackets stay, and take in what blanks there were.
        let whole = list.brackets.map(|[open, close]| Span::new(open.end, close.start));
        return vec![if list.parting == Parting::Blank {
            Span::new(whole.map_or(start, |whole| whole.start), end)
        } else {
            whole.unwrap_or(Span::new(start, end))
        }];
    };
    // The last one: the separator before it goes, unless the list ends with one.
    let has_final = list.items[last].separator.is_some();
    let separator = before.separator.filter(|_| !has_final);
    let from = match begins_line(start) {
        true => text.content_span(crate::units::Line(text.line_of(start).0 - 1)).end,
        false => before.separator.filter(|_| has_final).map_or(before.span.end, |separator| separator.end),
    };
    let apart = separator.filter(|separator| separator.end <= from);
    apart.into_iter().chain([Span::new(from, end)]).collect()
}

/// `end`, or the end of the comment that is all that follows on its line.
fn with_comment_after(scene: &Scene, end: Byte) -> Byte {
    let text = scene.text;
    let line = text.line_of(end);
    let content = text.content_span(line);
    let pieces = scene.syntax.pieces(line);
    let comment = pieces.iter().find(|piece| piece.span.start >= end && piece.token.kind == Kind::Comment);
    let is_only = |start: Byte, stop: Byte| {
        text.slice(Span::new(end, start)).trim().is_empty()
            && text.slice(Span::new(stop, content.end)).trim().is_empty()
    };
    match comment {
        Some(piece) if piece.token.closes || piece.span.end >= content.end => {
            let stop = piece.span.end.min(content.end);
            if is_only(piece.span.start, stop) { stop } else { end }
        }
        _ => end,
    }
}

/// A copy of the element at each cursor goes in after it; the cursors go along into the copy.
pub fn duplicate(scene: &Scene) -> Outcome {
    let text = scene.text;
    let mut builder = ChangeBuilder::new(text);
    let mut placed: Vec<Option<Selection>> = vec![None; scene.cursors.len()];
    let (mut reach, mut count) = (Byte(0), 0);
    for (index, each) in scene.cursors.iter().enumerate() {
        let found = find_list(scene, each.span(), |list| list.touched(each.span()).map(|touched| (list, touched)));
        let Some((list, [first, last])) = found else { continue };
        let span = Span::new(list.items[first].span.start, list.items[last].span.end);
        if span.end <= reach {
            continue;
        }
        reach = span.end;
        count += last + 1 - first;
        let glue = list.glue(scene);
        let start = builder.now(span.end) + glue.len();
        builder.insert(span.end, &(glue + &text.slice(span)));
        let moved = |at: Byte| start + (at.max(span.start).min(span.end) - span.start);
        placed[index] = Some(Selection { anchor: moved(each.anchor), head: moved(each.head), ..each });
    }
    if count == 0 {
        return Outcome::nothing(NO_LIST);
    }
    finish(scene, builder, placed).saying(format!("duplicated {}", counted(count, "element")))
}
