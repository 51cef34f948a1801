//! The grammars that are compiled in, by the names of the table of languages.

use crate::roles::{NodeKind, roles_of};
use snarvel_core::structure::Roles;
use std::collections::HashMap;
use std::sync::{Mutex, OnceLock, PoisonError};
use tree_sitter::Language;
use tree_sitter_language::LanguageFn;

/// A grammar, made once and kept.
pub struct Grammar {
    /// The name of its language in the table.
    pub name: &'static str,
    /// Its tables.
    pub language: Language,
    /// What its kinds of nodes are, by their numbers.
    pub roles: Vec<Roles>,
    /// The queries that tell what is drawn as what, those of the languages that it builds on first.
    pub queries: &'static [&'static str],
    /// Whether keys and marks are what the eye looks for in it.
    pub is_keyed: bool,
}

/// A grammar as it is compiled in: its tables, and the queries that say what is drawn how, those of the languages that
/// it builds on first.
type Compiled = (LanguageFn, &'static [&'static str]);

/// What has no query of its own.
const KOTLIN: &str = include_str!("kotlin.scm");

/// HTML, and languages that are HTML with tags of their own in it: all have the grammar of HTML.
pub const MARKUP: &[&str] =
    &["html", "vue", "html-template", "twig", "liquid", "jsp", "heex", "blade", "razor", "freemarker"];

fn compiled(name: &str) -> Option<Compiled> {
    use tree_sitter_javascript::{HIGHLIGHT_QUERY as SCRIPT, JSX_HIGHLIGHT_QUERY as JSX};
    use tree_sitter_typescript::HIGHLIGHTS_QUERY as TYPED;
    Some(match name {
        "rust" => (tree_sitter_rust::LANGUAGE, &[tree_sitter_rust::HIGHLIGHTS_QUERY]),
        "python" => (tree_sitter_python::LANGUAGE, &[tree_sitter_python::HIGHLIGHTS_QUERY]),
        "c" => (tree_sitter_c::LANGUAGE, &[tree_sitter_c::HIGHLIGHT_QUERY]),
        "cpp" => (tree_sitter_cpp::LANGUAGE, &[tree_sitter_c::HIGHLIGHT_QUERY, tree_sitter_cpp::HIGHLIGHT_QUERY]),
        "csharp" => (tree_sitter_c_sharp::LANGUAGE, &[tree_sitter_c_sharp::HIGHLIGHTS_QUERY]),
        "java" => (tree_sitter_java::LANGUAGE, &[tree_sitter_java::HIGHLIGHTS_QUERY]),
        "kotlin" => (tree_sitter_kotlin_ng::LANGUAGE, &[KOTLIN]),
        "go" => (tree_sitter_go::LANGUAGE, &[tree_sitter_go::HIGHLIGHTS_QUERY]),
        "javascript" | "jsx" => (tree_sitter_javascript::LANGUAGE, &[SCRIPT, JSX]),
        "typescript" => (tree_sitter_typescript::LANGUAGE_TYPESCRIPT, &[SCRIPT, TYPED]),
        "tsx" => (tree_sitter_typescript::LANGUAGE_TSX, &[SCRIPT, JSX, TYPED]),
        name if MARKUP.contains(&name) => (tree_sitter_html::LANGUAGE, &[tree_sitter_html::HIGHLIGHTS_QUERY]),
        "css" => (tree_sitter_css::LANGUAGE, &[tree_sitter_css::HIGHLIGHTS_QUERY]),
        "json" | "jsonc" => (tree_sitter_json::LANGUAGE, &[tree_sitter_json::HIGHLIGHTS_QUERY]),
        "toml" => (tree_sitter_toml_ng::LANGUAGE, &[tree_sitter_toml_ng::HIGHLIGHTS_QUERY]),
        "yaml" => (tree_sitter_yaml::LANGUAGE, &[tree_sitter_yaml::HIGHLIGHTS_QUERY]),
        "shell" => (tree_sitter_bash::LANGUAGE, &[tree_sitter_bash::HIGHLIGHT_QUERY]),
        "sql" => (tree_sitter_sequel::LANGUAGE, &[tree_sitter_sequel::HIGHLIGHTS_QUERY]),
        "lua" => (tree_sitter_lua::LANGUAGE, &[tree_sitter_lua::HIGHLIGHTS_QUERY]),
        "ruby" => (tree_sitter_ruby::LANGUAGE, &[tree_sitter_ruby::HIGHLIGHTS_QUERY]),
        "php" => (tree_sitter_php::LANGUAGE_PHP, &[tree_sitter_php::HIGHLIGHTS_QUERY]),
        "markdown" => (tree_sitter_md::LANGUAGE, &[tree_sitter_md::HIGHLIGHT_QUERY_BLOCK]),
        "xml" => (tree_sitter_xml::LANGUAGE_XML, &[tree_sitter_xml::XML_HIGHLIGHT_QUERY]),
        "make" => (tree_sitter_make::LANGUAGE, &[tree_sitter_make::HIGHLIGHTS_QUERY]),
        "swift" => (tree_sitter_swift::LANGUAGE, &[tree_sitter_swift::HIGHLIGHTS_QUERY]),
        "zig" => (tree_sitter_zig::LANGUAGE, &[tree_sitter_zig::HIGHLIGHTS_QUERY]),
        "elixir" => (tree_sitter_elixir::LANGUAGE, &[tree_sitter_elixir::HIGHLIGHTS_QUERY]),
        "r" => (tree_sitter_r::LANGUAGE, &[tree_sitter_r::HIGHLIGHTS_QUERY]),
        _ => return None,
    })
}

