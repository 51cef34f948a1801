//! Upper and lower case, and the shapes of names, on the selections or the word at each caret.

use crate::changes::ChangeBuilder;
use crate::cursors::Selection;
use crate::units::Span;
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
    fn of(self, text: &str) -> String {
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

/// Gives the selections, or the word at each caret, the shape.
pub fn reshape(scene: &Scene, shape: Shape) -> Outcome {
    replace(scene, |old| shape.of(old))
}

/// Replaces every target by what `by` makes of it; called once for each cursor, in the order of the text.
fn replace(scene: &Scene, mut by: impl FnMut(&str) -> String) -> Outcome {
    let mut builder = ChangeBuilder::new(scene.text);
    let mut count = 0;
    let mut reach = crate::units::Byte(0);
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
