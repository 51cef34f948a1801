//! How deep a line should be, told by the grammar's tree: by what it is in, and on which line that begins.
//!
//! What a line begins decides. A statement or an element is one unit deeper than the line of what holds it; what closes that is as
//! deep as that line; what goes on with a statement keeps its distance from the line where the statement began.

mod elements;

use crate::languages::Structure as Words;
use crate::languages::scanner::Kind;
use crate::structure::{Node, Roles};
use crate::units::{Byte, Cell, Line, Span};
use crate::verbs::lines::markup::{RAW_ELEMENTS, VOID_ELEMENTS, has_template_tag, interpolation_closed_at};
use crate::verbs::scene::Scene;
use std::borrow::Cow;
use std::cell::RefCell;
use std::collections::HashMap;

/// How deep a line should be.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Depth {
    /// In the first column.
    Outermost,
    /// So many units deeper than a line.
    Steps(Line, u32),
    /// As far from a line as it is. Where it is not deeper than that, it gets so many units.
    Kept(Line, u32),
    /// As far in as what is beside it in the same list, if an author can have meant that; else so many units deeper than a line.
    Alike(Line, Cell, u32),
    /// As far in as the labels beside it, if they are no more than a unit deeper than a line; else so many units deeper than that.
    Labels(Line, Cell, u32),
    /// Where its author wants it.
    Free,
}

/// What the characters of a line say, without the tree.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Code {
    /// It can begin something.
    Begins,
    /// It goes on with the code before.
    GoesOn,
}

/// Asks the tree. What was found out of lists is kept.
pub struct ByTree<'a, 'b> {
    scene: &'a Scene<'b>,
    words: &'a Words,
    lines: RefCell<HashMap<Span, InLines>>,
}

/// A holder with what is around it.
#[derive(Clone, Copy)]
struct Around {
    node: Node,
    /// What is around that.
    outer: Option<Node>,
    /// What is around it and begins before it.
    enclosing: Option<Node>,
    /// The line from which what lies in the braces around is one unit deeper.
    block: Option<Line>,
    lines: InLines,
}

/// What is known of the elements of a holder that begin lines.
#[derive(Clone, Copy, Default)]
struct InLines {
    /// How far in they are, where they or two of three are alike.
    alike: Option<Cell>,
    /// Whether there is no more than one.
    is_alone: bool,
    /// How far in those are that are labels, where they or two of three are alike.
    labels_alike: Option<Cell>,
    /// The line of the first element, where the holder begins with it and it begins a line: the others are as deep.
    first: Option<Line>,
    /// Whether commas part the elements.
    has_commas: bool,
    /// Whether tags of a template language are among them, which nest without the tree knowing.
    has_template_tags: bool,
}

/// Words that go on with a statement at its depth.
const SECOND_PARTS: &[&str] =
    &["else", "catch", "finally", "elif", "elsif", "elseif", "except", "rescue", "ensure", "where"];

/// Lines above one in which a template tag explains why the tree is broken there.
const BROKEN_LINES: usize = 20;

/// Bytes of the longest node whose parentheses are counted.
const LONGEST_GROUP: usize = 4_000;

impl<'a, 'b> ByTree<'a, 'b> {
    /// Asks the tree of `scene`, whose language has `words`.
    #[must_use]
    pub fn new(scene: &'a Scene<'b>, words: &'a Words) -> ByTree<'a, 'b> {
        ByTree { scene, words, lines: RefCell::default() }
    }

