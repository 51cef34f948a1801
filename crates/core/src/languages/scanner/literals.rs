//! What literals look like: their delimiters, escapes and lengths. Offsets are bytes from the start of what is given.

use super::{Escape, StringForm};
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
            '/' if !in_class => return Some(at + 1),
            _ => {}
        }
    }
    None
}
