//! The selected texts as a row: handed on to the neighbour, numbered, brought into one column.

use crate::changes::{Bias, ChangeBuilder};
use crate::cursors::Selection;
use crate::units::{Direction, Line, Span};
use crate::verbs::scene::{Outcome, Scene, counted};
use std::sync::Arc;

/// Each selection receives the text of its neighbour; the last and the first are neighbours.
pub fn rotate(scene: &Scene, direction: Direction) -> Outcome {
    let own = || scene.cursors.iter().map(|each| scene.text.slice(each.span()).into_owned()).collect();
    let texts: Arc<Vec<String>> = scene.memory.together.texts.clone().unwrap_or_else(|| Arc::new(own()));
    let (count, first) = (texts.len(), scene.memory.together.first);
    if count < 2 {
        return Outcome::nothing("there is only one cursor");
    }
    let from = |index: usize| match direction {
        Direction::Forward => (index + count - 1) % count,
        Direction::Back => (index + 1) % count,
    };
    replace_each(scene, |index| texts[from(first + index)].clone())
        .saying(format!("passed {} on", counted(scene.cursors.len(), "text")))
}

/// Replaces each selection, in the order of the text; the new texts are selected.
fn replace_each(scene: &Scene, with: impl Fn(usize) -> String) -> Outcome {
    let mut builder = ChangeBuilder::new(scene.text);
    let mut index = 0;
    let cursors = scene.cursors.map(|each| {
        let new = with(index);
        index += 1;
        let start = builder.now(each.start());
        builder.replace(each.span(), &new);
        Selection::over(Span::new(start, start + new.len()), each.direction())
    });
    Outcome::edit(builder.finish(), cursors)
}

/// Numbers that run.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Numbers {
    start: i64,
    step: i64,
    width: usize,
    form: NumberForm,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum NumberForm {
    Decimal,
    Hex,
    Letters,
    UpperLetters,
}

impl Numbers {
    /// The widest that numbers are filled with zeros to.
    pub const WIDEST: usize = 64;

    /// From `start` by `step`: `a`, `A`, `0x01` and `001` choose letters, hexadecimal and zeros in front. None where `start` is
    /// no number.
    ///
    /// # Panics
    /// If `width` is over [`Numbers::WIDEST`].
    #[must_use]
    pub fn new(start: &str, step: i64, width: Option<usize>) -> Option<Numbers> {
        assert!(width.is_none_or(|width| width <= Numbers::WIDEST), "numbers of {width:?} characters");
        let numbers = Numbers::of_start(start)?;
        Some(Numbers { step, width: width.unwrap_or(numbers.width), ..numbers })
    }

    fn of_start(start: &str) -> Option<Numbers> {
        let with = |start, width, form| Some(Numbers { start, step: 1, width, form });
        if let Some(hex) = start.strip_prefix("0x") {
            return with(i64::from_str_radix(hex, 16).ok()?, hex.len(), NumberForm::Hex);
        }
        if !start.is_empty() && start.chars().all(|c| c.is_ascii_lowercase()) {
            return with(letters_value(start)?, 0, NumberForm::Letters);
        }
        if !start.is_empty() && start.chars().all(|c| c.is_ascii_uppercase()) {
            return with(letters_value(start)?, 0, NumberForm::UpperLetters);
        }
        let is_padded = start.len() > 1 && start.trim_start_matches('-').starts_with('0');
        with(start.parse().ok()?, if is_padded { start.len() } else { 0 }, NumberForm::Decimal)
    }

    fn text(&self, index: usize) -> String {
        let value = self.start.saturating_add(self.step.saturating_mul(index as i64));
        let width = self.width;
        match self.form {
            NumberForm::Decimal => format!("{value:0width$}"),
            NumberForm::Hex => format!("0x{value:0width$x}"),
            NumberForm::Letters => letters(value),
            NumberForm::UpperLetters => letters(value).to_uppercase(),
        }
    }
}

/// `a` is 1, `z` is 26, `aa` is 27.
fn letters_value(text: &str) -> Option<i64> {
    text.bytes().try_fold(0i64, |value, byte| {
        value.checked_mul(26)?.checked_add(i64::from(byte.to_ascii_lowercase() - b'a') + 1)
    })
}

fn letters(value: i64) -> String {
    let mut value = value.max(1);
    let mut out = Vec::new();
    while value > 0 {
        value -= 1;
        out.push(b'a' + (value % 26) as u8);
        value /= 26;
    }
    out.iter().rev().map(|byte| char::from(*byte)).collect()
}

/// Replaces each selection with the next of `numbers`.
pub fn number(scene: &Scene, numbers: &Numbers) -> Outcome {
    let message = format!("numbered {}", counted(scene.cursors.len(), "place"));
    let first = scene.memory.together.first;
    replace_each(scene, |index| numbers.text(first + index)).saying(message)
}

/// Brings the k-th cursors of all lines to one column, the largest, by spaces before them; then the next.
pub fn align(scene: &Scene) -> Outcome {
    let lines = by_line(scene);
    // How far each line has been pushed by the ranks before, and the spaces that go in before each cursor.
    let mut pushed = vec![0u32; lines.len()];
    let mut spaces = vec![0u32; scene.cursors.len()];
    let column = |index: usize| scene.cell(scene.cursors.list()[index].start());
    // The lines with most cursors first, so that each rank looks only at lines that have it.
    let mut by_ranks: Vec<usize> = (0..lines.len()).collect();
    by_ranks.sort_by_key(|line| std::cmp::Reverse(lines[*line].1.len()));
    for rank in 0.. {
        let having = by_ranks.partition_point(|line| lines[*line].1.len() > rank);
        let here = |line: usize, pushed: &[u32]| column(lines[line].1[rank]) + pushed[line];
        let Some(target) = by_ranks[..having].iter().map(|line| here(*line, &pushed)).max() else { break };
        for &line in &by_ranks[..having] {
            let index = lines[line].1[rank];
            spaces[index] = target.0 - here(line, &pushed).0;
            pushed[line] += spaces[index];
        }
    }
    if let Some(asks) = Outcome::unless_asked(scene, spaces.iter().map(|count| *count as usize).sum()) {
        return asks;
    }
    let mut builder = ChangeBuilder::new(scene.text);
    for (each, count) in scene.cursors.iter().zip(&spaces) {
        builder.insert(each.start(), &" ".repeat(*count as usize));
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::already("they stand in one column");
    }
    let cursors = scene.remap(&change, |_| [Bias::After, Bias::Before]);
    Outcome::edit(change, cursors).saying(format!("aligned {}", counted(lines.len(), "line")))
}

/// The cursors by the line that they begin on.
fn by_line(scene: &Scene) -> Vec<(Line, Vec<usize>)> {
    let mut lines: Vec<(Line, Vec<usize>)> = Vec::new();
    for (index, each) in scene.cursors.iter().enumerate() {
        let line = scene.text.line_of(each.start());
        match lines.last_mut() {
            Some((last, indices)) if *last == line => indices.push(index),
            _ => lines.push((line, vec![index])),
        }
    }
    lines
}