    /// How deep `line` should be; none where the tree does not tell. `code` tells whether the line goes on with the code before.
    #[must_use]
    pub fn depth(&self, line: Line, code: Code) -> Option<Depth> {
        let text = self.scene.text;
        let at = text.indentation_span(line).end;
        let mut begins: Vec<Node> = Vec::new();
        let mut around: Vec<Around> = Vec::new();
        let (mut broken, mut is_raw): (Option<Span>, bool) = (None, false);
        self.scene.find_around(Span::at(at), |visited| {
            let node = visited.node;
            if node.span.end <= at && !node.span.is_empty() {
                return None;
            }
            if node.is(Roles::BROKEN) && around.len() < 2 {
                broken = broken.or(Some(node.span));
            }
            is_raw |= RAW_ELEMENTS.iter().any(|tag| text.has_at(node.span.start, tag)) && node.span.start < at;
            if node.span.start >= at {
                begins.push(node);
            } else if !self.is_passed_over(node, at) {
                let needs_children = around.is_empty() && (node.is(Roles::HOLDER) || self.is_bracketed(node));
                let lines = if needs_children { self.lines_in(node, visited.children) } else { InLines::default() };
                around.push(Around { node, outer: None, enclosing: None, block: None, lines });
            }
            None::<()>
        });
        if is_raw {
            return Some(Depth::Free);
        }
        if broken.is_some() || (begins.is_empty() && around.is_empty()) {
            // A grammar of markup may take a tag of a template language for an error.
            let start = text.line_start(Line(line.0.saturating_sub(BROKEN_LINES)));
            let near = Span::new(start.max(broken.map_or(start, |span| span.start)), text.content_span(line).end);
            return (self.scene.language_at(at).prose && has_template_tag(&text.slice(near))).then_some(Depth::Free);
        }
        let outer = around.get(1).map(|outer| outer.node);
        let begins_before = |inner: &Around| {
            around.iter().map(|outer| outer.node).find(|outer| outer.span.start < inner.node.span.start)
        };
        let is_block = |each: &Around| each.node.is(Roles::HOLDER) && text.has_at(each.node.span.start, "{");
        let block = around
            .iter()
            .position(is_block)
            .map(|at| self.base_line(Around { outer: around.get(at + 1).map(|outer| outer.node), ..around[at] }));
        let inner = around.first().map(|inner| Around { outer, block, enclosing: begins_before(inner), ..*inner });
        let Some(inner) = inner else { return Some(Depth::Outermost) };
        Some(self.told(line, (&begins, inner), code))
    }

    /// Whether the line above `line` ends where a type or a value is to follow.
    fn ends_before_value(&self, line: Line) -> bool {
        let text = self.scene.text;
        let above = (0..line.0).rev().map(Line).find(|above| !text.is_blank(*above));
        let ends = |above: Line| ["=", ":", " as"].iter().any(|end| text.content(above).trim_end().ends_with(end));
        above.is_some_and(ends)
    }

    /// The depth of a line that begins at `at` with what closes `inner`.
    fn depth_of_closer(&self, at: Byte, inner: Around, base: Line) -> Depth {
        let text = self.scene.text;
        let own_line = text.line_of(inner.node.span.start);
        // The end of a tag may be a step in, so that no white space is before what follows it.
        let is_markup = inner.node.is(Roles::TAG | Roles::MARKUP) || self.scene.language_at(at).prose;
        let is_tag_end = is_markup && (text.has_at(at, ">") || text.has_at(at, "/>"));
        // Behind text on the line of the tag it is anywhere.
        if is_tag_end && text.indentation_span(own_line).end != inner.node.span.start {
            return Depth::Free;
        }
        let is_alone = self.opens_alone(inner.node) && !is_tag_end;
        // After an operator at the start of its line a block may be as far in as what follows that.
        let is_after_operator = self.is_after_operator(base) && inner.lines.alike.is_some();
        // Where arguments are two steps in, their closer may be one step in.
        let unit = self.scene.settings.unit.cells(self.scene.settings.tabs);
        let own = text.depth_of(text.line_of(at), self.scene.settings.tabs);
        let is_between = text.has_at(at, ")") && inner.lines.alike == Some(own + unit);
        if is_alone && !is_after_operator && !is_between { Depth::Steps(base, 0) } else { Depth::Kept(own_line, 0) }
    }

