//! An edit before and after, side by side: what came and went is marked, lines that moved are joined by bands, the keys are below.
//!
//! Nothing is told by colour alone: what goes has `−` before it and is struck through, what comes has `+`, what moved has a band.

use crate::Paper;
use crate::drawing::{Align, Drawing, Face, Ink, Item, Mm};
use crate::font::{fitting, width};
use crate::listing::Inks;
use std::ops::Range;

/// What becomes of a row.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Fate {
    /// It stays as it is.
    #[default]
    Same,
    /// It goes.
    Gone,
    /// It comes.
    Come,
    /// It is at another place on the other side.
    Moved,
    /// A part of it is another one.
    Changed,
}

/// A row of one side.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct SideRow {
    /// The number of its line; none where lines that stay as they are are left out.
    pub number: Option<usize>,
    /// What is on it, a character a cell.
    pub text: String,
    /// What becomes of it.
    pub fate: Fate,
    /// The cells in it that are others on the other side.
    pub changed: Vec<Range<usize>>,
    /// The cells before which there is a caret.
    pub carets: Vec<usize>,
    /// The cells that are selected.
    pub selected: Vec<Range<usize>>,
}

/// Rows that have moved: those of one side and those of the other.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Band {
    /// Before.
    pub from: Range<usize>,
    /// After.
    pub to: Range<usize>,
}

/// A key and what it did.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Cap {
    /// The key.
    pub key: String,
    /// What it did; empty where that goes without saying.
    pub did: String,
}

/// An edit to draw.
#[derive(Clone, Debug, Default)]
pub struct EditSheet {
    /// What it is of.
    pub title: String,
    /// The touched part before and after.
    pub sides: [Vec<SideRow>; 2],
    /// Rows that moved.
    pub bands: Vec<Band>,
    /// The keys.
    pub keys: Vec<Cap>,
    /// What it is printed on.
    pub paper: Paper,
    /// What it is drawn with.
    pub inks: Inks,
}

const MARGIN: Mm = Mm(12.0);

/// What is between the two sides, for the bands.
const BETWEEN: Mm = Mm(26.0);

/// The largest and the smallest letters, in points.
const LARGEST: f32 = 10.0;
const SMALLEST: f32 = 6.0;

/// Cells of a line number and of the sign after it.
const NUMBER_CELLS: usize = 5;
const SIGN_CELLS: usize = 2;

const CAP_HEIGHT: Mm = Mm(6.5);
const CAP_ROW: Mm = Mm(12.5);

/// Rows of keys at most: the rest is counted.
const CAP_ROWS: usize = 3;

const BLACK: Ink = Ink::grey(0);
const QUIET: Ink = Ink::grey(125);
const EDGE: Ink = Ink::grey(150);
const GONE: Ink = Ink([0xF6, 0xD9, 0xD3]);
const COME: Ink = Ink([0xD8, 0xEC, 0xD2]);
const MOVED: Ink = Ink([0xD6, 0xE6, 0xF0]);
const CHANGED: Ink = Ink([0xF6, 0xE7, 0xB8]);
const SELECTED: Ink = Ink([0xCF, 0xDC, 0xEC]);
const CARET: Ink = Ink([0xB4, 0x60, 0x0A]);

/// Where things are for one size of letters.
struct Metrics {
    size: Mm,
    cell: Mm,
    row: Mm,
    top: Mm,
    /// The left edge of each side, and how wide they are.
    left: [Mm; 2],
    wide: Mm,
    /// Rows for which there is room.
    rows: usize,
}

