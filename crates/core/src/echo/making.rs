//! What comes: text that is equal in both edits, and what holes held, as it is, in another shape, or counted on.
//!
//! The cheapest way to write what came in both edits at once is looked for: a table over how much of each is written. Cost: the product
//! of both lengths and the number of holes; texts of more than about five hundred bytes must be equal.

use super::pattern::{Hole, HoleKind};
use crate::verbs::text::case::Shape;

/// A part of what comes.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Part {
    /// These characters.
    Text(String),
    /// What a hole holds, in a shape.
    Held {
        /// Which hole.
        hole: usize,
        /// The shape; as it is where there is none.
        shape: Option<Shape>,
    },
    /// The number that a hole holds, and so much more.
    Plus {
        /// Which hole.
        hole: usize,
        /// What is added.
        by: i64,
    },
    /// A number that is counted on from place to place.
    Count {
        /// What the last edit wrote.
        last: String,
        /// What is added for each place.
        by: i64,
    },
}

/// The shapes in which what a hole held may come.
const SHAPES: &[Option<Shape>] = &[
    None,
    Some(Shape::Upper),
    Some(Shape::Lower),
    Some(Shape::Snake),
    Some(Shape::Camel),
    Some(Shape::Pascal),
    Some(Shape::Kebab),
    Some(Shape::UpperSnake),
];

/// More steps than this are not looked through.
const MOST_STEPS: usize = 250_000;

/// What each kind of part costs: few holes before many, plain ones before shapes, what a place holds before counting.
const HELD: u32 = 20;
const SHAPED: u32 = 24;
const PLUS: u32 = 26;
const COUNT: u32 = 40;
/// For each edge of a part within a word.
const INSIDE_A_WORD: u32 = 6;

/// A step that may be taken: the part, and how much of each text it writes.
struct Step {
    part: Part,
    lens: [usize; 2],
    cost: u32,
}

/// Ways from (row, col) on: what it costs, and the part that is next.
type Best = Option<(u32, Part, [usize; 2])>;

/// What was written in both edits, as parts; none where there is no way to write both.
#[must_use]
pub fn parts_of(written: [&str; 2], holes: &[Hole]) -> Option<Vec<Part>> {
    match (written[0].len() + 1) * (written[1].len() + 1) <= MOST_STEPS {
        true => way(written, holes),
        false => (written[0] == written[1]).then(|| vec![Part::Text(written[0].to_owned())]),
    }
}

fn way(written: [&str; 2], holes: &[Hole]) -> Option<Vec<Part>> {
    let [rows, cols] = written.map(str::len);
    let shapes = shapes_of(holes);
    let mut best: Vec<Best> = vec![None; (rows + 1) * (cols + 1)];
    let at = |row: usize, col: usize| row * (cols + 1) + col;
    for row in (0..=rows).rev().filter(|row| written[0].is_char_boundary(*row)) {
        for col in (0..=cols).rev().filter(|col| written[1].is_char_boundary(*col)) {
            if (row, col) == (rows, cols) {
                best[at(row, col)] = Some((0, Part::Text(String::new()), [0, 0]));
                continue;
            }
            for step in steps_at(written, [row, col], (holes, &shapes)) {
                let [to_row, to_col] = [row + step.lens[0], col + step.lens[1]];
                let Some((rest, ..)) = &best[at(to_row, to_col)] else { continue };
                let cost = step.cost + rest;
                if best[at(row, col)].as_ref().is_none_or(|(known, ..)| cost < *known) {
                    best[at(row, col)] = Some((cost, step.part, step.lens));
                }
            }
        }
    }
    let (mut row, mut col) = (0, 0);
    let mut parts: Vec<Part> = Vec::new();
    while (row, col) != (rows, cols) {
        let (_, part, lens) = best[at(row, col)].clone()?;
        match (parts.last_mut(), part) {
            (Some(Part::Text(text)), Part::Text(more)) => text.push_str(&more),
            (_, part) => parts.push(part),
        }
        (row, col) = (row + lens[0], col + lens[1]);
    }
    Some(parts)
}

