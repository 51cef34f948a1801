//! Recipes in the workspace: recording, playing, doing the last change again.

use super::book::{Book, Shelves, check_name, keep, of_project};
use super::machine::{Ended, Host, Run, run};
use super::recording::{Moment, Recording};
use super::written::{Line, line_of, literal_of, recipe_of};
use super::{Program, read};
use crate::buffer::Buffer;
use crate::buffer::parsing::Taken;
use crate::command::Command;
use crate::editing::{self, Effects};
use crate::event::Payload;
use crate::ids::BufferId;
use crate::registry::by_name;
use crate::tasks::{About, TaskHandle, Tasks};
use crate::view::View;
use crate::view::remembered::Left;
use crate::workspace::{Workspace, structure};
use snarvel_core::changes::feed::Since;
use snarvel_core::cursors::CursorSet;
use snarvel_core::history::{Grouping, NewStep, StepId};
use snarvel_core::recipes::places;
use snarvel_core::search::pattern::Pattern;
use snarvel_core::verbs::scene::counted;
use snarvel_task::waits;

/// What is replayed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Replay {
    /// The last change.
    Change,
    /// The last recipe.
    Recipe,
}

/// A recipe as it was recorded, or played last.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Known {
    /// What it is called.
    pub name: String,
    /// What it holds.
    pub source: String,
}

/// A change that can be done again.
#[derive(Debug)]
struct LastChange {
    buffer: BufferId,
    step: StepId,
    lines: Vec<Line>,
}

/// Changes are remembered up to this many.
const MOST_CHANGES: usize = 1_000;

/// What the workspace knows of recipes.
#[derive(Debug, Default)]
pub struct Recipes {
    /// The recording under way.
    pub recording: Option<Recording>,
    /// What was recorded or played last.
    pub last: Option<Known>,
    /// What there is to play.
    pub book: Book,
    changes: Vec<LastChange>,
    reading: Option<TaskHandle>,
    keeping: Option<TaskHandle>,
}

