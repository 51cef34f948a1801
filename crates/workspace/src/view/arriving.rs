//! Taking a view to where it was sent, or back to where it was when the program was left.

use super::{Scroll, View};
use crate::arrival::{Arrival, OpenFile};
use crate::buffer::Buffer;
use snarvel_core::cursors::CursorSet;
use snarvel_core::folds::Folds;
use snarvel_core::units::{Byte, Cell, Line};

impl View {
    /// Goes there, as far as the text still has such places; where the text is not all there yet, once it is.
    pub fn go(&mut self, buffer: &mut Buffer, arrival: Arrival) {
        match arrival {
            _ if buffer.is_partial() => self.go_when_loaded = Some(arrival),
            Arrival::Back(at) => {
                let at = buffer.text().snap_forward(at.min(buffer.text().end()));
                self.set_cursors(buffer, CursorSet::caret(at));
            }
            Arrival::Place(place) => {
                let here = buffer.text().line_of(self.cursors().primary().head);
                let at = buffer.text().byte_of_place(place, here);
                self.set_cursors(buffer, CursorSet::caret(at));
            }
            Arrival::Session(file) => self.put_back(buffer, &file),
        }
    }

    /// Looks at the buffer as it was looked at when the program was left.
    fn put_back(&mut self, buffer: &mut Buffer, file: &OpenFile) {
        let text = buffer.text();
        let caret = text.snap_back(Byte(file.caret).min(text.end()));
        let last = text.last_line();
        let spans = file.folds.iter().filter(|[first, end]| first < end && *end <= last.0);
        let folds = Folds::of(spans.map(|[first, end]| Folds::hiding(text, Line(*first), Line(*end))).collect());
        self.scroll = Scroll { top: Line(file.top).min(last), left: Cell(file.left), ..Scroll::default() };
        self.set_cursors(buffer, CursorSet::caret(caret));
        self.set_folds(buffer, &folds);
    }
}
