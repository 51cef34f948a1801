//! Running a recipe on one text: step after step as verbs run, without a step of the history for each.
//!
//! Costs are those of the verbs. Cursors that wait (those from before a block, those whose turn is still to come) cost their number for
//! each change that reaches to them.

use super::Program;
use super::news::Ended;
use super::waiting::{Waiting, follow_all};
use crate::buffer::Buffer;
use crate::buffer::parsing::Taken;
use crate::command::Command;
use crate::editing::{self, EditCall, Effects};
use crate::filtering;
use crate::registry::verb::{Count, Does};
use crate::view::View;
use snarvel_core::changes::Change;
use snarvel_core::cursors::CursorSet;
use snarvel_core::recipes::{Action, Groups, Header, Item, MOST_PASSES, Rigour, Typed, places};
use snarvel_core::search::pattern::Pattern;
use snarvel_core::units::Span;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_core::verbs::scene::{Outcome, Scene};
use snarvel_core::verbs::text::typing::put_in_place;
use snarvel_files::commands::Failure;
use std::collections::HashMap;
use std::sync::Arc;

/// What a run needs from where it runs.
pub trait Host {
    /// The structure of the text around the cursors, waited for as long as this host waits.
    fn structure(&mut self, buffer: &mut Buffer, view: &View) -> Taken;

    /// Whether the run is to stop.
    fn is_stopped(&self) -> bool;

    /// Gives `inputs` to `command`; what it writes of each.
    ///
    /// # Errors
    /// Why it gives nothing.
    fn filtered(&mut self, command: &str, inputs: &[Vec<u8>]) -> Result<Vec<String>, Failure>;
}

/// What a run did.
#[derive(Debug)]
pub struct Run {
    /// The cursors before it.
    pub before: Arc<CursorSet>,
    /// What it changed, one change after the other.
    pub changes: Vec<Arc<Change>>,
    /// How many steps could not be done.
    pub not_done: usize,
    /// Why the first of them could not be done.
    pub why_not: Option<String>,
}

/// Runs `program` in `view`, from the cursors that it has. The changes are made, and no step of the history is recorded.
///
/// # Errors
/// Why it ended: then text and cursors are as they were.
pub fn run(program: &Program, (buffer, view): (&mut Buffer, &mut View), host: &mut dyn Host) -> Result<Run, Ended> {
    let before = view.shared_cursors();
    let most = editing::most_unasked(buffer.text().len());
    let mut machine = Machine {
        buffer,
        view,
        host,
        is_strict: program.rigour == Rigour::Strict,
        most,
        line: 0,
        clip: Clip::default(),
        kept: HashMap::new(),
        changes: Vec::new(),
        found: Vec::new(),
        not_done: 0,
        why_not: None,
    };
    machine.view.forget_verbs();
    let ended = machine.body(&program.body);
    let Machine { buffer, view, changes, not_done, why_not, .. } = machine;
    view.forget_verbs();
    if let Err(ended) = ended {
        editing::take_back((buffer, view), &changes, &before);
        return Err(ended);
    }
    Ok(Run { before, changes, not_done, why_not })
}

struct Machine<'m> {
    buffer: &'m mut Buffer,
    view: &'m mut View,
    host: &'m mut dyn Host,
    is_strict: bool,
    /// The text may have this many bytes.
    most: usize,
    /// The line that runs.
    line: usize,
    clip: Clip,
    kept: HashMap<String, Clip>,
    changes: Vec<Arc<Change>>,
    /// The matches of the open `each match` blocks whose groups are typed.
    found: Vec<Matches>,
    not_done: usize,
    why_not: Option<String>,
}

/// Matches with their groups.
#[derive(Clone)]
struct Matches {
    /// Where they were, in order.
    spans: CursorSet,
    /// How many changes had been made then.
    seen: usize,
    groups: Arc<Vec<Vec<Option<String>>>>,
    /// The only one that counts, where a block runs for one cursor.
    only: Option<usize>,
}

