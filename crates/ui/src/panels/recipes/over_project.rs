//! A recipe over the project: the files that it would change, and what in each; any of them can be left out before it is done.

use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::panels::chooser::{Chooser, Order, Pressed};
use crate::panels::painter::{KeysGo, Painter};
use crate::panels::panel::PanelAction;
use crate::screen::canvas::{Area, fill, put, width};
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::verbs::scene::counted;
use snarvel_workspace::event::Payload;
use snarvel_workspace::ids::TaskId;
use snarvel_workspace::recipes::news::{FileChange, ProjectNews};
use snarvel_workspace::tasks::TaskHandle;
use snarvel_workspace::view::Room;
use std::borrow::Cow;
use std::path::PathBuf;

/// The files that a recipe would change.
#[derive(Debug)]
pub struct OverProject {
    /// Whether keys go to the list or to the differences.
    pub keys: KeysGo,
    name: String,
    changes: Vec<FileChange>,
    /// Files that cannot be done, and why.
    refused: Vec<(PathBuf, String)>,
    chooser: Chooser,
    /// Whether a file was left out.
    has_left_out: bool,
    /// How many files were looked at.
    seen: usize,
    looking: Option<TaskHandle>,
    /// The first line of the differences in view.
    top: usize,
    rows: usize,
}

/// The lines before the differences: the names of the file.
const HEAD: usize = 2;

impl OverProject {
    /// Of the recipe called `name`, whose task is `looking`.
    pub fn begin(name: String, looking: TaskHandle) -> OverProject {
        OverProject {
            keys: KeysGo::ToList,
            name,
            changes: Vec::new(),
            refused: Vec::new(),
            chooser: Chooser::new(Order::AsListed),
            has_left_out: false,
            seen: 0,
            looking: Some(looking),
            top: 0,
            rows: 1,
        }
    }

    /// Whether `task` is the one that looks.
    pub fn is_task(&self, task: TaskId) -> bool {
        self.looking.as_ref().is_some_and(|looking| looking.id == task)
    }

    /// Takes in what was found.
    pub fn take(&mut self, payload: Payload) {
        match payload {
            Payload::Applied(ProjectNews::Changes(change)) => self.changes.push(*change),
            Payload::Applied(ProjectNews::Refused(path, why)) => self.refused.push((path, why)),
            Payload::Applied(ProjectNews::Seen(seen)) => self.seen = seen,
            Payload::Ended => self.looking = None,
            _ => return,
        }
        self.list_again();
    }

    /// Lists what is there now, with the same place chosen.
    fn list_again(&mut self) {
        let chosen = self.chooser.chosen;
        let changes = self.changes.iter().map(|change| change.name.to_string_lossy());
        let refused = self.refused.iter().map(|(path, _)| path.to_string_lossy());
        let names: Vec<Cow<str>> = changes.chain(refused).collect();
        self.chooser.filter(names.into_iter());
        self.chooser.chosen = chosen.min(self.chooser.shown.len().saturating_sub(1));
    }

    fn change(&self) -> Option<&FileChange> {
        self.changes.get(self.chooser.index()?)
    }

    /// The lines of the differences of the chosen file.
    fn lines(&self) -> impl Iterator<Item = &str> {
        self.change().into_iter().flat_map(|change| change.diff.lines().skip(HEAD))
    }

