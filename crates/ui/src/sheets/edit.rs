//! An edit as a sheet: two states of a text, side by side, as far as they differ.
//!
//! Cost: one pass over the lines of both texts to find where they differ; of what differs, at most [`MOST_LINES`] lines are compared.

use similar::{Algorithm, DiffOp, DiffTag, capture_diff_slices};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::text::Text;
use snarvel_core::text::cells::{CellPlace, TabWidth, chip, cluster_cells, places_from};
use snarvel_core::units::{Byte, Cell, Line};
use snarvel_draw::edit::{Band, Fate, SideRow};
use std::collections::{HashMap, VecDeque};
use std::ops::Range;

/// Lines around what differs.
const AROUND: usize = 2;

/// Lines that are looked at on each side at most: a sheet has room for fewer.
const MOST_LINES: usize = 400;

/// A state of a text.
#[derive(Clone, Copy, Debug)]
pub struct State<'a> {
    /// The text.
    pub text: &'a Text,
    /// The cursors in it.
    pub cursors: &'a CursorSet,
}

/// The rows of both sides, and which of them moved.
#[must_use]
pub fn sides(states: [State; 2], tabs: TabWidth) -> ([Vec<SideRow>; 2], Vec<Band>) {
    let parts = touched(states);
    let contents: [Vec<String>; 2] = std::array::from_fn(|side| {
        let text = states[side].text;
        parts[side].clone().map(|line| text.slice(text.content_span(Line(line))).into_owned()).collect()
    });
    let mut rows: [Vec<SideRow>; 2] = std::array::from_fn(|side| {
        let lines = parts[side].clone().zip(&contents[side]);
        lines.map(|(line, content)| row_of(states[side], line, content, tabs)).collect()
    });
    let ops = capture_diff_slices(Algorithm::Patience, &contents[0], &contents[1]);
    let of = |side: fn(&DiffOp) -> Range<usize>| -> Vec<usize> {
        ops.iter().filter(|op| op.tag() != DiffTag::Equal).flat_map(side).collect()
    };
    let (mut gone, mut come) = (of(DiffOp::old_range), of(DiffOp::new_range));
    let pairs = moved(&contents, &gone, &come);
    for (from, to) in &pairs {
        (rows[0][*from].fate, rows[1][*to].fate) = (Fate::Moved, Fate::Moved);
    }
    gone.retain(|from| !pairs.iter().any(|(each, _)| each == from));
    come.retain(|to| !pairs.iter().any(|(_, each)| each == to));
    pair_changed((&gone, &come), &contents, &mut rows, tabs);
    let same = ops.iter().filter(|op| op.tag() == DiffTag::Equal).map(|op| [op.old_range(), op.new_range()]);
    leave_out(rows, &bands(&pairs), &same.collect::<Vec<_>>())
}

/// Leaves out the middles of long stretches that are the same on both sides.
fn leave_out(rows: [Vec<SideRow>; 2], bands: &[Band], same: &[[Range<usize>; 2]]) -> ([Vec<SideRow>; 2], Vec<Band>) {
    let middle = |range: &Range<usize>| range.start + AROUND..range.end.saturating_sub(AROUND);
    let long: Vec<&[Range<usize>; 2]> = same.iter().filter(|[old, _]| old.len() > AROUND * 2 + 2).collect();
    // Where a row is once those before it are left out: a stretch becomes one row.
    let shifted = |side: usize, row: usize| {
        let before = long.iter().map(|ranges| middle(&ranges[side])).filter(|middle| middle.end <= row);
        row - before.map(|middle| middle.len() - 1).sum::<usize>()
    };
    let moved =
        |side: usize, range: &Range<usize>| shifted(side, range.start)..shifted(side, range.start) + range.len();
    let bands = bands.iter().map(|band| Band { from: moved(0, &band.from), to: moved(1, &band.to) }).collect();
    let mut side = 0;
    let rows = rows.map(|rows| {
        let own = side;
        side += 1;
        let mut kept = Vec::new();
        for (index, row) in rows.into_iter().enumerate() {
            match long.iter().map(|ranges| middle(&ranges[own])).find(|middle| middle.contains(&index)) {
                Some(middle) if middle.start == index => {
                    let text = format!("⋮ {} lines", middle.len());
                    kept.push(SideRow { text, ..SideRow::default() });
                }
                Some(_) => {}
                None => kept.push(row),
            }
        }
        kept
    });
    (rows, bands)
}

