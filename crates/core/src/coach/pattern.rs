//! The patterns: a table of stretches of strokes and of what may be shorter, read once.
//!
//! A stretch is written as tokens with spaces between them. A token is the name of a verb, several with `|` between them, or `type` for
//! typed text of any kind; a quantifier of the `regex` crate may follow it (`char-right{4,}`, `paste?`). Parentheses that are written by
//! themselves group tokens: `( line-down tab-stop ){2,}`. What is typed in the token or group called `typed=` is what the step `TYPED` of a
//! way types.

use super::way::Way;
use regex::Regex;
use serde::Deserialize;
use std::collections::HashMap;
use std::ops::Range;
use std::sync::LazyLock;

/// A stretch of strokes that a shorter way may do.
#[derive(Clone, Debug)]
pub struct Pattern {
    /// Its name, kebab-case.
    pub name: String,
    /// The verb that helps.
    pub helps: String,
    /// The ways that may be shorter, in the order to try them in.
    pub ways: Vec<Way>,
    forms: Vec<Form>,
}

/// A form of a stretch: a token at its end that may be left out makes two of them.
#[derive(Clone, Debug)]
struct Form {
    regex: Regex,
    /// Whether the stretch could have gone on.
    is_open: bool,
    /// The tokens that occur in it: one of them is its last. For typed text of any kind it is [`TYPED`].
    tokens: Vec<String>,
}

/// Typed text of any kind, as the table writes it; its tokens begin with it.
const TYPED: &str = "type";

/// A pattern is its name.
impl PartialEq for Pattern {
    fn eq(&self, other: &Pattern) -> bool {
        self.name == other.name
    }
}

impl Eq for Pattern {}

/// All patterns.
#[derive(Debug)]
pub struct Patterns {
    /// In the order of the table.
    pub all: Vec<Pattern>,
    /// The forms that a stroke may end, by its token: each as a pattern and one of its forms.
    ended_by: HashMap<String, Vec<[usize; 2]>>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Table {
    pattern: Vec<Row>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Row {
    name: String,
    keys: String,
    helps: String,
    ways: Vec<String>,
}

/// The table that is shipped.
///
/// # Panics
/// If it cannot be read: a test reads it.
#[must_use]
pub fn patterns() -> &'static Patterns {
    static ALL: LazyLock<Patterns> = LazyLock::new(|| Patterns::read(include_str!("patterns.toml")));
    &ALL
}

impl Patterns {
    fn read(table: &str) -> Patterns {
        let table: Table = toml::from_str(table).expect("the table of patterns is TOML");
        let all: Vec<Pattern> = table.pattern.into_iter().map(Pattern::of).collect();
        let mut ended_by: HashMap<String, Vec<[usize; 2]>> = HashMap::new();
        for (index, pattern) in all.iter().enumerate() {
            for (number, form) in pattern.forms.iter().enumerate() {
                form.tokens.iter().for_each(|token| ended_by.entry(token.clone()).or_default().push([index, number]));
            }
        }
        Patterns { all, ended_by }
    }

    /// The pattern called `name`.
    #[must_use]
    pub fn named(&self, name: &str) -> Option<&Pattern> {
        self.all.iter().find(|pattern| pattern.name == name)
    }

