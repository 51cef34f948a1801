//! Transactions: changes of one or several texts as one step, taken back and made again together, and refused as a whole where
//! one text refuses.
//!
//! A transaction may have a part on the disk: files that are not open, in which something was replaced. It goes along with the
//! steps of the open ones, in the background.

use crate::ask::PendingExit;
use crate::buffer::Buffer;
use crate::editing;
use crate::event::Payload;
use crate::ids::{BufferId, TaskId};
use crate::notice::Notice;
use crate::project::Writing;
use crate::state::groups::{Anchor, FileWork, Group, Tally, Way};
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_core::changes::Change;
use snarvel_core::history::{GroupId, StepId, Travel};
use snarvel_core::units::Span;
use snarvel_core::verbs::scene::counted;
use snarvel_files::replacing::{
    ReplaceOutcome, Replaced, Rule, replace_in_background, take_back_in_background, write_in_background,
};
use snarvel_task::waits;
use std::fmt;
use std::path::PathBuf;
use std::sync::Arc;

/// A change of one text.
#[derive(Debug)]
pub struct Part {
    /// Which text.
    pub buffer: BufferId,
    /// The revision that the change was made for.
    pub revision: u64,
    /// The change.
    pub change: Change,
}

/// Changes of several texts that are one step.
#[derive(Debug)]
pub struct Transaction {
    /// What the step is called.
    pub verb: &'static str,
    /// The changes, one for each text.
    pub parts: Vec<Part>,
}

/// Why a transaction changes nothing, by the name of the text that refuses.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Refusal {
    /// The text is no longer open.
    Gone,
    /// More of the text is still to come.
    Loading(String),
    /// Its file may not be written.
    ReadOnly(String),
    /// It has changed since the transaction was made, or since the step that is to be taken back.
    Changed(String),
    /// It has a later step of its own: a second press goes without it.
    HeldUp(String),
    /// Files of the project are still being written.
    Busy,
}

impl fmt::Display for Refusal {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Refusal::Gone => out.write_str("nothing was changed: one of the texts is closed"),
            Refusal::Loading(name) => write!(out, "nothing was changed: {name} is still being read"),
            Refusal::ReadOnly(name) => write!(out, "nothing was changed: {name} is read-only"),
            Refusal::Changed(name) => {
                write!(out, "nothing was changed: {name} was changed since; undo that there first")
            }
            Refusal::HeldUp(name) => {
                write!(out, "{name} has a later step of its own: once more takes this step back in the other files")
            }
            Refusal::Busy => out.write_str("files are still being written: one after the other"),
        }
    }
}

/// Steps that were taken back or made again.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Travelled {
    /// How many.
    pub steps: u32,
    /// The last of them, in words.
    pub last: Option<String>,
}

impl Travelled {
    fn add(&mut self, name: Option<String>) {
        self.steps += 1;
        self.last = name.or(self.last.take());
    }

    /// In the past tense: "undid: carry down, 2 lines".
    #[must_use]
    pub fn told(&self, verb: &str) -> String {
        match (self.steps, &self.last) {
            (1, Some(last)) => format!("{verb}: {last}"),
            (steps, Some(last)) => format!("{verb} {}, the last: {last}", counted(steps as usize, "step")),
            (steps, None) => format!("{verb} {}", counted(steps as usize, "step")),
        }
    }
}

impl Workspace {
    /// Carries a transaction out: each text gets a step of it, and all of them are taken back and made again together.
    ///
    /// # Errors
    /// A text refuses: then nothing is changed anywhere.
    pub fn commit(&mut self, transaction: Transaction) -> Result<GroupId, Refusal> {
        self.check(&transaction)?;
        Ok(self.carry_out(transaction))
    }

    /// Whether all texts of a transaction accept it.
    fn check(&self, transaction: &Transaction) -> Result<(), Refusal> {
        for part in &transaction.parts {
            let buffer = self.buffer(part.buffer).ok_or(Refusal::Gone)?;
            if buffer.is_partial() {
                return Err(Refusal::Loading(buffer.name()));
            }
            if buffer.saved.read_only {
                return Err(Refusal::ReadOnly(buffer.name()));
            }
            if buffer.revision() != part.revision {
                return Err(Refusal::Changed(buffer.name()));
            }
        }
        Ok(())
    }

