//! What comes in the place of a hit.
//!
//! After a literal it is as it was typed. After an expression `$1` and `${name}` are its groups (`$0` the whole
//! hit), `$$` a dollar sign, `\n` a line end, `\t` a tab, `\\` a backslash; `\u` and `\l` change the case of the next
//! letter, `\U` and `\L` that of all up to `\E`.

use super::pattern::{Form, Pattern};
use crate::changes::{Change, ChangeBuilder};
use crate::text::{LineEnd, Text};
use crate::units::Span;
use std::borrow::Cow;

/// What comes in the place of a hit, ready to be put in.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Replacement {
    parts: Vec<ReplacementPart>,
    shape: HitShape,
}

/// Whether the letters of a hit give their shape to what comes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum HitShape {
    /// A hit that begins with an upper-case letter, or is upper case throughout, was found by a literal pattern without any: what comes
    /// begins so or is so, too. Of an expression nothing is told by a hit: its replacement changes case by `\\U` and `\\L`.
    #[default]
    Given,
    /// What comes is as it was typed.
    Ignored,
}

#[derive(Clone, Debug, PartialEq, Eq)]
enum ReplacementPart {
    Text(String),
    LineEnd,
    Group(usize),
    Turn(Turn),
}

/// What happens to the case of what follows.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Turn {
    NextUpper,
    NextLower,
    Upper,
    Lower,
    End,
}

impl Replacement {
    /// Reads what was typed as the replacement of `pattern`'s hits.
    ///
    /// # Errors
    /// A group that the pattern does not have, an escape that is none.
    pub fn new(typed: &str, pattern: &Pattern, shape: HitShape) -> Result<Replacement, String> {
        let is_literal = pattern.wish().form == Form::Literal;
        let shape = if pattern.is_smart && is_literal { shape } else { HitShape::Ignored };
        if is_literal {
            return Ok(Replacement { parts: vec![ReplacementPart::Text(typed.to_owned())], shape });
        }
        let mut parts = Vec::new();
        let mut rest = typed;
        while let Some(at) = rest.find(['$', '\\']) {
            parts.push(ReplacementPart::Text(rest[..at].to_owned()));
            let (part, behind) = special(&rest[at..], pattern)?;
            parts.push(part);
            rest = behind;
        }
        parts.push(ReplacementPart::Text(rest.to_owned()));
        parts.retain(|part| *part != ReplacementPart::Text(String::new()));
        Ok(Replacement { parts, shape })
    }

    /// Whether it has groups of a hit in it.
    #[must_use]
    pub fn has_groups(&self) -> bool {
        self.parts.iter().any(|part| matches!(part, ReplacementPart::Group(_)))
    }

    /// What replaces a hit with these groups.
    #[must_use]
    pub fn of(&self, groups: &[Option<&str>], line_end: LineEnd) -> String {
        let mut out = String::new();
        let (mut all, mut next) = (None, None);
        for part in &self.parts {
            let text = match part {
                ReplacementPart::Text(text) => text.as_str(),
                ReplacementPart::LineEnd => line_end.as_str(),
                ReplacementPart::Group(index) => groups.get(*index).copied().flatten().unwrap_or(""),
                ReplacementPart::Turn(turn) => {
                    match turn {
                        Turn::NextUpper | Turn::NextLower => next = Some(*turn),
                        Turn::Upper | Turn::Lower => all = Some(*turn),
                        Turn::End => all = None,
                    }
                    continue;
                }
            };
            for c in text.chars() {
                match next.take().or(all) {
                    Some(Turn::NextUpper | Turn::Upper) => out.extend(c.to_uppercase()),
                    Some(Turn::NextLower | Turn::Lower) => out.extend(c.to_lowercase()),
                    _ => out.push(c),
                }
            }
        }
        out
    }

    /// The change that replaces `hits`, which are in order and were found in `within` of `text`. One that is no hit any
    /// more, or would stay as it is, is left out.
    #[must_use]
    pub fn change(&self, text: &Text, pattern: &Pattern, hits: &[Span], line_end: LineEnd) -> Change {
        let mut builder = ChangeBuilder::new(text);
        let mut put = |hit: Span, with: &str| {
            let found = text.slice(hit);
            let with = if self.shape == HitShape::Given { shaped_like(&found, with) } else { Cow::Borrowed(with) };
            if found != with {
                builder.replace(hit, &with);
            }
        };
        if self.has_groups() {
            pattern.each_with_groups(text, hits, |hit, groups| {
                if !groups.is_empty() {
                    put(hit, &self.of(groups, line_end));
                }
            });
        } else {
            let with = self.of(&[], line_end);
            pattern.each_that_is(text, hits, |hit| put(hit, &with));
        }
        builder.finish()
    }
}

/// `with` in the shape of `found`.
fn shaped_like<'w>(found: &str, with: &'w str) -> Cow<'w, str> {
    let mut cased = found.chars().filter(|c| c.is_uppercase() || c.is_lowercase());
    let (first, second) = (cased.next(), cased.next());
    let is_upper = |c: char| c.is_uppercase();
    let begins = found.starts_with(is_upper);
    let mut letters = with.chars();
    match (letters.next(), first, second) {
        (Some(_), Some(first), Some(second)) if is_upper(first) && is_upper(second) && cased.all(is_upper) => {
            Cow::Owned(with.to_uppercase())
        }
        (Some(one), ..) if begins && one.is_lowercase() => Cow::Owned(one.to_uppercase().chain(letters).collect()),
        _ => Cow::Borrowed(with),
    }
}