    fn told(&self, line: Line, (begins, inner): (&[Node], Around), code: Code) -> Depth {
        let text = self.scene.text;
        let at = text.indentation_span(line).end;
        let base = self.base_line(inner);
        let own_line = text.line_of(inner.node.span.start);
        if self.closes(at, begins, inner.node) {
            return self.depth_of_closer(at, inner, base);
        }
        if let Some(opened) = interpolation_closed_at(self.scene, at) {
            return Depth::Steps(opened, 0);
        }
        let word = self.word_at(at);
        if begins.iter().any(|node| node.is(Roles::LABELLED)) && text.has_at(at + word.len(), ":") {
            return self.label_depth(line, base);
        }
        // What follows a label is a statement among others.
        if let Some(base) = inner.block.filter(|_| inner.node.is(Roles::LABELLED)) {
            return Depth::Steps(base, 1);
        }
        let is_arm = ["=>", "->"].iter().any(|arrow| self.rest_of(at + word.len()).trim_start().starts_with(arrow));
        if SECOND_PARTS.contains(&word.as_str())
            && !is_arm
            && !inner.node.is(Roles::ROOT)
            && !inner.node.is(Roles::MARKUP_ELEMENT)
        {
            return Depth::Steps(own_line, 0);
        }
        if let Some(depth) = self.depth_among_template_tags(inner) {
            return depth;
        }
        if inner.node.is(Roles::ROOT) {
            return inner.outer.map_or(Depth::Outermost, |_| Depth::Kept(own_line, 0));
        }
        // The body of a head, its brace on a line of its own.
        let is_body = |node: &Node| node.is(Roles::HOLDER) && node.span.len() > 1;
        if text.has_at(at, "{")
            && inner.node.is(Roles::HEADED | Roles::BLOCK)
            && begins.iter().any(is_body)
            && !self.is_bracketed(inner.node)
        {
            return Depth::Steps(base, 0);
        }
        // What has no brackets of its own begins with its first element.
        if let Some(first) = inner.lines.first.filter(|first| *first < line && inner.node.is_container()) {
            return Depth::Steps(first, 0);
        }
        if inner.node.is(Roles::FLUSH) {
            return Depth::Steps(own_line, 0);
        }
        if !inner.node.is(Roles::HOLDER) && self.is_bracketed(inner.node) && self.opens_alone(inner.node) {
            return self.alike_or(inner, base, 1);
        }
        let is_prose = inner.node.is(Roles::PROSE) || inner.node.is(Roles::STRING);
        if !inner.node.is(Roles::HOLDER) || is_prose {
            return self.part_depth(line, (begins, inner), code);
        }
        self.element_depth((at, &word), inner, base)
    }

    /// How deep `line` is that goes on with a statement or an expression, with what `begins` there.
    fn part_depth(&self, line: Line, (begins, inner): (&[Node], Around), code: Code) -> Depth {
        let text = self.scene.text;
        let at = text.indentation_span(line).end;
        let own_line = text.line_of(inner.node.span.start);
        let is_prose = inner.node.is(Roles::PROSE) || inner.node.is(Roles::STRING);
        let word = self.word_at(at);
        let is_bar = text.has_at(at, "|") && !text.has_at(at, "||");
        let leads = begins.first().is_some_and(|token| !token.is_named && word.is_empty()) && !is_bar;
        // Operands of what is in brackets of its own are below each other.
        let begins_line = text.indentation_span(own_line).end == inner.node.span.start;
        let is_grouped =
            inner.enclosing.is_some_and(|group| begins_line && self.is_group(group) && self.opens_alone(group));
        // What closes the brackets of a head is as deep as that.
        if inner.node.is(Roles::HEADED) && text.has_at(at, ")") {
            return Depth::Steps(own_line, 0);
        }
        let is_flush = text.has_at(at, "{") || is_prose || is_grouped;
        if is_bar && self.ends_before_value(line) {
            return Depth::Steps(own_line, 1);
        }
        Depth::Kept(own_line, u32::from((code == Code::GoesOn || leads) && !is_flush))
    }

