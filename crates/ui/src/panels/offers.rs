//! All offers: the list, and beside it where a word is used or what a template puts in. Letters narrow the list; the text stays as it is.

use super::line::InputLine;
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
use snarvel_core::offers::matching::Letters;
use snarvel_core::offers::{Candidate, Source};
use snarvel_workspace::event::Event;
use snarvel_workspace::workspace::Workspace;
use std::cmp::Reverse;

/// What is offered in a row, and whether it is a template: the list changes with each letter.
type Mark = (String, bool);

fn mark_of(candidate: &Candidate) -> Mark {
    (candidate.text.clone(), candidate.template.is_some())
}

/// The list, and which of its rows are marked.
#[derive(Debug, Default)]
pub struct OffersPanel {
    marked: Vec<Mark>,
    /// The letters that narrow the list.
    line: InputLine,
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

    /// Of what is offered, narrowed by `letters`, which were typed while the row was shown.
    #[must_use]
    pub fn narrowed(workspace: &mut Workspace, letters: &str) -> OffersPanel {
        let mut panel = OffersPanel::of(workspace);
        panel.line.set(letters);
        panel.choose_first(workspace);
        panel
    }

    fn take_over(&mut self, workspace: &Workspace) {
        let letters = Letters::of(&self.line.text);
        self.chooser = workspace.offers().map(|shown| {
            let scores = shown.list.iter().enumerate();
            let mut fitting: Vec<_> =
                scores.filter_map(|(index, each)| Some((letters.score(&each.text)?, index))).collect();
            if !self.line.text.is_empty() {
                fitting.sort_by_key(|(score, index)| (Reverse(*score), *index));
            }
            let mut chooser = Chooser::new(Order::AsListed);
            chooser.shown = fitting.into_iter().map(|(_, index)| index).collect();
            chooser.choose(shown.chosen);
            chooser
        });
    }

    /// Chooses the row that fits the letters best.
    fn choose_first(&mut self, workspace: &mut Workspace) {
        self.take_over(workspace);
        let first = self.chooser.as_ref().and_then(|chooser| chooser.shown.first().copied());
        first.into_iter().for_each(|first| workspace.choose_offer_at(first));
        self.take_over(workspace);
    }

    fn choose(&self, context: &mut Context, by: impl Fn(usize, usize) -> usize) {
        let Some(chooser) = self.chooser.as_ref().filter(|chooser| !chooser.shown.is_empty()) else { return };
        let row = by(chooser.chosen, chooser.shown.len() - 1);
        context.workspace.choose_offer_at(chooser.shown[row]);
    }

    fn mark(&mut self, context: &mut Context) {
        let Some(index) = self.chooser.as_ref().and_then(Chooser::index) else { return };
        let chosen = context.workspace.offers().and_then(|shown| shown.list.get(index)).map(mark_of);
        let Some(mark) = chosen else { return };
        match self.marked.iter().position(|marked| *marked == mark) {
            Some(at) => drop(self.marked.remove(at)),
            None => self.marked.push(mark),
        }
        self.choose(context, |chosen, last| (chosen + 1).min(last));
    }

    /// Puts in what is marked, or else what is chosen; false where nothing fits.
    fn take_marked(&self, context: &mut Context) -> bool {
        let Some(shown) = context.workspace.offers() else { return true };
        let chosen = self.chooser.as_ref().and_then(Chooser::index);
        let row = |mark: &Mark| shown.list.iter().position(|each| mark_of(each) == *mark);
        let marked: Vec<usize> = self.marked.iter().filter_map(row).collect();
        let rows = if marked.is_empty() { chosen.into_iter().collect() } else { marked };
        if rows.is_empty() {
            context.say(format!("nothing fits {:?}: Backspace widens the list", self.line.text));
            return false;
        }
        let effects = context.workspace.take_offers(&rows);
        effects.into_iter().for_each(|effects| context.follow(effects));
        true
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

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        self.line.insert(typed);
        self.choose_first(&mut context.workspace);
        PanelAction::Stay
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match (key.code, key.mods) {
            (KeyCode::Esc, _) => {
                context.workspace.put_offers_away();
                return PanelAction::Close;
            }
            (KeyCode::Enter | KeyCode::Tab, KeyModifiers::NONE) => {
                return if self.take_marked(context) { PanelAction::Close } else { PanelAction::Stay };
            }
            (KeyCode::Char(' '), KeyModifiers::NONE) => self.mark(context),
            (KeyCode::Up, _) => self.choose(context, |chosen, _| chosen.saturating_sub(1)),
            (KeyCode::Down, _) => self.choose(context, |chosen, last| (chosen + 1).min(last)),
            (KeyCode::PageUp, _) => self.choose(context, |chosen, _| chosen.saturating_sub(PAGE)),
            (KeyCode::PageDown, _) => self.choose(context, |chosen, last| (chosen + PAGE).min(last)),
            (KeyCode::Char('k'), KeyModifiers::CONTROL) => {}
            _ if self.line.press(key) => self.choose_first(&mut context.workspace),
            _ if InputLine::edits_with(key) => {}
            _ => return PanelAction::PassOn(key),
        }
        let is_over = context.workspace.offers().is_none() && !context.workspace.awaits_offers();
        if is_over { PanelAction::Close } else { PanelAction::Stay }
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let (Some(shown), Some(chooser)) = (painter.context.workspace.offers(), &self.chooser) else { return };
        let letters = shown.letters.as_str();
        let said = if letters.is_empty() { "what can be put here".to_owned() } else { format!("what fits {letters}") };
        painter.line(&said, &self.line, grid);
        let place = if chooser.shown.is_empty() { 0 } else { chooser.chosen + 1 };
        painter.count(place, chooser.shown.len(), grid);
        painter.list(chooser, grid, |index, room, style, grid| {
            let candidate = &shown.list[index];
            let is_marked = self.marked.contains(&mark_of(candidate));
            row(painter, (candidate, is_marked), (room, style), grid);
        });
        beside(painter, chooser.index().and_then(|index| shown.list.get(index)), grid);
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
