//! Carrying statements: a statement, declaration, item, list element or attribute changes places with its sibling.
//!
//! Of all constructs that begin on the caret's line the innermost moves that can. What is between the two, separators and blank
//! lines, stays where it is, so that no comma is ever too many or too few; comments and attributes directly above an element, and a
//! comment after it, go along. Without a tree a statement is a line with the lines that go on with it. Cost: a parse, and the bytes
//! that move.

use crate::changes::ChangeBuilder;
use crate::cursors::{CursorSet, Selection};
use crate::languages::scanner::Kind;
use crate::structure::{Known, Roles, Structure, Visited};
use crate::units::{Byte, Direction, Line, Span};
use crate::verbs::lines::lists::{ListItem, Parting, find_list};
use crate::verbs::lines::siblings::{Element, Siblings, siblings_in};
use crate::verbs::lines::{by_lines, carry};
use crate::verbs::scene::{Outcome, Run, Scene, counted};
use std::collections::HashMap;
use std::rc::Rc;

/// Two elements that change places, each with the comment after it on its last line and the white space before that.
#[derive(Debug)]
struct Swap {
    upper: Element,
    lower: Element,
    /// Empty where there is no comment.
    tails: [Span; 2],
    /// Which cursors go along, and with which of the two.
    cursors: std::ops::Range<usize>,
    with: Direction,
}

/// Carries the statement of every run.
pub fn carry_statement(scene: &Scene, direction: Direction) -> Outcome {
    let covers = |structure: &dyn Structure| {
        let mut runs = scene.runs().into_iter();
        runs.all(|run| structure.covers(Span::at(scene.text.indentation_span(run.first).end)))
    };
    let why = match scene.structure {
        Known::NoGrammar => Some(format!("{} has no grammar here", scene.language.title)),
        Known::Parsed(structure) if covers(structure) => None,
        Known::Parsed(_) | Known::NotYet => Some("its structure is not known here".to_owned()),
    };
    if let Some(why) = why {
        if !scene.language.prose || scene.language.finish.tags {
            return by_lines::carry_statement(scene, direction);
        }
        let outcome = carry(scene, direction);
        let said = outcome.message.clone().unwrap_or_default();
        return outcome.saying(format!("{said}: {why}, so lines are carried"));
    }
    let mut swaps: Vec<Swap> = Vec::new();
    let mut refused: Option<&'static str> = None;
    let mut holders = Holders { scene, known: HashMap::new() };
    for swap in scene.runs().iter().flat_map(|run| swaps_of(&mut holders, run, direction)) {
        match swap {
            Ok(swap) if swaps.last().is_none_or(|last| last.tails[1].end <= swap.upper.body.start) => {
                swaps.push(swap);
            }
            Ok(_) => refused = Some("two of them would change places with the same one"),
            Err(why) => refused = Some(why),
        }
    }
    // A language whose inner languages alone have grammars.
    let has_nodes = || {
        let mut starts = scene.runs().into_iter().map(|run| scene.text.indentation_span(run.first).end);
        starts.any(|start| scene.find_around(Span::at(start), |_| Some(())).is_some())
    };
    let goes_by_lines = !scene.language.prose || scene.language.finish.tags;
    if swaps.is_empty() && refused == Some(NONE_HERE) && goes_by_lines && !has_nodes() {
        return by_lines::carry_statement(scene, direction);
    }
    if swaps.is_empty() {
        return Outcome::nothing(refused.unwrap_or(NONE_HERE));
    }
    carry_out(scene, &swaps).saying(format!("carried {}", counted(swaps.len(), "statement")))
}

/// The swap of a run; one for each of its cursors where each is in an element of its own row.
fn swaps_of(holders: &mut Holders, run: &Run, direction: Direction) -> Vec<Result<Swap, &'static str>> {
    let scene = holders.scene;
    if run.cursors.len() > 1 {
        let alone = |index: usize| {
            let line = scene.text.line_of(scene.cursors.list()[index].head);
            Run { first: line, last: line, start: scene.text.line_start(line), cursors: index..index + 1 }
        };
        let each: Option<Vec<(Run, Found)>> =
            run.cursors.clone().map(|index| Some((alone(index), element_in_line(holders, &alone(index))?))).collect();
        if let Some(each) = each {
            return each.into_iter().map(|(row, found)| swap_with(scene, &row, found, direction)).collect();
        }
    }
    let in_line = element_in_line(holders, run).into_iter();
    let mut why = NONE_HERE;
    let (begun, around): (Vec<Found>, Vec<Found>) =
        elements_of_lines(holders, run).into_iter().partition(|found| begins_on(scene, found, run.first));
    let operand = operand_of_line(scene, run).into_iter();
    // What only goes on with something that began above is that, as long as nothing begins on the line.
    let around = if begun.is_empty() { around.into_iter().take(1).collect() } else { Vec::new() };
    for found in in_line.chain(begun).chain(operand).chain(around) {
        match swap_with(scene, run, found, direction) {
            Ok(swap) => return vec![Ok(swap)],
            Err(edge) => why = edge,
        }
    }
    vec![Err(why)]
}

