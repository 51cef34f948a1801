//! Where everything is on a screen of any size, down to one cell.
//!
//! Units are cells. Under 60 × 16 only the text and the status line are left.

use super::canvas::Area;
use super::shown_keys;
use crate::context::Context;
use crate::panels::panel::{Panel, TextBeside};
use crate::size::Size;
use snarvel_core::units::Byte;
use snarvel_core::units::Direction;
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::ids::ViewId;
use snarvel_workspace::view::scrolling::{first_row, rows_in_view};
use snarvel_workspace::view::{Room, View};
use snarvel_workspace::views::split::{Side, Split};

/// A view on the screen.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Pane {
    /// The view.
    pub view: ViewId,
    /// Its name and place, where there are several.
    pub head: Area,
    /// Line numbers and signs.
    pub gutter: Area,
    /// The text.
    pub text: Area,
    /// How many rows of the text no panel covers.
    pub seen_rows: u16,
    /// The whole file small.
    pub ruler: Area,
}

impl Pane {
    /// The part of the text that no panel covers.
    #[must_use]
    pub fn seen(&self) -> Area {
        Area { rows: self.seen_rows, ..self.text }
    }

    /// How much room there is for the text, whether a panel covers some of it or not.
    #[must_use]
    pub fn room(&self) -> Room {
        Room { cols: self.text.cols, rows: self.text.rows }
    }

    /// How much room there is for the text beside what a panel covers.
    #[must_use]
    pub fn seen_room(&self) -> Room {
        Room { cols: self.text.cols, rows: self.seen_rows }
    }

    /// The cell of the screen, column then row, in which the primary caret is seen.
    #[must_use]
    pub fn caret_cell(&self, buffer: &Buffer, view: &View) -> Option<[u16; 2]> {
        let (head, map) = (view.cursors().primary().head, view.row_map(buffer));
        let own = map.row_at(head);
        let row = rows_in_view(view, buffer, usize::from(self.text.rows)).iter().position(|shown| *shown == own)?;
        let col = map.column_of(&own, head).checked_sub(view.scroll.left.0)?;
        let is_seen = col < u32::from(self.text.cols);
        is_seen.then(|| [self.text.x + col as u16, self.text.y + row as u16])
    }

    /// The place of the text under a cell of the screen: the nearest one of its line.
    #[must_use]
    pub fn place_under(&self, (buffer, view): (&Buffer, &View), [x, y]: [u16; 2]) -> Option<Byte> {
        let row = Area { x: self.gutter.x, cols: self.gutter.cols + self.text.cols, ..self.text };
        if !row.holds([x, y]) {
            return None;
        }
        let map = view.row_map(buffer);
        let shown = map.step(first_row(view, buffer), Direction::Forward, usize::from(y - self.text.y));
        Some(map.place_in(&shown, view.scroll.left.0 + u32::from(x.saturating_sub(self.text.x))))
    }
}

/// The parts of the screen; a part that has no room has no rows or columns.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Frame {
    /// The open files.
    pub tab_bar: Area,
    /// The rule below them.
    pub rule_above: Area,
    /// The views, from the left and from the top.
    pub panes: Vec<Pane>,
    /// The lines between views beside each other.
    pub dividers: Vec<Area>,
    /// A docked panel, beside the text.
    pub docked: Area,
    /// The shell, while the text has the keys.
    pub foot: Area,
    /// The last keys, for an audience, below all that.
    pub shown_keys: Area,
    /// The rule below the text.
    pub rule_below: Area,
    /// The report.
    pub status_line: Area,
    /// The keyboard.
    pub deck: Area,
    /// The open panel, over the deck's place and what it needs above it.
    pub panel: Area,
    /// The text that the panel shows beside its list.
    pub beside: Area,
}

/// Rows of the shell while it has the keys, its name included.
#[must_use]
pub fn shell_rows(size: Size) -> u16 {
    (size.rows / 2).max(6)
}

/// Rows of the shell while the text has the keys, its name included.
fn foot_rows(size: Size) -> u16 {
    (size.rows / 4).clamp(4, 12)
}

/// The smallest screen that shows more than text and status line.
const SMALLEST: Size = Size { cols: 60, rows: 16 };

/// From this many rows on there is room for rules.
const ROWS_FOR_RULES: u16 = 20;

/// The fewest digits of a line number that there is room for.
const FEWEST_DIGITS: usize = 3;

