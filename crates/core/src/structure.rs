//! The structure of a text: what the engine asks of a grammar's tree.
//!
//! A tree may be missing (no grammar, no time to parse): then the verbs go by brackets, paragraphs and lines, and say
//! so where it matters. A text may hold several languages: each has its own nodes, inside those of the text around it.

use crate::changes::{Bias, Change, Mapper};
use crate::text::Text;
use crate::units::Span;

/// A piece of the structure: what the grammar calls it, and where it stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Node {
    /// Where.
    pub span: Span,
    /// Its kind, in the grammar's words.
    pub kind: &'static str,
    /// Whether it has a name there; a bracket or a comma has none.
    pub is_named: bool,
}

/// What a stretch of text is drawn as.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Paint {
    /// A word of the language itself.
    Keyword,
    /// The name of a type, a tag's attribute, a key.
    Type,
    /// The name of something that is called.
    Function,
    /// Text.
    String,
    /// A number or another constant.
    Number,
    /// A comment.
    Comment,
    /// None of these, though what lies around it may be one.
    Plain,
}

/// A stretch of text and what it is drawn as.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Painted {
    /// Where.
    pub span: Span,
    /// As what.
    pub paint: Paint,
}

/// How a stretch of text is drawn.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Paints {
    /// The stretch of which it is known.
    pub span: Span,
    /// Its parts, in order and without overlaps; what is in none of them is plain.
    pub list: Vec<Painted>,
}

impl Paints {
    /// What of it is in `span`; none where nothing is.
    #[must_use]
    pub fn within(&self, span: Span) -> Option<Paints> {
        let (start, end) = (self.span.start.max(span.start), self.span.end.min(span.end));
        if start >= end {
            return None;
        }
        let reach = Span::new(start, end);
        let first = self.list.partition_point(|each| each.span.end <= span.start);
        let touching = self.list[first..].iter().take_while(|each| each.span.start < span.end);
        Some(Paints { span: reach, list: touching.copied().collect() })
    }

    /// Moves it with `change`: what is put in behind a part is drawn like it, until more is known.
    pub fn follow(&mut self, change: &Change) {
        let mut mapper = Mapper::new(change);
        let start = mapper.map(self.span.start, Bias::Before);
        for each in &mut self.list {
            let from = mapper.map(each.span.start, Bias::After);
            each.span = Span::new(from, mapper.map(each.span.end, Bias::After).max(from));
        }
        self.list.retain(|each| !each.span.is_empty());
        self.span = Span::new(start, mapper.map(self.span.end, Bias::After).max(start));
    }
}

/// The tree of one text. It may be behind the text for a while: what asks for nodes waits for a moment until it is not,
/// what asks for colours takes what there is.
pub trait Tree: std::fmt::Debug {
    /// Whether there is a tree of `text` as it is around `span`: parsing it may take too long, or be given up.
    fn is_known(&self, text: &Text, span: Span) -> bool;

    /// The nodes that hold `span`, the smallest first, in the language of that place and then in those around it; none
    /// where the text could not be parsed in time.
    fn around(&self, text: &Text, span: Span) -> Vec<Node>;

    /// What lies directly in `node`, in order.
    fn children(&self, text: &Text, node: Node) -> Vec<Node>;

    /// All nodes for which `wanted`, in the order in which they begin; none where not all of the text is known. Cost:
    /// the whole tree.
    fn all(&self, text: &Text, wanted: fn(Node) -> bool) -> Vec<Node>;

    /// How the text of `span` is drawn, as far as that is known; none where nothing is known of it yet. Never waits.
    /// Cost: linear in `span`.
    fn painted(&self, text: &Text, span: Span) -> Option<Paints>;

    /// Takes in `change`, which made `after` of `before`.
    fn follow(&mut self, before: &Text, change: &Change, after: &Text);

    /// Waits until the tree is that of `text`, or it is clear that there will be none.
    fn settle(&self, text: &Text);
}

/// Words that are part of the names of blocks: functions, methods, classes and the like.
const BLOCKS: &[&str] = &[
    "function",
    "method",
    "class",
    "struct",
    "enum",
    "impl",
    "trait",
    "interface",
    "namespace",
    "constructor",
    "mod_item",
    "union",
    "record",
    "object_declaration",
    "rule_set",
    "create_table",
    "decorated",
    "protocol",
    "extension",
];

