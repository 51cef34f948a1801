//! Numbers that are added to, and values that have a counterpart.

use crate::changes::{Bias, ChangeBuilder};
use crate::cursors::{CursorSet, Selection};
use crate::units::{Byte, Span};
use crate::verbs::scene::{Outcome, Scene, counted};

/// What is added to numbers: a whole number or a fraction, the same at each cursor or one step more at each.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Addend {
    /// The amount, in units of the last digit after the point.
    scaled: i128,
    /// Digits after the point.
    decimals: u32,
    /// Whether each cursor adds one step more than the one before.
    is_growing: bool,
}

impl Addend {
    /// Reads `1`, `-5`, `0.5`, `+=2`.
    #[must_use]
    pub fn parse(text: &str) -> Option<Addend> {
        let text = text.trim();
        let (text, is_growing) = text.strip_prefix("+=").map_or((text, false), |rest| (rest.trim(), true));
        let (scaled, decimals) = scaled(text.strip_prefix('+').unwrap_or(text))?;
        Some(Addend { scaled, decimals, is_growing })
    }

    fn at(self, index: usize) -> i128 {
        if self.is_growing { self.scaled.saturating_mul(index as i128 + 1) } else { self.scaled }
    }
}

/// A decimal number as units of its last digit, and how many digits are after its point.
fn scaled(text: &str) -> Option<(i128, u32)> {
    let (whole, fraction) = text.split_once('.').unwrap_or((text, ""));
    let digits = whole.strip_prefix('-').unwrap_or(whole);
    let is_number = |part: &str| part.chars().all(|c| c.is_ascii_digit());
    if (digits.is_empty() && fraction.is_empty()) || !is_number(digits) || !is_number(fraction) {
        return None;
    }
    let value: i128 = format!("{digits}{fraction}").parse().ok()?;
    Some((if whole.starts_with('-') { -value } else { value }, fraction.len() as u32))
}

/// A number in a text.
struct Number {
    span: Span,
    kind: Kind,
}

#[derive(Clone, Copy, PartialEq, Eq)]
enum Kind {
    Decimal,
    /// With the base and the length of its prefix.
    Based(u32),
}

/// The numbers in `text`, which begins at `start` and after the character `before`.
fn numbers(text: &str, start: Byte, before: Option<char>) -> Vec<Number> {
    let bytes = text.as_bytes();
    let mut found = Vec::new();
    let mut at = 0;
    while at < bytes.len() {
        if !bytes[at].is_ascii_digit() {
            at += 1;
            continue;
        }
        let base = match &text.as_bytes()[at..] {
            [b'0', b'x' | b'X', next, ..] if next.is_ascii_hexdigit() => 16,
            [b'0', b'b' | b'B', b'0' | b'1', ..] => 2,
            [b'0', b'o' | b'O', b'0'..=b'7', ..] => 8,
            _ => 10,
        };
        let mut end = at + if base == 10 { 0 } else { 2 };
        while end < bytes.len() && char::from(bytes[end]).is_digit(base) {
            end += 1;
        }
        let (mut begin, kind) = (at, if base == 10 { Kind::Decimal } else { Kind::Based(base) });
        if base == 10 {
            let fraction =
                text[end..].strip_prefix('.').map_or(0, |rest| rest.bytes().take_while(u8::is_ascii_digit).count());
            let next = text[end + usize::from(fraction > 0) + fraction..].chars().next();
            // A version, an address: no fraction.
            let is_fraction = fraction > 0 && next != Some('.') && !text[..at].ends_with('.');
            end += if is_fraction { 1 + fraction } else { 0 };
            let sign = text[..at].strip_suffix('-');
            let beside = sign.map(|rest| rest.chars().next_back().or(if rest.is_empty() { before } else { None }));
            let is_sign = beside.is_some_and(|c| c.is_none_or(|c| !(c.is_alphanumeric() || ")]_}-".contains(c))));
            begin -= usize::from(is_sign);
        }
        found.push(Number { span: Span::new(start + begin, start + end), kind });
        at = end.max(at + 1);
    }
    found
}

/// What a number becomes: as wide as it was where it has leading zeros, in the same base and letters.
fn added(text: &str, kind: Kind, (amount, decimals): (i128, u32)) -> Option<String> {
    if let Kind::Based(base) = kind {
        let (prefix, digits) = text.split_at(2);
        let value = i128::from_str_radix(digits, base).ok()?;
        let sum = value.checked_add(if decimals == 0 { amount } else { return None })?;
        let is_upper = digits.chars().any(|c| c.is_ascii_uppercase());
        let magnitude = match base {
            16 if is_upper => format!("{:0width$X}", sum.unsigned_abs(), width = digits.len()),
            16 => format!("{:0width$x}", sum.unsigned_abs(), width = digits.len()),
            8 => format!("{:0width$o}", sum.unsigned_abs(), width = digits.len()),
            _ => format!("{:0width$b}", sum.unsigned_abs(), width = digits.len()),
        };
        return Some(format!("{}{prefix}{magnitude}", if sum < 0 { "-" } else { "" }));
    }
    let (value, own) = scaled(text)?;
    let places = own.max(decimals);
    let value = value.checked_mul(10i128.checked_pow(places - own)?)?;
    let sum = value.checked_add(amount.checked_mul(10i128.checked_pow(places - decimals)?)?)?;
    let digits = text.trim_start_matches('-').split('.').next().unwrap_or_default();
    let width = if digits.len() > 1 && digits.starts_with('0') { digits.len() } else { 1 };
    let divisor = 10u128.checked_pow(places)?;
    let (whole, fraction) = (sum.unsigned_abs() / divisor, sum.unsigned_abs() % divisor);
    let sign = if sum < 0 { "-" } else { "" };
    Some(match places {
        0 => format!("{sign}{whole:0width$}"),
        _ => format!("{sign}{whole:0width$}.{fraction:0places$}", places = places as usize),
    })
}

