//! A block that was shifted by some steps is put back by reindenting it.

use crate::family::{Edit, Family, Verdict, judged, parsed, piece};
use crate::player::Player;
use crate::sources::{Layout, Source};
use fastrand::Rng;
use snarvel_core::units::{Byte, Span};

/// Shifts a random piece, then reindents it.
pub struct Shifted;

impl Family for Shifted {
    fn name(&self) -> &'static str {
        "shifted"
    }

    /// Where indentation is part of the meaning a shifted block is another program.
    fn takes(&self, source: &Source) -> bool {
        source.layout == Layout::Formatted && !source.language.offside && !source.language.prose
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let parsed = parsed(source)?;
        // A comment or a string over lines keeps what is in it.
        let is_plain = |span: Span| {
            let lines = source.text[span.start.0..span.end.0].matches('\n').count();
            let own = &source.text[span.start.0..span.end.0];
            lines > 0 && !["`", "\\", "\"\"\"", "'''", "R\""].iter().any(|mark| own.contains(mark))
        };
        let chosen = piece(&parsed, random, |piece| is_plain(piece.span))?;
        let unit = unit_of(&source.text);
        let lines: Vec<&str> = source.text.split('\n').collect();
        let [first, last] = chosen.lines;
        // No further out than its outermost line can go: what is cut off nobody could put back.
        let white = |line: &&str| line.len() - line.trim_start().len();
        let full = lines[first..=last].iter().filter(|line| !line.trim().is_empty());
        let least = full.map(white).min().unwrap_or(0) / unit.len();
        let steps = random.i32(-(least.min(2) as i32)..=3);
        let shifted: Vec<String> = lines
            .iter()
            .enumerate()
            .map(|(index, line)| match (first..=last).contains(&index) && !line.trim().is_empty() {
                false => (*line).to_owned(),
                true if steps >= 0 => format!("{}{line}", unit.repeat(steps as usize)),
                true => {
                    let gone = unit.len() * steps.unsigned_abs() as usize;
                    let white = line.len() - line.trim_start().len();
                    line[gone.min(white)..].to_owned()
                }
            })
            .collect();
        let before = shifted.join("\n");
        if before == source.text || unit_of(&before) != unit {
            // Nothing is left that tells the step.
            return None;
        }
        let start_of = |line: usize| shifted[..line].iter().map(|line| line.len() + 1).sum::<usize>();
        let span = Span::new(Byte(start_of(first)), Byte(start_of(last) + shifted[last].len()));
        let mut player = Player::open(source, &before);
        player.select(span);
        let start = player.cursors();
        player.play("!reindent");
        let verdict = match player.text() == source.text {
            true => Verdict::Right,
            false => Verdict::Wrong("the lines are not where the formatter had them".to_owned()),
        };
        Some(judged(player, &before, &start, verdict))
    }
}

/// The step of a file: a tab, or as many spaces as its least indented line has.
fn unit_of(text: &str) -> &'static str {
    let is_at = |spaces: usize| text.lines().any(|line| line.len() - line.trim_start().len() == spaces);
    match () {
        () if text.contains("\n\t") => "\t",
        () if is_at(2) => "  ",
        () => "    ",
    }
}
