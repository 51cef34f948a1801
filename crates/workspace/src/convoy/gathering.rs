//! How a convoy begins, grows and ends.

use crate::buffer::Buffer;
use crate::editing::Effects;
use crate::ids::{BufferId, ViewId};
use crate::state::convoy::{Convoy, Joined, Member};
use crate::workspace::Workspace;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::search::literal::all_within;
use snarvel_core::units::{Byte, Direction, Span};
use snarvel_core::verbs::scene::counted;
use std::path::PathBuf;

/// Where `word` is in a text, as a whole word.
fn words(buffer: &Buffer, word: &str) -> Vec<Span> {
    let (text, rule) = (buffer.text(), buffer.language().word_rule());
    let is_edge = |at: Byte, side: Direction| text.class_beside(at, side, rule).is_none_or(|class| !class.is_word());
    let mut spans = all_within(text, word, text.span());
    spans.retain(|span| is_edge(span.start, Direction::Back) && is_edge(span.end, Direction::Forward));
    spans
}

/// Places in files, which are named from the folder of the project or by whole paths.
#[derive(Clone, Debug)]
pub struct Places {
    /// The places of each file, in order.
    pub files: Vec<(PathBuf, Vec<Span>)>,
    /// The one that is chosen.
    pub chosen: (PathBuf, Span),
}

/// What is said where there is nothing to take in.
const NOTHING: &str = "no place of these can be taken";

impl Workspace {
    /// The texts of the convoy that the active text is in, in their order; none where it is in none, or where one of them is not there
    /// yet.
    #[must_use]
    pub fn convoy(&self) -> Option<&[Member]> {
        let members = &self.past.convoy.members[..];
        let active = self.active().id;
        let is_ready = members.iter().all(|member| member.arriving.is_none());
        (is_ready && members.iter().any(|member| member.buffer == active)).then_some(members)
    }

    /// Whether a text is in the convoy.
    #[must_use]
    pub fn is_in_convoy(&self, buffer: BufferId) -> bool {
        self.past.convoy.members.iter().any(|member| member.buffer == buffer)
    }

    /// How many texts of the convoy are still to come.
    #[must_use]
    pub fn convoy_arriving(&self) -> usize {
        self.past.convoy.members.iter().filter(|member| member.arriving.is_some()).count()
    }

    /// The answer to a key while files of the convoy are still being read.
    pub(crate) fn refused_while_arriving(&self) -> Effects {
        let said = format!("{} still being read: then keys go to all", counted(self.convoy_arriving(), "file"));
        Effects { is_refused: true, ..Effects::saying(said) }
    }

    /// How many texts are in the convoy, those still to come with them.
    #[must_use]
    pub fn convoy_files(&self) -> usize {
        self.past.convoy.members.len()
    }

    /// How many cursors act together.
    #[must_use]
    pub fn convoy_cursors(&self) -> usize {
        let of = |member: &Member| self.views.get(member.view).map_or(0, |view| view.cursors().len());
        self.past.convoy.members.iter().map(of).sum()
    }

    /// Puts cursors at these places of files, which act together from then on. The
    /// place that is chosen gets the primary one, and its file is shown. Files that are not open are opened.
    pub fn begin_convoy(&mut self, places: Places) -> Effects {
        let Places { files, chosen } = places;
        self.past.convoy = Convoy::default();
        let chosen_path = self.project.folder.join(&chosen.0);
        let mut members = Vec::new();
        let mut primary = None;
        for (path, spans) in files.into_iter().filter(|(_, spans)| !spans.is_empty()) {
            let path = self.project.folder.join(path);
            let buffer = self.open_unnoted(&path);
            let lead = spans.iter().position(|span| path == chosen_path && *span == chosen.1);
            if lead.is_some() {
                primary = Some(buffer);
            }
            members.push(Member { buffer, view: self.views.focus(), arriving: Some((spans, lead.unwrap_or(0))) });
        }
        let Some(first) = primary.or(members.first().map(|member: &Member| member.buffer)) else {
            return Effects { is_refused: true, ..Effects::saying(NOTHING) };
        };
        self.past.convoy.members = members;
        self.past.convoy.primary = Some(first);
        self.show(first);
        self.drop_echo();
        // One file alone is no convoy, and its cursors are there all the same.
        let is_alone = self.past.convoy.members.len() == 1;
        let alone = is_alone.then(|| self.told_of_arriving());
        self.settle_convoy();
        Effects::saying(alone.unwrap_or_else(|| self.convoy_told()))
    }