impl EditSheet {
    /// The sheet.
    #[must_use]
    pub fn drawing(&self) -> Drawing {
        let [paper, height] = self.paper.size();
        let mut items = Vec::new();
        let base = MARGIN + Mm(4.5);
        let title = fitting(&self.title, paper - MARGIN * 2.0, Mm::points(12.0), Face::Bold).into_iter().next();
        items.push(Item::text([MARGIN, base], title.unwrap_or_default(), (12.0, Face::Bold), BLACK));
        let caps = self.caps(paper - MARGIN * 2.0);
        let caps_top = height - MARGIN - CAP_ROW * caps.len() as f32;
        let metrics = self.metrics([base + Mm(10.0), caps_top - Mm(4.0)]);
        for (side, name) in ["before", "after"].into_iter().enumerate() {
            let at = [metrics.left[side], metrics.top - metrics.row * 0.45];
            items.push(Item::text(at, name.to_owned(), (9.0, Face::Regular), QUIET));
        }
        self.bands(&metrics, &mut items);
        for (side, rows) in self.sides.iter().enumerate() {
            for (index, row) in rows.iter().take(metrics.rows).enumerate() {
                metrics.draw(row, (side, index), self.inks, &mut items);
            }
            let more = rows.len().saturating_sub(metrics.rows);
            if more > 0 {
                let at = [metrics.left[side], metrics.top + metrics.row * (metrics.rows as f32 + 0.8)];
                items.push(Item::text(at, format!("… {more} more lines"), (8.0, Face::Regular), QUIET));
            }
        }
        // The keys are drawn below what they did, not at the foot of an empty sheet.
        let below = metrics.top + metrics.row * metrics.rows as f32 + Mm(14.0);
        let top = if below < caps_top { below } else { caps_top };
        for (row, caps) in caps.iter().enumerate() {
            draw_caps(caps, top + CAP_ROW * row as f32, &mut items);
        }
        if self.inks == Inks::Greys {
            items.iter_mut().for_each(to_grey);
        }
        Drawing { title: self.title.clone(), size: [paper, height], items }
    }

    /// The largest letters with which all rows have room, else the smallest.
    fn metrics(&self, [top, bottom]: [Mm; 2]) -> Metrics {
        let count = self.sides.iter().map(Vec::len).max().unwrap_or(0);
        let wide = (self.paper.size()[0] - MARGIN * 2.0 - BETWEEN) * 0.5;
        let mut points = LARGEST;
        loop {
            let size = Mm::points(points);
            let row = size * 1.35;
            let rows = (((bottom - top).0 / row.0) as usize).max(2);
            if rows >= count || points <= SMALLEST {
                let rows = if rows >= count { count } else { rows - 1 };
                let cell = width("0", size, Face::Mono);
                let left = [MARGIN, MARGIN + wide + BETWEEN];
                return Metrics { size, cell, row, top, left, wide, rows };
            }
            points -= 0.5;
        }
    }

    /// Bands from the rows that moved to where they are afterwards.
    fn bands(&self, metrics: &Metrics, items: &mut Vec<Item>) {
        for band in &self.bands {
            let [from, to] = [&band.from, &band.to]
                .map(|rows| [rows.start, rows.end].map(|row| metrics.top + metrics.row * row.min(metrics.rows) as f32));
            if from[0] == from[1] || to[0] == to[1] {
                continue;
            }
            let (left, right) = (metrics.left[0] + metrics.wide, metrics.left[1]);
            let corners = vec![[left, from[0]], [right, to[0]], [right, to[1]], [left, from[1]]];
            let edges = [[corners[0], corners[1]], [corners[3], corners[2]]];
            items.push(Item::Shape { corners, fill: MOVED });
            items.extend(edges.map(|[from, to]| Item::Line { from, to, stroke: (EDGE, Mm(0.15)) }));
        }
    }

