//! Where everything stands on a screen of any size, down to one cell.
//!
//! Units are cells. Under 60 × 16 only text and footline are left.

use crate::app::App;
use crate::document::Document;
use crate::panels::Panel;
use snarvel_core::units::{Byte, Cell, Direction, Line};

/// The size of a screen.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Size {
    /// Columns.
    pub cols: u16,
    /// Rows.
    pub rows: u16,
}

impl Size {
    /// The reference size: a window of 1280 × 800 pixels.
    pub const REFERENCE: Size = Size { cols: 142, rows: 42 };

    /// Reads `142x42`; both sides from 1 to 1000.
    pub fn parse(text: &str) -> Option<Size> {
        let (cols, rows) = text.split_once(['x', '×'])?;
        let side = |text: &str| text.trim().parse::<u16>().ok().filter(|side| (1..=1000).contains(side));
        Some(Size { cols: side(cols)?, rows: side(rows)? })
    }
}

/// How large the deck is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum DeckSize {
    /// Three rows: all keys.
    Full,
    /// One row: the most useful keys.
    Small,
    /// None.
    Off,
}

impl DeckSize {
    /// The next size in turn.
    #[must_use]
    pub fn next(self) -> DeckSize {
        match self {
            DeckSize::Full => DeckSize::Small,
            DeckSize::Small => DeckSize::Off,
            DeckSize::Off => DeckSize::Full,
        }
    }

    fn rows(self) -> u16 {
        match self {
            DeckSize::Full => 3,
            DeckSize::Small => 1,
            DeckSize::Off => 0,
        }
    }
}

/// A stretch of the screen.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Area {
    /// Its left column.
    pub x: u16,
    /// Its top row.
    pub y: u16,
    /// Its width.
    pub cols: u16,
    /// Its height.
    pub rows: u16,
}

impl Area {
    fn row(y: u16, cols: u16) -> Area {
        Area { x: 0, y, cols, rows: 1 }
    }
}

/// The parts of the screen; a part that has no room has no rows or columns.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Frame {
    /// The open files.
    pub strip: Area,
    /// The rule below them.
    pub rule_above: Area,
    /// Line numbers and signs.
    pub gutter: Area,
    /// The text.
    pub text: Area,
    /// What of it no panel covers.
    pub seen: Area,
    /// The whole file small.
    pub rail: Area,
    /// The cursors, beside the text.
    pub roster: Area,
    /// The rule below the text.
    pub rule_below: Area,
    /// The report.
    pub footline: Area,
    /// The keyboard.
    pub deck: Area,
    /// The open panel, over the deck's place and what it needs above it.
    pub panel: Area,
    /// The text that the panel shows beside its list.
    pub preview: Area,
}

/// Lines kept in view above and below the caret.
const MARGIN: u16 = 2;

/// The smallest screen that shows more than text and footline.
const SMALLEST: Size = Size { cols: 60, rows: 16 };

/// From this many rows on there is room for rules.
const ROWS_FOR_RULES: u16 = 20;

/// The fewest digits of a line number that there is room for.
const FEWEST_DIGITS: usize = 3;

