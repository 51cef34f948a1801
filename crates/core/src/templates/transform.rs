//! What becomes of the value of a variable: a regular expression, and a format for what it matches.

use regex::{Captures, Regex, RegexBuilder};

/// A part of a format.
#[derive(Clone, Debug)]
pub(super) enum Format {
    /// Text as it is.
    Text(String),
    /// What a group matched.
    Group(usize),
    /// The same in another case.
    Cased(usize, Case),
    /// One text where the group matched something, another where it did not.
    Either(usize, String, String),
    /// What a group matched, or this where it matched nothing.
    Or(usize, String),
}

/// A change of case.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Case {
    Up,
    Down,
    Capitalized,
}

/// A transform.
#[derive(Clone, Debug)]
pub(super) struct Transform {
    pattern: Regex,
    format: Vec<Format>,
    is_global: bool,
}

impl Transform {
    /// Of a pattern, a format and the options as they are written.
    ///
    /// # Errors
    /// What is wrong with the pattern or the options.
    pub fn new(pattern: &str, format: Vec<Format>, options: &str) -> Result<Transform, String> {
        let mut builder = RegexBuilder::new(pattern);
        let mut is_global = false;
        for option in options.chars() {
            match option {
                'g' => is_global = true,
                'i' => drop(builder.case_insensitive(true)),
                'm' => drop(builder.multi_line(true)),
                's' => drop(builder.dot_matches_new_line(true)),
                'u' => {}
                _ => return Err(format!("no option {option:?} of a regular expression: g, i, m, s and u are")),
            }
        }
        let pattern = builder.build().map_err(|error| {
            let lines = error.to_string();
            let last = lines.lines().last().unwrap_or_default().trim();
            format!("the regular expression: {}", last.strip_prefix("error: ").unwrap_or(last))
        })?;
        Ok(Transform { pattern, format, is_global })
    }

    /// What it makes of `value`. Cost: linear in the value for each match.
    pub fn apply(&self, value: &str) -> String {
        let put = |found: &Captures| self.format.iter().map(|part| part.of(found)).collect::<String>();
        match self.is_global {
            true => self.pattern.replace_all(value, put).into_owned(),
            false => self.pattern.replace(value, put).into_owned(),
        }
    }
}

impl Format {
    fn of(&self, found: &Captures) -> String {
        let group = |index: usize| found.get(index).map_or("", |group| group.as_str());
        match self {
            Format::Text(text) => text.clone(),
            Format::Group(index) => group(*index).to_owned(),
            Format::Cased(index, Case::Up) => group(*index).to_uppercase(),
            Format::Cased(index, Case::Down) => group(*index).to_lowercase(),
            Format::Cased(index, Case::Capitalized) => {
                let mut letters = group(*index).chars();
                let first = letters.next().into_iter().flat_map(char::to_uppercase);
                first.collect::<String>() + letters.as_str()
            }
            Format::Either(index, yes, no) => if group(*index).is_empty() { no } else { yes }.clone(),
            Format::Or(index, otherwise) => match group(*index) {
                "" => otherwise.clone(),
                matched => matched.to_owned(),
            },
        }
    }
}
