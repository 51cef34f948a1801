//! The grammars that are compiled in, by the names of the table of languages.

use std::collections::HashMap;
use std::sync::{Mutex, OnceLock, PoisonError};
use tree_sitter::Language;

/// The grammar of the language called `name`.
pub fn grammar(name: &str) -> Option<Language> {
    let grammar = match name {
        "rust" => tree_sitter_rust::LANGUAGE,
        "python" => tree_sitter_python::LANGUAGE,
        "c" => tree_sitter_c::LANGUAGE,
        "cpp" => tree_sitter_cpp::LANGUAGE,
        "csharp" => tree_sitter_c_sharp::LANGUAGE,
        "java" => tree_sitter_java::LANGUAGE,
        "kotlin" => tree_sitter_kotlin_ng::LANGUAGE,
        "go" => tree_sitter_go::LANGUAGE,
        "javascript" | "jsx" => tree_sitter_javascript::LANGUAGE,
        "typescript" => tree_sitter_typescript::LANGUAGE_TYPESCRIPT,
        "tsx" => tree_sitter_typescript::LANGUAGE_TSX,
        "html" => tree_sitter_html::LANGUAGE,
        "css" => tree_sitter_css::LANGUAGE,
        "json" | "jsonc" => tree_sitter_json::LANGUAGE,
        "toml" => tree_sitter_toml_ng::LANGUAGE,
        "yaml" => tree_sitter_yaml::LANGUAGE,
        "shell" => tree_sitter_bash::LANGUAGE,
        "sql" => tree_sitter_sequel::LANGUAGE,
        "lua" => tree_sitter_lua::LANGUAGE,
        "ruby" => tree_sitter_ruby::LANGUAGE,
        "php" => tree_sitter_php::LANGUAGE_PHP,
        "markdown" => tree_sitter_md::LANGUAGE,
        "xml" => tree_sitter_xml::LANGUAGE_XML,
        "make" => tree_sitter_make::LANGUAGE,
        "swift" => tree_sitter_swift::LANGUAGE,
        "zig" => tree_sitter_zig::LANGUAGE,
        "elixir" => tree_sitter_elixir::LANGUAGE,
        "r" => tree_sitter_r::LANGUAGE,
        _ => return None,
    };
    Some(grammar.into())
}

/// Whether the language called `name` has a grammar.
#[must_use]
pub fn has_grammar(name: &str) -> bool {
    grammar(name).is_some()
}

/// The words of the grammar called `name` for its nodes, by their numbers; made once and kept.
pub fn kinds(name: &str, grammar: &Language) -> &'static [&'static str] {
    type Made = Mutex<HashMap<String, &'static [&'static str]>>;
    static MADE: OnceLock<Made> = OnceLock::new();
    let mut made = MADE.get_or_init(Mutex::default).lock().unwrap_or_else(PoisonError::into_inner);
    made.entry(name.to_owned()).or_insert_with(|| {
        let count = u16::try_from(grammar.node_kind_count()).unwrap_or(u16::MAX);
        let word = |id: u16| &*grammar.node_kind_for_id(id).unwrap_or("ERROR").to_owned().leak();
        (0..count).map(word).collect::<Vec<&'static str>>().leak()
    })
}
