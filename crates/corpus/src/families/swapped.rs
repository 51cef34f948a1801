//! Elements of lists that change places, are deleted and copied.

use crate::family::{Edit, Family, Verdict, judged, parsed};
use crate::oracle::Parsed;
use crate::player::Player;
use crate::sources::Source;
use fastrand::Rng;
use snarvel_core::units::{Byte, Span};

/// Swaps the element at a random comma with its neighbour.
pub struct Swapped;

/// Deletes or duplicates the element before a random comma.
pub struct Elements;

impl Family for Swapped {
    fn name(&self) -> &'static str {
        "swapped"
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let verb = if random.bool() { "!swap-next" } else { "!swap-previous" };
        at_element(source, random, verb, |before, now| {
            // What is inside of a string or of another language is one token: its characters tell more.
            let sorted = |parsed: &Parsed| {
                let mut characters: Vec<char> = parsed.tokens().concat().chars().collect();
                characters.sort_unstable();
                characters
            };
            (sorted(before) != sorted(now)).then_some("the tokens are others")
        })
    }
}

impl Family for Elements {
    fn name(&self) -> &'static str {
        "elements"
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let (verb, is_more) = if random.bool() { ("!duplicate-element", true) } else { ("!delete-element", false) };
        at_element(source, random, verb, move |before, now| {
            let (before, now) = (before.tokens().concat().len(), now.tokens().concat().len());
            (if is_more { now <= before } else { now >= before }).then_some("not one element more or less")
        })
    }
}

fn at_element(
    source: &Source,
    random: &mut Rng,
    verb: &str,
    differs: impl Fn(&Parsed, &Parsed) -> Option<&'static str>,
) -> Option<Edit> {
    let parsed = parsed(source)?;
    let comments = parsed.comments();
    let is_code = |at: &usize| !comments.iter().any(|comment| comment.start.0 <= *at && *at < comment.end.0);
    let commas: Vec<usize> = source.text.match_indices(',').map(|(at, _)| at).filter(is_code).collect();
    let comma = random.choice(commas)?;
    let before = source.text[..comma].trim_end();
    let at = before.char_indices().next_back().map(|(at, _)| at)?;
    let mut player = Player::open(source, &source.text);
    player.select(Span::at(Byte(at)));
    let start = player.cursors();
    player.play(verb);
    let after = player.text();
    let verdict = match Parsed::of(&source.language, &after) {
        _ if after == source.text => Verdict::Refused,
        Some(now) if now.errors() > 0 => Verdict::Wrong("the grammar does not take the result".to_owned()),
        Some(now) => differs(&parsed, &now).map_or(Verdict::Right, |why| Verdict::Wrong(why.to_owned())),
        None => Verdict::Refused,
    };
    Some(judged(player, &source.text, &start, verdict))
}