    /// How many cursors there are in how many files, and how many of these are still to come.
    fn convoy_told(&self) -> String {
        let (said, arriving) = (self.told_of_arriving(), self.convoy_arriving());
        if arriving > 0 { format!("{said}, {} still being read", counted(arriving, "file")) } else { said }
    }

    /// How many cursors there are or will be, in how many files.
    fn told_of_arriving(&self) -> String {
        let files = self.past.convoy.members.len();
        let of = |member: &Member| match &member.arriving {
            Some((spans, _)) => spans.len(),
            None => self.views.get(member.view).map_or(0, |view| view.cursors().len()),
        };
        let cursors: usize = self.past.convoy.members.iter().map(of).sum();
        format!("{} in {}", counted(cursors, "cursor"), counted(files, "file"))
    }

    /// Puts the cursors where they are to be in texts that are there now, and leaves out texts that are gone.
    pub(crate) fn settle_convoy(&mut self) {
        let gone = |member: &Member| self.buffer(member.buffer).is_none() || self.views.get(member.view).is_none();
        let members = &self.past.convoy.members;
        if members.len() != 1 && !members.iter().any(|member| member.arriving.is_some() || gone(member)) {
            return;
        }
        let was_waiting = self.convoy_arriving() > 0;
        let mut members = std::mem::take(&mut self.past.convoy.members);
        members.retain(|member| self.buffer(member.buffer).is_some() && self.views.get(member.view).is_some());
        let left_out = self.leave_out_others(&mut members);
        self.past.convoy.left_out.extend(left_out);
        for member in &mut members {
            let (buffer, view) = self.pair_mut(member.view);
            if buffer.is_partial() {
                continue;
            }
            if let Some((spans, primary)) = member.arriving.take() {
                let end = buffer.text().end();
                let place = |at: Byte| buffer.text().snap_back(at.min(end));
                let list = spans.iter().map(|span| Selection::new(place(span.start), place(span.end))).collect();
                let set = CursorSet::of(list, primary);
                view.set_cursors(buffer, set);
            }
        }
        // One text alone is no convoy.
        if members.len() == 1 && members[0].arriving.is_none() {
            members.clear();
        }
        self.past.convoy.members = members;
        if was_waiting && !self.past.convoy.members.is_empty() && self.convoy_arriving() == 0 {
            self.say(self.convoy_told());
        }
        if self.convoy_arriving() == 0 && !self.past.convoy.left_out.is_empty() {
            let mut left_out = std::mem::take(&mut self.past.convoy.left_out);
            left_out.sort();
            let left_out = left_out.join(", ");
            let told = self.convoy_told();
            self.say(format!("{told}; gone or changed since they were searched, left out: {left_out}"));
        }
    }

    /// Leaves out files that are there now and are not those in which the places were found: gone, or shorter than that. Their names.
    fn leave_out_others(&mut self, members: &mut Vec<Member>) -> Vec<String> {
        let is_other = |member: &Member| {
            let Some((spans, _)) = &member.arriving else { return false };
            let buffer = self.buffer(member.buffer).filter(|buffer| !buffer.is_partial());
            buffer.is_some_and(|buffer| spans.iter().any(|span| span.end > buffer.text().end()))
        };
        let others: Vec<Member> = members.iter().filter(|member| is_other(member)).cloned().collect();
        members.retain(|member| others.iter().all(|other| other.buffer != member.buffer));
        let names = others.iter().filter_map(|other| Some(self.buffer(other.buffer)?.name())).collect();
        for other in others {
            let is_new =
                self.buffer(other.buffer).is_some_and(|buffer| buffer.saved.stamp.is_none() && !buffer.is_unsaved());
            if is_new && members.iter().any(|member| self.buffer(member.buffer).is_some()) {
                self.drop_buffer(other.buffer);
            }
        }
        names
    }

    /// Takes in the same word in the next open file that has it.
    pub fn add_to_convoy(&mut self, name: Option<&str>) -> Effects {
        let Some(word) = self.name_at_caret() else { return Effects::saying("no word here") };
        let word = self.active().text().slice(word).into_owned();
        let active = self.active().id;
        let start = self.active_index();
        let count = self.buffers.len();
        let others = (1..count).map(|step| &self.buffers[(start + step) % count]);
        let fits = |buffer: &&Buffer| name.is_none_or(|name| buffer.name() == name);
        let found = others
            .filter(fits)
            .filter(|buffer| !buffer.is_partial() && !self.is_in_convoy(buffer.id))
            .find_map(|buffer| {
                let spans = words(buffer, &word);
                (!spans.is_empty()).then_some((buffer.id, spans))
            });
        let Some((buffer, spans)) = found else {
            return Effects { is_refused: true, ..Effects::saying(format!("no other open file has {word}")) };
        };
        if self.past.convoy.members.is_empty() {
            let own = Member { buffer: active, view: self.views.focus(), arriving: None };
            self.past.convoy = Convoy { members: vec![own], primary: Some(active), ..Convoy::default() };
        }
        let view = self.view_of(buffer);
        self.past.convoy.members.push(Member { buffer, view, arriving: Some((spans, 0)) });
        self.settle_convoy();
        let births = self.births();
        self.past.convoy.joined.push(Joined { buffer, births });
        Effects::saying(self.convoy_told())
    }

