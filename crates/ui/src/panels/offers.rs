//! All offers: the list, and beside it where a word is used or what a template puts in. Letters go to the text, and narrow the list.

use super::painter::Painter;
use super::panel::{Panel, PanelAction, TextBeside, list_rows};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::panels::chooser::{Chooser, Order};
use crate::screen::canvas::{Area, put, width};
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::offers::{Candidate, Source};
use snarvel_core::units::Direction;
use snarvel_workspace::command::Command;
use snarvel_workspace::event::Event;
use snarvel_workspace::workspace::Workspace;

/// What is offered in a row, and whether it is a template: the list changes with each letter.
type Mark = (String, bool);

fn mark_of(candidate: &Candidate) -> Mark {
    (candidate.text.clone(), candidate.template.is_some())
}

/// The list, and which of its rows are marked.
#[derive(Debug, Default)]
pub struct OffersPanel {
    marked: Vec<Mark>,
    chooser: Option<Chooser>,
}

impl OffersPanel {
    /// Of what is offered.
    #[must_use]
    pub fn of(workspace: &Workspace) -> OffersPanel {
        let mut panel = OffersPanel::default();
        panel.take_over(workspace);
        panel
    }

    fn take_over(&mut self, workspace: &Workspace) {
        self.chooser = workspace.offers().map(|shown| {
            let mut chooser = Chooser::new(Order::AsListed);
            chooser.shown = (0..shown.list.len()).collect();
            chooser.chosen = shown.chosen;
            chooser
        });
    }

    fn choose(context: &mut Context, by: impl Fn(usize, usize) -> usize) {
        if let Some((chosen, count)) = context.workspace.offers().map(|shown| (shown.chosen, shown.list.len())) {
            context.workspace.choose_offer_at(by(chosen, count - 1));
        }
    }

    fn mark(&mut self, context: &mut Context) {
        let chosen = context.workspace.offers().and_then(|shown| shown.chosen()).map(mark_of);
        let Some(mark) = chosen else { return };
        match self.marked.iter().position(|marked| *marked == mark) {
            Some(at) => drop(self.marked.remove(at)),
            None => self.marked.push(mark),
        }
        context.workspace.choose_offer(Direction::Forward);
    }

    /// Puts in what is marked, or else what is chosen.
    fn take_marked(&self, context: &mut Context) {
        let Some(shown) = context.workspace.offers() else { return };
        let row = |mark: &Mark| shown.list.iter().position(|each| mark_of(each) == *mark);
        let marked: Vec<usize> = self.marked.iter().filter_map(row).collect();
        let rows = if marked.is_empty() { vec![shown.chosen] } else { marked };
        let effects = context.workspace.take_offers(&rows);
        effects.into_iter().for_each(|effects| context.follow(effects));
    }
}

/// How far a page goes.
const PAGE: usize = 10;

impl Panel for OffersPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn shows_offers(&self) -> bool {
        true
    }

    fn text_beside(&self) -> TextBeside {
        TextBeside::Beside
    }

    fn follow(&mut self, context: &mut Context) {
        self.take_over(&context.workspace);
    }

    fn take(&mut self, _event: Event, _context: &mut Context) -> PanelAction {
        PanelAction::Stay
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match (key.code, key.mods) {
            (KeyCode::Esc, _) => {
                context.workspace.put_offers_away();
                return PanelAction::Close;
            }
            (KeyCode::Enter | KeyCode::Tab, KeyModifiers::NONE) => {
                self.take_marked(context);
                return PanelAction::Close;
            }
            (KeyCode::Char(' '), KeyModifiers::NONE) => self.mark(context),
            (KeyCode::Up, _) => OffersPanel::choose(context, |chosen, _| chosen.saturating_sub(1)),
            (KeyCode::Down, _) => OffersPanel::choose(context, |chosen, last| (chosen + 1).min(last)),
            (KeyCode::PageUp, _) => OffersPanel::choose(context, |chosen, _| chosen.saturating_sub(PAGE)),
            (KeyCode::PageDown, _) => OffersPanel::choose(context, |chosen, last| (chosen + PAGE).min(last)),
            (KeyCode::Backspace, KeyModifiers::NONE) => drop(context.run(&Command::named("delete-back"))),
            _ => match key.typed() {
                // Letters narrow the list in the text itself.
                Some(c) => drop(context.run(&Command::typing(c.encode_utf8(&mut [0; 4])))),
                None => return PanelAction::PassOn(key),
            },
        }
        let is_over = context.workspace.offers().is_none() && !context.workspace.awaits_offers();
        if is_over { PanelAction::Close } else { PanelAction::Stay }
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let (Some(shown), Some(chooser)) = (painter.context.workspace.offers(), &self.chooser) else { return };
        let letters = shown.letters.as_str();
        let said = if letters.is_empty() { "what can be put here".to_owned() } else { format!("what fits {letters}") };
        put(grid, (painter.row(0), 1), &said, painter.style(Role::RaisedQuiet));
        painter.count(chooser.chosen + 1, shown.list.len(), grid);
        painter.list(chooser, grid, |index, room, style, grid| {
            let candidate = &shown.list[index];
            let is_marked = self.marked.contains(&mark_of(candidate));
            row(painter, (candidate, is_marked), (room, style), grid);
        });
        beside(painter, shown.chosen(), grid);
        let keys = [
            ("Enter", "put it in"),
            ("↑ ↓", "choose"),
            ("Space", "mark several"),
            ("letters", "narrow"),
            ("Esc", "leave"),
        ];
        painter.keys(&keys, grid);
    }
}

/// A row: whether it is marked, what would be put in, what it is and where it is from.
fn row(painter: &Painter, (candidate, is_marked): (&Candidate, bool), (room, style): (Area, Style), grid: &mut Grid) {
    let x = if is_marked { put(grid, (room, 0), "✓ ", painter.over(style, Role::KeyCap)) } else { 0 };
    let told = told(candidate);
    let told_x = room.cols.saturating_sub(width(&told));
    let names = Area { cols: told_x.saturating_sub(1), ..room };
    put(grid, (names, x), &candidate.text, style);
    put(grid, (room, told_x), &told, painter.over(style, Role::RaisedQuiet));
}

/// What an offer is and where it is from, in a few words.
#[must_use]
pub fn told(candidate: &Candidate) -> String {
    match candidate.source {
        // Of a word of another text its file tells more.
        Source::Open => candidate.detail.clone(),
        Source::Word | Source::Path | Source::Template | Source::Keyword | Source::Fix => candidate.kind.to_owned(),
        Source::Index | Source::Server => format!("{} · {}", candidate.kind, candidate.source.name()),
    }
}

/// What is told of the chosen one: the text of a template, or the line or file that a word is in.
fn beside(painter: &Painter, chosen: Option<&Candidate>, grid: &mut Grid) {
    let area = painter.beside;
    let Some(candidate) = chosen.filter(|_| area.cols > 0) else { return };
    painter.edge(grid);
    let room = Area { x: area.x + 2, cols: area.cols.saturating_sub(3), ..area };
    let mut lines = vec![(candidate.detail.clone(), Role::RaisedQuiet)];
    if let Some(template) = &candidate.template {
        let text = painter.context.workspace.template_text(template);
        lines.extend(text.lines().map(|line| (line.replace('\t', "    "), Role::Raised)));
    }
    for (index, (line, role)) in lines.iter().filter(|(line, _)| !line.is_empty()).enumerate() {
        let row = Area { y: room.y + index as u16, rows: u16::from((index as u16) < room.rows), ..room };
        put(grid, (row, 0), line, painter.style(*role));
    }
}
