//! Text goes through a command of the system: each selection, or the whole text, is given to it and replaced by what it writes.
//!
//! In the program this goes on in the background: the text can be edited meanwhile, and then stays as it is. In a recipe the next
//! step waits for it.

use crate::buffer::Buffer;
use crate::buffer::parsing::Taken;
use crate::command::Command;
use crate::differences;
use crate::editing::{self, EditCall, Effects};
use crate::event::Payload;
use crate::ids::ViewId;
use crate::notice::Notice;
use crate::project::Trust;
use crate::recipes::recording::Moment;
use crate::registry::by_name;
use crate::state::filtering::{Asked, Filter};
use crate::tasks::About;
use crate::view::View;
use crate::workspace::Workspace;
use snarvel_core::changes::{Bias, ChangeBuilder};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::text::ends::LineEnd;
use snarvel_core::text::{Text, raw};
use snarvel_core::units::{Direction, Span};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_core::verbs::scene::{Outcome, Scene, counted};
use snarvel_files::commands::{Failure, Limits, run_all};
use snarvel_task::waits;
use std::path::Path;
use std::time::Duration;

/// The most that a command may write, in bytes.
const MOST_WRITTEN: u64 = 256 << 20;

/// What is given to a command of a text: each selection, or the whole text where there are only carets. Line ends are line feeds.
#[must_use]
pub fn inputs(buffer: &Buffer, view: &View) -> Vec<Vec<u8>> {
    let text = buffer.text();
    let line_end = buffer.settings().line_end.as_str();
    let given = |span: Span| {
        let text = text.slice(span);
        raw::encode(&if line_end == "\n" { text.into_owned() } else { text.replace(line_end, "\n") })
    };
    match is_whole(view.cursors()) {
        true => vec![given(text.span())],
        false => view.cursors().iter().map(|each| given(each.span())).collect(),
    }
}

fn is_whole(cursors: &CursorSet) -> bool {
    cursors.iter().all(Selection::is_caret)
}

/// What a command that was given `input` wrote, as text. A line end at its end that the input did not have is left out.
fn output_of(input: &[u8], output: &[u8]) -> String {
    let mut text = raw::decode(output);
    if !input.ends_with(b"\n") && text.ends_with('\n') {
        text.pop();
    }
    text
}

/// Runs `command` in `folder` on `inputs`; what it wrote of each.
///
/// # Errors
/// Why it gave nothing.
pub fn filtered(
    (command, folder): (&str, &Path),
    inputs: &[Vec<u8>],
    longest: Duration,
    is_stopped: &(dyn Fn() -> bool + Sync),
) -> Result<Vec<String>, Failure> {
    let limits = Limits { longest, most_bytes: MOST_WRITTEN, is_stopped };
    let outputs = run_all(command, folder, inputs, &limits)?;
    Ok(inputs.iter().zip(&outputs).map(|(input, output)| output_of(input, output)).collect())
}

/// Puts what a command wrote in place of what it was given.
pub fn put_back(scene: &Scene, outputs: &[String]) -> Outcome {
    let line_end = scene.settings.line_end;
    if is_whole(scene.cursors) {
        let whole: String = outputs.concat();
        // Line by line, so that cursors stay with their lines.
        let change = differences::change(scene.text, &Text::from(with_line_ends(&whole, line_end).as_str()));
        if change.is_empty() {
            return Outcome::already("the command changes nothing");
        }
        let cursors = scene.cursors.mapped(&change, Bias::Before);
        return Outcome::edit(change, cursors).saying("the whole text went through the command");
    }
    let mut builder = ChangeBuilder::new(scene.text);
    let mut texts = outputs.iter();
    let cursors = scene.cursors.map(|each| {
        let text = with_line_ends(texts.next().map_or("", String::as_str), line_end);
        let start = builder.now(each.start());
        builder.replace(each.span(), &text);
        let direction = if each.head < each.anchor { Direction::Back } else { Direction::Forward };
        Selection::over(Span::new(start, start + text.len()), direction)
    });
    let told = format!("{} went through the command", counted(outputs.len(), "selection"));
    Outcome::edit(builder.finish(), cursors).saying(told)
}

/// A command writes line feeds: in a text with others they are turned into those. A carriage return that it writes itself into a
/// text with line feeds stays.
fn with_line_ends(written: &str, line_end: LineEnd) -> String {
    match line_end {
        LineEnd::Lf => written.to_owned(),
        LineEnd::CrLf => line_end.convert(written),
    }
}