    /// The depth of a line, where tags of a template language are among what its holder holds.
    fn depth_among_template_tags(&self, inner: Around) -> Option<Depth> {
        let text = self.scene.text;
        let is_markup_text = inner.node.is(Roles::PROSE) && self.scene.language_at(inner.node.span.start).prose;
        let holder = match is_markup_text {
            true => inner.outer.filter(|_| has_template_tag(&text.slice(inner.node.span)))?,
            false => Some(inner.node).filter(|_| inner.lines.has_template_tags)?,
        };
        let is_root = holder.is(Roles::ROOT);
        Some(if is_root { Depth::Free } else { Depth::Kept(text.line_of(holder.span.start), 1) })
    }

    /// Whether `line` begins with an operator and a blank: a branch of a choice, a member of a union.
    fn is_after_operator(&self, line: Line) -> bool {
        let text = self.scene.text;
        let at = text.indentation_span(line).end;
        ["? ", ": ", "| ", "& ", "&& ", "|| "].iter().any(|operator| text.has_at(at, operator))
    }

    /// Whether `node` says nothing about what lies in it: directives, and text that is white space before `at`.
    fn is_passed_over(&self, node: Node, at: Byte) -> bool {
        let is_blank = || self.scene.text.slice(Span::new(node.span.start, at)).trim().is_empty();
        node.is(Roles::DIRECTIVE) || (node.is(Roles::PROSE) && is_blank()) || self.is_void(node, at)
    }

    /// Whether `node` is in brackets.
    fn is_bracketed(&self, node: Node) -> bool {
        match self.scene.text.char_at(node.span.start) {
            Some('(') => node.is(Roles::HOLDER) || self.ends_with_partner(node),
            Some('[' | '{') => true,
            _ => false,
        }
    }

    /// Whether `node` is in round or square brackets.
    fn is_group(&self, node: Node) -> bool {
        let is_round = self.scene.text.char_at(node.span.start).is_some_and(|c| "([".contains(c));
        is_round && self.is_bracketed(node)
    }

    /// Whether the parenthesis that `node` begins with is closed at its end, and not before. A long node counts as one that is.
    fn ends_with_partner(&self, node: Node) -> bool {
        if node.span.len() > LONGEST_GROUP {
            return true;
        }
        let text = self.scene.text.slice(node.span);
        let mut depth = 0i32;
        let mut count = |c: char| {
            depth += i32::from(c == '(') - i32::from(c == ')');
            depth
        };
        text.find(|c| count(c) == 0).is_none_or(|at| text[at + 1..].trim().is_empty())
    }

    /// Whether `node` is an element that holds nothing, and ends before `at` in truth.
    fn is_void(&self, node: Node, at: Byte) -> bool {
        let text = self.scene.text;
        if !text.has_at(node.span.start, "<") || !self.scene.language_at(node.span.start).prose || node.is(Roles::TAG) {
            return false;
        }
        let name = self.word_at(node.span.start + 1).to_ascii_lowercase();
        VOID_ELEMENTS.contains(&name.as_str()) && text.slice(Span::new(node.span.start, at)).contains('>')
    }

    /// Whether what begins at `at` closes `holder`.
    fn closes(&self, at: Byte, begins: &[Node], holder: Node) -> bool {
        let text = self.scene.text;
        let ends = |node: &Node| text.trimmed(node.span).end == text.trimmed(holder.span).end;
        let is_bracket = text.char_at(at).is_some_and(|c| ")]}>".contains(c)) || text.has_at(at, "/>");
        let is_end_tag = text.has_at(at, "</");
        let last = begins.iter().rev().find(|node| if is_end_tag { node.is_named } else { !node.is_named });
        (is_bracket || is_end_tag) && last.is_some_and(ends)
    }

