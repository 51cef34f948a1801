//! Lists for other programs and for people: verbs and languages, drawn from their tables.

use serde_json::{Value, json};
use snarvel_core::languages::{self, Language};
use snarvel_ui::keys::keymap::{Keymap, Spelled};
use snarvel_ui::keys::layer::Protocol;
use snarvel_workspace::registry::{VERBS, Verb};
use std::fmt::Write;

/// How a list is written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Format {
    /// For people.
    Text,
    /// For programs.
    Json,
}

/// Every verb.
#[must_use]
pub fn verbs(format: Format) -> String {
    let keymap = Keymap::shipped(Protocol::Plain);
    if format == Format::Json {
        let rows: Vec<Value> = VERBS.iter().map(|verb| verb_json(verb, &keymap.spelled(verb))).collect();
        return format!("{:#}\n", Value::Array(rows));
    }
    let mut out = String::new();
    let mut group = "";
    for verb in VERBS.iter() {
        if verb.group.name() != group {
            group = verb.group.name();
            let _ = writeln!(out, "{}{group}", if out.is_empty() { "" } else { "\n" });
        }
        let keys = keymap.spelled(verb);
        let (write, shape) = (keys.write.join(" "), keys.shape.join(" "));
        let takes = match verb.arguments.is_none() {
            true => String::new(),
            false => format!(" Takes {}.", verb.arguments.shown()),
        };
        let _ = writeln!(out, "  {:<22} {write:<26} {shape:<30} {}{takes}", verb.name, verb.sentence);
    }
    out
}

fn verb_json(verb: &Verb, keys: &Spelled) -> Value {
    let defaults: serde_json::Map<String, Value> =
        verb.arguments.defaults().map(|(name, value)| (name.to_owned(), json!(value))).collect();
    json!({
        "name": verb.name,
        "group": verb.group.name(),
        "sentence": verb.sentence,
        "words": verb.words,
        "argument": verb.arguments.shown(),
        "defaults": defaults,
        "step": verb.is_step(),
        "keys": { "write": keys.write, "shape": keys.shape },
    })
}

/// Every language as a table in Markdown, as the documentation shows it.
#[must_use]
pub fn languages_table() -> String {
    let count = languages::all().iter().filter(|language| snarvel_syntax::has_own_grammar(&language.name)).count();
    let mut out = format!(
        "# Languages\n\nDrawn from the table of languages; {} of them, {count} with a grammar. A test keeps this page current \
         (`SNARVEL_DOCS=write cargo test -p snarvel --test suite` writes it anew).\n\n\
         | name | files | line marks | block marks | nest | grammar |\n|---|---|---|---|---|---|\n",
        languages::all().len()
    );
    let cell = |texts: Vec<String>| {
        let marked = texts.iter().map(|text| format!("`{}`", text.replace('|', "\\|")));
        marked.collect::<Vec<_>>().join(" ")
    };
    for language in languages::all() {
        let endings = language.extensions.iter().map(|ending| format!("*.{ending}"));
        let files = cell(endings.chain(language.files.clone()).collect());
        let block = cell(language.block.iter().map(|marks| format!("{} {}", marks.open, marks.close)).collect());
        let yes = |holds: bool| if holds { "yes" } else { "" };
        let grammar = yes(snarvel_syntax::has_own_grammar(&language.name));
        let lines = cell(language.line.clone());
        let _ =
            writeln!(out, "| {} | {files} | {lines} | {block} | {} | {grammar} |", language.title, yes(language.nests));
    }
    out
}

/// Every language.
#[must_use]
pub fn languages(format: Format) -> String {
    if format == Format::Json {
        let rows: Vec<Value> = languages::all().iter().map(|language| language_json(language)).collect();
        return format!("{:#}\n", Value::Array(rows));
    }
    let mut out = String::new();
    for language in languages::all() {
        let endings = language.extensions.iter().map(|ending| format!("*.{ending}"));
        let files = endings.chain(language.files.clone()).collect::<Vec<_>>().join(" ");
        let _ = writeln!(out, "{:<14} {:<22} {files}", language.name, language.marks());
    }
    out
}

fn language_json(language: &Language) -> Value {
    let block: Vec<[&str; 2]> = language.block.iter().map(|marks| [&*marks.open, &*marks.close]).collect();
    json!({
        "name": language.name,
        "title": language.title,
        "extensions": language.extensions,
        "files": language.files,
        "interpreters": language.interpreters,
        "line": language.line,
        "block": block,
        "nests": language.nests,
        "grammar": snarvel_syntax::has_own_grammar(&language.name),
    })
}
