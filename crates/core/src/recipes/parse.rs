//! Reading a recipe: all of its mistakes are found, in the order of the text.

use super::headers::{self, first_word};
use super::lines::{SourceLine, lines_of};
use super::{Action, DEEPEST, Groups, Header, Item, Mistake, Recipe, Rigour, StepPart, Written, WrongStep, typed};
use crate::search::pattern::Pattern;
use std::collections::HashSet;
use std::sync::Arc;

/// A count before a verb may be this large.
const LARGEST_COUNT: u32 = 1_000_000;

/// Reads `source`; `step` says what a written step is.
///
/// # Errors
/// All mistakes, in the order of the text.
pub fn parse<S>(
    source: &str,
    step: &mut dyn FnMut(&Written) -> Result<S, WrongStep>,
) -> Result<Recipe<S>, Vec<Mistake>> {
    let (mut lines, mistakes) = lines_of(source);
    let is_strict = lines.first().is_some_and(|line| line.depth == 0 && line.content.trim_end() == "strict");
    if is_strict {
        lines.remove(0);
    }
    let mut parser = Parser { step, mistakes, kept: HashSet::new(), open: vec![Open::top()] };
    for line in &lines {
        parser.take(line);
    }
    parser.close_to(0);
    let Parser { mut mistakes, mut open, .. } = parser;
    if !mistakes.is_empty() {
        mistakes.sort();
        mistakes.dedup();
        return Err(mistakes);
    }
    let body = open.pop().map(|top| top.body).unwrap_or_default();
    Ok(Recipe { rigour: if is_strict { Rigour::Strict } else { Rigour::Lenient }, body })
}

struct Parser<'p, S> {
    step: &'p mut dyn FnMut(&Written) -> Result<S, WrongStep>,
    mistakes: Vec<Mistake>,
    /// The names under which clips were kept so far.
    kept: HashSet<String>,
    /// The blocks that are open, the recipe itself first.
    open: Vec<Open<S>>,
}

/// A block that is open.
struct Open<S> {
    /// Its header; none for the recipe itself, and where the header is wrong.
    header: Option<Header>,
    /// Where that is, to be told where it has no block: line, column and what it says.
    at: (usize, usize, String),
    /// How far in the header is.
    header_depth: usize,
    /// How far in its lines are; not known before the first of them.
    depth: Option<usize>,
    body: Vec<Item<S>>,
}

impl<S> Open<S> {
    fn top() -> Open<S> {
        Open { header: None, at: (0, 0, String::new()), header_depth: 0, depth: Some(0), body: Vec::new() }
    }
}

