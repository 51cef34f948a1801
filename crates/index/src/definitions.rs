//! What a text defines. Cost: a parse of the text.

use snarvel_core::languages::Language;
use snarvel_core::outline::{Entry, outline};
use snarvel_core::structure::Known;
use snarvel_core::text::Text;
use snarvel_core::units::{Line, Span};
use snarvel_core::verbs::bare::with_bare_scene;
use snarvel_syntax::names::{NameKind, Named, Namer};
use std::sync::Arc;
use std::time::Duration;

/// A name that is known outside of where it is.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Definition {
    /// The name.
    pub name: String,
    /// What it is of.
    pub kind: NameKind,
    /// The name of what it is in; empty where it is in nothing that has one.
    pub container: String,
    /// Where the name is.
    pub span: Span,
    /// Its line.
    pub line: Line,
    /// What is written on that line, without the indentation.
    pub signature: String,
    /// The comment above it.
    pub comment: String,
}

/// The longest signature that is kept, in bytes.
const LONGEST_SIGNATURE: usize = 200;

/// The longest comment that is kept, in bytes.
const LONGEST_COMMENT: usize = 300;

/// Longer names are none that anybody types, in bytes.
const LONGEST_NAME: usize = 200;

/// What `text` defines, in order. Where it has no grammar, or cannot be parsed within `limit`, by the depth of its lines.
pub fn definitions(namer: &mut Namer, (language, text): (&Arc<Language>, &Text), limit: Duration) -> Vec<Definition> {
    match namer.names(language, text, limit) {
        Some(names) if !names.is_empty() => {
            let is_known = |named: &&Named| !matches!(named.kind, NameKind::Local | NameKind::Import);
            names.iter().filter(is_known).filter_map(|named| definition(text, named)).collect()
        }
        _ => by_outline(text, language),
    }
}

fn definition(text: &Text, named: &Named) -> Option<Definition> {
    if named.name.len() > LONGEST_NAME {
        return None;
    }
    let word = |span: Span| text.slice(span).into_owned();
    let container = named.container.filter(|span| span.len() <= LONGEST_NAME).map(word).unwrap_or_default();
    Some(Definition { container, ..at(text, named.name, named.kind) })
}

/// A local as a definition.
#[must_use]
pub fn local(text: &Text, named: &Named) -> Definition {
    at(text, named.name, named.kind)
}

fn at(text: &Text, span: Span, kind: NameKind) -> Definition {
    let line = text.line_of(span.start);
    Definition {
        name: text.slice(span).into_owned(),
        kind,
        container: String::new(),
        span,
        line,
        signature: cut(text.content(line).trim(), LONGEST_SIGNATURE),
        comment: comment_above(text, line),
    }
}

fn cut(text: &str, longest: usize) -> String {
    text[..text.floor_char_boundary(longest)].to_owned()
}

/// What begins a line of a comment, or of what belongs to a definition and is above it.
const MARKS: [&str; 9] = ["///", "//!", "//", "/**", "*/", "/*", "*", "#", "--"];

/// The comment that ends right above `line`, its marks left out; attributes in between are passed over.
#[must_use]
pub fn comment_above(text: &Text, line: Line) -> String {
    /// So many lines are looked at.
    const MOST: usize = 30;
    let mut lines: Vec<String> = Vec::new();
    let mut above = line;
    for _ in 0..MOST {
        let Some(before) = above.previous() else { break };
        above = before;
        let content = text.content(above);
        let content = content.trim();
        if content.starts_with("#[") || content.starts_with('@') {
            continue;
        }
        let Some(mark) = MARKS.iter().find(|mark| content.starts_with(**mark)) else { break };
        // A directive is no comment.
        if *mark == "#" && ["#include", "#define", "#if", "#endif", "#!"].iter().any(|word| content.starts_with(word)) {
            break;
        }
        let said = content[mark.len()..].trim_end_matches("*/").trim();
        lines.push(said.to_owned());
    }
    lines.reverse();
    let said: Vec<String> = lines.into_iter().skip_while(String::is_empty).collect();
    cut(said.join("\n").trim_end(), LONGEST_COMMENT)
}

fn by_outline(text: &Text, language: &Arc<Language>) -> Vec<Definition> {
    if language.name == "text" {
        return Vec::new();
    }
    let (entries, _) = with_bare_scene((text, language), Known::NoGrammar, outline);
    let one = |entry: Entry| {
        let span = name_in(text, entry.head, language)?;
        Some(at(text, span, NameKind::Section))
    };
    entries.into_iter().filter_map(one).filter(|each| each.name.len() <= LONGEST_NAME).collect()
}

/// The name in the head of something: the word before its first bracket, else its last word, that is none of the language.
fn name_in(text: &Text, head: Span, language: &Language) -> Option<Span> {
    let written = text.slice(head);
    let rule = language.word_rule();
    let before_bracket = written.find('(').unwrap_or(written.len());
    let mut words: Vec<(usize, usize)> = Vec::new();
    let mut start = None;
    for (at, c) in written.char_indices().chain([(written.len(), ' ')]) {
        match (rule.class(c).is_word(), start) {
            (true, None) => start = Some(at),
            (false, Some(from)) => {
                words.push((from, at));
                start = None;
            }
            _ => {}
        }
    }
    let is_own = |(from, to): &&(usize, usize)| {
        let word = &written[*from..*to];
        !language.is_keyword(word) && !word.starts_with(|c: char| c.is_numeric())
    };
    let found = words.iter().rev().filter(|(_, to)| *to <= before_bracket).find(is_own);
    found.or_else(|| words.iter().find(is_own)).map(|(from, to)| Span::new(head.start + *from, head.start + *to))
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_core::languages::by_name;

    fn of(language: &str, text: &str) -> Vec<String> {
        let language = by_name(language).unwrap();
        let found = definitions(&mut Namer::default(), (&language, &Text::from(text)), Duration::from_secs(20));
        let told = |each: &Definition| {
            format!("{} {}.{} [{}] {}", each.kind.name(), each.container, each.name, each.signature, each.comment)
        };
        found.iter().map(told).collect()
    }

    #[test]
    fn a_definition_comes_with_its_line_and_the_comment_above() {
        let text = "/// How high the sea is.\n/// In millimetres.\n#[must_use]\npub fn level(at: u8) -> i32 { let x = 1; x }\n\nstruct Gauge;\n";
        assert_eq!(
            of("rust", text),
            [
                "function .level [pub fn level(at: u8) -> i32 { let x = 1; x }] How high the sea is.\nIn millimetres.",
                "type .Gauge [struct Gauge;] "
            ]
        );
        assert_eq!(
            of("c", "/*\n * Sounds.\n */\nvoid sound(void) {}\n"),
            ["function .sound [void sound(void) {}] Sounds."]
        );
        assert_eq!(of("c", "#include <stdio.h>\nint ebb;\n"), ["variable .ebb [int ebb;] "]);
    }

    #[test]
    fn without_a_grammar_the_depth_of_lines_tells() {
        assert_eq!(
            of("nim", "proc sound(level: int) =\n  echo level\n"),
            ["section .sound [proc sound(level: int) =] "]
        );
        assert_eq!(of("text", "a\n  b\n"), [""; 0]);
    }
}
