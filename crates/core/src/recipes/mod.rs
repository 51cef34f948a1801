//! Recipes: series of steps that are kept as text, read here, checked, formatted, and given to whoever runs them.
//!
//! ```text
//! recipe   = [ "strict" ] { line }
//! line     = blank | "//" text | header block | step
//! header   = "repeat" N | "repeat while it changes"
//!          | "each line" [ /re/ ] | "each match" /re/ | "each block" | "each cursor"
//!          | "in code" | "in strings" | "in comments" | "in language" NAME { "," NAME }
//!          | "if" /re/ | "unless" /re/
//! step     = [ N ] verb [ argument ] | "type" JSON-string | "keep" NAME | "use" NAME
//! ```
//!
//! Blocks go by indentation, with spaces or with tabs. What a verb is, the caller says: this module knows no verbs. Costs are linear in
//! the recipe. What a recipe finds in a text (lines, matches, blocks) is in [`places`].

mod format;
mod headers;
mod lines;
mod parse;
pub mod places;
mod typed;

use crate::languages::scanner::Kind;
use crate::search::pattern::Pattern;
use crate::search::replacement::Replacement;
use std::fmt;
use std::sync::Arc;

pub use format::format;
pub use parse::parse;

/// Blocks may be nested this deep.
pub const DEEPEST: usize = 64;

/// A block may be repeated this many times.
pub const MOST_PASSES: u32 = 10_000;

/// A recipe whose steps are `S`.
#[derive(Clone, Debug)]
pub struct Recipe<S> {
    /// What happens where a step cannot be done.
    pub rigour: Rigour,
    /// What it does, in order.
    pub body: Vec<Item<S>>,
}

/// What happens where a step cannot be done.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Rigour {
    /// It is counted and passed over.
    #[default]
    Lenient,
    /// The run ends, and nothing is changed.
    Strict,
}

/// A line of a recipe, with what is below it.
#[derive(Clone, Debug)]
pub struct Item<S> {
    /// The number of the line, from 1.
    pub line: usize,
    /// What it says.
    pub action: Action<S>,
}

/// What a line says.
#[derive(Clone, Debug)]
pub enum Action<S> {
    /// A block under a header.
    Block(Header, Vec<Item<S>>),
    /// A step of the caller's.
    Step(S),
    /// Text in place of each selection.
    Type(Typed),
    /// Puts what is on the clip of the run aside under this name.
    Keep(String),
    /// Brings what was put aside under this name back on the clip.
    Use(String),
}

/// Text to put in.
#[derive(Clone, Debug)]
pub enum Typed {
    /// As it is, each `\n` a line end of the file.
    Literal(String),
    /// With the groups of the match that each cursor is at.
    Groups(Replacement),
}

/// What is above a block.
#[derive(Clone, Debug)]
pub enum Header {
    /// So many times.
    Repeat(u32),
    /// Until a pass changes neither text nor cursors.
    RepeatWhileChanges,
    /// A caret in each line that is found; without a pattern in each that is not blank.
    EachLine(Option<Arc<Pattern>>),
    /// A selection on each match. Whether groups of it are typed below.
    EachMatch(Arc<Pattern>, Groups),
    /// A selection on each outermost block.
    EachBlock,
    /// Each cursor alone.
    EachCursor,
    /// The cursors in code, in strings or in comments.
    In(Kind),
    /// The cursors in one of these languages.
    InLanguage(Vec<String>),
    /// The cursors whose text, or line, is found.
    If(Arc<Pattern>),
    /// The others.
    Unless(Arc<Pattern>),
}

/// Whether the groups of matches are needed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Groups {
    /// They are.
    Typed,
    /// They are not.
    Unused,
}

/// A mistake in a recipe.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Mistake {
    /// The line, from 1.
    pub line: usize,
    /// The character in it, from 1.
    pub column: usize,
    /// What is wrong, and what would be right.
    pub why: String,
}

impl fmt::Display for Mistake {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(out, "{}:{}: {}", self.line, self.column, self.why)
    }
}

impl std::error::Error for Mistake {}

/// A step as it is written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Written<'a> {
    /// The count before the verb.
    pub count: Option<u32>,
    /// The verb.
    pub verb: &'a str,
    /// What comes after the verb, to the end of the line.
    pub argument: &'a str,
}

/// Why a written step is none.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct WrongStep {
    /// Which part of it is wrong.
    pub part: StepPart,
    /// What is wrong, and what would be right.
    pub why: String,
}

/// A part of a step.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum StepPart {
    /// The verb.
    Verb,
    /// What comes after it.
    Argument,
}

impl<S> Recipe<S> {
    /// The steps of the caller's, in the order of the lines.
    pub fn steps(&self) -> Vec<&S> {
        let mut steps = Vec::new();
        gather(&self.body, &mut steps);
        steps
    }
}

fn gather<'a, S>(body: &'a [Item<S>], steps: &mut Vec<&'a S>) {
    for item in body {
        match &item.action {
            Action::Step(step) => steps.push(step),
            Action::Block(_, body) => gather(body, steps),
            Action::Type(_) | Action::Keep(_) | Action::Use(_) => {}
        }
    }
}
