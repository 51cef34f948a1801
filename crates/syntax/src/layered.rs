//! A text as it was parsed: the tree of its own language, and those of the languages inside it.
//!
//! Where each language is is told by the scanner of the core, so that comments, colours and structure agree on it.
//! A window of a large text is parsed as if it were a text; all places given and taken here are those of the whole.

use crate::grammars::Grammar;
use crate::limits::{harmless, is_too_deep};
use snarvel_core::changes::Change;
use snarvel_core::languages::Language;
use snarvel_core::languages::lexical::{Lexical, Syntax};
use snarvel_core::structure::{Node, Roles, Visit, Visited, Walk};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line, Span};
use std::collections::HashMap;
use std::ops::ControlFlow;
use std::sync::Arc;
use std::time::{Duration, Instant};
use tree_sitter::{InputEdit, ParseOptions, Parser, Point, Range, Tree};

/// A change of more edits than this is parsed anew: telling a tree of each costs more than it saves.
pub const MOST_EDITS: usize = 500;

/// Where `window` is after `change`, which makes a text of the second of `lengths` of one of the first; none where so much changes
/// that parsing anew is cheaper, or where an edit goes over an edge of the window.
pub fn window_after(window: Span, change: &Change, lengths: [usize; 2]) -> Option<Span> {
    let Span { start, end } = window;
    let crosses = |edit: Span| edit.start < end && start < edit.end && (edit.start < start || end < edit.end);
    if change.edits().len() > MOST_EDITS || change.edits().iter().any(|edit| crosses(edit.span())) {
        return None;
    }
    if window == Span::new(Byte(0), Byte(lengths[0])) {
        return Some(Span::new(Byte(0), Byte(lengths[1])));
    }
    let mut shifted = window;
    for edit in change.edits() {
        let growth = change.inserted(edit).len() as isize - edit.span().len() as isize;
        if edit.end() <= start && edit.start() < start {
            shifted.start = Byte(shifted.start.0.saturating_add_signed(growth));
        }
        if edit.start() <= end {
            shifted.end = Byte(shifted.end.0.saturating_add_signed(growth));
        }
    }
    Some(shifted)
}

/// A text, or a window of it, as it was parsed.
#[derive(Clone)]
pub struct Layered {
    /// What of the text was parsed.
    pub window: Span,
    /// The line with which the window begins.
    first_line: Line,
    /// The file's own language first, where it has a grammar.
    layers: Vec<Layer>,
}

/// One language.
#[derive(Clone)]
struct Layer {
    grammar: &'static Grammar,
    /// Where it is; the whole window where it is the file's own.
    ranges: Vec<Span>,
    is_own: bool,
    tree: Tree,
}

impl Layer {
    fn holds(&self, span: Span) -> bool {
        let last = self.ranges.partition_point(|range| range.start <= span.start);
        last > 0 && span.end <= self.ranges[last - 1].end
    }
}

/// What is to be parsed, and until when.
struct Work<'a> {
    text: &'a Text,
    window: Span,
    end: Instant,
}

/// What a parse needs beside the text.
pub struct Parsers {
    language: Arc<Language>,
    made: HashMap<&'static str, Parser>,
}

impl Parsers {
    /// For texts in `language`.
    pub fn new(language: Arc<Language>) -> Parsers {
        Parsers { language, made: HashMap::new() }
    }

    /// Parses `window` of `text`, from what was known of it before; none where that takes longer than `limit`.
    pub fn parse(&mut self, text: &Text, window: Span, old: Option<&Layered>, limit: Duration) -> Option<Layered> {
        let work = Work { text, window, end: Instant::now() + limit };
        let old = old.filter(|old| old.window == window);
        let mut layers = Vec::new();
        if let Some(grammar) = Grammar::of(&self.language.name) {
            if is_too_deep(grammar.name, text, &[window]) {
                return None;
            }
            let before = old.and_then(|old| old.layers.iter().find(|layer| layer.is_own)).map(|layer| &layer.tree);
            let tree = self.tree(grammar, &[], before, &work)?;
            layers.push(Layer { grammar, ranges: vec![window], is_own: true, tree });
        }
        // What is in which language is told from a text's start on: not for a window.
        let is_whole = window.len() == text.len();
        let inner = if is_whole { self.inner(text) } else { Vec::new() };
        let was: Vec<&Layer> = old.iter().flat_map(|old| &old.layers).filter(|layer| !layer.is_own).collect();
        for (index, (grammar, ranges)) in inner.iter().enumerate() {
            if is_too_deep(grammar.name, text, ranges) {
                continue;
            }
            let before = was.get(index).filter(|layer| layer.grammar.name == grammar.name && was.len() == inner.len());
            let tree = self.tree(grammar, ranges, before.map(|layer| &layer.tree), &work)?;
            layers.push(Layer { grammar, ranges: ranges.clone(), is_own: false, tree });
        }
        Some(Layered { window, first_line: text.line_of(window.start), layers })
    }

