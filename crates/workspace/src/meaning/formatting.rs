//! Laying out a text: by its server, else by the command that is set for its language, else by its own indentation. As a small change,
//! one step.

use super::applying::Plan;
use super::ready::change_of;
use crate::editing::{EditCall, Effects};
use crate::event::Payload;
use crate::filtering::filtered;
use crate::ids::BufferId;
use crate::meaning::formatted::{AfterFormat, Formatted};
use crate::notice::Notice;
use crate::project::Trust;
use crate::registry::arguments::Values;
use crate::registry::by_name;
use crate::registry::verb::Does;
use crate::state::meaning::Errand;
use crate::tasks::About;
use crate::transaction::{Part, Transaction};
use crate::workspace::{StructureWait, Workspace};
use snarvel_core::changes::Bias;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::text::indent::IndentUnit;
use snarvel_core::text::raw;
use snarvel_core::units::Span;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_core::verbs::scene::{Outcome, Scene};
use snarvel_servers::ask::{Ask, Indent};
use snarvel_servers::news::Answer;
use std::path::Path;

impl Workspace {
    /// Lays out the active text, or what is selected of it.
    pub fn format(&mut self) -> Effects {
        let primary = self.view().cursors().primary();
        let span = (!primary.is_caret()).then(|| primary.span());
        match self.begin_format(self.active().id, span, AfterFormat::Nothing) {
            Some(effects) => effects,
            None => self.reindent_instead(span),
        }
    }

    /// Begins to lay out a text by a server or a command; none where there is neither.
    pub(crate) fn begin_format(&mut self, id: BufferId, span: Option<Span>, then: AfterFormat) -> Option<Effects> {
        let buffer = self.buffer(id)?;
        let revision = buffer.revision();
        let settings = buffer.settings();
        let indent = match settings.unit {
            IndentUnit::Tab => Indent::Tabs(settings.tabs.0),
            IndentUnit::Spaces(count) => Indent::Spaces(count),
        };
        let language = buffer.language().name.clone();
        if let Some(path) = buffer.path().map(Path::to_owned) {
            let ask = Ask::Format(path, span, indent);
            let errand = |_| Errand::Format { buffer: id, revision, then };
            if self.send_errand(id, ask, errand) {
                return Some(Effects::default());
            }
        }
        let command = self.server_table().and_then(|table| table.formatter(&language)).map(|each| each.command.clone());
        // A command lays out whole texts.
        let command = command.filter(|_| span.is_none())?;
        Some(self.format_by_command(id, command, then))
    }

    /// The person has said that `command` may lay texts out in this folder.
    pub fn allow_format(&mut self, command: &str) -> Effects {
        self.keep_allowed(command);
        self.format_by_command(self.active().id, command.to_owned(), AfterFormat::Nothing)
    }

    fn format_by_command(&mut self, id: BufferId, command: String, then: AfterFormat) -> Effects {
        let is_allowed = self.past.filtering.allowed.contains(&command);
        match self.project.trust {
            Trust::Nothing => return Effects::saying("not laid out: only played (--trust runs the command)"),
            Trust::Asks | Trust::Folder if !is_allowed => {
                self.told.notices.push(Notice::MayFormat(command));
                return Effects::default();
            }
            Trust::Everything | Trust::Asks | Trust::Folder => {}
        }
        let Some(buffer) = self.buffer(id) else { return Effects::default() };
        let (text, revision, folder) = (buffer.text().clone(), buffer.revision(), self.project.folder.clone());
        let longest = self.project.filter_limit;
        let about = About::new("laying out a text");
        let task = self.tasks.start(about, Payload::Formatted, move |sink| {
            snarvel_task::spawn(sink, move |context| {
                let cancel = context.cancel().clone();
                let is_stopped = move || cancel.is_cancelled();
                let input = raw::encode(&text.slice(text.span()).replace("\r\n", "\n"));
                let output = filtered((&command, &folder), &[input], longest, &is_stopped);
                let result = output.map(|mut texts| {
                    let text_now = texts.pop().unwrap_or_default();
                    change_of(&text, &[(text.span(), text_now)])
                });
                context.send(Box::new(Formatted { buffer: id, revision, command, then, result }));
            })
        });
        self.past.meaning.jobs.formatting = Some(task);
        Effects::default()
    }