/// Words that make a name one of something else: a call, a part, a mention.
const NO_BLOCKS: &[&str] = &[
    "call",
    "expression",
    "type",
    "body",
    "parameter",
    "signature",
    "_name",
    "pattern",
    "modifier",
    "argument",
    "variant",
    "value",
    "heritage",
    "clause",
    "list",
    "identifier",
    "literal",
    "selector",
    "generic",
    "expansion",
    "table_constructor",
    "invocation",
];

/// Whether a node of this kind is a function, a method, a class or the like.
#[must_use]
pub fn is_block(node: Node) -> bool {
    let is_one =
        matches!(node.kind, "arrow_function" | "method" | "class" | "module" | "singleton_method" | "type_declaration")
            || BLOCKS.iter().any(|word| node.kind.contains(word));
    node.is_named && is_one && !NO_BLOCKS.iter().any(|word| node.kind.contains(word) && node.kind != "type_declaration")
}

/// Whether a node of this kind is part of an outline: a block, a section below a heading, a table of settings.
#[must_use]
pub fn is_entry(node: Node) -> bool {
    let is_one = matches!(node.kind, "section" | "table" | "table_array_element" | "rule" | "media_statement")
        || node.kind.starts_with("create_");
    is_block(node) || (node.is_named && is_one)
}

/// Whether a node of this kind is no more than the list of what lies in it: it begins with the first of that.
#[must_use]
pub fn is_container(node: Node) -> bool {
    is_holder(node) && !is_entry(node)
}

/// Whether a node of this kind is a comment, or something that belongs to what follows it.
#[must_use]
pub fn is_attached(node: Node) -> bool {
    let words = ["comment", "attribute_item", "annotation", "decorator", "attribute_list"];
    words.iter().any(|word| node.kind.contains(word)) && node.kind != "comment_statement"
}

/// Words in the names of what holds statements, declarations, elements.
const HOLDERS: &[&str] = &[
    "source",
    "program",
    "module",
    "translation_unit",
    "document",
    "stylesheet",
    "chunk",
    "compilation_unit",
    "block",
    "body",
    "list",
    "statements",
    "arguments",
    "parameters",
    "array",
    "object",
    "tuple",
    "initializer",
    "elements",
    "mapping",
    "sequence",
    "dictionary",
    "table",
    "suite",
    "compound_statement",
    "hash",
    "element",
    "start_tag",
    "self_closing_tag",
    "fragment",
    "content",
    "definitions",
    "bindings",
    "record",
    "fields",
    "do_group",
    "cases",
    "section",
    "select",
    "then",
    "case_statement",
    "pattern_list",
    "statement_list",
    "class_declaration",
    "makefile",
    "imports",
    "opening_element",
    "STag",
    "EmptyElemTag",
];

/// Whether a node of this kind holds others that can change places.
#[must_use]
pub fn is_holder(node: Node) -> bool {
    let never = [
        "call",
        "member",
        "field_expression",
        "method_invocation",
        "identifier",
        "string",
        "pair",
        "_item",
        "keyed",
        "literal_element",
    ];
    node.is_named
        && (node.kind == "set" || HOLDERS.iter().any(|word| node.kind.contains(word)))
        && !never.iter().any(|word| node.kind.contains(word))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::Byte;

    #[test]
    fn what_is_painted_elsewhere_is_not_here() {
        let span = |start: usize, end: usize| Span::new(Byte(start), Byte(end));
        let list = vec![Painted { span: span(12, 14), paint: Paint::Keyword }];
        let paints = Paints { span: span(10, 20), list };
        for (asked, expected) in [
            (span(0, 5), None),
            (span(0, 10), None),
            (span(20, 30), None),
            (span(25, 30), None),
            (span(0, 13), Some((span(10, 13), 1))),
            (span(15, 40), Some((span(15, 20), 0))),
        ] {
            let found = paints.within(asked).map(|paints| (paints.span, paints.list.len()));
            assert_eq!(found, expected, "{asked:?}");
        }
    }
}