impl Frame {
    /// The parts for `app` as it is.
    pub fn of(app: &App) -> Frame {
        let Size { cols, rows } = app.size;
        let is_small = cols < SMALLEST.cols || rows < SMALLEST.rows;
        let is_bare = is_small || app.is_full_view;
        let bar = u16::from(!is_bare);
        let rule = u16::from(!is_bare && rows >= ROWS_FOR_RULES);
        let deck_rows = if is_bare { 0 } else { app.deck_size().rows() };
        let foot_rows = u16::from(rows >= 2);
        let top = bar + rule;
        let text_rows = rows.saturating_sub(top + rule + foot_rows + deck_rows);
        let digits = (app.shown().editor.text().line_count().ilog10() as usize + 1).max(FEWEST_DIGITS) as u16;
        let gutter_cols = if cols >= 20 && !app.is_full_view { digits + 5 } else { 0 };
        let rail_cols = if is_bare { 0 } else { 3 };
        let foot_y = top + text_rows + rule;
        let panel_rows = panel_rows(app, rows.saturating_sub(2)).max(deck_rows);
        let has_panel = app.panel.as_ref().is_some_and(|panel| !matches!(panel, Panel::Roster(_)));
        let roster_cols = if is_bare { 0 } else { roster_cols(app, cols) };
        let foot_y_now = if has_panel { rows.saturating_sub(panel_rows + foot_rows) } else { foot_y };
        let panel_height = if has_panel { panel_rows.min(rows - foot_rows.min(rows)) } else { 0 };
        let text = Area {
            x: gutter_cols,
            y: top,
            cols: cols - gutter_cols - (rail_cols + roster_cols).min(cols - gutter_cols),
            rows: text_rows,
        };
        let uncovered = foot_y_now.saturating_sub(rule + top);
        Frame {
            seen: Area { rows: text_rows.min(uncovered), ..text },
            strip: Area { rows: bar, ..Area::row(0, cols) },
            rule_above: Area { rows: rule, ..Area::row(bar, cols) },
            gutter: Area { x: 0, y: top, cols: gutter_cols, rows: text_rows },
            text,
            rail: Area { x: cols.saturating_sub(rail_cols + roster_cols), y: top, cols: rail_cols, rows: text_rows },
            roster: Area {
                x: cols.saturating_sub(roster_cols),
                y: top,
                cols: roster_cols,
                rows: text_rows.min(uncovered),
            },
            rule_below: Area { rows: rule, ..Area::row(foot_y_now.saturating_sub(rule), cols) },
            footline: Area { rows: foot_rows, ..Area::row(foot_y_now, cols) },
            deck: Area { x: 0, y: foot_y + foot_rows, cols, rows: if has_panel { 0 } else { deck_rows } },
            panel: Area { x: 0, y: rows - panel_height, cols, rows: panel_height },
            preview: preview(app, Area { x: 0, y: rows - panel_height, cols, rows: panel_height }),
        }
    }

    /// The last line in view of a document.
    pub fn last_line(&self, document: &Document) -> Line {
        let rows = (self.seen.rows as usize).max(1);
        let (text, folds) = (document.editor.text(), document.editor.folds());
        let last = folds.step(text, first_line(document), Direction::Forward, rows - 1);
        folds.last_under(text, last)
    }

    /// The cell of the screen, column then row, in which the primary caret of `document` is seen.
    pub fn caret_cell(&self, document: &Document) -> Option<[u16; 2]> {
        let text = document.editor.text();
        let head = document.editor.cursors().primary().head;
        let line = text.line_of(head);
        let row = lines_in_view(document, usize::from(self.text.rows)).position(|shown| shown == line)?;
        let col = text.cell_of(head, document.editor.layout().tabs).0.checked_sub(document.view.left.0)?;
        let is_seen = col < u32::from(self.text.cols);
        is_seen.then(|| [self.text.x + col as u16, self.text.y + row as u16])
    }

    /// The place of `document` under a cell of the screen: the nearest one of its line.
    pub fn place_under(&self, document: &Document, [x, y]: [u16; 2]) -> Option<Byte> {
        let inside = y >= self.text.y && y < self.text.y + self.text.rows && x < self.text.x + self.text.cols;
        if !inside {
            return None;
        }
        let text = document.editor.text();
        let line =
            document.editor.folds().step(text, first_line(document), Direction::Forward, usize::from(y - self.text.y));
        let cell = document.view.left + u32::from(x.saturating_sub(self.text.x));
        Some(text.place_at(line, cell, document.editor.layout().tabs).at)
    }
}

/// The first line of `document` in view: one that is shown.
pub fn first_line(document: &Document) -> Line {
    let text = document.editor.text();
    document.editor.folds().shown(text, document.view.top.min(text.last_line()))
}

/// The lines of `document` that are shown from the first one in view on, as many as there is room for.
pub fn lines_in_view(document: &Document, rows: usize) -> impl Iterator<Item = Line> {
    let (text, folds) = (document.editor.text(), document.editor.folds());
    let next = move |line: &Line| Some(folds.step(text, *line, Direction::Forward, 1)).filter(|next| next > line);
    std::iter::successors(Some(first_line(document)), next).take(rows)
}

