//! The text in view: clusters at their cells, chips for what a terminal must not get, selections, carets.

use super::canvas::{Area, fill, harmless, put};
use super::highlight::stretches;
use super::marks::TextMarks;
use crate::palette::{Palette, Role};
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::cursors::Selection;
use snarvel_core::rows::Row;
use snarvel_core::text::cells::{CellPlace, TabWidth, chip, cluster_cells, places_from};
use snarvel_core::units::{Byte, Cell, Line, Span};
use snarvel_core::verbs::scene::{Scene, counted};
use snarvel_core::verbs::selects::brackets::pair_at;
use snarvel_servers::news::FaultKind;
use snarvel_syntax::background::Need;
use snarvel_syntax::paints::Paints;
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::offering::seen::Seen;
use snarvel_workspace::view::scrolling::{lines_in_view, rows_in_view};
use snarvel_workspace::view::{Preview, View};
use unicode_segmentation::UnicodeSegmentation;

/// Bytes of a line that are looked at for each cell up to the right edge: more than any cluster that a person
/// writes, so that a line of any length draws in the time of a short one.
const BYTES_PER_CELL: usize = 32;

/// Draws the part of `view` that is in view into `area`, over its background, with what a panel shows on it.
pub fn draw(
    palette: &Palette,
    (buffer, view): (&Buffer, &View),
    (area, background): (Area, Style),
    (marks, grid): (&TextMarks, &mut Grid),
) {
    let rows = rows_in_view(view, buffer, usize::from(area.rows));
    let (Some(first), Some(last)) = (rows.first(), rows.last()) else { return };
    let is_wrapped = view.wrap_width(buffer).is_some();
    let span = match is_wrapped {
        true => Span::new(first.span.start, last.span.end),
        false => Span::new(first.span.start, buffer.text().line_span(last.line).end),
    };
    let paints = Some(span)
        .filter(|span| span.len() <= LONGEST_PAINTED)
        .and_then(|span| buffer.parsing.painted(span, buffer.revision()));
    let paints = match (paints, &marks.meant) {
        (Some(paints), Some(meant)) => Some(paints.overlaid(meant)),
        (paints, _) => paints,
    };
    let places = pins_and_stops((buffer, view), span);
    let brackets = if marks.hides_cursors { None } else { brackets((buffer, view), rows.len()) };
    for (y, shown) in rows.into_iter().enumerate() {
        let row = Area { y: area.y + y as u16, rows: 1, ..area };
        let is_lit = marks.lit == Some(shown.line);
        let background = if is_lit { palette.style(Role::Raised) } else { background };
        if is_lit {
            fill(grid, row, background);
        }
        let overlays = &marks.overlays[..];
        let painter = LinePainter::new(palette, (buffer, view), (row, shown), background);
        let here = if marks.hides_cursors { &[] } else { painter.here };
        let touches = |from: Byte, to: Byte| from <= painter.content.end && to >= painter.content.start;
        let pins: Vec<Span> = places.iter().filter(|pin| touches(pin.start, pin.end)).copied().collect();
        let first = marks.ghosts.partition_point(|ghost| ghost.at < painter.content.start);
        let count = marks.ghosts[first..].partition_point(|ghost| ghost.at <= painter.content.end);
        let ghosts = &marks.ghosts[first..first + count];
        let faults: Vec<(Span, FaultKind)> =
            marks.faults.iter().filter(|(span, _)| touches(span.start, span.end)).copied().collect();
        let over = Over { overlays, faults: &faults, is_hollow: marks.is_elsewhere };
        LinePainter { here, brackets, over, pins: &pins, ghosts, ..painter }.paint(grid, paints.as_ref());
    }
}

/// The pins, and the stops of templates that are still to come, which touch `span`.
fn pins_and_stops((buffer, view): (&Buffer, &View), span: Span) -> Vec<Span> {
    let pins = view.pins(buffer);
    let first = pins.partition_point(|pin| pin.end < span.start);
    let count = pins[first..].partition_point(|pin| pin.start <= span.end);
    let stops = if view.stops().is_open() { view.stops().elsewhere(view.id, buffer, span) } else { Vec::new() };
    pins[first..first + count].iter().copied().chain(stops).collect()
}

