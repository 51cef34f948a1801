//! Recipes in the workspace: recording, playing, doing the last change again.

use super::book::{Book, From, Known, RECORDED, Shelves, check_name, keep, of_project};
use super::machine::{Host, Run, run};
use super::news::Ended;
use super::recording::{Moment, Recording};
use super::written::Line;
use super::written::recipe_of;
use super::{Program, read, read_trusted};
use crate::buffer::Buffer;
use crate::buffer::parsing::Taken;
use crate::convoy::acting::Part;
use crate::editing::{self, Effects};
use crate::event::Payload;
use crate::filtering;
use crate::ids::ViewId;
use crate::project::Trust;
use crate::registry::verb::Replay;
use crate::state::recipes::{LastChange, Recipes};
use crate::structure::structure;
use crate::tasks::{About, Tasks};
use crate::view::View;
use crate::view::remembered::Left;
use crate::workspace::Workspace;
use snarvel_core::history::{Grouping, NewStep};
use snarvel_core::recipes::Mistake;
use snarvel_core::verbs::scene::counted;
use snarvel_files::commands::Failure;
use snarvel_task::waits;
use std::path::PathBuf;
use std::time::Duration;

impl Workspace {
    /// What is known of recipes.
    #[must_use]
    pub fn recipes(&self) -> &Recipes {
        &self.past.recipes
    }

    /// What is known of recipes.
    pub fn recipes_mut(&mut self) -> &mut Recipes {
        &mut self.past.recipes
    }

    /// Starts or ends a recording.
    pub fn record(&mut self) -> Effects {
        let now = self.moment();
        let recipes = &mut self.past.recipes;
        let Some(mut recording) = recipes.recording.take() else {
            recipes.recording = Some(Recording::begin(now));
            return Effects::saying("recording: what you do becomes steps, until you press the same again");
        };
        recording.check(&now);
        if recording.is_empty() {
            return Effects::saying("nothing was recorded");
        }
        let steps = counted(recording.len(), "step");
        if let Some(flaw) = recording.flaw() {
            return Effects::saying(format!("recorded {steps} that cannot be played again: {flaw}"));
        }
        let known = Known { name: RECORDED.to_owned(), source: recording.recipe() };
        recipes.unfiled.note_last(known.clone());
        recipes.unfiled.put(known);
        Effects::saying(format!("recorded {steps}: $ plays them, Ctrl+R shows and keeps them"))
    }

    /// Reads the recipes that there are, in the background.
    pub fn read_recipes(&mut self) {
        let shelves = Shelves {
            person: self.project.recipes.clone(),
            project: of_project(&self.project.folder),
            is_trusted: self.project.trust.reads_recipes(),
        };
        let about = About::new("reading recipes").awaited(waits::FOLDER);
        let handle = self.tasks.run(about, Payload::Recipes, move || Book::read(&shelves));
        self.past.recipes.reading = Some(handle);
    }

    /// Reads a recipe: one that runs commands of the system only where the folder is trusted.
    ///
    /// # Errors
    /// All of its mistakes, in the order of the text.
    pub fn read_recipe(&self, source: &str) -> Result<Program, Vec<Mistake>> {
        if self.project.trust.reads_recipes() { read_trusted(source) } else { read(source) }
    }

    /// The person trusts the project's folder from now on.
    pub fn trust_project(&mut self) {
        self.project.trust = Trust::Folder;
        if let Some(store) = self.keeping.store.clone() {
            let folder = self.project.folder.clone();
            self.begin_operation(None, move || {
                let said = "this folder is trusted: its recipes are there";
                store.trust(&folder).map(|()| said.to_owned()).map_err(|error| format!("{error:#}"))
            });
        }
        self.read_recipes();
    }

    /// Keeps a recipe under its name in the person's folder, in the background. Until it is there it is a draft.
    ///
    /// # Errors
    /// Why it cannot be kept: a name that does not serve as one, or no configuration folder.
    pub fn keep_recipe(&mut self, known: Known) -> Result<(), String> {
        check_name(&known.name)?;
        let Some(folder) = self.project.recipes.clone() else {
            return Err("recipes are not kept here: no configuration folder is read".to_owned());
        };
        self.past.recipes.unfiled.put(known.clone());
        self.begin_operation(None, move || keep(&folder, &known).map(|()| format!("kept as {}", known.name)));
        Ok(())
    }

