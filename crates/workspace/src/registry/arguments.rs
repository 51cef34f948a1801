//! The arguments of verbs: typed, checked in one place, whoever gives them (a key, lookup, a script, the command line).

use regex::Regex;
use snarvel_core::search::pattern::{self, Case, Pattern, Query};
use snarvel_core::text::place::Place;
use std::fmt;
use std::sync::Arc;

/// What an argument is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Form {
    /// A whole number within bounds.
    Number {
        /// The least.
        least: i64,
        /// The most.
        most: i64,
    },
    /// A regular expression as written, no smart case; slashes around it may be left out.
    Pattern,
    /// What is looked for in a text, over lines too: a regular expression as in finding, upper and lower case as written.
    Search,
    /// One of these words.
    Choice(&'static [&'static str]),
    /// One of these words, else a pattern.
    ChoiceOrPattern(&'static [&'static str]),
    /// Any text.
    Text,
    /// One character.
    Character,
    /// A place of the text.
    Place,
}

/// An argument of a verb.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Argument {
    /// What it is called.
    pub name: &'static str,
    /// What it is.
    pub form: Form,
    /// How it is shown to a person.
    pub shown: &'static str,
    /// What holds where it is left out; empty where it must be given.
    pub default: &'static str,
}

/// The arguments of a verb.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Arguments {
    /// It takes none.
    None,
    /// Everything that is given is this one.
    One(Argument),
    /// These, separated by commas, in this order.
    List(&'static [Argument]),
    /// These words, separated by white space, in any order. A pattern comes after its name and takes the rest.
    Words(&'static [Argument]),
}

/// The value of an argument.
#[derive(Clone, Debug)]
pub enum Value {
    /// A number.
    Number(i64),
    /// A pattern.
    Pattern(Regex),
    /// What is looked for.
    Search(Arc<Pattern>),
    /// A word.
    Choice(&'static str),
    /// A text.
    Text(String),
    /// A character.
    Character(char),
    /// A place.
    Place(Place),
}

/// The values of a verb's arguments, in their order; some may be left out.
#[derive(Clone, Debug, Default)]
pub struct Values(Vec<Option<Value>>);

/// An argument that is none: what was given, and what is wrong with it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct WrongArgument(String);

impl fmt::Display for WrongArgument {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        out.write_str(&self.0)
    }
}

impl Values {
    /// These values, all of them given.
    #[must_use]
    pub fn of(values: impl IntoIterator<Item = Value>) -> Values {
        Values(values.into_iter().map(Some).collect())
    }

    /// Whether none is given.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.0.iter().all(Option::is_none)
    }

    /// Whether one is a place that was clicked on.
    #[must_use]
    pub fn has_clicked_place(&self) -> bool {
        self.0.iter().any(|value| matches!(value, Some(Value::Place(Place::Byte(_)))))
    }

    fn get(&self, index: usize) -> Option<&Value> {
        self.0.get(index).and_then(Option::as_ref)
    }

    /// Whether the `index`th is given.
    #[must_use]
    pub fn has(&self, index: usize) -> bool {
        self.get(index).is_some()
    }

    /// The `index`th, as it is written.
    #[must_use]
    pub fn written(&self, index: usize) -> Option<String> {
        Some(match self.get(index)? {
            Value::Number(number) => number.to_string(),
            Value::Pattern(pattern) => format!("/{}/", pattern.as_str()),
            Value::Search(pattern) => format!("/{}/", pattern.wish().what),
            Value::Choice(word) => (*word).to_owned(),
            Value::Text(text) => text.clone(),
            Value::Character(c) => c.to_string(),
            Value::Place(place) => place.to_string(),
        })
    }

    /// The `index`th, if it is a number.
    #[must_use]
    pub fn number(&self, index: usize) -> Option<i64> {
        if let Some(Value::Number(number)) = self.get(index) { Some(*number) } else { None }
    }

    /// The `index`th, if it is a pattern.
    #[must_use]
    pub fn pattern(&self, index: usize) -> Option<&Regex> {
        if let Some(Value::Pattern(pattern)) = self.get(index) { Some(pattern) } else { None }
    }

    /// The `index`th, if it is looked for.
    #[must_use]
    pub fn search(&self, index: usize) -> Option<&Pattern> {
        if let Some(Value::Search(pattern)) = self.get(index) { Some(pattern) } else { None }
    }

    /// The `index`th, if it is a word.
    #[must_use]
    pub fn choice(&self, index: usize) -> Option<&'static str> {
        if let Some(Value::Choice(word)) = self.get(index) { Some(word) } else { None }
    }

    /// The `index`th, if it is a text.
    #[must_use]
    pub fn text(&self, index: usize) -> Option<&str> {
        if let Some(Value::Text(text)) = self.get(index) { Some(text) } else { None }
    }

    /// The `index`th, if it is a character.
    #[must_use]
    pub fn character(&self, index: usize) -> Option<char> {
        if let Some(Value::Character(c)) = self.get(index) { Some(*c) } else { None }
    }

    /// The `index`th, if it is a place.
    #[must_use]
    pub fn place(&self, index: usize) -> Option<Place> {
        if let Some(Value::Place(place)) = self.get(index) { Some(*place) } else { None }
    }
}

