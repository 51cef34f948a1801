//! The text in view: clusters at their cells, chips for what a terminal must not get, selections, carets.

use super::highlight::stretches;
use super::layout::{Area, lines_in_view};
use super::{fill, put};
use crate::app::App;
use crate::document::Document;
use crate::palette::Role;
use crate::panels::Panel;
use ratatui::buffer::Buffer;
use ratatui::style::Style;
use snarvel_core::cursors::Selection;
use snarvel_core::structure::Paints;
use snarvel_core::text::cells::{chip, cluster_cells, places_from};
use snarvel_core::units::{Byte, Cell, Line, Span};
use snarvel_core::verbs::brackets::pair_at;
use snarvel_core::verbs::clip::Clip;
use snarvel_core::verbs::scene::{Scene, counted};

/// Bytes of a line that are looked at for each cell up to the right edge: more than any cluster that a person
/// writes, so that a line of any length draws in the time of a short one.
const BYTES_PER_CELL: usize = 32;

/// Draws the part of `document` that is in view into `area`, over `ground`.
pub(super) fn draw(app: &App, document: &Document, area: Area, ground: Style, buffer: &mut Buffer) {
    let text = document.editor.text();
    let lines: Vec<Line> = lines_in_view(document, usize::from(area.rows)).collect();
    let (Some(first), Some(last)) = (lines.first(), lines.last()) else { return };
    let span = Span::new(text.line_start(*first), text.line_span(*last).end);
    let paints = Some(span).filter(|span| span.len() <= LONGEST_PAINTED).and_then(|span| document.editor.painted(span));
    let brackets = brackets(document, lines.len());
    let overlays = if std::ptr::eq(document, app.shown()) { overlays(app, span) } else { Vec::new() };
    for (y, line) in lines.into_iter().enumerate() {
        let row = Area { y: area.y + y as u16, rows: 1, ..area };
        let is_lit = lit_line(app) == Some(line);
        let ground = if is_lit { app.palette.style(Role::Raised) } else { ground };
        if is_lit {
            fill(buffer, row, ground);
        }
        let overlays = &overlays[..];
        LinePainter { brackets, overlays, ..LinePainter::new(app, document, (row, line), ground) }
            .paint(buffer, paints.as_ref());
    }
}

/// What sift shows in `span`: hits, or what a replacement would take away and bring; in order.
fn overlays(app: &App, span: Span) -> Vec<(Span, Role)> {
    let Some(Panel::Sift(sift)) = &app.panel else { return Vec::new() };
    if let Some(trial) = &sift.then {
        let gone = trial.gone.iter().map(|span| (*span, Role::Gone));
        let mut all: Vec<_> = gone.chain(trial.come.iter().map(|span| (*span, Role::Come))).collect();
        all.sort_by_key(|(span, _)| *span);
        return all;
    }
    let chosen = sift.chosen_span();
    let role = |hit: &Span| if Some(*hit) == chosen { Role::HitHere } else { Role::Hit };
    app.hits_in(span).into_iter().map(|hit| (hit, role(&hit))).collect()
}

/// The line that the open panel speaks of.
fn lit_line(app: &App) -> Option<Line> {
    match &app.panel {
        Some(Panel::Outline(outline)) => outline.line(),
        Some(Panel::Sift(sift)) => {
            let hit = sift.chosen_span()?.start;
            // What comes before it moves it on in the text as it would be.
            let grown = sift.then.iter().flat_map(|trial| trial.come.iter().zip(&trial.gone));
            let at = grown.fold(hit, |at, (come, gone)| if gone.start < at { at + come.len() } else { at });
            let text = app.shown().editor.text();
            (at <= text.end()).then(|| text.line_of(at))
        }
        _ => None,
    }
}

/// The bracket at the primary caret and the one that answers it, if that may be in view.
fn brackets(document: &Document, lines: usize) -> Option<[Byte; 2]> {
    let primary = document.editor.cursors().primary();
    let pair = |scene: &Scene| pair_at(scene, primary.head, lines);
    primary.is_caret().then(|| document.editor.with_scene(&Clip::default(), pair)).flatten()
}

