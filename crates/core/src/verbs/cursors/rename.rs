//! Renaming: every use of a name becomes a cursor: first those that one declaration binds, then all in the code of the file.

use crate::changes::{Bias, ChangeBuilder, Mapper};
use crate::cursors::{CursorSet, Selection};
use crate::languages::scanner::Kind;
use crate::search::Matches;
use crate::structure::Roles;
use crate::units::{Byte, Direction, Span};
use crate::verbs::cursors::binding::{Binding, binding_of, looked_at, name_of_item};
use crate::verbs::cursors::function_around;
use crate::verbs::cursors::names::{Belongs, belongs_to, kind_of_name};
use crate::verbs::cursors::tags;
use crate::verbs::moves::occurrences::subject;
use crate::verbs::scene::{Outcome, Scene, counted};
use std::fmt::Write;

/// Where a name is looked for, and in what.
#[derive(Clone, Copy, PartialEq, Eq)]
struct Reach {
    within: Span,
    only_code: bool,
    /// To what a use has to belong; where there is nothing, to anything.
    belongs: Option<Belongs>,
    called: &'static str,
}

/// A use of the name.
#[derive(Clone, Copy)]
struct Use {
    span: Span,
    kind: Kind,
    belongs: Belongs,
}

/// The uses that one press takes, of all that there are within its reach.
struct Stage {
    reach: Reach,
    taken: Vec<Span>,
    all: Vec<Use>,
}

impl Reach {
    fn takes(&self, each: &Use) -> bool {
        match each.kind {
            Kind::Code => self.belongs.is_none_or(|belongs| belongs.agrees(each.belongs)),
            Kind::String | Kind::Comment => !self.only_code,
        }
    }
}

impl Stage {
    fn of(&self, kind: Kind) -> usize {
        self.all.iter().filter(|each| each.kind == kind).count()
    }

    /// What it has taken, and what the press after it would.
    fn told(&self, name: &str, next: Option<&Stage>) -> String {
        let mut said = format!("{} of {name} {}", counted(self.taken.len(), "use"), self.reach.called);
        let (strings, comments) = (self.of(Kind::String), self.of(Kind::Comment));
        if self.reach.only_code && strings + comments > 0 {
            let _ = write!(said, ", {strings} in strings and {comments} in comments left out");
        }
        if let Some(next) = next {
            let which = if next.reach.only_code { "in code" } else { "strings and comments too" };
            let _ = write!(said, "; again: {} {}, {which}", next.taken.len(), next.reach.called);
        } else {
            said.push_str("; again: in the whole project");
        }
        said
    }
}

/// Whether the cursors are all that [`rename_here`] takes with its last press: every use in the file.
#[must_use]
pub fn is_last_stage(scene: &Scene) -> bool {
    let Some((span, whole_words)) = subject(scene).filter(|_| !is_several_words(scene)) else { return false };
    let name = scene.text.slice(span).into_owned();
    let from_code = kind_of_name(scene, span) == Kind::Code;
    let stages = stages(scene, (span, &name), (whole_words, from_code));
    let current: Vec<Span> = scene.cursors.iter().map(Selection::span).collect();
    stages.last().is_some_and(|stage| stage.taken == current)
}

fn is_several_words(scene: &Scene) -> bool {
    let selected = scene.text.slice(scene.cursors.primary().span());
    scene.cursors.len() == 1 && selected.trim().contains(char::is_whitespace)
}

const NO_NAME: &str = "no name here";

