//! The offer of echo: each place with what goes and what comes, in the file or in the project.

use super::chooser::{Chooser, Order};
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
use snarvel_core::echo::Change;
use snarvel_core::units::{Line, Span};
use snarvel_core::verbs::scene::counted;
use snarvel_workspace::echoing::news::EchoFile;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::offering::seen::Seen;
use snarvel_workspace::state::echo::EchoOffer;
use snarvel_workspace::tasks::TaskHandle;
use snarvel_workspace::view::Scroll;
use snarvel_workspace::view::scrolling::top_to_show;
use snarvel_workspace::workspace::Workspace;
use std::borrow::Cow;
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

/// The offer.
#[derive(Debug)]
pub struct EchoPanel {
    chooser: Chooser,
    /// Files of the project, once they are asked for.
    files: Vec<EchoFile>,
    looking: Option<TaskHandle>,
    is_project: bool,
    /// Places of other files that are left out.
    left_out: BTreeSet<(PathBuf, usize)>,
    ruler: Vec<Span>,
    before: Scroll,
}

/// A row: a place of the text, or of another file.
#[derive(Clone, Copy)]
enum Row<'a> {
    Here(usize, &'a Change),
    There(&'a EchoFile, usize),
}

impl EchoPanel {
    /// Of what is offered for the active text; none where nothing is.
    #[must_use]
    pub fn of(workspace: &Workspace) -> Option<EchoPanel> {
        workspace.echo()?;
        let mut panel = EchoPanel {
            chooser: Chooser::new(Order::AsListed),
            files: Vec::new(),
            looking: None,
            is_project: false,
            left_out: BTreeSet::new(),
            ruler: Vec::new(),
            before: workspace.view().scroll,
        };
        panel.refresh(workspace);
        let next = workspace.next_echo().map(|change| change.span);
        let rows = panel.rows_of(workspace);
        let at = rows.iter().position(|row| matches!(row, Row::Here(_, change) if Some(change.span) == next));
        panel.chooser.choose(at.unwrap_or(0));
        Some(panel)
    }

    fn rows_of<'a>(&'a self, workspace: &'a Workspace) -> Vec<Row<'a>> {
        let here = workspace.echo().into_iter().flat_map(|offer| offer.changes.iter().enumerate());
        let here = here.map(|(index, change)| Row::Here(index, change));
        let there =
            self.files.iter().flat_map(|file| (0..file.changes.len()).map(move |index| Row::There(file, index)));
        here.chain(there).collect()
    }

    fn refresh(&mut self, workspace: &Workspace) {
        let chosen = self.chooser.chosen;
        let count = self.rows_of(workspace).len();
        self.chooser.filter((0..count).map(|_| Cow::Borrowed("")).collect::<Vec<_>>().into_iter());
        self.chooser.choose(chosen.min(count.saturating_sub(1)));
        let changes = workspace.echo().map_or(&[][..], |offer| &offer.changes);
        self.ruler = changes.iter().map(|change| change.span).collect();
    }

    fn look(&self, context: &mut Context) {
        let rows = usize::from(context.look.rooms.seen.rows);
        let line = match self.chooser.index().and_then(|index| self.rows_of(&context.workspace).get(index).copied()) {
            Some(Row::Here(_, change)) => change.line,
            _ => return,
        };
        let (buffer, view) = context.workspace.active_pair_mut();
        view.scroll.top = top_to_show(view, buffer, (line, rows));
    }

    /// Leaves the chosen place out, or takes it in again, and goes on to the next one.
    fn leave_out(&mut self, context: &mut Context) {
        let Some(index) = self.chooser.index() else { return };
        match self.rows_of(&context.workspace).get(index).copied() {
            Some(Row::Here(index, _)) => context.workspace.leave_out_of_echo(index),
            Some(Row::There(file, index)) => {
                let place = (file.name.clone(), index);
                if !self.left_out.remove(&place) {
                    self.left_out.insert(place);
                }
            }
            None => return,
        }
        self.chooser.choose(index + 1);
    }

    fn widen(&mut self, by: isize, context: &mut Context) {
        context.workspace.widen_echo(by);
        self.left_out.clear();
        if self.is_project {
            self.look_in_project(context);
        }
        self.refresh(&context.workspace);
    }

    fn look_in_project(&mut self, context: &mut Context) {
        self.files.clear();
        self.looking = context.workspace.echo_over_project();
        self.is_project = self.looking.is_some();
        if !self.is_project {
            context.say("numbers are counted on in one file only");
        }
    }

    fn carry_out(&self, context: &mut Context) -> PanelAction {
        if self.is_project {
            let counts = |path: &Path, index: usize| !self.left_out.contains(&(path.to_owned(), index));
            if let Err(refusal) = context.workspace.do_echo_in(&self.files, &counts) {
                context.say(refusal.to_string());
            }
            return PanelAction::Close;
        }
        let effects = context.workspace.do_echo();
        context.follow(effects);
        PanelAction::Close
    }

    fn count(&self, workspace: &Workspace) -> String {
        let here = workspace.echo().map_or(0, |offer| offer.chosen().count());
        let there: usize = self.files.iter().map(|file| file.changes.len()).sum();
        let places = counted(here + there - self.left_out.len().min(there), "place");
        let level = workspace.echo().filter(|offer| offer.echo.levels.len() > 1);
        let level =
            level.map_or(String::new(), |offer| format!(", width {} of {}", offer.at + 1, offer.echo.levels.len()));
        match (self.is_project, self.looking.is_some()) {
            (true, true) => format!("{places} so far{level}"),
            (true, false) => format!("{places} in {}{level}", counted(self.files.len() + 1, "file")),
            _ => format!("{places}{level}"),
        }
    }
}

impl Panel for EchoPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn follow(&mut self, context: &mut Context) {
        self.refresh(&context.workspace);
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match (key.code, key.mods) {
            (KeyCode::Esc, _) => {
                context.workspace.drop_echo();
                context.workspace.active_pair_mut().1.scroll = self.before;
                return PanelAction::Close;
            }
            (KeyCode::Enter, _) => return self.carry_out(context),
            (KeyCode::Char('b'), KeyModifiers::ALT) => {
                let effects = context.workspace.cursors_at_echo();
                context.follow(effects);
                return PanelAction::Close;
            }
            (KeyCode::Char('6'), KeyModifiers::CONTROL) if !self.is_project => self.look_in_project(context),
            (KeyCode::Char(' '), KeyModifiers::NONE) => self.leave_out(context),
            (KeyCode::Left, _) => self.widen(1, context),
            (KeyCode::Right, _) => self.widen(-1, context),
            (KeyCode::Up | KeyCode::Down | KeyCode::PageUp | KeyCode::PageDown | KeyCode::Home | KeyCode::End, _) => {
                self.chooser.press(key);
            }
            _ => return PanelAction::Stay,
        }
        self.look(context);
        PanelAction::Stay
    }

    fn take(&mut self, event: Event, context: &mut Context) -> PanelAction {
        match event.payload {
            Payload::EchoedFile(file) => self.files.push(*file),
            Payload::Ended if self.looking.as_ref().is_some_and(|task| task.id == event.source.task) => {
                self.looking = None;
            }
            _ => {}
        }
        self.refresh(&context.workspace);
        PanelAction::Stay
    }

    fn marks(&self, context: &Context, span: Span) -> TextMarks {
        let rows = self.rows_of(&context.workspace);
        let lit: Option<Line> = match self.chooser.index().and_then(|index| rows.get(index).copied()) {
            Some(Row::Here(_, change)) => Some(change.line),
            _ => None,
        };
        let chosen = context.workspace.echo().into_iter().flat_map(EchoOffer::chosen);
        let in_view = chosen.filter(|change| change.span.end >= span.start && change.span.start <= span.end);
        TextMarks { lit, ghosts: in_view.map(ghost).collect(), ..TextMarks::default() }
    }

    fn ruler(&self) -> &[Span] {
        &self.ruler
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let workspace = &painter.context.workspace;
        put(grid, (painter.row(0), 1), "echo: what you did twice, at", painter.style(Role::RaisedQuiet));
        let x = 1 + width("echo: what you did twice, at") + 1;
        put(grid, (painter.row(0), x), &self.count(workspace), painter.style(Role::Raised));
        let rows = self.rows_of(workspace);
        let left_out = workspace.echo().map(|offer| &offer.left_out);
        painter.list(&self.chooser, grid, |index, room, style, grid| {
            let (change, place, is_out) = match rows[index] {
                Row::Here(index, change) => {
                    let place = format!("{}", change.line.0 + 1);
                    (change, place, left_out.is_some_and(|out| out.contains(&index)))
                }
                Row::There(file, index) => {
                    let change = &file.changes[index];
                    let place = format!("{}:{}", file.name.display(), change.line.0 + 1);
                    (change, place, self.left_out.contains(&(file.name.clone(), index)))
                }
            };
            row(painter, (change, &place, is_out), (room, style), grid);
        });
        if rows.is_empty() {
            painter.hint("no place is left", grid);
        }
        let keys = [
            ("Enter", "do all"),
            ("Space", "leave out"),
            ("← →", "wider, narrower"),
            ("Alt+B", "cursors there"),
            ("Ctrl+6", "whole project"),
            ("Esc", "let it go"),
        ];
        painter.keys(&keys, grid);
    }
}

