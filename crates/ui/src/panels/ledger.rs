//! The ledger: what was used in a week, a month, a year, or ever.

use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use super::sheet::SheetPanel;
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{Area, fill, put, width, wrapped};
use crate::sheets::ledger::{habit, learned, title};
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use ratatui::layout::Rect;
use ratatui::symbols::Marker;
use ratatui::widgets::Widget;
use ratatui::widgets::canvas::{self, Canvas, Points};
use snarvel_ledger::Report;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::learning::news::LedgerNews;
use snarvel_workspace::today::days_ago;

/// A length of time that is looked at.
struct Period {
    name: &'static str,
    /// Days, today included; none for all of them.
    days: Option<u32>,
}

const PERIODS: [Period; 4] = [
    Period { name: "this week", days: Some(7) },
    Period { name: "a month", days: Some(31) },
    Period { name: "a year", days: Some(366) },
    Period { name: "ever", days: None },
];

/// What was used.
#[derive(Debug, Default)]
pub struct LedgerPanel {
    period: usize,
    report: Option<Report>,
    /// The row of what it tells that is shown first.
    top: u16,
}

/// Columns for the name of a verb.
const NAME_COLS: u16 = 24;

/// Under this many columns the parts are drawn one below the other.
const COLS_FOR_TWO: u16 = 90;

/// Rows of the panel, its line of keys included.
const ROWS: u16 = 26;

/// Rows above what scrolls.
const HEAD_ROWS: u16 = 3;

/// Rows of all that may be told.
const MOST_ROWS: u16 = 120;

/// Rows that a page goes on.
const PAGE: u16 = 10;

/// So many verbs have a bar; fewer where the rest is drawn below them.
const BARS: usize = 22;
const BARS_ABOVE: usize = 10;

/// Rows for the course of the weeks.
const COURSE_ROWS: u16 = 5;

impl LedgerPanel {
    fn ask(&mut self, context: &mut Context) {
        let since = PERIODS[self.period].days.map_or_else(String::new, |days| days_ago(days - 1));
        // What was counted just now belongs to it.
        context.write_counts();
        context.workspace.ask_ledger(&since);
    }

    fn turn(&mut self, by: isize, context: &mut Context) -> PanelAction {
        self.period = self.period.saturating_add_signed(by).min(PERIODS.len() - 1);
        self.top = 0;
        self.ask(context);
        PanelAction::Stay
    }
}

impl LedgerPanel {
    /// The row that is shown first when the last one is seen.
    fn last_top(&self, context: &Context) -> u16 {
        let area = Area { x: 0, y: 0, cols: context.look.size.cols, rows: self.rows(context) };
        let rows = self.report.as_ref().map_or(0, |report| body(&Painter { context, area, beside: area }, report).1);
        rows.saturating_sub(area.rows.saturating_sub(HEAD_ROWS + 1))
    }
}

impl Panel for LedgerPanel {
    fn rows(&self, context: &Context) -> u16 {
        ROWS.min(context.look.size.rows.saturating_sub(3))
    }

    fn begin(&mut self, context: &mut Context) {
        self.ask(context);
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match (key.code, key.mods) {
            (KeyCode::Esc, _) => PanelAction::Close,
            (KeyCode::Left, _) => self.turn(-1, context),
            (KeyCode::Right, _) => self.turn(1, context),
            (KeyCode::Up | KeyCode::PageUp, _) => {
                self.top = self.top.saturating_sub(if key.code == KeyCode::Up { 1 } else { PAGE });
                PanelAction::Stay
            }
            (KeyCode::Down | KeyCode::PageDown, _) => {
                let down = self.top + if key.code == KeyCode::Down { 1 } else { PAGE };
                self.top = down.min(self.last_top(context));
                PanelAction::Stay
            }
            (KeyCode::Char('d'), KeyModifiers::CONTROL) => match self.report.clone() {
                Some(report) => PanelAction::Open(Box::new(SheetPanel::of_ledger(report))),
                None => PanelAction::Stay,
            },
            _ => PanelAction::Stay,
        }
    }

