//! Panels: questions, names, lists; each with its keys on its own last line.

use super::layout::Area;
use super::{fill, put};
use crate::app::App;
use crate::palette::Role;
use crate::panels::{Argument, Matter, Opening, Panel, Question, SaveAs};
use ratatui::buffer::Buffer;
use ratatui::style::Style;

pub(super) fn draw(app: &App, area: Area, buffer: &mut Buffer) {
    fill(buffer, area, app.palette.style(Role::Raised));
    let painter = Painter { app, area };
    match &app.panel {
        None => {}
        Some(Panel::Question(question)) => painter.question(question, buffer),
        Some(Panel::SaveAs(save)) => painter.save_as(save, buffer),
        Some(Panel::Open(opening)) => painter.opening(opening, buffer),
        Some(Panel::Argument(argument)) => painter.argument(argument, buffer),
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

    fn row(&self, index: u16) -> Area {
        let rows = u16::from(index < self.area.rows);
        Area { y: self.area.y + index, rows, ..self.area }
    }

    /// The panel's own keys, on its last line.
    fn keys(&self, keys: &[(&str, &str)], buffer: &mut Buffer) {
        let row = self.row(self.area.rows.saturating_sub(1));
        let mut x = 1;
        for (key, meaning) in keys {
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

    fn line(&self, label: &str, typed: &str, buffer: &mut Buffer) {
        let row = self.row(0);
        let x = put(buffer, row, 1, label, self.style(Role::RaisedQuiet)) + 1;
        let x = put(buffer, row, x, typed, self.style(Role::Raised));
        put(buffer, row, x, " ", self.app.palette.style(Role::Primary));
    }

    fn opening(&self, opening: &Opening, buffer: &mut Buffer) {
        self.line("open", &opening.line.text, buffer);
        let count = format!("{} of {}", opening.shown.len(), opening.files.len());
        let x = self.area.cols.saturating_sub(count.len() as u16 + 1);
        put(buffer, self.row(0), x, &count, self.style(Role::RaisedQuiet));
        let rows = usize::from(self.area.rows.saturating_sub(2));
        let first = opening.chosen.saturating_sub(rows.saturating_sub(1));
        for (index, &file) in opening.shown.iter().enumerate().skip(first).take(rows) {
            let row = self.row(1 + (index - first) as u16);
            let is_chosen = index == opening.chosen;
            let style = self.style(if is_chosen { Role::Selection } else { Role::Raised });
            if is_chosen {
                fill(buffer, row, style);
                put(buffer, row, 1, "▸", style.patch(self.app.palette.style(Role::PrimarySign)));
            }
            put(buffer, row, 3, &opening.files[file].to_string_lossy(), style);
        }
        if opening.shown.is_empty() {
            let hint = match opening.line.text.is_empty() {
                true => "no files here: type the path of one".to_owned(),
                false => format!("no such file: Enter begins {}", opening.line.text),
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
}
