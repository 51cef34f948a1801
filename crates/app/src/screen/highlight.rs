//! Colours of one line: comments and literals as the scanner sees them, and in between words by their shape.

use crate::document::Document;
use crate::palette::Role;
use snarvel_core::languages::lexical::Syntax;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::units::Line;
use std::ops::Range;

/// A stretch of a line, in bytes from its start, and what it is.
pub type Stretch = (Range<usize>, Role);

/// The coloured stretches of `line`, whose content begins with `content`, in order.
pub fn stretches(document: &Document, line: Line, content: &str) -> Vec<Stretch> {
    let start = document.editor.text().line_start(line);
    let mut found = Vec::new();
    let mut done = 0;
    for piece in document.editor.syntax().pieces(line) {
        let (from, to) = ((piece.span.start - start).min(content.len()), (piece.span.end - start).min(content.len()));
        words(document, content, done..from, &mut found);
        found.push((from..to, if piece.token.kind == Kind::Comment { Role::Comment } else { Role::String }));
        done = to;
    }
    words(document, content, done..content.len(), &mut found);
    found
}

fn words(document: &Document, content: &str, range: Range<usize>, found: &mut Vec<Stretch>) {
    let language = document.editor.language();
    if range.is_empty() || language.name == "text" {
        return;
    }
    if language.prose {
        markup(content, range, found);
        return;
    }
    let rule = language.word_rule();
    let in_word = |c: char| rule.class(c).is_word();
    let mut at = range.start;
    while at < range.end {
        let rest = &content[at..range.end];
        let Some(first) = rest.chars().next() else { break };
        if !in_word(first) {
            at += first.len_utf8();
            continue;
        }
        let len = rest.find(|c: char| !in_word(c)).unwrap_or(rest.len());
        let role = role_of(document, &rest[..len], rest[len..].trim_start().starts_with('('));
        found.extend(role.map(|role| (at..at + len, role)));
        at += len;
    }
}

fn role_of(document: &Document, word: &str, is_called: bool) -> Option<Role> {
    let keywords = document.keywords();
    let is_upper_case_language = document.editor.language().name == "sql";
    let first = word.chars().next()?;
    if keywords.contains(word) || (is_upper_case_language && keywords.contains(&word.to_ascii_uppercase())) {
        Some(Role::Keyword)
    } else if first.is_ascii_digit() {
        Some(Role::Number)
    } else if is_called {
        Some(Role::Function)
    } else if first.is_uppercase() && word.chars().any(char::is_lowercase) {
        Some(Role::Type)
    } else {
        None
    }
}

/// Tags and headings.
fn markup(content: &str, range: Range<usize>, found: &mut Vec<Stretch>) {
    if range.start == 0 && content.starts_with('#') {
        found.push((range, Role::Keyword));
        return;
    }
    let mut at = range.start;
    while let Some(open) = content[at..range.end].find('<') {
        let start = at + open;
        let end = content[start..range.end].find('>').map_or(range.end, |close| start + close + 1);
        let name =
            content[start + 1..end].find(|c: char| c.is_whitespace() || c == '>').map_or(end, |len| start + 1 + len);
        if !content[start + 1..].starts_with(|c: char| c.is_alphabetic() || c == '/' || c == '!') {
            at = start + 1;
            continue;
        }
        found.push((start..name, Role::Keyword));
        let mut from = name;
        while let Some(quote) = content[from..end].find('"') {
            let opened = from + quote;
            let closed = content[opened + 1..end].find('"').map_or(end, |len| opened + len + 2);
            found.push((opened..closed, Role::String));
            from = closed;
        }
        at = end;
    }
}
