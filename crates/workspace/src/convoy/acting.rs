//! One call in each text of a convoy, as one step.

use crate::editing::{EditCall, Effects};
use crate::ids::{BufferId, ViewId};
use crate::registry::over_files::OverFiles;
use crate::state::convoy::Member;
use crate::state::groups::{Anchor, Group};
use crate::workspace::{StructureWait, Workspace};
use snarvel_core::history::{GroupId, StepId};
use snarvel_core::units::Direction;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_core::verbs::scene::{Together, counted};
use std::sync::Arc;

/// What came of a call in one text.
pub(crate) struct Part {
    pub member: Member,
    pub effects: Effects,
    /// The step of the history and the revision before it.
    pub before: (StepId, u64),
}

impl Workspace {
    /// Runs a call in each text of the convoy.
    pub(crate) fn run_in_convoy(&mut self, members: &[Member], (call, need): (&EditCall, StructureWait)) -> Effects {
        if let OverFiles::Leads(direction) = call.over_files {
            return self.lead_on(members, direction);
        }
        let (mut members, left_out) = self.that_may_change(members);
        if call.over_files == OverFiles::TakesBack {
            match self.that_added_last(&members) {
                Some(last) => members = last,
                None => return self.drop_last_joined(),
            }
        }
        let counts: Vec<usize> = members.iter().map(|member| self.cursors_of(member.view)).collect();
        let all: usize = counts.iter().sum();
        let texts = (call.over_files == OverFiles::PassesOn).then(|| Arc::new(self.texts_of(&members)));
        self.note_changes();
        let mut first = 0;
        let mut parts = Vec::new();
        for (member, count) in members.iter().zip(&counts) {
            let before = self.state_of(member);
            let (buffer, view) = self.pair_mut(member.view);
            view.catch_up(buffer);
            view.memory.together = Together { first, texts: texts.clone() };
            // Each cursor of all gets its piece, where there are as many.
            let own = (call.clip.pieces.len() == all && all > *count)
                .then(|| Clip { pieces: call.clip.pieces[first..first + count].to_vec(), lines: call.clip.lines });
            let call = EditCall { clip: own.as_ref().unwrap_or(call.clip), ..*call };
            let effects = self.run_in_view(member.view, &call, need);
            let (_, view) = self.pair_mut(member.view);
            view.memory.together = Together::default();
            first += count;
            parts.push(Part { member: member.clone(), effects, before });
        }
        self.join_steps(call.name, &parts);
        if call.over_files == OverFiles::Leaves && parts.iter().any(|part| !part.effects.is_refused) {
            // In which no cursor would be left is no refusal, but what was asked for.
            parts.retain(|part| !part.effects.is_refused);
            let is_left = |member: &Member| parts.iter().any(|part| part.member.buffer == member.buffer);
            self.past.convoy.members.retain(is_left);
        }
        self.told_of(parts, &left_out)
    }

    /// The step of the history and the revision of a member's text.
    pub(crate) fn state_of(&self, member: &Member) -> (StepId, u64) {
        let (buffer, _) = self.pair(member.view);
        (buffer.history().here(), buffer.revision())
    }

    fn cursors_of(&self, view: ViewId) -> usize {
        self.views.get(view).map_or(0, |view| view.cursors().len())
    }

    /// What all cursors hold, text by text.
    fn texts_of(&self, members: &[Member]) -> Vec<String> {
        let of = |member: &Member| {
            let (buffer, view) = self.pair(member.view);
            view.cursors().iter().map(|each| buffer.text().slice(each.span()).into_owned()).collect::<Vec<_>>()
        };
        members.iter().flat_map(of).collect()
    }

    /// The members without those that may not be written: these leave the convoy, but for the active one, and are named.
    pub(crate) fn that_may_change(&mut self, members: &[Member]) -> (Vec<Member>, Vec<String>) {
        let is_kept = |member: &&Member| self.buffer(member.buffer).is_some_and(|buffer| !buffer.saved.read_only);
        let kept: Vec<Member> = members.iter().filter(is_kept).cloned().collect();
        let gone = members.iter().filter(|member| !is_kept(member));
        let names = gone.filter_map(|member| Some(self.buffer(member.buffer)?.name())).collect();
        if kept.is_empty() {
            return (members.to_vec(), Vec::new());
        }
        self.past.convoy.members.clone_from(&kept);
        (kept, names)
    }

