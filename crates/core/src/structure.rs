//! The structure of a text: what the engine asks of a grammar's tree.
//!
//! A tree may be missing (no grammar, no time to parse): then the verbs go by brackets, paragraphs and lines, and say
//! so where it matters.

use crate::changes::Change;
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

/// The tree of one text.
pub trait Tree: std::fmt::Debug {
    /// Whether there is a tree of `text` as it is: parsing it may have taken too long.
    fn is_known(&self, text: &Text) -> bool;

    /// The nodes that hold `span`, the smallest first; none where the text could not be parsed in time.
    fn around(&self, text: &Text, span: Span) -> Vec<Node>;

    /// What lies directly in `node`, in order.
    fn children(&self, text: &Text, node: Node) -> Vec<Node>;

    /// All functions, methods, classes and the like, in the order in which they begin. Cost: the whole tree.
    fn blocks(&self, text: &Text) -> Vec<Node>;

    /// Takes in `change`, which is about to be carried out on `text`.
    fn follow(&mut self, text: &Text, change: &Change);
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
    "name",
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
];

/// Whether a node of this kind is a function, a method, a class or the like.
#[must_use]
pub fn is_block(node: Node) -> bool {
    let is_one =
        matches!(node.kind, "arrow_function" | "method" | "class" | "module" | "singleton_method" | "type_declaration")
            || BLOCKS.iter().any(|word| node.kind.contains(word));
    node.is_named && is_one && !NO_BLOCKS.iter().any(|word| node.kind.contains(word) && node.kind != "type_declaration")
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
