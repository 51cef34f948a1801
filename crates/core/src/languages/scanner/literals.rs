//! What literals look like: their delimiters, escapes and lengths. Offsets are bytes from the start of what is given.

use crate::languages::{Escape, StringForm};
use std::borrow::Cow;
use std::cell::Cell;
use std::ops::Range;

/// How far a line is looked ahead in, all told.
///
/// Whether a hole of a string, a string in a hole or a regular expression ends on its line is only known at its end; where it
/// does not, what was passed is looked at again. A text can be made so that this never ends. So each line has a number of steps,
/// a few for each of its bytes, which ordinary code never uses up: once they are, nothing is looked ahead for on that line any
/// more, and what could have begun is taken as plain characters. That makes the cost of a line linear in its length.
#[derive(Debug)]
pub(super) struct LookAhead {
    steps: Cell<usize>,
}

/// Steps for each byte of a line.
const STEPS_A_BYTE: usize = 8;

/// Steps that a short line has at least.
const LEAST_STEPS: usize = 1_024;

/// Holes in strings in holes: deeper ones are plain characters.
const DEEPEST_HOLES: u32 = 32;

/// The longest run in a counted delimiter: the Rust Reference, Raw string literals, says fewer than 256.
const LONGEST_RUN: usize = 255;

impl LookAhead {
    pub(super) fn of(line: &str) -> LookAhead {
        LookAhead { steps: Cell::new(line.len().saturating_mul(STEPS_A_BYTE).saturating_add(LEAST_STEPS)) }
    }

    /// Takes a step; none where all are taken.
    fn step(&self) -> Option<()> {
        self.steps.set(self.steps.get().checked_sub(1)?);
        Some(())
    }
}

/// The closing delimiter of a string whose counted run has the length `count`.
pub(super) fn closing(form: &StringForm, count: u32) -> Cow<'_, str> {
    match form.counted {
        Some(counted) => Cow::Owned(form.close.replace('*', &counted.to_string().repeat(count as usize))),
        None => Cow::Borrowed(&form.close),
    }
}

/// The longest word in the delimiters of a raw string, in characters (C++ standard, [lex.string]).
const LONGEST_WORD: usize = 16;

/// The length of an opening delimiter with a word in it, and the closing one that answers it.
pub(super) fn named_open(rest: &str, form: &StringForm) -> Option<(usize, String)> {
    let (head, tail) = form.open.split_once('*')?;
    let behind = rest.strip_prefix(head)?;
    let word: String =
        behind.chars().take_while(|c| !c.is_whitespace() && !"()\\".contains(*c)).take(LONGEST_WORD).collect();
    behind[word.len()..]
        .starts_with(tail)
        .then(|| (head.len() + word.len() + tail.len(), form.close.replace('*', &word)))
}

/// The length of a counted opening delimiter and of the counted run in it.
pub(super) fn counted_open(rest: &str, form: &StringForm) -> Option<(usize, u32)> {
    let (head, tail) = form.open.split_once('*')?;
    let behind = rest.strip_prefix(head)?;
    let counted = form.counted?;
    let run: usize = behind.chars().take_while(|c| *c == counted).take(LONGEST_RUN + 1).map(char::len_utf8).sum();
    if run / counted.len_utf8() > LONGEST_RUN {
        return None;
    }
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
pub(super) fn interpolation_len(rest: &str, form: &StringForm, ahead: &LookAhead) -> Option<usize> {
    hole_len(rest, form, (ahead, DEEPEST_HOLES))
}

/// Where the first hole at or after `from` is in `content`, which is on one line and in a literal of this form.
#[must_use]
pub fn next_hole(content: &str, from: usize, form: &StringForm) -> Option<Range<usize>> {
    let ahead = LookAhead::of(content);
    let mut at = from;
    while let Some(rest) = content.get(at..).filter(|rest| !rest.is_empty()) {
        if let Some(length) = interpolation_len(rest, form, &ahead) {
            return Some(at..at + length);
        }
        at += escape_len(rest, form.escape, &form.close).max(rest.chars().next().map_or(1, char::len_utf8));
    }
    None
}

fn hole_len(rest: &str, form: &StringForm, (ahead, depth_left): (&LookAhead, u32)) -> Option<usize> {
    let interpolation = form.interpolations.iter().find(|interpolation| rest.starts_with(&interpolation.open))?;
    let nests = interpolation.open.chars().next_back()?;
    let depth_left = depth_left.checked_sub(1)?;
    let (mut at, mut depth) = (interpolation.open.len(), 1);
    while depth > 0 {
        ahead.step()?;
        let behind = rest.get(at..).filter(|behind| !behind.starts_with(['\n', '\r']))?;
        let next = behind.chars().next()?;
        at += match next {
            _ if behind.starts_with(&interpolation.close) => {
                depth -= 1;
                interpolation.close.len()
            }
            '"' | '\'' | '`' => quoted_len(behind, next, form, (ahead, depth_left)).unwrap_or(1),
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
fn quoted_len(rest: &str, quote: char, form: &StringForm, limits: (&LookAhead, u32)) -> Option<usize> {
    let mut at = 1;
    loop {
        limits.0.step()?;
        let behind = rest.get(at..).filter(|behind| !behind.starts_with(['\n', '\r']))?;
        let next = behind.chars().next()?;
        at += match next {
            _ if next == quote => return Some(at + 1),
            '\\' => 1 + behind.chars().nth(1).map_or(0, char::len_utf8),
            _ if form.close.starts_with(quote) => hole_len(behind, form, limits).unwrap_or(next.len_utf8()),
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
        let near = inner[from..].char_indices().map(|(at, _)| at).take_while(|at| *at <= LONGEST);
        let at = near.into_iter().find(|at| inner[from + at..].starts_with(form.close.as_str()))?;
        let body = &inner[..from + at];
        return (!body.contains('\n')).then_some(form.open.len() + from + at + form.close.len());
    }
    let first = inner.chars().next().filter(|c| !matches!(c, '\n' | '\r' | '\''))?;
    let closes = inner[first.len_utf8()..].starts_with(form.close.as_str());
    closes.then_some(form.open.len() + first.len_utf8() + form.close.len())
}

/// Whether a value may begin after `before`: quotes inside one that has begun without them are part of it (YAML 1.2,
/// 7.3.3). `in_collection` tells whether a list or mapping in brackets begins in what is given; it is only asked after a comma.
pub(super) fn begins_value(before: &str, in_collection: impl Fn() -> bool) -> bool {
    let mut before = before;
    loop {
        let content = before.trim_end();
        let is_apart = content.len() < before.len();
        match content.chars().next_back() {
            None => return true,
            Some('[' | '{') => before = &content[..content.len() - 1],
            Some(':' | '-' | '?') => return is_apart,
            Some(',') => return in_collection(),
            Some(_) if is_apart => {
                // A tag or an anchor may come before a value.
                let word = content.rsplit(char::is_whitespace).next().unwrap_or("");
                if !word.starts_with(['!', '&']) {
                    return false;
                }
                before = &content[..content.len() - word.len()];
            }
            Some(_) => return false,
        }
    }
}

/// Where the first list or mapping in brackets begins in `line`, if a value may begin there.
pub(super) fn first_collection(line: &str) -> Option<usize> {
    let open = line.find(['[', '{'])?;
    begins_value(&line[..open], || false).then_some(open)
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

pub(super) fn regex_len(rest: &str, ahead: &LookAhead) -> Option<usize> {
    let (mut escaped, mut in_class) = (false, false);
    for (at, c) in rest.char_indices().skip(1) {
        ahead.step()?;
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
