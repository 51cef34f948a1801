//! Identifiers in the patterns and declarators of grammars.

use super::rules::{Place, Rules};
use tree_sitter::{Node, TreeCursor};

/// What is in a field of `node`.
pub fn children_of<'t>(node: Node<'t>, field: u16, cursor: &mut TreeCursor<'t>) -> Vec<Node<'t>> {
    match std::num::NonZero::new(field) {
        Some(field) => node.children_by_field_id(field, cursor).collect(),
        None => Vec::new(),
    }
}

/// The first name at a place of `node`.
pub fn first_name<'t>(rules: &Rules, place: Place, node: Node<'t>) -> Option<Node<'t>> {
    match place.field(node) {
        None => identifier_in(rules, node),
        Some(field) => identifier_in(rules, node.child_by_field_id(field)?),
    }
}

/// Deeper than this no name is looked for in a pattern.
const DEEPEST: usize = 12;

/// The first identifier in `node`. Of a name in several parts, the last.
pub fn identifier_in<'t>(rules: &Rules, node: Node<'t>) -> Option<Node<'t>> {
    fn go<'t>(rules: &Rules, node: Node<'t>, depth: usize) -> Option<Node<'t>> {
        if rules.is_identifier(node) && node.named_child_count() == 0 {
            return Some(node);
        }
        if depth > DEEPEST {
            return None;
        }
        let mut cursor = node.walk();
        let is_qualified = node.kind().starts_with("qualified")
            || node.kind().starts_with("scoped")
            || matches!(node.kind(), "dot_index_expression" | "method_index_expression");
        let children: Vec<Node> = node.named_children(&mut cursor).collect();
        match is_qualified {
            true => children.into_iter().rev().find_map(|child| go(rules, child, depth + 1)),
            false => children.into_iter().find_map(|child| go(rules, child, depth + 1)),
        }
    }
    go(rules, node, 0)
}

/// All identifiers of a pattern: not the types in it, nor what is only a default.
pub fn all_names<'t>(rules: &Rules, place: Place, node: Node<'t>) -> Vec<Node<'t>> {
    fn go<'t>(rules: &Rules, node: Node<'t>, found: &mut Vec<Node<'t>>, depth: usize) {
        if rules.is_identifier(node) && node.named_child_count() == 0 {
            let is_name = !matches!(node.kind(), "type_identifier" | "field_identifier" | "property_identifier");
            let binds = is_name
                || node.kind() == "property_identifier"
                    && node.parent().is_some_and(|up| up.kind() == "enum_body" || up.kind() == "enum_assignment");
            if binds {
                found.push(node);
            }
            return;
        }
        // Parts that have rules of their own say themselves what they bind.
        let has_own = depth > 0 && rules.by_kind.get(usize::from(node.kind_id())).is_some_and(Option::is_some);
        if depth > DEEPEST || has_own || is_no_pattern(node.kind()) {
            return;
        }
        let mut cursor = node.walk();
        let skipped = ["type", "value", "default", "right", "path", "condition"];
        for (index, child) in (0..).zip(node.named_children(&mut cursor)) {
            let field = node.field_name_for_named_child(index).unwrap_or("");
            let is_pattern_value = field == "value" && matches!(node.kind(), "pair_pattern");
            if !skipped.contains(&field) || is_pattern_value {
                go(rules, child, found, depth + 1);
            }
        }
    }
    let mut found = Vec::new();
    match place.field(node) {
        None => go(rules, node, &mut found, 0),
        Some(field) => {
            let mut cursor = node.walk();
            children_of(node, field, &mut cursor).into_iter().for_each(|child| go(rules, child, &mut found, 1));
        }
    }
    found
}

/// Whether nothing is bound in nodes of that kind: a place that is written to is not a new name.
fn is_no_pattern(kind: &str) -> bool {
    kind.contains("attribute")
        || kind.contains("subscript")
        || kind.contains("member")
        || kind.contains("call")
        || kind.contains("index")
        || kind == "scoped_identifier"
        || kind == "field_expression"
        || kind == "string"
        || kind.contains("selector")
}
