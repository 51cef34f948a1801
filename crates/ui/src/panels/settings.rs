//! The settings: each with its value and where that comes from; changed with the arrows, seen at once, kept with Enter. First those of
//! the file, then those of the program.

use super::chooser::{Chooser, Order, Pressed};
use super::painter::Painter;
use super::panel::{Panel, PanelAction, TextBeside, list_rows};
use crate::context::Context;
use crate::keys::Key;
use crate::own_file::changed;
use crate::palette::Role;
use crate::screen::canvas::{Area, put, width, wrapped};
use crate::settings::Settings;
use crate::settings::known::{KNOWN, KnownSetting};
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use snarvel_core::languages;
use snarvel_core::text::indent::IndentUnit;
use snarvel_core::units::Direction;
use snarvel_workspace::buffer::layout::FileSetting;
use snarvel_workspace::command::Command;
use snarvel_workspace::project::Writing;
use snarvel_workspace::registry::by_name;
use std::borrow::Cow;

/// A row: a setting of the file, or of the program.
#[derive(Clone, Copy)]
enum Row {
    OfFile(&'static OfFile),
    OfProgram(&'static KnownSetting),
}

/// A setting that each file has for itself.
struct OfFile {
    name: &'static str,
    about: &'static str,
    /// The verb that sets it.
    verb: &'static str,
    setting: Option<FileSetting>,
}

const OF_FILE: [OfFile; 5] = [
    OfFile {
        name: "language",
        about: "What this file is written in. Enter asks for a name.",
        verb: "language-of-file",
        setting: Some(FileSetting::Language),
    },
    OfFile {
        name: "indentation",
        about: "One step of indentation in this file.",
        verb: "indentation-of-file",
        setting: Some(FileSetting::Indentation),
    },
    OfFile {
        name: "tab width",
        about: "The distance between tab stops in this file, in cells.",
        verb: "tab-width-of-file",
        setting: Some(FileSetting::TabWidth),
    },
    OfFile {
        name: "line ends",
        about: "The kind of all line ends of this file. A change of it is a step that Ctrl+Z takes back.",
        verb: "line-ends-of-file",
        setting: Some(FileSetting::LineEnds),
    },
    OfFile {
        name: "encoding",
        about: "How the characters of this file are written. It can be made UTF-8.",
        verb: "to-utf-8",
        setting: None,
    },
];

/// The settings.
#[derive(Debug)]
pub struct SettingsPanel {
    /// The letters so far, and the rows that they leave.
    pub chooser: Chooser,
    /// What was set when the panel was opened.
    before: Settings,
    /// What was changed of the program's settings: the name, and the value as the file spells it.
    changed: Vec<(&'static str, String)>,
}

fn rows() -> Vec<Row> {
    OF_FILE.iter().map(Row::OfFile).chain(KNOWN.iter().map(Row::OfProgram)).collect()
}

impl SettingsPanel {
    /// All settings as they are.
    #[must_use]
    pub fn of(context: &Context) -> SettingsPanel {
        let mut panel = SettingsPanel {
            chooser: Chooser::new(Order::AsListed),
            before: context.settings.clone(),
            changed: Vec::new(),
        };
        panel.filter();
        panel
    }

    /// The same, with the setting called `name` chosen.
    #[must_use]
    pub fn at(context: &Context, name: &str) -> SettingsPanel {
        let mut panel = SettingsPanel::of(context);
        let place = rows().iter().position(|row| row.name() == name);
        place.into_iter().for_each(|place| panel.chooser.choose(place));
        panel
    }

    fn filter(&mut self) {
        let told: Vec<String> = rows().iter().map(|row| row.searched()).collect();
        self.chooser.filter(told.into_iter().map(Cow::Owned));
    }

    fn row(&self) -> Option<Row> {
        self.chooser.index().map(|index| rows()[index])
    }

    /// The value beside the one that the chosen setting has.
    fn step(&mut self, direction: Direction, context: &mut Context) {
        match self.row() {
            Some(Row::OfFile(setting)) => {
                let Some(argument) = setting.beside(context, direction) else { return };
                let command = by_name(setting.verb).and_then(|verb| Command::read(verb, &argument).ok());
                command.into_iter().for_each(|command| run(&command, context));
            }
            Some(Row::OfProgram(setting)) => {
                let Some((settings, value)) = setting.stepped(&context.settings, direction) else { return };
                context.take_settings(settings);
                self.changed.retain(|(name, _)| *name != setting.name);
                self.changed.push((setting.name, value));
            }
            None => {}
        }
    }

    /// Writes what was changed into the settings file, comments and all.
    fn keep(&self, context: &mut Context) {
        if !self.changed.is_empty() {
            keep_values(context, self.changed.clone());
        }
    }
}

/// Writes values, as the file spells them, into the settings file; where there is none, says that they hold until the end.
pub(super) fn keep_values(context: &mut Context, values: Vec<(&'static str, String)>) {
    let names: Vec<&str> = values.iter().map(|(name, _)| *name).collect();
    let names = names.join(", ");
    let writes = context.workspace.project.writing == Writing::Files;
    match context.settings_file.clone().filter(|_| writes) {
        None => context.say(format!("{names}: changed until the end")),
        Some(file) => {
            let done = format!("{names}: kept in {}", file.display());
            context.workspace.begin_operation(None, move || changed(&file, |text| with(text, &values)).map(|()| done));
        }
    }
}

/// Runs a verb that sets something of the file.
fn run(command: &Command, context: &mut Context) {
    if let Some((action, _)) = context.run(command)
        && action == snarvel_workspace::registry::action::Action::ToUtf8
    {
        context.workspace.make_utf8();
    }
}

/// The contents of a settings file that holds `text`, with these values; comments and the other lines stay.
fn with(text: &str, values: &[(&'static str, String)]) -> Result<String, String> {
    let wrong = |error: toml_edit::TomlError| error.message().lines().next().unwrap_or("it is no TOML").to_owned();
    let mut document: toml_edit::DocumentMut = text.parse().map_err(wrong)?;
    for (name, value) in values {
        let value: toml_edit::Value = value.parse().map_err(wrong)?;
        match document.get_mut(name).and_then(toml_edit::Item::as_value_mut) {
            Some(old) => {
                let decor = old.decor().clone();
                *old = value;
                *old.decor_mut() = decor;
            }
            None => drop(document.insert(name, toml_edit::value(value))),
        }
    }
    Ok(document.to_string())
}

impl OfFile {
    fn value(&self, context: &Context) -> String {
        let buffer = context.workspace.active();
        match self.setting {
            Some(FileSetting::Language) => buffer.language().name.clone(),
            Some(FileSetting::Indentation) => match buffer.settings().unit {
                IndentUnit::Tab => "tab".to_owned(),
                IndentUnit::Spaces(count) => count.to_string(),
            },
            Some(FileSetting::TabWidth) => buffer.settings().tabs.0.to_string(),
            Some(FileSetting::LineEnds) => buffer.settings().line_end.name().to_owned(),
            None => buffer.saved.encoding.unusual_name().unwrap_or("UTF-8").to_owned(),
        }
    }

    fn origin(&self, context: &Context) -> &'static str {
        self.setting.map_or("the file", |setting| context.workspace.active().origin_of(setting))
    }

    /// The argument of the verb that sets the value beside this one.
    fn beside(&self, context: &Context, direction: Direction) -> Option<String> {
        let value = self.value(context);
        let is_forward = direction == Direction::Forward;
        let number = |least: u32, now: u32| {
            let next = if is_forward { now + 1 } else { now.saturating_sub(1) };
            Some(next.clamp(least, 16)).filter(|next| *next != now).map(|next| next.to_string())
        };
        match self.setting {
            Some(FileSetting::Language) => {
                let mut names: Vec<&str> = languages::all().iter().map(|language| language.name.as_str()).collect();
                names.sort_unstable();
                let at = names.iter().position(|name| *name == value)?;
                let by = if is_forward { 1 } else { names.len() - 1 };
                Some(names[(at + by) % names.len()].to_owned())
            }
            Some(FileSetting::Indentation) => match value.parse() {
                Err(_) => is_forward.then(|| "1".to_owned()),
                Ok(1) if !is_forward => Some("tab".to_owned()),
                Ok(now) => number(1, now),
            },
            Some(FileSetting::TabWidth) => number(1, value.parse().ok()?),
            Some(FileSetting::LineEnds) => Some(if value == "LF" { "crlf" } else { "lf" }.to_owned()),
            None => (value != "UTF-8").then(String::new),
        }
    }
}

impl Row {
    /// What letters find it by.
    fn searched(self) -> String {
        match self {
            Row::OfFile(setting) => format!("this file {} {}", setting.name, setting.about),
            Row::OfProgram(setting) => format!("{} {}", setting.name.replace('_', " "), setting.about),
        }
    }

    fn name(self) -> String {
        match self {
            Row::OfFile(setting) => format!("this file: {}", setting.name),
            Row::OfProgram(setting) => setting.name.replace('_', " "),
        }
    }

    fn value(self, context: &Context) -> String {
        match self {
            Row::OfFile(setting) => setting.value(context),
            Row::OfProgram(setting) => (setting.tell)(&context.settings).trim_matches('"').to_owned(),
        }
    }

    fn about(self) -> &'static str {
        match self {
            Row::OfFile(setting) => setting.about,
            Row::OfProgram(setting) => setting.about,
        }
    }
}

impl Panel for SettingsPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match key.code {
            KeyCode::Esc => {
                context.take_settings(self.before.clone());
                return PanelAction::Close;
            }
            KeyCode::Enter => {
                self.keep(context);
                return match self.row() {
                    Some(Row::OfFile(setting)) if setting.setting == Some(FileSetting::Language) => {
                        by_name(setting.verb).map_or(PanelAction::Close, |verb| PanelAction::Run(Command::plain(verb)))
                    }
                    _ => PanelAction::Close,
                };
            }
            KeyCode::Left => self.step(Direction::Back, context),
            KeyCode::Right => self.step(Direction::Forward, context),
            _ => {
                if self.chooser.press(key) == Pressed::Typed {
                    self.filter();
                }
            }
        }
        PanelAction::Stay
    }

    fn paste(&mut self, typed: &str, _context: &mut Context) -> PanelAction {
        self.chooser.line.insert(typed);
        self.filter();
        PanelAction::Stay
    }

    fn text_beside(&self) -> TextBeside {
        TextBeside::Beside
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let all = rows();
        painter.line("which setting?", &self.chooser.line, grid);
        painter.count(self.chooser.shown.len(), all.len(), grid);
        painter.list(&self.chooser, grid, |index, room, style, grid| {
            let value = all[index].value(painter.context);
            let value_x = (room.cols / 2).max(20).min(room.cols.saturating_sub(width(&value)));
            put(grid, (Area { cols: value_x.saturating_sub(1), ..room }, 0), &all[index].name(), style);
            put(grid, (room, value_x), &value, painter.over(style, Role::String));
        });
        if self.chooser.shown.is_empty() {
            painter.hint("no setting answers to these letters", grid);
        }
        if let Some(row) = self.row() {
            self.told(painter, row, grid);
        }
        let keys =
            [("← →", "change"), ("Enter", "keep"), ("↑ ↓", "choose"), ("letters", "find one"), ("Esc", "as it was")];
        painter.keys(&keys, grid);
    }
}

impl SettingsPanel {
    /// What the chosen setting is about, beside the list.
    fn told(&self, painter: &Painter, row: Row, grid: &mut Grid) {
        let area = painter.beside;
        if area.cols == 0 {
            return;
        }
        painter.edge(grid);
        let context = painter.context;
        let origin = match row {
            Row::OfFile(setting) => setting.origin(context),
            Row::OfProgram(setting) if self.changed.iter().any(|(name, _)| *name == setting.name) => "changed now",
            Row::OfProgram(setting) if context.settings.given.contains(&setting.name) => "your settings file",
            Row::OfProgram(_) => "as shipped",
        };
        let allowed = match row {
            Row::OfFile(_) => "",
            Row::OfProgram(setting) => setting.allowed,
        };
        let mut lines: Vec<(&str, String)> = Vec::new();
        for (index, line) in wrapped(row.about(), area.cols.saturating_sub(12)).into_iter().enumerate() {
            lines.push((if index == 0 { "about" } else { "" }, line));
        }
        lines.push(("value", row.value(context)));
        lines.push(("from", origin.to_owned()));
        lines.extend((!allowed.is_empty()).then(|| ("takes", allowed.to_owned())));
        let file = context.settings_file.as_ref().map(|file| file.display().to_string());
        lines.extend(file.map(|file| ("file", file)));
        for (y, (label, text)) in lines.iter().take(usize::from(area.rows)).enumerate() {
            let line = Area { y: area.y + y as u16, rows: 1, ..area };
            put(grid, (line, 1), label, painter.style(Role::RaisedQuiet));
            put(grid, (line, 9), text, painter.style(Role::Raised));
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_settings_file_keeps_its_comments() {
        let text = "# mine\npalette = \"night\" # dark\n\n# wide\ntab_width = 8\n";
        let values = [("palette", "\"day\"".to_owned()), ("pairs", "false".to_owned())];
        let kept = with(text, &values).unwrap();
        assert_eq!(kept, "# mine\npalette = \"day\" # dark\n\n# wide\ntab_width = 8\npairs = false\n");
        assert_eq!(with("", &values[..1]).unwrap(), "palette = \"day\"\n");
        assert!(with("palette = = 1", &values).is_err());
    }

    #[test]
    fn every_setting_goes_through_its_values_and_tells_them() {
        for setting in KNOWN {
            let settings = Settings::default();
            let (changed, value) = setting
                .stepped(&settings, Direction::Forward)
                .or_else(|| setting.stepped(&settings, Direction::Back))
                .unwrap();
            assert_eq!((setting.tell)(&changed), value, "{}", setting.name);
            assert_ne!((setting.tell)(&settings), value, "{}", setting.name);
        }
    }
}
