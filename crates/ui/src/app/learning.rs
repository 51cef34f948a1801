//! What keys tell the ledger and the coach.

use super::App;
use crate::learning::{COUNT, Keys, Ran, Speaks, is_by_hand, spelled_in};
use crate::panels::lookup::LookupPanel;
use snarvel_core::changes::Change;
use snarvel_core::changes::feed::Since;
use snarvel_core::coach::{Found, Stroke, typed};
use snarvel_ledger::{Amounts, Used, Way};
use snarvel_workspace::command::Command;
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::learning::news::LedgerNews;
use snarvel_workspace::learning::trying::Moment;
use snarvel_workspace::registry::by_name;
use std::any::Any;
use std::path::{Path, PathBuf};

/// How everything was before a key.
pub(super) struct BeforeKey {
    moment: Option<Moment>,
    buffer: BufferId,
    revision: u64,
    path: Option<PathBuf>,
    had_panel: bool,
    was_lookup: bool,
}

/// Changes of more edits are counted by their edits alone.
const MOST_EDITS: usize = 1000;

impl App {
    fn is_learning(&self) -> bool {
        // A drill is no work, and its keys are told at its end.
        let is_work = self.context.drill.is_none();
        is_work && (self.context.settings.coaches || self.context.workspace.keeps_ledger())
    }

    /// What is to be known of a key once it has run; none where nothing is learned from it.
    pub(super) fn before_key(&mut self) -> Option<BeforeKey> {
        self.context.learning.performed = None;
        if !self.is_learning() {
            return None;
        }
        self.context.learning.speaking.note_press();
        let buffer = self.context.workspace.active();
        let panel: Option<&dyn Any> = self.panel.as_deref().map(|panel| panel as &dyn Any);
        Some(BeforeKey {
            moment: self.context.workspace.moment_seen(),
            buffer: buffer.id,
            revision: buffer.revision(),
            path: buffer.path().map(Into::into),
            had_panel: panel.is_some(),
            was_lookup: panel.is_some_and(<dyn Any>::is::<LookupPanel>),
        })
    }

    /// Takes in what a key has run.
    pub(super) fn after_key(&mut self, before: BeforeKey, performed: Option<Command>) {
        let shown = self.context.workspace.active().path().map(PathBuf::from);
        let learning = &mut self.context.learning;
        match performed {
            Some(command) => self.note_stroke(before, command),
            None if before.had_panel => {
                learning.note_more();
                if self.panel.is_none() {
                    let is_opened = shown != before.path && shown.is_some();
                    let ran = Ran { before: before.moment, first_offered: None, command: None };
                    learning.note(Stroke { token: if is_opened { "opened" } else { "closed" }, keys: 0 }, ran);
                }
            }
            None => learning.pending += 1,
        }
    }

    fn note_stroke(&mut self, before: BeforeKey, command: Command) {
        let keys = 1 + std::mem::take(&mut self.context.learning.pending);
        let name = command.verb.name;
        let is_counted = command.count.is_some_and(|count| count > 1);
        let token = match command.values.text(0).filter(|_| name == "type-text") {
            Some(text) => {
                let language = self.context.workspace.active().language();
                typed(text, |c| !c.is_alphanumeric() && !c.is_whitespace() && language.marks().contains(c))
            }
            None if is_counted => "counted",
            None => name,
        };
        let is_of_files = matches!(name, "open" | "next-file" | "previous-file");
        let first_offered = is_of_files.then(|| self.first_offered(before.path.as_ref())).flatten();
        let way = match name {
            "type-text" => Way::Typing,
            _ if before.was_lookup => Way::Lookup,
            _ if is_by_hand(name) => Way::Hand,
            _ => Way::Key,
        };
        if way == Way::Key {
            self.helped(name);
        }
        if is_counted {
            self.helped(COUNT);
        }
        self.count_use(&before, (name, way), keys);
        let ran = Ran { before: before.moment, first_offered, command: Some(command) };
        self.context.learning.note(Stroke { token, keys }, ran);
    }

    /// The file that the panel of files would have opened first, from the file at `here`.
    fn first_offered(&self, here: Option<&PathBuf>) -> Option<PathBuf> {
        let workspace = &self.context.workspace;
        let open = workspace.buffers().iter().filter_map(|buffer| buffer.path());
        let recent = workspace.project.recent.iter().map(PathBuf::as_path);
        recent.chain(open).find(|path| Some(*path) != here.map(PathBuf::as_path)).map(Path::to_owned)
    }

    /// A verb that helps was used: what was said for it begins anew.
    fn helped(&mut self, verb: &str) {
        for (pattern, said) in self.context.learning.speaking.used(verb) {
            self.context.workspace.note_said(&pattern, said);
        }
    }