    /// Takes a key.
    pub fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match (key.code, self.keys) {
            (KeyCode::Enter, _) => return self.carry_out(context),
            (KeyCode::Tab | KeyCode::Esc, KeysGo::ToText) => self.keys = KeysGo::ToList,
            (KeyCode::Tab, KeysGo::ToList) => self.keys = KeysGo::ToText,
            (_, KeysGo::ToText) => self.scroll(key),
            (KeyCode::Delete, KeysGo::ToList) if self.chooser.line.parts().1.is_empty() => self.leave_out(),
            (_, KeysGo::ToList) => match self.chooser.press(key) {
                Pressed::Typed => {
                    self.list_again();
                    (self.chooser.chosen, self.top) = (0, 0);
                }
                Pressed::Moved => self.top = 0,
                Pressed::Nothing => {}
            },
        }
        PanelAction::Stay
    }

    fn scroll(&mut self, key: Key) {
        let last = self.lines().count().saturating_sub(self.rows);
        self.top = match key.code {
            KeyCode::Up => self.top.saturating_sub(1),
            KeyCode::Down => self.top + 1,
            KeyCode::PageUp => self.top.saturating_sub(self.rows),
            KeyCode::PageDown => self.top + self.rows,
            KeyCode::Home => 0,
            KeyCode::End => last,
            _ => self.top,
        }
        .min(last);
    }

    /// The chosen file is not to be changed.
    fn leave_out(&mut self) {
        let Some(index) = self.chooser.index() else { return };
        match index.checked_sub(self.changes.len()) {
            None => drop(self.changes.remove(index)),
            Some(index) => drop(self.refused.remove(index)),
        }
        self.has_left_out = true;
        self.top = 0;
        self.list_again();
    }

    fn carry_out(&mut self, context: &mut Context) -> PanelAction {
        if self.looking.is_some() {
            context.say("still looking: what would change is not all known yet");
            return PanelAction::Stay;
        }
        if self.changes.is_empty() {
            context.say("there is nothing to change");
            return PanelAction::Stay;
        }
        match context.workspace.carry_out_changes(std::mem::take(&mut self.changes)) {
            Ok(()) => {}
            Err(refusal) => context.say(refusal.to_string()),
        }
        PanelAction::Close
    }

    /// Takes the room that there is for the differences.
    pub fn settle(&mut self, room: Room) {
        self.rows = usize::from(room.rows).max(1);
    }

    /// Draws it.
    pub fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let label = format!("{} in files called", self.name);
        match self.keys {
            KeysGo::ToText => painter.line_at_rest(&label, &self.chooser.line, grid),
            KeysGo::ToList => painter.line(&label, &self.chooser.line, grid),
        }
        painter.said((&label, &self.chooser.line), (&self.told(), Role::RaisedQuiet), grid);
        painter.list(&self.chooser, grid, |index, room, style, grid| self.row(painter, index, (room, style), grid));
        if self.chooser.shown.is_empty() {
            let hint = match (&self.looking, self.changes.len() + self.refused.len()) {
                (Some(_), 0) => "looking through the files …",
                (None, 0) if self.has_left_out => "all files are left out",
                (None, 0) => "it would change no file of the project",
                _ => "no file is called that",
            };
            painter.hint(hint, grid);
        }
        self.draw_lines(painter, grid);
        let keys: &[(&str, &str)] = match self.keys {
            KeysGo::ToText => &[("Enter", "change all of these"), ("↑ ↓", "look"), ("Tab Esc", "back to the list")],
            KeysGo::ToList => &[
                ("Enter", "change all of these"),
                ("Del", "leave one out"),
                ("↑ ↓", "choose"),
                ("Tab", "into the differences"),
                ("Esc", "back"),
            ],
        };
        painter.keys(keys, grid);
    }

    fn told(&self) -> String {
        let places: usize = self.changes.iter().map(|change| change.places).sum();
        let mut told = format!("{}, {}", counted(self.changes.len(), "file"), counted(places, "place"));
        if !self.refused.is_empty() {
            told = format!("{told}, {} cannot be done", self.refused.len());
        }
        match self.looking {
            Some(_) => format!("{told}; {} looked at …", counted(self.seen, "file")),
            None => format!("{told}, of {}", counted(self.seen, "file")),
        }
    }

    fn row(&self, painter: &Painter, index: usize, (room, style): (Area, Style), grid: &mut Grid) {
        let (name, told, role) = match self.changes.get(index) {
            Some(change) => (change.name.display(), counted(change.places, "place"), Role::RaisedQuiet),
            None => {
                let (path, _) = &self.refused[index - self.changes.len()];
                let folder = &painter.context.workspace.project.folder;
                (path.strip_prefix(folder).unwrap_or(path).display(), "✕ stays".to_owned(), Role::Removed)
            }
        };
        let told_x = room.cols.saturating_sub(width(&told));
        let names = Area { cols: told_x.saturating_sub(1), ..room };
        put(grid, (names, 0), &name.to_string(), style);
        put(grid, (room, told_x), &told, painter.over(style, role));
    }

    /// The differences of the chosen file, or why it stays as it is.
    fn draw_lines(&self, painter: &Painter, grid: &mut Grid) {
        let area = painter.beside;
        if area.cols == 0 {
            return;
        }
        fill(grid, area, painter.style(Role::Raised));
        painter.edge(grid);
        let at = |y: usize| Area { y: area.y + y as u16, rows: 1, ..area };
        let refused = self.chooser.index().and_then(|index| index.checked_sub(self.changes.len()));
        if let Some((_, why)) = refused.and_then(|index| self.refused.get(index)) {
            put(grid, (at(0), 1), why, painter.style(Role::Removed));
        }
        for (y, line) in self.lines().skip(self.top).take(usize::from(area.rows)).enumerate() {
            let role = match line.as_bytes().first() {
                Some(b'+') => Role::Added,
                Some(b'-') => Role::Removed,
                Some(b'@' | b'\\') => Role::RaisedQuiet,
                _ => Role::Raised,
            };
            put(grid, (at(y), 1), &line.replace('\t', "    "), painter.style(role));
        }
    }
}