/// Makes uses of the name at the caret cursors: all that one declaration of the file binds, then all in the code of the file. Of several
/// words that are selected it goes by the name of the item that they are.
pub fn rename_here(scene: &Scene) -> Outcome {
    let primary = scene.cursors.primary();
    if is_several_words(scene) {
        return match name_of_item(scene, primary.span()) {
            Some(name) => rename_in_item(scene, name, primary.span()),
            None => {
                Outcome::nothing(format!("{NO_NAME}: several words are selected, and they are no function or type"))
            }
        };
    }
    if let Some((name, _)) = tags::name_at(scene, primary.head) {
        return rename_tag(scene, name);
    }
    let is_name = |span: Span| scene.text.slice(span).contains(|c: char| c.is_alphanumeric() || c == '_' || c == '$');
    let Some((span, whole_words)) = subject(scene).filter(|(span, _)| is_name(*span)) else {
        return Outcome::nothing(NO_NAME);
    };
    let name = scene.text.slice(span).into_owned();
    if whole_words && kind_of_name(scene, span) == Kind::Code && scene.language_at(span.start).is_keyword(&name) {
        return Outcome::nothing(format!("{NO_NAME}: {name} is a word of the language"));
    }
    // A name in a string or a comment is meant where the caret is in one.
    let from_code = kind_of_name(scene, span) == Kind::Code;
    let belongs = (from_code && whole_words).then(|| belongs_to(scene, span));
    let stages = stages(scene, (span, &name), (whole_words, from_code));
    if stages.is_empty() {
        return Outcome::nothing(format!("{name} is used nowhere here"));
    }
    take_stage(scene, (span, &name), &stages, belongs)
}

/// The uses of the name at `span` that its declaration binds in this file, in order.
#[must_use]
pub fn bound_uses(scene: &Scene, span: Span) -> Vec<Span> {
    let name = scene.text.slice(span).into_owned();
    let from_code = kind_of_name(scene, span) == Kind::Code;
    let stages = stages(scene, (span, &name), (true, from_code));
    stages.into_iter().next().map(|stage| stage.taken).unwrap_or_default()
}

/// The stages that one press after the other takes.
fn stages(scene: &Scene, (span, name): (Span, &str), (whole_words, from_code): (bool, bool)) -> Vec<Stage> {
    let belongs = (from_code && whole_words).then(|| belongs_to(scene, span));
    let whole = scene.text.span();
    // A field is declared in no function: it is used wherever there is one.
    let is_field = belongs == Some(Belongs::Key)
        && scene.find_having(Roles::FUNCTION, span, |visited| Some(visited.node)).is_none();
    let function = if is_field { whole } else { function_around(scene, span.start) };
    let here = if function == whole { "in this file" } else { "here" };
    let declared = match scene.structure.structure() {
        Some(_) => Reach { within: whole, only_code: true, belongs, called: "of the same declaration" },
        None => Reach { within: function, only_code: true, belongs, called: here },
    };
    let reaches = [
        declared,
        Reach { within: whole, only_code: true, belongs: None, called: "in this file" },
        Reach { within: function, only_code: false, belongs, called: here },
        Reach { within: whole, only_code: false, belongs: None, called: "in this file" },
    ];
    let uses = |reach: Reach| uses(scene, name, reach.within, whole_words);
    let mut stages: Vec<Stage> = Vec::new();
    for reach in reaches.into_iter().filter(|reach| from_code == reach.only_code) {
        let all = uses(reach);
        let mut taken: Vec<Span> = all.iter().filter(|each| reach.takes(each)).map(|each| each.span).collect();
        if reach.belongs.is_some() && from_code && scene.structure.structure().is_some() && all.len() <= MOST_BOUND {
            taken = bound_with(scene, span, &all);
        }
        if !taken.is_empty() && !stages.iter().any(|other| other.taken == taken) {
            stages.push(Stage { reach, taken, all });
        }
    }
    stages
}

/// With more uses than this in a file it is not told which of them one declaration binds.
const MOST_BOUND: usize = 2_000;

/// Those of `all` in code that the declaration of the use at `span` binds.
fn bound_with(scene: &Scene, span: Span, all: &[Use]) -> Vec<Span> {
    let code: Vec<Span> = all.iter().filter(|each| each.kind == Kind::Code).map(|each| each.span).collect();
    let uses = looked_at(scene, &code);
    let Some(own) = uses.iter().position(|each| each.span == span) else { return code };
    let binding = binding_of(&uses, own);
    let is_bound = |index: &usize| is_same(binding, binding_of(&uses, *index));
    (0..uses.len()).filter(is_bound).map(|index| uses[index].span).collect()
}

/// Whether a use is bound where another one is; members of a type that is not told may be those of any.
fn is_same(one: Binding, other: Binding) -> bool {
    let is_member = |binding| matches!(binding, Binding::Member(_) | Binding::AnyMember);
    one == other || (is_member(one) && is_member(other) && (one == Binding::AnyMember || other == Binding::AnyMember))
}