/// What each hole held, in each shape that differs from the others.
fn shapes_of(holes: &[Hole]) -> Vec<Vec<(Option<Shape>, [String; 2])>> {
    let of = |hole: &Hole| {
        let mut known: Vec<(Option<Shape>, [String; 2])> = Vec::new();
        for shape in SHAPES {
            let is_name = hole.held.iter().all(|held| is_name(held));
            if shape.is_some() && !is_name {
                continue;
            }
            let held =
                [0, 1].map(|side| shape.map_or_else(|| hole.held[side].clone(), |shape| shape.of(&hole.held[side])));
            let is_new = known.iter().all(|(_, other)| *other != held);
            if is_new && held.iter().all(|held| !held.is_empty()) {
                known.push((*shape, held));
            }
        }
        known
    };
    holes.iter().map(of).collect()
}

/// Whether shapes of names mean something for it.
fn is_name(held: &str) -> bool {
    held.chars().any(char::is_alphabetic) && held.chars().all(|c| c.is_alphanumeric() || c == '_' || c == '-')
}

type Shaped<'a> = (&'a [Hole], &'a [Vec<(Option<Shape>, [String; 2])>]);

/// The steps that can be taken where so much of each is written.
fn steps_at(written: [&str; 2], at: [usize; 2], (holes, shapes): Shaped) -> Vec<Step> {
    let rest = [&written[0][at[0]..], &written[1][at[1]..]];
    let mut steps = Vec::new();
    if let (Some(one), Some(other)) = (rest[0].chars().next(), rest[1].chars().next())
        && one == other
    {
        steps.push(Step { part: Part::Text(one.to_string()), lens: [one.len_utf8(); 2], cost: 1 });
    }
    let edges =
        |lens: [usize; 2]| [0, 1].map(|side| inside_a_word(written[side], at[side], lens[side])).into_iter().max();
    for (hole, shaped) in shapes.iter().enumerate() {
        for (shape, held) in shaped {
            if (0..2).all(|side| rest[side].starts_with(held[side].as_str())) {
                let lens = [held[0].len(), held[1].len()];
                let cost = if shape.is_some() { SHAPED } else { HELD } + edges(lens).unwrap_or(0);
                steps.push(Step { part: Part::Held { hole, shape: *shape }, lens, cost });
            }
        }
    }
    numbers_at(written, at, (holes, &mut steps));
    steps
}

/// Numbers that are a hole's and so much more, or that are counted on.
fn numbers_at(written: [&str; 2], at: [usize; 2], (holes, steps): (&[Hole], &mut Vec<Step>)) {
    let digits = [0, 1].map(|side| digits_at(written[side], at[side]));
    let [Some(one), Some(other)] = digits else { return };
    let lens = [one.len(), other.len()];
    let (Ok(first), Ok(second)) = (one.parse::<i64>(), other.parse::<i64>()) else { return };
    for (hole, Hole { kind, held, .. }) in holes.iter().enumerate() {
        if let (HoleKind::Number, Ok(one), Ok(other)) = (kind, held[0].parse::<i64>(), held[1].parse::<i64>())
            && first.checked_sub(one).is_some_and(|by| by != 0 && second.checked_sub(other) == Some(by))
        {
            steps.push(Step { part: Part::Plus { hole, by: first - one }, lens, cost: PLUS });
        }
    }
    let keeps_width = lens[0] == lens[1] || !(one.starts_with('0') || other.starts_with('0'));
    if let Some(by) = second.checked_sub(first).filter(|by| *by != 0 && keeps_width) {
        steps.push(Step { part: Part::Count { last: other.to_owned(), by }, lens, cost: COUNT });
    }
}

