//! Whole constructs that are moved, copied and deleted.

use crate::family::{Edit, Family, Verdict, judged, parsed, piece};
use crate::oracle::{Parsed, Piece};
use crate::player::Player;
use crate::sources::Source;
use fastrand::Rng;
use snarvel_core::units::Span;

/// Carries a random construct past its neighbour.
pub struct Carried;

/// Duplicates the lines of a random construct.
pub struct Duplicated;

/// Deletes the lines of a random construct.
pub struct Deleted;

impl Family for Carried {
    fn name(&self) -> &'static str {
        "carried"
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let parsed = parsed(source)?;
        let chosen = piece(&parsed, random, |_| true)?;
        let mut player = Player::open(source, &source.text);
        player.select(Span::at(chosen.span.start));
        let start = player.cursors();
        player.play(if random.bool() { "!carry-statement-down" } else { "!carry-statement-up" });
        let after = player.text();
        let verdict = match (after == source.text, Parsed::of(&source.language, &after)) {
            (true, _) | (_, None) => Verdict::Refused,
            (_, Some(now)) if now.errors() > 0 => Verdict::Wrong("the grammar does not take the result".to_owned()),
            (_, Some(now)) if !source.language.prose && counted(&now.tokens()) != counted(&parsed.tokens()) => {
                Verdict::Wrong("the tokens are others".to_owned())
            }
            _ if source.language.prose && characters(&after) != characters(&source.text) => {
                Verdict::Wrong("the characters are others".to_owned())
            }
            _ => Verdict::Right,
        };
        Some(judged(player, &source.text, &start, verdict))
    }
}

impl Family for Duplicated {
    fn name(&self) -> &'static str {
        "duplicated"
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let (parsed, mut player, chosen) = selected(source, random)?;
        let start = player.cursors();
        player.play("alt+d");
        let after = player.text();
        let verdict = match Parsed::of(&source.language, &after) {
            _ if after == source.text => Verdict::Refused,
            Some(now) if now.errors() > 0 && can_repeat(source, &chosen) => {
                Verdict::Wrong("the grammar does not take the result".to_owned())
            }
            Some(_) if after.len() <= source.text.len() => Verdict::Wrong("nothing was added".to_owned()),
            Some(now) if now.errors() == 0 && !source.language.prose && now.tokens().len() <= parsed.tokens().len() => {
                Verdict::Wrong("nothing was added".to_owned())
            }
            _ => Verdict::Right,
        };
        Some(judged(player, &source.text, &start, verdict))
    }
}

impl Family for Deleted {
    fn name(&self) -> &'static str {
        "deleted"
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let (parsed, mut player, chosen) = selected(source, random)?;
        let start = player.cursors();
        player.play("alt+x");
        let after = player.text();
        let verdict = match Parsed::of(&source.language, &after) {
            _ if after == source.text => Verdict::Refused,
            Some(now) if now.errors() > 0 && parsed.can_lose(&source.language, chosen.span) => {
                Verdict::Wrong("the grammar does not take the result".to_owned())
            }
            _ => Verdict::Right,
        };
        Some(judged(player, &source.text, &start, verdict))
    }
}

/// A random construct, selected.
fn selected(source: &Source, random: &mut Rng) -> Option<(Parsed, Player, Piece)> {
    let parsed = parsed(source)?;
    let chosen = piece(&parsed, random, |piece| piece.lines[1] - piece.lines[0] < 80)?;
    let mut player = Player::open(source, &source.text);
    player.select(chosen.span);
    Some((parsed, player, chosen))
}

/// Whether the grammar takes the piece twice, with a comma between where it has one or needs one.
fn can_repeat(source: &Source, chosen: &Piece) -> bool {
    let own = &source.text[chosen.span.start.0..chosen.span.end.0];
    let is_element = source.text[chosen.span.end.0..].starts_with(',')
        || source.text[..chosen.span.start.0].trim_end().ends_with([',', '[']);
    let between = if is_element { [",\n"; 1] } else { ["\n"; 1] };
    between.iter().any(|between| {
        let mut text = source.text.clone();
        text.insert_str(chosen.span.start.0, &format!("{own}{between}"));
        Parsed::of(&source.language, &text).is_some_and(|parsed| parsed.errors() == 0)
    })
}

/// The characters of a text in order of their codes, without white space: the tokens of prose depend on where they are.
fn characters(text: &str) -> Vec<char> {
    let mut all: Vec<char> = text.chars().filter(|c| !c.is_whitespace()).collect();
    all.sort_unstable();
    all
}

/// The tokens that are no commas or semicolons, in order of their letters.
fn counted(tokens: &[String]) -> Vec<&str> {
    let mut tokens: Vec<&str> =
        tokens.iter().map(String::as_str).filter(|token| !matches!(*token, "," | ";")).collect();
    tokens.sort_unstable();
    tokens
}