/// Whether what was found begins on `line`, or has what is attached to it there.
fn begins_on(scene: &Scene, (siblings, [first, _]): &Found, line: Line) -> bool {
    let element = siblings[*first];
    let mut lines = (line.0..=scene.text.line_of(element.own.start).0).map(Line);
    scene.text.line_of(element.body.start) <= line && lines.next_back().is_some()
}

/// The operand of a chain, or the member of a union, that begins on the line of the run.
fn operand_of_line(scene: &Scene, run: &Run) -> Option<Found> {
    let text = scene.text;
    let content = text.content_span(run.first);
    let is_of_line = |at: Byte| content.start <= at && at <= content.end;
    let found_at = |at: Byte| {
        find_list(scene, Span::at(at), |list| {
            let is_chain = matches!(list.parting, Parting::Operator(_));
            let index = list.items.iter().position(|item| is_of_line(item.span.start)).filter(|_| is_chain)?;
            let element = |item: &ListItem| Element {
                body: item.span,
                own: item.span,
                comma_end: item.span.end,
                group: 0,
                is_section: false,
            };
            Some((Rc::new(list.items.iter().map(element).collect()), [index, index]))
        })
    };
    let end = text.trimmed(content).end;
    found_at(end).or_else(|| found_at(text.previous_boundary(end).max(content.start)))
}

/// What was found changes places with its neighbour.
fn swap_with(
    scene: &Scene,
    run: &Run,
    (siblings, [first, last]): Found,
    direction: Direction,
) -> Result<Swap, &'static str> {
    let own = Element {
        body: Span::new(siblings[first].body.start, siblings[last].body.end),
        own: Span::new(siblings[first].own.start, siblings[last].own.end),
        ..siblings[last]
    };
    let neighbour = match direction {
        Direction::Back => siblings[first.checked_sub(1).ok_or(EDGE)?],
        Direction::Forward => *siblings.get(last + 1).ok_or(EDGE)?,
    };
    if neighbour.group != own.group || neighbour.is_section != own.is_section {
        return Err(EDGE);
    }
    let (upper, lower, with) = match direction {
        Direction::Back => (neighbour, own, Direction::Forward),
        Direction::Forward => (own, neighbour, Direction::Back),
    };
    let tails = [upper, lower].map(|each| tail_of(scene, each.own.end));
    let [upper, lower] = with_commas(scene, upper, lower);
    Ok(Swap { upper, lower, tails, cursors: run.cursors.clone(), with })
}

/// Where one has a comma of its own and the other, which ends with a brace, needs none, the comma goes along.
fn with_commas(scene: &Scene, upper: Element, lower: Element) -> [Element; 2] {
    let has_comma = |each: &Element| each.comma_end > each.body.end;
    let ends_with_brace = |each: &Element| scene.text.char_before(each.body.end) == Some('}');
    let takes_along = |one: &Element, other: &Element| has_comma(one) && !has_comma(other) && ends_with_brace(other);
    let whole = |each: Element| Element { body: Span::new(each.body.start, each.comma_end), ..each };
    if takes_along(&upper, &lower) || takes_along(&lower, &upper) {
        [whole(upper), whole(lower)]
    } else {
        [upper, lower]
    }
}

const EDGE: &str = "already at the edge of its block";

const NONE_HERE: &str = "no statement here";

/// The siblings, and which of them, from the first to the last, are meant.
type Found = (Rc<Vec<Element>>, [usize; 2]);

/// The elements of the holders that were asked for, each looked through once for all cursors in it.
struct Holders<'a, 'b> {
    scene: &'a Scene<'b>,
    known: HashMap<(Span, u16), Rc<Siblings>>,
}

impl Holders<'_, '_> {
    fn siblings(&mut self, holder: &Visited) -> Rc<Siblings> {
        let siblings = self.known.entry((holder.node.span, holder.node.symbol));
        let read = || Rc::new(siblings_in(self.scene, holder.node, &(holder.children)()));
        siblings.or_insert_with(read).clone()
    }
}

/// The element of a list in one line that a single caret or selection lies in.
fn element_in_line(holders: &mut Holders, run: &Run) -> Option<Found> {
    let scene = holders.scene;
    let text = scene.text;
    let [only] = scene.cursors.list()[run.cursors.clone()] else { return None };
    let span = only.span();
    let is_one_line = |span: Span| text.line_of(span.start) == text.line_of(span.end);
    scene.find_having(Roles::HOLDER, span, |holder| {
        if !is_one_line(holder.node.span) {
            return None;
        }
        let siblings = holders.siblings(holder);
        let elements = &siblings.elements;
        let index = elements.partition_point(|each| each.own.end < span.end);
        let is_held = elements.get(index).is_some_and(|each| each.own.start <= span.start);
        (is_held && siblings.are_separated && elements.len() > 1).then(|| (elements.clone(), [index, index]))
    })
}

