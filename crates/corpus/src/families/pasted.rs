//! A piece that is cut out and pasted comes out at the depth of its place, however it was copied.

use crate::family::{Edit, Family, Verdict, judged, parsed, piece};
use crate::oracle::Piece;
use crate::player::Player;
use crate::sources::{Layout, Source};
use fastrand::Rng;
use snarvel_core::units::{Byte, Span};

/// Cuts a random piece out and pastes it where it was.
pub struct Pasted;

/// Pastes a random piece before another one of its kind.
pub struct PastedElsewhere;

/// What a copy has lost of its indentation.
#[derive(Clone, Copy, Debug)]
enum Loss {
    /// The first line has none: it was copied from its first letter on.
    FirstLine,
    /// All that its lines share.
    Shared,
    /// It came with one step more.
    OneStepMore,
    /// It came from a file that indents by tabs, or by spaces.
    OtherUnit,
}

const LOSSES: [Loss; 4] = [Loss::FirstLine, Loss::Shared, Loss::OneStepMore, Loss::OtherUnit];

impl Family for Pasted {
    fn name(&self) -> &'static str {
        "pasted"
    }

    fn takes(&self, source: &Source) -> bool {
        source.layout == Layout::Formatted && !source.language.prose
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let parsed = parsed(source)?;
        let chosen = piece(&parsed, random, |piece| is_plain(source, piece))?;
        if !parsed.can_lose(&source.language, chosen.span) {
            return None;
        }
        let lines: Vec<&str> = source.text.split('\n').collect();
        let own = &lines[chosen.lines[0]..=chosen.lines[1]];
        let place = Place { line: chosen.lines[0], white: white(own[0]) };
        let copied = copied(own, source, *random.choice(&LOSSES)?)?;
        let without = [&lines[..place.line], &[place.white], &lines[chosen.lines[1] + 1..]].concat().join("\n");
        if unit_of(&without)? != unit_of(&source.text)? {
            // Nothing is left that tells the step.
            return None;
        }
        // Where the last element is put back behind a comma, it gets one too.
        let last = lines[chosen.lines[1]];
        let with_comma = source.text.replacen(&format!("\n{last}\n"), &format!("\n{last},\n"), 1);
        Some(
            Paste { source, before: &without, place: &place, copied: &copied }
                .judged_by(|pasted| pasted == source.text || pasted == with_comma),
        )
    }
}

impl Family for PastedElsewhere {
    fn name(&self) -> &'static str {
        "pasted-elsewhere"
    }

    fn takes(&self, source: &Source) -> bool {
        source.layout == Layout::Formatted && !source.language.prose
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let parsed = parsed(source)?;
        let chosen = piece(&parsed, random, |piece| is_plain(source, piece))?;
        let other = piece(&parsed, random, |other| {
            other.kinds == chosen.kinds && other.depth != chosen.depth && other.lines[0] != chosen.lines[0]
        })?;
        let lines: Vec<&str> = source.text.split('\n').collect();
        let own = &lines[chosen.lines[0]..=chosen.lines[1]];
        let place = Place { line: other.lines[0], white: white(lines[other.lines[0]]) };
        let copied = copied(own, source, *random.choice(&LOSSES)?)?;
        let shared = white(own[0]);
        let moved: Option<Vec<String>> = own
            .iter()
            .map(|line| match line.strip_prefix(shared) {
                Some(rest) => Some(format!("{}{rest}", place.white)),
                None => line.trim().is_empty().then(String::new),
            })
            .collect();
        let moved = moved?;
        let moved: Vec<&str> = moved.iter().map(String::as_str).collect();
        let before = [&lines[..place.line], &[place.white], &lines[place.line..]].concat().join("\n");
        let after = [&lines[..place.line], &moved, &lines[place.line..]].concat().join("\n");
        // A comma and a blank line between it and its neighbours are put in where they belong.
        let full = |text: &str| -> Vec<String> {
            let full = text.lines().filter(|line| !line.trim().is_empty());
            full.map(|line| line.trim_end_matches([',', ';']).to_owned()).collect()
        };
        Some(
            Paste { source, before: &before, place: &place, copied: &copied }
                .judged_by(|pasted| full(pasted) == full(&after)),
        )
    }
}

/// An empty line that has the indentation of its place.
struct Place<'a> {
    line: usize,
    white: &'a str,
}