/// Under this many columns a second view is below the first one whatever was asked for.
pub const COLS_FOR_BESIDE: u16 = 100;

/// From this many columns on a view is wide enough for a panel to rise under it alone.
const COLS_FOR_PANEL: u16 = 70;

/// From this many columns on, a panel has room for a text beside its list.
const COLS_FOR_TEXT_BESIDE: u16 = 78;

/// How many columns the overview ruler takes.
const RULER_COLS: u16 = 3;

/// What is open on the screen beside the text.
#[derive(Clone, Copy)]
pub struct Open<'a> {
    /// The panel that has risen.
    pub panel: Option<&'a dyn Panel>,
    /// How many columns the docked panel takes.
    pub docked_cols: u16,
}

impl Frame {
    /// The parts for `context` as it is, with what is open.
    #[must_use]
    pub fn of(context: &Context, open: Open) -> Frame {
        let Size { cols, rows } = context.look.size;
        let is_small = cols < SMALLEST.cols || rows < SMALLEST.rows;
        let is_bare = is_small || context.look.is_full_view;
        let bar = u16::from(!is_bare);
        let rule = u16::from(!is_bare && rows >= ROWS_FOR_RULES);
        let deck_rows = if is_bare { 0 } else { context.deck_size().rows() };
        let status_rows = u16::from(rows >= 2);
        let top = bar + rule;
        let foot_rows = if is_bare || !context.workspace.is_shell_seen() { 0 } else { foot_rows(context.look.size) };
        let key_rows = if is_small || context.look.presenting.shown.is_none() { 0 } else { shown_keys::ROWS };
        // What is between the text and the status line.
        let between = rule + key_rows;
        let text_rows = rows.saturating_sub(top + between + status_rows + deck_rows + foot_rows);
        let docked_cols = if is_bare { 0 } else { open.docked_cols };
        let part = |y: u16, rows: u16| Area { rows, ..Area::row(y, cols) };
        let texts = Area { x: 0, y: top, cols: cols.saturating_sub(docked_cols), rows: text_rows };
        let mut places = Places { panes: Vec::new(), dividers: Vec::new() };
        let split = context.workspace.views.split();
        places.divide(split, texts, cols < COLS_FOR_BESIDE);
        let focus = context.workspace.views.focus();
        let own = places.panes.iter().find(|(view, _)| *view == focus).map_or(texts, |(_, area)| *area);
        let under = Under { top, between, status_rows, deck_rows, text_rows: text_rows + foot_rows };
        let (status_y, panel, is_narrow) = under.with_panel(context, &open, (own, texts));
        let uncovered = |area: &Area| {
            let end = if is_narrow && area.x == own.x { panel.y } else { status_y.saturating_sub(between) };
            end.saturating_sub(area.y).min(area.rows)
        };
        let chrome =
            Chrome { is_bare, heads: u16::from(places.panes.len() > 1), is_full_view: context.look.is_full_view };
        let pane = |(view, area): &(ViewId, Area)| chrome.pane(context, *view, (*area, uncovered(area)));
        Frame {
            tab_bar: part(0, bar),
            rule_above: part(bar, rule),
            panes: places.panes.iter().map(pane).collect(),
            dividers: places
                .dividers
                .iter()
                .map(|area| Area { rows: area.rows.min(uncovered(area)), ..*area })
                .collect(),
            docked: Area {
                x: cols.saturating_sub(docked_cols),
                y: top,
                cols: docked_cols,
                rows: text_rows.min(status_y.saturating_sub(between + top)),
            },
            foot: part(top + text_rows, foot_rows.min(status_y.saturating_sub(between + top + text_rows))),
            shown_keys: part(status_y.saturating_sub(between), key_rows),
            rule_below: part(status_y.saturating_sub(rule), rule),
            status_line: part(status_y, status_rows),
            deck: part(
                top + text_rows + foot_rows + between + status_rows,
                if open.panel.is_some() && !is_narrow { 0 } else { deck_rows },
            ),
            panel,
            beside: open.panel.map_or(Area::default(), |panel_open| text_beside(panel_open.text_beside(), panel)),
        }
    }

    /// The pane of the view with the keys.
    ///
    /// # Panics
    /// Never: that view is shown.
    #[must_use]
    pub fn focused(&self, context: &Context) -> Pane {
        let focus = context.workspace.views.focus();
        *self.panes.iter().find(|pane| pane.view == focus).or(self.panes.first()).expect("a view is shown")
    }
}