    /// The keys in rows, each with how wide it is; what has no room is counted.
    fn caps(&self, room: Mm) -> Vec<Vec<(Cap, Mm)>> {
        let mut rows: Vec<Vec<(Cap, Mm)>> = Vec::new();
        let mut used = Mm(0.0);
        for (index, cap) in self.keys.iter().enumerate() {
            let key = fitting(&cap.key, room * 0.5, Mm::points(9.0), Face::Bold).into_iter().next().unwrap_or_default();
            let cap = Cap { key, did: cap.did.clone() };
            let own = width(&cap.key, Mm::points(9.0), Face::Bold) + Mm(5.0);
            let wide = own.0.max(width(&cap.did, Mm::points(7.0), Face::Regular).0 + 1.0);
            let wide = Mm(wide.min(room.0));
            if rows.is_empty() || (used + wide).0 > room.0 {
                if rows.len() == CAP_ROWS {
                    let left = self.keys.len() - index;
                    let told = Cap { key: "…".to_owned(), did: format!("{left} more") };
                    // The last of the row makes room for it.
                    rows.iter_mut().last().into_iter().for_each(|row| {
                        row.pop();
                        row.push((told.clone(), Mm(12.0)));
                    });
                    break;
                }
                rows.push(Vec::new());
                used = Mm(0.0);
            }
            used = used + wide + Mm(2.5);
            rows.iter_mut().last().into_iter().for_each(|row| row.push((cap.clone(), wide)));
        }
        rows
    }
}

impl Metrics {
    fn draw(&self, row: &SideRow, (side, index): (usize, usize), inks: Inks, items: &mut Vec<Item>) {
        let corner = [self.left[side], self.top + self.row * index as f32];
        let fill = match row.fate {
            Fate::Gone => Some(GONE),
            Fate::Come => Some(COME),
            Fate::Moved => Some(MOVED),
            Fate::Same | Fate::Changed => None,
        };
        if let Some(fill) = fill {
            items.push(filled(corner, [self.wide, self.row], fill));
        }
        match row.number {
            Some(number) => items.push(self.letters(corner, 0, format!("{number:>4}"), QUIET)),
            None => {
                items.push(self.letters(corner, NUMBER_CELLS + SIGN_CELLS, row.text.clone(), QUIET));
                return;
            }
        }
        let sign = match row.fate {
            Fate::Gone => "−",
            Fate::Come => "+",
            Fate::Changed => "~",
            Fate::Moved | Fate::Same => "",
        };
        if !sign.is_empty() {
            items.push(self.letters(corner, NUMBER_CELLS, sign.to_owned(), BLACK));
        }
        let stretches = row.selected.iter().map(|cells| (cells, SELECTED));
        for (cells, fill) in stretches.chain(row.changed.iter().map(|cells| (cells, CHANGED))) {
            let [from, to] = [cells.start, cells.end.max(cells.start)].map(|cell| self.place(corner, cell));
            items.push(filled([from, corner[1]], [to - from, self.row], fill));
        }
        self.draw_text(row, corner, items);
        // Greys alone would not tell what is another, and what is selected.
        for cells in row.changed.iter().chain(if inks == Inks::Greys { &row.selected[..] } else { &[] }) {
            let [from, to] =
                [cells.start, cells.end].map(|cell| [self.place(corner, cell), corner[1] + self.row * 0.94]);
            items.push(Item::Line { from, to, stroke: (BLACK, Mm(0.25)) });
        }
        for caret in &row.carets {
            let x = self.place(corner, *caret);
            items.push(Item::Line { from: [x, corner[1]], to: [x, corner[1] + self.row], stroke: (CARET, Mm(0.55)) });
        }
    }

    /// The text of a row; what goes is struck through.
    fn draw_text(&self, row: &SideRow, corner: [Mm; 2], items: &mut Vec<Item>) {
        let most = self.most();
        let is_long = row.text.chars().count() > most;
        let shown: String =
            if is_long { row.text.chars().take(most - 1).chain(['…']).collect() } else { row.text.clone() };
        if shown.trim().is_empty() {
            return;
        }
        let blanks = shown.len() - shown.trim_start().len();
        let first = shown[..blanks].chars().count();
        items.push(self.letters(corner, NUMBER_CELLS + SIGN_CELLS + first, shown.trim().to_owned(), BLACK));
        if row.fate == Fate::Gone {
            let y = corner[1] + self.row * 0.52;
            let [from, to] = [first, shown.trim_end().chars().count()].map(|cell| [self.place(corner, cell), y]);
            items.push(Item::Line { from, to, stroke: (BLACK, Mm(0.2)) });
        }
    }

