//! Brackets and quotes that close themselves, and are stepped over while the caret stays in the pair.
//!
//! At a caret only in code; over a selection also in comments and strings, but for what would end the string. Never in plain text
//! or markup; quotes are those that the language's table has as delimiters.

use crate::cursors::Selection;
use crate::languages::scanner::{Form, Kind};
use crate::languages::{Language, Shape};
use crate::units::Byte;
use crate::verbs::scene::Scene;

/// What a typed character does at a cursor.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Typed {
    /// It goes in.
    Plain,
    /// It goes in with its closer after it.
    Opens(char),
    /// It goes on both sides of what is selected.
    Surrounds(char),
    /// It is there already: the caret goes over it.
    StepsOver,
}

const BRACKETS: [(char, char); 3] = [('(', ')'), ('[', ']'), ('{', '}')];

/// The closer of `c`, if the language has it as an opener: a bracket, or a quote that marks nothing else.
#[must_use]
pub fn closer_of(language: &Language, c: char) -> Option<char> {
    if language.prose {
        return None;
    }
    let bracket = BRACKETS.iter().find(|(open, _)| *open == c).map(|(_, close)| *close);
    let is_quote = || {
        let is_it = |open: &str| open.chars().eq([c]);
        language.strings.iter().any(|form| form.shape == Shape::Plain && is_it(&form.open) && is_it(&form.close))
    };
    bracket.or_else(|| is_quote().then_some(c))
}

/// What `c` does at `each`.
#[must_use]
pub fn typed(scene: &Scene, each: Selection, c: char) -> Typed {
    if !scene.settings.closes_pairs {
        return Typed::Plain;
    }
    let closer = closer_of(&scene.language_at(each.start()), c);
    let is_closer = BRACKETS.iter().any(|(_, close)| *close == c) || closer == Some(c);
    let awaits = || scene.remembered.pairs.iter().any(|pair| pair.end == each.head);
    if each.is_caret() && is_closer && scene.text.char_at(each.head) == Some(c) && awaits() {
        return Typed::StepsOver;
    }
    let Some(closer) = closer else { return Typed::Plain };
    let kind = scene.syntax.kind_at(each.start());
    match each.is_caret() {
        false if kind == Kind::String && is_delimiter_there(scene, each.start(), c) => Typed::Plain,
        false => Typed::Surrounds(closer),
        true if kind != Kind::Code => Typed::Plain,
        true if has_room(scene, each.head) => Typed::Opens(closer),
        true => Typed::Plain,
    }
}

/// Whether `c` would end the string that `at` is in.
fn is_delimiter_there(scene: &Scene, at: Byte, c: char) -> bool {
    let pieces = scene.syntax.pieces(scene.text.line_of(at));
    let piece = pieces.iter().find(|piece| piece.span.start <= at && at <= piece.span.end && piece.span.start != at);
    let Some(Form::Text(form)) = piece.or(pieces.first()).map(|piece| piece.token.form) else { return false };
    scene.language_at(at).strings.get(usize::from(form)).is_some_and(|form| form.close.ends_with(c))
}

/// Whether what follows is white space, a closer, or the end.
fn has_room(scene: &Scene, at: Byte) -> bool {
    scene.text.char_at(at).is_none_or(|c| c.is_whitespace() || BRACKETS.iter().any(|(_, close)| *close == c))
}

/// Whether an empty pair is around the caret, so that Backspace takes both.
#[must_use]
pub fn is_empty_pair(scene: &Scene, caret: Byte) -> bool {
    let around = (scene.text.char_before(caret), scene.text.char_at(caret));
    match around {
        (Some(open), Some(close)) => closer_of(&scene.language_at(caret), open) == Some(close),
        _ => false,
    }
}
