//! Panels: questions, names, lists; each with its keys on its own last line.

mod diff;
mod files;
mod lookup;
mod open;
mod outline;
mod shelf;
mod sift;
mod trail;

use super::layout::{Area, Frame};
use super::{fill, put, text, width};
use crate::app::App;
use crate::document::Document;
use crate::palette::Role;
use crate::panels::chooser::Chooser;
use crate::panels::{Argument, Line as InputLine, Matter, Notice, Panel, Question, SaveAs};
use ratatui::buffer::Buffer;
use ratatui::style::Style;
use unicode_segmentation::UnicodeSegmentation;

pub(super) fn draw(app: &App, frame: &Frame, buffer: &mut Buffer) {
    let area = frame.panel;
    fill(buffer, area, app.palette.style(Role::Raised));
    let painter = Painter { app, area };
    match &app.panel {
        None | Some(Panel::Roster(_)) => {}
        Some(Panel::Question(question)) => painter.question(question, buffer),
        Some(Panel::SaveAs(save)) => painter.save_as(save, buffer),
        Some(Panel::Open(opening)) => painter.opening(opening, frame.preview, buffer),
        Some(Panel::Files(files)) => painter.files(files, buffer),
        Some(Panel::Lookup(lookup)) => painter.lookup(lookup, frame.preview, buffer),
        Some(Panel::Sheet(line)) => painter.sheet(line, buffer),
        Some(Panel::Argument(argument)) => painter.argument(argument, buffer),
        Some(Panel::Shelf(shelf)) => painter.shelf(shelf, frame.preview, buffer),
        Some(Panel::Trail(trail)) => painter.trail(trail, buffer),
        Some(Panel::Diff(diff)) => painter.diff(diff, buffer),
        Some(Panel::Outline(outline)) => painter.outline(outline, buffer),
        Some(Panel::Sift(sift)) => painter.sift(sift, buffer),
        Some(Panel::Notice(notice)) => painter.notice(notice, buffer),
    }
}

struct Painter<'a> {
    app: &'a App,
    area: Area,
}

