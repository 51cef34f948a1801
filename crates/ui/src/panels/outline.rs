//! Going: what a text consists of, its bookmarks, and lines by their number. Moving through the list shows the place; Enter
//! goes there, Esc goes back to what was in view.

use super::chooser::{Chooser, Order, Pressed};
use super::names::NamesPanel;
use super::painter::Painter;
use super::panel::{Panel, PanelAction, SeenText, list_rows};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::put;
use crate::screen::marks::TextMarks;
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use snarvel_core::bookmarks::Bookmarks;
use snarvel_core::outline::{By, outline};
use snarvel_core::text::place::Place;
use snarvel_core::units::{Line, Span};
use snarvel_workspace::command::Command;
use snarvel_workspace::notice::Notice;
use snarvel_workspace::registry::by_name;
use snarvel_workspace::view::Scroll;
use snarvel_workspace::view::scrolling::top_to_show;
use snarvel_workspace::workspace::Workspace;
use std::borrow::Cow;

/// What is offered to go to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Offer {
    /// What the text consists of.
    Outline,
    /// That, bookmarks, and lines by their number.
    Everything,
}

/// Something to go to.
#[derive(Debug)]
pub struct OutlineRow {
    /// The line with which it begins.
    pub line: Line,
    /// How many others it lies in.
    pub depth: usize,
    /// What is written there.
    pub head: String,
    /// Whether it is a bookmark.
    pub is_bookmark: bool,
}

/// Places to go to one of them.
#[derive(Debug)]
pub struct OutlinePanel {
    /// What is offered.
    pub offer: Offer,
    /// All of it, in order.
    pub rows: Vec<OutlineRow>,
    /// What the outline was told by.
    pub by: By,
    /// The letters so far, and what they leave to choose from.
    pub chooser: Chooser,
    /// What was in view before.
    before: Scroll,
    here: Line,
    /// The line that is meant by its number.
    numbered: Option<Line>,
    /// The last line.
    last: Line,
    /// Whether another one was chosen than at first.
    is_moved: bool,
    seen: SeenText,
}

impl OutlinePanel {
    /// What the active text offers; the entry in which the primary caret is is chosen.
    #[must_use]
    pub fn of(workspace: &Workspace, offer: Offer) -> OutlinePanel {
        let (buffer, view) = (workspace.active(), workspace.view());
        let text = buffer.text();
        let (entries, by) = view.with_scene(buffer, outline);
        let words = |content: &str| match content.trim() {
            "" => "(blank line)".to_owned(),
            content => content.split_whitespace().collect::<Vec<_>>().join(" "),
        };
        let bookmarks = buffer.bookmarks();
        let marked = bookmarks.lines(text).filter(|_| offer == Offer::Everything);
        let bookmark = |line: Line| OutlineRow { line, depth: 0, head: words(&text.content(line)), is_bookmark: true };
        let mut rows: Vec<OutlineRow> = marked.map(bookmark).collect();
        let bookmarks = rows.len();
        rows.extend(entries.into_iter().map(|entry| OutlineRow {
            line: entry.line,
            depth: entry.depth,
            head: words(&text.slice(entry.head)),
            is_bookmark: false,
        }));
        let here = text.line_of(view.cursors().primary().head);
        let chosen = bookmarks + rows[bookmarks..].partition_point(|row| row.line <= here).saturating_sub(1);
        let mut panel = OutlinePanel {
            offer,
            rows,
            by,
            chooser: Chooser::new(Order::BestFirst),
            before: view.scroll,
            here,
            numbered: None,
            last: text.last_line(),
            is_moved: false,
            seen: SeenText::active(workspace),
        };
        panel.filter();
        panel.chooser.choose(chosen);
        panel
    }

    /// Offers what is known of the active text now, when more is than before; letters typed and what is chosen stay.
    fn refresh(&mut self, workspace: &Workspace) {
        let fresh = OutlinePanel::of(workspace, self.offer);
        let is_same_text = self.seen == fresh.seen;
        if is_same_text && fresh.by == self.by && fresh.rows.len() == self.rows.len() {
            return;
        }
        (self.seen, self.here, self.last) = (fresh.seen, fresh.here, fresh.last);
        if !is_same_text {
            self.numbered = self.numbered.map(|line| line.min(self.last));
        }
        let chosen = self.chooser.index().map(|index| self.rows[index].line).filter(|_| self.is_moved);
        let usual = fresh.chooser.index().filter(|_| self.chooser.line.text.is_empty());
        (self.rows, self.by) = (fresh.rows, fresh.by);
        self.filter();
        let again = chosen.and_then(|line| self.rows.iter().position(|row| row.line == line));
        again.or(usual).into_iter().for_each(|index| self.chooser.choose(index));
    }

    /// The line that is chosen.
    #[must_use]
    pub fn line(&self) -> Option<Line> {
        self.numbered.or_else(|| self.chooser.index().map(|index| self.rows[index].line))
    }

    fn filter(&mut self) {
        self.chooser.filter(self.rows.iter().map(|row| Cow::Borrowed(row.head.as_str())));
    }

    /// Brings the chosen line into view, without moving the caret.
    fn look(&mut self, context: &mut Context) -> PanelAction {
        let typed = Place::parse(&self.chooser.line.text).filter(|_| self.offer == Offer::Everything);
        let text = context.workspace.active().text();
        self.numbered = typed.map(|place| text.line_of_place(place, self.here));
        if let Some(line) = self.line() {
            let rows = usize::from(context.look.rooms.seen.rows);
            let (buffer, view) = context.workspace.active_pair_mut();
            view.scroll.top = top_to_show(view, buffer, (line, rows));
        }
        PanelAction::Stay
    }