    fn take(&mut self, event: Event, _context: &mut Context) -> PanelAction {
        if let Payload::Ledger(news) = event.payload {
            match *news {
                LedgerNews::Report(report) => self.report = Some(report),
                // Why is in the status line.
                LedgerNews::Failed(_) => return PanelAction::Close,
                LedgerNews::Opened { .. } => {}
            }
        }
        PanelAction::Stay
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let mut x = put(grid, (painter.row(0), 1), "ledger", painter.style(Role::RaisedQuiet)) + 2;
        for (index, period) in PERIODS.iter().enumerate() {
            let role = if index == self.period { Role::Selection } else { Role::RaisedQuiet };
            let name = if index == self.period { format!("[{}]", period.name) } else { format!(" {} ", period.name) };
            x = put(grid, (painter.row(0), x), &name, painter.style(role)) + 1;
        }
        let room = painter.area.rows.saturating_sub(HEAD_ROWS + 1);
        let told = self.report.as_ref().map(|report| body(painter, report));
        let more = told.as_ref().is_some_and(|(_, rows)| *rows > room).then_some(("↑ ↓", "more"));
        let keys = [("← →", "week, month, year, ever"), ("Ctrl+D", "draw it"), ("Esc", "leave")];
        painter.keys(&more.into_iter().chain(keys).collect::<Vec<_>>(), grid);
        let Some(report) = &self.report else { return painter.hint("reading …", grid) };
        put(grid, (painter.row(1), 1), &title(report), painter.style(Role::Raised));
        if report.keys == 0 {
            let said = "nothing is counted yet: work a while, then look again";
            put(grid, (painter.row(3), 3), said, painter.style(Role::RaisedQuiet));
            return;
        }
        let Some((whole, _)) = told else { return };
        for y in 0..room {
            for x in 0..painter.area.cols {
                let to = grid.cell_mut((painter.area.x + x, painter.area.y + HEAD_ROWS + y));
                let from = whole.cell((x, self.top + y));
                to.zip(from).into_iter().for_each(|(to, from)| *to = from.clone());
            }
        }
    }
}

/// All that is told of a report, and how many rows it takes: beside each other where there is room, else one below the other.
fn body(painter: &Painter, report: &Report) -> (Grid, u16) {
    let cols = painter.area.cols;
    let mut grid = Grid::empty(Rect::new(0, 0, cols, MOST_ROWS));
    let all = Area { x: 0, y: 0, cols, rows: MOST_ROWS };
    fill(&mut grid, all, painter.style(Role::Raised));
    let is_wide = cols >= COLS_FOR_TWO;
    let half = if is_wide { cols / 2 } else { cols };
    let left = Area { cols: half.saturating_sub(2), ..all };
    let bar_rows = bars(painter, report, (left, if is_wide { BARS } else { BARS_ABOVE }), &mut grid);
    let right = match is_wide {
        true => Area { x: half, cols: cols - half, ..all },
        false => below(left, bar_rows + 1),
    };
    let mut rest = below(right, course(painter, report, right, &mut grid));
    rest = below(rest, ways(painter, report, rest, &mut grid) + 1);
    let habits = report.habits.iter().map(habit);
    rest = below(rest, lines(painter, ("costliest habits", habits), rest, &mut grid) + 1);
    rest = below(rest, lines(painter, ("learned", report.learned.iter().map(learned)), rest, &mut grid));
    (grid, rest.y.max(bar_rows))
}

/// What is left of `area` below so many rows of it.
fn below(area: Area, rows: u16) -> Area {
    let rows = rows.min(area.rows);
    Area { y: area.y + rows, rows: area.rows - rows, ..area }
}

fn row(area: Area, index: u16) -> Area {
    Area { y: area.y + index, rows: u16::from(index < area.rows), ..area }
}

/// A bar of so many eighths of a cell.
fn bar(eighths: usize) -> String {
    const PARTS: [&str; 8] = ["", "▏", "▎", "▍", "▌", "▋", "▊", "▉"];
    "█".repeat(eighths / 8) + PARTS[eighths % 8]
}

/// The verbs as bars; gives the rows that they take.
fn bars(painter: &Painter, report: &Report, (area, most_bars): (Area, usize), grid: &mut Grid) -> u16 {
    put(grid, (row(area, 0), 1), "verbs, how often, and how often looked up", painter.style(Role::RaisedQuiet));
    let most = report.verbs.first().map_or(1, |verb| verb.times.max(1));
    let rows = report.verbs.len().min(most_bars) as u16;
    let bar_cols = usize::from(area.cols.saturating_sub(NAME_COLS + 14));
    for (index, verb) in report.verbs.iter().take(usize::from(rows)).enumerate() {
        let row = row(area, index as u16 + 1);
        put(grid, (Area { cols: NAME_COLS, ..row }, 1), &verb.verb, painter.style(Role::Raised));
        let eighths = (verb.times as usize * bar_cols * 8).div_ceil(most as usize);
        let x = put(grid, (row, NAME_COLS + 1), &bar(eighths.max(1)), painter.style(Role::OtherSign)) + 1;
        let looked =
            if verb.by_lookup > 0 { format!("{} ({})", verb.times, verb.by_lookup) } else { verb.times.to_string() };
        put(grid, (row, x), &looked, painter.style(Role::Raised));
    }
    rows + 1
}

