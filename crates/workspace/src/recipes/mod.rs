//! Recipes: read with the verbs of the registry, and run on a text as one change.
//!
//! The language itself is in the core (`snarvel_core::recipes`). A run needs a buffer and a view of it and nothing else, so that the
//! same code plays a recipe in the program, shows what it would do, and goes over files that are not open.

pub mod applying;
pub mod book;
mod machine;
pub mod news;
mod noting;
pub mod over_project;
pub mod playing;
mod preview;
pub mod recording;
pub mod unfiled;
pub mod unified;
mod waiting;
pub mod written;

use crate::command::Command;
use crate::registry::verb::{Does, Verb};
use crate::registry::{VERBS, by_name};
use snarvel_core::recipes::{self, Action, Item, Mistake, Recipe, StepPart, Written, WrongStep};

pub use machine::{Host, Run, run};
pub use news::Ended;

/// A recipe whose steps are commands.
pub type Program = Recipe<Command>;

/// Reads a recipe.
///
/// # Errors
/// All of its mistakes, in the order of the text. A step that runs a command of the system is one.
pub fn read(source: &str) -> Result<Program, Vec<Mistake>> {
    recipes::parse(source, &mut |written| {
        let command = command_of(written)?;
        match command.verb.does {
            Does::Filter => {
                let why = "filter-through runs a command: only with --trust, or in a folder that is trusted".to_owned();
                Err(WrongStep { part: StepPart::Verb, why })
            }
            _ => Ok(command),
        }
    })
}

/// Reads a recipe that may run commands of the system.
///
/// # Errors
/// All of its mistakes, in the order of the text.
pub fn read_trusted(source: &str) -> Result<Program, Vec<Mistake>> {
    recipes::parse(source, &mut command_of)
}

/// Whether a step of `body` runs a command of the system.
#[must_use]
pub fn runs_commands(body: &[Item<Command>]) -> bool {
    body.iter().any(|item| match &item.action {
        Action::Step(command) => matches!(command.verb.does, Does::Filter),
        Action::Block(_, body) => runs_commands(body),
        Action::Type(_) | Action::Keep(_) | Action::Use(_) => false,
    })
}

fn command_of(written: &Written) -> Result<Command, WrongStep> {
    let wrong = |part, why| WrongStep { part, why };
    let name = written.verb.trim_end();
    let verb = by_name(name).ok_or_else(|| wrong(StepPart::Verb, unknown(name)))?;
    if !verb.is_step() {
        let why = format!("{name} is no step of a recipe: what it does depends on more than the text and the cursors");
        return Err(wrong(StepPart::Verb, why));
    }
    let argument = argument_of(verb, written.argument);
    let command = Command::read(verb, argument).map_err(|why| wrong(StepPart::Argument, why.to_string()))?;
    Ok(Command { count: written.count, ..command })
}

/// What is given to a verb: to the line's end where white space counts, else without what is at its end.
fn argument_of<'a>(verb: &Verb, written: &'a str) -> &'a str {
    if verb.arguments.takes_white_space() && !written.trim().is_empty() { written } else { written.trim_end() }
}

fn unknown(name: &str) -> String {
    let steps = VERBS.iter().filter(|verb| verb.is_step()).map(|verb| verb.name);
    let words = ["repeat", "each", "in", "if", "unless", "type", "keep", "use"];
    let close = steps.chain(words).map(|known| (strsim::damerau_levenshtein(known, name), known)).min();
    match close {
        Some((distance, known)) if distance <= 1 + name.chars().count() / 4 => {
            format!("no verb {name:?}; is it {known}?")
        }
        _ => format!("no verb {name:?}: snarvel verbs lists them"),
    }
}