    /// How many cells of a text there is room for.
    fn most(&self) -> usize {
        ((self.wide.0 / self.cell.0) as usize).saturating_sub(NUMBER_CELLS + SIGN_CELLS).max(2)
    }

    /// Where a cell of the text of a row begins.
    fn place(&self, [left, _]: [Mm; 2], cell: usize) -> Mm {
        left + self.cell * (NUMBER_CELLS + SIGN_CELLS + cell.min(self.most())) as f32
    }

    fn letters(&self, [left, top]: [Mm; 2], cell: usize, text: String, ink: Ink) -> Item {
        let at = [left + self.cell * cell as f32, top + self.row * 0.74];
        Item::Text { at, text, size: self.size, face: Face::Mono, ink, align: Align::Start }
    }
}

fn draw_caps(caps: &[(Cap, Mm)], top: Mm, items: &mut Vec<Item>) {
    let mut x = MARGIN;
    for (cap, wide) in caps {
        let own = width(&cap.key, Mm::points(9.0), Face::Bold) + Mm(5.0);
        items.push(Item::Box { at: [x, top], size: [own, CAP_HEIGHT], fill: Ink::grey(244), edge: (EDGE, Mm(0.25)) });
        items.push(Item::text([x + Mm(2.5), top + Mm(4.4)], cap.key.clone(), (9.0, Face::Bold), BLACK));
        if !cap.did.is_empty() {
            items.push(Item::text([x, top + CAP_HEIGHT + Mm(3.4)], cap.did.clone(), (7.0, Face::Regular), QUIET));
        }
        x = x + *wide + Mm(2.5);
    }
}

fn filled(at: [Mm; 2], size: [Mm; 2], fill: Ink) -> Item {
    Item::Box { at, size, fill, edge: (fill, Mm(0.0)) }
}

fn to_grey(item: &mut Item) {
    match item {
        Item::Box { fill, edge, .. } => {
            *fill = fill.in_grey();
            edge.0 = edge.0.in_grey();
        }
        Item::Line { stroke, .. } => stroke.0 = stroke.0.in_grey(),
        Item::Shape { fill, .. } => *fill = fill.in_grey(),
        Item::Text { ink, .. } => *ink = ink.in_grey(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{outside, pdf, svg};

    fn row(number: usize, text: &str, fate: Fate) -> SideRow {
        SideRow { number: Some(number), text: text.to_owned(), fate, ..SideRow::default() }
    }

    fn sheet(rows: usize) -> EditSheet {
        let before = (0..rows).map(|index| row(index + 1, "    let ebb = 3;", Fate::Moved)).collect();
        let mut after: Vec<SideRow> = (0..rows).map(|index| row(index + 1, &"flow ".repeat(60), Fate::Come)).collect();
        after[0].carets = vec![0, 4];
        after[0].changed.push(2..5);
        after[0].selected.push(1..900);
        let cap = |index: usize| Cap { key: format!("Alt+{index}"), did: "carry down".to_owned() };
        EditSheet {
            title: "tides.rs: carry".to_owned(),
            sides: [before, after],
            bands: vec![Band { from: 0..1, to: 1..2 }],
            keys: (0..80).map(cap).collect(),
            ..EditSheet::default()
        }
    }

    #[test]
    fn everything_is_inside_the_paper_however_much_there_is() {
        for (rows, paper) in [(1, Paper::A4), (30, Paper::Letter), (500, Paper::A4)] {
            assert_eq!(outside(&EditSheet { paper, ..sheet(rows) }.drawing()), None);
        }
    }

    #[test]
    fn greys_have_no_colour_and_the_same_bytes_come_twice() {
        let grey = EditSheet { inks: Inks::Greys, ..sheet(4) };
        for part in svg(&grey.drawing()).split("=\"#").skip(1) {
            assert!(part[..2] == part[2..4] && part[2..4] == part[4..6], "{}", &part[..6]);
        }
        assert_eq!(pdf(&grey.drawing()).unwrap(), pdf(&grey.drawing()).unwrap());
        assert!(svg(&sheet(4).drawing()).contains("xml:space=\"preserve\""));
    }
}