    /// Takes in which recipes there are. A draft that is a file of the person now is none any more.
    pub(crate) fn take_recipes(&mut self, book: Book) {
        let recipes = &mut self.past.recipes;
        let is_kept = |draft: &Known| book.entries.iter().any(|each| each.from == From::Person && each.known == *draft);
        if recipes.unfiled.drafts().iter().any(is_kept) {
            recipes.unfiled.retain(|draft| !is_kept(draft));
        }
        recipes.book = book;
    }

    /// Does the last change, or the last recipe, again, so many times, as one step.
    pub(crate) fn replay(&mut self, what: Replay, name: Option<&str>, times: u32) -> Effects {
        match self.to_replay(what, name) {
            Ok(known) => self.play_source(&known, if what == Replay::Change { "again" } else { "play-recipe" }, times),
            Err(why) => Effects::saying(why),
        }
    }

    /// The recipe that is played again; the error is why there is none.
    pub(crate) fn to_replay(&self, what: Replay, name: Option<&str>) -> Result<Known, String> {
        let known = match (what, name) {
            (Replay::Change, _) => self.last_change().map(|source| Known { name: "again".to_owned(), source }),
            (Replay::Recipe, None) => self.past.recipes.unfiled.last().cloned(),
            (Replay::Recipe, Some(name)) => match self.past.recipes.book.find(name) {
                Some(known) => Some(known.clone()),
                None => return Err(format!("no recipe is called {name:?}: Ctrl+R shows all")),
            },
        };
        known.ok_or_else(|| {
            let why = match what {
                Replay::Change => "nothing was changed yet that could be done again",
                Replay::Recipe => "no recipe was recorded or played yet: \" in Shape records one, Ctrl+R shows all",
            };
            why.to_owned()
        })
    }

    /// The last change that is still in the history, as a recipe.
    fn last_change(&self) -> Option<String> {
        let stands = |change: &&LastChange| {
            self.buffer(change.buffer).is_some_and(|buffer| buffer.history().leads_by(change.step))
        };
        let last = self.past.recipes.changes.iter().rev().find(stands)?;
        Some(recipe_of(&last.lines))
    }

    /// Plays a recipe by what it holds, so many times, as one step.
    pub fn play_source(&mut self, known: &Known, verb: &'static str, times: u32) -> Effects {
        match self.read_recipe(&known.source) {
            Ok(program) => {
                let before = self.moment();
                let effects = self.play(&program, (verb, &known.name), times);
                if verb != "again" {
                    self.past.recipes.unfiled.note_last(known.clone());
                }
                self.note_played(&known.source, times, before);
                effects
            }
            Err(mistakes) => {
                let first = mistakes.first().map(ToString::to_string).unwrap_or_default();
                Effects::saying(format!("{} is not played: line {first}", known.name))
            }
        }
    }

    /// What is played in a recording becomes its lines.
    fn note_played(&mut self, source: &str, times: u32, before: Moment) {
        let after = self.moment();
        let Some(recording) = &mut self.past.recipes.recording else { return };
        let is_strict = read(source).is_ok_and(|program| program.rigour == snarvel_core::recipes::Rigour::Strict);
        if is_strict || source.contains("\nkeep ") {
            recording.note_other("a recipe was played in it that stands for itself", [before, after]);
            return;
        }
        let lines = source.trim_start_matches('\u{FEFF}').replace("\r\n", "\n");
        let lines = lines.trim_end_matches('\n');
        let lines = if times > 1 {
            let inner: Vec<String> = lines.lines().map(|line| format!("    {}", line.replace('\t', "    "))).collect();
            format!("repeat {times}\n{}", inner.join("\n"))
        } else {
            lines.replace('\t', "    ")
        };
        recording.note(Some(Line::Step(lines)), [before, after]);
    }