    /// A command has laid out a text, or failed: then nothing changes, and what it said is shown.
    pub(crate) fn take_formatted(&mut self, formatted: Formatted) {
        self.past.meaning.jobs.formatting = None;
        let Formatted { buffer, revision, command, then, result } = formatted;
        match result {
            Err(failure) => {
                let lines: Vec<String> = failure.to_string().lines().map(str::to_owned).collect();
                self.told.notices.push(Notice::Failed { what: command, lines });
            }
            Ok(_) if !self.is_still((buffer, revision)) => {
                self.say("the text was changed meanwhile: it is not laid out");
            }
            Ok(change) if change.is_empty() => self.say("laid out already"),
            Ok(change) => {
                let parts = vec![Part { buffer, revision, change }];
                match self.commit(Transaction { verb: "format", parts }) {
                    Ok(_) => self.say(format!("laid out by {}", command.split(' ').next().unwrap_or_default())),
                    Err(refusal) => self.say(refusal.to_string()),
                }
            }
        }
        self.go_on_after_layout(then, Some(buffer));
    }

    /// A server has laid out a text.
    pub(crate) fn take_layout(&mut self, of: (BufferId, u64), then: AfterFormat, answer: Answer) {
        match answer {
            Answer::Edits(edits) if self.is_still(of) => {
                let plan = Plan { then, buffer: Some(of.0), ..Plan::of("format", "laid out") };
                self.begin_edits(edits, plan);
            }
            Answer::Refused(why) => {
                // A server that is still starting may turn out not to lay out texts.
                let is_by_command = self.buffer(of.0).is_some_and(|buffer| {
                    self.server_table().is_some_and(|table| table.formatter(&buffer.language().name).is_some())
                });
                let cannot = why.ends_with("cannot tell that");
                match (cannot, is_by_command) {
                    (true, _) if self.buffer(of.0).is_some_and(|buffer| buffer.id == self.active().id) => {
                        let effects = self.reindent_instead(None);
                        effects.message.into_iter().for_each(|message| self.say(message));
                    }
                    _ => self.say(format!("nothing was changed: {why}")),
                }
                self.go_on_after_layout(then, Some(of.0));
            }
            _ => {
                self.say("nothing was changed: the text was changed meanwhile");
                self.go_on_after_layout(then, Some(of.0));
            }
        }
    }

    /// Puts the indentation right where nothing else lays the text out; the cursors stay with what they are at.
    fn reindent_instead(&mut self, span: Option<Span>) -> Effects {
        let Some(Does::Edit(reindent)) = by_name("reindent").map(|verb| verb.does) else { return Effects::default() };
        let put_right = |scene: &Scene| {
            let reach = span.unwrap_or_else(|| scene.text.span());
            let cursors = CursorSet::one(Selection::new(reach.start, reach.end));
            let outcome = reindent(&Scene { cursors: &cursors, ..*scene }, &Values::default());
            let own = scene.cursors.mapped(&outcome.change, Bias::Before);
            Outcome { cursors: Some(own), ..outcome }
        };
        let (clip, now_ms) = (Clip::default(), self.now_ms);
        let effects = self.run_edit(&EditCall::once("format", &put_right, (&clip, now_ms)), StructureWait::Short);
        let said = effects.message.unwrap_or_else(|| "indented anew".to_owned());
        let title = self.active().language().title.clone();
        Effects::saying(format!("no server and no command lays out {title}: {said}"))
    }

    /// A text is laid out, or is not: it is saved where that was to come.
    pub(crate) fn go_on_after_layout(&mut self, then: AfterFormat, buffer: Option<BufferId>) {
        if let (AfterFormat::Save(exit), Some(id)) = (then, buffer) {
            self.save_as_it_is(id, exit);
        }
    }
}