    /// Goes to the chosen line.
    fn go(&self, context: &mut Context) -> PanelAction {
        let typed = self.chooser.line.text.trim();
        let by_number = by_name("go-to-line").filter(|_| self.numbered.is_some());
        if let Some(Ok(command)) = by_number.map(|verb| Command::read(verb, typed)) {
            return PanelAction::Run(command);
        }
        let Some(line) = self.line() else { return PanelAction::Stay };
        let id = context.workspace.active().id;
        context.workspace.go_to_line(id, line);
        PanelAction::Close
    }

    /// Takes the chosen bookmark away.
    fn clear(&mut self, index: usize, context: &mut Context) {
        let line = self.rows.remove(index).line;
        let chosen = self.chooser.chosen;
        self.filter();
        self.chooser.chosen = chosen.min(self.chooser.shown.len().saturating_sub(1));
        let buffer = context.workspace.active_mut();
        let others: Vec<Line> = buffer.bookmarks().lines(buffer.text()).filter(|each| *each != line).collect();
        let bookmarks = Bookmarks::on(buffer.text(), others);
        buffer.set_bookmarks(&bookmarks);
    }
}

impl Panel for OutlinePanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn follow(&mut self, context: &mut Context) {
        if !self.seen.is_active(&context.workspace) {
            self.refresh(&context.workspace);
        }
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let bookmark = self.chooser.index().filter(|index| self.rows[*index].is_bookmark);
        match (key.code, bookmark) {
            (KeyCode::Esc, _) => {
                context.workspace.active_pair_mut().1.scroll = self.before;
                return PanelAction::Close;
            }
            (KeyCode::Char('g'), _) if key.mods == KeyModifiers::CONTROL && self.offer == Offer::Everything => {
                context.workspace.active_pair_mut().1.scroll = self.before;
                return PanelAction::Open(Box::new(NamesPanel::with(&self.chooser.line.text)));
            }
            (KeyCode::Enter, _) => return self.go(context),
            (KeyCode::Delete, Some(index)) => {
                self.clear(index, context);
                return PanelAction::Stay;
            }
            _ => {}
        }
        match self.chooser.press(key) {
            Pressed::Nothing => return PanelAction::Stay,
            Pressed::Moved => self.is_moved = true,
            Pressed::Typed => {
                self.is_moved = false;
                self.filter();
            }
        }
        self.look(context)
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        self.chooser.line.insert(typed);
        self.filter();
        self.look(context)
    }

    fn notice(&mut self, notice: Notice, context: &mut Context) -> (Option<Notice>, PanelAction) {
        if notice == Notice::Parsed(context.workspace.active().id) {
            self.refresh(&context.workspace);
        }
        (Some(notice), PanelAction::Stay)
    }

    fn marks(&self, _context: &Context, _span: Span) -> TextMarks {
        TextMarks { lit: self.line(), ..TextMarks::default() }
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let label = match (self.offer, self.by) {
            (Offer::Everything, _) => "go to",
            (Offer::Outline, By::Structure) => "outline",
            (Offer::Outline, By::Indentation) => "outline by indentation",
        };
        painter.line(label, &self.chooser.line, grid);
        painter.keys(keys_of(self.offer), grid);
        if let Some(line) = self.numbered {
            let said = format!("line {} of {}", line.0 + 1, self.last.0 + 1);
            put(grid, (painter.row(1), 3), &said, painter.style(Role::Raised));
            return;
        }
        painter.count(self.chooser.shown.len(), self.rows.len(), grid);
        let digits = self.rows.iter().map(|row| row.line.0 + 1).max().map_or(1, |line| line.ilog10() as usize + 1);
        // What fits best is first where letters are typed: then depth says nothing.
        let is_whole = self.chooser.line.text.is_empty();
        painter.list(&self.chooser, grid, |index, room, style, grid| {
            let row = &self.rows[index];
            let number = format!("{:>digits$}", row.line.0 + 1);
            let x = put(grid, (room, 0), &number, painter.over(style, Role::RaisedQuiet)) + 1;
            let sign = if row.is_bookmark { "⚑" } else { " " };
            let x = put(grid, (room, x), sign, painter.over(style, Role::MarkSign)) + 1;
            let indentation = if is_whole { row.depth * LEVEL } else { 0 };
            put(grid, (room, x + indentation as u16), &row.head, style);
        });
        if self.chooser.shown.is_empty() {
            let hint = match (self.rows.is_empty(), self.offer) {
                (true, Offer::Everything) => {
                    "no names and no bookmarks here: type a line, like 123, 123:7, +20, -5 or 50%"
                }
                _ => "nothing here is called that",
            };
            painter.hint(hint, grid);
        }
    }
}

/// Cells for each level.
const LEVEL: usize = 2;

fn keys_of(offer: Offer) -> &'static [(&'static str, &'static str)] {
    match offer {
        Offer::Outline => &[("Enter", "go there"), ("↑ ↓", "look at another"), ("Esc", "back to where you were")],
        Offer::Everything => &[
            ("Enter", "go there"),
            ("↑ ↓", "look at another"),
            ("Ctrl+G", "whole project"),
            ("123 123:7 +20 -5 50%", "lines"),
            ("Del", "clear a bookmark"),
            ("Esc", "back to where you were"),
        ],
    }
}
