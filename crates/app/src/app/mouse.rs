//! The mouse, and places as people count them.

use super::{App, Event, Gesture, Mouse};
use crate::document::Document;
use crate::keys::script::{Action, Spot};
use crate::screen::layout::{self, Frame};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::units::{Byte, Direction, Line, Span};
use snarvel_core::verbs::clip::Clip;
use snarvel_core::verbs::scene::Scene;
use snarvel_core::verbs::thin::column;

/// How many lines the wheel turns by.
const WHEEL_LINES: i64 = 3;

impl App {
    /// Does one thing of a script; time stands still.
    pub fn act(&mut self, action: &Action) {
        match action {
            Action::Key(key) => self.handle(Event::Key(*key), 0),
            Action::Paste(text) => self.handle(Event::Paste(text.clone()), 0),
            Action::Caret(spot) => self.put_caret(*spot),
            Action::Select(from, to) => self.select(*from, *to),
            Action::Click(spot) => self.gesture(Gesture::Press(1), *spot, false),
            Action::AltClick(spot) => self.gesture(Gesture::Press(1), *spot, true),
            Action::AltDrag(from, to) => {
                self.gesture(Gesture::Press(1), *from, false);
                self.gesture(Gesture::Drag, *to, true);
            }
            Action::Verb(verb, argument) => self.call(verb, argument),
        }
    }

    fn gesture(&mut self, gesture: Gesture, spot: Spot, alt: bool) {
        let at = self.byte_at(spot);
        self.mouse_at(Mouse { gesture, cell: [0, 0], alt, shift: false }, at);
    }

    /// The byte at a place as people count it; places past a line's end are its end.
    pub fn byte_at(&self, spot: Spot) -> Byte {
        let text = self.document().editor.text();
        let line = Line(spot.line.saturating_sub(1).min(text.last_line().0));
        let end = text.content_span(line).end;
        let mut at = text.line_start(line);
        for _ in 1..spot.col {
            if at >= end {
                break;
            }
            at = text.next_boundary(at);
        }
        at
    }

    /// Puts a single caret at `spot`.
    pub fn put_caret(&mut self, spot: Spot) {
        if self.document().loading.is_some() {
            self.document_mut().wanted = Some(spot);
            return;
        }
        let at = self.byte_at(spot);
        self.going(|app| app.document_mut().editor.set_cursors(CursorSet::caret(at)));
    }

    /// Selects from `from` to `to`.
    pub fn select(&mut self, from: Spot, to: Spot) {
        let selection = Selection::new(self.byte_at(from), self.byte_at(to));
        self.going(|app| app.document_mut().editor.set_cursors(CursorSet::one(selection)));
    }

    pub(super) fn mouse(&mut self, mouse: Mouse) {
        if let Gesture::Wheel(turns) = mouse.gesture {
            self.scroll(i64::from(turns) * WHEEL_LINES);
            return;
        }
        if self.panel.is_some() {
            return;
        }
        let frame = Frame::of(self);
        let Some(place) = frame.place_under(self.document(), mouse.cell) else { return };
        let is_click = mouse.gesture == Gesture::Press(1) && !mouse.alt && !mouse.shift;
        if !(is_click && self.opened_fold(&frame, mouse.cell, place)) {
            self.mouse_at(mouse, place);
        }
    }

    /// Opens the fold whose mark is under `cell`, on the line of `place`; whether there was one.
    fn opened_fold(&mut self, frame: &Frame, [x, _]: [u16; 2], place: Byte) -> bool {
        let editor = &mut self.documents[self.current].editor;
        let (text, tabs) = (editor.text(), editor.layout().tabs);
        let line = text.line_of(place);
        let end = text.width_of(line, tabs);
        let cell = self.documents[self.current].view.left + u32::from(x.saturating_sub(frame.text.x));
        cell > end && self.documents[self.current].editor.open_fold(line)
    }

    /// What the mouse does at a place of the text.
    pub fn mouse_at(&mut self, mouse: Mouse, at: Byte) {
        let document = &mut self.documents[self.current];
        let cursors = document.editor.cursors();
        let anchor = self.drag_from.unwrap_or(cursors.primary().anchor);
        let set = match (mouse.gesture, mouse.alt, mouse.shift) {
            (Gesture::Press(1), true, _) => toggled(cursors, at),
            (Gesture::Press(1), false, true) => CursorSet::one(Selection::new(cursors.primary().anchor, at)),
            (Gesture::Press(2), ..) => CursorSet::one(word_at(document, at)),
            (Gesture::Press(3), ..) => CursorSet::one(line_at(document, at)),
            (Gesture::Drag, true, _) => boxed(document, anchor, at),
            (Gesture::Drag, false, _) => CursorSet::one(Selection::new(anchor, at)),
            _ => CursorSet::caret(at),
        };
        if matches!(mouse.gesture, Gesture::Press(_)) {
            self.drag_from = Some(if mouse.shift { set.primary().anchor } else { at });
        }
        document.editor.set_cursors(set);
        self.message = None;
    }

    pub(super) fn scroll(&mut self, lines: i64) {
        let document = self.document_mut();
        let direction = if lines < 0 { Direction::Back } else { Direction::Forward };
        let (text, folds) = (document.editor.text(), document.editor.folds());
        let top = folds.step(text, layout::first_line(document), direction, lines.unsigned_abs() as usize);
        document.view.top = top;
    }
}

/// With a caret more, or one less where one stands already.
fn toggled(cursors: &CursorSet, at: Byte) -> CursorSet {
    let is_here = |each: Selection| each.is_caret() && each.head == at;
    if cursors.iter().any(is_here) {
        return cursors.retaining(|_, each| !is_here(each)).unwrap_or_else(|| cursors.clone());
    }
    cursors.with_primary(&[Selection::caret(at)])
}

fn word_at(document: &Document, at: Byte) -> Selection {
    let span = document.editor.text().word_at(at, document.editor.language().word_rule());
    Selection::over(span.unwrap_or(Span::at(at)), Direction::Forward)
}

fn line_at(document: &Document, at: Byte) -> Selection {
    let text = document.editor.text();
    Selection::over(text.line_span(text.line_of(at)), Direction::Forward)
}

/// The box between two corners, as the verb that makes columns draws it.
fn boxed(document: &Document, from: Byte, to: Byte) -> CursorSet {
    let corners = CursorSet::one(Selection::new(from, to));
    let outcome =
        document.editor.with_scene(&Clip::default(), |scene| column(&Scene { cursors: &corners, ..*scene }, ""));
    outcome.cursors.unwrap_or(corners)
}
