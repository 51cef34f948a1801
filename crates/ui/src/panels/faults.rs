//! What is wrong, in the file or in the project: filtered by letters and kind.

use super::chooser::{Chooser, Order, Pressed};
use super::painter::Painter;
use super::panel::{Panel, PanelAction, list_rows};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{Area, put, width};
use crate::screen::marks::TextMarks;
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::units::{Line, Span};
use snarvel_servers::news::FaultKind;
use snarvel_workspace::meaning::faults::{FaultRow, Reach};
use snarvel_workspace::notice::Notice;
use snarvel_workspace::view::Scroll;
use snarvel_workspace::view::scrolling::top_to_show;
use snarvel_workspace::workspace::Workspace;
use std::borrow::Cow;

/// The sign of a kind, in the gutter and in lists.
#[must_use]
pub fn sign(kind: FaultKind) -> (&'static str, Role) {
    match kind {
        FaultKind::Error => ("■", Role::Removed),
        FaultKind::Warning => ("▴", Role::Changed),
        FaultKind::Note => ("•", Role::Function),
    }
}

/// What is wrong.
#[derive(Debug)]
pub struct FaultsPanel {
    reach: Reach,
    /// Only what programs have printed.
    is_printed: bool,
    /// Only this kind; none: all.
    only: Option<FaultKind>,
    rows: Vec<FaultRow>,
    chooser: Chooser,
    before: Scroll,
}

impl FaultsPanel {
    /// Of the active text; of the project where nothing is wrong in that.
    #[must_use]
    pub fn of(workspace: &Workspace) -> FaultsPanel {
        let reach = if workspace.all_faults(Reach::File).is_empty() { Reach::Project } else { Reach::File };
        let mut panel = FaultsPanel {
            reach,
            is_printed: false,
            only: None,
            rows: Vec::new(),
            chooser: Chooser::new(Order::AsListed),
            before: workspace.view().scroll,
        };
        panel.refresh(workspace);
        panel
    }

    /// The places that programs have printed, in the order in which they did.
    #[must_use]
    pub fn printed(workspace: &Workspace) -> FaultsPanel {
        let mut panel = FaultsPanel { reach: Reach::Project, is_printed: true, ..FaultsPanel::of(workspace) };
        panel.refresh(workspace);
        panel
    }

    fn refresh(&mut self, workspace: &Workspace) {
        let chosen = self.chooser.index().and_then(|index| self.rows.get(index).cloned());
        self.rows = if self.is_printed { workspace.printed() } else { workspace.all_faults(self.reach) };
        if let Some(only) = self.only {
            self.rows.retain(|row| row.fault.kind == only);
        }
        self.filter();
        if let Some(at) = chosen.and_then(|chosen| self.rows.iter().position(|row| *row == chosen)) {
            self.chooser.choose(at);
        }
    }

    fn filter(&mut self) {
        let text = |row: &FaultRow| format!("{} {} {}", row.fault.message, row.path.display(), row.excerpt);
        self.chooser.filter(self.rows.iter().map(|row| Cow::Owned(text(row))));
    }

    fn chosen(&self) -> Option<&FaultRow> {
        self.chooser.index().map(|index| &self.rows[index])
    }

    fn look(&self, context: &mut Context) {
        let rows = usize::from(context.look.rooms.seen.rows);
        let active = context.workspace.active().id;
        let line = self.chosen().filter(|row| row.buffer == Some(active)).map(|row| Line(row.line));
        if let Some(line) = line {
            let (buffer, view) = context.workspace.active_pair_mut();
            view.scroll.top = top_to_show(view, buffer, (line, rows));
        }
    }

    fn go(&self, context: &mut Context) -> PanelAction {
        let Some(row) = self.chosen() else { return PanelAction::Stay };
        context.workspace.go_to_file(&row.path, row.span);
        context.say(snarvel_workspace::meaning::faults::told(&row.fault));
        PanelAction::Close
    }