/// All that have a grammar.
#[cfg(test)]
pub const NAMES: &[&str] = &[
    "rust",
    "python",
    "c",
    "cpp",
    "csharp",
    "java",
    "kotlin",
    "go",
    "javascript",
    "jsx",
    "typescript",
    "tsx",
    "html",
    "vue",
    "html-template",
    "twig",
    "liquid",
    "jsp",
    "heex",
    "blade",
    "razor",
    "freemarker",
    "css",
    "json",
    "jsonc",
    "toml",
    "yaml",
    "shell",
    "sql",
    "lua",
    "ruby",
    "php",
    "markdown",
    "xml",
    "make",
    "swift",
    "zig",
    "elixir",
    "r",
];

/// Languages whose keys and marks are what the eye looks for.
const KEYED: &[&str] = &["css", "json", "jsonc", "toml", "yaml", "make", "markdown"];

/// Whether the language called `name` has a grammar.
#[must_use]
pub fn has_grammar(name: &str) -> bool {
    compiled(name).is_some()
}

impl Grammar {
    /// The grammar of the language called `name`.
    pub fn of(name: &str) -> Option<&'static Grammar> {
        static MADE: OnceLock<Mutex<HashMap<&'static str, &'static Grammar>>> = OnceLock::new();
        let mut made = MADE.get_or_init(Mutex::default).lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(grammar) = made.get(name) {
            return Some(grammar);
        }
        let (function, queries) = compiled(name)?;
        let language = Language::from(function);
        let count = u16::try_from(language.node_kind_count()).unwrap_or(u16::MAX);
        let roles = |id: u16| {
            let kind = NodeKind {
                name: language.node_kind_for_id(id).unwrap_or("ERROR"),
                is_named: language.node_kind_is_named(id),
            };
            roles_of(name, kind)
        };
        let roles = (0..count).map(roles).collect();
        let is_keyed = KEYED.contains(&name);
        let name: &'static str = name.to_owned().leak();
        let grammar = Box::leak(Box::new(Grammar { name, language, roles, queries, is_keyed }));
        made.insert(name, grammar);
        Some(grammar)
    }
}
