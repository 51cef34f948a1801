//! The outline in the application: opening it, showing a line without going there, and the way back.

use super::App;
use crate::panels::outline::{Offer, OutlinePanel};
use crate::panels::{Answer, Panel};
use crate::screen::layout::Frame;
use snarvel_core::cursors::CursorSet;
use snarvel_core::units::{Direction, Line};

impl App {
    /// Shows what the text consists of.
    pub(super) fn show_outline(&mut self, offer: Offer) {
        let panel = OutlinePanel::of(self.document(), offer);
        if panel.rows.is_empty() && offer == Offer::Outline {
            self.say("nothing here has a name: no function, no type, no section");
            return;
        }
        self.panel = Some(Panel::Outline(panel));
    }

    /// Brings `line` into view without moving the caret.
    pub(super) fn show_line(&mut self, line: Line) {
        let rows = usize::from(Frame::of(self).seen.rows);
        let document = self.document_mut();
        let (text, folds) = (document.editor.text(), document.editor.folds());
        let line = folds.shown(text, line);
        document.view.top = folds.step(text, line, Direction::Back, rows / 3);
    }

    /// Goes to the first character of `line`.
    pub(super) fn go_to(&mut self, line: Line) {
        let at = self.document().editor.text().indentation_span(line).end;
        self.document_mut().editor.set_cursors(CursorSet::caret(at));
    }

    /// Goes back to what was in view before the outline, unless it is left for a line.
    pub(super) fn leave_outline(&mut self, answer: &Answer) {
        if let (Some(Panel::Outline(outline)), Answer::Left) = (&self.panel, answer) {
            self.documents[self.current].view = outline.before;
        }
    }
}
