//! Finishing a tag: its `>` and, where it has content, its closing tag.

use super::plan::{MOST_LINES, Plan};
use crate::languages::Language;
use crate::languages::scanner::Kind;
use crate::units::{Byte, Line, Span};
use crate::verbs::scene::Scene;

/// A tag before the caret.
struct Tag {
    name: String,
    /// Whether its `>` is missing.
    is_open: bool,
    /// Whether it is closed by itself: `<br/>`.
    is_whole: bool,
    /// What is open in it: a quote of an attribute.
    quote: Option<char>,
}

/// Whether `line` begins with a tag: in a language that has markup inside it.
pub(super) fn begins(scene: &Scene, line: Line) -> bool {
    let content = scene.text.content(line);
    let mut letters = content.trim_start().chars();
    letters.next() == Some('<') && letters.next().is_some_and(|c| c.is_alphabetic() || c == '/')
}

/// What finishes the tag on the line of `head`; none where there is nothing to finish.
pub(super) fn plan(scene: &Scene, head: Byte, language: &Language) -> Option<Plan> {
    let text = scene.text;
    let line = text.line_of(head);
    let content = text.content_span(line);
    if scene.syntax.kind_before_line(line) == Kind::Comment {
        return None;
    }
    let before = text.slice(Span::new(content.start, content.end)).into_owned();
    let trimmed = before.trim_end();
    let tag = last_tag(trimmed)?;
    let at = content.start + trimmed.len();
    let is_void = tag.is_whole || language.finish.void_tags.contains(&tag.name.to_lowercase());
    let quote: String = tag.quote.into_iter().collect();
    let close = if tag.is_open { format!("{quote}>") } else { String::new() };
    if is_void || tag.name.starts_with(['!', '?']) {
        let close = if tag.name.starts_with('?') && tag.is_open { format!("{quote}?>") } else { close };
        return tag.is_open.then_some(Plan::Insert { at, caret: close.len(), text: close });
    }
    if !tag.is_open && !trimmed.ends_with('>') {
        // Text after it on its line: the element ends with that.
        let close = format!("</{}>", tag.name);
        return (!is_closed(scene, line, &tag.name)).then_some(Plan::Insert { at, caret: close.len(), text: close });
    }
    if is_closed(scene, line, &tag.name) {
        let whole = Plan::Insert { at, caret: close.len(), text: close };
        return Some(if tag.is_open { whole } else { into(scene, line) });
    }
    let end = scene.settings.line_end.as_str();
    let outer = text.slice(text.indentation_span(line)).into_owned();
    let first = format!("{close}{end}{outer}{}", scene.settings.unit.text());
    let caret = first.len();
    Some(Plan::Insert { at, text: format!("{first}{end}{outer}</{}>", tag.name), caret })
}

/// The last tag of a line that opens an element and is not closed on it.
fn last_tag(line: &str) -> Option<Tag> {
    let mut open: Vec<Tag> = Vec::new();
    let mut rest = line;
    while let Some(start) = rest.find('<') {
        rest = &rest[start + 1..];
        if let Some(closing) = rest.strip_prefix('/') {
            let name: String = closing.chars().take_while(|c| is_name(*c)).collect();
            if let Some(at) = open.iter().rposition(|tag| tag.name == name) {
                open.truncate(at);
            }
            continue;
        }
        let name: String = rest.chars().take_while(|c| is_name(*c)).collect();
        if name.is_empty() || rest.starts_with("!--") {
            continue;
        }
        let mut quote = None;
        let mut end = None;
        for (at, c) in rest.char_indices() {
            match (quote, c) {
                (None, '"' | '\'') => quote = Some(c),
                (Some(open), c) if open == c => quote = None,
                (None, '>') => {
                    end = Some(at);
                    break;
                }
                _ => {}
            }
        }
        let body = end.map_or(rest, |end| &rest[..end]);
        open.push(Tag {
            name,
            is_open: end.is_none(),
            is_whole: body.ends_with('/'),
            quote: if end.is_none() { quote } else { None },
        });
        rest = end.map_or("", |end| &rest[end..]);
    }
    open.into_iter().rev().find(|tag| tag.is_open || !tag.is_whole)
}

fn is_name(c: char) -> bool {
    c.is_alphanumeric() || matches!(c, '-' | '_' | ':' | '.' | '!' | '?')
}

/// Whether the element that opens on `line` is closed below: by a tag as deep as the line, with nothing less deep before it.
fn is_closed(scene: &Scene, line: Line, name: &str) -> bool {
    let depth = |line: Line| scene.text.depth_of(line, scene.settings.tabs);
    let own = depth(line);
    let closing = format!("</{name}");
    for below in (line.0 + 1..scene.text.line_count()).take(MOST_LINES).map(Line) {
        if scene.text.is_blank(below) {
            continue;
        }
        let content = scene.text.content(below);
        if depth(below) <= own {
            return depth(below) == own && content.trim_start().starts_with(&closing);
        }
    }
    false
}

/// Into the element that opens on `line`.
fn into(scene: &Scene, line: Line) -> Plan {
    let below = line.next();
    let text = scene.text;
    if text.is_blank(below) {
        return Plan::Go(text.content_span(below).end);
    }
    let is_deeper = text.depth_of(below, scene.settings.tabs) > text.depth_of(line, scene.settings.tabs);
    if is_deeper {
        return Plan::Go(text.indentation_span(below).end);
    }
    let indentation = text.slice(text.indentation_span(line)).into_owned() + &scene.settings.unit.text();
    let put = format!("{}{indentation}", scene.settings.line_end.as_str());
    Plan::Insert { at: text.content_span(line).end, caret: put.len(), text: put }
}