/// The span of `lines`; none if there are none.
#[must_use]
pub fn span_of(buffer: &Buffer, lines: &[Line]) -> Option<Span> {
    let (first, last) = (lines.first()?, lines.last()?);
    Some(Span::new(buffer.text().line_start(*first), buffer.text().line_span(*last).end))
}

/// Asks for the colours of what is in view, where the text is not too long for that.
pub fn request_colours((buffer, view): (&mut Buffer, &mut View), rows: usize) {
    if let Some(preview) = &mut view.preview {
        let Preview { buffer, view, .. } = &mut **preview;
        request_colours((buffer, view), rows);
        return;
    }
    let lines = lines_in_view(view, buffer, rows);
    let span: Option<Span> = span_of(buffer, &lines);
    if let Some(span) = span.filter(|span| span.len() <= LONGEST_PAINTED) {
        buffer.request(span, Need::Colours);
    }
}

/// The bracket at the primary caret and the one that answers it, if that may be in view.
fn brackets((buffer, view): (&Buffer, &View), lines: usize) -> Option<[Byte; 2]> {
    let primary = view.cursors().primary();
    let pair = |scene: &Scene| pair_at(scene, primary.head, lines);
    primary.is_caret().then(|| view.with_scene(buffer, pair)).flatten()
}

/// Columns of the sign of a row that goes on with its line, and of the space after it.
const SIGN_COLS: u16 = 2;

/// So many bytes of white space at a line's end are shown as such.
const MOST_TRAILING: usize = 256;

/// What is in view is painted by the structure up to this many bytes: a line may be longer than a file should be.
const LONGEST_PAINTED: usize = 256 << 10;

struct LinePainter<'a> {
    palette: &'a Palette,
    buffer: &'a Buffer,
    view: &'a View,
    row: Area,
    shown: Shown,
    content: Span,
    /// The selections that touch the line.
    here: &'a [Selection],
    /// The pins and stops that touch it.
    pins: &'a [Span],
    /// What would come on it if an offer were taken, in order.
    ghosts: &'a [Seen],
    background: Style,
    brackets: Option<[Byte; 2]>,
    over: Over<'a>,
}

/// What of a line is shown.
struct Shown {
    line: Line,
    /// The row of the text, where lines are wrapped.
    part: Option<Row>,
    /// The first column.
    left: Cell,
}

/// What is drawn over the text of a line.
struct Over<'a> {
    /// What panels show, in order.
    overlays: &'a [(Span, Role)],
    /// What is wrong.
    faults: &'a [(Span, FaultKind)],
    /// Whether the primary caret is drawn as the others are.
    is_hollow: bool,
}

/// What a cell gets: its characters, their style, and how many cells they are wide.
struct Glyph<'a> {
    characters: &'a str,
    style: Style,
    cell: Cell,
    cells: u32,
}

