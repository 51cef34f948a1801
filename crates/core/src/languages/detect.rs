//! Which language a file is in: by its name, its ending, its `#!` line, the first bytes of markup.

use super::{Language, all, plain};
use std::sync::Arc;

/// The language called `name`, in any case.
#[must_use]
pub fn by_name(name: &str) -> Option<Arc<Language>> {
    let is_it = |language: &&Arc<Language>| {
        language.name.eq_ignore_ascii_case(name) || language.title.eq_ignore_ascii_case(name)
    };
    all().iter().find(is_it).cloned()
}

/// The language of a file called `file_name` that begins with `head`, some lines; plain text when nothing tells.
#[must_use]
pub fn detect(file_name: &str, head: &str) -> Arc<Language> {
    let first_line = head.lines().next().unwrap_or("");
    by_whole_name(file_name)
        .or_else(|| by_content(file_name, head))
        .or_else(|| template_of_markup(file_name, head))
        .or_else(|| by_extension(file_name))
        .or_else(|| by_interpreter(first_line))
        .or_else(|| by_first_bytes(first_line))
        .unwrap_or_else(plain)
}

fn by_whole_name(file_name: &str) -> Option<Arc<Language>> {
    all().iter().find(|language| language.files.iter().any(|name| name == file_name)).cloned()
}

/// Of the languages that share an ending, the one whose words come first.
fn by_content(file_name: &str, head: &str) -> Option<Arc<Language>> {
    /// Endings, languages, and what only lines of that language begin with.
    const FIRST_WORDS: &[(&str, &str, &[&str])] = &[
        (".h", "cpp", &["namespace", "template", "class", "using", "constexpr"]),
        (
            ".m",
            "objective-c",
            &["#import", "#include", "@interface", "@implementation", "@import", "@class", "@protocol", "//", "/*"],
        ),
        (".m", "matlab", &["%", "function", "classdef"]),
    ];
    let ending = FIRST_WORDS.iter().map(|(ending, ..)| *ending).find(|ending| file_name.ends_with(ending))?;
    let begins = |line: &str, word: &str| {
        let is_word = word.ends_with(char::is_alphanumeric);
        line.strip_prefix(word)
            .is_some_and(|rest| !is_word || !rest.starts_with(|c: char| c.is_alphanumeric() || c == '_'))
    };
    let told = |line: &str| {
        let fits =
            |(own, _, words): &&(&str, &str, &[&str])| *own == ending && words.iter().any(|word| begins(line, word));
        FIRST_WORDS.iter().find(fits).map(|(_, name, _)| *name)
    };
    head.lines().map(str::trim_start).find_map(told).and_then(by_name)
}

/// HTML with tags of a template language in it. Front matter tells Liquid from those whose comments are `{# #}`.
fn template_of_markup(file_name: &str, head: &str) -> Option<Arc<Language>> {
    let is_markup = [".html", ".htm"].iter().any(|ending| file_name.ends_with(ending));
    let has_tag = |line: &str| line.find("{%").is_some_and(|at| line[at..].contains("%}"));
    if !is_markup || !head.lines().any(has_tag) {
        return None;
    }
    let is_liquid = head.starts_with("---") || head.contains("{% comment %}") || head.contains("{% assign ");
    by_name(if is_liquid { "liquid" } else { "html-template" })
}

/// The longest ending counts: `x.d.ts` before `x.ts`.
fn by_extension(file_name: &str) -> Option<Arc<Language>> {
    let endings = file_name.char_indices().filter(|(_, c)| *c == '.').map(|(at, _)| &file_name[at + 1..]);
    for ending in endings {
        let has = |language: &&Arc<Language>| {
            language.extensions.iter().any(|extension| extension == ending)
                || language.extensions.iter().any(|extension| extension.eq_ignore_ascii_case(ending))
        };
        if let Some(found) = all().iter().find(has) {
            return Some(found.clone());
        }
    }
    None
}

fn by_interpreter(first_line: &str) -> Option<Arc<Language>> {
    let mut words = first_line.strip_prefix("#!")?.split_whitespace();
    let mut program = words.next()?.rsplit('/').next()?;
    if program == "env" {
        program = words.find(|word| !word.starts_with('-') && !word.contains('='))?;
    }
    let unversioned = program.trim_end_matches(|c: char| c.is_ascii_digit() || c == '.');
    let runs =
        |language: &&Arc<Language>| language.interpreters.iter().any(|name| name == program || name == unversioned);
    all().iter().find(runs).cloned()
}

fn by_first_bytes(first_line: &str) -> Option<Arc<Language>> {
    let start = first_line.trim_start().to_ascii_lowercase();
    if start.starts_with("<!doctype html") || start.starts_with("<html") {
        return by_name("html");
    }
    if start.starts_with("<?xml") {
        return by_name("xml");
    }
    if start.starts_with("<?php") {
        return by_name("php");
    }
    None
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_order_of_detection() {
        let rows = [
            ("gauges.rs", "", "rust"),
            ("Makefile", "", "make"),
            ("watch", "#!/usr/bin/env -S python3.11 -u", "python"),
            ("watch", "#!/bin/sh", "shell"),
            ("watch.lua", "#!/bin/sh", "lua"),
            ("board", "<!DOCTYPE html>", "html"),
            ("board.html", "<p>{% of the berths %}</p>", "html-template"),
            ("board.html", "---\nlayout: board\n---\n{% include tide %}", "liquid"),
            ("board.html", "<p>{{ level }}</p>", "html"),
            ("board.blade.php", "<p>{{ $level }}</p>", "blade"),
            ("board.php", "<p>{% level %}</p>", "php"),
            ("notes", "hello", "text"),
            (".hidden", "", "text"),
            ("TIDES.PY", "", "python"),
        ];
        for (file, first, name) in rows {
            assert_eq!(detect(file, first).name, name, "{file}");
        }
    }

    #[test]
    fn no_ending_and_no_name_belongs_to_two_languages() {
        let mut seen = std::collections::HashMap::new();
        for language in all() {
            for key in language.extensions.iter().map(|e| format!(".{e}")).chain(language.files.clone()) {
                if let Some(other) = seen.insert(key.clone(), language.name.clone()) {
                    panic!("{key} is claimed by {other} and {}", language.name);
                }
            }
        }
    }
}
