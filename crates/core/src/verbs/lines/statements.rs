//! Carrying statements: a statement, declaration, item, list element or attribute changes places with its sibling.
//!
//! What is between the two, separators and blank lines, stays where it is, so that no comma is ever too many or
//! too few; comments and attributes directly above an element, and a comment after it, go along. Without a tree the
//! lines are carried. Cost: a parse, and the bytes that move.

use crate::changes::ChangeBuilder;
use crate::cursors::{CursorSet, Selection};
use crate::structure::{Known, Node, Roles, Structure, Visited};
use crate::units::{Byte, Direction, Span};
use crate::verbs::lines::carry;
use crate::verbs::scene::{Outcome, Run, Scene, counted};
use std::collections::HashMap;
use std::rc::Rc;

/// An element with what goes along: from the comments above it to its last character without a separator.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Element {
    /// With what is attached above.
    body: Span,
    /// The element itself.
    own: Span,
    /// Where a comma ends that the grammar takes into the element; the element's own end where there is none.
    comma_end: Byte,
}

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
        let outcome = carry(scene, direction);
        let said = outcome.message.clone().unwrap_or_default();
        return outcome.saying(format!("{said}: {why}, so lines are carried"));
    }
    let mut swaps: Vec<Swap> = Vec::new();
    let mut refused = None;
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
    if swaps.is_empty() {
        return Outcome::nothing(refused.unwrap_or("no statement here"));
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
    let found = element_in_line(holders, run).or_else(|| elements_of_lines(holders, run));
    vec![found.ok_or("no statement here").and_then(|found| swap_with(scene, run, found, direction))]
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
        comma_end: siblings[last].comma_end,
    };
    let (upper, lower, with) = match direction {
        Direction::Back => (siblings[first.checked_sub(1).ok_or(EDGE)?], own, Direction::Forward),
        Direction::Forward => (own, *siblings.get(last + 1).ok_or(EDGE)?, Direction::Back),
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

/// The siblings, and which of them, from the first to the last, are meant.
type Found = (Rc<Vec<Element>>, [usize; 2]);

/// The elements of the holders that were asked for, each looked through once for all cursors in it.
struct Holders<'a, 'b> {
    scene: &'a Scene<'b>,
    known: HashMap<(Span, u16), Rc<Siblings>>,
}

/// The elements that lie directly in a holder.
struct Siblings {
    elements: Rc<Vec<Element>>,
    /// Whether there are separators between them.
    are_separated: bool,
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

/// The elements that the lines of the run are: the smallest that begin and end lines and cover them all.
fn elements_of_lines(holders: &mut Holders, run: &Run) -> Option<Found> {
    let scene = holders.scene;
    let text = scene.text;
    let full = |line: &crate::units::Line| !text.is_blank(*line);
    let (first, last) = (run.lines().find(full)?, run.lines().rfind(full)?);
    let start = text.indentation_span(first).end;
    let content = text.content_span(last);
    let end = content.start + text.slice(content).trim_end().len();
    let lines = Span::new(text.line_start(first), text.line_span(last).end);
    let mut best: Option<(usize, Found)> = None;
    let mut look = |holder: &Visited| {
        let siblings = holders.siblings(holder).elements.clone();
        // Those that touch the lines: they are in order.
        let from = siblings.partition_point(|each| each.body.end < lines.start);
        let behind = siblings.partition_point(|each| text.line_of(each.body.start) <= last);
        let to = behind.checked_sub(1).filter(|to| from <= *to)?;
        let covered = Span::new(siblings[from].body.start, siblings[to].body.end);
        let begins_line = text.indentation_span(text.line_of(covered.start)).end == covered.start;
        let covers = text.line_of(covered.start) <= first && text.line_of(covered.end) >= last;
        let size = covered.len();
        if begins_line && covers && best.as_ref().is_none_or(|(smallest, _)| size < *smallest) {
            best = Some((size, (siblings, [from, to])));
        }
        None::<()>
    };
    scene.find_having(Roles::HOLDER, Span::at(start), &mut look);
    scene.find_having(Roles::HOLDER, Span::new(start, end), &mut look);
    best.map(|(_, found)| found)
}

/// The elements that lie directly in `holder`, each with what goes along. Cost: linear in its children.
fn siblings_in(scene: &Scene, holder: Node, children: &[Node]) -> Siblings {
    let is_tag = holder.is(Roles::TAG);
    let ends_itself = |node: &Node| {
        let end = scene.text.trimmed(node.span).end;
        end > node.span.start && scene.text.char_before(end).is_some_and(|last| ",;".contains(last))
    };
    let has_separators =
        children.iter().any(|node| if node.is_named { ends_itself(node) } else { node.is(Roles::SEPARATOR) });
    let has_statements = children.iter().any(|node| node.is(Roles::STATEMENT));
    let mut reading = Reading { scene, is_tag, has_statements, ends_statements: false, children };
    reading.ends_statements = reading.are_statements_ended() || holder.is(Roles::TOP_LEVEL);
    let mut found: Vec<Element> = Vec::new();
    let mut attached: Option<Byte> = None;
    for (index, node) in children.iter().enumerate().filter(|(_, node)| reading.is_element(node)) {
        let own = reading.own(index);
        if !node.is(Roles::ATTACHED) {
            let body = Span::new(attached.take().unwrap_or(own.start), own.end);
            let whole = scene.text.trimmed(node.span);
            let has_comma = !whole.is_empty() && scene.text.char_before(whole.end) == Some(',');
            let comma_end = if has_comma { whole.end } else { own.end };
            found.push(Element { body, own, comma_end });
        } else if begins_line(scene, own.start) {
            // What is attached belongs to what follows on the very next line, together with what is above it.
            attached =
                Some(attached.unwrap_or(own.start)).filter(|_| is_just_above(scene, own, &children[index + 1..]));
        }
    }
    Siblings { elements: Rc::new(found), are_separated: has_separators || is_tag }
}

/// The children of a holder, to be told apart.
struct Reading<'a, 'b> {
    scene: &'a Scene<'b>,
    is_tag: bool,
    /// Whether some of the children are statements.
    has_statements: bool,
    /// Whether semicolons end each element and do not only part them.
    ends_statements: bool,
    children: &'a [Node],
}

impl Reading<'_, '_> {
    /// Whether `node` is an element, or attached to one.
    fn is_element(&self, node: &Node) -> bool {
        node.is_named
            && !node.is(Roles::FURNITURE)
            && (!self.is_tag || node.is(Roles::ATTRIBUTE))
            && !self.is_value(node)
            && !without_separator(self.scene, node.span).is_empty()
    }

    /// Whether `node` is the value of a block among statements: it stays the last.
    fn is_value(&self, node: &Node) -> bool {
        node.is(Roles::VALUE) && self.has_statements
    }

    /// The `index`th child without a separator after it; a semicolon that ends it is a part of it.
    fn own(&self, index: usize) -> Span {
        let own = without_separator(self.scene, self.children[index].span);
        let semicolon = self.children.get(index + 1).filter(|next| next.is(Roles::SEMICOLON) && self.ends_statements);
        semicolon.map_or(own, |next| Span::new(own.start, next.span.end))
    }

    /// Whether the last element is followed by a semicolon.
    fn are_statements_ended(&self) -> bool {
        let last = self.children.iter().rposition(|node| self.is_element(node) && !node.is(Roles::ATTACHED));
        last.is_some_and(|last| self.children.get(last + 1).is_some_and(|next| next.is(Roles::SEMICOLON)))
    }
}

fn begins_line(scene: &Scene, at: Byte) -> bool {
    scene.text.indentation_span(scene.text.line_of(at)).end == at
}

/// Whether the first of `following` that comes after `own` begins on the next line, or on the same.
fn is_just_above(scene: &Scene, own: Span, following: &[Node]) -> bool {
    let next = following.iter().find(|node| node.is_named && node.span.start >= own.end);
    next.is_some_and(|next| scene.text.line_of(next.span.start).0 <= scene.text.line_of(own.end).0 + 1)
}

/// A node without a separator and white space at its end, which some grammars take into it.
fn without_separator(scene: &Scene, span: Span) -> Span {
    let text = scene.text;
    let kept = text.trimmed(span);
    if !kept.is_empty() && text.char_before(kept.end) == Some(',') {
        return text.trimmed(Span::new(span.start, text.previous_boundary(kept.end)));
    }
    kept
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
            if piece.token.kind == crate::languages::scanner::Kind::Comment
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