/// The name of what was recorded and has no name yet.
pub const RECORDED: &str = "last recording";

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

    /// Text and cursors as they are.
    pub(crate) fn moment(&self) -> Moment {
        Moment::of(self.active(), self.view())
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
        recipes.last = Some(Known { name: RECORDED.to_owned(), source: recording.recipe() });
        Effects::saying(format!("recorded {steps}: $ plays them, Ctrl+R shows and keeps them"))
    }

    /// Reads the recipes that there are, in the background.
    pub fn read_recipes(&mut self) {
        let shelves = Shelves {
            person: self.project.recipes.clone(),
            project: of_project(&self.project.folder),
            is_trusted: self.project.is_trusted,
        };
        let about = About::new("reading recipes").awaited(waits::FOLDER);
        let handle = self.tasks.run(about, Payload::Recipes, move || Book::read(&shelves));
        self.past.recipes.reading = Some(handle);
    }

    /// The person trusts the project's folder from now on.
    pub fn trust_project(&mut self) {
        self.project.is_trusted = true;
        if let Some(store) = self.keeping.store.clone() {
            let folder = self.project.folder.clone();
            let about = About::new("keeping that the folder is trusted");
            self.past.recipes.keeping = Some(self.tasks.run(about, Payload::Operated, move || {
                store.trust(&folder).map(|()| "the folder is trusted".to_owned()).map_err(|error| format!("{error:#}"))
            }));
        }
        self.read_recipes();
    }

    /// Keeps a recipe of the person under its name, in the background.
    ///
    /// # Errors
    ///
    /// Why it cannot be kept: a name that does not serve as one, or no configuration folder.
    pub fn keep_recipe(&mut self, known: Known) -> Result<(), String> {
        check_name(&known.name)?;
        let Some(folder) = self.project.recipes.clone() else {
            return Err("recipes are not kept here: no configuration folder is read".to_owned());
        };
        let about = About::new("writing a recipe").awaited(waits::FOLDER);
        self.past.recipes.last = Some(known.clone());
        self.past.recipes.keeping =
            Some(self.tasks.run(about, Payload::Operated, move || {
                keep(&folder, &known).map(|()| format!("kept as {}", known.name))
            }));
        Ok(())
    }

    /// What a click or another place that depends on the screen does to a recording.
    pub fn spoil_recording(&mut self, why: &str) {
        if let Some(recording) = &mut self.past.recipes.recording
            && recording.flaw().is_none()
        {
            recording.spoil(why);
            self.say(format!("this recording cannot be played again: {why}"));
        }
    }

    /// Notes what `command` did, for the recording and to be done again.
    pub(crate) fn note_step(&mut self, command: &Command, before: Moment, effects: &Effects) {
        let after = self.moment();
        let is_of_click = command.values.has_clicked_place();
        if is_of_click {
            self.spoil_recording("a place came from a click");
        }
        let has_changed = before.revision() != after.revision();
        let is_typing = command.verb.name == "type-text";
        let is_paste = command.verb.reads_clipboard();
        let is_recording = self.past.recipes.recording.is_some();
        if !has_changed && !is_recording {
            return;
        }
        let literal = match is_typing {
            true => self.literal_since(&before, &after).or_else(|| repeated(command, &before, &after)),
            false if is_paste => self.literal_since(&before, &after),
            false => None,
        };
        let has_own_clip = self.past.recipes.recording.as_ref().is_some_and(Recording::has_own_clip);
        let line = match literal {
            // What was copied in the recording is pasted as that.
            Some(text) if is_typing || !has_own_clip => Some(Line::Typed(text)),
            _ => line_of(command),
        };
        if has_changed
            && command.verb.is_step()
            && let Some(line) = &line
        {
            self.remember_change(&after, line.clone());
        }
        let Some(recording) = &mut self.past.recipes.recording else { return };
        if !command.verb.is_step() {
            recording.note_other(
                &format!("{} goes by more than the text and the cursors", command.verb.name),
                [before, after],
            );
            return;
        }
        let is_foreign_paste = is_paste && !has_own_clip && has_changed && !matches!(line, Some(Line::Typed(_)));
        if is_foreign_paste {
            recording.note_other("it pasted what was copied before it", [before, after]);
        } else {
            recording.note(line, [before, after]);
        }
        if effects.clip.is_some() {
            recording.note_copy();
        }
    }

    /// Makes hits of `pattern` the cursors. A recording takes that as `take-matches`, where that finds the same.
    pub fn take_hits(&mut self, hits: CursorSet, pattern: Option<&Pattern>) {
        let before = self.moment();
        let lines = pattern.filter(|_| self.past.recipes.recording.is_some()).and_then(|pattern| {
            let expression = format!("/{}/", pattern.as_expression());
            let command = Command::read(by_name("take-matches")?, &expression).ok()?;
            let same = self.view().with_scene(self.active(), |scene| {
                let taken = places::matches(scene, command.values.search(0)?);
                taken.iter().copied().eq(hits.iter().map(snarvel_core::cursors::Selection::span)).then_some(())
            });
            same.and(line_of(&command)).map(|line| match (line, hits.primary_index()) {
                (Line::Step(step), 0) => Line::Step(step),
                (Line::Step(step), index) => Line::Step(format!("{step}\n{index} next-cursor")),
                (line, _) => line,
            })
        });
        let (buffer, view) = self.active_pair_mut();
        view.set_cursors(buffer, hits);
        let after = self.moment();
        if let Some(recording) = &mut self.past.recipes.recording {
            match lines {
                Some(line) => recording.note(Some(line), [before, after]),
                None => {
                    recording
                        .note_other("cursors were put on hits that a pattern alone does not give", [before, after]);
                }
            }
        }
    }

    /// Notes that text was put in that came from outside.
    pub(crate) fn note_put_in(&mut self, before: Moment) {
        let after = self.moment();
        let line = self.literal_since(&before, &after).map(Line::Typed);
        if let (true, Some(line)) = (before.revision() != after.revision(), &line) {
            self.remember_change(&after, line.clone());
        }
        if let Some(recording) = &mut self.past.recipes.recording {
            recording.note(line, [before, after]);
        }
    }

    fn literal_since(&self, before: &Moment, after: &Moment) -> Option<String> {
        match self.active().feed().since(before.revision()) {
            Since::Changes(entries) => match &entries[..] {
                [only] => literal_of(before.cursors(), &only.change, after.cursors()),
                _ => None,
            },
            Since::Lost => None,
        }
    }

    fn remember_change(&mut self, after: &Moment, line: Line) {
        let changes = &mut self.past.recipes.changes;
        match changes.last_mut() {
            // Typing that goes on is one change.
            Some(last) if last.buffer == after.buffer() && last.step == after.step() => last.lines.push(line),
            _ => changes.push(LastChange { buffer: after.buffer(), step: after.step(), lines: vec![line] }),
        }
        let dropped = changes.len().saturating_sub(MOST_CHANGES);
        changes.drain(..dropped);
    }

    /// Does the last change, or the last recipe, again, so many times, as one step.
    pub(crate) fn replay(&mut self, what: Replay, name: Option<&str>, times: u32) -> Effects {
        let known = match (what, name) {
            (Replay::Change, _) => self.last_change().map(|source| Known { name: "again".to_owned(), source }),
            (Replay::Recipe, None) => self.past.recipes.last.clone(),
            (Replay::Recipe, Some(name)) => match self.past.recipes.book.find(name) {
                Some(known) => Some(known.clone()),
                None => return Effects::saying(format!("no recipe is called {name:?}: Ctrl+R shows all")),
            },
        };
        let Some(known) = known else {
            return Effects::saying(match what {
                Replay::Change => "nothing was changed yet that could be done again",
                Replay::Recipe => "no recipe was recorded or played yet: \" in Shape records one, Ctrl+R shows all",
            });
        };
        self.play_source(&known, if what == Replay::Change { "again" } else { "play-recipe" }, times)
    }

    /// The last change that is in the history as it stands, as a recipe.
    fn last_change(&self) -> Option<String> {
        let stands = |change: &&LastChange| {
            self.buffer(change.buffer).is_some_and(|buffer| buffer.history().leads_by(change.step))
        };
        let last = self.past.recipes.changes.iter().rev().find(stands)?;
        Some(recipe_of(&last.lines))
    }

    /// Plays a recipe by what it holds, so many times, as one step.
    pub fn play_source(&mut self, known: &Known, verb: &'static str, times: u32) -> Effects {
        match read(&known.source) {
            Ok(program) => {
                let before = self.moment();
                let effects = self.play(&program, (verb, &known.name), times);
                if verb != "again" {
                    self.past.recipes.last = Some(known.clone());
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

    /// Plays `program` in the view with the keys, so many times, as one step of the history that is called `verb`.
    fn play(&mut self, program: &Program, (verb, name): (&'static str, &str), times: u32) -> Effects {
        let forgotten = self.active().history().forgotten();
        let now_ms = self.now_ms;
        let (tasks, id) = (&mut self.tasks, self.views.focus());
        let Some(view) = self.views.get_mut(id) else { return Effects::default() };
        let Some(buffer) = self.buffers.iter_mut().find(|buffer| buffer.id == view.buffer) else {
            return Effects::default();
        };
        if buffer.is_partial() {
            return Effects::saying(crate::buffer::STILL_LOADING);
        }
        buffer.history_mut().close_step();
        let mut host = Here { is_stopped: Box::new(tasks.stop_key.watched()), tasks };
        let mut whole: Option<Run> = None;
        for _ in 0..times.max(1) {
            match run(program, (&mut *buffer, &mut *view), &mut host) {
                Ok(next) => whole = Some(joined(whole, next)),
                Err(ended) => {
                    if let Some(done) = whole {
                        editing::take_back((&mut *buffer, &mut *view), &done.changes, &done.before);
                    }
                    return Effects::saying(told_ended(name, &ended));
                }
            }
        }
        let Some(done) = whole else { return Effects::default() };
        let told = told_done(name, &done);
        let after = view.shared_cursors();
        if done.changes.is_empty() && *done.before != *after {
            view.remembered.remember(view.id, buffer, (&done.before, Left::ByAct));
        } else if !done.changes.is_empty() {
            let Run { before, changes, .. } = done;
            let step = NewStep { verb, group: None, changes, before, after, grouping: Grouping::Alone, amount: None };
            buffer.record(step, now_ms);
        }
        self.finish_step(forgotten);
        Effects::saying(told)
    }
}

/// What typing has put in place of each selection, so many times, where nothing of it can be one of a pair.
fn repeated(command: &Command, before: &Moment, after: &Moment) -> Option<String> {
    let typed = command.values.text(0)?.repeat(command.count.unwrap_or(1) as usize);
    let selected: usize = before.cursors().iter().map(|each| each.span().len()).sum();
    let is_all = before.length() + typed.len() * before.cursors().len() == after.length() + selected;
    (is_all && typed.chars().all(|c| c.is_alphanumeric() || c.is_whitespace())).then_some(typed)
}

fn joined(whole: Option<Run>, next: Run) -> Run {
    let Some(mut whole) = whole else { return next };
    whole.changes.extend(next.changes);
    whole.not_done += next.not_done;
    whole
}

fn told_ended(name: &str, ended: &Ended) -> String {
    format!("{name} was not played: {ended}; nothing has changed")
}

fn told_done(name: &str, done: &Run) -> String {
    let what = if name == "again" { "did the last change again".to_owned() } else { format!("played {name}") };
    match done.not_done {
        0 => what,
        not_done => format!("{what}; {} could not be done", counted(not_done, "step")),
    }
}

/// A run in the program: it waits for the structure no longer than a command does, and Esc stops it.
struct Here<'w> {
    tasks: &'w mut Tasks,
    is_stopped: Box<dyn Fn() -> bool>,
}

impl Host for Here<'_> {
    fn structure(&mut self, buffer: &mut Buffer, view: &View) -> Taken {
        structure(self.tasks, buffer, view, waits::STRUCTURE)
    }

    fn is_stopped(&self) -> bool {
        (self.is_stopped)()
    }
}