    /// The patterns that end with the end of `line`, those that could go on or those that could not; each with where it matches, and where
    /// what was typed is.
    pub(super) fn matching(&self, line: &str, is_open: bool) -> Vec<(&Pattern, Range<usize>, Range<usize>)> {
        let last = line.trim_end().rsplit(' ').next().unwrap_or_default();
        let ends = |token: &str| self.ended_by.get(token).map_or(&[][..], Vec::as_slice);
        let of_typed = if last.starts_with(TYPED) { ends(TYPED) } else { &[] };
        let mut which: Vec<[usize; 2]> = ends(last).iter().chain(of_typed).copied().collect();
        which.sort_unstable();
        which.dedup();
        let which = which.into_iter().map(|[pattern, form]| (&self.all[pattern], &self.all[pattern].forms[form]));
        let matched = which.filter(|(_, form)| form.is_open == is_open).filter_map(|(pattern, form)| {
            let captures = form.regex.captures(line)?;
            let typed = captures.name("typed").map_or(0..0, |typed| typed.range());
            Some((pattern, captures.name("all")?.range(), typed))
        });
        matched.collect()
    }
}

impl Pattern {
    fn of(row: Row) -> Pattern {
        let Row { name, keys, helps, ways } = row;
        let tokens: Vec<&str> = keys.split_whitespace().collect();
        let forms = match tokens.split_last() {
            Some((last, before)) if last.ends_with('?') => {
                let with: Vec<&str> = before.iter().copied().chain([&last[..last.len() - 1]]).collect();
                vec![Form::of(before), Form::of(&with)]
            }
            _ => vec![Form::of(&tokens)],
        };
        let ways = ways.iter().map(|way| Way::read(way)).collect();
        Pattern { name, helps, ways, forms }
    }
}

impl Form {
    fn of(tokens: &[&str]) -> Form {
        let all: String = tokens.iter().copied().map(token).collect();
        let regex =
            Regex::new(&format!("(?:^| )(?P<all>{all})$")).unwrap_or_else(|error| panic!("{tokens:?}: {error}"));
        let is_open = tokens.last().is_some_and(|last| last.ends_with(['+', '*']) || last.ends_with(",}"));
        let words = tokens.iter().filter(|token| !token.starts_with(')') && !token.ends_with('('));
        let tokens = words.flat_map(|word| names(word).0.split('|')).map(str::to_owned).collect();
        Form { regex, is_open, tokens }
    }
}

/// A token of the table as a part of a regular expression.
fn token(word: &str) -> String {
    let (word, name) = match word.strip_prefix("typed=") {
        Some(word) => (word, "(?P<typed>"),
        None => (word, ""),
    };
    let end = if name.is_empty() { "" } else { ")" };
    if word == "(" {
        return format!("{name}(?:");
    }
    if let Some(quantifier) = word.strip_prefix(')') {
        return format!("){quantifier}");
    }
    let (names, quantifier) = names(word);
    let names: Vec<&str> = names.split('|').map(|name| if name == TYPED { "type-[a-z]+" } else { name }).collect();
    format!("{name}(?:(?:{}) ){quantifier}{end}", names.join("|"))
}

/// The names of a token, and its quantifier.
fn names(word: &str) -> (&str, &str) {
    let word = word.strip_prefix("typed=").unwrap_or(word);
    word.split_at(word.find(['{', '+', '*', '?']).unwrap_or(word.len()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_table_is_read_and_its_names_are_its_own() {
        let all = &patterns().all;
        assert!(all.len() >= 30, "{}", all.len());
        for pattern in all {
            assert!(all.iter().filter(|other| other.name == pattern.name).count() == 1, "{}", pattern.name);
            assert!(!pattern.ways.is_empty() && !pattern.helps.is_empty(), "{}", pattern.name);
        }
        assert!(patterns().named("cut-to-carry-down").is_some() && patterns().named("ebb").is_none());
    }

    #[test]
    fn tokens_are_whole_names_with_quantifiers_and_groups() {
        let of = |keys: &str| {
            let row = Row { name: "x".to_owned(), keys: keys.to_owned(), helps: String::new(), ways: Vec::new() };
            Pattern::of(row)
        };
        let pattern = of("( line-down|line-up tab-stop ){2} typed=type+ paste?");
        let is_open: Vec<bool> = pattern.forms.iter().map(|form| form.is_open).collect();
        assert_eq!((is_open, of("cut paste").forms.len()), (vec![true, false], 1));
        for (line, matches) in [
            ("line-up tab-stop line-down tab-stop type-word ", [true, false]),
            ("line-up tab-stop line-down tab-stop type-word type-space paste ", [false, true]),
            ("line-up tab-stop type-word ", [false, false]),
            ("line-up tab-stop line-down tab-stop paste ", [false, false]),
            ("extend-line-up tab-stop line-down tab-stop type-word ", [false, false]),
        ] {
            let found: Vec<bool> = pattern.forms.iter().map(|form| form.regex.is_match(line)).collect();
            assert_eq!(found, matches, "{line}");
        }
    }
}