    /// Whether the bracket that `holder` begins with is the last of the code on its line.
    fn opens_alone(&self, holder: Node) -> bool {
        let text = self.scene.text;
        let line = text.line_of(holder.span.start);
        let content = text.content_span(line);
        let starts_in_bracket = text.char_at(holder.span.start).is_some_and(|c| {
            "([{".contains(c)
                || (c == '<' && !self.scene.language_at(holder.span.start).prose && !holder.is(Roles::MARKUP))
        });
        if !starts_in_bracket {
            return true;
        }
        let behind = text.next_boundary(holder.span.start);
        let rest = text.slice(Span::new(behind, content.end.max(behind)));
        let comment = self.scene.syntax.pieces(line).into_iter().find(|piece| piece.span.start >= behind);
        let code = match comment.filter(|piece| piece.token.kind == Kind::Comment) {
            Some(comment) => rest.get(..comment.span.start - behind).unwrap_or(""),
            None => &rest,
        };
        let code = code.trim();
        // The names of what a closure is given are before the first of its statements.
        code.is_empty()
            || code.chars().all(|c| "([{|".contains(c))
            || code.ends_with(['{', '(', '['])
            || (code.ends_with('|') && !code.ends_with("||"))
            || code.ends_with("=>")
            || code.ends_with("->")
            || code.ends_with(" in")
    }

    /// The line from which what lies in a holder is one unit deeper: where its head begins, if it is the body of something.
    fn base_line(&self, inner: Around) -> Line {
        let text = self.scene.text;
        let line = text.line_of(inner.node.span.start);
        let begins_line = text.indentation_span(line).end == inner.node.span.start;
        let head = inner.outer.filter(|outer| !begins_line && outer.is(Roles::HEADED) && !outer.is(Roles::TAG));
        head.map_or(line, |head| text.line_of(head.span.start))
    }

    fn lines_in(&self, holder: Node, children: &dyn Fn() -> Vec<Node>) -> InLines {
        if let Some(known) = self.lines.borrow().get(&holder.span) {
            return *known;
        }
        let text = self.scene.text;
        let begins_line = |start: &Byte| text.indentation_span(text.line_of(*start)).end == *start;
        let named = children().into_iter().filter(|child| child.is_named && !child.is(Roles::FURNITURE | Roles::PROSE));
        let starts: Vec<Byte> = named.map(|child| child.span.start).filter(begins_line).collect();
        let depth = |start: &Byte| text.depth_of(text.line_of(*start), self.scene.settings.tabs);
        // All alike, or two of three: the others are out of place.
        let alike = |mut depths: Vec<Cell>| {
            depths.sort_unstable();
            let most = depths.chunk_by(|one, other| one == other).max_by_key(|same| same.len())?;
            (most.len() * 3 >= depths.len() * 2).then(|| most[0])
        };
        let labels = [&self.words.labels, &self.words.outer_labels];
        let is_label = |start: &&Byte| {
            let word = self.word_at(**start);
            labels.iter().any(|words| words.contains(&word))
        };
        let first_child =
            children().into_iter().next().filter(|child| child.is_named && child.span.start == holder.span.start);
        let first = first_child.filter(|child| !child.is(Roles::FURNITURE) && begins_line(&child.span.start));
        let is_comma = |child: &Node| child.is(Roles::SEPARATOR) && !child.is(Roles::SEMICOLON) && !child.is_named;
        let is_markup = self.scene.language_at(holder.span.start).prose;
        let has_template_tags = is_markup
            && children()
                .iter()
                .filter(|child| child.is(Roles::PROSE | Roles::BROKEN))
                .any(|child| has_template_tag(&text.slice(child.span)));
        let lines = InLines {
            has_template_tags,
            has_commas: children().iter().any(is_comma),
            first: first.map(|child| text.line_of(child.span.start)),
            alike: alike(starts.iter().map(depth).collect()),
            is_alone: starts.len() <= 1,
            labels_alike: alike(starts.iter().filter(is_label).map(depth).collect()),
        };
        self.lines.borrow_mut().insert(holder.span, lines);
        lines
    }

    fn rest_of(&self, at: Byte) -> Cow<'a, str> {
        let text = self.scene.text;
        let end = text.content_span(text.line_of(at)).end;
        text.slice(Span::new(at, end.max(at)))
    }

    fn word_at(&self, at: Byte) -> String {
        self.rest_of(at).chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect()
    }
}