/// The name of an item that is selected, and its uses in the item itself.
fn rename_in_item(scene: &Scene, name: Span, item: Span) -> Outcome {
    let label = scene.text.slice(name).into_owned();
    let spans: Vec<Span> = uses(scene, &label, item, true)
        .into_iter()
        .filter(|each| each.kind == Kind::Code)
        .map(|each| each.span)
        .collect();
    let list: Vec<Selection> = spans.iter().map(|each| Selection::over(*each, Direction::Forward)).collect();
    if list.is_empty() {
        return Outcome::nothing(NO_NAME);
    }
    let primary = spans.iter().position(|each| *each == name).unwrap_or(0);
    let said = format!("{} of {label} in what is selected", counted(list.len(), "use"));
    Outcome::cursors(CursorSet::of(list, primary).taking_whole_words()).saying(said)
}

/// The names of both tags of an element; again: of all elements of that name in the file.
fn rename_tag(scene: &Scene, name: Span) -> Outcome {
    let text = scene.text;
    let label = text.slice(name).into_owned();
    let of_element = tags::names_of_element(scene, name);
    let is_tag = |found: &Span| tags::name_at(scene, found.start).is_some_and(|(span, _)| span == *found);
    let all: Vec<Span> = Matches::within(text, &label, text.span()).filter(is_tag).collect();
    let current: Vec<Span> = scene.cursors.iter().map(Selection::span).collect();
    let (spans, called) = match current == of_element && all != of_element {
        true => (all, "in this file"),
        false => (of_element, "of this element"),
    };
    let list: Vec<Selection> = spans.iter().map(|each| Selection::over(*each, Direction::Forward)).collect();
    let primary = spans.iter().position(|each| *each == name).unwrap_or(0);
    let said = format!("{} of {label} {called}", counted(list.len(), "tag"));
    Outcome::cursors(CursorSet::of(list, primary).taking_whole_words()).saying(said)
}

/// Takes the stage after the one that is taken.
fn take_stage(scene: &Scene, (span, name): (Span, &str), stages: &[Stage], belongs: Option<Belongs>) -> Outcome {
    let current: Vec<Span> = scene.cursors.iter().map(Selection::span).collect();
    let at = stages.iter().position(|stage| stage.taken == current).map_or(0, |at| (at + 1) % stages.len());
    let stage = &stages[at];
    let primary = stage.taken.iter().position(|each| *each == span).unwrap_or(0);
    let list: Vec<Selection> = stage.taken.iter().map(|each| Selection::over(*each, Direction::Forward)).collect();
    let next = stages.get(at + 1);
    let told = stage.told(name, next);
    let cursors = CursorSet::of(list, primary).taking_whole_words();
    // Where one word is both, the name of the field stays: only its value is renamed.
    let is_local = matches!(belongs, Some(Belongs::Local | Belongs::LocalAndKey));
    let both = |each: &&Use| each.belongs == Belongs::LocalAndKey && each.kind == Kind::Code && is_local;
    let mut builder = ChangeBuilder::new(scene.text);
    for each in stage.all.iter().filter(both).filter(|each| stage.taken.binary_search(&each.span).is_ok()) {
        builder.replace(Span::at(each.span.start), &format!("{name}: "));
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::cursors(cursors).saying(told);
    }
    let mut mapper = Mapper::new(&change);
    let moved = cursors.map(|each| {
        let start = mapper.map(each.start(), Bias::After);
        Selection::over(Span::new(start, start + each.span().len()), each.direction())
    });
    Outcome::edit(change, moved).saying(told)
}

/// Every use of `name` within `within`, as a word where that counts, and what it is in; none overlaps the one before.
fn uses(scene: &Scene, name: &str, within: Span, whole_words: bool) -> Vec<Use> {
    let mut free = Byte(0);
    let counts = |found: &Span| {
        let is_use = found.start >= free && (!whole_words || scene.text.is_whole_word(*found, scene.words()));
        free = if is_use { found.end } else { free };
        is_use
    };
    let found = Matches::within(scene.text, name, within).filter(counts);
    let used = |span| Use { span, kind: kind_of_name(scene, span), belongs: belongs_to(scene, span) };
    found.map(used).collect()
}
