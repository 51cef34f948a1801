//! A tree as text: what a grammar makes of a file, to look at while its roles are written.

use crate::grammars::Grammar;
use crate::roles::role_names;
use std::fmt::Write;
use tree_sitter::Parser;

/// Lists the nodes of `text` in the grammar called `name`, one a line: indentation by depth, kind, roles, and the start of what is
/// in it. `None` where there is no such grammar.
#[must_use]
pub fn listing(name: &str, text: &str) -> Option<String> {
    /// Characters of a node that are shown.
    const SHOWN: usize = 40;
    let grammar = Grammar::of(name)?;
    let mut parser = Parser::new();
    parser.set_language(&grammar.language).ok()?;
    let tree = parser.parse(text, None)?;
    let mut out = String::new();
    let mut cursor = tree.root_node().walk();
    let mut depth = 0;
    loop {
        let node = cursor.node();
        let roles = grammar.roles.get(usize::from(node.kind_id())).copied().unwrap_or_default();
        let field = cursor.field_name().map(|field| format!("{field}: ")).unwrap_or_default();
        let kind = if node.is_named() { node.kind().to_owned() } else { format!("{:?}", node.kind()) };
        let inside: String = text[node.byte_range()].chars().take(SHOWN).collect();
        let place = node.start_position();
        let _ = writeln!(
            out,
            "{:depth$}{field}{kind} [{}] {}:{} {inside:?}",
            "",
            role_names(roles).join(" "),
            place.row + 1,
            place.column + 1,
            depth = depth * 2
        );
        if cursor.goto_first_child() {
            depth += 1;
            continue;
        }
        while !cursor.goto_next_sibling() {
            if !cursor.goto_parent() {
                return Some(out);
            }
            depth -= 1;
        }
    }
}
