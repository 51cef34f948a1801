//! Going to a name anywhere in the project: letters find it, its line is shown beside.

use super::chooser::{Chooser, Order, Pressed};
use super::line::InputLine;
use super::painter::Painter;
use super::panel::{Panel, PanelAction, TextBeside, list_rows};
use super::start::StartOfFile;
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{Area, put, width};
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::units::Line;
use snarvel_core::verbs::scene::counted;
use snarvel_index::store::Entry;
use snarvel_index::worker::told;
use snarvel_workspace::command::Command;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::notice::Notice;
use std::path::PathBuf;

/// Going to a name of the project.
#[derive(Debug)]
pub struct NamesPanel {
    chooser: Chooser,
    found: Vec<Entry>,
    asked: Option<u64>,
    /// Whether the newest question is not answered yet.
    is_asking: bool,
    beside: StartOfFile,
}

impl NamesPanel {
    /// With letters that were typed already.
    #[must_use]
    pub fn with(letters: &str) -> NamesPanel {
        let mut chooser = Chooser::new(Order::AsListed);
        chooser.line = InputLine::holding(letters);
        NamesPanel { chooser, found: Vec::new(), asked: None, is_asking: false, beside: StartOfFile::default() }
    }

    fn ask(&mut self, context: &mut Context) {
        let letters = self.chooser.line.text.trim().to_owned();
        if letters.is_empty() {
            self.found.clear();
            self.chooser.shown.clear();
            (self.asked, self.is_asking) = (None, false);
            return;
        }
        self.asked = Some(context.workspace.ask_for_names(&letters));
        self.is_asking = true;
    }

    fn chosen(&self) -> Option<&Entry> {
        self.chooser.index().and_then(|index| self.found.get(index))
    }

    fn chosen_place(&self, context: &Context) -> Option<(PathBuf, Line)> {
        let entry = self.chosen()?;
        Some((context.workspace.project.folder.join(&entry.path), entry.definition.line))
    }

    fn look(&mut self, context: &mut Context) {
        let chosen = self.chosen_place(context);
        self.beside.look_at(chosen, context);
    }

    fn row(&self, painter: &Painter, index: usize, (room, style): (Area, Style), grid: &mut Grid) {
        let entry = &self.found[index];
        let quiet = painter.over(style, Role::RaisedQuiet);
        let place = format!("{}:{}", entry.path.display(), entry.definition.line.0 + 1);
        let place_x = room.cols.saturating_sub(width(&place));
        let cut = Area { cols: place_x.saturating_sub(1), ..room };
        let x = put(grid, (cut, 0), &entry.definition.name, style) + 2;
        put(grid, (cut, x), &told(&entry.definition), quiet);
        put(grid, (room, place_x), &place, quiet);
    }
}

impl Panel for NamesPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn begin(&mut self, context: &mut Context) {
        context.workspace.gather_names();
        self.ask(context);
    }

    fn text_beside(&self) -> TextBeside {
        self.beside.text_beside()
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match (key.code, key.mods) {
            (KeyCode::Esc, _) => return PanelAction::Close,
            (KeyCode::Char('g'), KeyModifiers::CONTROL) => {
                return PanelAction::Run(Command::named("go"));
            }
            (KeyCode::Enter, _) => {
                let Some(entry) = self.chosen().cloned() else { return PanelAction::Stay };
                context.workspace.go_to_file(&entry.path, entry.definition.span);
                return PanelAction::Close;
            }
            _ => match self.chooser.press(key) {
                Pressed::Typed => self.ask(context),
                Pressed::Moved => self.look(context),
                Pressed::Nothing => {}
            },
        }
        PanelAction::Stay
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        self.chooser.line.insert(typed);
        self.ask(context);
        PanelAction::Stay
    }

    fn take(&mut self, mut event: Event, context: &mut Context) -> PanelAction {
        let chosen = self.chosen_place(context).map(|(path, _)| path);
        self.beside.take(&mut event, chosen, context);
        if matches!(event.payload, Payload::Ended) {
            self.beside.end(event.source.task);
        }
        PanelAction::Stay
    }

    fn notice(&mut self, notice: Notice, context: &mut Context) -> (Option<Notice>, PanelAction) {
        match notice {
            Notice::Names(number, found) if Some(number) == self.asked => {
                self.chooser.shown = (0..found.len()).collect();
                self.chooser.chosen = 0;
                self.found = found;
                self.is_asking = false;
                self.look(context);
                (None, PanelAction::Stay)
            }
            other => (Some(other), PanelAction::Stay),
        }
    }

    fn settle(&mut self, context: &mut Context) {
        self.beside.settle(context);
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        painter.line("go to a name of the project", &self.chooser.line, grid);
        let workspace = &painter.context.workspace;
        let said = match workspace.names_growing() {
            Some(files) => format!("still growing: {} so far", counted(files, "file")),
            None => {
                let [files, names] = workspace.name_counts();
                format!("{} in {}", counted(names, "name"), counted(files, "file"))
            }
        };
        let label = "go to a name of the project";
        painter.said((label, &self.chooser.line), (&said, Role::RaisedQuiet), grid);
        painter.list(&self.chooser, grid, |index, room, style, grid| self.row(painter, index, (room, style), grid));
        if self.chooser.shown.is_empty() {
            let hint = match (self.chooser.line.text.trim().is_empty(), self.is_asking) {
                (true, _) => "type letters of a name: functions, types, constants of all files are found",
                (false, true) => "looking …",
                (false, false) => "no name of the project fits these letters",
            };
            painter.hint(hint, grid);
        }
        self.beside.draw(painter, grid);
        let keys = [("Enter", "go there"), ("↑ ↓", "choose"), ("Ctrl+G", "this file only"), ("Esc", "leave")];
        painter.keys(&keys, grid);
    }
}