/// The run of digits that begins at `at` and no earlier.
fn digits_at(text: &str, at: usize) -> Option<&str> {
    let is_digit = |c: char| c.is_ascii_digit();
    let begins_before = text[..at].ends_with(is_digit);
    let rest = &text[at..];
    let len = rest.find(|c: char| !is_digit(c)).unwrap_or(rest.len());
    (len > 0 && !begins_before).then(|| &rest[..len])
}

/// What the edges of a part cost that lie within a word.
fn inside_a_word(text: &str, at: usize, len: usize) -> u32 {
    let is_word = |c: Option<char>| c.is_some_and(|c| c.is_alphanumeric() || c == '_');
    let is_inside = |at: usize| is_word(text[..at].chars().next_back()) && is_word(text[at..].chars().next());
    INSIDE_A_WORD * (u32::from(is_inside(at)) + u32::from(is_inside(at + len)))
}

/// `last` counted on by `by`, in the same width where it begins with a zero; none where it becomes less than nothing.
#[must_use]
pub fn counted_on(last: &str, by: i64) -> Option<String> {
    let number = last.parse::<i64>().ok()?.checked_add(by).filter(|number| *number >= 0)?;
    let width = if last.starts_with('0') { last.len() } else { 0 };
    Some(format!("{number:0width$}"))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::languages::scanner::Kind;

    fn told(holes: &[(HoleKind, [&str; 2])], written: [&str; 2]) -> String {
        let hole =
            |(kind, held): &(HoleKind, [&str; 2])| Hole { kind: *kind, of: Kind::Code, held: held.map(str::to_owned) };
        let holes: Vec<Hole> = holes.iter().map(hole).collect();
        let part = |part: &Part| match part {
            Part::Text(text) => text.clone(),
            Part::Held { hole, shape: None } => format!("<{hole}>"),
            Part::Held { hole, shape: Some(shape) } => format!("<{hole} {shape:?}>"),
            Part::Plus { hole, by } => format!("<{hole}{by:+}>"),
            Part::Count { last, by } => format!("<{last}{by:+}…>"),
        };
        parts_of(written, &holes).map_or_else(|| "none".to_owned(), |parts| parts.iter().map(part).collect())
    }

    #[test]
    fn what_came_is_written_with_what_was_there() {
        let name = |one, other| (HoleKind::Name, [one, other]);
        let number = |one, other| (HoleKind::Number, [one, other]);
        for (holes, written, expected) in [
            (vec![], [", mm=True", ", mm=True"], ", mm=True"),
            (vec![name("x", "level")], ["str(x)", "str(level)"], "str(<0>)"),
            (vec![name("depth_a", "depth_b")], ["depth_a_mm", "depth_b_mm"], "<0>_mm"),
            (vec![name("depth_a", "tide_at")], ["DEPTH_A", "TIDE_AT"], "<0 Upper>"),
            (vec![name("depth_a", "tide_at")], ["DepthA", "TideAt"], "<0 Pascal>"),
            (vec![name("a", "b"), name("c", "d")], ["c, a", "d, b"], "<1>, <0>"),
            (vec![number("0", "3")], ["1", "4"], "<0+1>"),
            (vec![], ["10", "20"], "<20+10…>"),
            (vec![], ["gauge_01", "gauge_02"], "gauge_<02+1…>"),
            (vec![], ["// low", "// high"], "none"),
            (vec![name("a", "b")], ["x", "y"], "none"),
            (vec![name("tide", "Flut")], ["große tide", "große Flut"], "große <0>"),
        ] {
            assert_eq!(told(&holes, written), expected, "{written:?}");
        }
    }

    #[test]
    fn numbers_keep_their_width() {
        for (last, by, expected) in
            [("09", 1, Some("10")), ("9", 1, Some("10")), ("003", -1, Some("002")), ("1", -2, None)]
        {
            assert_eq!(counted_on(last, by).as_deref(), expected, "{last} {by}");
        }
    }
}