    /// Where which language is inside the text's own: a stretch each, or all together for one in which the file
    /// begins.
    fn inner(&self, text: &Text) -> Vec<(&'static Grammar, Vec<Span>)> {
        let mut found: Vec<(&'static Grammar, Vec<Span>)> = Vec::new();
        if self.language.embeds.is_empty() {
            return found;
        }
        let around = self.language.embeds.iter().find(|embed| embed.first).map(|embed| &embed.language);
        let lexical = Lexical::new(&self.language);
        let view = lexical.of(text);
        for part in (0..text.line_count()).flat_map(|line| view.inside(Line(line))) {
            let Some(grammar) = Grammar::of(&part.language.name).filter(|_| !part.span.is_empty()) else { continue };
            let is_around = around == Some(&part.language.name);
            let place = found.iter().rposition(|(other, ranges)| {
                let goes_on = ranges.last().is_some_and(|last| last.end == part.span.start);
                other.name == grammar.name && (is_around || goes_on)
            });
            let Some(place) = place else {
                found.push((grammar, vec![part.span]));
                continue;
            };
            let ranges = &mut found[place].1;
            match ranges.last_mut() {
                Some(last) if last.end == part.span.start => last.end = part.span.end,
                _ => ranges.push(part.span),
            }
        }
        found
    }

    fn tree(&mut self, grammar: &'static Grammar, ranges: &[Span], old: Option<&Tree>, work: &Work) -> Option<Tree> {
        let Work { text, window, end } = *work;
        let parser = self.made.entry(grammar.name).or_default();
        parser.set_language(&grammar.language).ok()?;
        let first_line = text.line_of(window.start);
        let within = |at: Byte| point_within(text, first_line, at);
        let ranges: Vec<Range> = ranges
            .iter()
            .map(|span| Range {
                start_byte: span.start - window.start,
                end_byte: span.end - window.start,
                start_point: within(span.start),
                end_point: within(span.end),
            })
            .collect();
        parser.set_included_ranges(&ranges).ok()?;
        let mut in_time = |_: &tree_sitter::ParseState| match Instant::now() > end {
            true => ControlFlow::Break(()),
            false => ControlFlow::Continue(()),
        };
        let mut piece = |at: usize, _: Point| harmless(grammar.name, piece_at(text, window, window.start + at));
        let options = ParseOptions::new().progress_callback(&mut in_time);
        let parsed = parser.parse_with_options(&mut piece, old, Some(options));
        if parsed.is_none() {
            parser.reset();
        }
        parsed
    }
}

/// The text from `at` on, as far as it lies in one piece and in the window.
fn piece_at(text: &Text, window: Span, at: Byte) -> &[u8] {
    if at >= window.end {
        return b"";
    }
    text.chunks_from(at).next().map_or(b"", |piece| {
        let rest = &piece.text.as_bytes()[at - piece.start..];
        &rest[..rest.len().min(window.end - at)]
    })
}

/// A walk through the trees of a text.
pub struct LayeredWalk<'a> {
    known: &'a Layered,
    /// The steps to the place that was asked for last, of each layer, from the root on. A node does not know its parent: asking
    /// for it goes down from the root.
    ways: Vec<Vec<Step<'a>>>,
}

/// A node on a way.
#[derive(Clone, Copy)]
struct Step<'a> {
    here: tree_sitter::Node<'a>,
    node: Node,
    /// What it is, and what those around it are.
    any: Roles,
}

impl Walk for LayeredWalk<'_> {
    fn around(&mut self, span: Span, wanted: Option<Roles>, visit: &mut Visit) {
        let LayeredWalk { known, ways } = self;
        if !known.covers(span) {
            return;
        }
        for (layer, way) in known.layers.iter().zip(ways).rev().filter(|(layer, _)| layer.holds(span)) {
            known.go(way, layer, span);
            for step in way.iter().rev().take_while(|step| wanted.is_none_or(|wanted| step.any.has(wanted))) {
                if wanted.is_some_and(|wanted| !step.node.is(wanted)) {
                    continue;
                }
                let child = |child| known.node(layer.grammar, child);
                let children = || step.here.children(&mut step.here.walk()).map(child).collect();
                if visit(Visited { node: step.node, children: &children }).is_break() {
                    return;
                }
            }
        }
    }
}

fn point_within(text: &Text, first: Line, at: Byte) -> Point {
    let line = text.line_of(at);
    Point::new(line.0.saturating_sub(first.0), at - text.line_start(line))
}

