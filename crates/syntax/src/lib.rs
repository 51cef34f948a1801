//! Grammars: the structure of a text in the languages that have one, by tree-sitter.
//!
//! A tree is parsed when a verb asks for structure, from the text's own pieces and with a time limit; from then on it
//! is kept up to date with each change, so that the next parse only looks at what changed. Units are bytes. A text
//! that cannot be parsed in time has no nodes: the engine then goes by brackets and lines.

mod grammars;

use snarvel_core::changes::Change;
use snarvel_core::structure::{Node, Tree, is_block};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use std::cell::RefCell;
use std::ops::ControlFlow;
use std::time::{Duration, Instant};
use tree_sitter::{InputEdit, ParseOptions, Parser, Point};

pub use grammars::has_grammar;

/// How long a key waits for a parse at most; a grammar reads some megabytes a second.
const LIMIT: Duration = Duration::from_millis(400);

/// A change of more edits than this is parsed anew: telling a tree of each costs more than it saves.
const MOST_EDITS: usize = 500;

/// The tree of a text in the language called `name`; none where that has no grammar.
#[must_use]
pub fn tree_for(name: &str) -> Option<Box<dyn Tree>> {
    let mut parser = Parser::new();
    let grammar = grammars::grammar(name)?;
    parser.set_language(&grammar).ok()?;
    let kinds = Kinds(grammars::kinds(name, &grammar));
    Some(Box::new(Parsed { parser: RefCell::new(parser), state: RefCell::default(), kinds }))
}

/// A text as it was parsed last.
#[derive(Default)]
struct State {
    tree: Option<tree_sitter::Tree>,
    /// Whether the text is another since.
    is_stale: bool,
    /// Whether the parse of the text as it is took too long: it is not tried again until it changes.
    is_given_up: bool,
}

struct Parsed {
    parser: RefCell<Parser>,
    state: RefCell<State>,
    kinds: Kinds,
}

/// The words of a grammar for its nodes, by their numbers.
#[derive(Clone, Copy)]
struct Kinds(&'static [&'static str]);

impl std::fmt::Debug for Parsed {
    fn fmt(&self, out: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        out.write_str("Parsed")
    }
}

impl Tree for Parsed {
    fn is_known(&self, text: &Text) -> bool {
        self.look(text, |_| true)
    }

    fn around(&self, text: &Text, span: Span) -> Vec<Node> {
        let kinds = self.kinds;
        self.look(text, |root| {
            let mut found: Vec<Node> = Vec::new();
            let mut next = root.descendant_for_byte_range(span.start.0, span.end.0);
            while let Some(node) = next {
                found.push(kinds.node(node));
                next = node.parent();
            }
            found
        })
    }

    fn children(&self, text: &Text, node: Node) -> Vec<Node> {
        let kinds = self.kinds;
        self.look(text, |root| {
            let mut next = root.descendant_for_byte_range(node.span.start.0, node.span.end.0);
            while let Some(here) = next {
                if kinds.node(here) == node {
                    return here.children(&mut here.walk()).map(|child| kinds.node(child)).collect();
                }
                next = here.parent();
            }
            Vec::new()
        })
    }

    fn blocks(&self, text: &Text) -> Vec<Node> {
        let kinds = self.kinds;
        self.look(text, |root| {
            let mut found = Vec::new();
            let mut cursor = root.walk();
            loop {
                found.extend(Some(kinds.node(cursor.node())).filter(|node| is_block(*node)));
                let mut goes_on = cursor.goto_first_child() || cursor.goto_next_sibling();
                while !goes_on && cursor.goto_parent() {
                    goes_on = cursor.goto_next_sibling();
                }
                if !goes_on {
                    return found;
                }
            }
        })
    }

    fn follow(&mut self, text: &Text, change: &Change) {
        let state = self.state.get_mut();
        state.is_stale = true;
        state.is_given_up = false;
        if change.edits().len() > MOST_EDITS {
            state.tree = None;
        }
        let Some(tree) = &mut state.tree else { return };
        // From the last to the first, so that places before an edit are still those of the text.
        for edit in change.edits().iter().rev() {
            let start = point(text, edit.start());
            let inserted = change.inserted(edit);
            tree.edit(&InputEdit {
                start_byte: edit.start().0,
                old_end_byte: edit.end().0,
                new_end_byte: edit.start().0 + inserted.len(),
                start_position: start,
                old_end_position: point(text, edit.end()),
                new_end_position: behind(start, inserted),
            });
        }
    }
}

impl Parsed {
    /// What `by` finds in the tree of `text`, which is parsed first where it has to be.
    fn look<T: Default>(&self, text: &Text, by: impl FnOnce(tree_sitter::Node) -> T) -> T {
        let mut state = self.state.borrow_mut();
        if (state.is_stale || state.tree.is_none()) && !state.is_given_up {
            let parsed = parse(&mut self.parser.borrow_mut(), text, state.tree.as_ref());
            state.is_given_up = parsed.is_none();
            state.is_stale = parsed.is_none();
            state.tree = parsed.or(state.tree.take());
        }
        match &state.tree {
            Some(tree) if !state.is_stale => by(tree.root_node()),
            _ => T::default(),
        }
    }
}

fn parse(parser: &mut Parser, text: &Text, old: Option<&tree_sitter::Tree>) -> Option<tree_sitter::Tree> {
    let start = Instant::now();
    let mut in_time = |_: &tree_sitter::ParseState| match start.elapsed() > LIMIT {
        true => ControlFlow::Break(()),
        false => ControlFlow::Continue(()),
    };
    let mut piece = |at: usize, _: Point| piece_at(text, Byte(at));
    let parsed = parser.parse_with_options(&mut piece, old, Some(ParseOptions::new().progress_callback(&mut in_time)));
    if parsed.is_none() {
        parser.reset();
    }
    parsed
}

/// The text from `at` on, as far as it lies in one piece.
fn piece_at(text: &Text, at: Byte) -> &str {
    if at >= text.end() {
        return "";
    }
    text.chunks_from(at).next().map_or("", |piece| &piece.text[at - piece.start..])
}

impl Kinds {
    fn node(self, node: tree_sitter::Node) -> Node {
        let span = Span::new(Byte(node.start_byte()), Byte(node.end_byte()));
        let kind = self.0.get(usize::from(node.kind_id())).copied().unwrap_or("ERROR");
        Node { span, kind, is_named: node.is_named() }
    }
}

fn point(text: &Text, at: Byte) -> Point {
    let line = text.line_of(at);
    Point::new(line.0, at - text.line_start(line))
}

fn behind(start: Point, inserted: &str) -> Point {
    match inserted.rfind('\n') {
        Some(last) => Point::new(start.row + inserted.matches('\n').count(), inserted.len() - last - 1),
        None => Point::new(start.row, start.column + inserted.len()),
    }
}
