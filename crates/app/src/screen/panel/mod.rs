//! Panels: questions, names, lists; each with its keys on its own last line.

mod outline;
mod shelf;
mod trail;

use super::layout::{Area, Frame};
use super::{fill, put, width};
use crate::app::App;
use crate::palette::Role;
use crate::panels::chooser::Chooser;
use crate::panels::open::Opening;
use crate::panels::{Argument, Matter, Notice, Panel, Question, SaveAs};
use ratatui::buffer::Buffer;
use ratatui::style::Style;

pub(super) fn draw(app: &App, frame: &Frame, buffer: &mut Buffer) {
    let area = frame.panel;
    fill(buffer, area, app.palette.style(Role::Raised));
    let painter = Painter { app, area };
    match &app.panel {
        None | Some(Panel::Roster(_)) => {}
        Some(Panel::Question(question)) => painter.question(question, buffer),
        Some(Panel::SaveAs(save)) => painter.save_as(save, buffer),
        Some(Panel::Open(opening)) => painter.opening(opening, buffer),
        Some(Panel::Argument(argument)) => painter.argument(argument, buffer),
        Some(Panel::Shelf(shelf)) => painter.shelf(shelf, frame.preview, buffer),
        Some(Panel::Trail(trail)) => painter.trail(trail, buffer),
        Some(Panel::Outline(outline)) => painter.outline(outline, buffer),
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
        self.line("save as", &save.line.text, buffer);
        self.keys(&[("Enter", "save"), ("Ctrl+U", "empty the line"), ("Esc", "leave it")], buffer);
    }

    fn argument(&self, argument: &Argument, buffer: &mut Buffer) {
        let label = format!("{}  {}", argument.verb.label, argument.verb.argument);
        self.line(&label, &argument.line.text, buffer);
        self.keys(&[("Enter", argument.verb.name), ("Ctrl+U", "empty the line"), ("Esc", "leave it")], buffer);
    }

    /// The line that is typed, with its caret.
    fn line(&self, label: &str, typed: &str, buffer: &mut Buffer) {
        let x = self.line_at_rest(label, typed, buffer);
        put(buffer, self.row(0), x, " ", self.app.palette.style(Role::Primary));
    }

    /// The line that was typed, while keys go elsewhere; gives the column behind it.
    fn line_at_rest(&self, label: &str, typed: &str, buffer: &mut Buffer) -> u16 {
        let x = put(buffer, self.row(0), 1, label, self.style(Role::RaisedQuiet)) + 1;
        put(buffer, self.row(0), x, typed, self.style(Role::Raised))
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

    fn opening(&self, opening: &Opening, buffer: &mut Buffer) {
        self.line("open", &opening.chooser.line.text, buffer);
        self.count(opening.chooser.shown.len(), opening.files.len(), buffer);
        self.list(&opening.chooser, self.area.cols, buffer, |file, room, style, buffer| {
            put(buffer, room, 0, &opening.files[file].to_string_lossy(), style);
        });
        if opening.chooser.shown.is_empty() {
            let hint = match opening.chooser.line.text.is_empty() {
                true => "no files here: type the path of one".to_owned(),
                false => format!("no such file: Enter begins {}", opening.chooser.line.text),
            };
            put(buffer, self.row(1), 3, &hint, self.style(Role::RaisedQuiet));
        }
        let keys = [
            ("↑ ↓", "choose"),
            ("Enter", "open"),
            ("Tab", "take the name over"),
            ("Alt+Enter", "open as typed"),
            ("Esc", "leave"),
        ];
        self.keys(&keys, buffer);
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