    fn carry_out(&mut self, transaction: Transaction) -> GroupId {
        self.note_changes();
        let id = GroupId(self.past.groups.next);
        self.past.groups.next += 1;
        let (mut members, mut names) = (Vec::new(), Vec::new());
        let now_ms = self.now_ms;
        let before: Vec<(BufferId, u64)> = transaction.parts.iter().map(|part| (part.buffer, part.revision)).collect();
        for part in transaction.parts.into_iter().filter(|part| !part.change.is_empty()) {
            let view = self.view_of(part.buffer);
            let (buffer, view) = self.pair_mut(view);
            view.catch_up(buffer);
            editing::commit((buffer, view), (transaction.verb, Some(id)), part.change, now_ms);
            members.push(part.buffer);
            names.push(buffer.name());
        }
        self.note_group(&before);
        let anchor = Some(Anchor::of(self.active())).filter(|anchor| !members.contains(&anchor.buffer));
        let group = Group { id, verb: transaction.verb, members, names, disk: Vec::new(), anchor, is_undone: false };
        self.past.groups.list.push(group);
        id
    }

    /// Notes what was changed in several buffers since those revisions as one step of their journals.
    pub(crate) fn note_group(&mut self, before: &[(BufferId, u64)]) {
        use snarvel_core::changes::feed::Since;
        let changed = |(id, revision): &(BufferId, u64)| {
            let buffer = self.buffer(*id)?;
            match buffer.feed().since(*revision) {
                Since::Changes(entries) if !entries.is_empty() => {
                    Some((*id, entries.iter().map(|entry| entry.change.clone()).collect::<Vec<Arc<Change>>>()))
                }
                _ => None,
            }
        };
        let changed: Vec<_> = before.iter().filter_map(changed).collect();
        if changed.len() > 1 {
            self.note_transaction(&changed);
        }
    }

    /// Takes steps of the active text back; a step of a transaction in all its texts.
    ///
    /// # Errors
    /// A text of a transaction refuses.
    pub fn undo(&mut self, times: u32) -> Result<Travelled, Refusal> {
        let mut travelled = Travelled::default();
        while travelled.steps < times.max(1) {
            let name = self.next_name(Way::Back);
            let is_taken_back = match self.group_here(Way::Back) {
                Some(group) => {
                    self.go_group(group, Way::Back)?;
                    true
                }
                None => self.travel(snarvel_core::history::History::undo),
            };
            if !is_taken_back {
                break;
            }
            travelled.add(name);
        }
        Ok(travelled)
    }

    /// The next step back or on of the active text, in words: its verb, and how much it was about.
    fn next_name(&self, way: Way) -> Option<String> {
        let history = self.active().history();
        let id = if way == Way::Back { Some(history.here()) } else { history.next_step() };
        let step = history.step(id?)?;
        let verb = if step.verb() == "type-text" { "type".to_owned() } else { step.verb().replace('-', " ") };
        Some(match step.amount() {
            Some(amount) => format!("{verb}, {amount}"),
            None => verb,
        })
    }

    /// Makes steps of the active text again; a step of a transaction in all its texts.
    ///
    /// # Errors
    /// A text of a transaction refuses.
    pub fn redo(&mut self, times: u32) -> Result<Travelled, Refusal> {
        let mut travelled = Travelled::default();
        while travelled.steps < times.max(1) {
            let name = self.next_name(Way::Again);
            let is_made_again = match self.group_here(Way::Again) {
                Some(group) => {
                    self.go_group(group, Way::Again)?;
                    true
                }
                None => self.travel(snarvel_core::history::History::redo),
            };
            if !is_made_again {
                break;
            }
            travelled.add(name);
        }
        Ok(travelled)
    }

