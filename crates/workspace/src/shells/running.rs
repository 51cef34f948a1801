//! Running: a selection or a line in the shell of its language, a file, a task of the project.

use super::starting::{no_repl, refused};
use crate::arrival::Arrival;
use crate::buffer::Buffer;
use crate::editing::Effects;
use crate::ids::BufferId;
use crate::project::{Trust, Writing};
use crate::state::shells::{Purpose, Wanted};
use crate::workspace::Workspace;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::text::place::Place;
use snarvel_core::units::Line;
use snarvel_core::verbs::scene::counted;
use snarvel_shell::runners::{Task, When};
use std::path::Path;

impl Workspace {
    /// Runs what is selected in the shell of its language; where nothing is, the line, and the caret goes on to the next.
    pub(crate) fn run_here(&mut self) -> Effects {
        if let Some(effects) = self.ask_to_end() {
            return effects;
        }
        let (buffer, view) = (self.active(), self.view());
        let language = self.language_here().name.clone();
        let text = buffer.text();
        let selections: Vec<Selection> = view.cursors().iter().filter(|each| !each.is_caret()).collect();
        let folder = buffer.path().and_then(Path::parent).unwrap_or(&self.project.folder);
        if self.past.shells.table.with_shipped().repl_of(&language, folder).is_none() {
            return refused(no_repl(&language));
        }
        let (lines, is_line) = match selections.is_empty() {
            false => (selections.iter().map(|each| text.slice(each.span()).into_owned()).collect(), false),
            true => {
                let line = text.line_of(view.cursors().primary().head);
                (vec![text.content(line).into_owned()], true)
            }
        };
        let said =
            format!("{language}: {} sent", counted(lines.iter().map(|part| part.lines().count().max(1)).sum(), "line"));
        let effects = self.run_wanted(Wanted::Lines { language, text: lines.join("\n") });
        if effects.is_refused {
            return effects;
        }
        if is_line {
            self.go_to_next_line();
        }
        Effects { message: effects.message.or(Some(said)), ..effects }
    }

    /// The caret goes to the next line that is not blank.
    fn go_to_next_line(&mut self) {
        let (buffer, view) = self.active_pair_mut();
        let text = buffer.text();
        let here = text.line_of(view.cursors().primary().head);
        let is_full = |line: &Line| !text.content(*line).trim().is_empty();
        let next = (here.0 + 1..text.line_count()).map(Line).find(is_full).unwrap_or(Line(here.0 + 1));
        if next.0 < text.line_count() {
            let start = text.line_start(next);
            view.set_cursors(buffer, CursorSet::one(Selection::caret(start)));
            view.go(buffer, Arrival::Place(Place::Byte(start)));
        }
    }

    /// A command that still runs is asked about: a second press ends it.
    fn ask_to_end(&mut self) -> Option<Effects> {
        let is_command = |purpose: &Purpose| matches!(purpose, Purpose::Command(_));
        let shells = &mut self.past.shells;
        let running = shells.list.iter().rev().find(|shell| shell.is_running() && is_command(&shell.purpose))?;
        if shells.asked_to_end.take() == Some(running.id) {
            running.session.end();
            return Some(Effects::saying(format!("{} is being ended", running.name)));
        }
        shells.asked_to_end = Some(running.id);
        Some(Effects::saying(format!("{} is still running: the same key once more ends it", running.name)))
    }

    /// Runs the file of the active text.
    pub(crate) fn run_file(&mut self) -> Effects {
        if let Some(effects) = self.ask_to_end() {
            return effects;
        }
        let buffer = self.active();
        let Some(path) = buffer.path().map(Path::to_owned) else {
            return refused("this text has no file: Ctrl+S gives it one".to_owned());
        };
        let language = buffer.language().clone();
        let out = std::env::temp_dir().join(format!("snarvel-{}", std::process::id()));
        let table = self.past.shells.table.with_shipped();
        let Some(run) = table.run_of_file(&language.name, &path, &out) else {
            let title = &language.title;
            return refused(format!("how {title} is run is not known: [[runner]] in settings.toml adds it"));
        };
        let name = format!("run {}", self.active().name());
        self.run_saved(Wanted::Command { name, command: run.command, folder: run.folder })
    }

    /// Runs a command that reads the active text's file: once that is saved, where it is changed and saving before is set.
    fn run_saved(&mut self, wanted: Wanted) -> Effects {
        if !self.active().is_unsaved() {
            return self.run_wanted(wanted);
        }
        let may_save = self.active().path().is_some() && self.project.writing == Writing::Files;
        if may_save && self.project.saving.before_runs {
            let id = self.active().id;
            self.past.shells.after_save = Some((id, wanted));
            self.save(id, None);
            return Effects::default();
        }
        let effects = self.run_wanted(wanted);
        let said = "the file runs as it was saved last".to_owned();
        Effects { message: effects.message.or(Some(said)), ..effects }
    }

    /// A save has come to its end: what waited for it runs, and the tasks that run after each save.
    pub(crate) fn run_after_save(&mut self, id: BufferId) {
        let is_unsaved = self.buffer(id).is_none_or(Buffer::is_unsaved);
        let effects = match self.past.shells.after_save.take_if(|(of, _)| *of == id) {
            Some(_) if is_unsaved => return,
            Some((_, wanted)) => self.run_wanted(wanted),
            None if is_unsaved || self.project.trust == Trust::Nothing => return,
            None => return self.check_after_save(),
        };
        effects.message.into_iter().for_each(|message| self.say(message));
    }

    /// The tasks that there are for the project, the one that ran last first.
    #[must_use]
    pub fn tasks_here(&self) -> Vec<Task> {
        let mut tasks = self.past.shells.table.with_shipped().tasks_in(&self.project.folder);
        if let Some(last) = self.past.shells.last_task.as_ref() {
            tasks.sort_by_key(|task| task.name != *last);
        }
        tasks
    }

    /// Runs a task.
    pub fn run_task(&mut self, task: &Task) -> Effects {
        if let Some(effects) = self.ask_to_end() {
            return effects;
        }
        self.past.shells.last_task = Some(task.name.clone());
        self.run_saved(self.wanted_task(task))
    }

    fn wanted_task(&self, task: &Task) -> Wanted {
        let (name, command) = (task.name.clone(), task.command.clone());
        Wanted::Command { name, command, folder: self.project.folder.clone() }
    }

    /// Runs the task called `name`.
    pub(crate) fn check_named(&mut self, name: &str) -> Effects {
        match self.tasks_here().into_iter().find(|task| task.name == name) {
            Some(task) => self.run_task(&task),
            None => {
                let names: Vec<String> = self.tasks_here().into_iter().map(|task| task.name).collect();
                let what = if names.is_empty() { NO_TASKS.to_owned() } else { format!("{} are", names.join(", ")) };
                refused(format!("no task is called {name:?}: {what}"))
            }
        }
    }

    /// Tasks that run after each save run, unless they are still at it.
    fn check_after_save(&mut self) {
        for task in self.tasks_here().iter().filter(|task| task.when == When::Save) {
            let is_running = self.past.shells.list.iter().any(|shell| shell.is_running() && shell.name == task.name);
            if !is_running {
                let effects = self.run_wanted(self.wanted_task(task));
                effects.message.into_iter().for_each(|message| self.say(message));
            }
        }
    }
}

/// What is said where a project has no tasks.
pub const NO_TASKS: &str = "there are no tasks here: [[task]] in settings.toml adds them";