impl Arguments {
    /// Whether there are none.
    #[must_use]
    pub fn is_none(&self) -> bool {
        matches!(self, Arguments::None)
    }

    fn list(&self) -> &[Argument] {
        match self {
            Arguments::None => &[],
            Arguments::One(only) => std::slice::from_ref(only),
            Arguments::List(list) | Arguments::Words(list) => list,
        }
    }

    /// Whether white space at the end of what is given counts.
    #[must_use]
    pub fn takes_white_space(&self) -> bool {
        matches!(
            self,
            Arguments::One(Argument { form: Form::Text | Form::Character | Form::Pattern | Form::Search, .. })
        )
    }

    /// How they are shown to a person.
    #[must_use]
    pub fn shown(&self) -> String {
        let shown: Vec<&str> = self.list().iter().map(|each| each.shown).collect();
        match self {
            // What may be left out at the end is shown as a second form.
            Arguments::List([first, rest @ ..]) if first.default.is_empty() => {
                format!(
                    "{} or {},{}",
                    first.shown,
                    first.shown,
                    rest.iter().map(|each| each.shown).collect::<Vec<_>>().join(",")
                )
            }
            Arguments::List(_) => shown.join(","),
            _ => shown.join(", "),
        }
    }

    /// The default of each argument that has one: its name and what holds.
    pub fn defaults(&self) -> impl Iterator<Item = (&'static str, &'static str)> {
        self.list().iter().filter(|each| !each.default.is_empty()).map(|each| (each.name, each.default))
    }

    /// Whether one character is all that is asked for: then one key gives it.
    #[must_use]
    pub fn is_character(&self) -> bool {
        matches!(self, Arguments::One(Argument { form: Form::Character, .. }))
    }

    /// Reads what was given for the verb called `verb`.
    ///
    /// # Errors
    /// One that is none, or one that is missing.
    pub fn read(&self, verb: &str, given: &str) -> Result<Values, WrongArgument> {
        let values = match self {
            Arguments::None if given.is_empty() => return Ok(Values::default()),
            Arguments::None => return Err(WrongArgument(format!("{verb} takes no argument"))),
            Arguments::One(_) if given.is_empty() => Values(vec![None]),
            Arguments::One(only) => Values(vec![Some(only.read(verb, given)?)]),
            Arguments::List(list) => read_list(verb, list, given)?,
            Arguments::Words(list) => read_words(verb, list, given)?,
        };
        let missing =
            self.list().iter().zip(&values.0).find(|(each, value)| each.default.is_empty() && value.is_none());
        match missing {
            Some((argument, _)) if argument.form != Form::Text => {
                Err(WrongArgument(format!("{verb} takes {}", self.shown())))
            }
            _ => Ok(values),
        }
    }
}