impl Workspace {
    /// Gives the selections, or the whole text, to `command`. One that is new in this folder is asked about first.
    pub(crate) fn filter_through(&mut self, command: &str) -> Effects {
        if command.trim().is_empty() {
            return Effects::saying("no command is given");
        }
        if self.past.filtering.running.is_some() {
            return Effects::saying("a command is still running: Esc ends it");
        }
        if self.active().is_partial() {
            return Effects::saying(crate::buffer::STILL_LOADING);
        }
        match self.project.trust {
            Trust::Nothing => Effects::saying("not run: only played (--trust runs it)"),
            Trust::Everything => self.start_filter(command),
            Trust::Asks | Trust::Folder => {
                if self.past.filtering.allowed.iter().any(|each| each == command) {
                    return self.start_filter(command);
                }
                self.told.notices.push(Notice::MayRun(command.to_owned()));
                Effects::default()
            }
        }
    }

    /// The person has said that `command` may run in this folder.
    pub fn allow_command(&mut self, command: &str) -> Effects {
        self.keep_allowed(command);
        self.start_filter(command)
    }

    /// Notes that `command` may run in this folder.
    pub(crate) fn keep_allowed(&mut self, command: &str) {
        self.past.filtering.allowed.push(command.to_owned());
        if let Some(store) = self.keeping.store.clone() {
            let (folder, command) = (self.project.folder.clone(), command.to_owned());
            let about = About::new("keeping that a command may run");
            // Where it cannot be kept it is asked about again at the next start.
            self.past.filtering.keeping = Some(self.tasks.run(
                about,
                |()| Payload::Ended,
                move || {
                    let _ = store.allow(&folder, &command);
                },
            ));
        }
    }

    fn start_filter(&mut self, command: &str) -> Effects {
        let (buffer, view) = self.pair(self.views.focus());
        let inputs = inputs(buffer, view);
        let asked = Asked { buffer: buffer.id, revision: buffer.revision(), cursors: view.shared_cursors() };
        let view = view.id;
        let (folder, longest) = (self.project.folder.clone(), self.project.filter_limit);
        let own = command.to_owned();
        let about = About::new("running a command: Esc ends it").awaited(waits::FILTER);
        let task = self.tasks.start(about, Payload::Filtered, move |sink| {
            snarvel_task::spawn(sink, move |context| {
                let cancel = context.cancel().clone();
                let is_stopped = move || cancel.is_cancelled();
                context.send(filtered((&own, &folder), &inputs, longest, &is_stopped));
            })
        });
        self.past.filtering.running = Some(Filter { _task: task, command: command.to_owned(), view, asked });
        Effects::default()
    }

    /// Ends the command that runs; whether there was one.
    pub fn end_filter(&mut self) -> bool {
        let was_running = self.past.filtering.running.take().is_some();
        if was_running {
            self.say("the command was ended: nothing has changed");
        }
        was_running
    }

    /// Takes in what the command wrote.
    pub(crate) fn take_filtered(&mut self, result: Result<Vec<String>, Failure>) {
        let Some(Filter { command, view, asked, .. }) = self.past.filtering.running.take() else { return };
        let outputs = match result {
            Ok(outputs) => outputs,
            Err(failure) => {
                let lines: Vec<String> = failure.to_string().lines().map(str::to_owned).collect();
                self.told.notices.push(Notice::Failed { what: command, lines });
                return;
            }
        };
        let is_same = self.buffer(asked.buffer).is_some_and(|buffer| buffer.revision() == asked.revision);
        let there = self.views.get(view).is_some_and(|view| view.buffer == asked.buffer);
        if !is_same || !there {
            self.say("the text was changed meanwhile: what the command wrote is not put in");
            return;
        }
        let effects = self.put_filtered((view, &command), &asked, &outputs);
        effects.message.into_iter().for_each(|message| self.say(message));
    }

    fn put_filtered(&mut self, (view, command): (ViewId, &str), asked: &Asked, outputs: &[String]) -> Effects {
        let now_ms = self.now_ms;
        let is_here = view == self.views.focus();
        let (buffer, view) = self.pair_mut(view);
        view.set_cursors(buffer, (*asked.cursors).clone());
        let (clip, put_in) = (Clip::default(), |scene: &Scene| put_back(scene, outputs));
        let call = EditCall::once("filter-through", &put_in, (&clip, now_ms));
        let before = Moment::of(buffer, view);
        let effects = editing::run((buffer, view), &call, &mut |_, _| Taken::NotYet);
        let step = by_name("filter-through").and_then(|verb| Command::read(verb, command).ok());
        if let Some(step) = step.filter(|_| is_here) {
            self.note_step(&step, before, &effects);
        }
        effects
    }
}
