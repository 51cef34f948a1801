//! Colours: what the grammars' own queries say of a stretch of text.
//!
//! A query names what it finds in words that the grammars share (`keyword`, `function.method`, …); here they become the
//! few kinds that are drawn. The innermost piece decides, and of several names for one piece the last that means a
//! colour, since queries go from the general to the particular. Cost: linear in the stretch.

use crate::grammars::Grammar;
use crate::layered::Layered;
use crate::paints::{Paint, Painted, Paints};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use std::collections::HashMap;
use std::sync::{Mutex, OnceLock, PoisonError};
use tree_sitter::{Node, Query, QueryCursor, StreamingIterator, TextProvider, Tree};

/// A grammar's query and what each of its names is drawn as.
struct Painter {
    query: Query,
    paints: Vec<Paint>,
}

impl Painter {
    /// The painter of `grammar`, made when it is first asked for (up to some tens of milliseconds) and kept. None where its
    /// queries are wrong.
    fn of(grammar: &'static Grammar) -> Option<&'static Painter> {
        static MADE: OnceLock<Mutex<HashMap<&'static str, Option<&'static Painter>>>> = OnceLock::new();
        let mut made = MADE.get_or_init(Mutex::default).lock().unwrap_or_else(PoisonError::into_inner);
        *made.entry(grammar.name).or_insert_with(|| {
            let query = Query::new(&grammar.language, &grammar.queries.join("\n")).ok()?;
            let paints = query.capture_names().iter().map(|name| paint_of(name, grammar.is_keyed)).collect();
            Some(&*Box::leak(Box::new(Painter { query, paints })))
        })
    }
}

/// What is drawn as what, by the first word of its name.
fn paint_of(name: &str, paints_keys: bool) -> Paint {
    let first = name.split('.').next().unwrap_or(name);
    match first {
        _ if matches!(name, "variable.builtin" | "text.title") => Paint::Keyword,
        _ if name == "punctuation.special" && paints_keys => Paint::Keyword,
        _ if name == "string.special.key" => Paint::Type,
        "keyword" | "tag" | "conditional" | "repeat" | "include" | "exception" | "storageclass" | "preproc" => {
            Paint::Keyword
        }
        "type" | "constructor" | "attribute" => Paint::Type,
        "property" | "field" if paints_keys => Paint::Type,
        "function" | "method" => Paint::Function,
        "string" | "character" | "char" | "escape" | "regex" | "text" => Paint::String,
        "number" | "float" | "boolean" | "constant" => Paint::Number,
        "comment" => Paint::Comment,
        _ => Paint::Plain,
    }
}

/// A piece that a query found.
struct Piece {
    span: Span,
    /// Which tree it is of: one of an inner language lies over the others.
    layer: usize,
    pattern: usize,
    paint: Paint,
}

/// How `span` is drawn, which `known` covers.
pub fn paint(known: &Layered, text: &Text, span: Span) -> Paints {
    let mut pieces = Vec::new();
    for (layer, (grammar, tree)) in known.touching(span).enumerate() {
        pieces.extend(pieces_of(grammar, tree, (text, known.window.start), span).map(|piece| Piece { layer, ..piece }));
    }
    pieces.sort_by_key(|piece| {
        let is_plain = piece.paint == Paint::Plain;
        (piece.span.start, std::cmp::Reverse(piece.span.end), piece.layer, !is_plain, piece.pattern)
    });
    Paints { span, list: flat(&pieces, span) }
}

fn pieces_of(
    grammar: &'static Grammar,
    tree: &Tree,
    (text, offset): (&Text, Byte),
    span: Span,
) -> impl Iterator<Item = Piece> {
    let mut pieces = Vec::new();
    if let Some(painter) = Painter::of(grammar) {
        let mut cursor = QueryCursor::new();
        cursor.set_byte_range(span.start - offset..span.end - offset);
        let mut found = cursor.captures(&painter.query, tree.root_node(), Source { text, offset });
        while let Some((found, index)) = found.next() {
            let capture = found.captures()[*index];
            let range = capture.node.byte_range();
            let place = Span::new(offset + range.start, offset + range.end);
            let paint = painter.paints[capture.index as usize];
            pieces.push(Piece { span: place, layer: 0, pattern: found.pattern_index, paint });
        }
    }
    pieces.into_iter()
}

/// The pieces without overlaps: what lies inside another is drawn over it.
fn flat(pieces: &[Piece], reach: Span) -> Vec<Painted> {
    let mut list: Vec<Painted> = Vec::new();
    let mut open: Vec<(Byte, Paint)> = Vec::new();
    let mut at = reach.start;
    let mut draw = |from: Byte, to: Byte, paint: Paint| {
        let span = Span::new(from.max(reach.start), to.min(reach.end).max(from.max(reach.start)));
        match list.last_mut() {
            _ if span.is_empty() || paint == Paint::Plain => {}
            Some(last) if last.span.end == span.start && last.paint == paint => last.span.end = span.end,
            _ => list.push(Painted { span, paint }),
        }
    };
    for piece in pieces {
        while let Some((end, paint)) = open.pop_if(|(end, _)| *end <= piece.span.start) {
            draw(at, end, paint);
            at = at.max(end);
        }
        if let Some((_, paint)) = open.last() {
            draw(at, piece.span.start, *paint);
        }
        at = at.max(piece.span.start);
        // One that reaches beyond what it lies in ends with it.
        let end = open.last().map_or(piece.span.end, |(outer, _)| piece.span.end.min(*outer));
        open.push((end, piece.paint));
    }
    while let Some((end, paint)) = open.pop() {
        draw(at, end, paint);
        at = at.max(end);
    }
    list
}

/// The text for what a query asks of a node's characters.
struct Source<'a> {
    text: &'a Text,
    offset: Byte,
}

impl<'a> TextProvider<&'a [u8]> for Source<'a> {
    type I = Box<dyn Iterator<Item = &'a [u8]> + 'a>;

    fn text(&mut self, node: Node) -> Self::I {
        let range = node.byte_range();
        let span = Span::new(self.offset + range.start, self.offset + range.end);
        let chunks = self.text.chunks_from(span.start).take_while(move |chunk| chunk.start < span.end);
        Box::new(chunks.map(move |chunk| {
            let from = span.start.0.saturating_sub(chunk.start.0);
            let to = (span.end - chunk.start).min(chunk.text.len());
            &chunk.text.as_bytes()[from.min(to)..to]
        }))
    }
}