    /// The steps that a call has made become one.
    pub(crate) fn join_steps(&mut self, verb: &'static str, parts: &[Part]) {
        let is_new = |part: &&Part| {
            self.buffer(part.member.buffer).is_some_and(|buffer| buffer.history().here() != part.before.0)
        };
        let members: Vec<BufferId> = parts.iter().filter(is_new).map(|part| part.member.buffer).collect();
        let revisions: Vec<(BufferId, u64)> = parts.iter().map(|part| (part.member.buffer, part.before.1)).collect();
        self.note_group(&revisions);
        if members.is_empty() {
            return;
        }
        let id = GroupId(self.past.groups.next);
        self.past.groups.next += 1;
        let mut names = Vec::new();
        for member in &members {
            let Some(buffer) = self.buffer_mut(*member) else { continue };
            buffer.history_mut().join(id);
            names.push(buffer.name());
        }
        let anchor = Some(Anchor::of(self.active())).filter(|anchor| !members.contains(&anchor.buffer));
        let group = Group { id, verb, members, names, disk: Vec::new(), anchor, is_undone: false };
        self.past.groups.list.push(group);
    }

    /// What is said of a call in several texts, and what it copied in all.
    pub(crate) fn told_of(&self, parts: Vec<Part>, left_out: &[String]) -> Effects {
        let active = self.active().id;
        let mut whole = Effects { is_refused: true, ..Effects::default() };
        let (mut done, mut refused, mut why) = (0, 0, None);
        let mut said = Vec::new();
        for Part { member, effects, .. } in parts {
            // What only copies has changed nothing and is no refusal.
            if effects.is_refused && effects.clip.is_none() {
                refused += 1;
                why = why.or(effects.message);
                continue;
            }
            done += 1;
            whole.is_refused = false;
            whole.starts_typing |= effects.starts_typing;
            if let Some(clip) = effects.clip {
                let joined = whole.clip.get_or_insert_with(|| Clip { pieces: Vec::new(), lines: clip.lines });
                joined.pieces.extend(clip.pieces);
            }
            said.extend(effects.message.clone());
            if whole.message.is_none() || member.buffer == active {
                whole.message = effects.message.or(whole.message);
            }
        }
        if done == 0 {
            return Effects { message: why, ..whole };
        }
        if let Some(message) = &mut whole.message {
            *message = format!("{} in {}", summed(&said).unwrap_or_else(|| message.clone()), counted(done, "file"));
        }
        let mut more = Vec::new();
        if refused > 0 {
            let why = why.map_or(String::new(), |why| format!(": {why}"));
            more.push(format!("not in {}{why}", counted(refused, "file")));
        }
        if !left_out.is_empty() {
            more.push(format!("left out, read-only: {}", left_out.join(", ")));
        }
        if !more.is_empty() {
            let said = whole.message.take().unwrap_or_else(|| format!("done in {}", counted(done, "file")));
            whole.message = Some(format!("{said}; {}", more.join("; ")));
        }
        whole
    }

    /// From the last cursor of a text the next one is the first of the next text, and the other way round.
    fn lead_on(&mut self, members: &[Member], direction: Direction) -> Effects {
        let forward = direction == Direction::Forward;
        let at = members.iter().position(|member| member.buffer == self.active().id).unwrap_or(0);
        let (buffer, view) = self.pair_mut(members[at].view);
        let (index, count) = (view.cursors().primary_index(), view.cursors().len());
        let is_last = if forward { index + 1 == count } else { index == 0 };
        if !is_last {
            let set = view.cursors().leading(if forward { index + 1 } else { index - 1 });
            view.set_cursors(buffer, set);
            return Effects::default();
        }
        let next = if forward { at + 1 } else { at + members.len() - 1 } % members.len();
        self.show(members[next].buffer);
        let (buffer, view) = self.pair_mut(members[next].view);
        let lead = if forward { 0 } else { view.cursors().len() - 1 };
        let set = view.cursors().leading(lead);
        view.set_cursors(buffer, set);
        let name = self.active().name();
        Effects::saying(format!("{name}: file {} of {}", next + 1, members.len()))
    }
}

/// What was said in each text with the sum of the numbers in place of each, where all say the same but for that number; none elsewhere.
fn summed(said: &[String]) -> Option<String> {
    let parts = |text: &str| {
        let from = text.find(|c: char| c.is_ascii_digit())?;
        let (number, rest) = text[from..].split_once(' ')?;
        let (what, rest) = rest.split_at(rest.find(|c: char| !c.is_alphabetic()).unwrap_or(rest.len()));
        Some((number.parse::<usize>().ok()?, text[..from].to_owned(), what.to_owned(), rest.to_owned()))
    };
    let all: Vec<(usize, String, String, String)> = said.iter().map(|text| parts(text)).collect::<Option<_>>()?;
    let (_, before, what, after) = all.first()?;
    // One of something and several of it are spelled differently.
    let several = |number: usize, what: &str| match number {
        1 => counted(0, what).trim_start_matches("0 ").to_owned(),
        _ => what.to_owned(),
    };
    let spelled = several(all[0].0, what);
    let is_same = |(number, own_before, own_what, own_after): &(usize, String, String, String)| {
        own_before == before && own_after == after && several(*number, own_what) == spelled
    };
    let sum: usize = all.iter().map(|(number, ..)| number).sum();
    let what = if sum == 1 { what } else { &spelled };
    all.iter().all(is_same).then(|| format!("{before}{sum} {what}{after}"))
}
