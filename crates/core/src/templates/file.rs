//! A file of templates: TOML, a `[[template]]` for each. What is wrong in one leaves the others in force.

use super::{Fits, Template, parse};
use crate::written::{Mistake, entries};
use toml::Spanned;
use toml::de::DeValue;

/// The name of the entries of a file.
const ENTRY: &str = "template";

/// The fields of an entry.
const FIELDS: [&str; 5] = ["name", "words", "body", "around", "where"];

/// Reads what a file holds: the templates that are right, and what is wrong. Cost: linear in the text.
#[must_use]
pub fn read(text: &str) -> (Vec<Template>, Vec<Mistake>) {
    let (table, mut mistakes) = entries(text);
    let mut templates = Vec::new();
    for (key, value) in table.get_ref() {
        let at = key.span().start;
        match (key.get_ref().as_ref(), value.get_ref()) {
            (ENTRY, DeValue::Array(entries)) => {
                for entry in entries {
                    match one(entry, text) {
                        Ok(template) => templates.push(template),
                        Err(mistake) => mistakes.push(mistake),
                    }
                }
            }
            (ENTRY, _) => mistakes.push(Mistake { at, what: "a template begins with [[template]]".to_owned() }),
            (name, _) => mistakes.push(Mistake { at, what: format!("no entry {name:?}: [[template]] is one") }),
        }
    }
    mistakes.sort_by_key(|mistake| mistake.at);
    (templates, mistakes)
}

type Field<'t, 'i> = Spanned<DeValue<'i>>;

fn one(entry: &Field, text: &str) -> Result<Template, Mistake> {
    let at = entry.span().start;
    let DeValue::Table(table) = entry.get_ref() else {
        return Err(Mistake { at, what: "a template is a table that begins with [[template]]".to_owned() });
    };
    if let Some((key, _)) = table.iter().find(|(key, _)| !FIELDS.contains(&key.get_ref().as_ref())) {
        let what = format!("no field {:?}: {} are", key.get_ref(), FIELDS.join(", "));
        return Err(Mistake { at: key.span().start, what });
    }
    let field = |name: &str| table.get(name);
    let needed = |name: &str| {
        field(name).ok_or_else(|| Mistake { at, what: format!("the template has no {name}: name and body are needed") })
    };
    let name = name_of(needed("name")?)?;
    let body_field = needed("body")?;
    let source = word_in(body_field, "body")?;
    let body = parse(&source).map_err(|wrong| Mistake {
        at: place_in(text, body_field, &source, wrong.at),
        what: format!("{name}: {}", wrong.why),
    })?;
    let words = field("words").map_or(Ok(Vec::new()), words_in)?;
    let is_around = field("around").map_or(Ok(false), |field| {
        let what = || Mistake { at: field.span().start, what: "around is true or false".to_owned() };
        field.get_ref().as_bool().ok_or_else(what)
    })?;
    let fits = field("where").map_or(Ok(Fits::Code), fits_in)?;
    Ok(Template { name, words, source, body, is_around, fits })
}

fn word_in(field: &Field, name: &str) -> Result<String, Mistake> {
    let wrong = || Mistake { at: field.span().start, what: format!("{name} is a text in quotes") };
    field.get_ref().as_str().map(str::to_owned).ok_or_else(wrong)
}

fn name_of(field: &Field) -> Result<String, Mistake> {
    let name = word_in(field, "name")?;
    let is_word = !name.is_empty() && !name.chars().any(char::is_whitespace);
    let what = || format!("name is one word, and {name:?} is none");
    if is_word { Ok(name) } else { Err(Mistake { at: field.span().start, what: what() }) }
}

/// Words in one text, separated by white space, or in a list.
fn words_in(field: &Field) -> Result<Vec<String>, Mistake> {
    let wrong = || Mistake { at: field.span().start, what: "words are a text, or a list of texts".to_owned() };
    let split = |text: &str| text.split_whitespace().map(str::to_owned).collect::<Vec<_>>();
    match field.get_ref() {
        DeValue::String(text) => Ok(split(text)),
        DeValue::Array(list) => {
            let words: Option<Vec<Vec<String>>> = list.iter().map(|word| word.get_ref().as_str().map(split)).collect();
            words.map(|words| words.concat()).ok_or_else(wrong)
        }
        _ => Err(wrong()),
    }
}

