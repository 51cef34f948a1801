//! What a name is at its place: a local, or the name of a field, a key or a label that only looks the same.

use crate::languages::Language;
use crate::languages::scanner::Kind;
use crate::search::pattern::kind_of;
use crate::structure::Roles;
use crate::units::{Byte, Span};
use crate::verbs::scene::Scene;

/// What a name belongs to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Belongs {
    /// To the function or file: a local, a parameter, a function.
    Local,
    /// The same, where one word says both the name of a field and its value.
    LocalAndKey,
    /// To a value before it: it follows `.`, `->` or `::`.
    Member,
    /// To what is around it: a key, a label, the name of an attribute.
    Key,
}

impl Belongs {
    /// Whether a use that belongs to `other` means the same name.
    #[must_use]
    pub fn agrees(self, other: Belongs) -> bool {
        let is_local = |belongs: Belongs| matches!(belongs, Belongs::Local | Belongs::LocalAndKey);
        match self {
            Belongs::Local | Belongs::LocalAndKey => is_local(other),
            Belongs::Member => other == Belongs::Member,
            Belongs::Key => !is_local(other),
        }
    }
}

/// What is between a value and the name of a part of it.
const ACCESSORS: &[&str] = &[".", "->", "::"];

/// What the name at `span` belongs to.
#[must_use]
pub fn belongs_to(scene: &Scene, span: Span) -> Belongs {
    if follows_accessor(scene, span.start) {
        return Belongs::Member;
    }
    let (mut is_key, mut is_both) = (false, false);
    let wanted = Roles::KEY_NAME | Roles::KEYED | Roles::SHORTHAND;
    scene.find_having(wanted, span, |visited| {
        let node = visited.node;
        let is_exact = node.span == span;
        is_both |= is_exact && node.is(Roles::SHORTHAND);
        is_key |= is_exact && node.is(Roles::KEY_NAME);
        is_key |= node.is(Roles::KEYED) && node.span.start == span.start && names_a_value(scene, span.end);
        (!is_exact).then_some(())
    });
    match (is_both, is_key) {
        (true, _) => Belongs::LocalAndKey,
        (false, true) => Belongs::Key,
        (false, false) => Belongs::Local,
    }
}

/// Whether an accessor is right before `at`; `..` is none.
fn follows_accessor(scene: &Scene, at: Byte) -> bool {
    let language = scene.language_at(at);
    let joins_strings = |sign: &str| language.concatenation.as_deref() == Some(sign);
    let follows = |sign: &str| at.0 >= sign.len() && scene.text.has_at(at - sign.len(), sign);
    ACCESSORS.iter().any(|sign| follows(sign) && !joins_strings(sign)) && !follows("..")
}

/// Whether what is before `at` is named to have a value: `=` or `:` follows.
fn names_a_value(scene: &Scene, at: Byte) -> bool {
    let line = scene.text.content_span(scene.text.line_of(at));
    let rest = scene.text.slice(Span::new(at, line.end.max(at)));
    let rest = rest.trim_start();
    let mut signs = rest.chars();
    match (signs.next(), signs.next()) {
        (Some('='), next) => !matches!(next, Some('=' | '>' | '~')),
        (Some(':'), next) => next != Some(':'),
        _ => false,
    }
}

/// What the text is at `found`. Code in a hole of a string is code, prose between tags is none.
#[must_use]
pub fn kind_of_name(scene: &Scene, found: Span) -> Kind {
    let kind = kind_of(scene.text, scene.syntax, found);
    if kind == Kind::Comment {
        return kind;
    }
    let innermost =
        scene.find_having(Roles::HOLE | Roles::STRING | Roles::PROSE, found, |visited| Some(visited.node.roles));
    match innermost {
        Some(roles) if roles.has(Roles::HOLE) => Kind::Code,
        Some(roles) if roles.has(Roles::PROSE) => Kind::String,
        _ if kind == Kind::String && is_named_hole(scene, found) => Kind::Code,
        _ => kind,
    }
}

/// Whether `found` is a name that a string uses: `{name}`, `{name:…}` or `$name`.
fn is_named_hole(scene: &Scene, found: Span) -> bool {
    let text = scene.text;
    let language: &Language = &scene.language_at(found.start);
    let Some(sign) = language.named_holes.filter(|sign| text.char_before(found.start) == Some(*sign)) else {
        return false;
    };
    let before = text.char_before(text.previous_boundary(found.start));
    match sign {
        '{' => before != Some('{') && matches!(text.char_at(found.end), Some('}' | ':')),
        _ => before != Some('\\'),
    }
}