    /// Goes to a place in the tree of steps of the active text, on whatever branch it is; whether there was a way to go. Steps of
    /// transactions on the way are gone in this text only.
    pub fn go_to_step(&mut self, id: StepId) -> bool {
        self.travel(|history| history.go_to(id))
    }

    fn travel(&mut self, step: impl FnOnce(&mut snarvel_core::history::History) -> Option<Travel>) -> bool {
        let (buffer, view) = self.active_pair_mut();
        view.catch_up(buffer);
        let way = step(buffer.history_mut());
        let is_gone = way.is_some();
        way.into_iter().for_each(|way| editing::travel((buffer, view), way));
        is_gone
    }

    /// The transaction that the next step back or on of the active text belongs to.
    fn group_here(&self, way: Way) -> Option<GroupId> {
        let buffer = self.active();
        let history = buffer.history();
        let step = if way == Way::Back { Some(history.here()) } else { history.next_step() };
        let is_anchored =
            |group: &&Group| group.anchor == Some(Anchor::of(buffer)) && group.is_undone == (way == Way::Again);
        // What was asked for in this state of the text came after the step that led to it.
        if let Some(group) = self.past.groups.list.iter().rfind(is_anchored).filter(|_| way == Way::Back) {
            return Some(group.id);
        }
        if let Some(group) = step.and_then(|step| history.step(step)).and_then(snarvel_core::history::Step::group) {
            return self.past.groups.list.iter().any(|each| each.id == group).then_some(group);
        }
        if way == Way::Again && history.can_redo() {
            return None;
        }
        // Where nothing else is to be taken back, what could not be put back on the disk is tried again.
        let is_left_over = |group: &&Group| group.is_undone && !group.disk.is_empty();
        let left_over =
            || self.past.groups.list.iter().rfind(is_left_over).filter(|_| way == Way::Back && !history.can_undo());
        self.past.groups.list.iter().rfind(is_anchored).or_else(left_over).map(|group| group.id)
    }

    /// Takes a transaction back in all its texts, or makes it again.
    fn go_group(&mut self, id: GroupId, way: Way) -> Result<(), Refusal> {
        if self.files.replacing.is_some() {
            return Err(Refusal::Busy);
        }
        let Some(group) = self.past.groups.list.iter().find(|group| group.id == id) else { return Ok(()) };
        // A text that was closed since has no history any more: the others go without it.
        let members: Vec<BufferId> = group.members.iter().copied().filter(|id| self.buffer(*id).is_some()).collect();
        // Only what could not be put back is left to do.
        let is_left_over = group.is_undone && way == Way::Back;
        let members = if is_left_over { Vec::new() } else { members };
        let (members, others): (Vec<BufferId>, Vec<BufferId>) =
            members.into_iter().partition(|member| self.is_next(*member, (id, way)));
        if let Some(name) = others.first().and_then(|other| self.buffer(*other)).map(Buffer::name) {
            // A second press goes without those that have a later step of their own.
            if self.past.convoy.held_up.take() != Some(id) {
                let is_convoy = !self.past.convoy.members.is_empty();
                self.past.convoy.held_up = Some(id).filter(|_| is_convoy);
                return Err(if is_convoy { Refusal::HeldUp(name) } else { Refusal::Changed(name) });
            }
        }
        self.note_changes();
        let before: Vec<(BufferId, u64)> =
            members.iter().filter_map(|id| Some((*id, self.buffer(*id)?.revision()))).collect();
        for member in &members {
            let view = self.view_of(*member);
            let (buffer, view) = self.pair_mut(view);
            view.catch_up(buffer);
            let travel = match way {
                Way::Back => buffer.history_mut().undo(),
                _ => buffer.history_mut().redo(),
            };
            travel.into_iter().for_each(|travel| editing::travel((buffer, view), travel));
        }
        self.note_group(&before);
        self.go_group_on_disk(id, way, members.len());
        Ok(())
    }