/// The lines of each side that differ, with those around them.
fn touched(states: [State; 2]) -> [Range<usize>; 2] {
    let [before, after] = states.map(|state| state.text);
    let counts = [before, after].map(|text| {
        let last = text.last_line();
        // Behind a final line end there is no line to draw.
        if last.0 > 0 && text.line_start(last) == text.end() { last.0 } else { last.0 + 1 }
    });
    let line = |text: &Text, line: usize| text.slice(text.content_span(Line(line))).into_owned();
    let least = counts[0].min(counts[1]);
    let same_start = (0..least).take_while(|index| line(before, *index) == line(after, *index)).count();
    let same_end = (0..least - same_start)
        .take_while(|index| line(before, counts[0] - 1 - index) == line(after, counts[1] - 1 - index))
        .count();
    let first = same_start.saturating_sub(AROUND);
    counts.map(|count| {
        let end = (count - same_end + AROUND).min(count).max(first);
        // Where nothing differs, the lines at the caret are shown.
        first..end.min(first + MOST_LINES)
    })
}

/// Lines that are at another place on the other side, in order.
fn moved(contents: &[Vec<String>; 2], gone: &[usize], come: &[usize]) -> Vec<(usize, usize)> {
    let mut places: HashMap<&str, VecDeque<usize>> = HashMap::new();
    for to in come {
        let content = contents[1][*to].trim();
        if !content.is_empty() {
            places.entry(content).or_default().push_back(*to);
        }
    }
    let find = |from: &usize| Some((*from, places.get_mut(contents[0][*from].trim())?.pop_front()?));
    gone.iter().filter_map(find).collect()
}

/// Runs of moved lines that stay together.
fn bands(pairs: &[(usize, usize)]) -> Vec<Band> {
    let mut bands: Vec<Band> = Vec::new();
    for (from, to) in pairs {
        match bands.last_mut() {
            Some(band) if band.from.end == *from && band.to.end == *to => {
                (band.from.end, band.to.end) = (from + 1, to + 1);
            }
            _ => bands.push(Band { from: *from..from + 1, to: *to..to + 1 }),
        }
    }
    bands
}

/// Lines that went and came at the same place are changed where they have something in common, else gone and come.
fn pair_changed(
    (gone, come): (&[usize], &[usize]),
    contents: &[Vec<String>; 2],
    rows: &mut [Vec<SideRow>; 2],
    tabs: TabWidth,
) {
    gone.iter().for_each(|index| rows[0][*index].fate = Fate::Gone);
    come.iter().for_each(|index| rows[1][*index].fate = Fate::Come);
    for (from, to) in gone.iter().zip(come) {
        let (old, new) = (&contents[0][*from], &contents[1][*to]);
        // Both are blank.
        if old == new {
            (rows[0][*from].fate, rows[1][*to].fate) = (Fate::Same, Fate::Same);
            continue;
        }
        let diff = similar::TextDiff::from_chars(old.as_str(), new.as_str());
        if diff.ratio() < 0.5 {
            continue;
        }
        (rows[0][*from].fate, rows[1][*to].fate) = (Fate::Changed, Fate::Changed);
        let chars = |text: &str, range: Range<usize>| {
            let at = |count: usize| text.char_indices().nth(count).map_or(text.len(), |(at, _)| at);
            at(range.start)..at(range.end)
        };
        for op in diff.ops() {
            if op.tag() == DiffTag::Equal {
                continue;
            }
            for (side, text, range) in [(0, old, op.old_range()), (1, new, op.new_range())] {
                if !range.is_empty() {
                    let bytes = chars(text, range);
                    let index = [*from, *to][side];
                    rows[side][index].changed.push(cell_at(text, bytes.start, tabs)..cell_at(text, bytes.end, tabs));
                }
            }
        }
    }
}

/// The cell of a byte of a line.
fn cell_at(content: &str, byte: usize, tabs: TabWidth) -> usize {
    let begin = CellPlace { at: Byte(0), cell: Cell(0) };
    let mut after = 0;
    for (place, cluster) in places_from(content, begin, tabs) {
        if place.at.0 >= byte {
            return place.cell.0 as usize;
        }
        after = (place.cell + cluster_cells(cluster, place.cell, tabs)).0 as usize;
    }
    after
}