/// Moves the view of `document`, which has so much room, so that its primary caret is in it: by as little as it takes where it is
/// near, else to the middle.
pub fn bring_into_view(room: Area, document: &mut Document) {
    let text = document.editor.text();
    let head = document.editor.cursors().primary().head;
    let folds = document.editor.folds();
    let line = folds.shown(text, text.line_of(head));
    let rows = (room.rows as usize).max(1);
    let margin = usize::from(MARGIN).min((rows - 1) / 2);
    let top = first_line(document);
    let back = |lines: usize| folds.step(text, line, Direction::Back, lines);
    let (lowest, highest) = (back((rows - 1).saturating_sub(margin)), back(margin));
    let is_near = line >= folds.step(text, top, Direction::Back, rows)
        && line <= folds.step(text, top, Direction::Forward, 2 * rows - 1);
    let new_top = match (is_near, top < lowest, top > highest) {
        (_, false, false) => top,
        (false, ..) => back(rows / 2),
        (true, true, _) => lowest,
        (true, false, true) => highest,
    };
    let cols = u32::from(room.cols).max(1);
    let cell = text.cell_of(head, document.editor.layout().tabs).0;
    let left = document.view.left.0;
    let new_left = match () {
        () if cell + 1 < cols => 0,
        () if cell < left + 1 || cell + 2 > left + cols => cell.saturating_sub(cols / 2),
        () => left,
    };
    document.view.top = new_top;
    document.view.left = Cell(new_left);
}

/// How many rows the open panel would like, its line of keys included.
fn panel_rows(app: &App, most: u16) -> u16 {
    let wanted = match &app.panel {
        None | Some(Panel::Roster(_)) => 0,
        Some(Panel::Question(_) | Panel::SaveAs(_) | Panel::Argument(_) | Panel::Sheet(_)) => 2,
        Some(Panel::Sift(sift)) if sift.project.is_some() => (app.size.rows / 2).max(10),
        Some(Panel::Sift(_)) => 4,
        Some(Panel::Diff(diff)) => (diff.rows.len() as u16).saturating_add(2).min(app.size.rows / 2),
        Some(
            Panel::Open(_) | Panel::Shelf(_) | Panel::Trail(_) | Panel::Outline(_) | Panel::Files(_) | Panel::Lookup(_),
        ) => (app.size.rows / 3).max(8),
        Some(Panel::Notice(notice)) => notice.lines.len() as u16 + 2,
    };
    wanted.min(most)
}

/// From this many columns on the roster comes by itself when there are several cursors.
const COLS_FOR_ROSTER: u16 = 120;

/// How wide the roster is: it comes by itself where there is room and the person has not settled otherwise, else while
/// it takes keys.
fn roster_cols(app: &App, cols: u16) -> u16 {
    let takes_keys = matches!(app.panel, Some(Panel::Roster(_)));
    let comes = app.settings.shows_roster && app.shown().editor.cursors().len() > 1 && cols >= COLS_FOR_ROSTER;
    if takes_keys || comes { (cols / 4).clamp(24, 40) } else { 0 }
}

/// From this many columns on, a panel has room for a text beside its list.
const COLS_FOR_PREVIEW: u16 = 60;

/// Where a panel shows a text: beside its list, or over it where there is no room for both and somebody went in.
fn preview(app: &App, panel: Area) -> Area {
    let is_inside = match &app.panel {
        Some(Panel::Shelf(shelf)) => shelf.is_inside,
        Some(Panel::Lookup(_)) => false,
        Some(Panel::Open(opening)) if opening.preview.is_some() => false,
        _ => return Area::default(),
    };
    // The first row is for the letters, the last for the keys.
    let rows = panel.rows.saturating_sub(2);
    let x = match (panel.cols >= COLS_FOR_PREVIEW, is_inside) {
        (true, _) => panel.cols * 2 / 5,
        (false, true) => 0,
        (false, false) => return Area::default(),
    };
    Area { x, y: panel.y + 1, cols: panel.cols - x, rows }
}
