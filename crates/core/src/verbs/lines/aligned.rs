//! Lines that go on with a statement and are set under something in a line above: what is behind a bracket, a value, an operand.
//!
//! Formatters do that by rules of their own, with steps of their own. What can be meant stays.

use crate::text::cells::width;
use crate::units::Line;
use crate::verbs::lines::code::code_of;
use crate::verbs::scene::Scene;

/// Lines of a statement that are looked at above one of them.
const MOST_LINES: usize = 40;

/// Steps by which formatters indent what goes on, besides the file's own: none, and four columns.
const STEPS: [u32; 2] = [0, 4];

/// What a value or an operand follows.
const LEADS: &[&str] = &["= ", "return ", "<< ", "? ", ": ", "&& ", "|| ", "=> "];

/// What the end of a line shows that goes on.
const OPEN_ENDS: &[&str] = &[
    "(", "[", ",", "=", "&&", "||", "+", "-", "*", "/", "%", "<", "?", ":", "|", "&", "<<", "return", "->", "=>", ".",
    "^",
];

/// What the beginning of a line shows that goes on with the one above.
const OPEN_STARTS: &[&str] =
    &["&&", "||", "+", "- ", "*", "/", "<", ">", "? ", ": ", ", ", "|", "&", "==", "!=", "->", ".", "=", "^", "%"];

/// The line above, of the same statement, that has something which `line` is set under.
#[must_use]
pub fn set_under(scene: &Scene, line: Line) -> Option<Line> {
    let (text, tabs) = (scene.text, scene.settings.tabs);
    let own = text.depth_of(line, tabs).0;
    let code = code_of(scene, line);
    let above = (0..line.0).rev().map(Line).filter(|line| !text.is_blank(*line)).take(MOST_LINES);
    let mut next = code.trim().to_owned();
    let mut closed = 0;
    for row in above {
        let row_code = code_of(scene, row);
        if row_code.trim().is_empty() {
            continue;
        }
        if !goes_on(row_code.trim(), &next) && closed <= 0 {
            return None;
        }
        let unit = scene.settings.unit.cells(tabs);
        let columns = columns_of(&row_code, code.trim(), &mut closed)?;
        let is_there = |(at, steps): &(usize, &[u32])| {
            let column = width(&row_code[..*at], tabs).0;
            own >= column && (steps.contains(&(own - column)) || (steps.len() > 1 && own - column == unit))
        };
        if columns.iter().any(is_there) {
            return Some(row);
        }
        row_code.trim().clone_into(&mut next);
    }
    None
}

/// Whether a statement goes on from `line` to `next`.
fn goes_on(line: &str, next: &str) -> bool {
    OPEN_ENDS.iter().any(|end| line.ends_with(end)) || OPEN_STARTS.iter().any(|start| next.starts_with(start))
}

/// Where something begins in a line that what goes on can be set under, with the steps that may be between. `closed` is the number of
/// brackets that are closed further down and not opened yet. None where the line opens a block.
fn columns_of<'a>(row: &str, code: &str, closed: &mut i32) -> Option<Vec<(usize, &'a [u32])>> {
    let mut columns: Vec<(usize, &[u32])> = Vec::new();
    let start = row.len() - row.trim_start().len();
    let first_of = |at: usize| at + row[at..].len() - row[at..].trim_start().len();
    if code.starts_with(',') && row[start..].starts_with([':', ',']) {
        columns.push((start, &STEPS[..1]));
    }
    for (at, c) in row.char_indices().rev() {
        match c {
            ')' | ']' | '}' => *closed += 1,
            '(' | '[' | '{' if *closed > 0 => *closed -= 1,
            '(' | '[' | '{' => {
                let behind = first_of(at + 1);
                let is_last = behind == row.len();
                if is_last && c == '{' && opens_block(&row[..at]) {
                    return None;
                }
                let callee = start_of_callee(&row[..at]);
                match is_last {
                    false => columns.push((behind, &STEPS)),
                    true if callee > start => columns.push((callee, &STEPS[1..])),
                    true => {}
                }
            }
            ' ' if *closed == 0 => {
                let leads = LEADS.iter().any(|lead| row[..=at].ends_with(lead));
                let behind = first_of(at);
                if leads && behind < row.len() {
                    columns.push((behind, &STEPS));
                }
            }
            _ => {}
        }
    }
    Some(columns)
}

/// Whether a brace after `head` opens statements, and not a value.
fn opens_block(head: &str) -> bool {
    let head = head.trim_end();
    !(head.ends_with(['=', '(', ',', '{', '[']) || head.ends_with("return"))
}

/// Where the expression begins that a bracket at the end of `head` calls.
fn start_of_callee(head: &str) -> usize {
    let is_part = |c: char| c.is_alphanumeric() || "_.:>-<*&~".contains(c);
    head.char_indices().rev().take_while(|(_, c)| is_part(*c)).last().map_or(head.len(), |(at, _)| at)
}