/// What is seen of a place in the text: what goes struck through, what comes after it.
#[must_use]
pub fn ghost(change: &Change) -> Seen {
    let mut lines = change.comes.lines();
    let first = lines.next().unwrap_or_default();
    let come = if lines.next().is_some() { format!("{first} …") } else { first.to_owned() };
    Seen { at: change.span.end, gone: change.span, come }
}

/// A place: its line with what goes struck through and what comes after it.
fn row(
    painter: &Painter,
    (change, place, is_out): (&Change, &str, bool),
    (room, style): (Area, Style),
    grid: &mut Grid,
) {
    let sign = if is_out { "·" } else { "+" };
    let x = put(grid, (room, 0), sign, painter.over(style, if is_out { Role::RaisedQuiet } else { Role::Come }));
    let cols = width(place).max(5);
    put(grid, (room, x + 1), place, painter.over(style, Role::RaisedQuiet));
    let x = x + cols + 2;
    let shown = |text: &str| text.lines().map(str::trim).collect::<Vec<_>>().join(" ⏎ ");
    let before = change.before[..change.goes.start].trim_start();
    if is_out {
        put(grid, (room, x), &shown(&change.before), painter.over(style, Role::RaisedQuiet));
        return;
    }
    let x = put(grid, (room, x), before, style);
    let x = put(grid, (room, x), &change.before[change.goes.clone()], painter.over(style, Role::Gone));
    let come = change.comes.lines().enumerate().map(|(index, line)| if index > 0 { line.trim() } else { line });
    let x = put(grid, (room, x), &come.collect::<Vec<_>>().join(" ⏎ "), painter.over(style, Role::Come));
    put(grid, (room, x), &change.before[change.goes.end..], style);
}