fn read_list(verb: &str, list: &[Argument], given: &str) -> Result<Values, WrongArgument> {
    let mut values = vec![None; list.len()];
    if given.trim().is_empty() {
        return Ok(Values(values));
    }
    for (index, part) in given.split(',').map(str::trim).enumerate() {
        let Some(argument) = list.get(index) else {
            return Err(WrongArgument(format!("{verb} takes {} at most: {}", list.len(), shown_as_list(list))));
        };
        if !part.is_empty() {
            values[index] = Some(argument.read(verb, part)?);
        }
    }
    Ok(Values(values))
}

fn shown_as_list(list: &[Argument]) -> String {
    list.iter().map(|each| each.shown).collect::<Vec<_>>().join(",")
}

fn read_words(verb: &str, list: &[Argument], given: &str) -> Result<Values, WrongArgument> {
    let mut values = vec![None; list.len()];
    let mut rest = given.trim();
    while !rest.is_empty() {
        let (word, tail) = rest.split_once(char::is_whitespace).unwrap_or((rest, ""));
        let word = word.trim_end_matches(',');
        let by_name = |each: &Argument| each.form == Form::Pattern && each.name == word;
        let by_choice = |each: &Argument| matches!(each.form, Form::Choice(words) if words.contains(&word));
        if let Some(index) = list.iter().position(by_choice) {
            values[index] = Some(list[index].read(verb, word)?);
            rest = tail.trim_start();
        } else if let Some(index) = list.iter().position(by_name) {
            values[index] = Some(list[index].read(verb, tail.trim())?);
            rest = "";
        } else {
            let known = list.iter().map(|each| each.shown).collect::<Vec<_>>().join(", ");
            return Err(WrongArgument(format!("{verb} knows no {word:?}: {known} are")));
        }
    }
    Ok(Values(values))
}

impl Argument {
    fn read(&self, verb: &str, given: &str) -> Result<Value, WrongArgument> {
        let wrong = |why: String| WrongArgument(format!("{verb}: {why}"));
        match self.form {
            Form::Number { least, most } => match given.trim().parse::<i64>() {
                Ok(number) if (least..=most).contains(&number) => Ok(Value::Number(number)),
                Ok(_) if most == i64::MAX => {
                    Err(wrong(format!("{} is a number from {least} on, not {given:?}", self.name)))
                }
                Ok(_) => Err(wrong(format!("{} is a number from {least} to {most}, not {given:?}", self.name))),
                Err(_) => Err(wrong(format!("{given:?} is no number: {} is one", self.name))),
            },
            Form::Pattern => pattern(given).map(Value::Pattern).map_err(wrong),
            Form::Search => searched(given).map(Value::Search).map_err(wrong),
            Form::Choice(words) | Form::ChoiceOrPattern(words) => {
                let word = words.iter().find(|word| **word == given.trim());
                match (word, self.form) {
                    (Some(word), _) => Ok(Value::Choice(word)),
                    (None, Form::ChoiceOrPattern(_)) => pattern(given).map(Value::Pattern).map_err(wrong),
                    (None, _) => Err(wrong(format!("{given:?} is unknown: {} is", words.join(", ")))),
                }
            }
            Form::Text => Ok(Value::Text(given.to_owned())),
            Form::Character => {
                let mut characters = given.chars();
                match (characters.next(), characters.next()) {
                    (Some(c), None) => Ok(Value::Character(c)),
                    _ => Err(wrong(format!("{} is one character, not {given:?}", self.name))),
                }
            }
            Form::Place => Place::parse(given)
                .map(Value::Place)
                .ok_or_else(|| wrong(format!("{given:?} is no place: {} are", "123, 123:7, +20, -5, 50%"))),
        }
    }
}

/// What is between the slashes of `/pattern/`, or `pattern`.
fn expression(given: &str) -> Result<&str, String> {
    let trimmed = given.trim_end();
    let inner = trimmed.strip_prefix('/').and_then(|rest| rest.strip_suffix('/')).filter(|_| trimmed.len() > 1);
    let inner = inner.unwrap_or(given);
    if inner.is_empty() { Err("a pattern is needed".to_owned()) } else { Ok(inner) }
}

