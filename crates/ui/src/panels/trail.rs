//! The trail: every step of the history, the newest first, with its branches as lanes. Moving through it shows the
//! text as it was; Enter goes there, on whatever branch it is.

use super::chooser::{Chooser, Order, Pressed};
use super::painter::Painter;
use super::panel::{Panel, PanelAction, SeenText, list_rows};
use super::sheet::SheetPanel;
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{Area, cut, put, width};
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::history::{Extent, History, StepId};
use snarvel_workspace::view::Preview;
use snarvel_workspace::workspace::Workspace;
use std::borrow::Cow;
use std::fmt::Write;

/// A state of the text: the one after a step, or the start.
#[derive(Debug)]
pub struct StepRow {
    /// Which.
    pub id: StepId,
    /// What led to it.
    pub verb: String,
    /// How much that changed.
    pub extent: Option<Extent>,
    /// A few characters of what that put in or took out.
    pub glimpse: String,
    /// How long ago.
    pub age: String,
    /// Where the branches run, a sign a lane.
    pub lanes: String,
    /// Whether the file holds it.
    pub is_saved: bool,
    /// Whether the file has held it.
    pub was_saved: bool,
    /// Whether the text is there.
    pub is_here: bool,
    /// The files that were changed with it, where there were several.
    pub files: String,
    parent: Option<StepId>,
}

/// The history, to be gone through.
#[derive(Debug)]
pub struct TrailPanel {
    /// All states, the newest first.
    pub rows: Vec<StepRow>,
    /// The letters so far, and what they leave to choose from.
    pub chooser: Chooser,
    seen: SeenText,
    /// The state that a drawing begins with, where it is not the present one.
    marked: Option<StepId>,
    /// How wide the columns are: branches, verbs, extents, and at the right edge ages with what the states are.
    cols: [u16; 4],
}

impl TrailPanel {
    /// The history of the active text; the present state is chosen.
    #[must_use]
    pub fn of(workspace: &Workspace) -> TrailPanel {
        let rows = rows_of(workspace);
        let here = rows.iter().position(|row| row.is_here).unwrap_or(0);
        let mut panel = TrailPanel {
            rows,
            chooser: Chooser::new(Order::AsListed),
            seen: SeenText::active(workspace),
            marked: None,
            cols: [0; 4],
        };
        panel.filter();
        panel.chooser.choose(here);
        panel
    }

    /// The chosen state.
    #[must_use]
    pub fn chosen(&self) -> Option<&StepRow> {
        self.chooser.index().map(|index| &self.rows[index])
    }

    fn filter(&mut self) {
        self.cols = self.widths();
        self.chooser.filter(self.rows.iter().map(|row| Cow::Owned(format!("{} {}", row.verb, row.glimpse))));
    }

    /// Shows the text as it was at the chosen state.
    fn look(&self, context: &mut Context) -> PanelAction {
        let (buffer, view) = context.workspace.active_pair_mut();
        view.preview = self.chosen().filter(|row| row.id != buffer.history().here()).map(|row| {
            let (then, cursors) = buffer.at_step(row.id);
            let mut preview = Preview::like(view, then);
            if let Some(cursors) = cursors {
                preview.view.set_cursors(&mut preview.buffer, cursors);
            }
            Box::new(preview)
        });
        PanelAction::Stay
    }

    fn close(context: &mut Context) {
        context.workspace.active_pair_mut().1.preview = None;
    }

    fn go(&self, context: &mut Context) -> PanelAction {
        let Some(row) = self.chosen() else { return PanelAction::Stay };
        TrailPanel::close(context);
        if context.workspace.go_to_step(row.id) {
            context.say("the text is as it was then; the step left is on the trail still");
        }
        PanelAction::Close
    }

    /// Draws what lies between the chosen state and the marked one, or the present one.
    fn draw_from(&self, context: &mut Context) -> PanelAction {
        let Some(chosen) = self.chosen().map(|row| row.id) else { return PanelAction::Stay };
        let other = self.marked.unwrap_or_else(|| context.workspace.active().history().here());
        if chosen == other {
            context.say("both states are the same one: choose another, or mark one with Ctrl+Space");
            return PanelAction::Stay;
        }
        TrailPanel::close(context);
        // The rows are newest first.
        let place = |id: StepId| self.rows.iter().position(|row| row.id == id);
        let states = if place(chosen) > place(other) { [chosen, other] } else { [other, chosen] };
        PanelAction::Open(Box::new(SheetPanel::of_states(context, states)))
    }

    /// The selected lines become what they were at the chosen state.
    fn take_lines(&self, context: &mut Context) -> PanelAction {
        let Some(row) = self.chosen() else { return PanelAction::Stay };
        TrailPanel::close(context);
        let effects = context.workspace.take_lines_of(row.id);
        context.follow(effects);
        PanelAction::Close
    }

