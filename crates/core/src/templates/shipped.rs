//! The templates that come with the program: a file for each language that has a grammar.

use super::{Template, file};
use std::collections::HashMap;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

macro_rules! sources {
    ($($name:literal => $($file:literal)+,)+) => {
        /// The languages with templates.
        pub const NAMES: &[&str] = &[$($name),+];

        /// The files of the language called `name`, the first before the others.
        fn files_of(name: &str) -> &'static [&'static str] {
            match name {
                $($name => &[$(include_str!(concat!("shipped/", $file, ".toml"))),+],)+
                _ => &[],
            }
        }
    };
}

sources! {
    "rust" => "rust",
    "python" => "python",
    "c" => "c",
    "cpp" => "cpp",
    "csharp" => "csharp",
    "java" => "java",
    "kotlin" => "kotlin",
    "go" => "go",
    "javascript" => "javascript",
    "jsx" => "jsx" "javascript",
    "typescript" => "typescript" "javascript",
    "tsx" => "jsx" "typescript" "javascript",
    "html" => "html",
    "vue" => "vue" "html",
    "html-template" => "html",
    "twig" => "html",
    "liquid" => "html",
    "jsp" => "html",
    "heex" => "html",
    "blade" => "html",
    "razor" => "html",
    "freemarker" => "html",
    "css" => "css",
    "json" => "json",
    "jsonc" => "jsonc" "json",
    "toml" => "toml",
    "yaml" => "yaml",
    "shell" => "shell",
    "sql" => "sql",
    "lua" => "lua",
    "ruby" => "ruby",
    "php" => "php",
    "markdown" => "markdown",
    "xml" => "xml",
    "make" => "make",
    "swift" => "swift",
    "zig" => "zig",
    "elixir" => "elixir",
    "r" => "r",
}

/// The templates of the language called `name`, read once; none where there are none. Of two with one name the first counts.
///
/// # Panics
/// If a file that the program is built with is wrong: a test reads them all.
#[must_use]
pub fn shipped(name: &str) -> Arc<[Template]> {
    static READ: OnceLock<Mutex<HashMap<String, Arc<[Template]>>>> = OnceLock::new();
    let mut read = READ.get_or_init(Mutex::default).lock().unwrap_or_else(PoisonError::into_inner);
    if let Some(templates) = read.get(name) {
        return templates.clone();
    }
    let mut templates: Vec<Template> = Vec::new();
    for source in files_of(name) {
        let (found, mistakes) = file::read(source);
        assert!(mistakes.is_empty(), "the templates of {name}: {mistakes:?}");
        for template in found {
            if !templates.iter().any(|other| other.name == template.name) {
                templates.push(template);
            }
        }
    }
    let templates: Arc<[Template]> = templates.into();
    read.insert(name.to_owned(), templates.clone());
    templates
}