/// The part of the line of a caret in which a number or a value is looked for: what is at the caret first, then what follows.
fn line_at(scene: &Scene, at: Byte) -> (String, Byte) {
    let content = scene.text.content_span(scene.text.line_of(at));
    (scene.text.slice(content).into_owned(), content.start)
}

/// Adds to the number at each caret, or the next one on its line, and to every number in each selection.
pub fn add_to_numbers(scene: &Scene, addend: Addend) -> Outcome {
    let text = scene.text;
    let mut edits: Vec<(Span, String, usize)> = Vec::new();
    for (index, each) in scene.cursors.iter().enumerate() {
        let amount = (addend.at(scene.memory.together.first + index), addend.decimals);
        let found = match each.is_caret() {
            true => {
                let (line, start) = line_at(scene, each.head);
                numbers(&line, start, None).into_iter().filter(|number| number.span.end >= each.head).take(1).collect()
            }
            false => numbers(&text.slice(each.span()), each.start(), text.char_before(each.start())),
        };
        for number in found {
            let becomes = added(&text.slice(number.span), number.kind, amount);
            edits.extend(becomes.map(|becomes| (number.span, becomes, index)));
        }
    }
    put(scene, edits, "number", "no number here")
}

/// Pairs whose halves are each other's counterpart in every language.
const COUNTERPARTS: &[[&str; 2]] = &[
    ["true", "false"],
    ["yes", "no"],
    ["on", "off"],
    ["and", "or"],
    ["===", "!=="],
    ["==", "!="],
    ["&&", "||"],
    ["<=", ">="],
    ["<", ">"],
];

/// Each value at a caret, or the next one on its line, and each value that is selected, becomes its counterpart.
pub fn flip(scene: &Scene) -> Outcome {
    let text = scene.text;
    let mut edits: Vec<(Span, String, usize)> = Vec::new();
    for (index, each) in scene.cursors.iter().enumerate() {
        let language = scene.language_at(each.start());
        let own = language.counterparts.iter().map(|[one, other]| [one.as_str(), other.as_str()]);
        let pairs: Vec<[&str; 2]> = own.chain(COUNTERPARTS.iter().copied()).collect();
        let (content, start) = match each.is_caret() {
            true => line_at(scene, each.head),
            false => (text.slice(each.span()).into_owned(), each.start()),
        };
        let found = tokens(&content).into_iter().filter_map(|token| {
            let span = Span::new(start + token.start, start + token.end);
            let becomes = counterpart(&content[token], &pairs)?;
            (!each.is_caret() || span.end >= each.head).then_some((span, becomes, index))
        });
        match each.is_caret() {
            true => edits.extend(found.take(1)),
            false => edits.extend(found),
        }
    }
    put(scene, edits, "value", "no value here that has a counterpart")
}

/// Words and runs of operators.
fn tokens(content: &str) -> Vec<std::ops::Range<usize>> {
    let class = |c: char| match c {
        c if c.is_alphanumeric() || c == '_' => 1,
        '=' | '!' | '<' | '>' | '&' | '|' => 2,
        _ => 0,
    };
    let mut found: Vec<(std::ops::Range<usize>, i32)> = Vec::new();
    for (at, c) in content.char_indices() {
        match found.last_mut() {
            Some((range, before)) if *before == class(c) && range.end == at => range.end += c.len_utf8(),
            _ => found.push((at..at + c.len_utf8(), class(c))),
        }
    }
    found.into_iter().filter(|(_, class)| *class > 0).map(|(range, _)| range).collect()
}

/// The counterpart of `word`, in its case.
fn counterpart(word: &str, pairs: &[[&str; 2]]) -> Option<String> {
    let other = |word: &str| {
        pairs.iter().find_map(|[one, other]| match () {
            () if word == *one => Some(*other),
            () if word == *other => Some(*one),
            () => None,
        })
    };
    if let Some(found) = other(word) {
        return Some(found.to_owned());
    }
    let found = other(&word.to_lowercase())?;
    let is_upper = word.chars().all(|c| !c.is_lowercase());
    let mut letters = found.chars();
    match is_upper {
        true => Some(found.to_uppercase()),
        false => letters.next().map(|first| first.to_uppercase().chain(letters).collect()),
    }
}

/// Puts each text in the place of its span; a selection stays over what it covered, a caret goes to the end.
fn put(scene: &Scene, mut edits: Vec<(Span, String, usize)>, what: &str, none: &str) -> Outcome {
    edits.sort_by_key(|(span, ..)| span.start);
    edits.dedup_by_key(|(span, ..)| span.start);
    if edits.is_empty() {
        return Outcome::nothing(none);
    }
    let mut builder = ChangeBuilder::new(scene.text);
    let mut carets: Vec<Option<Byte>> = vec![None; scene.cursors.len()];
    for (span, with, index) in &edits {
        let start = builder.now(span.start);
        builder.replace(*span, with);
        if scene.cursors.list()[*index].is_caret() {
            carets[*index] = Some(start + with.len());
        }
    }
    let change = builder.finish();
    let mapped = scene.remap(&change, |_| [Bias::Before, Bias::After]);
    let list: Vec<Selection> = if mapped.len() == carets.len() {
        mapped
            .iter()
            .zip(&carets)
            .map(|(each, at)| at.map_or(each, |at| Selection::caret(at).aged(each.born)))
            .collect()
    } else {
        mapped.list().to_vec()
    };
    let primary = mapped.primary_index();
    let cursors = CursorSet::of(list, primary);
    Outcome::edit(change, cursors).saying(format!("changed {}", counted(edits.len(), what)))
}
