//! Trying in the background whether other commands, run on a text as it was, give what it became.
//!
//! Cost: that of the commands, on a copy, off the way of keys. A text of more than [`LARGEST`] bytes or with more than [`MOST_CURSORS`]
//! cursors is not remembered.

use crate::buffer::defaults::EditorDefaults;
use crate::buffer::parsing::Taken;
use crate::buffer::{Buffer, Origin};
use crate::command::Command;
use crate::editing;
use crate::event::Payload;
use crate::ids::BufferId;
use crate::recipes::Host;
use crate::recipes::applying::Patient;
use crate::registry::verb::{Does, StructureNeed};
use crate::tasks::{About, TaskHandle};
use crate::view::View;
use crate::workspace::Workspace;
use snarvel_core::cursors::CursorSet;
use snarvel_core::history::{History, Travel};
use snarvel_core::languages::Language;
use snarvel_core::text::Text;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_core::verbs::scene::Scene;
use snarvel_files::load::{Encoding, Loaded};
use std::sync::Arc;

/// Texts of more bytes are not tried on.
pub const LARGEST: usize = 1 << 20;

/// More cursors are not remembered.
pub const MOST_CURSORS: usize = 1000;

/// A text with cursors, as it was at a moment. Costs no copy of the text.
#[derive(Clone, Debug)]
pub struct Moment {
    /// Which text.
    pub buffer: BufferId,
    text: Text,
    cursors: Arc<CursorSet>,
}

impl Moment {
    /// The line of the primary caret, from 1.
    #[must_use]
    pub fn line(&self) -> usize {
        self.text.line_of(self.cursors.primary().head).0 + 1
    }

    /// Whether text and selections are the same; which of them is primary and which way they run does not count.
    fn is_as(&self, text: &Text, cursors: &CursorSet) -> bool {
        if self.text != *text {
            return false;
        }
        let ends = |set: &CursorSet| set.iter().map(|each| (each.start(), each.end())).collect::<Vec<_>>();
        ends(&self.cursors) == ends(cursors)
    }
}

/// Commands to try: whether they lead from one moment to the other.
#[derive(Clone, Debug)]
pub struct Try {
    /// The commands.
    pub commands: Vec<Command>,
    /// Where they begin.
    pub from: Moment,
    /// Where they should lead.
    pub to: Moment,
}

/// One step back in a history, or on.
type GoStep = fn(&mut History) -> Option<Travel>;

/// What is needed of the text to try on a copy of it.
struct Ground {
    origin: Origin,
    defaults: EditorDefaults,
    language: Arc<Language>,
    clip: Arc<Clip>,
    /// The history with the text at its present state, where one of the ways undoes or redoes.
    history: Option<(History, Text)>,
}

impl Workspace {
    /// The active text with its cursors, where it is small enough to be remembered.
    #[must_use]
    pub fn moment_seen(&self) -> Option<Moment> {
        let (buffer, view) = (self.active(), self.view());
        let is_small = buffer.text().len() <= LARGEST && view.cursors().len() <= MOST_CURSORS;
        let is_plain = !buffer.is_partial() && self.convoy().is_none();
        let moment = || Moment { buffer: buffer.id, text: buffer.text().clone(), cursors: view.shared_cursors() };
        (is_small && is_plain).then(moment)
    }

    /// Tries `tries` one after the other, in the background, until one gives the same. Its index is told by [`Payload::Tried`]; none
    /// where none does.
    pub fn try_ways(&mut self, tries: Vec<Try>) -> TaskHandle {
        let buffer = self.active();
        let travels =
            |each: &Try| each.commands.iter().any(|command| matches!(command.verb.does, Does::Undo | Does::Redo));
        let ground = Ground {
            origin: buffer.origin.clone(),
            defaults: *buffer.defaults(),
            language: buffer.language().clone(),
            clip: self.shelf.newest(),
            history: tries.iter().any(travels).then(|| (buffer.history().clone(), buffer.text().clone())),
        };
        self.tasks.run(About::new("trying a shorter way"), Payload::Tried, move || {
            tries.iter().position(|each| each.gives_the_same(&ground))
        })
    }
}

impl Try {
    fn gives_the_same(&self, ground: &Ground) -> bool {
        let is_typing = self.from.text != self.to.text;
        let Some((text, cursors)) = self.outcome(ground) else { return false };
        // Where text has changed, its bytes are what was wanted; where none has, the place is.
        if is_typing { self.to.text == text } else { self.to.is_as(&text, &cursors) }
    }

    /// What the commands make of the moment that they begin with; none where one of them could not be done.
    fn outcome(&self, ground: &Ground) -> Option<(Text, CursorSet)> {
        let needs_structure = self.commands.iter().any(|command| command.verb.structure != StructureNeed::Never);
        let mut host = Patient::new(needs_structure);
        let loaded = Loaded { text: self.from.text.clone(), encoding: Encoding::default(), read_only: false };
        let mut buffer = Buffer::new(loaded, ground.origin.clone(), ground.defaults, None);
        buffer.set_language(&ground.language, host.sink());
        buffer.parsing.take_as_long_as_it_takes();
        let mut view = View::of(&mut buffer);
        view.set_cursors(&mut buffer, (*self.from.cursors).clone());
        for command in &self.commands {
            if matches!(command.verb.does, Does::Undo | Does::Redo) {
                return self.travelled(command, ground.history.as_ref()?);
            }
            let (Does::Edit(function) | Does::Jump(function)) = command.verb.does else { return None };
            let function = |scene: &Scene| function(scene, &command.values);
            let call = command.as_call(&function, (&ground.clip, 0), &|| false);
            let mut take = |buffer: &mut Buffer, view: &View| match command.verb.structure {
                StructureNeed::Never => Taken::NotYet,
                _ => host.structure(buffer, view),
            };
            if editing::run((&mut buffer, &mut view), &call, &mut take).is_refused {
                return None;
            }
        }
        Some((buffer.text().clone(), view.cursors().clone()))
    }

    /// The text after so many steps of the history, from a moment that the history leads back to in as many.
    fn travelled(&self, command: &Command, (history, now): &(History, Text)) -> Option<(Text, CursorSet)> {
        // The text may have been edited since.
        if *now != self.to.text {
            return None;
        }
        let (way, back): (GoStep, GoStep) = if matches!(command.verb.does, Does::Undo) {
            (History::undo, History::redo)
        } else {
            (History::redo, History::undo)
        };
        let mut history = history.clone();
        let mut text = self.to.text.clone();
        let mut go = |step: GoStep| -> Option<Text> {
            for _ in 0..command.count.unwrap_or(1) {
                step(&mut history)?.changes.iter().for_each(|change| text.apply(change));
            }
            Some(text.clone())
        };
        if go(back)? != self.from.text {
            return None;
        }
        Some((go(way)?, (*self.to.cursors).clone()))
    }
}