/// So many bytes of white space at a line's end are shown as such.
const MOST_TRAILING: usize = 256;

/// What is in view is painted by the structure up to this many bytes: a line may be longer than a file should be.
const LONGEST_PAINTED: usize = 256 << 10;

struct LinePainter<'a> {
    app: &'a App,
    document: &'a Document,
    row: Area,
    line: Line,
    content: Span,
    /// The selections that touch the line.
    here: &'a [Selection],
    /// The pins that touch it.
    pins: &'a [Selection],
    ground: Style,
    brackets: Option<[Byte; 2]>,
    /// What sift shows, in order.
    overlays: &'a [(Span, Role)],
}

/// What a cell gets: its characters, their style, and how many cells they are wide.
struct Glyph<'a> {
    characters: &'a str,
    style: Style,
    cell: Cell,
    cells: u32,
}

impl<'a> LinePainter<'a> {
    fn new(app: &'a App, document: &'a Document, (row, line): (Area, Line), ground: Style) -> LinePainter<'a> {
        let content = document.editor.text().content_span(line);
        let touching = |list: &'a [Selection]| {
            let first = list.partition_point(|each| each.end() < content.start);
            let count = list[first..].partition_point(|each| each.start() <= content.end);
            &list[first..first + count]
        };
        let (here, pins) = (touching(document.editor.cursors().list()), touching(document.editor.pins()));
        LinePainter { app, document, row, line, content, here, pins, ground, brackets: None, overlays: &[] }
    }

    fn paint(&self, buffer: &mut Buffer, paints: Option<&Paints>) {
        let text = self.document.editor.text();
        let tabs = self.document.editor.layout().tabs;
        let left = self.document.view.left;
        let first = text.place_at(self.line, left, tabs);
        let reach = BYTES_PER_CELL * (usize::from(self.row.cols) + 8);
        let end = text.snap_back(self.content.end.min(first.at + reach)).max(first.at);
        let shown = Span::new(first.at, end);
        let content = text.slice(shown);
        let colours = stretches(self.document, self.line, shown, paints);
        let mut colours = colours.iter().peekable();
        let mut behind = first.cell;
        for (place, cluster) in places_from(&content, first, tabs) {
            let cells = cluster_cells(cluster, place.cell, tabs);
            behind = place.cell + cells;
            if place.cell.0 >= left.0 + u32::from(self.row.cols) {
                break;
            }
            let offset = place.at - first.at;
            while colours.next_if(|(range, _)| range.end <= offset).is_some() {}
            let role = colours.peek().filter(|(range, _)| range.contains(&offset)).map(|(_, role)| *role);
            self.cluster(
                buffer,
                place.at,
                role,
                &Glyph { characters: cluster, style: Style::new(), cell: place.cell, cells },
            );
        }
        self.line_end(buffer, behind, end);
        self.fold(buffer, behind);
        self.edges(buffer, behind, left);
    }

    fn cluster(&self, buffer: &mut Buffer, at: Byte, role: Option<Role>, glyph: &Glyph) {
        let palette = self.app.palette;
        let mut style = self.ground;
        if let Some(role) = role {
            style = style.patch(palette.style(role));
        }
        if let Some(role) = self.overlay(at) {
            style = style.patch(palette.style(role));
        }
        let is_selected = self.here.iter().any(|each| each.start() <= at && at < each.end());
        if is_selected {
            style = style.patch(palette.style(Role::Selection));
        }
        if self.pins.iter().any(|pin| pin.start() <= at && at < pin.end().max(pin.start() + 1)) {
            style = style.patch(palette.style(Role::Pin));
        }
        if self.brackets.is_some_and(|pair| pair.contains(&at)) {
            style = style.patch(palette.style(Role::Bracket));
        }
        let chip = chip(glyph.characters);
        let shown = match (glyph.characters, &chip) {
            ("\t", _) if is_selected => "→",
            ("\t", _) => " ",
            (" ", _) if is_selected && self.is_trailing(at) => "·",
            (_, Some(chip)) => chip,
            (cluster, None) if is_selected && is_unusual_space(cluster) => "⍽",
            (cluster, None) => cluster,
        };
        if chip.is_some() && glyph.characters != "\t" {
            style = style.patch(palette.style(Role::Chip));
        }
        if matches!(shown, "→" | "·" | "⍽") {
            style = Style { fg: palette.style(Role::Quiet).fg, ..style };
        }
        let glyph = Glyph { characters: shown, style, ..*glyph };
        self.stamp(buffer, &glyph, self.caret_style(at));
    }

    /// What sift shows at `at`. A place without text is shown on what stands there.
    fn overlay(&self, at: Byte) -> Option<Role> {
        let behind = self.overlays.partition_point(|(span, _)| span.start <= at);
        let (span, role) = self.overlays[..behind].last()?;
        let covers = at < span.end || (span.is_empty() && span.start == at);
        covers.then_some(*role)
    }

    fn caret_style(&self, at: Byte) -> Option<Style> {
        let caret = self.here.iter().find(|each| each.head == at)?;
        let is_primary = *caret == self.document.editor.cursors().primary();
        Some(self.app.palette.style(if is_primary { Role::Primary } else { Role::Other }))
    }

    fn is_trailing(&self, at: Byte) -> bool {
        let is_near = self.content.end - at <= MOST_TRAILING;
        is_near && self.document.editor.text().slice(Span::new(at, self.content.end)).trim_start().is_empty()
    }

    /// Writes a glyph where it is in view; the caret covers its first cell only where it is a tab.
    fn stamp(&self, buffer: &mut Buffer, glyph: &Glyph, caret: Option<Style>) {
        let left = self.document.view.left.0;
        let right = left + u32::from(self.row.cols);
        let style = match caret {
            Some(caret) => glyph.style.patch(caret),
            None => glyph.style,
        };
        if glyph.cell.0 < left || glyph.cell.0 + glyph.cells > right {
            // A wide cluster that an edge cuts leaves its cells blank.
            for cell in glyph.cell.0.max(left)..(glyph.cell.0 + glyph.cells).min(right) {
                put(buffer, self.row, (cell - left) as u16, " ", style);
            }
            return;
        }
        let x = (glyph.cell.0 - left) as u16;
        for offset in 1..glyph.cells as u16 {
            put(buffer, self.row, x + offset, " ", glyph.style);
        }
        put(buffer, self.row, x, glyph.characters, style);
    }

    /// The cell behind the content: a caret at the line's end, a selected line end.
    fn line_end(&self, buffer: &mut Buffer, cell: Cell, end: Byte) {
        if end != self.content.end {
            return;
        }
        let palette = self.app.palette;
        let is_selected = self.here.iter().any(|each| each.start() <= end && end < each.end());
        let style = match is_selected {
            true => self.ground.patch(palette.style(Role::Selection)),
            false => self.ground,
        };
        let caret = self.caret_style(end);
        if is_selected || caret.is_some() {
            self.stamp(buffer, &Glyph { characters: " ", style, cell, cells: 1 }, caret);
        }
    }

    /// How many lines are folded under this one.
    fn fold(&self, buffer: &mut Buffer, behind: Cell) {
        let text = self.document.editor.text();
        let last = self.document.editor.folds().last_under(text, self.line);
        let x = (behind.0 + 1).saturating_sub(self.document.view.left.0);
        if last > self.line && x < u32::from(self.row.cols) {
            let said = format!(" … {} ", counted(last.0 - self.line.0, "line"));
            put(buffer, self.row, x as u16, &said, self.app.palette.style(Role::RaisedQuiet));
        }
    }

    /// Signs that the line goes on beyond an edge.
    fn edges(&self, buffer: &mut Buffer, behind: Cell, left: Cell) {
        let style = self.app.palette.style(Role::PrimarySign);
        if left.0 > 0 && behind.0 > 0 {
            put(buffer, self.row, 0, "‹", style);
        }
        if behind.0 > left.0 + u32::from(self.row.cols) {
            put(buffer, self.row, self.row.cols.saturating_sub(1), "›", style);
        }
    }
}

fn is_unusual_space(cluster: &str) -> bool {
    cluster != " " && cluster != "\u{3000}" && cluster.chars().all(char::is_whitespace)
}