    /// The number that the next addition of cursors has in each text.
    fn births(&self) -> Vec<(BufferId, u32)> {
        let of = |member: &Member| Some((member.buffer, self.views.get(member.view)?.cursors().next_birth()));
        self.past.convoy.members.iter().filter_map(of).collect()
    }

    /// The texts whose cursors were added after the last text was taken in; none where that was the last addition.
    pub(super) fn that_added_last(&self, members: &[Member]) -> Option<Vec<Member>> {
        let Some(joined) = self.past.convoy.joined.last() else { return Some(members.to_vec()) };
        let now = self.births();
        let has_added = |member: &&Member| {
            let birth =
                |list: &[(BufferId, u32)]| list.iter().find(|(id, _)| *id == member.buffer).map(|(_, born)| *born);
            birth(&now) > birth(&joined.births)
        };
        Some(members.iter().filter(has_added).cloned().collect()).filter(|list: &Vec<Member>| !list.is_empty())
    }

    /// The text that was taken in last acts alone again.
    pub(super) fn drop_last_joined(&mut self) -> Effects {
        let Some(joined) = self.past.convoy.joined.pop() else { return Effects::default() };
        let member = self.past.convoy.members.iter().find(|member| member.buffer == joined.buffer).cloned();
        let Some(member) = member else { return self.drop_last_joined() };
        let name = self.buffer(member.buffer).map(Buffer::name).unwrap_or_default();
        self.leave_convoy(member.view);
        match self.past.convoy.members.len() {
            0 => Effects::saying(format!("{name} acts alone again, and so does this file")),
            _ => Effects::saying(format!("{name} acts alone again: {}", self.convoy_told())),
        }
    }

    /// The text of a view leaves the convoy: its cursors become one, and act alone.
    pub fn leave_convoy(&mut self, view: ViewId) {
        self.past.convoy.members.retain(|member| member.view != view);
        let (buffer, view) = self.pair_mut(view);
        let only = view.cursors().only_primary();
        view.set_cursors(buffer, only);
        self.settle_convoy();
    }

    /// The cursors of all texts become one each, and act alone; the text in which the convoy began is shown. No where there is none.
    pub fn end_convoy(&mut self) -> bool {
        if self.past.convoy.members.is_empty() {
            return false;
        }
        let convoy = std::mem::take(&mut self.past.convoy);
        let mut dropped = Vec::new();
        for member in &convoy.members {
            if self.views.get(member.view).is_none() {
                continue;
            }
            let (buffer, view) = self.pair_mut(member.view);
            dropped.push((member.buffer, view.cursors().clone()));
            let only = view.cursors().only_primary();
            view.set_cursors(buffer, only);
        }
        self.past.convoy.dropped = dropped;
        convoy.primary.filter(|id| self.buffer(*id).is_some()).into_iter().for_each(|id| self.show(id));
        self.say(format!("{} act alone again", counted(convoy.members.len(), "file")));
        true
    }

    /// The convoy that ended last is there again, where its texts are open; no where there is none.
    pub(crate) fn recall_convoy(&mut self) -> Option<Effects> {
        let dropped = std::mem::take(&mut self.past.convoy.dropped);
        let active = self.active().id;
        if !dropped.iter().any(|(buffer, _)| *buffer == active) {
            return None;
        }
        let mut members = Vec::new();
        for (id, set) in dropped {
            if self.buffer(id).is_none() {
                continue;
            }
            let view = self.view_of(id);
            let (buffer, own) = self.pair_mut(view);
            let spans: Vec<Span> =
                set.iter().map(Selection::span).filter(|span| span.end <= buffer.text().end()).collect();
            if spans.len() == set.len() {
                let set = set.placed(&spans).snapped(buffer.text());
                own.set_cursors(buffer, set);
                members.push(Member { buffer: id, view, arriving: None });
            }
        }
        self.past.convoy = Convoy { members, primary: Some(active), ..Convoy::default() };
        self.settle_convoy();
        Some(Effects::saying(self.convoy_told()))
    }
}