/// Keys for each changed line, a column a week; gives the rows that they take.
fn course(painter: &Painter, report: &Report, area: Area, grid: &mut Grid) -> u16 {
    put(grid, (row(area, 0), 1), "keys for each changed line, week by week", painter.style(Role::RaisedQuiet));
    let known: Vec<(&str, f64)> =
        report.course.iter().filter_map(|week| Some((week.monday.as_str(), week.keys_a_line()?))).collect();
    let cols = 6;
    let most = usize::from(area.cols.saturating_sub(8) / cols).max(1);
    let shown = &known[known.len().saturating_sub(most)..];
    if shown.is_empty() {
        put(grid, (row(area, 1), 3), "no line was changed yet", painter.style(Role::RaisedQuiet));
        return 3;
    }
    let highest = shown.iter().fold(0.1_f64, |highest, (_, keys)| highest.max(*keys));
    let points = shown.iter().enumerate().map(|(index, (_, keys))| (f64::from(cols) * (index as f64 + 0.5), *keys));
    line(painter, (&points.collect::<Vec<_>>(), highest), area, (shown.len() as u16 * cols, grid));
    for (index, (monday, keys)) in shown.iter().enumerate() {
        let x = 1 + index as u16 * cols;
        let told = format!("{keys:.1}");
        put(grid, (row(area, COURSE_ROWS + 2), x), &format!("{told:^6}"), painter.style(Role::Raised));
        let day = monday.get(5..).unwrap_or_default();
        put(grid, (row(area, COURSE_ROWS + 3), x), &format!("{day:^6}"), painter.style(Role::RaisedQuiet));
    }
    COURSE_ROWS + 5
}

/// A line through points, each by its column and its height, in `area` below its heading.
fn line(painter: &Painter, (points, highest): (&[(f64, f64)], f64), area: Area, (cols, grid): (u16, &mut Grid)) {
    let ink = painter.style(Role::OtherSign).fg.unwrap_or_default();
    let rows = COURSE_ROWS.min(area.rows.saturating_sub(2));
    let plot = Rect::new(area.x + 1, area.y + 2, cols, rows).intersection(grid.area);
    Canvas::default()
        .marker(Marker::Braille)
        .background_color(painter.style(Role::Raised).bg.unwrap_or_default())
        .x_bounds([0.0, f64::from(cols)])
        .y_bounds([0.0, highest])
        .paint(|plot| {
            plot.draw(&Points { coords: points, color: ink });
            for ends in points.windows(2) {
                plot.draw(&canvas::Line::new(ends[0].0, ends[0].1, ends[1].0, ends[1].1, ink));
            }
        })
        .render(plot, grid);
}

/// The share of each way; gives the rows that it takes.
fn ways(painter: &Painter, report: &Report, area: Area, grid: &mut Grid) -> u16 {
    let all: u64 = report.ways.iter().map(|(_, keys)| keys).sum();
    let mut x = put(grid, (row(area, 0), 1), "keys by", painter.style(Role::RaisedQuiet)) + 1;
    for (name, keys) in report.ways.iter().filter(|(_, keys)| *keys > 0) {
        let told = format!("{name} {:.0} %", *keys as f64 / all.max(1) as f64 * 100.0);
        if x + width(&told) > area.cols {
            break;
        }
        x = put(grid, (row(area, 0), x), &told, painter.style(Role::Raised)) + 3;
    }
    1
}

/// Lines under a name; gives the rows that they take.
fn lines(painter: &Painter, (name, lines): (&str, impl Iterator<Item = String>), area: Area, grid: &mut Grid) -> u16 {
    put(grid, (row(area, 0), 1), name, painter.style(Role::RaisedQuiet));
    let mut used = 1;
    for line in lines {
        let parts = wrapped(&line, area.cols.saturating_sub(6));
        for (index, part) in parts.iter().enumerate() {
            put(grid, (row(area, used), if index == 0 { 3 } else { 5 }), part, painter.style(Role::Raised));
            used += 1;
        }
    }
    if used == 1 {
        put(grid, (row(area, 1), 3), "none yet", painter.style(Role::RaisedQuiet));
        used = 2;
    }
    used
}
