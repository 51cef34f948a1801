//! The tasks of the project: one is chosen by letters and run.

use super::chooser::{Chooser, Order, Pressed};
use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{Area, harmless, put};
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use snarvel_shell::runners::{Task, When};
use snarvel_workspace::workspace::Workspace;
use std::borrow::Cow;

/// The tasks of the project.
#[derive(Debug)]
pub struct TasksPanel {
    chooser: Chooser,
    tasks: Vec<Task>,
}

/// Columns for the name of a task.
const NAME_COLS: u16 = 22;

/// Rows of the panel at most.
const MOST_ROWS: u16 = 12;

impl TasksPanel {
    /// All tasks, the one that ran last chosen; none where there are none.
    #[must_use]
    pub fn of(workspace: &Workspace) -> Option<TasksPanel> {
        let tasks = workspace.tasks_here();
        if tasks.is_empty() {
            return None;
        }
        let mut panel = TasksPanel { chooser: Chooser::new(Order::BestFirst), tasks };
        panel.filter();
        Some(panel)
    }

    fn filter(&mut self) {
        self.chooser.filter(self.tasks.iter().map(|task| Cow::Owned(format!("{} {}", task.name, task.command))));
    }
}

impl Panel for TasksPanel {
    fn rows(&self, _context: &Context) -> u16 {
        (self.tasks.len() as u16 + 2).min(MOST_ROWS)
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match key.code {
            KeyCode::Esc => return PanelAction::Close,
            KeyCode::Enter => {
                let Some(task) = self.chooser.index().map(|index| self.tasks[index].clone()) else {
                    return PanelAction::Stay;
                };
                let effects = context.workspace.run_task(&task);
                context.follow(effects);
                return PanelAction::Close;
            }
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

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        painter.line("which task?", &self.chooser.line, grid);
        painter.count(self.chooser.shown.len(), self.tasks.len(), grid);
        painter.list(&self.chooser, grid, |index, room, style, grid| {
            let task = &self.tasks[index];
            put(grid, (Area { cols: NAME_COLS, ..room }, 0), &harmless(&task.name), style);
            let rest = Area { x: room.x + NAME_COLS + 1, cols: room.cols.saturating_sub(NAME_COLS + 1), ..room };
            let when = if task.when == When::Save { "   after each save, too" } else { "" };
            put(grid, (rest, 0), &format!("{}{when}", harmless(&task.command)), painter.over(style, Role::RaisedQuiet));
        });
        if self.chooser.shown.is_empty() {
            painter.hint("no task is called so: [[task]] in settings.toml adds one", grid);
        }
        painter.keys(&[("Enter", "run it"), ("↑ ↓", "choose"), ("Esc", "leave")], grid);
    }
}
