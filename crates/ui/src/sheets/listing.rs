//! A text as a listing: its rows as they are wrapped, with the colours that it has on the screen and the folds that are put away.

use crate::palette::Role;
use crate::screen::highlight::stretches;
use snarvel_core::folds::Folds;
use snarvel_core::rows::{Row, RowMap};
use snarvel_core::text::cells::{CellPlace, chip, cluster_cells, places_from};
use snarvel_core::units::{Line, Span};
use snarvel_core::verbs::scene::counted;
use snarvel_draw::listing::{Kind, ListedFile, ListedRow, Run};
use snarvel_workspace::buffer::Buffer;
use std::ops::RangeInclusive;

/// The lines `lines` of a text, or all of them, in rows of so many cells. Its colours are those that are known.
#[must_use]
pub fn listed(
    (buffer, folds): (&Buffer, &Folds),
    name: String,
    lines: Option<RangeInclusive<Line>>,
    cells: u32,
) -> ListedFile {
    let text = buffer.text();
    let last_line = match text.last_line() {
        // Behind a final line end there is nothing to list.
        last if last.0 > 0 && text.line_start(last) == text.end() => Line(last.0 - 1),
        last => last,
    };
    let lines = lines.unwrap_or(Line(0)..=last_line);
    let (first, last) = (*lines.start(), (*lines.end()).min(last_line));
    let map = RowMap::new((text, folds), buffer.settings().tabs, Some(cells));
    let paints = buffer.parsing.painted(text.span(), buffer.revision());
    let mut rows = Vec::new();
    if text.is_empty() || first > last {
        return ListedFile { name, rows };
    }
    for row in map.from(map.first_of(first)).take_while(|row| row.line <= last) {
        let mut listed = ListedRow { number: row.begins(text).then_some(row.line.0 + 1), runs: Vec::new() };
        let colours = stretches(buffer, row.line, row.span, paints.as_ref());
        let end = put_runs(buffer, &row, &colours, &mut listed.runs);
        let hidden = folds.last_under(text, row.line).0 - row.line.0;
        if hidden > 0 && row.ends(text) {
            listed.runs.push(Run { cell: end + 1, text: format!("… {}", counted(hidden, "line")), kind: Kind::Chip });
        }
        rows.push(listed);
    }
    ListedFile { name, rows }
}

/// Adds the pieces of a row; gives the cell after them.
fn put_runs(buffer: &Buffer, row: &Row, colours: &[(std::ops::Range<usize>, Role)], runs: &mut Vec<Run>) -> u32 {
    let tabs = buffer.settings().tabs;
    let content = buffer.text().slice(row.span);
    let mut colours = colours.iter().peekable();
    let mut after = row.indent;
    let begin = CellPlace { at: row.span.start, cell: row.first };
    for (place, cluster) in places_from(&content, begin, tabs) {
        let offset = place.at - row.span.start;
        while colours.next_if(|(range, _)| range.end <= offset).is_some() {}
        let role = colours.peek().filter(|(range, _)| range.contains(&offset)).map(|(_, role)| *role);
        let (shown, kind) = match (cluster, chip(cluster)) {
            ("\t", _) => (" ".to_owned(), Kind::Plain),
            (_, Some(chip)) => (chip, Kind::Chip),
            (cluster, None) => (cluster.to_owned(), role.map_or(Kind::Plain, kind_of)),
        };
        let cell = row.indent + (place.cell.0 - row.first.0);
        after = cell + cluster_cells(cluster, place.cell, tabs);
        // Only plain letters are sure to be a cell wide: all else begins anew at its cell.
        match runs.last_mut() {
            Some(run)
                if run.kind == kind
                    && shown.is_ascii()
                    && run.text.is_ascii()
                    && run.cell + run.text.len() as u32 == cell =>
            {
                run.text.push_str(&shown);
            }
            _ => runs.push(Run { cell, text: shown, kind }),
        }
    }
    after
}

fn kind_of(role: Role) -> Kind {
    match role {
        Role::Keyword => Kind::Keyword,
        Role::Type => Kind::Type,
        Role::Function => Kind::Function,
        Role::String => Kind::String,
        Role::Number => Kind::Number,
        Role::Comment => Kind::Comment,
        _ => Kind::Plain,
    }
}

/// The lines that `spans` touch, where there is a selection: from the first to the last.
#[must_use]
pub fn touched(buffer: &Buffer, selected: Option<Span>) -> Option<RangeInclusive<Line>> {
    let span = selected.filter(|span| !span.is_empty())?;
    let text = buffer.text();
    let (first, mut last) = (text.line_of(span.start), text.line_of(span.end));
    // A selection that ends at the start of a line does not touch it.
    if last > first && text.line_start(last) == span.end {
        last = Line(last.0 - 1);
    }
    Some(first..=last)
}
