//! The bookmarks of all files: letters narrow the list, the text beside shows each in its file.

use super::chooser::{Chooser, Order, Pressed};
use super::painter::Painter;
use super::panel::{Panel, PanelAction, TextBeside, list_rows};
use super::start::StartOfFile;
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{Area, put, width};
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::units::Line;
use snarvel_workspace::bookmarks::{FileBookmark, MarkedFile};
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::meaning::names::shown_path;
use snarvel_workspace::workspace::Workspace;
use std::borrow::Cow;
use std::path::PathBuf;

/// The bookmarks of all files.
#[derive(Debug)]
pub struct BookmarksPanel {
    rows: Vec<FileBookmark>,
    chooser: Chooser,
    beside: StartOfFile,
}

impl BookmarksPanel {
    /// All of them; the one at or before the caret is chosen.
    #[must_use]
    pub fn of(workspace: &Workspace) -> BookmarksPanel {
        let rows = workspace.all_bookmarks();
        let mut chooser = Chooser::new(Order::AsListed);
        let active = workspace.active();
        let here = active.text().line_of(workspace.view().cursors().primary().head);
        let is_before = |row: &FileBookmark| row.file == MarkedFile::Open(active.id) && row.line <= here;
        let chosen = rows.iter().rposition(is_before).unwrap_or(0);
        chooser.shown = (0..rows.len()).collect();
        chooser.chosen = chosen;
        BookmarksPanel { rows, chooser, beside: StartOfFile::default() }
    }

    fn filter(&mut self, workspace: &Workspace) {
        let text = |row: &FileBookmark| format!("{} {}", row.words, name_of(row, workspace));
        self.chooser.filter(self.rows.iter().map(|row| Cow::Owned(text(row))));
    }

    fn chosen(&self) -> Option<&FileBookmark> {
        self.chooser.index().map(|index| &self.rows[index])
    }

    fn chosen_place(&self, workspace: &Workspace) -> Option<(PathBuf, Line)> {
        let row = self.chosen()?;
        let path = match &row.file {
            MarkedFile::Open(id) => workspace.buffer(*id)?.path()?.to_owned(),
            MarkedFile::Closed(path) => path.clone(),
        };
        Some((path, row.line))
    }

    fn look(&mut self, context: &mut Context) {
        let chosen = self.chosen_place(&context.workspace);
        self.beside.look_at(chosen, context);
    }

    fn clear_chosen(&mut self, context: &mut Context) {
        let Some(index) = self.chooser.index() else { return };
        let chosen = self.chooser.chosen;
        let row = self.rows.remove(index);
        context.workspace.clear_bookmark(&row);
        self.filter(&context.workspace);
        self.chooser.chosen = chosen.min(self.chooser.shown.len().saturating_sub(1));
    }
}

impl Panel for BookmarksPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn begin(&mut self, context: &mut Context) {
        self.look(context);
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match key.code {
            KeyCode::Esc => return PanelAction::Close,
            KeyCode::Enter => {
                let Some(row) = self.chosen() else { return PanelAction::Stay };
                context.workspace.go_to_bookmark(row);
                return PanelAction::Close;
            }
            KeyCode::Delete => self.clear_chosen(context),
            _ => match self.chooser.press(key) {
                Pressed::Typed => self.filter(&context.workspace),
                Pressed::Moved => {}
                Pressed::Nothing => return PanelAction::Stay,
            },
        }
        self.look(context);
        PanelAction::Stay
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        self.chooser.line.insert(typed);
        self.filter(&context.workspace);
        self.look(context);
        PanelAction::Stay
    }

    fn take(&mut self, mut event: Event, context: &mut Context) -> PanelAction {
        let chosen = self.chosen_place(&context.workspace).map(|(path, _)| path);
        if let Payload::Ended = event.payload {
            self.beside.end(event.source.task);
        } else {
            self.beside.take(&mut event, chosen, context);
        }
        PanelAction::Stay
    }

    fn settle(&mut self, context: &mut Context) {
        self.beside.settle(context);
    }

    fn text_beside(&self) -> TextBeside {
        self.beside.text_beside()
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        painter.line("bookmarks", &self.chooser.line, grid);
        painter.count(self.chooser.shown.len(), self.rows.len(), grid);
        painter.list(&self.chooser, grid, |index, room, style, grid| {
            draw_row(painter, &self.rows[index], (room, style), grid);
        });
        if self.chooser.shown.is_empty() {
            painter.hint("no bookmark matches", grid);
        }
        self.beside.draw(painter, grid);
        let keys =
            [("Enter", "go there"), ("↑ ↓", "look"), ("letters", "narrow"), ("Del", "clear it"), ("Esc", "leave")];
        painter.keys(&keys, grid);
    }
}

fn draw_row(painter: &Painter, row: &FileBookmark, (room, style): (Area, Style), grid: &mut Grid) {
    let place = format!("{}:{}", name_of(row, &painter.context.workspace), row.line.0 + 1);
    let place_x = room.cols.saturating_sub(width(&place));
    let words = if row.words.is_empty() { "(blank line)" } else { &row.words };
    put(grid, (Area { cols: place_x.saturating_sub(1), ..room }, 0), words, style);
    put(grid, (room, place_x), &place, painter.over(style, Role::RaisedQuiet));
}

/// The file of a bookmark as it is shown: its path from the project's folder.
fn name_of(row: &FileBookmark, workspace: &Workspace) -> String {
    let open = match &row.file {
        MarkedFile::Closed(path) => return shown_path(path, &workspace.project.folder),
        MarkedFile::Open(id) => workspace.buffer(*id),
    };
    let name =
        |buffer: &Buffer| buffer.path().map_or(buffer.name(), |path| shown_path(path, &workspace.project.folder));
    open.map_or_else(String::new, name)
}
