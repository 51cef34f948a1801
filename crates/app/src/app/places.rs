//! Places: where the caret was before it jumped, in whatever file, and the way back and on again.

use super::App;
use crate::document::{Document, Home};
use snarvel_core::cursors::CursorSet;
use snarvel_core::marks::MarkId;
use snarvel_core::units::{Byte, Direction};
use std::path::PathBuf;

/// A jump is a move by more lines than this (the design's figure), or to another file.
const LINES_OF_A_STEP: usize = 10;

/// How many places are remembered in each direction: more than anybody goes back through.
const MOST_PLACES: usize = 100;

/// A place in a document, which moves with its edits; in a closed file, where it was.
#[derive(Clone, Debug)]
pub(super) struct Place {
    document: u64,
    mark: MarkId,
    file: Option<PathBuf>,
    at: Byte,
}

/// The places left, the newest last.
#[derive(Debug, Default)]
pub(super) struct Places {
    back: Vec<Place>,
    forward: Vec<Place>,
    /// Whether the move under way goes through the places themselves.
    is_travelling: bool,
}

impl Places {
    fn of(&mut self, direction: Direction) -> &mut Vec<Place> {
        match direction {
            Direction::Back => &mut self.back,
            Direction::Forward => &mut self.forward,
        }
    }

    /// Keeps the places of a document that is no longer open by where they were last.
    pub(super) fn closed(&mut self, document: &Document) {
        for place in self.back.iter_mut().chain(&mut self.forward).filter(|place| place.document == document.id) {
            place.at = document.editor.marked(place.mark).unwrap_or(place.at);
        }
        let is_gone = |place: &Place| place.document == document.id && place.file.is_none();
        self.back.retain(|place| !is_gone(place));
        self.forward.retain(|place| !is_gone(place));
    }
}

impl App {
    /// Where the primary caret is.
    pub(super) fn place_here(&mut self) -> Place {
        let document = self.document_mut();
        let at = document.editor.cursors().primary().head;
        let file = match &document.home {
            Home::File(path) => Some(path.clone()),
            Home::Pipe | Home::None => None,
        };
        Place { document: document.id, mark: document.editor.mark(at), file, at }
    }

    /// Remembers `before` if the caret has jumped since.
    pub(super) fn note_jump(&mut self, before: Place) {
        let has_jumped = !std::mem::take(&mut self.places.is_travelling) && self.is_far_from(&before);
        if !has_jumped {
            self.forget(&before);
            return;
        }
        for place in std::mem::take(&mut self.places.forward) {
            self.forget(&place);
        }
        self.remember(Direction::Back, before);
    }

    fn is_far_from(&self, place: &Place) -> bool {
        let document = self.document();
        if document.id != place.document {
            return true;
        }
        let text = document.editor.text();
        let before = text.line_of(document.editor.marked(place.mark).unwrap_or(place.at));
        text.line_of(document.editor.cursors().primary().head).0.abs_diff(before.0) > LINES_OF_A_STEP
    }

    fn remember(&mut self, direction: Direction, place: Place) {
        let list = self.places.of(direction);
        list.push(place);
        if list.len() > MOST_PLACES {
            let oldest = list.remove(0);
            self.forget(&oldest);
        }
    }

    fn forget(&mut self, place: &Place) {
        if let Some(document) = self.documents.iter_mut().find(|document| document.id == place.document) {
            document.editor.unmark(place.mark);
        }
    }

    /// Back through the places that were left, or on again.
    pub(super) fn go_places(&mut self, direction: Direction, times: u32) {
        self.places.is_travelling = true;
        let mut steps = 0;
        while steps < times {
            let Some(place) = self.places.of(direction).pop() else { break };
            let here = self.place_here();
            if self.show_place(&place) {
                self.remember(direction.opposite(), here);
                steps += 1;
            } else {
                self.forget(&here);
            }
            self.forget(&place);
        }
        let line = self.document().editor.text().line_of(self.document().editor.cursors().primary().head).0 + 1;
        self.say(match (steps, direction) {
            (0, Direction::Back) => "no place to go back to".to_owned(),
            (0, Direction::Forward) => "no place to go on to".to_owned(),
            _ => format!("{} line {line}", self.document().name()),
        });
    }

    /// Goes to `place`, opening its file where it was closed; false where there is nothing to go to any more.
    fn show_place(&mut self, place: &Place) -> bool {
        let open = self.documents.iter().position(|document| document.id == place.document);
        match (open, &place.file) {
            (Some(index), _) => self.current = index,
            (None, Some(file)) => {
                self.open(&file.clone());
                if self.document().home != Home::File(file.clone()) {
                    return false;
                }
            }
            (None, None) => return false,
        }
        let editor = &mut self.document_mut().editor;
        let at = editor.marked(place.mark).filter(|_| open.is_some()).unwrap_or(place.at);
        let at = editor.text().snap_forward(at.min(editor.text().end()));
        editor.set_cursors(CursorSet::caret(at));
        true
    }
}