impl<S> Parser<'_, S> {
    fn take(&mut self, line: &SourceLine) {
        if let Err(mistake) = self.settle_depth(line) {
            self.mistakes.push(mistake);
        }
        match headers::read(line) {
            Some(header) => self.begin(line, header),
            None => match self.action(line) {
                Ok(action) => self.push(line, action),
                Err(mistake) => self.mistakes.push(mistake),
            },
        }
    }

    /// Finds the block that a line is in by how far in it is.
    fn settle_depth(&mut self, line: &SourceLine) -> Result<(), Mistake> {
        while self.open.len() > 1 {
            let block = self.open.last_mut().expect("one is open");
            match block.depth {
                None if line.depth > block.header_depth => {
                    block.depth = Some(line.depth);
                    return Ok(());
                }
                Some(depth) if line.depth >= depth => break,
                _ => self.close_to(self.open.len() - 1),
            }
        }
        let depth = self.open.last().and_then(|block| block.depth).unwrap_or(0);
        if line.depth > depth {
            return Err(line.mistake(0, "this line is further in, and no header is above it"));
        }
        Ok(())
    }

    fn begin(&mut self, line: &SourceLine, header: Result<Header, Mistake>) {
        let at = (line.number, line.depth + 1, line.content.trim_end().to_owned());
        let header = header.map_err(|mistake| self.mistakes.push(mistake)).ok();
        if self.open.len() > DEEPEST {
            self.mistakes.push(line.mistake(0, format!("blocks are nested more than {DEEPEST} deep")));
            return;
        }
        self.open.push(Open { header, at, header_depth: line.depth, depth: None, body: Vec::new() });
    }

    /// Closes blocks until `count` are open beside the recipe itself... or as many as there are.
    fn close_to(&mut self, count: usize) {
        while self.open.len() > count.max(1) {
            let Some(block) = self.open.pop() else { return };
            let (line, column, said) = block.at;
            if block.depth.is_none() {
                let why = format!("{said} needs a block: lines below it that are further in");
                self.mistakes.push(Mistake { line, column, why });
            }
            if let (Some(header), Some(outer)) = (block.header, self.open.last_mut()) {
                outer.body.push(Item { line, action: Action::Block(header, block.body) });
            }
        }
    }

    fn push(&mut self, line: &SourceLine, action: Action<S>) {
        if let Some(block) = self.open.last_mut() {
            block.body.push(Item { line: line.number, action });
        }
    }

    fn action(&mut self, line: &SourceLine) -> Result<Action<S>, Mistake> {
        let (word, rest) = first_word(line.content);
        let word = word.trim_end();
        let at = line.content.len() - rest.len();
        match word {
            "strict" => Err(line.mistake(0, "strict stands before the first step, alone in its line")),
            "type" => {
                let pattern = self.matched();
                let (text, groups) = typed::read(line, at, pattern.as_deref())?;
                if groups == Groups::Typed {
                    self.note_groups();
                }
                Ok(Action::Type(text))
            }
            "keep" => {
                let name = name_of(line, at)?;
                self.kept.insert(name.clone());
                Ok(Action::Keep(name))
            }
            "use" => {
                let name = name_of(line, at)?;
                if !self.kept.contains(&name) {
                    return Err(
                        line.mistake(at, format!("nothing is kept as {name} before this line: keep {name} does that"))
                    );
                }
                Ok(Action::Use(name))
            }
            _ => self.step(line).map(Action::Step),
        }
    }

    fn step(&mut self, line: &SourceLine) -> Result<S, Mistake> {
        let (first, rest) = first_word(line.content);
        let is_number = first.bytes().all(|byte| byte.is_ascii_digit());
        let count = if is_number { Some(count_of(line, first)?) } else { None };
        let (verb, argument) = if is_number { first_word(rest) } else { (first, rest) };
        if verb.is_empty() {
            return Err(line.mistake(line.content.trim_end().len(), "a verb follows a count: 3 carry-up"));
        }
        if is_number && matches!(verb, "type" | "keep" | "use") {
            return Err(line.mistake(0, format!("{verb} takes no count: repeat {first} does it again")));
        }
        let written = Written { count, verb, argument };
        (self.step)(&written).map_err(|wrong| {
            let part = if wrong.part == StepPart::Verb { verb } else { argument };
            // Both are slices of the line.
            let at = if part.is_empty() { line.content.trim_end().len() } else { offset(line.content, part) };
            line.mistake(at, wrong.why)
        })
    }

    /// The pattern of the nearest `each match` that is open.
    fn matched(&self) -> Option<Arc<Pattern>> {
        self.open.iter().rev().find_map(|block| match &block.header {
            Some(Header::EachMatch(pattern, _)) => Some(pattern.clone()),
            _ => None,
        })
    }

    fn note_groups(&mut self) {
        let nearest = self.open.iter_mut().rev().find_map(|block| match &mut block.header {
            Some(Header::EachMatch(_, groups)) => Some(groups),
            _ => None,
        });
        nearest.into_iter().for_each(|groups| *groups = Groups::Typed);
    }
}

/// Where `part`, a slice of `whole`, begins in it.
fn offset(whole: &str, part: &str) -> usize {
    part.as_ptr().addr() - whole.as_ptr().addr()
}

fn count_of(line: &SourceLine, digits: &str) -> Result<u32, Mistake> {
    match digits.parse::<u32>() {
        Ok(count) if (1..=LARGEST_COUNT).contains(&count) => Ok(count),
        _ => Err(line.mistake(0, format!("a count is a number from 1 to {LARGEST_COUNT}"))),
    }
}

fn name_of(line: &SourceLine, at: usize) -> Result<String, Mistake> {
    let name = line.content[at..].trim_end();
    let is_name = |c: char| c.is_alphanumeric() || matches!(c, '_' | '-');
    if name.is_empty() || !name.chars().all(is_name) {
        let place = if name.is_empty() { line.content.trim_end().len() } else { at };
        return Err(line.mistake(place, "a name stands here: letters, digits, _ and -"));
    }
    Ok(name.to_owned())
}
