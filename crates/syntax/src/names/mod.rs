//! Names: what a text defines, as its grammars see it.
//!
//! Which kinds of nodes define names is data (`names.toml`). In a grammar without a table there what has a field `name` and is a
//! part of an outline defines it. Cost: one walk through the tree, after the parse.

mod patterns;
mod rules;

use crate::grammars::Grammar;
use crate::layered::{Layered, Parsers};
use patterns::{all_names, children_of, first_name, identifier_in};
use rules::{Place, Rule, Rules, Which};
use snarvel_core::languages::Language;
use snarvel_core::structure::Roles;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use std::collections::HashMap;
use std::sync::Arc;
use std::time::Duration;
use tree_sitter::{Node, Tree};

pub use rules::NameKind;

/// A name that a text defines.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Named {
    /// The name itself.
    pub name: Span,
    /// All of what is defined.
    pub whole: Span,
    /// What it is of.
    pub kind: NameKind,
    /// The name of what it is in, where that has one.
    pub container: Option<Span>,
    /// Where it is known, where that is not the whole text.
    pub scope: Option<Span>,
}

/// Finds the names of texts; keeps what it needs for that from one text to the next.
#[derive(Default)]
pub struct Namer {
    parsers: HashMap<String, Parsers>,
}

impl Namer {
    /// The names that `text` defines, in the order in which they are; none where there is no grammar, or parsing takes longer than
    /// `limit`.
    pub fn names(&mut self, language: &Arc<Language>, text: &Text, limit: Duration) -> Option<Vec<Named>> {
        if !crate::has_grammar(language) {
            return None;
        }
        let parsers = self.parsers.entry(language.name.clone()).or_insert_with(|| Parsers::new(language.clone()));
        Some(names_in(&parsers.parse(text, text.span(), None, limit)?))
    }
}

/// The names in what is parsed.
pub(crate) fn names_in(known: &Layered) -> Vec<Named> {
    let mut found = Vec::new();
    for (grammar, tree) in known.touching(known.window) {
        walk(grammar, tree, known.window.start, &mut found);
    }
    found.sort_by_key(|named| (named.name.start, named.whole.start));
    found.dedup_by_key(|named| named.name);
    found
}

/// What is around a node.
#[derive(Clone, Copy)]
struct Around {
    depth: usize,
    span: Span,
    name: Option<Span>,
    is_scope: bool,
}

fn walk(grammar: &'static Grammar, tree: &Tree, offset: Byte, found: &mut Vec<Named>) {
    let rules = Rules::of(grammar);
    let mut cursor = tree.root_node().walk();
    let mut around: Vec<Around> = Vec::new();
    let mut depth = 0;
    loop {
        let node = cursor.node();
        let id = usize::from(node.kind_id());
        let rule = rules.by_kind.get(id).copied().flatten();
        let roles = grammar.roles.get(id).copied().unwrap_or_default();
        let has_needed = |rule: &Rule| rule.needs.is_none_or(|field| node.child_by_field_id(field).is_some());
        let rule = rule.filter(has_needed).or_else(|| outline_rule(rules, roles, node));
        let span = span_of(node, offset);
        let first = rule.map(|rule| {
            let before = found.len();
            define((rules, rule), node, (offset, &around), found);
            let named = found.get(before).map(|named| named.name);
            match rule.kind {
                Some(_) => named,
                None => first_name(rules, rule.place, node).map(|name| span_of(name, offset)),
            }
        });
        let is_scope = roles.has(Roles::FUNCTION);
        let is_named = rule.is_some_and(|rule| !matches!(rule.kind, Some(NameKind::Local | NameKind::Import)));
        if is_scope || is_named {
            around.push(Around { depth, span, name: first.flatten().filter(|_| is_named), is_scope });
        }
        if cursor.goto_first_child() {
            depth += 1;
            continue;
        }
        loop {
            around.pop_if(|last| last.depth == depth);
            if cursor.goto_next_sibling() {
                break;
            }
            if !cursor.goto_parent() {
                return;
            }
            depth -= 1;
        }
    }
}

fn span_of(node: Node, offset: Byte) -> Span {
    Span::new(offset + node.start_byte(), offset + node.end_byte())
}

/// In a grammar without a table: what is a part of an outline and has a name.
fn outline_rule(rules: &Rules, roles: Roles, node: Node) -> Option<Rule> {
    let field = rules.name_field?;
    if rules.has_table || !roles.has(Roles::ENTRY) || node.child_by_field_id(field).is_none() {
        return None;
    }
    let kind = if roles.has(Roles::FUNCTION) { NameKind::Function } else { NameKind::Section };
    Some(Rule { kind: Some(kind), place: Place::Field(field), which: Which::First, needs: None })
}