    fn row(&self, painter: &Painter, index: usize, (room, style): (Area, Style), grid: &mut Grid) {
        let row = &self.rows[index];
        let quiet = painter.over(style, Role::RaisedQuiet);
        let sign = painter.over(style, if row.is_here { Role::PrimarySign } else { Role::RaisedQuiet });
        let [lanes, verbs, extents, ages] = self.cols;
        put(grid, (room, 0), &row.lanes, sign);
        let mut x = lanes + 1;
        put(grid, (room, x), &row.verb, style);
        x += verbs + 3;
        put(grid, (room, x), &row.extent.map(told).unwrap_or_default(), quiet);
        x += extents + 2;
        let mut right = room.cols;
        for (word, role) in self.states(row).into_iter().rev() {
            right = right.saturating_sub(width(word) + 1);
            put(grid, (room, right), word, painter.over(style, role));
        }
        let age_x = room.cols.saturating_sub(ages);
        put(grid, (Area { cols: right, ..room }, age_x), &row.age, quiet);
        let glimpse = Area { cols: age_x.saturating_sub(2), ..room };
        let files =
            if row.files.is_empty() { row.glimpse.clone() } else { format!("{}   in {}", row.glimpse, row.files) };
        let shown = cut(&files, glimpse.cols.saturating_sub(x));
        put(grid, (glimpse, x), &shown, painter.over(style, Role::String));
    }

    /// What the state after a step is, in words.
    fn states(&self, row: &StepRow) -> Vec<(&'static str, Role)> {
        let all = [
            (row.is_here, "here", Role::PrimarySign),
            (self.marked == Some(row.id), "marked", Role::MarkSign),
            (row.is_saved, "saved", Role::Added),
            (row.was_saved && !row.is_saved, "was saved", Role::RaisedQuiet),
        ];
        all.into_iter().filter(|(holds, ..)| *holds).map(|(_, word, role)| (word, role)).collect()
    }

    /// How wide the columns must be. Cost: all rows.
    fn widths(&self) -> [u16; 4] {
        let most = |of: &dyn Fn(&StepRow) -> u16| self.rows.iter().map(of).max().unwrap_or(0);
        let states = |row: &StepRow| self.states(row).iter().map(|(word, _)| width(word) + 1).sum::<u16>();
        [
            most(&|row| width(&row.lanes)),
            most(&|row| width(&row.verb)),
            most(&|row| row.extent.map_or(0, |extent| width(&told(extent)))),
            most(&|row| width(&row.age)) + most(&states) + 2,
        ]
    }
}

impl Panel for TrailPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn follow(&mut self, context: &mut Context) {
        if self.seen.is_active(&context.workspace) {
            return;
        }
        let chosen = self.chosen().map(|row| row.id);
        self.seen = SeenText::active(&context.workspace);
        self.rows = rows_of(&context.workspace);
        self.filter();
        let again = self.rows.iter().position(|row| Some(row.id) == chosen);
        let here = self.rows.iter().position(|row| row.is_here);
        again.or(here).into_iter().for_each(|index| self.chooser.choose(index));
        self.look(context);
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let along = match key.code {
            KeyCode::Esc => {
                TrailPanel::close(context);
                return PanelAction::Close;
            }
            KeyCode::Enter => return self.go(context),
            KeyCode::Tab => return self.take_lines(context),
            KeyCode::Char('d') if key.mods == KeyModifiers::CONTROL => return self.draw_from(context),
            KeyCode::Char(' ') if key.mods == KeyModifiers::CONTROL => {
                self.marked = self.chosen().map(|row| row.id);
                self.cols = self.widths();
                return PanelAction::Stay;
            }
            KeyCode::Left => {
                self.chosen().and_then(|row| self.rows.iter().position(|other| Some(other.id) == row.parent))
            }
            // The newest of what followed; rows are newest first.
            KeyCode::Right => {
                self.chosen().and_then(|row| self.rows.iter().position(|other| other.parent == Some(row.id)))
            }
            _ => {
                match self.chooser.press(key) {
                    Pressed::Nothing => return PanelAction::Stay,
                    Pressed::Moved => {}
                    Pressed::Typed => self.filter(),
                }
                return self.look(context);
            }
        };
        let Some(index) = along else { return PanelAction::Stay };
        self.chooser.choose(index);
        self.look(context)
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        self.chooser.line.insert(typed);
        self.filter();
        self.look(context)
    }

    fn settle(&mut self, context: &mut Context) {
        let room = context.look.rooms.seen;
        if let Some(preview) = &mut context.workspace.active_pair_mut().1.preview {
            let Preview { buffer, view, .. } = &mut **preview;
            view.follow_caret(buffer, room);
        }
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        painter.line("trail", &self.chooser.line, grid);
        painter.count(self.chooser.shown.len(), self.rows.len(), grid);
        painter.list(&self.chooser, grid, |index, room, style, grid| {
            self.row(painter, index, (room, style), grid);
        });
        if self.chooser.shown.is_empty() {
            painter.hint("no step is called that", grid);
        }
        let keys = [
            ("↑ ↓", "newer, older"),
            ("← →", "along the branch"),
            ("Enter", "go there"),
            ("Tab", "take the selected lines only"),
            ("Ctrl+D", "draw from there"),
            ("Esc", "stay where you were"),
        ];
        painter.keys(&keys, grid);
    }
}

