//! Colours of one line: by the structure of the text where that is known, else comments and literals as the scanner
//! sees them, and in between words by their shape.

use crate::palette::Role;
use snarvel_core::languages::Language;
use snarvel_core::languages::lexical::Syntax;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::units::{Byte, Line, Span};
use snarvel_syntax::has_own_grammar;
use snarvel_syntax::paints::{Paint, Paints};
use snarvel_workspace::buffer::Buffer;
use std::ops::Range;

/// A stretch of a line, in bytes from where it is shown, and what it is.
pub type Stretch = (Range<usize>, Role);

/// Further from its start than this, in bytes, a line is drawn without the scanner's colours: it would have to be
/// scanned up to there at every frame.
const REACH: usize = 64 << 10;

/// The coloured stretches of `shown`, a part of `line`, in order; `paints` is what is known of the lines in view.
pub fn stretches(buffer: &Buffer, line: Line, shown: Span, paints: Option<&Paints>) -> Vec<Stretch> {
    match paints.filter(|paints| paints.span.start <= shown.start && shown.end <= paints.span.end) {
        Some(paints) => by_structure(buffer, line, shown, &paints.within(shown).unwrap_or_default()),
        None => by_scanner(buffer, line, shown),
    }
}

fn by_structure(buffer: &Buffer, line: Line, shown: Span, paints: &Paints) -> Vec<Stretch> {
    let within = |span: Span| {
        let offset = |at: Byte| at.0.saturating_sub(shown.start.0).min(shown.len());
        offset(span.start)..offset(span.end)
    };
    let painted = paints.list.iter().map(|each| (within(each.span), role(each.paint)));
    let mut found: Vec<Stretch> = painted.filter(|(range, _)| !range.is_empty()).collect();
    // Languages inside this one that have no grammar are drawn by the scanner.
    let inside = buffer.parsing.kinds(buffer.text()).inside(line);
    let unknown: Vec<Range<usize>> =
        inside.iter().filter(|part| !has_own_grammar(&part.language.name)).map(|part| within(part.span)).collect();
    if !unknown.is_empty() {
        let is_unknown =
            |range: &Range<usize>| unknown.iter().any(|part| part.start < range.end && range.start < part.end);
        found.retain(|(range, _)| !is_unknown(range));
        found.extend(by_scanner(buffer, line, shown).into_iter().filter(|(range, _)| is_unknown(range)));
        found.sort_by_key(|(range, _)| range.start);
    }
    found
}

fn role(paint: Paint) -> Role {
    match paint {
        Paint::Keyword => Role::Keyword,
        Paint::Type => Role::Type,
        Paint::Function => Role::Function,
        Paint::String => Role::String,
        Paint::Number => Role::Number,
        Paint::Comment => Role::Comment,
        Paint::Plain => Role::Text,
    }
}

fn by_scanner(buffer: &Buffer, line: Line, shown: Span) -> Vec<Stretch> {
    let text = buffer.text();
    let start = text.line_start(line);
    if text.line_span(line).len() > REACH {
        return Vec::new();
    }
    let content = text.slice(Span::new(start, shown.end));
    let skipped = shown.start - start;
    let in_line = of_line(buffer, line, &content);
    let after = in_line.into_iter().filter(|(range, _)| range.end > skipped);
    after.map(|(range, role)| (range.start.saturating_sub(skipped)..range.end - skipped, role)).collect()
}

/// The coloured stretches of `line`, whose content begins with `content`, in bytes from its start.
fn of_line(buffer: &Buffer, line: Line, content: &str) -> Vec<Stretch> {
    let start = buffer.text().line_start(line);
    let syntax = buffer.parsing.kinds(buffer.text());
    let inside = syntax.inside(line);
    let own = buffer.language();
    let within = |span: Span| (span.start - start).min(content.len())..(span.end - start).min(content.len());
    let mut found = Vec::new();
    // What lies between comments and literals, part by part in its own language.
    let between = |range: Range<usize>, found: &mut Vec<Stretch>| {
        let mut at = range.start;
        for part in &inside {
            let part_range = within(part.span);
            let (from, to) = (part_range.start.clamp(at, range.end), part_range.end.clamp(at, range.end));
            words(own, content, at..from, found);
            words(&part.language, content, from..to, found);
            at = to;
        }
        words(own, content, at..range.end, found);
    };
    let mut done = 0;
    for piece in syntax.pieces(line) {
        let range = within(piece.span);
        between(done..range.start.max(done), &mut found);
        done = range.end;
        found.push((range, if piece.token.kind == Kind::Comment { Role::Comment } else { Role::String }));
    }
    between(done..content.len(), &mut found);
    found
}

fn words(language: &Language, content: &str, range: Range<usize>, found: &mut Vec<Stretch>) {
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
        let role = role_of(language, &rest[..len], rest[len..].trim_start().starts_with('('));
        found.extend(role.map(|role| (at..at + len, role)));
        at += len;
    }
}

fn role_of(language: &Language, word: &str, is_called: bool) -> Option<Role> {
    let first = word.chars().next()?;
    if language.is_keyword(word) {
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
