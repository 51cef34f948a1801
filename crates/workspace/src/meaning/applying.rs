//! Edits over files as one step: those of servers, renames, layouts. Files that are not open become open, changed texts; nothing is
//! written before a save.
//!
//! What files hold and what differs is worked out in the background. Then all of it is done, or, where one text has changed since,
//! nothing. Edits of whole lines go through a comparison first, so that cursors, pins and bookmarks stay with what is the same.

use super::ready::{Ready, Target, part};
use crate::buffer::{Buffer, Origin};
use crate::event::Payload;
use crate::ids::{BufferId, ServerId, TaskId};
use crate::meaning::formatted::AfterFormat;
use crate::notice::Notice;
use crate::state::meaning::Working;
use crate::state::operation::FileOperation;
use crate::tasks::About;
use crate::transaction::{Part, Transaction};
use crate::view::View;
use crate::workspace::Workspace;
use snarvel_core::text::Text;
use snarvel_core::verbs::scene::counted;
use snarvel_files::loading::Opened;
use snarvel_servers::exchange::Input;
use snarvel_servers::news::{Answer, Edits, FileStep};
use std::path::PathBuf;

/// What is to be done, and what comes of it.
#[derive(Clone, Debug)]
pub(crate) struct Plan {
    /// What the step is called.
    pub(crate) verb: &'static str,
    /// What is said when it is done; the counts come after it.
    pub(crate) said: String,
    /// A server that is told whether it was done, and by what number.
    pub(crate) answer: Option<(ServerId, u64)>,
    /// What is done then.
    pub(crate) then: AfterFormat,
    /// The text that it is for.
    pub(crate) buffer: Option<BufferId>,
}

impl Plan {
    /// A plan that nothing follows.
    pub(crate) fn of(verb: &'static str, said: impl Into<String>) -> Plan {
        Plan { verb, said: said.into(), answer: None, then: AfterFormat::Nothing, buffer: None }
    }
}

impl Workspace {
    /// Begins to carry out edits.
    pub(crate) fn begin_edits(&mut self, edits: Edits, plan: Plan) {
        let open: Vec<Option<(BufferId, u64, Text)>> = edits
            .files
            .iter()
            .map(|file| {
                let buffer = self.buffers.iter().find(|buffer| buffer.is_of(&file.path))?;
                Some((buffer.id, buffer.revision(), buffer.text().clone()))
            })
            .collect();
        let task = self.tasks.run(About::new("working out edits"), Payload::Edits, move || {
            let parts = edits.files.into_iter().zip(open).map(|(file, open)| part(file, open, &edits.steps));
            Ok(Ready { parts: parts.collect::<Result<_, String>>()?, steps: edits.steps })
        });
        let Plan { verb, said, answer, then, buffer } = plan;
        self.past.meaning.jobs.working.push(Working { task, verb, said, answer, then, buffer });
    }

    /// Carries edits out that are worked out, or says why not.
    pub(crate) fn take_ready(&mut self, task: TaskId, ready: Result<Ready, String>) {
        let list = &mut self.past.meaning.jobs.working;
        let Some(at) = list.iter().position(|working| working.task.id == task) else { return };
        let working = list.remove(at);
        let result = ready.and_then(|ready| self.carry_out_ready(&working, ready));
        if let Some((server, number)) = working.answer
            && let Some(link) = self.link_mut(server)
        {
            link.server.give(Input::Applied(number, result.clone().map(|_| ())));
        }
        match result {
            Ok(said) => self.say(said),
            Err(why) => self.say(format!("nothing was changed: {why}")),
        }
        self.go_on_after_layout(working.then, working.buffer);
    }

    /// A task of edits has ended without a result: it has panicked, which was told.
    pub(crate) fn take_edits_end(&mut self, task: TaskId) {
        self.past.meaning.jobs.working.retain(|working| working.task.id != task);
    }