    /// Plays `program` `times` times as one step of the history that is called `verb`: in the view with the keys, or in each file of
    /// its convoy. If it stops early in one of them, nothing changes in any.
    fn play(&mut self, program: &Program, (verb, name): (&'static str, &str), times: u32) -> Effects {
        let is_arriving = self.convoy_arriving() > 0 && self.is_in_convoy(self.active().id);
        let (members, left_out) = match self.convoy().map(<[_]>::to_vec) {
            None if is_arriving => return self.refused_while_arriving(),
            None => {
                let id = self.views.focus();
                return match self.run_of(program, (id, name), times) {
                    Ok(done) => self.record_run(id, (verb, name), done),
                    Err(why) => Effects::saying(why),
                };
            }
            Some(members) => self.that_may_change(&members),
        };
        self.note_changes();
        let before: Vec<_> = members.iter().map(|member| self.state_of(member)).collect();
        let mut runs: Vec<Run> = Vec::new();
        for member in &members {
            match self.run_of(program, (member.view, name), times) {
                Ok(done) => runs.push(done),
                Err(why) => {
                    for (member, done) in members.iter().zip(&runs) {
                        editing::take_back(self.pair_mut(member.view), &done.changes, &done.before);
                    }
                    let file = self.buffer(member.buffer).map(Buffer::name).unwrap_or_default();
                    return Effects::saying(format!("{file}: {why}"));
                }
            }
        }
        let each = members.into_iter().zip(before).zip(runs);
        let parts = each.map(|((member, before), done)| {
            let effects = self.record_run(member.view, (verb, name), done);
            Part { member, effects, before }
        });
        let parts: Vec<Part> = parts.collect();
        self.join_steps(verb, &parts);
        self.told_of(parts, &left_out)
    }

    /// Runs `program` `times` times in a view, without a step of the history.
    ///
    /// # Errors
    /// Why it stopped early: then text and cursors are unchanged.
    fn run_of(&mut self, program: &Program, (id, name): (ViewId, &str), times: u32) -> Result<Run, String> {
        let (folder, limit) = (self.project.folder.clone(), self.project.filter_limit);
        let tasks = &mut self.tasks;
        let view = self.views.get_mut(id).expect("the view is there");
        let buffer = self.buffers.known_mut(view.buffer).expect("a view is of a buffer that is there");
        if buffer.is_partial() {
            return Err(crate::buffer::STILL_LOADING.to_owned());
        }
        view.catch_up(buffer);
        buffer.history_mut().close_step();
        let mut host = Here { is_stopped: Box::new(tasks.stop_key.watched()), tasks, folder, limit };
        let mut whole: Option<Run> = None;
        for _ in 0..times.max(1) {
            match run(program, (&mut *buffer, &mut *view), &mut host) {
                Ok(next) => whole = Some(joined(whole, next)),
                Err(ended) => {
                    if let Some(done) = whole {
                        editing::take_back((&mut *buffer, &mut *view), &done.changes, &done.before);
                    }
                    return Err(told_ended(name, &ended));
                }
            }
        }
        Ok(whole.expect("it runs at least once"))
    }

    /// Records what a run did as a step of the history called `verb`.
    fn record_run(&mut self, id: ViewId, (verb, name): (&'static str, &str), done: Run) -> Effects {
        let now_ms = self.now_ms;
        let forgotten = self.active().history().forgotten();
        let (buffer, view) = self.pair_mut(id);
        let told = told_done(name, &done);
        let after = view.shared_cursors();
        let Run { before, changes, .. } = done;
        if changes.is_empty() && *before != *after {
            view.remembered.remember(view.id, buffer, (&before, Left::ByAct));
        } else if !changes.is_empty() {
            let step = NewStep { verb, group: None, changes, before, after, grouping: Grouping::Alone, amount: None };
            buffer.record(step, now_ms);
        }
        self.finish_step(forgotten);
        Effects::saying(told)
    }
}

fn joined(whole: Option<Run>, next: Run) -> Run {
    let Some(mut whole) = whole else { return next };
    whole.changes.extend(next.changes);
    whole.not_done += next.not_done;
    whole.why_not = whole.why_not.or(next.why_not);
    whole
}

fn told_ended(name: &str, ended: &Ended) -> String {
    format!("{name} was not played: {ended}; nothing has changed")
}

fn told_done(name: &str, done: &Run) -> String {
    let what = if name == "again" { "did the last change again".to_owned() } else { format!("played {name}") };
    match (done.not_done, &done.why_not) {
        (0, _) => what,
        (not_done, None) => format!("{what}; {} could not be done", counted(not_done, "step")),
        (1, Some(why)) => format!("{what}; 1 step could not be done: {why}"),
        (not_done, Some(why)) => format!("{what}; {} could not be done, the first: {why}", counted(not_done, "step")),
    }
}

/// A run in the program: it waits for the structure no longer than a command does, and Esc stops it.
struct Here<'w> {
    tasks: &'w mut Tasks,
    /// Where commands run, and how long they may.
    folder: PathBuf,
    limit: Duration,
    is_stopped: Box<dyn Fn() -> bool + Sync>,
}

impl Host for Here<'_> {
    fn structure(&mut self, buffer: &mut Buffer, view: &View) -> Taken {
        structure(self.tasks, buffer, view, waits::STRUCTURE)
    }

    fn is_stopped(&self) -> bool {
        (self.is_stopped)()
    }

    fn filtered(&mut self, command: &str, inputs: &[Vec<u8>]) -> Result<Vec<String>, Failure> {
        filtering::filtered((command, &self.folder), inputs, self.limit, &*self.is_stopped)
    }
}