    fn count_use(&mut self, before: &BeforeKey, (verb, way): (&str, Way), keys: u32) {
        let workspace = &self.context.workspace;
        if !workspace.keeps_ledger() {
            return;
        }
        let buffer = workspace.buffer(before.buffer);
        let changed = buffer.filter(|buffer| buffer.revision() != before.revision);
        let lines = changed.map_or(0, |buffer| match buffer.feed().since(before.revision) {
            Since::Changes(entries) => entries.iter().map(|entry| lines_of(&entry.change)).sum(),
            Since::Lost => 1,
        });
        let line = workspace.active().text().line_of(workspace.view().cursors().primary().head);
        let kind = workspace.active().language().name.clone();
        let cursors = workspace.view().cursors().len() as u64;
        let now_ms = workspace.now_ms;
        let counting = &mut self.context.learning.counting;
        if verb == "undo" {
            counting.count_undone();
        }
        // Lines that are written letter by letter are counted once, and what goes back and forth through the history changes none.
        let is_counted = matches!(verb, "undo" | "redo") || counting.were_changed_last(before.buffer, (line, lines));
        let lines = if is_counted { 0 } else { lines };
        let used = Used { day: counting.today(now_ms), kind, verb: verb.to_owned(), way };
        counting.count(used, Amounts { times: 1, keys: keys.into(), cursors, lines, undone: 0 });
    }

    /// A file was come to by more keys than the panel of files needs, which offers it first.
    fn note_file(&mut self, found: &Found) {
        let keys = (&self.context.keyboard.keymap, self.context.keyboard.layer);
        if let Some(open) = by_name("open").and_then(|verb| spelled_in(verb, keys)).filter(|_| found.keys > 2) {
            self.note_shorter(found, &Keys { spelled: format!("{open} Enter"), count: 2 });
        }
    }

    fn note_shorter(&mut self, found: &Found, keys: &Keys) {
        let speaks = if self.context.settings.coaches { Speaks::Sometimes } else { Speaks::Never };
        let now_ms = self.context.workspace.now_ms;
        let said = self.context.learning.found_shorter(found, keys, now_ms, speaks);
        said.into_iter().for_each(|(pattern, said)| self.context.workspace.note_said(&pattern, said));
    }

    /// Begins what is to be tried and written, once the frame is drawn.
    pub(super) fn keep_learning(&mut self) {
        if !self.is_learning() {
            return;
        }
        let (now_ms, moment) = (self.context.workspace.now_ms, self.context.workspace.moment_seen());
        let crate::context::Context { learning, keyboard, workspace, .. } = &mut self.context;
        let shown = workspace.active().path();
        let of_file = learning.look((moment.as_ref(), shown), (&keyboard.keymap, keyboard.layer));
        learning.try_next(|tries| workspace.try_ways(tries));
        if workspace.keeps_ledger()
            && let Some(batch) = learning.counting.to_write(now_ms)
        {
            workspace.add_to_ledger(batch);
        }
        of_file.into_iter().for_each(|found| self.note_file(&found));
    }

    /// Takes in which way gives the same.
    pub(super) fn take_tried(&mut self, index: Option<usize>) {
        if let Some((found, keys)) = self.context.learning.take_tried(index) {
            self.note_shorter(&found, &keys);
        }
        self.keep_learning();
    }

    /// Takes in what the ledger tells; gives it back where a panel may want it.
    pub(super) fn take_ledger(&mut self, news: LedgerNews) -> Option<LedgerNews> {
        match news {
            LedgerNews::Opened { said, bests, aside } => {
                self.context.learning.speaking.take_said(said);
                self.context.learning.bests = bests;
                if let Some(aside) = aside {
                    let aside = aside.display();
                    self.context
                        .say(format!("the ledger could not be read: it is kept as {aside}, and a new one is begun"));
                }
                None
            }
            LedgerNews::Failed(why) => {
                self.context.say(format!("{why}; what is counted is not kept, everything else goes on"));
                Some(LedgerNews::Failed(why))
            }
            report @ LedgerNews::Report(_) => Some(report),
        }
    }

    /// Writes what was counted, at the end.
    pub fn end_learning(&mut self) {
        self.context.write_counts();
        self.context.workspace.end_ledger();
    }

    /// Says nothing more of what the coach has said last.
    pub(super) fn quiet_coach(&mut self) {
        match self.context.learning.speaking.be_quiet() {
            Some((pattern, said)) => {
                self.context.workspace.note_said(&pattern, said);
                self.context.say(format!("the coach does not speak of {} any more", pattern.replace('-', " ")));
            }
            None => self.context.say("the coach has said nothing yet"),
        }
    }
}

/// How many lines a change is about: those that it puts in or takes out, whichever are more, at least one for each edit.
fn lines_of(change: &Change) -> u64 {
    let edits = change.edits();
    if edits.len() > MOST_EDITS {
        return edits.len() as u64;
    }
    let ends = |text: &str| text.bytes().filter(|byte| *byte == b'\n').count() as u64;
    edits.iter().map(|edit| ends(change.inserted(edit)).max(ends(change.removed(edit))).max(1)).sum()
}