    fn carry_out_ready(&mut self, working: &Working, ready: Ready) -> Result<String, String> {
        let mut parts = Vec::new();
        let mut made = Vec::new();
        for (target, change) in ready.parts.into_iter().filter(|(_, change)| !change.is_empty()) {
            match target {
                Target::Open { id, revision } => parts.push(Part { buffer: id, revision, change }),
                Target::Read { path, opened } => made.push((path, opened, change)),
            }
        }
        // Before anything is opened: what is open must accept its part.
        for part in &parts {
            let buffer = self.buffer(part.buffer).ok_or("a text was closed meanwhile")?;
            if buffer.revision() != part.revision {
                return Err(format!("{} was changed meanwhile", buffer.name()));
            }
            if buffer.is_partial() || buffer.saved.read_only {
                return Err(format!("{} cannot be changed", buffer.name()));
            }
        }
        for (path, opened, change) in made {
            let id = self.add_unseen(path, opened);
            let revision = self.buffer(id).map_or(0, Buffer::revision);
            parts.push(Part { buffer: id, revision, change });
        }
        let (places, files) = (parts.iter().map(|part| part.change.edits().len()).sum::<usize>(), parts.len());
        if files > 0 {
            let transaction = Transaction { verb: working.verb, parts };
            self.commit(transaction).map_err(|refusal| refusal.to_string())?;
        }
        let steps: Vec<FileStep> =
            ready.steps.into_iter().filter(|step| !matches!(step, FileStep::Create(_))).collect();
        if !steps.is_empty() {
            self.told.notices.push(Notice::MayChangeFiles(steps));
        }
        Ok(match (files, working.said.as_str()) {
            (0, "") => "nothing to change".to_owned(),
            (0, said) => format!("{said}: nothing to change"),
            (1, said) => format!("{said}: {}", counted(places, "place")),
            (files, said) => format!("{said}: {} in {}", counted(places, "place"), counted(files, "file")),
        })
    }

    /// A text of a file that is not shown: it is there in the tab bar.
    fn add_unseen(&mut self, path: PathBuf, opened: Option<Box<Opened>>) -> BufferId {
        let layout = (snarvel_files::layout::FileLayout::default(), None);
        let is_new = || Opened { loaded: None, stamp: None, layout };
        let opened = opened.map_or_else(is_new, |opened| *opened);
        let empty = snarvel_files::load::Loaded {
            text: Text::default(),
            encoding: snarvel_files::load::Encoding::default(),
            read_only: false,
        };
        let mut buffer = Buffer::new(empty, Origin::File(path), self.project.defaults, None);
        let sink = self.parse_sink(buffer.id);
        buffer.take_opened(opened, Some(sink));
        let id = buffer.id;
        self.views.add(View::of(&mut buffer));
        self.buffers.push(buffer);
        self.begin_journal(id);
        id
    }

    /// A server wants edits.
    pub(crate) fn carry_out_for(&mut self, server: ServerId, number: u64, edits: Edits) {
        let name = self.link(server).map_or_else(String::new, |link| link.name.clone());
        let plan = Plan { answer: Some((server, number)), ..Plan::of("server-edit", format!("{name} changed")) };
        self.begin_edits(edits, plan);
    }

    /// The person has said that files may be renamed and deleted.
    pub fn change_files_for_server(&mut self, steps: Vec<FileStep>) {
        let mut operations: Vec<FileOperation> = steps
            .into_iter()
            .map(|step| match step {
                FileStep::Create(path) => FileOperation::CreateFile(path),
                FileStep::Rename(from, to) => FileOperation::Rename(from, to),
                FileStep::Delete(path) => FileOperation::Trash(path),
            })
            .collect();
        match (operations.len(), operations.pop()) {
            (1, Some(only)) => self.operate(only),
            (_, Some(last)) => {
                operations.push(last);
                let count = operations.len();
                self.begin_operation(None, move || {
                    operations.iter().try_for_each(|operation| operation.carry_out().map(|_| ()))?;
                    Ok(counted(count, "file operation"))
                });
            }
            (_, None) => {}
        }
    }

    /// Edits that were asked for have come.
    pub(crate) fn take_edits(&mut self, verb: &'static str, of: (BufferId, u64), answer: Answer) {
        match answer {
            Answer::Edits(edits) if self.is_still(of) => {
                let said = match verb {
                    "rename" => "renamed".to_owned(),
                    verb => verb.replace('-', " "),
                };
                self.begin_edits(edits, Plan::of(verb, said));
            }
            Answer::Refused(why) => self.say(format!("nothing was changed: {why}")),
            _ => self.say("nothing was changed: the text was changed meanwhile"),
        }
    }

    /// Whether a text is still as it was at that revision.
    pub(crate) fn is_still(&self, (id, revision): (BufferId, u64)) -> bool {
        self.buffer(id).is_some_and(|buffer| buffer.revision() == revision)
    }
}
