//! Another name over the project: the uses are listed while it is typed, each with what would come.

use super::line::InputLine;
use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{Area, put, width};
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::verbs::scene::counted;
use snarvel_files::search::FileHit;
use snarvel_workspace::meaning::finding::{By, Finding, Topic};
use snarvel_workspace::notice::Notice;

/// Another name over the project.
#[derive(Debug)]
pub struct RenamePanel {
    name: String,
    line: InputLine,
    /// Whether nothing was typed yet: the first letter takes the place of the old name.
    is_fresh: bool,
    asked: Option<u64>,
    uses: Option<Box<Finding>>,
    top: usize,
    /// What the name so far would break in the file.
    conflict: Option<String>,
}

impl RenamePanel {
    /// For the name at the caret; none where there is none.
    #[must_use]
    pub fn of(context: &Context) -> Option<RenamePanel> {
        let word = context.workspace.name_at_caret()?;
        let name = context.workspace.active().text().slice(word).into_owned();
        Some(RenamePanel {
            line: InputLine::holding(name.clone()),
            name,
            is_fresh: true,
            asked: None,
            uses: None,
            top: 0,
            conflict: None,
        })
    }

    fn look(&mut self, context: &Context) {
        let name = self.line.text.trim();
        let is_new = !name.is_empty() && name != self.name;
        self.conflict = is_new.then(|| context.workspace.conflict_of_name(name)).flatten();
    }

    fn places(&self) -> Vec<(String, &FileHit)> {
        let Some(uses) = &self.uses else { return Vec::new() };
        let by_name = !matches!(uses.by, By::Meaning(_));
        let counts = |hit: &&FileHit| !by_name || hit.kind == Kind::Code;
        let of = |file: &snarvel_files::search::FileHits| file.path.display().to_string();
        uses.files.iter().flat_map(|file| file.hits.iter().filter(counts).map(move |hit| (of(file), hit))).collect()
    }
}

impl Panel for RenamePanel {
    fn rows(&self, context: &Context) -> u16 {
        (context.look.size.rows / 2).max(8)
    }

    fn begin(&mut self, context: &mut Context) {
        self.asked = context.workspace.inquire(Topic::Uses);
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match key.code {
            KeyCode::Esc => {
                context.workspace.drop_inquiries();
                return PanelAction::Close;
            }
            KeyCode::Enter => {
                context.workspace.drop_inquiries();
                let effects = context.workspace.rename(self.line.text.trim());
                context.follow(effects);
                return PanelAction::Close;
            }
            KeyCode::Up => self.top = self.top.saturating_sub(1),
            KeyCode::Down => self.top = (self.top + 1).min(self.places().len().saturating_sub(1)),
            KeyCode::PageUp => self.top = self.top.saturating_sub(10),
            KeyCode::PageDown => self.top = (self.top + 10).min(self.places().len().saturating_sub(1)),
            KeyCode::F(2) => {}
            _ => {
                if self.is_fresh && key.typed().is_some() {
                    self.line.set("");
                }
                self.is_fresh &= !self.line.press(key);
                self.look(context);
            }
        }
        PanelAction::Stay
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        if std::mem::take(&mut self.is_fresh) {
            self.line.set("");
        }
        self.line.insert(typed);
        self.look(context);
        PanelAction::Stay
    }

    fn notice(&mut self, notice: Notice, _context: &mut Context) -> (Option<Notice>, PanelAction) {
        match notice {
            Notice::Found(finding) if Some(finding.number) == self.asked => {
                self.uses = Some(finding);
                (None, PanelAction::Stay)
            }
            other => (Some(other), PanelAction::Stay),
        }
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        painter.line(&format!("{} is called", self.name), &self.line, grid);
        let places = self.places();
        let said = match &self.uses {
            None => "looking for its uses …".to_owned(),
            Some(uses) => {
                let files = places.iter().map(|(path, _)| path).collect::<std::collections::BTreeSet<_>>().len();
                format!("{} in {}, {}", counted(places.len(), "place"), counted(files, "file"), uses.by.told())
            }
        };
        let x = painter.area.cols.saturating_sub(width(&said) + 1);
        put(grid, (painter.row(0), x), &said, painter.style(Role::RaisedQuiet));
        let mut top = 1;
        if let Some(conflict) = &self.conflict {
            put(grid, (painter.row(top), 3), conflict, painter.over(painter.style(Role::Raised), Role::Changed));
            top += 1;
        }
        let room = usize::from(painter.area.rows.saturating_sub(top + 1));
        for (y, (path, hit)) in places.iter().skip(self.top).take(room).enumerate() {
            row(painter, (path, hit, &self.line.text), painter.row(top + y as u16), grid);
        }
        let enter = if self.conflict.is_some() { "rename anyway" } else { "rename all" };
        painter.keys(&[("Enter", enter), ("↑ ↓", "look through"), ("Esc", "leave")], grid);
    }
}

/// A use: where it is, its line with the old name struck through and the new one after it.
fn row(painter: &Painter, (path, hit, name): (&str, &FileHit, &str), row: Area, grid: &mut Grid) {
    let place = format!("{path}:{}", hit.line + 1);
    let x = put(grid, (row, 3), &format!("{place:<26}"), painter.style(Role::RaisedQuiet)) + 1;
    let part = |from: usize, to: usize| hit.excerpt.get(from..to.max(from)).unwrap_or_default();
    let x = put(grid, (row, x), part(0, hit.within.start), painter.style(Role::Raised));
    let old = part(hit.within.start, hit.within.end);
    let x = match old == name {
        true => put(grid, (row, x), old, painter.style(Role::KeyCap)),
        false => {
            let x = put(grid, (row, x), old, painter.style(Role::Gone));
            put(grid, (row, x), name, painter.style(Role::Come))
        }
    };
    put(grid, (row, x), part(hit.within.end, hit.excerpt.len()), painter.style(Role::Raised));
}
