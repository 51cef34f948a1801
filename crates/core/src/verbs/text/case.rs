//! Upper and lower case, and the shapes of names, on the selections or the word at each caret.

use crate::changes::{Bias, ChangeBuilder};
use crate::cursors::Selection;
use crate::languages::scanner::Kind;
use crate::units::{Byte, Span};
use crate::verbs::cursors::names::kind_of_name;
use crate::verbs::scene::{Cycle, Outcome, Scene, counted};

/// What a text becomes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Shape {
    /// `UPPER`.
    Upper,
    /// `lower`.
    Lower,
    /// Every word with an upper-case letter first.
    Title,
    /// `snake_case`.
    Snake,
    /// `camelCase`.
    Camel,
    /// `PascalCase`.
    Pascal,
    /// `kebab-case`.
    Kebab,
    /// `UPPER_SNAKE_CASE`.
    UpperSnake,
}

impl Shape {
    /// Whether it is a shape of names, and not of letters.
    fn is_of_names(self) -> bool {
        matches!(self, Shape::Snake | Shape::Camel | Shape::Pascal | Shape::Kebab | Shape::UpperSnake)
    }

    /// Whether another shape means the same, so that names can go from that one to this one.
    fn leaves_another(self) -> bool {
        matches!(self, Shape::Snake | Shape::Camel | Shape::Kebab)
    }

    /// Whether `name` has a shape that is left for this one: types and constants have none that is.
    fn leaves(self, name: &str) -> bool {
        let body = name.trim_matches(['_', '-']);
        let begins_small = body.starts_with(char::is_lowercase);
        let has_capitals = body.contains(char::is_uppercase);
        let is_camel = begins_small && has_capitals && !body.contains(['_', '-']);
        let is_snake = begins_small && !has_capitals && body.contains('_') && !body.contains('-');
        match self {
            Shape::Snake => is_camel,
            Shape::Camel => is_snake,
            Shape::Kebab => is_camel || is_snake,
            _ => false,
        }
    }

    fn title(self) -> &'static str {
        match self {
            Shape::Upper => "upper case",
            Shape::Lower => "lower case",
            Shape::Title => "title case",
            Shape::Snake => "snake_case",
            Shape::Camel => "camelCase",
            Shape::Pascal => "PascalCase",
            Shape::Kebab => "kebab-case",
            Shape::UpperSnake => "UPPER_SNAKE_CASE",
        }
    }

    /// `text` in this shape: names become it one by one, what is between them stays.
    #[must_use]
    pub fn of(self, text: &str) -> String {
        match self {
            Shape::Upper => text.to_uppercase(),
            Shape::Lower => text.to_lowercase(),
            Shape::Title => by_words(text, heck::ToTitleCase::to_title_case),
            Shape::Snake => by_words(text, heck::ToSnakeCase::to_snake_case),
            Shape::Camel => by_words(text, heck::ToLowerCamelCase::to_lower_camel_case),
            Shape::Pascal => by_words(text, heck::ToUpperCamelCase::to_upper_camel_case),
            Shape::Kebab => by_words(text, heck::ToKebabCase::to_kebab_case),
            Shape::UpperSnake => by_words(text, heck::ToShoutySnakeCase::to_shouty_snake_case),
        }
    }
}

/// Names change shape one by one; what is between them stays.
fn by_words(text: &str, shape: impl Fn(&str) -> String) -> String {
    let in_name = |c: char| c.is_alphanumeric() || c == '_' || c == '-';
    let mut out = String::new();
    let mut rest = text;
    while let Some(c) = rest.chars().next() {
        if !in_name(c) {
            out.push(c);
            rest = &rest[c.len_utf8()..];
            continue;
        }
        let len = rest.find(|c| !in_name(c)).unwrap_or(rest.len());
        let name = &rest[..len];
        // Underscores and dashes at a name's edges are not between words.
        let edge = |c: char| c == '_' || c == '-';
        let body = name.trim_matches(edge);
        let head = name.len() - name.trim_start_matches(edge).len();
        out.push_str(&name[..head]);
        out.push_str(&shape(body));
        out.push_str(&name[(head + body.len()).min(name.len())..]);
        rest = &rest[len..];
    }
    out
}