impl<'a> LinePainter<'a> {
    fn new(
        palette: &'a Palette,
        (buffer, view): (&'a Buffer, &'a View),
        (row, own): (Area, Row),
        background: Style,
    ) -> LinePainter<'a> {
        let line = own.line;
        let part = view.wrap_width(buffer).map(|_| own);
        let content = part.map_or_else(|| buffer.text().content_span(line), |part| part.span);
        // What is wrapped begins further in, and is never scrolled across.
        let indent = part.map_or(0, |part| part.indent as u16).min(row.cols);
        let row = Area { x: row.x + indent, cols: row.cols - indent, ..row };
        let left = part.map_or(view.scroll.left, |part| part.first);
        let list = view.cursors().list();
        let first = list.partition_point(|each| each.end() < content.start);
        let count = list[first..].partition_point(|each| each.start() <= content.end);
        let here = &list[first..first + count];
        LinePainter {
            palette,
            buffer,
            view,
            row,
            shown: Shown { line, part, left },
            content,
            here,
            pins: &[],
            ghosts: &[],
            background,
            brackets: None,
            over: Over { overlays: &[], faults: &[], is_hollow: false },
        }
    }

    fn paint(&self, grid: &mut Grid, paints: Option<&Paints>) {
        let text = self.buffer.text();
        let tabs = self.buffer.settings().tabs;
        let left = self.shown.left;
        let first = match &self.shown.part {
            Some(part) => CellPlace { at: part.span.start, cell: part.first },
            None => text.place_at(self.shown.line, left, tabs),
        };
        let reach = BYTES_PER_CELL * (usize::from(self.row.cols) + 8);
        let end = text.snap_back(self.content.end.min(first.at + reach)).max(first.at);
        let shown = Span::new(first.at, end);
        let content = text.slice(shown);
        let colours = stretches(self.buffer, self.shown.line, shown, paints);
        let mut colours = colours.iter().peekable();
        let (mut after, mut shift) = (first.cell, 0);
        for (place, cluster) in places_from(&content, first, tabs) {
            let cells = cluster_cells(cluster, place.cell, tabs);
            shift += self.ghost(grid, place.at, place.cell + shift);
            let place = CellPlace { cell: place.cell + shift, ..place };
            after = place.cell + cells;
            if place.cell.0 >= left.0 + u32::from(self.row.cols) {
                break;
            }
            let offset = place.at - first.at;
            while colours.next_if(|(range, _)| range.end <= offset).is_some() {}
            let role = colours.peek().filter(|(range, _)| range.contains(&offset)).map(|(_, role)| *role);
            self.cluster(
                grid,
                place.at,
                role,
                &Glyph { characters: cluster, style: Style::new(), cell: place.cell, cells },
            );
        }
        let shift = if end == self.content.end { self.ghost(grid, end, after) } else { 0 };
        let after = after + shift;
        if self.shown.part.is_none_or(|part| part.ends(text)) {
            self.line_end(grid, after, end);
            self.fold(grid, after);
        }
        match &self.shown.part {
            Some(part) if !part.begins(text) => self.goes_on(grid),
            Some(_) => {}
            None => self.edges(grid, after, left),
        }
    }

    fn cluster(&self, grid: &mut Grid, at: Byte, role: Option<Role>, glyph: &Glyph) {
        let palette = self.palette;
        let mut style = self.background;
        if let Some(role) = role {
            style = style.patch(palette.style(role));
        }
        if let Some(role) = self.fault(at) {
            style = style.patch(palette.style(role));
        }
        if let Some(role) = self.overlay(at) {
            style = style.patch(palette.style(role));
        }
        let is_selected = self.here.iter().any(|each| each.start() <= at && at < each.end());
        if is_selected {
            style = style.patch(palette.style(Role::Selection));
        }
        if self.pins.iter().any(|pin| pin.start <= at && at < pin.end.max(pin.start + 1)) {
            style = style.patch(palette.style(Role::Pin));
        }
        if self.ghosts.iter().any(|ghost| ghost.gone.start <= at && at < ghost.gone.end) {
            style = style.patch(palette.style(Role::Gone));
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
        self.stamp(grid, &glyph, self.caret_style(at));
    }

    /// How what is wrong at `at` is drawn, the worst of it. A place without text is shown on what is there.
    fn fault(&self, at: Byte) -> Option<Role> {
        let covers = |(span, _): &&(Span, FaultKind)| {
            span.start <= at && (at < span.end || (span.is_empty() && span.start == at))
        };
        let worst = self.over.faults.iter().filter(covers).map(|(_, kind)| *kind).min()?;
        Some(match worst {
            FaultKind::Error => Role::ErrorText,
            FaultKind::Warning => Role::WarningText,
            FaultKind::Note => Role::NoteText,
        })
    }

    /// What sift shows at `at`. A place without text is shown on what is there.
    fn overlay(&self, at: Byte) -> Option<Role> {
        let after = self.over.overlays.partition_point(|(span, _)| span.start <= at);
        let (span, role) = self.over.overlays[..after].last()?;
        let covers = at < span.end || (span.is_empty() && span.start == at);
        covers.then_some(*role)
    }

    /// Draws what would come at `at` from `cell` on, the caret on its first character; gives the cells that it takes.
    fn ghost(&self, grid: &mut Grid, at: Byte, cell: Cell) -> u32 {
        let Some(ghost) = self.ghosts.iter().find(|ghost| ghost.at == at) else { return 0 };
        let style = self.background.patch(Style { bg: None, ..self.palette.style(Role::Ghost) });
        let caret = self.here.iter().any(|each| each.head == at).then(|| self.caret_at(at)).flatten();
        let clean = harmless(&ghost.come);
        let mut cells = 0;
        for cluster in clean.graphemes(true) {
            let wide = cluster_cells(cluster, cell + cells, TabWidth(1));
            let glyph = Glyph { characters: cluster, style, cell: cell + cells, cells: wide };
            self.stamp(grid, &glyph, caret.filter(|_| cells == 0));
            cells += wide;
        }
        cells
    }

    fn caret_style(&self, at: Byte) -> Option<Style> {
        // A ghost that begins there bears the caret.
        let is_taken = self.ghosts.iter().any(|ghost| ghost.at == at && !ghost.come.is_empty());
        if is_taken { None } else { self.caret_at(at) }
    }

    fn caret_at(&self, at: Byte) -> Option<Style> {
        let caret = self.here.iter().find(|each| each.head == at)?;
        let is_primary = *caret == self.view.cursors().primary() && !self.over.is_hollow;
        Some(self.palette.style(if is_primary { Role::Primary } else { Role::Other }))
    }

    fn is_trailing(&self, at: Byte) -> bool {
        let is_near = self.content.end - at <= MOST_TRAILING;
        is_near && self.buffer.text().slice(Span::new(at, self.content.end)).trim_start().is_empty()
    }

    /// Writes a glyph where it is in view; the caret covers its first cell only where it is a tab.
    fn stamp(&self, grid: &mut Grid, glyph: &Glyph, caret: Option<Style>) {
        let left = self.shown.left.0;
        let right = left + u32::from(self.row.cols);
        let style = match caret {
            Some(caret) => glyph.style.patch(caret),
            None => glyph.style,
        };
        if glyph.cell.0 < left || glyph.cell.0 + glyph.cells > right {
            // A wide cluster that an edge cuts leaves its cells blank.
            for cell in glyph.cell.0.max(left)..(glyph.cell.0 + glyph.cells).min(right) {
                put(grid, (self.row, (cell - left) as u16), " ", style);
            }
            return;
        }
        let x = (glyph.cell.0 - left) as u16;
        for offset in 1..glyph.cells as u16 {
            put(grid, (self.row, x + offset), " ", glyph.style);
        }
        put(grid, (self.row, x), glyph.characters, style);
    }

    /// The cell after the content: a caret at the line's end, a selected line end.
    fn line_end(&self, grid: &mut Grid, cell: Cell, end: Byte) {
        if end != self.content.end {
            return;
        }
        let palette = self.palette;
        let is_selected = self.here.iter().any(|each| each.start() <= end && end < each.end());
        let style = match is_selected {
            true => self.background.patch(palette.style(Role::Selection)),
            false => self.background,
        };
        let is_stop = self.pins.iter().any(|pin| pin.is_empty() && pin.start == end);
        let style = if is_stop { style.patch(palette.style(Role::Pin)) } else { style };
        let caret = self.caret_style(end);
        if is_selected || is_stop || caret.is_some() {
            self.stamp(grid, &Glyph { characters: " ", style, cell, cells: 1 }, caret);
        }
    }

    /// How many lines are folded under this one.
    fn fold(&self, grid: &mut Grid, after: Cell) {
        let text = self.buffer.text();
        let last = self.view.folds().last_under(text, self.shown.line);
        let x = (after.0 + 1).saturating_sub(self.shown.left.0);
        if last > self.shown.line && x < u32::from(self.row.cols) {
            let said = format!(" … {} ", counted(last.0 - self.shown.line.0, "line"));
            put(grid, (self.row, x as u16), &said, self.palette.style(Role::RaisedQuiet));
        }
    }

    /// The sign of a row that goes on with its line.
    fn goes_on(&self, grid: &mut Grid) {
        let indent = self.shown.part.map_or(0, |part| part.indent as u16);
        if indent >= SIGN_COLS {
            let sign = Area { x: self.row.x - SIGN_COLS, cols: 1, ..self.row };
            put(grid, (sign, 0), "↳", self.palette.style(Role::Quiet));
        }
    }

    /// Signs that the line goes on beyond an edge.
    fn edges(&self, grid: &mut Grid, after: Cell, left: Cell) {
        let style = self.palette.style(Role::PrimarySign);
        if left.0 > 0 && after.0 > 0 {
            put(grid, (self.row, 0), "‹", style);
        }
        if after.0 > left.0 + u32::from(self.row.cols) {
            put(grid, (self.row, self.row.cols.saturating_sub(1)), "›", style);
        }
    }
}

fn is_unusual_space(cluster: &str) -> bool {
    cluster != " " && cluster != "\u{3000}" && cluster.chars().all(char::is_whitespace)
}