/// The rows of what is above and below the text.
struct Under {
    top: u16,
    between: u16,
    status_rows: u16,
    deck_rows: u16,
    text_rows: u16,
}

impl Under {
    /// The row of the status line, the room of the panel, and whether that is under its own view only.
    fn with_panel(&self, context: &Context, open: &Open, (own, texts): (Area, Area)) -> (u16, Area, bool) {
        let Under { top, between, status_rows, deck_rows, text_rows } = *self;
        let Size { cols, rows } = context.look.size;
        let Some(panel) = open.panel else { return (top + text_rows + between, Area::default(), false) };
        let wanted = panel.rows(context).min(rows.saturating_sub(2));
        // Beside another view a panel rises under its own view only, above the status line.
        if own.cols < texts.cols && own.cols >= COLS_FOR_PANEL {
            let status_y = rows.saturating_sub(status_rows + deck_rows);
            let panel_rows = wanted.min(status_y.saturating_sub(top + between));
            (
                status_y,
                Area { x: own.x, y: status_y.saturating_sub(between + panel_rows), cols: own.cols, rows: panel_rows },
                true,
            )
        } else {
            let panel_rows = wanted.max(deck_rows).min(rows - status_rows.min(rows));
            let status_y = rows.saturating_sub(wanted.max(deck_rows) + status_rows);
            (status_y, Area { x: 0, y: rows - panel_rows, cols, rows: panel_rows }, false)
        }
    }
}

/// Where views are while a split is laid out.
struct Places {
    panes: Vec<(ViewId, Area)>,
    dividers: Vec<Area>,
}

impl Places {
    fn divide(&mut self, split: &Split, area: Area, only_below: bool) {
        match split {
            Split::One(view) => self.panes.push((*view, area)),
            Split::Two { side: Side::Beside, first, second } if !only_below => {
                let left = area.cols.saturating_sub(1) / 2;
                self.divide(first, Area { cols: left, ..area }, only_below);
                self.dividers.push(Area { x: area.x + left, cols: 1, ..area });
                let right = Area { x: area.x + left + 1, cols: area.cols.saturating_sub(left + 1), ..area };
                self.divide(second, right, only_below);
            }
            Split::Two { first, second, .. } => {
                let upper = area.rows / 2;
                self.divide(first, Area { rows: upper, ..area }, only_below);
                self.divide(second, Area { y: area.y + upper, rows: area.rows - upper, ..area }, only_below);
            }
        }
    }
}

/// What is around a text.
struct Chrome {
    is_bare: bool,
    /// Rows for the name of a view.
    heads: u16,
    is_full_view: bool,
}

impl Chrome {
    fn pane(&self, context: &Context, view: ViewId, (area, uncovered): (Area, u16)) -> Pane {
        let heads = self.heads.min(area.rows);
        let (buffer, _) = context.workspace.shown(view);
        let digits = (buffer.text().line_count().ilog10() as usize + 1).max(FEWEST_DIGITS) as u16;
        let gutter_cols = if area.cols >= 20 && !self.is_full_view { digits + 5 } else { 0 };
        let ruler_cols = if self.is_bare { 0 } else { RULER_COLS };
        let body = Area { y: area.y + heads, rows: area.rows - heads, ..area };
        let text_cols = area.cols.saturating_sub(gutter_cols + ruler_cols);
        Pane {
            view,
            head: Area { rows: heads, ..area },
            gutter: Area { cols: gutter_cols, ..body },
            text: Area { x: area.x + gutter_cols, cols: text_cols, ..body },
            seen_rows: body.rows.min(uncovered.saturating_sub(heads)),
            ruler: Area { x: area.x + area.cols.saturating_sub(ruler_cols), cols: ruler_cols, ..body },
        }
    }
}

/// Where a panel shows a text: beside its list, or over it where there is no room for both and the text has the focus.
fn text_beside(wanted: TextBeside, panel: Area) -> Area {
    // The first row is for the letters, the last for the keys.
    let rows = panel.rows.saturating_sub(2);
    let x = match (wanted, panel.cols >= COLS_FOR_TEXT_BESIDE) {
        (TextBeside::None, _) | (TextBeside::Beside, false) => return Area::default(),
        (_, true) => panel.cols * 2 / 5,
        (TextBeside::Inside, false) => 0,
    };
    Area { x: panel.x + x, y: panel.y + 1, cols: panel.cols - x, rows }
}