/// Adds what `node` defines.
fn define((rules, rule): (&Rules, Rule), node: Node, (offset, around): (Byte, &[Around]), found: &mut Vec<Named>) {
    let Some(kind) = rule.kind else { return };
    let container = around.iter().rev().find_map(|each| each.name);
    let function = around.iter().rev().find(|each| each.is_scope).map(|each| each.span);
    let whole = span_of(node, offset);
    // A variable in a function is known only there.
    let is_local = matches!(kind, NameKind::Local)
        || (function.is_some() && matches!(kind, NameKind::Variable | NameKind::Constant));
    let kind = if is_local { NameKind::Local } else { kind };
    let scope = is_local.then(|| scope_of(node, offset, function)).flatten();
    let mut add = |name: Node| {
        let name = span_of(name, offset);
        if !name.is_empty() {
            found.push(Named { name, whole, kind, container, scope });
        }
    };
    match rule.which {
        Which::First => first_name(rules, rule.place, node).into_iter().for_each(&mut add),
        Which::All => all_names(rules, rule.place, node).into_iter().for_each(&mut add),
    }
    if rule.which == Which::First
        && let Some(field) = rule.place.field(node)
    {
        // Several of a kind may share a declaration: `int ebb, flow;`.
        let mut cursor = node.walk();
        let others: Vec<Node> = children_of(node, field, &mut cursor).into_iter().skip(1).collect();
        others.into_iter().filter_map(|other| identifier_in(rules, other)).for_each(add);
    }
}

/// Where a local is known: in the function that it is a parameter of or declared in.
fn scope_of(node: Node, offset: Byte, function: Option<Span>) -> Option<Span> {
    // A parameter is in the function, which is around it; a loop's variable is known in the loop.
    let is_loop = node.kind().starts_with("for_") || node.kind() == "match_arm" || node.kind() == "closure_parameters";
    match (is_loop, node.parent()) {
        (true, Some(parent)) if node.kind() == "closure_parameters" => Some(span_of(parent, offset)),
        (true, _) => Some(span_of(node, offset)),
        (false, _) => function,
    }
}

#[cfg(test)]
mod tests {
    use super::rules::table;
    use super::*;
    use snarvel_core::languages::by_name;

    fn told(language: &str, text: &str) -> String {
        let language = by_name(language).unwrap();
        let rope = Text::from(text);
        let names = Namer::default().names(&language, &rope, Duration::from_secs(20)).unwrap();
        let one = |named: &Named| {
            let container = named.container.map(|span| format!("{}.", rope.slice(span))).unwrap_or_default();
            format!("{} {container}{}", named.kind.name(), rope.slice(named.name))
        };
        names.iter().map(one).collect::<Vec<_>>().join(", ")
    }

    #[test]
    fn every_row_of_the_table_is_read() {
        for (name, rows) in table() {
            let grammar = Grammar::of(name).unwrap_or_else(|| panic!("no grammar {name}"));
            for (kind, row) in rows {
                let known = grammar.language.id_for_node_kind(kind, true);
                assert!(known != 0, "{name}: no node {kind}");
                assert!(Rule::read(row, &grammar.language).is_some(), "{name}: {kind} = {row:?}");
            }
        }
    }

    #[test]
    fn names_are_found_with_what_they_are_in() {
        let mut wrong: Vec<String> = Vec::new();
        for (language, text, expected) in [
            (
                "rust",
                "struct Gauge { level: f64 }\nimpl Gauge { fn read(&self, at: u8) -> f64 { let (a, b) = at.into(); a } }\nconst MOST: u8 = 3;\nenum Tide { Ebb, Flow }",
                "type Gauge, field Gauge.level, function Gauge.read, local read.at, local read.a, local read.b, constant MOST, type Tide, variant Tide.Ebb, variant Tide.Flow",
            ),
            (
                "python",
                "from sea import tide as t, ebb\nLEVEL = 3\nclass Gauge:\n    depth = 1\n    def read(self, at=1, *more):\n        a, b = at\n        for i in b: pass\n",
                "import t, import ebb, variable LEVEL, type Gauge, variable Gauge.depth, function Gauge.read, local read.self, local read.at, local read.more, local read.a, local read.b, local read.i",
            ),
            (
                "c",
                "#define MOST 3\nstruct gauge { int level, depth; };\ntypedef struct gauge gauge_t;\nenum { EBB };\nstatic int total;\nint *read(struct gauge *g, int n) { int a = n, *b; return b; }\nint sound(void);",
                "macro MOST, type gauge, field gauge.level, field gauge.depth, type gauge_t, variant EBB, variable total, function read, local read.g, local read.n, local read.a, local read.b, variable sound",
            ),
            (
                "typescript",
                "import { a, b as c } from './x';\nexport interface Berth { length: number }\nconst most = 3;\nclass Quay { depth = 1; moor(ship: string, { at, by: side }: P) { const [x] = [1]; } }\nenum Tide { Ebb, Flow = 2 }",
                "import a, import c, type Berth, field Berth.length, variable most, type Quay, field Quay.depth, function Quay.moor, local moor.ship, local moor.side, local moor.x, type Tide, variant Tide.Ebb, variant Tide.Flow",
            ),
            (
                "go",
                "package a\ntype Relay struct { level int }\nfunc (r *Relay) Read(at int) int { x := at; return x }\nconst Most = 3",
                "type Relay, field Relay.level, local Read.r, function Read, local Read.at, local Read.x, constant Most",
            ),
            (
                "lua",
                "local depth = 1\nfunction buoy.light(at)\n  local x = at\nend",
                "variable depth, function light, local light.at, local light.x",
            ),
            ("shell", "LEVEL=3\nsound() { echo hi; }", "variable LEVEL, function sound"),
        ] {
            wrong.extend(Some(told(language, text)).filter(|told| told != expected));
        }
        assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    }
}