impl Painter<'_> {
    fn style(&self, role: Role) -> Style {
        self.app.palette.style(Role::Raised).patch(self.app.palette.style(role))
    }

    /// `style` with the colour and the attributes of `role`, on its own ground.
    fn over(&self, style: Style, role: Role) -> Style {
        Style { bg: style.bg, ..style.patch(self.app.palette.style(role)) }
    }

    fn row(&self, index: u16) -> Area {
        let rows = u16::from(index < self.area.rows);
        Area { y: self.area.y + index, rows, ..self.area }
    }

    /// The panel's own keys, on its last line. The last of them, which leaves it, is always there; of the others as
    /// many as there is room for.
    fn keys(&self, keys: &[(&str, &str)], buffer: &mut Buffer) {
        let row = self.row(self.area.rows.saturating_sub(1));
        let cols = |(key, meaning): &(&str, &str)| width(key) + width(meaning) + 4;
        let Some((last, others)) = keys.split_last() else { return };
        let mut left = row.cols.saturating_sub(cols(last));
        let fit = others.iter().take_while(|each| {
            let fits = cols(each) <= left;
            left = left.saturating_sub(cols(each));
            fits
        });
        let mut x = 1;
        for (key, meaning) in fit.chain([last]) {
            x = put(buffer, row, x, key, self.style(Role::KeyCap)) + 1;
            x = put(buffer, row, x, meaning, self.style(Role::Raised)) + 3;
        }
    }

    fn question(&self, question: &Question, buffer: &mut Buffer) {
        let (what, shown) =
            (question.names.len(), question.names.iter().take(6).cloned().collect::<Vec<_>>().join(", "));
        let names = if what > 6 { format!("{shown} and {} more", what - 6) } else { shown };
        let verb = if what == 1 { "has" } else { "have" };
        let matter = if question.matter == Matter::Quit { "leaving" } else { "closing" };
        let text = format!("{names} {verb} changes that are not saved. What before {matter}?");
        put(buffer, self.row(0), 1, &text, self.style(Role::Raised));
        self.keys(&[("s", "save them"), ("d", "lose them"), ("Esc", "stay here")], buffer);
    }

    fn save_as(&self, save: &SaveAs, buffer: &mut Buffer) {
        self.line("save as", &save.line, buffer);
        self.keys(&[("Enter", "save"), ("Ctrl+U", "empty the line"), ("Esc", "leave it")], buffer);
    }

    fn argument(&self, argument: &Argument, buffer: &mut Buffer) {
        let label = format!("{}  {}", argument.verb.label, argument.verb.argument);
        self.line(&label, &argument.line, buffer);
        self.keys(&[("Enter", argument.verb.name), ("Ctrl+U", "empty the line"), ("Esc", "leave it")], buffer);
    }

    /// The line that is typed, with its caret.
    fn line(&self, label: &str, line: &InputLine, buffer: &mut Buffer) {
        let x = put(buffer, self.row(0), 1, label, self.style(Role::RaisedQuiet)) + 1;
        self.typed(self.row(0), x, line, buffer);
    }

    /// A line that takes keys, from the column `x` on. Where it is longer than its room, what is around the caret is shown.
    fn typed(&self, area: Area, x: u16, line: &InputLine, buffer: &mut Buffer) {
        let (before, behind) = line.parts();
        let room = area.cols.saturating_sub(x + 2);
        let mut shown = before;
        while width(shown) > room {
            let cut = shown.chars().next().map_or(0, char::len_utf8);
            shown = &shown[cut..];
        }
        let x = put(buffer, area, x, shown, self.style(Role::Raised));
        put(buffer, area, x, behind, self.style(Role::Raised));
        let under = behind.graphemes(true).next().unwrap_or(" ");
        put(buffer, area, x, under, self.app.palette.style(Role::Primary));
    }

    /// The line that was typed, while keys go elsewhere.
    fn line_at_rest(&self, label: &str, line: &InputLine, buffer: &mut Buffer) {
        let x = put(buffer, self.row(0), 1, label, self.style(Role::RaisedQuiet)) + 1;
        put(buffer, self.row(0), x, &line.text, self.style(Role::Raised));
    }

    /// How much of a list there is to choose from.
    fn count(&self, shown: usize, all: usize, buffer: &mut Buffer) {
        let count = format!("{shown} of {all}");
        let x = self.area.cols.saturating_sub(count.len() as u16 + 1);
        put(buffer, self.row(0), x, &count, self.style(Role::RaisedQuiet));
    }

    /// The rows of a list, `cols` wide, below the letters; `draw` is given the index in the whole list, the room
    /// behind the sign of the chosen one, and the style.
    fn list(
        &self,
        chooser: &Chooser,
        cols: u16,
        buffer: &mut Buffer,
        mut draw: impl FnMut(usize, Area, Style, &mut Buffer),
    ) {
        let rows = usize::from(self.area.rows.saturating_sub(2));
        // The chosen one stands in the middle where the list is longer than the room.
        let last_first = chooser.shown.len().saturating_sub(rows);
        let first = chooser.chosen.saturating_sub(rows / 2).min(last_first);
        for (index, &item) in chooser.shown.iter().enumerate().skip(first).take(rows) {
            let row = Area { cols, ..self.row(1 + (index - first) as u16) };
            let is_chosen = index == chooser.chosen;
            let style = self.style(if is_chosen { Role::Selection } else { Role::Raised });
            if is_chosen {
                fill(buffer, row, style);
                put(buffer, row, 1, "▸", self.over(style, Role::PrimarySign));
            }
            let room = Area { x: row.x + 3, cols: cols.saturating_sub(4), ..row };
            draw(item, room, style, buffer);
        }
    }

    fn sheet(&self, line: &InputLine, buffer: &mut Buffer) {
        self.line("draw the keys into", line, buffer);
        self.keys(&[("Enter", "draw: .svg or .pdf"), ("Ctrl+U", "empty the line"), ("Esc", "leave it")], buffer);
    }

    /// A text beside a list, on `ground`; its caret is shown while somebody is in it.
    fn text_beside(&self, document: &Document, area: Area, has_focus: bool, buffer: &mut Buffer) {
        let ground = if has_focus { self.app.palette.style(Role::Text) } else { self.style(Role::Raised) };
        fill(buffer, area, ground);
        for y in 0..area.rows {
            let edge = Area { x: area.x.saturating_sub(1), y: area.y + y, cols: 1, rows: 1 };
            if area.x > 0 {
                put(buffer, edge, 0, "│", self.style(Role::Edge));
            }
        }
        let room = Area { x: area.x + 1, cols: area.cols.saturating_sub(1), ..area };
        text::draw(self.app, document, room, ground, buffer);
        if !has_focus {
            // A caret there would say that keys go there.
            let first = Area { rows: 1, ..room };
            let text = document.editor.text();
            let at = text.slice(text.cluster_at(document.editor.cursors().primary().head));
            put(buffer, first, 0, if at.trim().is_empty() { " " } else { &at }, ground);
        }
    }

    fn notice(&self, notice: &Notice, buffer: &mut Buffer) {
        put(buffer, self.row(0), 1, &notice.title, self.style(Role::RaisedQuiet));
        let room = self.area.rows.saturating_sub(2);
        for (index, line) in notice.lines.iter().take(usize::from(room)).enumerate() {
            put(buffer, self.row(1 + index as u16), 3, line, self.style(Role::Raised));
        }
        self.keys(&[("any key", "goes on"), ("Esc", "only closes this")], buffer);
    }
}

/// `text` in lines of `cols` cells, broken between words.
fn wrapped(text: &str, cols: u16) -> Vec<String> {
    let mut lines: Vec<String> = vec![String::new()];
    for word in text.split(' ') {
        let last = lines.len() - 1;
        let line = &mut lines[last];
        if !line.is_empty() && width(line) + 1 + width(word) > cols {
            lines.push(word.to_owned());
        } else {
            if !line.is_empty() {
                line.push(' ');
            }
            line.push_str(word);
        }
    }
    lines
}
