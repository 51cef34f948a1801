//! What is done is noted, for a recording and to be done again.

use super::recording::{Moment, Recording};
use super::written::{Line, literal_of, recipe_of};
use crate::command::Command;
use crate::editing::Effects;
use crate::registry::by_name;
use crate::state::recipes::{LastChange, MOST_CHANGES};
use crate::workspace::Workspace;
use snarvel_core::changes::Edit;
use snarvel_core::changes::feed::Since;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::recipes::places;
use snarvel_core::search::pattern::Pattern;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;

impl Workspace {
    /// Text and cursors as they are.
    pub(crate) fn moment(&self) -> Moment {
        Moment::of(self.active(), self.view())
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
            _ => self.start_of_line_reached(command).or_else(|| line_of(command)),
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

    /// The line for a move to a line's start that says which start the cursors are at now: on another line the move alone may go to
    /// the other one. None for other verbs, and where the cursors are at different starts.
    fn start_of_line_reached(&self, command: &Command) -> Option<Line> {
        let name = command.verb.name;
        if !matches!(name, "line-start" | "extend-line-start") || command.values.has(0) {
            return None;
        }
        let text = self.active().text();
        let all_at = |place: fn(&Text, snarvel_core::units::Line) -> Byte| {
            self.view().cursors().iter().all(|each| each.head == place(text, text.line_of(each.head)))
        };
        let start = match () {
            () if all_at(|text, line| text.indentation_span(line).end) => "text",
            () if all_at(Text::line_start) => "margin",
            () => return None,
        };
        Some(Line::Step(format!("{name} {start}")))
    }

    /// Makes hits of `pattern` the cursors. A recording takes that as `take-matches`, where that finds the same.
    pub fn take_hits(&mut self, hits: CursorSet, pattern: Option<&Pattern>) {
        let before = self.moment();
        let lines = pattern.filter(|_| self.past.recipes.recording.is_some()).and_then(|pattern| {
            let expression = format!("/{}/", pattern.as_expression());
            let command = Command::read(by_name("take-matches")?, &expression).ok()?;
            let same = self.view().with_scene(self.active(), |scene| {
                let taken = places::matches(scene, command.values.search(0)?);
                taken.iter().copied().eq(hits.iter().map(Selection::span)).then_some(())
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

    /// Notes that in place of so many letters before each cursor `text` was put in.
    pub(crate) fn note_replaced(&mut self, letters: usize, text: &str, before: Moment) {
        let after = self.moment();
        let erased = Line::Step(format!("{letters} delete-back"));
        let lines = match self.literal_since(&before, &after) {
            Some(literal) => Some(vec![Line::Typed(literal)]),
            None if self.replaced_since(&before, (letters, text)) => Some(vec![erased, Line::Typed(text.to_owned())]),
            None => None,
        };
        let Some(mut lines) = lines else {
            return self.note_other_step("letters were completed, others at each cursor", before);
        };
        lines.iter().for_each(|line| self.remember_change(&after, line.clone()));
        if let Some(recording) = &mut self.past.recipes.recording {
            // Several lines are one step of the recording.
            let line = match lines.pop() {
                Some(only) if lines.is_empty() => only,
                Some(last) => Line::Step(recipe_of(lines.iter().chain([&last])).trim_end().to_owned()),
                None => return,
            };
            recording.note(Some(line), [before, after]);
        }
    }

    /// Notes that something was done that no line of a recipe does.
    pub(crate) fn note_other_step(&mut self, why: &str, before: Moment) {
        let after = self.moment();
        if let Some(recording) = &mut self.past.recipes.recording {
            recording.note_other(why, [before, after]);
        }
    }

    /// Whether so many letters before each cursor were replaced by `text`, and nothing else.
    fn replaced_since(&self, before: &Moment, (letters, text): (usize, &str)) -> bool {
        let Since::Changes(entries) = self.active().feed().since(before.revision()) else { return false };
        let [only] = &entries[..] else { return false };
        let change = &only.change;
        let is_it = |(edit, was): (&Edit, Selection)| {
            let is_before = was.is_caret() && edit.end() == was.head;
            is_before && change.removed(edit).chars().count() == letters && change.inserted(edit) == text
        };
        change.edits().len() == before.cursors().len() && change.edits().iter().zip(before.cursors().iter()).all(is_it)
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
}

/// The line that does what `command` did; none where no line can say it.
fn line_of(command: &Command) -> Option<Line> {
    let argument = command.verb.arguments.written(&command.values);
    if argument.contains(['\n', '\r']) || argument.starts_with([' ', '\t']) {
        return None;
    }
    let mut line = match command.count {
        Some(count) if count != 1 => format!("{count} {}", command.verb.name),
        _ => command.verb.name.to_owned(),
    };
    if !argument.is_empty() {
        line = format!("{line} {argument}");
    }
    Some(Line::Step(line))
}

/// What typing has put in place of each selection, so many times, where nothing of it can be one of a pair.
fn repeated(command: &Command, before: &Moment, after: &Moment) -> Option<String> {
    let typed = command.values.text(0)?.repeat(command.count.unwrap_or(1) as usize);
    let selected: usize = before.cursors().iter().map(|each| each.span().len()).sum();
    let is_all = before.length() + typed.len() * before.cursors().len() == after.length() + selected;
    (is_all && typed.chars().all(|c| c.is_alphanumeric() || c.is_whitespace())).then_some(typed)
}