fn fits_in(field: &Field) -> Result<Fits, Mistake> {
    match field.get_ref().as_str() {
        Some("line") => Ok(Fits::Line),
        Some("code") => Ok(Fits::Code),
        Some("type") => Ok(Fits::Type),
        _ => {
            let what = "where is \"line\", \"code\" or \"type\"".to_owned();
            Err(Mistake { at: field.span().start, what })
        }
    }
}

/// The byte of the file at which byte `at` of a value is: exact where the value is written as it is, else where it begins.
fn place_in(text: &str, field: &Field, value: &str, at: usize) -> usize {
    let span = field.span();
    let written = text.get(span.clone()).unwrap_or_default();
    written.find(value).map_or(span.start, |offset| span.start + offset + at)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn told(text: &str) -> (Vec<String>, Vec<(usize, String)>) {
        let (templates, mistakes) = read(text);
        let line = |at: usize| text[..at].matches('\n').count() + 1;
        let names = templates.into_iter().map(|template| template.name).collect();
        (names, mistakes.into_iter().map(|mistake| (line(mistake.at), mistake.what)).collect())
    }

    #[test]
    fn fields_have_their_defaults() {
        let (templates, mistakes) = read("[[template]]\nname = \"sound\"\nbody = \"sound($1)\"\n");
        assert_eq!(mistakes, []);
        let only = &templates[0];
        assert_eq!((only.is_around, only.fits, only.words.len()), (false, Fits::Code, 0));
        let text = "[[template]]\nname = \"w\"\nwords = [\"loop\", \"again and\"]\nbody = \"x\"\naround = true\nwhere = \"line\"";
        let (templates, mistakes) = read(text);
        assert_eq!(mistakes, []);
        assert_eq!((templates[0].is_around, templates[0].fits), (true, Fits::Line));
        assert_eq!(templates[0].words, ["loop", "again", "and"]);
    }

    /// What is wrong, the line that is told, and a part of what is said.
    const WRONG: &[(&str, usize, &str)] = &[
        ("[[template]]\nbody = \"x\"", 1, "no name"),
        ("[[template]]\nname = \"x\"", 1, "no body"),
        ("[[template]]\nname = \"two words\"\nbody = \"x\"", 2, "one word"),
        ("[[template]]\nname = 3\nbody = \"x\"", 2, "text in quotes"),
        ("[[template]]\nname = \"x\"\nbody = \"\"\"\na\n${1:b\n\"\"\"", 6, "'}' is missing"),
        ("[[template]]\nname = \"x\"\nbody = \"$1\"\naround = 1", 4, "true or false"),
        ("[[template]]\nname = \"x\"\nbody = \"$1\"\nwhere = \"there\"", 4, "\"line\", \"code\" or \"type\""),
        ("[[template]]\nname = \"x\"\nbody = \"$1\"\nwords = [1]", 4, "list of texts"),
        ("[[template]]\nname = \"x\"\nbody = \"$1\"\nwhen = \"x\"", 4, "no field \"when\""),
        ("[[templates]]\nname = \"x\"", 1, "no entry \"templates\""),
        ("[[template]]\nname = \"x\nbody = \"y\"", 2, ""),
    ];

    #[test]
    fn templates_are_a_list_of_tables() {
        assert_eq!(told("template = 4").1, [(1, "a template begins with [[template]]".to_owned())]);
    }

    #[test]
    fn what_is_wrong_is_told_by_its_line_and_the_others_hold() {
        for (text, line, part) in WRONG {
            let whole = format!("{text}\n[[template]]\nname = \"right\"\nbody = \"$0\"\n");
            let (names, mistakes) = told(&whole);
            assert!(!mistakes.is_empty() && mistakes[0].0 == *line, "{text}: {mistakes:?}");
            assert!(mistakes[0].1.contains(part), "{text}: {mistakes:?}");
            assert!(names.contains(&"right".to_owned()), "{text}: {names:?} {mistakes:?}");
        }
    }
}
