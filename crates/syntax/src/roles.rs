//! What the nodes of a grammar are: read from `roles.toml`, worked out once for each kind of node of a grammar.

use serde::Deserialize;
use snarvel_core::structure::Roles;
use std::collections::HashMap;
use std::sync::OnceLock;

/// Which kinds have a role.
#[derive(Debug, Default, Deserialize)]
#[serde(default, deny_unknown_fields)]
struct Rule {
    named: bool,
    exact: Vec<String>,
    prefixes: Vec<String>,
    suffixes: Vec<String>,
    parts: Vec<String>,
    except: Vec<String>,
    always: Vec<String>,
}

/// The rules of one grammar, or the general ones, by the names of their roles.
#[derive(Debug, Default, Deserialize)]
struct Rules {
    same_as: Option<String>,
    #[serde(flatten)]
    by_role: HashMap<String, Rule>,
}

#[derive(Debug, Deserialize)]
struct Table {
    general: Rules,
    grammar: HashMap<String, Rules>,
}

/// The names of roles in the table.
const ROLES: &[(&str, Roles)] = &[
    ("entry", Roles::ENTRY),
    ("entry_by_word", Roles::ENTRY_BY_WORD),
    ("entry_if_named", Roles::ENTRY_IF_NAMED),
    ("entry_with_body", Roles::ENTRY_WITH_BODY),
    ("holder", Roles::HOLDER),
    ("attached", Roles::ATTACHED),
    ("separator", Roles::SEPARATOR),
    ("semicolon", Roles::SEMICOLON),
    ("tag", Roles::TAG),
    ("furniture", Roles::FURNITURE),
    ("attribute", Roles::ATTRIBUTE),
    ("value", Roles::VALUE),
    ("statement", Roles::STATEMENT),
    ("top_level", Roles::TOP_LEVEL),
    ("markup", Roles::MARKUP),
    ("markup_element", Roles::MARKUP_ELEMENT),
    ("hole", Roles::HOLE),
    ("string", Roles::STRING),
    ("prose", Roles::PROSE),
    ("key_name", Roles::KEY_NAME),
    ("keyed", Roles::KEYED),
    ("shorthand", Roles::SHORTHAND),
    ("root", Roles::ROOT),
    ("directive", Roles::DIRECTIVE),
    ("headed", Roles::HEADED),
    ("flat", Roles::FLAT),
    ("flush", Roles::FLUSH),
    ("labelled", Roles::LABELLED),
    ("type_name", Roles::TYPE_NAME),
    ("union", Roles::UNION),
    ("section", Roles::SECTION),
    ("parameters", Roles::PARAMETERS),
    ("declares", Roles::DECLARES),
];

/// The names of `roles`.
#[must_use]
pub fn role_names(roles: Roles) -> Vec<&'static str> {
    let others = [("block", Roles::BLOCK), ("function", Roles::FUNCTION)];
    ROLES.iter().chain(&others).filter(|(_, role)| roles.has(*role)).map(|(name, _)| *name).collect()
}

/// A kind of node: its name in the grammar, and whether nodes of it are named there.
#[derive(Clone, Copy, Debug)]
pub struct NodeKind<'a> {
    /// Its name.
    pub name: &'a str,
    /// Whether its nodes are named.
    pub is_named: bool,
}

impl Rule {
    fn holds(&self, kind: NodeKind) -> bool {
        let name = kind.name;
        let is = |words: &[String], by: fn(&str, &str) -> bool| words.iter().any(|word| by(name, word));
        let is_one = is(&self.exact, |name, word| name == word)
            || is(&self.prefixes, |name, word| name.starts_with(word))
            || is(&self.suffixes, |name, word| name.ends_with(word))
            || is(&self.parts, |name, word| name.contains(word));
        let is_kept_out =
            is(&self.except, |name, word| name.contains(word)) && !is(&self.always, |name, word| name == word);
        (kind.is_named || !self.named) && is_one && !is_kept_out
    }
}

/// The table that the program is built with.
///
/// # Panics
/// If it is wrong: a test reads it.
fn table() -> &'static Table {
    static TABLE: OnceLock<Table> = OnceLock::new();
    TABLE.get_or_init(|| toml::from_str(include_str!("roles.toml")).expect("roles.toml is a table of rules"))
}

/// The roles of `kind` in the grammar called `grammar`.
#[must_use]
pub fn roles_of(grammar: &str, kind: NodeKind) -> Roles {
    let table = table();
    let own = table.grammar.get(grammar);
    let own = own.and_then(|rules| rules.same_as.as_ref()).and_then(|other| table.grammar.get(other)).or(own);
    let holds = |role: &str| {
        let rules = [Some(&table.general), own];
        let has = |role: &str| {
            rules.into_iter().flatten().filter_map(|rules| rules.by_role.get(role)).any(|rule| rule.holds(kind))
        };
        has(role) && !has(&format!("not_{role}"))
    };
    let is_block = holds("block");
    let named = ROLES.iter().filter(|(name, _)| holds(name)).fold(Roles::NONE, |roles, (_, role)| roles | *role);
    let of_block = if is_block { Roles::BLOCK | Roles::ENTRY } else { Roles::NONE };
    let of_function = if is_block && holds("function") { Roles::FUNCTION } else { Roles::NONE };
    named | of_block | of_function
}

#[cfg(test)]
mod tests {
    use super::*;

    fn roles(grammar: &str, name: &str) -> Roles {
        roles_of(grammar, NodeKind { name, is_named: name.contains(char::is_alphabetic) })
    }

    #[test]
    fn every_role_of_the_table_is_known() {
        let known: Vec<&str> = ROLES.iter().map(|(name, _)| *name).chain(["block", "function"]).collect();
        let all = table().grammar.values().chain([&table().general]).flat_map(|rules| rules.by_role.keys());
        all.for_each(|role| assert!(known.contains(&role.strip_prefix("not_").unwrap_or(role)), "{role}"));
        for rules in table().grammar.values() {
            assert!(rules.same_as.iter().all(|other| table().grammar.contains_key(other)));
        }
    }

    #[test]
    fn kinds_have_the_roles_that_verbs_ask_for() {
        for (grammar, kind, role, has) in [
            ("rust", "function_item", Roles::BLOCK, true),
            ("rust", "function_item", Roles::FUNCTION, true),
            ("rust", "struct_item", Roles::FUNCTION, false),
            ("rust", "call_expression", Roles::BLOCK, false),
            ("rust", "type_arguments", Roles::HOLDER, true),
            ("go", "type_declaration", Roles::BLOCK, true),
            ("rust", ",", Roles::SEPARATOR, true),
            ("rust", ";", Roles::SEMICOLON, true),
            ("css", "media_statement", Roles::ENTRY, true),
            ("rust", "media_statement", Roles::ENTRY, false),
            ("tsx", "jsx_element", Roles::MARKUP_ELEMENT, true),
            ("jsx", "jsx_text", Roles::MARKUP, false),
            ("rust", "attribute_item", Roles::ATTACHED, true),
            ("xml", "STag", Roles::TAG, true),
        ] {
            assert_eq!(roles(grammar, kind).has(role), has, "{grammar} {kind} {role:?}");
        }
    }
}