    fn next_kind(&mut self) {
        self.only = match self.only {
            None => Some(FaultKind::Error),
            Some(FaultKind::Error) => Some(FaultKind::Warning),
            Some(FaultKind::Warning) => Some(FaultKind::Note),
            Some(FaultKind::Note) => None,
        };
    }
}

impl Panel for FaultsPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn follow(&mut self, context: &mut Context) {
        self.refresh(&context.workspace);
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match (key.code, key.mods) {
            (KeyCode::Esc, _) => {
                context.workspace.active_pair_mut().1.scroll = self.before;
                return PanelAction::Close;
            }
            (KeyCode::Enter, _) => return self.go(context),
            (KeyCode::Tab, _) => {
                self.reach = if self.reach == Reach::File { Reach::Project } else { Reach::File };
                self.refresh(&context.workspace);
            }
            (KeyCode::Char('k'), KeyModifiers::ALT) => {
                self.next_kind();
                self.refresh(&context.workspace);
            }
            _ => match self.chooser.press(key) {
                Pressed::Typed => self.filter(),
                Pressed::Moved => {}
                Pressed::Nothing => return PanelAction::Stay,
            },
        }
        self.look(context);
        PanelAction::Stay
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        self.chooser.line.insert(typed);
        self.filter();
        self.look(context);
        PanelAction::Stay
    }

    fn notice(&mut self, notice: Notice, context: &mut Context) -> (Option<Notice>, PanelAction) {
        if notice == Notice::Faults {
            self.refresh(&context.workspace);
        }
        (Some(notice), PanelAction::Stay)
    }

    fn marks(&self, context: &Context, _span: Span) -> TextMarks {
        let active = context.workspace.active().id;
        let lit = self.chosen().filter(|row| row.buffer == Some(active)).map(|row| Line(row.line));
        TextMarks { lit, ..TextMarks::default() }
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let label = match self.reach {
            Reach::File => "faults of the file",
            Reach::Project => "faults of the project",
        };
        painter.line(label, &self.chooser.line, grid);
        let kind = self.only.map(|kind| format!("only {}s  ", kind.name())).unwrap_or_default();
        let count = format!("{kind}{} of {}", self.chooser.shown.len(), self.rows.len());
        let x = painter.area.cols.saturating_sub(width(&count) + 1);
        put(grid, (painter.row(0), x), &count, painter.style(Role::RaisedQuiet));
        let is_project = self.reach == Reach::Project;
        painter.list(&self.chooser, grid, |index, room, style, grid| {
            row(painter, (&self.rows[index], is_project), (room, style), grid);
        });
        if self.chooser.shown.is_empty() {
            let hint = match self.rows.is_empty() {
                true => "nothing is known to be wrong",
                false => "nothing that is wrong fits these letters",
            };
            painter.hint(hint, grid);
        }
        let other = if is_project { "file only" } else { "whole project" };
        let keys = [
            ("Enter", "go there"),
            ("↑ ↓", "look"),
            ("Tab", other),
            ("Alt+K", "one kind"),
            ("letters", "narrow"),
            ("Esc", "leave"),
        ];
        painter.keys(&keys, grid);
    }
}

fn row(painter: &Painter, (row, is_project): (&FaultRow, bool), (room, style): (Area, Style), grid: &mut Grid) {
    let (sign, role) = sign(row.fault.kind);
    let x = put(grid, (room, 0), sign, painter.over(style, role)) + 1;
    let folder = &painter.context.workspace.project.folder;
    let name = snarvel_workspace::meaning::names::shown_path(&row.path, folder);
    let place = if is_project { format!("{name}:{}", row.line + 1) } else { (row.line + 1).to_string() };
    let place_x = room.cols.saturating_sub(width(&place));
    let said = format!("{}  ({})", row.fault.message.replace('\n', " "), row.fault.source);
    put(grid, (Area { cols: place_x.saturating_sub(1), ..room }, x), &said, style);
    put(grid, (room, place_x), &place, painter.over(style, Role::RaisedQuiet));
}