/// How many characters of a step are shown.
const GLIMPSE: usize = 40;

fn rows_of(workspace: &Workspace) -> Vec<StepRow> {
    let (history, now_ms) = (workspace.active().history(), workspace.now_ms);
    let mut lanes = Lanes::of(history);
    let mut rows: Vec<StepRow> = history
        .steps()
        .rev()
        .map(|(id, step)| StepRow {
            id,
            verb: step.verb().replace('-', " "),
            extent: Some(step.extent()),
            glimpse: step.glimpse(GLIMPSE).split_whitespace().collect::<Vec<_>>().join(" "),
            age: age(now_ms.cast_signed().saturating_sub(step.at_ms())),
            lanes: lanes.pass(id, Some(step.parent())),
            is_saved: history.saved() == Some(id),
            was_saved: history.saves().any(|(save, _)| save == id),
            is_here: history.here() == id,
            files: step.group().map(|group| workspace.files_of(group).join(", ")).unwrap_or_default(),
            parent: Some(step.parent()),
        })
        .collect();
    rows.push(StepRow {
        id: StepId::START,
        verb: "as it was opened".to_owned(),
        extent: None,
        glimpse: String::new(),
        age: String::new(),
        lanes: lanes.pass(StepId::START, None),
        is_saved: history.saved() == Some(StepId::START),
        was_saved: false,
        is_here: history.here() == StepId::START,
        files: String::new(),
        parent: None,
    });
    rows
}

/// "now", "12 s ago", "3 min ago", "2 h ago", "3 days ago".
fn age(ms: i64) -> String {
    match ms / 1000 {
        ..=0 => "now".to_owned(),
        seconds @ 1..60 => format!("{seconds} s ago"),
        seconds @ 60..3600 => format!("{} min ago", seconds / 60),
        seconds @ 3600..172_800 => format!("{} h ago", seconds / 3600),
        seconds => format!("{} days ago", seconds / 86_400),
    }
}

/// How an extent is told: "+12 −3, 2 places".
pub fn told(extent: Extent) -> String {
    let mut told = String::new();
    for (sign, bytes) in [('+', extent.added), ('−', extent.removed)] {
        if bytes > 0 {
            let _ = write!(told, "{}{sign}{bytes}", if told.is_empty() { "" } else { " " });
        }
    }
    if extent.places > 1 {
        let _ = write!(told, " at {}", extent.places);
    }
    told
}

/// The branches while rows are drawn from the newest to the oldest: each lane waits for a state.
struct Lanes {
    waiting: Vec<Option<StepId>>,
}

/// More branches than this side by side share the last lane.
const MOST_LANES: usize = 8;

impl Lanes {
    /// The branch on which the text is has the first lane.
    fn of(history: &History) -> Lanes {
        let mut tip = history.here();
        // A step that follows comes later: the last one found on the way up is the newest tip.
        for (id, step) in history.steps() {
            if step.parent() == tip && history.is_newest_child(id) {
                tip = id;
            }
        }
        Lanes { waiting: vec![Some(tip)] }
    }

    /// The signs of the row of `id`, whose lane then waits for `parent`.
    fn pass(&mut self, id: StepId, parent: Option<StepId>) -> String {
        let own = self.waiting.iter().position(|lane| *lane == Some(id)).unwrap_or_else(|| self.free());
        self.waiting[own] = Some(id);
        let last_joined = self.waiting.iter().rposition(|lane| *lane == Some(id)).unwrap_or(own);
        let mut signs = String::new();
        for (lane, waits_for) in self.waiting.iter().enumerate() {
            let joins = *waits_for == Some(id) && lane > own;
            signs.push(match waits_for {
                _ if lane == own => '●',
                _ if joins && lane == last_joined => '╯',
                _ if joins => '┴',
                Some(_) => '│',
                None if lane > own && lane < last_joined => '─',
                None => ' ',
            });
            signs.push(if lane >= own && lane < last_joined { '─' } else { ' ' });
        }
        for lane in self.waiting.iter_mut().filter(|lane| **lane == Some(id)) {
            *lane = None;
        }
        self.waiting[own] = parent;
        while self.waiting.len() > 1 && self.waiting.last() == Some(&None) {
            self.waiting.pop();
        }
        signs
    }

    fn free(&mut self) -> usize {
        if let Some(free) = self.waiting.iter().skip(1).position(Option::is_none) {
            return free + 1;
        }
        if self.waiting.len() < MOST_LANES {
            self.waiting.push(None);
        }
        self.waiting.len() - 1
    }
}