/// Reads what is looked for: `/pattern/` or `pattern`.
fn searched(given: &str) -> Result<Arc<Pattern>, String> {
    let what = expression(given)?.replace(r"\/", "/");
    let query = Query { what: what.clone(), form: pattern::Form::Expression, case: Case::Exact, ..Query::default() };
    Pattern::new(query).map(Arc::new).map_err(|wrong| format!("the pattern {what}: {wrong}"))
}

/// Reads `/pattern/` or `pattern`.
fn pattern(given: &str) -> Result<Regex, String> {
    let inner = expression(given)?;
    Regex::new(inner).map_err(|error| {
        let text = error.to_string();
        format!("the pattern {inner}: {}", text.lines().last().unwrap_or("it is wrong"))
    })
}

impl Arguments {
    /// `values` as they are written after the verb.
    #[must_use]
    pub fn written(&self, values: &Values) -> String {
        match self {
            Arguments::None => String::new(),
            Arguments::One(_) => values.written(0).unwrap_or_default(),
            Arguments::List(list) => {
                let parts: Vec<String> =
                    (0..list.len()).map(|index| values.written(index).unwrap_or_default()).collect();
                parts.join(",").trim_end_matches(',').to_owned()
            }
            Arguments::Words(list) => {
                let word = |index: usize| {
                    let written = values.written(index)?;
                    Some(if values.pattern(index).is_some() {
                        format!("{} {written}", list[index].name)
                    } else {
                        written
                    })
                };
                (0..list.len()).filter_map(word).collect::<Vec<_>>().join(" ")
            }
        }
    }
}

#[cfg(test)]
mod tests {

    use crate::registry::by_name;

    #[test]
    fn arguments_are_read_and_what_is_wrong_is_said() {
        for (verb, given, expected) in [
            ("every-nth", "2", Ok("[Some(Number(2)), None]")),
            ("every-nth", "2, 3", Ok("[Some(Number(2)), Some(Number(3))]")),
            ("every-nth", "", Err("every-nth takes N or N,K")),
            ("every-nth", "0", Err("every-nth: N is a number from 1 to 4294967295, not \"0\"")),
            ("every-nth", "x", Err("every-nth: \"x\" is no number: N is one")),
            ("every-nth", "1,2,3", Err("every-nth takes 2 at most: N,K")),
            ("number", "", Ok("[None, None, None]")),
            ("number", "a,2", Ok("[Some(Text(\"a\")), Some(Number(2)), None]")),
            ("number", "1,1,65", Err("number: width is a number from 0 to 64, not \"65\"")),
            ("sort-lines", "desc case", Ok("[Some(Choice(\"desc\")), Some(Choice(\"case\")), None]")),
            ("sort-lines", "desc, by /a b/", Ok("[Some(Choice(\"desc\")), None, Some(Pattern(Regex(\"a b\")))]")),
            ("sort-lines", "up", Err("sort-lines knows no \"up\": desc, case, by /pattern/ are")),
            ("sort-lines", "by (", Err("sort-lines: the pattern (: error: unclosed group")),
            ("filter-keep", "code", Ok("[Some(Choice(\"code\"))]")),
            ("filter-keep", "/^f/", Ok("[Some(Pattern(Regex(\"^f\")))]")),
            ("split-at", ", ", Ok("[Some(Pattern(Regex(\", \")))]")),
            ("split-at", "", Err("split-at takes /pattern/")),
            ("go-to-line", "12:3", Ok("[Some(Place(At(LineColumn { line: 12, column: 3 })))]")),
            ("go-to-line", "x", Err("go-to-line: \"x\" is no place: 123, 123:7, +20, -5, 50% are")),
            ("surround", "ab", Err("surround: pair is one character, not \"ab\"")),
            ("column", "rag", Err("column: \"rag\" is unknown: ragged is")),
            ("type-text", "", Ok("[None]")),
            ("undo", "x", Err("undo takes no argument")),
        ] {
            let read = by_name(verb).unwrap().arguments.read(verb, given);
            let found = read.map(|values| format!("{:?}", values.0)).map_err(|wrong| wrong.to_string());
            assert_eq!(found.as_deref().map_err(String::as_str), expected, "{verb}({given})");
        }
    }
}
