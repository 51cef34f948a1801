//! Carrying statements: a statement, declaration, item, list element or attribute changes places with its sibling.
//!
//! Of all constructs that begin on the caret's line the innermost moves that can. What is between the two, separators and blank
//! lines, stays where it is, so that no comma is ever too many or too few; comments and attributes directly above an element, and a
//! comment after it, go along. Without a tree a statement is a line with the lines that go on with it. Cost: a parse, and the bytes
//! that move.

use crate::changes::ChangeBuilder;
use crate::cursors::{CursorSet, Selection};
use crate::languages::scanner::Kind;
use crate::structure::{Known, Node, Roles, Structure, Visited};
use crate::units::{Byte, Direction, Line, Span};
use crate::verbs::lines::lists::{ListItem, Parting, find_list};
use crate::verbs::lines::{by_lines, carry};
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
    /// Which elements it may change places with: those of the same group.
    group: usize,
    /// Whether it is a section, which changes places with sections alone.
    is_section: bool,
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
    let mut before: Option<usize> = None;
    for (index, node) in children.iter().enumerate().filter(|(_, node)| reading.is_element(node)) {
        let own = reading.own(index);
        if !is_attached(scene, node) {
            let body = Span::new(attached.take().unwrap_or(own.start), own.end);
            let whole = scene.text.trimmed(node.span);
            let has_comma = !whole.is_empty() && scene.text.char_before(whole.end) == Some(',');
            let comma_end = if has_comma { whole.end } else { own.end };
            let group = found.last().map_or(0, |last: &Element| last.group)
                + usize::from(reading.parts(before.replace(index), index, has_separators));
            found.push(Element { body, own, comma_end, group, is_section: node.is(Roles::SECTION) });
        } else if begins_line(scene, own.start) {
            // What is attached belongs to what follows on the very next line, together with what is above it.
            attached =
                Some(attached.unwrap_or(own.start)).filter(|_| is_just_above(scene, own, &children[index + 1..]));
        }
    }
    comments_to_what_follows(scene, &mut found);
    Siblings { elements: Rc::new(found), are_separated: has_separators || is_tag }
}

/// Whether `node` belongs to what follows it: a comment, an attribute, a line that the language's table has for that.
fn is_attached(scene: &Scene, node: &Node) -> bool {
    let words = || scene.language_at(node.span.start).attached.clone();
    node.is(Roles::ATTACHED)
        || (scene.text.char_at(node.span.start) == Some('@') && begins_with_word(scene, node.span.start, &words()))
}

/// Whether one of `words` is at `at`, whole.
#[must_use]
pub fn begins_with_word(scene: &Scene, at: Byte, words: &[String]) -> bool {
    let is_word = |c: char| c.is_alphanumeric() || c == '_';
    words.iter().any(|word| scene.text.has_at(at, word) && !scene.text.char_at(at + word.len()).is_some_and(is_word))
}

/// Comments that a grammar takes into the element before them, because that is nested, go to the element below if they are directly
/// above it, and to none if they are no further in than the element that they are at the end of.
fn comments_to_what_follows(scene: &Scene, elements: &mut [Element]) {
    let text = scene.text;
    let is_comment = |line: Line| {
        let start = text.indentation_span(line).end;
        let first = scene.syntax.pieces(line).into_iter().next();
        first.is_some_and(|piece| piece.token.kind == Kind::Comment && piece.span.start <= start)
    };
    for index in 0..elements.len() {
        let own_line = text.line_of(elements[index].own.start);
        let column = text.indentation_span(own_line).len();
        let mut last = text.line_of(elements[index].own.end);
        while last > own_line
            && (text.is_blank(last) || (is_comment(last) && text.indentation_span(last).len() <= column))
        {
            last = Line(last.0 - 1);
        }
        let end = text.trimmed(text.content_span(last)).end;
        if end < elements[index].own.end && last >= own_line {
            elements[index].own.end = end;
            elements[index].body.end = end;
            elements[index].comma_end = end;
        }
        let Some(next) = elements.get(index + 1).copied() else { continue };
        let mut first = text.line_of(next.body.start);
        if text.indentation_span(first).end != next.body.start {
            continue;
        }
        while first.0 > last.0 + 1 && is_comment(Line(first.0 - 1)) && !text.is_blank(Line(first.0 - 1)) {
            first = Line(first.0 - 1);
        }
        elements[index + 1].body.start = text.indentation_span(first).end.min(next.body.start);
    }
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

    /// Whether the elements at `before` and `index` are no neighbours that may change places: something else is between them, or
    /// commas part all others.
    fn parts(&self, before: Option<usize>, index: usize, has_separators: bool) -> bool {
        let Some(before) = before else { return false };
        let (one, other) = (&self.children[before], &self.children[index]);
        let between = &self.children[before + 1..index];
        if between.iter().any(|node| node.is_named && node.is(Roles::FURNITURE)) && !self.is_tag {
            return true;
        }
        let text = self.scene.text;
        let is_comma = |node: &Node| !node.is_named && node.is(Roles::SEPARATOR) && !node.is(Roles::SEMICOLON);
        let commas = self.children.iter().any(is_comma);
        let ends = |c: char| text.char_before(text.trimmed(one.span).end) == Some(c);
        let needs_none = (ends('}') && one.symbol == other.symbol) || ends(',');
        let begins_line = |node: &Node| begins_line(self.scene, node.span.start);
        match has_separators && commas {
            true => !between.iter().any(is_comma) && !needs_none && !is_attached(self.scene, one),
            // What is on the line of the head is no statement beside those below it.
            false => !self.is_tag && begins_line(other) && !begins_line(one) && !self.has_before_on_line(before),
        }
    }

    /// Whether another element is before the one at `index` on its line.
    fn has_before_on_line(&self, index: usize) -> bool {
        let text = self.scene.text;
        let line = text.line_of(self.children[index].span.start);
        self.children[..index].iter().any(|node| self.is_element(node) && text.line_of(node.span.start) == line)
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
