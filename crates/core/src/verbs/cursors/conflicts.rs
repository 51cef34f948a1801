//! What another name would break: it is a keyword, it is declared already where the name is bound, or a use would mean something else.
//!
//! Told by the tree of one file, with the limits of [`binding`](super::binding): blocks inside of a function are one scope.

use super::binding::{Binding, BoundUse, binding_of, looked_at};
use super::names::{Belongs, kind_of_name};
use super::rename::bound_uses;
use crate::languages::scanner::Kind;
use crate::search::Matches;
use crate::units::Span;
use crate::verbs::scene::Scene;
use std::fmt;

/// What a name would break. Lines count from 1.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Conflict {
    /// The language gives the word a meaning of its own.
    Keyword,
    /// It is declared in this line, in the same function, type or file.
    Declared(usize),
    /// The renamed use in the first line would mean what the second one declares.
    Captured {
        /// The line of the use.
        line: usize,
        /// The line of the declaration nearer to it.
        by: usize,
    },
    /// The use of that name in this line would mean what is renamed.
    Captures(usize),
}

impl Conflict {
    /// What is told of it, for the name that it is about.
    #[must_use]
    pub fn told<'a>(&'a self, name: &'a str) -> impl fmt::Display + 'a {
        fmt::from_fn(move |out| match self {
            Conflict::Keyword => write!(out, "{name} is a keyword"),
            Conflict::Declared(line) => write!(out, "{name} is already declared in line {line}"),
            Conflict::Captured { line, by } => write!(out, "in line {line}, {name} would be the one of line {by}"),
            Conflict::Captures(line) => write!(out, "line {line} uses {name}, which would be this one"),
        })
    }
}

/// More uses than this are not looked at: it would take longer than a person waits.
const MOST_USES: usize = 2_000;

/// What it would break to call what the name at `own` means `name`, in this file. None where nothing is found, or there is no tree.
#[must_use]
pub fn conflict(scene: &Scene, own: Span, name: &str) -> Option<Conflict> {
    conflict_of(scene, &bound_uses(scene, own), name)
}

/// The same for these uses of one declaration, whatever they are called now.
#[must_use]
pub fn conflict_of(scene: &Scene, renamed: &[Span], name: &str) -> Option<Conflict> {
    let own = *renamed.first()?;
    if scene.language_at(own.start).is_keyword(name) {
        return Some(Conflict::Keyword);
    }
    scene.structure.structure()?;
    let is_other = |found: &Span| {
        renamed.binary_search_by_key(&found.start, |each| each.start).is_err()
            && scene.text.is_whole_word(*found, scene.words())
            && kind_of_name(scene, *found) == Kind::Code
    };
    let others: Vec<Span> =
        Matches::within(scene.text, name, scene.text.span()).filter(is_other).take(MOST_USES).collect();
    if others.is_empty() || renamed.len() > MOST_USES {
        return None;
    }
    let (ours, others) = (looked_at(scene, renamed), looked_at(scene, &others));
    let is_local = |each: &&BoundUse| matches!(each.belongs, Belongs::Local | Belongs::LocalAndKey);
    let binding = binding_of(&ours, ours.iter().position(|each| each.declares).unwrap_or(0));
    let line = |each: &BoundUse| scene.text.line_of(each.span.start).0 + 1;
    let bindings: Vec<Binding> = (0..others.len()).map(|index| binding_of(&others, index)).collect();
    let declared = others.iter().zip(&bindings).find(|(other, bound)| other.declares && **bound == binding);
    if let Some((other, _)) = declared.filter(|_| binding != Binding::AnyMember) {
        return Some(Conflict::Declared(line(other)));
    }
    for each in ours.iter().filter(is_local) {
        let nearer = each.functions.iter().take_while(|function| binding != Binding::Function(**function));
        for function in nearer {
            let declares = |other: &&BoundUse| other.declares && other.functions.first() == Some(function);
            if let Some(other) = others.iter().filter(is_local).find(declares) {
                return Some(Conflict::Captured { line: line(each), by: line(other) });
            }
        }
    }
    if matches!(binding, Binding::Member(_) | Binding::AnyMember) {
        return None;
    }
    let is_within = |other: &BoundUse| match binding {
        Binding::Function(function) => other.functions.contains(&function),
        _ => true,
    };
    let is_nearer = |other: &BoundUse, bound: &Binding| {
        let own = other.functions.iter().take_while(|function| binding != Binding::Function(**function));
        own.into_iter().any(|function| *bound == Binding::Function(*function))
    };
    let captured = others.iter().zip(&bindings).find(|(other, bound)| {
        is_local(other) && !matches!(bound, Binding::Member(_)) && is_within(other) && !is_nearer(other, bound)
    });
    captured.map(|(other, _)| Conflict::Captures(line(other)))
}