/// Upper, lower, then as it was; a state that equals the text as it is is passed over.
pub fn cycle(scene: &Scene) -> Outcome {
    let texts = || {
        scene
            .cursors
            .iter()
            .map(|each| target(scene, each).map_or_else(String::new, |span| scene.text.slice(span).into_owned()))
    };
    let going = scene.memory.cycle.as_ref().filter(|cycle| cycle.after == *scene.cursors);
    let first: Vec<String> = going.map_or_else(|| texts().collect(), |cycle| cycle.first.clone());
    let now: Vec<String> = texts().collect();
    let from = going.map_or(0, |cycle| cycle.stage);
    for step in from..from + 3 {
        let wanted: Vec<String> = match step % 3 {
            0 => first.iter().map(|text| text.to_uppercase()).collect(),
            1 => first.iter().map(|text| text.to_lowercase()).collect(),
            _ => first.clone(),
        };
        if wanted != now {
            let mut texts = wanted.into_iter();
            let outcome = replace(scene, |_| texts.next().unwrap_or_default());
            let after = outcome.cursors.clone().unwrap_or_else(|| scene.cursors.clone());
            return Outcome { cycle: Some(Cycle { after, first, stage: (step + 1) % 3 }), ..outcome };
        }
    }
    Outcome::nothing("no letters here to change")
}

/// What a verb of this file works on at a cursor.
fn target(scene: &Scene, each: Selection) -> Option<Span> {
    if each.is_caret() { scene.text.word_at(each.head, scene.words()) } else { Some(each.span()) }
}

/// Gives the selections, or the word at each caret, the shape. Of a selection of more than one name only names change that are code
/// and have the shape that is left.
pub fn reshape(scene: &Scene, shape: Shape) -> Outcome {
    let several = |each: Selection| !each.is_caret() && !is_one_name(scene, each.span());
    if !shape.is_of_names() || !scene.cursors.iter().any(several) {
        return replace(scene, |old| shape.of(old));
    }
    if !shape.leaves_another() && scene.cursors.iter().all(several) {
        let title = shape.title();
        return Outcome::nothing(format!("{title} is given to one name at a time: select a single name"));
    }
    let mut builder = ChangeBuilder::new(scene.text);
    let (mut count, mut reach) = (0, Byte(0));
    for each in scene.cursors.iter() {
        let names = if several(each) {
            leaving_names(scene, each.span(), shape)
        } else {
            target(scene, each).into_iter().collect()
        };
        for name in names.into_iter().filter(|name| name.start >= reach).collect::<Vec<_>>() {
            reach = name.end;
            let old = scene.text.slice(name);
            let new = shape.of(&old);
            if new != *old {
                count += 1;
                builder.replace(name, &new);
            }
        }
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::nothing(format!("no name here in code that {} would change", shape.title()));
    }
    let cursors = scene.remap(&change, |_| [Bias::Before, Bias::After]);
    Outcome::edit(change, cursors).saying(format!("reshaped {}", counted(count, "name")))
}

/// Whether `span` is a single name.
fn is_one_name(scene: &Scene, span: Span) -> bool {
    scene.text.slice(span).chars().all(|c| c.is_alphanumeric() || c == '_' || c == '-')
}

/// The names within `span` that are code, no reserved words, and are in a shape that is changed into `shape` ([`Shape::leaves`]).
fn leaving_names(scene: &Scene, span: Span, shape: Shape) -> Vec<Span> {
    let text = scene.text.slice(span);
    let mut names = Vec::new();
    let mut at = 0;
    while at < text.len() {
        let rest = &text[at..];
        let language = scene.language_at(span.start + at);
        let in_name = |c: char| c.is_alphanumeric() || c == '_' || (c == '-' && language.words.contains('-'));
        let length = rest.find(|c| !in_name(c)).unwrap_or(rest.len());
        if length == 0 {
            at += rest.chars().next().map_or(1, char::len_utf8);
            continue;
        }
        let (name, place) = (&rest[..length], Span::new(span.start + at, span.start + at + length));
        let counts = shape.leaves(name) && !language.keywords.contains(name);
        if counts && kind_of_name(scene, place) == Kind::Code {
            names.push(place);
        }
        at += length;
    }
    names
}

/// Replaces every target by what `by` makes of it; called once for each cursor, in the order of the text.
fn replace(scene: &Scene, mut by: impl FnMut(&str) -> String) -> Outcome {
    let mut builder = ChangeBuilder::new(scene.text);
    let mut count = 0;
    let mut reach = Byte(0);
    let cursors = scene.cursors.map(|each| {
        let span = target(scene, each).unwrap_or(Span::at(each.head));
        let old = scene.text.slice(span);
        let new = by(&old);
        if span.start < reach || span.is_empty() {
            return Selection::caret(builder.now(each.head));
        }
        reach = span.end;
        let start = builder.now(span.start);
        if new != *old {
            builder.replace(span, &new);
            count += 1;
        }
        let whole = Span::new(start, start + new.len());
        match each.is_caret() {
            false => Selection::over(whole, each.direction()),
            true if each.head >= span.end => Selection::caret(whole.end),
            true => Selection::caret(start + each.head.0.saturating_sub(span.start.0).min(new.len())),
        }
    });
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::nothing("nothing here to reshape");
    }
    Outcome::edit(change, cursors).saying(format!("reshaped {}", counted(count, "text")))
}