    /// Whether the next step of a text, back or on, is of a transaction.
    fn is_next(&self, member: BufferId, (id, way): (GroupId, Way)) -> bool {
        let Some(history) = self.buffer(member).map(Buffer::history) else { return false };
        let step = if way == Way::Back { Some(history.here()) } else { history.next_step() };
        step.and_then(|step| history.step(step)).and_then(snarvel_core::history::Step::group) == Some(id)
    }

    fn go_group_on_disk(&mut self, id: GroupId, way: Way, open: usize) {
        let Some(group) = self.past.groups.get_mut(id) else { return };
        group.is_undone = way == Way::Back;
        let disk = std::mem::take(&mut group.disk);
        let tally = Tally { open, ..Tally::default() };
        if disk.is_empty() {
            let said = Tally { hits: 0, ..tally }.told(way);
            let others = open.saturating_sub(1);
            if others > 0 {
                self.say(said);
            }
            return;
        }
        let (files, layer) = (disk.len(), self.files.disk.clone());
        let about = About::new("putting files back").awaited(waits::REPLACE);
        let task = self.tasks.start(about, Payload::Replaced, |sink| take_back_in_background(disk, layer, sink));
        self.files.replacing = Some(FileWork { task, group: id, files, tally, way, then_quit: false });
    }

    /// Replaces in `files`, each with its hits, as one transaction: in those that are open as a step of theirs, in the others on
    /// the disk, in the background.
    ///
    /// # Errors
    /// Files are still being written.
    pub fn replace_in_files(&mut self, rule: &Rule, files: Vec<(PathBuf, Vec<Span>)>) -> Result<(), Refusal> {
        if self.files.replacing.is_some() {
            return Err(Refusal::Busy);
        }
        let mut tally = Tally::default();
        let (mut parts, mut on_disk) = (Vec::new(), Vec::new());
        for (path, hits) in files {
            match self.buffers.iter().find(|buffer| buffer.is_of(&path)) {
                Some(buffer) => match part_of(buffer, rule, &hits) {
                    Ok(part) => parts.push(part),
                    Err(why) => tally.kept.push(why),
                },
                None if self.project.writing == Writing::Files => on_disk.push((path, hits)),
                None => tally.only_played += 1,
            }
        }
        parts.retain(|part| !part.change.is_empty());
        tally.hits = parts.iter().map(|part| part.change.edits().len()).sum();
        tally.open = parts.len();
        let group = self.carry_out(Transaction { verb: "replace", parts });
        let (files, layer, rule) = (on_disk.len(), self.files.disk.clone(), rule.clone());
        let about = About::new("replacing in files").awaited(waits::REPLACE);
        let task = self.tasks.start(about, Payload::Replaced, |sink| replace_in_background(rule, on_disk, layer, sink));
        self.files.replacing = Some(FileWork { task, group, files, tally, way: Way::Done, then_quit: false });
        Ok(())
    }

    /// Changes open texts and files on the disk as one step called `verb`. An open text that has changed since is left as it is and
    /// told.
    ///
    /// # Errors
    /// Files are still being written.
    pub fn change_files(&mut self, verb: &'static str, parts: Vec<Part>, disk: Vec<Replaced>) -> Result<(), Refusal> {
        if self.files.replacing.is_some() {
            return Err(Refusal::Busy);
        }
        let mut tally = Tally::default();
        let mut kept = Vec::new();
        for part in parts {
            match self.buffer(part.buffer).filter(|buffer| buffer.revision() == part.revision) {
                Some(_) => kept.push(part),
                None => tally.kept.push("an open text was changed since".to_owned()),
            }
        }
        let on_disk = if self.project.writing == Writing::Files {
            disk
        } else {
            tally.only_played += disk.len();
            Vec::new()
        };
        tally.hits = kept.iter().map(|part| part.change.edits().len()).sum();
        tally.open = kept.len();
        let group = self.carry_out(Transaction { verb, parts: kept });
        let (files, layer) = (on_disk.len(), self.files.disk.clone());
        let about = About::new("writing files").awaited(waits::REPLACE);
        let task = self.tasks.start(about, Payload::Replaced, |sink| write_in_background(on_disk, layer, sink));
        self.files.replacing = Some(FileWork { task, group, files, tally, way: Way::Done, then_quit: false });
        Ok(())
    }

