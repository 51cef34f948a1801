//! What literals look like: their delimiters, escapes and lengths. Offsets are bytes from the start of what is given.

use crate::languages::{Escape, StringForm};
use std::borrow::Cow;

/// The closing delimiter of a string whose counted run has the length `count`.
pub(super) fn closing(form: &StringForm, count: u32) -> Cow<'_, str> {
    match form.counted {
        Some(counted) => Cow::Owned(form.close.replace('*', &counted.to_string().repeat(count as usize))),
        None => Cow::Borrowed(&form.close),
    }
}

/// The length of a counted opening delimiter and of the counted run in it.
pub(super) fn counted_open(rest: &str, form: &StringForm) -> Option<(usize, u32)> {
    let (head, tail) = form.open.split_once('*')?;
    let behind = rest.strip_prefix(head)?;
    let counted = form.counted?;
    let run = behind.len() - behind.trim_start_matches(counted).len();
    behind[run..].starts_with(tail).then(|| (head.len() + run + tail.len(), (run / counted.len_utf8()) as u32))
}

/// The length of an escape at the start of `rest`, 0 when there is none. A backslash before a line end
/// carries the string over it.
pub(super) fn escape_len(rest: &str, escape: Escape, close: &str) -> usize {
    let behind = match escape {
        Escape::None => return 0,
        Escape::Doubled => {
            let doubled = rest.strip_prefix(close).is_some_and(|tail| tail.starts_with(close));
            return if doubled { 2 * close.len() } else { 0 };
        }
        Escape::Backslash => rest.strip_prefix('\\'),
        Escape::Backtick => rest.strip_prefix('`'),
    };
    match behind {
        None => 0,
        Some(behind) if behind.starts_with("\r\n") => 3,
        Some(behind) => 1 + behind.chars().next().map_or(0, char::len_utf8),
    }
}

/// The length of an interpolation at the start of `rest` in a string of this form: code between its marks, with strings of its
/// own; none where there is none, or where it does not end on this line.
pub(super) fn interpolation_len(rest: &str, form: &StringForm) -> Option<usize> {
    let interpolation = form.interpolations.iter().find(|interpolation| rest.starts_with(&interpolation.open))?;
    let nests = interpolation.open.chars().next_back()?;
    let (mut at, mut depth) = (interpolation.open.len(), 1);
    while depth > 0 {
        let behind = rest.get(at..).filter(|behind| !behind.starts_with(['\n', '\r']))?;
        let next = behind.chars().next()?;
        at += match next {
            _ if behind.starts_with(&interpolation.close) => {
                depth -= 1;
                interpolation.close.len()
            }
            '"' | '\'' | '`' => quoted_len(behind, next, form).unwrap_or(1),
            '\\' => 1 + behind.chars().nth(1).map_or(0, char::len_utf8),
            _ => {
                depth += i32::from(next == nests);
                next.len_utf8()
            }
        };
    }
    Some(at)
}

/// The length of a string in an interpolation, with its quotes; none where it does not end on this line.
fn quoted_len(rest: &str, quote: char, form: &StringForm) -> Option<usize> {
    let mut at = 1;
    loop {
        let behind = rest.get(at..).filter(|behind| !behind.starts_with(['\n', '\r']))?;
        let next = behind.chars().next()?;
        at += match next {
            _ if next == quote => return Some(at + 1),
            '\\' => 1 + behind.chars().nth(1).map_or(0, char::len_utf8),
            _ if form.close.starts_with(quote) => interpolation_len(behind, form).unwrap_or(next.len_utf8()),
            _ => next.len_utf8(),
        };
    }
}

/// The length of a literal of one character: an escape or one character between its delimiters.
pub(super) fn character_literal(rest: &str, form: &StringForm) -> Option<usize> {
    /// The longest escape in the languages of the table is `\u{10FFFF}`.
    const LONGEST: usize = 12;
    let inner = rest.strip_prefix(form.open.as_str())?;
    if let Some(escaped) = inner.strip_prefix('\\') {
        let from = 1 + escaped.chars().next()?.len_utf8();
        let at = inner[from..].find(form.close.as_str()).filter(|&at| at <= LONGEST)?;
        let body = &inner[..from + at];
        return (!body.contains('\n')).then_some(form.open.len() + from + at + form.close.len());
    }
    let first = inner.chars().next().filter(|c| !matches!(c, '\n' | '\r' | '\''))?;
    let closes = inner[first.len_utf8()..].starts_with(form.close.as_str());
    closes.then_some(form.open.len() + first.len_utf8() + form.close.len())
}

/// Whether a value may begin after `before`: quotes inside one that has begun without them are part of it (YAML 1.2,
/// 7.3.3).
pub(super) fn begins_value(before: &str) -> bool {
    let content = before.trim_end();
    let word = content.rsplit(char::is_whitespace).next().unwrap_or("");
    let is_apart = content.len() < before.len();
    match content.chars().next_back() {
        None => true,
        Some('[' | '{') => begins_value(&content[..content.len() - 1]),
        Some(':' | '-' | '?') => is_apart,
        Some(',') => content.find(['[', '{']).is_some_and(|open| begins_value(&content[..open])),
        Some(_) => is_apart && word.starts_with(['!', '&']) && begins_value(&content[..content.len() - word.len()]),
    }
}

pub(super) fn operand_may_follow(before: &str) -> bool {
    let before = before.trim_end();
    let Some(last) = before.chars().next_back() else { return true };
    if last.is_alphanumeric() || last == '_' || last == '$' {
        let word = before.rsplit(|c: char| !(c.is_alphanumeric() || c == '_')).next().unwrap_or("");
        return ["return", "typeof", "case", "in", "of", "delete", "void", "and", "or", "not", "if", "unless"]
            .contains(&word);
    }
    !matches!(last, ')' | ']' | '}' | '"' | '\'' | '`' | '.')
}

pub(super) fn regex_len(rest: &str) -> Option<usize> {
    let (mut escaped, mut in_class) = (false, false);
    for (at, c) in rest.char_indices().skip(1) {
        match c {
            '\n' | '\r' => return None,
            _ if escaped => escaped = false,
            '\\' => escaped = true,
            '[' => in_class = true,
            ']' => in_class = false,
            '/' if at == 1 => return None,
            '/' if !in_class => {
                let flags = rest[at + 1..].bytes().take_while(u8::is_ascii_alphabetic).count();
                return Some(at + 1 + flags);
            }
            _ => {}
        }
    }
    None
}