/// A text that is pasted at the end of the line of a place.
struct Paste<'a> {
    source: &'a Source,
    before: &'a str,
    place: &'a Place<'a>,
    copied: &'a str,
}

impl Paste<'_> {
    /// Makes the edit; the text after it tells whether it is right.
    fn judged_by(&self, is_right: impl Fn(&str) -> bool) -> Edit {
        let line_start: usize = self.before.split('\n').take(self.place.line).map(|line| line.len() + 1).sum();
        let mut player = Player::open(self.source, self.before);
        player.select(Span::at(Byte(line_start + self.place.white.len())));
        let start = player.cursors();
        player.play(&format!("paste\"{}\"", escaped(self.copied)));
        let verdict = match is_right(&player.text()) {
            true => Verdict::Right,
            false => Verdict::Wrong("the lines are not where the formatter had them".to_owned()),
        };
        judged(player, self.before, &start, verdict)
    }
}

/// Whether a piece has several lines and no string or comment over lines, which keep their white space.
fn is_plain(source: &Source, piece: &Piece) -> bool {
    let own = &source.text[piece.span.start.0..piece.span.end.0];
    // What is between the commas of a selector no formatter indents by itself.
    let is_part = matches!(source.language.name.as_str(), "css" | "scss") && !own.ends_with(['}', ';']);
    let is_told = ["`", "\\\n", "\"\"\"", "'''", "<<", "/*"].iter().any(|mark| own.contains(mark));
    let first = &source.text.split('\n').nth(piece.lines[0]).unwrap_or_default();
    let is_hanging = own.lines().skip(1).any(|line| !line.trim().is_empty() && !line.starts_with(white(first)));
    (1..40).contains(&(piece.lines[1] - piece.lines[0])) && !is_part && !is_told && !is_hanging
}

/// A tab, or the least number of spaces that a line begins with. None where no line is indented.
fn unit_of(text: &str) -> Option<&str> {
    let code = text.lines().filter(|line| !line.trim().is_empty() && !line.trim_start().starts_with('*'));
    let indented = code.map(white).filter(|white| !white.is_empty());
    indented.min_by_key(|white| if white.starts_with('\t') { 0 } else { white.len() })
}

fn white(line: &str) -> &str {
    &line[..line.len() - line.trim_start().len()]
}

/// The lines as they were copied. None where nothing would be lost.
fn copied(lines: &[&str], source: &Source, loss: Loss) -> Option<String> {
    let (text, language) = (source.text.as_str(), source.language.name.as_str());
    let shared = white(lines[0]);
    let cut = |line: &&str| line.strip_prefix(shared).unwrap_or_default().to_owned();
    let copied: Vec<String> = match loss {
        Loss::FirstLine => {
            let rest = lines[1..].iter().map(|line| (*line).to_owned());
            std::iter::once(cut(&lines[0])).chain(rest).collect()
        }
        Loss::Shared => lines.iter().map(cut).collect(),
        Loss::OneStepMore => {
            let unit = if text.contains("\n\t") { "\t" } else { "    " };
            lines.iter().map(|line| if line.is_empty() { String::new() } else { format!("{unit}{line}") }).collect()
        }
        // YAML has no tabs.
        Loss::OtherUnit if language == "yaml" => return None,
        Loss::OtherUnit => lines.iter().map(|line| in_other_unit(line, text)).collect::<Option<_>>()?,
    };
    Some(copied.join("\n")).filter(|copied| *copied != lines.join("\n"))
}

/// A line with tabs for its steps of spaces, or four spaces for each tab. None where its white space is no whole number of steps.
fn in_other_unit(line: &str, text: &str) -> Option<String> {
    let own = white(line);
    if text.contains("\n\t") {
        return own.chars().all(|c| c == '\t').then(|| format!("{}{}", "    ".repeat(own.len()), line.trim_start()));
    }
    let (twos, fours) = text
        .lines()
        .map(|line| white(line).len())
        .filter(|len| *len > 1)
        .fold((0, 0), |(twos, fours), len| (twos + usize::from(len % 4 == 2), fours + usize::from(len % 4 == 0)));
    let step = if twos * 4 > fours { 2 } else { 4 };
    own.len().is_multiple_of(step).then(|| format!("{}{}", "\t".repeat(own.len() / step), line.trim_start()))
}

/// Text as a script has it between quotes.
fn escaped(text: &str) -> String {
    text.replace('\\', "\\\\").replace('"', "\\\"").replace('\n', "\\n").replace('\t', "\\t")
}