    /// How many files of the project are written of how many, while they are replaced in or put back.
    #[must_use]
    pub fn replacing(&self) -> Option<(usize, usize)> {
        self.files.replacing.as_ref().map(|work| (work.tally.seen, work.files))
    }

    /// Takes the newest transaction back that replaced in files of the project, whichever text is active.
    ///
    /// # Errors
    /// A text of it refuses.
    pub fn undo_replacement(&mut self) -> Result<bool, Refusal> {
        let can_go = |group: &&Group| group.verb == "replace" && (!group.is_undone || !group.disk.is_empty());
        let newest = self.past.groups.list.iter().rfind(can_go).map(|group| group.id);
        match newest {
            Some(group) => self.go_group(group, Way::Back).map(|()| true),
            None if self.files.replacing.is_some() => Err(Refusal::Busy),
            None => Ok(false),
        }
    }

    /// The files that the transaction of a step has changed, by their names.
    #[must_use]
    pub fn files_of(&self, group: GroupId) -> Vec<String> {
        let group = self.past.groups.list.iter().find(|each| each.id == group);
        let on_disk = |replaced: &Replaced| crate::buffer::name_of(&replaced.path);
        group.map_or_else(Vec::new, |group| group.names.iter().cloned().chain(group.disk.iter().map(on_disk)).collect())
    }

    /// Takes in what has become of a file of the project.
    pub(crate) fn take_replaced(&mut self, outcome: ReplaceOutcome) {
        if let Some(work) = &mut self.files.replacing {
            work.tally.take(outcome);
        }
    }

    /// All files of the project are told of.
    pub(crate) fn take_replacing_end(&mut self, task: TaskId) {
        let Some(work) = self.files.replacing.take_if(|work| work.task.id == task) else { return };
        let FileWork { group, files, mut tally, way, then_quit, .. } = work;
        if tally.seen < files {
            tally.kept.push(format!("{} not come to", counted(files - tally.seen, "file")));
        }
        let said = tally.told(way);
        if let Some(group) = self.past.groups.get_mut(group) {
            group.disk = match way {
                // What could not be put back is tried again; what was is made again by redo.
                Way::Back if !tally.not_back.is_empty() => tally.not_back,
                _ => tally.replaced,
            };
            group.is_undone = way == Way::Back;
        }
        self.told.notices.push(Notice::Replaced(said));
        self.quit_after_the_last(then_quit);
    }

    /// Ends the program after what is being done to files; the same key again ends it at once. Whether it waits.
    pub(crate) fn quits_after_files(&mut self) -> bool {
        let work = self.files.replacing.as_mut().map(|work| &mut work.then_quit);
        let operation = self.files.operation.as_mut().map(|operation| &mut operation.then_quit);
        let mut waits = false;
        for then_quit in work.into_iter().chain(operation) {
            waits |= !std::mem::replace(then_quit, true);
        }
        if waits {
            self.say("files are still being changed: it ends then; the same key again ends at once");
        }
        waits
    }

    /// Ends the program, if that waited for what is done now, and nothing else is under way.
    pub(crate) fn quit_after_the_last(&mut self, then_quit: bool) {
        if then_quit && self.files.replacing.is_none() && self.files.operation.is_none() {
            self.go_on(PendingExit::Quit);
        }
    }
}

/// What `rule` makes of an open text, if it still holds what was found.
fn part_of(buffer: &Buffer, rule: &Rule, hits: &[Span]) -> Result<Part, String> {
    if buffer.is_partial() {
        return Err(format!("{} is still being read", buffer.name()));
    }
    if buffer.saved.read_only {
        return Err(format!("{} is read-only", buffer.name()));
    }
    let change = rule.change(buffer.text(), buffer.language(), hits, buffer.settings().line_end);
    let change = change.ok_or_else(|| format!("{} has changed since", buffer.name()))?;
    Ok(Part { buffer: buffer.id, revision: buffer.revision(), change })
}