fn row_of(state: State, line: usize, content: &str, tabs: TabWidth) -> SideRow {
    let begin = CellPlace { at: Byte(0), cell: Cell(0) };
    let mut text = String::new();
    for (place, cluster) in places_from(content, begin, tabs) {
        let cells = cluster_cells(cluster, place.cell, tabs) as usize;
        let shown = match cluster {
            "\t" => String::new(),
            cluster => chip(cluster).unwrap_or_else(|| cluster.to_owned()),
        };
        text.push_str(&shown);
        // A character a cell: what is wider is followed by blank cells.
        text.extend(std::iter::repeat_n(' ', cells.saturating_sub(shown.chars().count())));
    }
    let span = state.text.content_span(Line(line));
    let cell = |at: Byte| cell_at(content, at.0.clamp(span.start.0, span.end.0) - span.start.0, tabs);
    let is_here = |each: &Selection| each.end() >= span.start && each.start() <= span.end;
    let mut row = SideRow { number: Some(line + 1), text, ..SideRow::default() };
    for each in state.cursors.iter().filter(is_here) {
        if each.head >= span.start && each.head <= span.end {
            row.carets.push(cell(each.head));
        }
        if !each.is_caret() {
            row.selected.push(cell(each.start())..cell(each.end()));
        }
    }
    row
}

#[cfg(test)]
mod tests {
    use super::*;

    fn told(before: &str, after: &str) -> (Vec<String>, Vec<Band>) {
        let (texts, cursors) = ([Text::from(before), Text::from(after)], CursorSet::caret(Byte(0)));
        let states = [0, 1].map(|side| State { text: &texts[side], cursors: &cursors });
        let (sides, bands) = sides(states, TabWidth(4));
        let told = sides
            .iter()
            .map(|rows| rows.iter().map(|row| format!("{:?} {}", row.fate, row.text)).collect::<Vec<_>>().join("|"));
        (told.collect(), bands)
    }

    #[test]
    fn what_moved_changed_went_and_came_is_told_apart() {
        for (before, after, expected, bands) in [
            (
                "a\nb\nc\n",
                "b\na\nc\n",
                ["Same a|Moved b|Same c", "Moved b|Same a|Same c"],
                vec![Band { from: 1..2, to: 0..1 }],
            ),
            ("a\nb\n", "a\nb\nb2\n", ["Same a|Same b", "Same a|Same b|Come b2"], vec![]),
            ("let ebb = 1;\n", "let flow = 1;\n", ["Changed let ebb = 1;", "Changed let flow = 1;"], vec![]),
            ("ebb\n", "", ["Gone ebb", "Come "], vec![]),
            ("same\n", "same\n", ["Same same", "Same same"], vec![]),
        ] {
            let (sides, found) = told(before, after);
            assert_eq!(sides, expected, "{before:?} {after:?}");
            assert_eq!(found, bands, "{before:?}");
        }
    }

    #[test]
    fn long_stretches_that_stay_are_left_out_and_bands_follow() {
        let middle: Vec<String> = (1..=20).map(|line| format!("line {line}\n")).collect();
        let middle = middle.concat();
        let (sides, bands) = told(&format!("ebb\n{middle}flow\n"), &format!("{middle}ebb\nflow\n"));
        assert_eq!(sides[0], "Moved ebb|Same line 1|Same line 2|Same ⋮ 16 lines|Same line 19|Same line 20|Same flow");
        assert_eq!(sides[1], "Same line 1|Same line 2|Same ⋮ 16 lines|Same line 19|Same line 20|Moved ebb|Same flow");
        assert_eq!(bands, [Band { from: 0..1, to: 5..6 }]);
    }

    #[test]
    fn changed_cells_carets_and_selections_are_where_they_are_seen() {
        let texts = [Text::from("\tlet ebb = 1;\n"), Text::from("\tlet flow = 1;\n")];
        let cursors = [CursorSet::caret(Byte(5)), CursorSet::caret(Byte(9))];
        let states = [0, 1].map(|side| State { text: &texts[side], cursors: &cursors[side] });
        let (sides, _) = sides(states, TabWidth(4));
        assert_eq!(sides[0][0].text, "    let ebb = 1;");
        assert_eq!((sides[0][0].carets.clone(), sides[1][0].carets.clone()), (vec![8], vec![12]));
        assert_eq!((sides[0][0].changed.len(), sides[0][0].changed[0].clone()), (1, 8..11));
    }
}
