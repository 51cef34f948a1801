//! The elements that lie directly in a node, each with the comments and attributes above it, in groups that may change places.

use crate::languages::scanner::Kind;
use crate::structure::{Node, Roles};
use crate::units::{Byte, Line, Span};
use crate::verbs::lines::markup::has_template_tag;
use crate::verbs::scene::Scene;
use std::rc::Rc;

/// An element with what goes along: from the comments above it to its last character without a separator.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Element {
    /// With what is attached above.
    pub body: Span,
    /// The element itself.
    pub own: Span,
    /// Where a comma ends that the grammar takes into the element; the element's own end where there is none.
    pub comma_end: Byte,
    /// Which elements it may change places with: those of the same group.
    pub group: usize,
    /// Whether it is a section, which changes places with sections alone.
    pub is_section: bool,
}

/// The elements that lie directly in a holder.
pub struct Siblings {
    /// In the order of the text.
    pub elements: Rc<Vec<Element>>,
    /// Whether there are separators between them.
    pub are_separated: bool,
}

/// The elements that lie directly in `holder`, each with what goes along. Cost: linear in its children.
pub fn siblings_in(scene: &Scene, holder: Node, children: &[Node]) -> Siblings {
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
    if scene.language_at(holder.span.start).has_tags() && !is_tag {
        found = lines_of_markup(scene, found);
    }
    keep_order(scene, holder, &mut found);
    Siblings { elements: Rc::new(found), are_separated: has_separators || is_tag }
}

/// What a language wants first in a file, or last in a block, stays there: it changes places with its own kind alone.
fn keep_order(scene: &Scene, holder: Node, elements: &mut [Element]) {
    let language = scene.language_at(holder.span.start);
    let is_file = holder.is(Roles::ROOT);
    if (language.leads.is_empty() || !is_file) && language.stays_last.is_empty() {
        return;
    }
    let begins_with = |element: &Element, word: &String| {
        let is_word = |c: char| c.is_alphanumeric() || c == '_';
        let behind = element.own.start + word.len();
        scene.text.has_at(element.own.start, word) && !scene.text.char_at(behind).is_some_and(is_word)
    };
    for element in elements {
        let lead = language.leads.iter().position(|word| begins_with(element, word)).filter(|_| is_file);
        let is_last = language.stays_last.iter().any(|word| begins_with(element, word));
        let rank = if is_last { language.leads.len() + 1 } else { lead.unwrap_or(language.leads.len()) };
        element.group = element.group * (language.leads.len() + 2) + rank;
    }
}

/// The children of an element of markup: those that share a line are one, and nothing changes places with a tag of a template language
/// or goes past it.
fn lines_of_markup(scene: &Scene, elements: Vec<Element>) -> Vec<Element> {
    let text = scene.text;
    let mut joined: Vec<Element> = Vec::new();
    for element in elements {
        match joined.last_mut() {
            Some(last) if text.line_of(last.own.end) == text.line_of(element.body.start) => {
                last.body.end = element.body.end;
                last.own.end = element.own.end;
                last.comma_end = element.comma_end;
            }
            _ => joined.push(element),
        }
    }
    let mut passed = 0;
    for element in &mut joined {
        let has_tag = has_template_tag(&text.slice(element.own)) && !text.has_at(element.own.start, "<");
        passed += usize::from(has_tag);
        element.group += passed;
        passed += usize::from(has_tag);
    }
    joined
}

/// Whether `node` belongs to what follows it: a comment, an attribute, a line that the language's table has for that.
fn is_attached(scene: &Scene, node: &Node) -> bool {
    let words = || scene.language_at(node.span.start).attached.clone();
    node.is(Roles::ATTACHED)
        || (scene.text.char_at(node.span.start) == Some('@') && begins_with_word(scene, node.span.start, &words()))
}

/// Whether one of `words` is at `at`, whole.
fn begins_with_word(scene: &Scene, at: Byte, words: &[String]) -> bool {
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