/// What begins at a `$` or `\`, and what is after it.
fn special<'a>(rest: &'a str, pattern: &Pattern) -> Result<(ReplacementPart, &'a str), String> {
    let mut characters = rest.chars();
    let first = characters.next();
    let second = characters.next();
    let behind = characters.as_str();
    if first == Some('\\') {
        let part = match second {
            Some('n') => ReplacementPart::LineEnd,
            Some('t') => ReplacementPart::Text("\t".to_owned()),
            Some(c @ ('\\' | '$')) => ReplacementPart::Text(c.to_string()),
            Some('u') => ReplacementPart::Turn(Turn::NextUpper),
            Some('l') => ReplacementPart::Turn(Turn::NextLower),
            Some('U') => ReplacementPart::Turn(Turn::Upper),
            Some('L') => ReplacementPart::Turn(Turn::Lower),
            Some('E') => ReplacementPart::Turn(Turn::End),
            Some(other) => return Err(format!("\\{other} is no escape: \\n \\t \\\\ \\$ \\u \\l \\U \\L \\E are")),
            None => return Err("a backslash stands at the end: \\\\ is one".to_owned()),
        };
        return Ok((part, behind));
    }
    let numbered = |digits: &str| {
        let index = digits.parse::<usize>().ok().filter(|&index| index <= pattern.groups());
        index.map(ReplacementPart::Group).ok_or_else(|| format!("the pattern has no group {digits}"))
    };
    match second {
        Some('$') => Ok((ReplacementPart::Text("$".to_owned()), behind)),
        Some('{') => {
            let (name, behind) = behind.split_once('}').ok_or("the } of ${ is missing")?;
            if !name.is_empty() && name.bytes().all(|byte| byte.is_ascii_digit()) {
                return Ok((numbered(name)?, behind));
            }
            let index = pattern.group(name).ok_or_else(|| format!("the pattern has no group {name:?}"))?;
            Ok((ReplacementPart::Group(index), behind))
        }
        Some('0'..='9') => {
            let digits = rest[1..].find(|c: char| !c.is_ascii_digit()).map_or(&rest[1..], |end| &rest[1..=end]);
            Ok((numbered(digits)?, &rest[1 + digits.len()..]))
        }
        _ => Ok((ReplacementPart::Text("$".to_owned()), &rest[1..])),
    }
}

#[cfg(test)]
mod tests {
    use super::super::pattern::Query;
    use super::*;
    use crate::languages;

    fn replaced(what: &str, with: &str, text: &str) -> Result<String, String> {
        let wish = Query { what: what.to_owned(), form: Form::Expression, ..Query::default() };
        let pattern = Pattern::new(wish).map_err(|error| error.to_string())?;
        let mut text = Text::from(text);
        let hits = pattern.all(&text, text.span(), languages::plain().word_rule());
        let change = Replacement::new(with, &pattern, HitShape::Given)?.change(&text, &pattern, &hits, LineEnd::Lf);
        text.apply(&change);
        Ok(text.to_string())
    }

    #[test]
    fn groups_escapes_and_case() {
        let rows = [
            (r"(\w+) (\w+)", "$2 $1", "low tide", "tide low"),
            (r"(?<a>\w+)_(?<b>\w+)", "${b}_${a}", "level_mm", "mm_level"),
            (r"(\w+)", "${1}s", "gauge", "gauges"),
            (r"\w+", "<$0>", "ebb flow", "<ebb> <flow>"),
            (", ", r",\n\t", "a, b", "a,\n\tb"),
            (r"(\w)(\w+)", r"\u$1\L$2\E!", "tIDE ebb", "Tide! Ebb!"),
            (r"(\w+)_(\w+)", r"\U$1\E_\l$2", "low_Tide", "LOW_tide"),
            (r"(\w+)", r"\u\L$1", "tIDE", "Tide"),
            (r"x", r"$$ \\ $ \$", "x", r"$ \ $ $"),
            (r"(a)|b", "[$1]", "ab", "[a][]"),
            (r"a(\n)b", "b${1}a", "a\r\nb", "b\r\na"),
            (r"^", "> ", "a\nb", "> a\n> b"),
            (r"(?s)a.b", "", "xa\nby", "xy"),
        ];
        for (what, with, text, expected) in rows {
            assert_eq!(replaced(what, with, text).unwrap(), expected, "{what} by {with}");
        }
    }

    #[test]
    fn what_is_no_replacement_says_why() {
        for (with, why) in [
            ("$2", "the pattern has no group 2"),
            ("${tide}", "the pattern has no group \"tide\""),
            ("${1", "the } of ${ is missing"),
            (r"\q", "\\q is no escape"),
            ("a\\", "a backslash stands at the end"),
        ] {
            let error = replaced("(a)", with, "a").unwrap_err();
            assert!(error.starts_with(why), "{with}: {error}");
        }
    }

    #[test]
    fn behind_a_literal_it_stands_as_typed() {
        let pattern = Pattern::new(Query { what: "a".to_owned(), ..Query::default() }).unwrap();
        let replacement = Replacement::new(r"$1\n", &pattern, HitShape::Given).unwrap();
        assert_eq!(replacement.of(&[], LineEnd::Lf), r"$1\n");
    }
}