impl Machine<'_> {
    fn body(&mut self, body: &[Item<Command>]) -> Result<(), Ended> {
        body.iter().try_for_each(|item| {
            if self.host.is_stopped() {
                return Err(Ended::Stopped);
            }
            self.line = item.line;
            match &item.action {
                Action::Block(header, body) => self.block(header, body, item.line),
                Action::Step(command) => self.step(command),
                Action::Type(typed) => self.type_in(typed),
                Action::Keep(name) => {
                    self.kept.insert(name.clone(), self.clip.clone());
                    Ok(())
                }
                Action::Use(name) => {
                    self.clip = self.kept.get(name).cloned().unwrap_or_default();
                    Ok(())
                }
            }
        })
    }

    fn block(&mut self, header: &Header, body: &[Item<Command>], line: usize) -> Result<(), Ended> {
        match header {
            Header::Repeat(times) => (0..*times).try_for_each(|_| self.body(body)),
            Header::RepeatWhileChanges => self.while_changing(body, line),
            Header::EachCursor => self.each_cursor(body),
            _ => self.at_places(header, body),
        }
    }

    fn while_changing(&mut self, body: &[Item<Command>], line: usize) -> Result<(), Ended> {
        for _ in 0..MOST_PASSES {
            let (changes, cursors) = (self.changes.len(), self.view.shared_cursors());
            let text = self.buffer.text().clone();
            self.body(body)?;
            let is_same_text = changes == self.changes.len() || text == *self.buffer.text();
            if is_same_text && *cursors == *self.view.cursors() {
                return Ok(());
            }
        }
        Err(Ended::Endless { line })
    }

    /// The block once, with the cursors that the header asks for; then those from before are back.
    fn at_places(&mut self, header: &Header, body: &[Item<Command>]) -> Result<(), Ended> {
        let taken = match header {
            Header::EachBlock => self.host.structure(self.buffer, self.view),
            _ => Taken::NotYet,
        };
        let look = |scene: &Scene| {
            let set = places::of_header(scene, header)?;
            let groups = match header {
                Header::EachMatch(pattern, Groups::Typed) => Some(groups_of(scene, pattern, &set)),
                _ => None,
            };
            Some((set, groups))
        };
        let found = self.view.with_scene_of(self.buffer, (&self.clip, taken.known(), 1), look);
        let Some((set, groups)) = found else { return Ok(()) };
        let (before, seen) = (self.view.shared_cursors(), self.changes.len());
        let set = set.snapped(self.buffer.text());
        let has_groups = groups.is_some();
        if let Some(groups) = groups {
            self.found.push(Matches { spans: set.clone(), seen, groups: Arc::new(groups), only: None });
        }
        self.place(set);
        self.body(body)?;
        if has_groups {
            self.found.pop();
        }
        self.place(follow_all(&before, &self.changes[seen..], self.buffer.text()));
        Ok(())
    }

    /// The block once for each cursor alone, in the order of the text.
    fn each_cursor(&mut self, body: &[Item<Command>]) -> Result<(), Ended> {
        let mut waiting = Waiting::new(self.view.cursors());
        let outer = self.found.last().cloned();
        let numbers = outer.as_ref().map(|matches| self.numbers(matches));
        while let Some((index, cursor)) = waiting.turn() {
            if let (Some(matches), Some(numbers)) = (self.found.last_mut(), &numbers) {
                matches.only = numbers.get(index).copied();
            }
            let seen = self.changes.len();
            self.place(CursorSet::one(cursor).snapped(self.buffer.text()));
            self.body(body)?;
            self.changes[seen..].iter().for_each(|change| waiting.follow(change));
        }
        if let (Some(last), Some(outer)) = (self.found.last_mut(), outer) {
            *last = outer;
        }
        self.place(waiting.all(self.buffer.text()));
        Ok(())
    }

    fn place(&mut self, cursors: CursorSet) {
        self.view.forget_verbs();
        self.view.place_cursors(self.buffer, Arc::new(cursors));
    }

    fn step(&mut self, command: &Command) -> Result<(), Ended> {
        let verb = command.verb;
        if matches!(verb.does, Does::Filter) {
            return self.filter(command.values.text(0).unwrap_or_default());
        }
        let (Does::Edit(function) | Does::Jump(function)) = verb.does else { return Ok(()) };
        let count = command.count.unwrap_or(1);
        let (times, reach) = match verb.count {
            Count::Times => (count, 1),
            Count::Lines => (1, count as usize),
        };
        let needs_structure = verb.structure.is_needed_in(self.buffer.language());
        let run = |scene: &Scene| function(scene, &command.values);
        self.call((verb.name, times, reach), needs_structure, &run)
    }

    fn filter(&mut self, command: &str) -> Result<(), Ended> {
        let inputs = filtering::inputs(self.buffer, self.view);
        match self.host.filtered(command, &inputs) {
            Ok(outputs) => self.call(("filter-through", 1, 1), false, &|scene| filtering::put_back(scene, &outputs)),
            Err(Failure::Stopped) => Err(Ended::Stopped),
            Err(failure) => {
                let effects = Effects { is_refused: true, ..Effects::saying(format!("{command}: {failure}")) };
                self.judge(effects, false)
            }
        }
    }

    fn call(
        &mut self,
        (name, times, reach): (&'static str, u32, usize),
        needs_structure: bool,
        function: &dyn Fn(&Scene) -> Outcome,
    ) -> Result<(), Ended> {
        let (line, before) = (self.line, self.buffer.revision());
        let host = std::cell::RefCell::new(&mut *self.host);
        let is_stopped = || host.borrow().is_stopped();
        let once = EditCall::once(name, function, (&self.clip, 0));
        let call = EditCall { times, reach, is_stopped: &is_stopped, ..once };
        let mut take = |buffer: &mut Buffer, view: &View| match needs_structure {
            true => host.borrow_mut().structure(buffer, view),
            false => Taken::NotYet,
        };
        let effects = match editing::perform((self.buffer, self.view), &call, &mut take) {
            Ok(performed) => performed.into_parts(&mut self.changes),
            Err(_) if host.borrow().is_stopped() => return Err(Ended::Stopped),
            Err(_) => return Err(Ended::TooLarge { line }),
        };
        self.judge(effects, self.buffer.revision() != before)
    }

    /// Takes in what a step did.
    fn judge(&mut self, effects: Effects, has_changed: bool) -> Result<(), Ended> {
        let line = self.line;
        if self.buffer.text().len() > self.most {
            return Err(Ended::TooLarge { line });
        }
        if let Some(clip) = effects.clip {
            self.clip = clip;
        }
        if effects.is_refused && !has_changed {
            self.not_done += 1;
            if self.is_strict {
                return Err(Ended::NotDone { line, why: effects.message.unwrap_or_default() });
            }
            self.why_not = self.why_not.take().or(effects.message);
        }
        Ok(())
    }

    fn type_in(&mut self, typed: &Typed) -> Result<(), Ended> {
        let line_end = self.buffer.settings().line_end;
        let texts: Vec<String> = match typed {
            Typed::Literal(text) => vec![text.clone()],
            Typed::Groups(replacement) => match self.found.last() {
                None => vec![replacement.of(&[], line_end)],
                Some(matches) => {
                    let fill = |number: usize| {
                        let groups: Vec<Option<&str>> =
                            matches.groups.get(number).into_iter().flatten().map(Option::as_deref).collect();
                        replacement.of(&groups, line_end)
                    };
                    self.numbers(matches).into_iter().map(fill).collect()
                }
            },
        };
        let texts: Vec<String> = texts.into_iter().map(|text| with_line_ends(&text, line_end.as_str())).collect();
        self.call(("type", 1, 1), false, &|scene| put_in_place(scene, &texts))
    }

    /// Which match each cursor is at: the one of its own number while there are as many cursors as matches, else the last one that
    /// begins at or before it.
    fn numbers(&self, matches: &Matches) -> Vec<usize> {
        let cursors = self.view.cursors();
        if let Some(only) = matches.only {
            return vec![only; cursors.len()];
        }
        if cursors.len() == matches.groups.len() {
            return (0..cursors.len()).collect();
        }
        let spans = follow_all(&matches.spans, &self.changes[matches.seen..], self.buffer.text());
        let starts: Vec<_> = spans.iter().map(snarvel_core::cursors::Selection::start).collect();
        cursors.iter().map(|each| starts.partition_point(|start| *start <= each.start()).saturating_sub(1)).collect()
    }
}

/// The groups of the matches that `set` selects.
fn groups_of(scene: &Scene, pattern: &Pattern, set: &CursorSet) -> Vec<Vec<Option<String>>> {
    let spans: Vec<Span> = set.iter().map(snarvel_core::cursors::Selection::span).collect();
    let mut all = Vec::with_capacity(spans.len());
    pattern.each_with_groups(scene.text, &spans, |_, groups| {
        all.push(groups.iter().map(|group| group.map(str::to_owned)).collect());
    });
    all
}

fn with_line_ends(text: &str, line_end: &str) -> String {
    if line_end == "\n" { text.to_owned() } else { text.replace("\r\n", "\n").replace('\n', line_end) }
}
