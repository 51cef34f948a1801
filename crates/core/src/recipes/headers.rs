//! The lines above blocks.

use super::lines::SourceLine;
use super::{Groups, Header, MOST_PASSES, Mistake};
use crate::languages::by_name;
use crate::languages::scanner::Kind;
use crate::search::pattern::{Case, Form, Pattern, Query};
use std::sync::Arc;

/// The header that `line` is; none where it is a step.
pub(super) fn read(line: &SourceLine) -> Option<Result<Header, Mistake>> {
    let (word, rest) = first_word(line.content);
    let rest_at = line.content.len() - rest.len();
    Some(match word {
        "repeat" => repeat(line, rest_at),
        "each" => each(line, rest_at),
        "in" => inside(line, rest_at),
        "if" => pattern(line, rest_at).map(Header::If),
        "unless" => pattern(line, rest_at).map(Header::Unless),
        _ => return None,
    })
}

/// The first word of `content` and what comes after the white space that follows it.
pub(super) fn first_word(content: &str) -> (&str, &str) {
    let end = content.find([' ', '\t']).unwrap_or(content.len());
    (&content[..end], content[end..].trim_start_matches([' ', '\t']))
}

fn repeat(line: &SourceLine, at: usize) -> Result<Header, Mistake> {
    let rest = line.content[at..].trim_end();
    let words: Vec<&str> = rest.split_whitespace().collect();
    if words == ["while", "it", "changes"] {
        return Ok(Header::RepeatWhileChanges);
    }
    match rest.parse::<u32>() {
        Ok(times) if (1..=MOST_PASSES).contains(&times) => Ok(Header::Repeat(times)),
        _ => Err(line.mistake(at, format!("repeat takes a number from 1 to {MOST_PASSES}, or while it changes"))),
    }
}

fn each(line: &SourceLine, at: usize) -> Result<Header, Mistake> {
    const FORMS: &str = "each takes line, line /re/, match /re/, block or cursor";
    let (what, rest) = first_word(&line.content[at..]);
    let rest_at = line.content.len() - rest.len();
    let is_alone = rest.trim_end().is_empty();
    match what.trim_end() {
        "line" if is_alone => Ok(Header::EachLine(None)),
        "line" => pattern(line, rest_at).map(|pattern| Header::EachLine(Some(pattern))),
        "match" => pattern(line, rest_at).map(|pattern| Header::EachMatch(pattern, Groups::Unused)),
        "block" if is_alone => Ok(Header::EachBlock),
        "cursor" if is_alone => Ok(Header::EachCursor),
        "block" | "cursor" => Err(line.mistake(rest_at, format!("nothing follows each {}", what.trim_end()))),
        _ => Err(line.mistake(at, FORMS)),
    }
}

fn inside(line: &SourceLine, at: usize) -> Result<Header, Mistake> {
    let (what, rest) = first_word(&line.content[at..]);
    let rest_at = line.content.len() - rest.len();
    let is_alone = rest.trim_end().is_empty();
    match what.trim_end() {
        "code" if is_alone => Ok(Header::In(Kind::Code)),
        "strings" if is_alone => Ok(Header::In(Kind::String)),
        "comments" if is_alone => Ok(Header::In(Kind::Comment)),
        "language" => languages(line, rest_at),
        _ => Err(line.mistake(at, "in takes code, strings, comments or language NAME")),
    }
}

fn languages(line: &SourceLine, at: usize) -> Result<Header, Mistake> {
    let mut names = Vec::new();
    let mut place = at;
    for part in line.content[at..].split(',') {
        let name = part.trim();
        let start = place + (part.len() - part.trim_start().len());
        let known = by_name(name).ok_or_else(|| {
            let why = if name.is_empty() {
                "a language is missing here".to_owned()
            } else {
                format!("no language is called {name:?}")
            };
            line.mistake(start, format!("{why}: see snarvel languages"))
        })?;
        names.push(known.name.clone());
        place += part.len() + 1;
    }
    Ok(Header::InLanguage(names))
}

/// Reads `/re/`, which begins at the byte `at` and takes the rest of the line. `\/` is a slash.
pub(super) fn pattern(line: &SourceLine, at: usize) -> Result<Arc<Pattern>, Mistake> {
    let rest = line.content[at..].trim_end();
    let Some(written) = rest.strip_prefix('/') else {
        return Err(line.mistake(at, "a pattern stands here, between slashes: /re/"));
    };
    let (mut expression, mut escapes, mut characters) = (String::new(), Vec::new(), written.char_indices());
    let end = loop {
        match characters.next() {
            None => return Err(line.mistake(at, "the slash at the end of the pattern is missing")),
            Some((place, '/')) => break place,
            Some((_, '\\')) => match characters.next() {
                Some((_, '/')) => {
                    escapes.push(expression.chars().count());
                    expression.push('/');
                }
                Some((_, other)) => expression.extend(['\\', other]),
                None => return Err(line.mistake(at, "the slash at the end of the pattern is missing")),
            },
            Some((_, c)) => expression.push(c),
        }
    };
    if end + 1 < written.len() {
        let why = "nothing follows the pattern: a slash in it is written \\/";
        return Err(line.mistake(at + 1 + end + 1, why));
    }
    if expression.is_empty() {
        return Err(line.mistake(at + 1, "the pattern is empty"));
    }
    let query = Query { what: expression, form: Form::Expression, case: Case::Exact, ..Query::default() };
    Pattern::new(query).map(Arc::new).map_err(|wrong| {
        let shift = escapes.iter().filter(|place| **place < wrong.place - 1).count();
        let mut mistake = line.mistake(at + 1, format!("the pattern is wrong here: {}", wrong.why));
        mistake.column += wrong.place - 1 + shift;
        mistake
    })
}
