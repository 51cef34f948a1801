//! Templates: texts with stops, in the snippet syntax of the Language Server Protocol 3.17.
//!
//! [`parse`] reads a body, [`Body::fill`] makes text of it at a place, and [`file::read`] reads a file of templates. Offsets are bytes
//! of the filled text. Nothing here knows cursors or buffers; what a template is put into is told by a [`Setting`].
//!
//! Source of the syntax: "Snippet Syntax" under `textDocument/completion` in the specification of the protocol, version 3.17. One
//! variable was added: `TODAY`, the date of today.

pub mod file;
mod filled;
pub mod parse;
pub mod session;
mod shipped;
mod transform;
pub mod variables;

pub use filled::{Filled, Place, Setting, Variable};
pub use parse::{Wrong, parse};
pub use shipped::{NAMES, shipped};

use transform::Transform;

/// The stop at which a template ends.
pub const LAST_STOP: u32 = 0;

/// A part of a body.
#[derive(Clone, Debug)]
enum Part {
    /// Text as it is.
    Text(String),
    /// A stop: its number and what is there at first.
    Stop(u32, Start),
    /// A variable, and what is there where it has no value.
    Variable(String, Vec<Part>),
    /// What becomes of the value of a variable.
    Transformed(String, Transform),
}

/// What a stop has at first.
#[derive(Clone, Debug)]
enum Start {
    /// Nothing, or what another place of the stop has.
    Empty,
    /// These parts.
    Parts(Vec<Part>),
    /// The first of these words.
    Choice(Vec<String>),
}

/// The body of a template.
#[derive(Clone, Debug, Default)]
pub struct Body {
    parts: Vec<Part>,
}

impl Body {
    /// A body that is `text` as it is, without stops.
    #[must_use]
    pub fn plain(text: &str) -> Body {
        Body { parts: vec![Part::Text(text.to_owned())] }
    }

    /// Several bodies with a text between them, each with its own stops. The last stop of all is that of the last body.
    #[must_use]
    pub fn joined(bodies: impl IntoIterator<Item = Body>, between: &str) -> Body {
        let mut parts: Vec<Part> = Vec::new();
        let mut most = 0;
        for mut body in bodies {
            if !parts.is_empty() {
                // What was the last stop of the one before is one on the way.
                most += 1;
                renumber(&mut parts, &|number| if number == LAST_STOP { most } else { number });
                parts.push(Part::Text(between.to_owned()));
            }
            let first = most;
            renumber(&mut body.parts, &|number| {
                if number == LAST_STOP { number } else { number.saturating_add(first) }
            });
            most = numbers(&body.parts).into_iter().fold(most, u32::max);
            parts.append(&mut body.parts);
        }
        Body { parts }
    }

    /// Whether it asks for the variable `name` anywhere.
    #[must_use]
    pub fn asks_for(&self, name: &str) -> bool {
        asks(&self.parts, name)
    }
}

fn asks(parts: &[Part], name: &str) -> bool {
    parts.iter().any(|part| match part {
        Part::Text(_) | Part::Stop(_, Start::Empty | Start::Choice(_)) => false,
        Part::Stop(_, Start::Parts(inner)) => asks(inner, name),
        Part::Variable(other, inner) => other == name || asks(inner, name),
        Part::Transformed(other, _) => other == name,
    })
}

/// Gives every stop the number that `number` makes of its own.
fn renumber(parts: &mut [Part], number: &dyn Fn(u32) -> u32) {
    for part in parts {
        match part {
            Part::Stop(own, start) => {
                *own = number(*own);
                if let Start::Parts(inner) = start {
                    renumber(inner, number);
                }
            }
            Part::Variable(_, inner) => renumber(inner, number),
            Part::Text(_) | Part::Transformed(..) => {}
        }
    }
}

/// The numbers of all stops.
fn numbers(parts: &[Part]) -> Vec<u32> {
    let of_part = |part: &Part| match part {
        Part::Stop(own, Start::Parts(inner)) => [vec![*own], numbers(inner)].concat(),
        Part::Stop(own, _) => vec![*own],
        Part::Variable(_, inner) => numbers(inner),
        Part::Text(_) | Part::Transformed(..) => Vec::new(),
    };
    parts.iter().flat_map(of_part).collect()
}

/// Where a template is offered.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Fits {
    /// Where nothing but white space is before it on its line.
    Line,
    /// Anywhere in code.
    #[default]
    Code,
    /// Where the grammar expects a type.
    Type,
}

/// A template.
#[derive(Clone, Debug)]
pub struct Template {
    /// Its name: one word.
    pub name: String,
    /// Other words that find it.
    pub words: Vec<String>,
    /// What it puts in, as it is written.
    pub source: String,
    /// The same, read.
    pub body: Body,
    /// Whether it can go around lines.
    pub is_around: bool,
    /// Where it is offered.
    pub fits: Fits,
}