fn point_after(start: Point, inserted: &str) -> Point {
    match inserted.rfind('\n') {
        Some(last) => Point::new(start.row + inserted.matches('\n').count(), inserted.len() - last - 1),
        None => Point::new(start.row, start.column + inserted.len()),
    }
}

impl Layered {
    /// Takes in a change: where it is told of all of it, it is a start for the next parse. What comes back is none
    /// where too much changes for that.
    pub fn follow(mut self, before: &Text, change: &Change, after: &Text) -> Option<Layered> {
        let window = window_after(self.window, change, [before.len(), after.len()])?;
        let Span { start, end } = self.window;
        // From the last to the first, so that places before an edit are still those of the text.
        for edit in change.edits().iter().rev().filter(|edit| edit.start() >= start && edit.start() <= end) {
            self.tell(before, edit.span(), change.inserted(edit));
        }
        self.window = window;
        self.first_line = after.line_of(self.window.start);
        Some(self)
    }

    fn tell(&mut self, text: &Text, edit: Span, inserted: &str) {
        let start = point_within(text, self.first_line, edit.start);
        let told = InputEdit {
            start_byte: edit.start - self.window.start,
            old_end_byte: edit.end - self.window.start,
            new_end_byte: edit.start - self.window.start + inserted.len(),
            start_position: start,
            old_end_position: point_within(text, self.first_line, edit.end),
            new_end_position: point_after(start, inserted),
        };
        self.layers.iter_mut().for_each(|layer| layer.tree.edit(&told));
    }

    /// Whether `span` was parsed.
    pub fn covers(&self, span: Span) -> bool {
        self.window.start <= span.start && span.end <= self.window.end
    }

    /// The layers that touch `span`, each with its tree, the file's own first.
    pub fn touching(&self, span: Span) -> impl Iterator<Item = (&'static Grammar, &Tree)> {
        let touches = move |layer: &&Layer| {
            let first = layer.ranges.partition_point(|range| range.end <= span.start);
            layer.ranges.get(first).is_some_and(|range| range.start < span.end)
        };
        self.layers.iter().filter(touches).map(|layer| (layer.grammar, &layer.tree))
    }

    /// A walk through its trees.
    pub fn walk(&self) -> LayeredWalk<'_> {
        LayeredWalk { known: self, ways: vec![Vec::new(); self.layers.len()] }
    }

    /// Makes `way` that to the smallest node of `layer` that holds `span`. What it has in common with the way before stays.
    fn go<'a>(&self, way: &mut Vec<Step<'a>>, layer: &'a Layer, span: Span) {
        let [start, end] = [span.start, span.end].map(|at| at - self.window.start);
        // As the search from the root chooses: the first node that ends after the start.
        let holds =
            |here: tree_sitter::Node| here.start_byte() <= start && here.end_byte() >= end && here.end_byte() > start;
        while way.len() > 1 && way.pop_if(|last| !holds(last.here)).is_some() {}
        let mut here = way.last().map_or_else(|| layer.tree.root_node(), |last| last.here);
        let step = |here, around: Option<Step>| {
            let node = self.node(layer.grammar, here);
            Step { here, node, any: around.map_or(node.roles, |around| around.any | node.roles) }
        };
        if way.is_empty() {
            way.push(step(here, None));
        }
        let Some(last) = here.descendant_for_byte_range(start, end) else { return };
        while here != last
            && let Some(next) = here.child_with_descendant(last)
        {
            way.push(step(next, way.last().copied()));
            here = next;
        }
    }

    /// All nodes that have any of `roles`, in the order in which they begin.
    pub fn all(&self, roles: Roles) -> Vec<Node> {
        let mut found = Vec::new();
        for layer in &self.layers {
            let mut cursor = layer.tree.root_node().walk();
            loop {
                found.extend(Some(self.node(layer.grammar, cursor.node())).filter(|node| node.is(roles)));
                let mut goes_on = cursor.goto_first_child() || cursor.goto_next_sibling();
                while !goes_on && cursor.goto_parent() {
                    goes_on = cursor.goto_next_sibling();
                }
                if !goes_on {
                    break;
                }
            }
        }
        found.sort_by_key(|node| (node.span.start, std::cmp::Reverse(node.span.end)));
        found
    }

    fn node(&self, grammar: &Grammar, node: tree_sitter::Node) -> Node {
        let at = self.window.start;
        let symbol = node.kind_id();
        let roles = grammar.roles.get(usize::from(symbol)).copied().unwrap_or_default();
        let roles = if node.is_error() { roles | Roles::BROKEN } else { roles };
        Node { span: Span::new(at + node.start_byte(), at + node.end_byte()), roles, symbol, is_named: node.is_named() }
    }
}
