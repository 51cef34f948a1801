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

    /// More is known of the structure of a text: an outline that is open shows it.
    pub fn parsed(&mut self) {
        if let Some(Panel::Outline(panel)) = &mut self.panel {
            panel.refresh(&self.documents[self.current]);
        }
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::app::Event;
    use crate::document::{Document, Home};
    use crate::keys::Key;
    use crate::palette::{Depth, Palette, Tide};
    use crate::screen::layout::Size;
    use snarvel_core::editor::Manner;
    use snarvel_core::text::Text;
    use snarvel_files::load::{Encoding, Loaded};

    #[test]
    fn an_outline_that_is_open_shows_what_is_known_later() {
        let text = Text::from("fn ebb() {}\n\nfn flow() {}\n\nfn slack() {}\n");
        let loaded = Loaded { text, encoding: Encoding::Utf8, read_only: false };
        let mut document = Document::of(loaded, Home::File("/sound/a.rs".into()), Manner::default());
        // As if the parser were not done yet.
        let tree = snarvel_syntax::tree_for(document.editor.language(), std::time::Duration::ZERO);
        document.editor.set_tree(None);
        let mut app = App::new(vec![document], "/".into(), Palette::new(Tide::Night, Depth::True), Size::REFERENCE);
        let press = |app: &mut App, key: &str| app.handle(Event::Key(Key::parse(key).unwrap()), 0);
        for key in ["f5", "ctrl+g", "l", "o", "w"] {
            press(&mut app, key);
        }
        let shown = |app: &App| match &app.panel {
            Some(Panel::Outline(panel)) => panel.chooser.shown.len(),
            _ => panic!("no panel"),
        };
        assert_eq!(shown(&app), 0);
        app.document_mut().editor.set_tree(tree);
        app.document().editor.settle_tree();
        app.parsed();
        assert_eq!(shown(&app), 1);
        press(&mut app, "enter");
        let editor = &app.document().editor;
        assert_eq!(editor.text().line_of(editor.cursors().primary().head), Line(2));
    }
}
