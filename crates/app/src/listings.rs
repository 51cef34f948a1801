//! Lists for other programs and for people: verbs and languages, drawn from their tables.

use crate::keys::keymap::{Keymap, Spelled};
use serde_json::{Value, json};
use snarvel_core::languages::{self, Language};
use snarvel_core::verbs::Verb;
use snarvel_core::verbs::table::VERBS;
use std::fmt::Write;

/// Every verb.
pub fn verbs(as_json: bool) -> String {
    let keymap = Keymap::shipped(false);
    if as_json {
        let rows: Vec<Value> = VERBS.iter().map(|verb| verb_json(verb, &keymap.spelled(verb))).collect();
        return format!("{:#}\n", Value::Array(rows));
    }
    let mut out = String::new();
    let mut group = "";
    for verb in VERBS {
        if verb.group.name() != group {
            group = verb.group.name();
            let _ = writeln!(out, "{}{group}", if out.is_empty() { "" } else { "\n" });
        }
        let keys = keymap.spelled(verb);
        let (write, shape) = (keys.write.join(" "), keys.shape.join(" "));
        let _ = writeln!(out, "  {:<22} {write:<26} {shape:<30} {}", verb.name, verb.sentence);
    }
    out
}

fn verb_json(verb: &Verb, keys: &Spelled) -> Value {
    json!({
        "name": verb.name,
        "group": verb.group.name(),
        "sentence": verb.sentence,
        "words": verb.words,
        "argument": verb.argument,
        "keys": { "write": keys.write, "shape": keys.shape },
    })
}

/// Every language.
pub fn languages(as_json: bool) -> String {
    if as_json {
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
        "grammar": false,
    })
}