/// The elements that the lines of the run are: those that begin and end lines and cover them all, the smallest first.
fn elements_of_lines(holders: &mut Holders, run: &Run) -> Vec<Found> {
    let scene = holders.scene;
    let text = scene.text;
    let full = |line: &crate::units::Line| !text.is_blank(*line);
    let (Some(first), Some(last)) = (run.lines().find(full), run.lines().rfind(full)) else { return Vec::new() };
    let start = text.indentation_span(first).end;
    let content = text.content_span(last);
    let end = content.start + text.slice(content).trim_end().len();
    let lines = Span::new(text.line_start(first), text.line_span(last).end);
    let mut covering: Vec<(usize, Found)> = Vec::new();
    let mut look = |holder: &Visited| {
        let siblings = holders.siblings(holder).elements.clone();
        // Those that touch the lines: they are in order.
        let from = siblings.partition_point(|each| each.body.end < lines.start);
        let behind = siblings.partition_point(|each| text.line_of(each.body.start) <= last);
        let mut to = behind.checked_sub(1).filter(|to| from <= *to)?;
        while siblings[to].group != siblings[from].group && text.line_of(siblings[to - 1].body.end) >= last {
            to -= 1;
        }
        let covered = Span::new(siblings[from].body.start, siblings[to].body.end);
        let begins_line = text.indentation_span(text.line_of(covered.start)).end == covered.start;
        let covers = text.line_of(covered.start) <= first && text.line_of(covered.end) >= last;
        if begins_line && covers {
            covering.push((covered.len(), (siblings, [from, to])));
        }
        None::<()>
    };
    scene.find_having(Roles::HOLDER, Span::at(start), &mut look);
    scene.find_having(Roles::HOLDER, Span::new(start, end), &mut look);
    covering.sort_by_key(|(size, _)| *size);
    covering.into_iter().map(|(_, found)| found).collect()
}

/// The comment after `end` on its line, after a separator if there is one.
fn tail_of(scene: &Scene, end: Byte) -> Span {
    let text = scene.text;
    let line = text.line_of(end);
    let content = text.content_span(line);
    let rest = text.slice(Span::new(end, content.end.max(end)));
    let separator = rest.len() - rest.trim_start().trim_start_matches([',', ';']).len();
    let separator = if rest.trim_start().starts_with([',', ';']) { separator } else { 0 };
    let start = end + separator;
    let comment = scene.syntax.pieces(line).into_iter().find(|piece| piece.span.start >= start);
    let is_last = |span: Span| text.slice(Span::new(span.end.min(content.end), content.end)).trim().is_empty();
    match comment {
        Some(piece)
            if piece.token.kind == Kind::Comment
                && is_last(piece.span)
                && text.slice(Span::new(start, piece.span.start)).trim().is_empty() =>
        {
            Span::new(start, content.end)
        }
        _ => Span::at(start),
    }
}

fn carry_out(scene: &Scene, swaps: &[Swap]) -> Outcome {
    let text = scene.text;
    let mut builder = ChangeBuilder::new(text);
    let mut list: Vec<Option<Selection>> = vec![None; scene.cursors.len()];
    for swap in swaps {
        let Swap { upper, lower, tails: spans, .. } = swap;
        let slice = |span: Span| text.slice(span).into_owned();
        let new_upper = builder.now(upper.body.start);
        builder.replace(upper.body, &slice(lower.body));
        builder.note_move(lower.body, new_upper);
        let tails = spans.map(slice);
        let is_apart = spans[0].start >= upper.body.end && spans[0].end <= lower.body.start;
        if is_apart && tails[0] != tails[1] {
            builder.replace(spans[0], &tails[1]);
        }
        let new_lower = builder.now(lower.body.start);
        builder.replace(lower.body, &slice(upper.body));
        builder.note_move(upper.body, new_lower);
        if is_apart && tails[0] != tails[1] {
            builder.replace(spans[1], &tails[0]);
        }
        let (from, to) = match swap.with {
            Direction::Back => (upper.body.start, new_lower),
            Direction::Forward => (lower.body.start, new_upper),
        };
        let limit = if swap.with == Direction::Back { upper.body } else { lower.body };
        for index in swap.cursors.clone() {
            let each = scene.cursors.list()[index];
            let moved = |at: Byte| to + (at.max(limit.start).min(limit.end) - from);
            list[index] = Some(Selection { anchor: moved(each.anchor), head: moved(each.head), ..each });
        }
    }
    let change = builder.finish();
    let elsewhere = scene.cursors.mapped_each(&change, crate::changes::Bias::After);
    let list = list.iter().zip(elsewhere).map(|(moved, other)| moved.unwrap_or(other)).collect();
    Outcome::edit(change, CursorSet::of(list, scene.cursors.primary_index()))
}
