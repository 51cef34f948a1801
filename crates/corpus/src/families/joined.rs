//! Joining and spreading change the layout and nothing else.

use crate::family::{Edit, Family, Verdict, judged, parsed, piece};
use crate::oracle::{Parsed, without_layout};
use crate::player::Player;
use crate::sources::Source;
use fastrand::Rng;
use snarvel_core::units::Span;

/// Joins the lines of a random piece.
pub struct Joined;

/// Spreads a random list, or puts it on one line, and back.
pub struct Spread;

/// The most lines that are joined.
const MOST_LINES: usize = 12;

impl Family for Joined {
    fn name(&self) -> &'static str {
        "joined"
    }

    fn takes(&self, source: &Source) -> bool {
        !source.language.prose
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let parsed = parsed(source)?;
        let lines = |[first, last]: [usize; 2]| last - first;
        let chosen = piece(&parsed, random, |piece| (1..MOST_LINES).contains(&lines(piece.lines)))?;
        let mut player = Player::open(source, &source.text);
        player.select(chosen.span);
        let start = player.cursors();
        player.play("alt+m");
        let verdict = of_layout(source, &parsed, &player.text());
        Some(judged(player, &source.text, &start, verdict))
    }
}

impl Family for Spread {
    fn name(&self) -> &'static str {
        "spread"
    }

    fn takes(&self, source: &Source) -> bool {
        !source.language.prose
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let parsed = parsed(source)?;
        let opens: Vec<usize> = source.text.match_indices(['(', '[', '{']).map(|(at, _)| at + 1).collect();
        let at = random.choice(opens)?;
        let mut player = Player::open(source, &source.text);
        player.select(Span::at(snarvel_core::units::Byte(at)));
        let start = player.cursors();
        player.play("!spread");
        let once = of_layout(source, &parsed, &player.text());
        if once != Verdict::Right {
            return Some(judged(player, &source.text, &start, once));
        }
        player.play("!spread");
        let verdict = match of_layout(source, &parsed, &player.text()) {
            Verdict::Refused => Verdict::Right,
            other => other,
        };
        Some(judged(player, &source.text, &start, verdict))
    }
}

/// Whether `after` has the tokens of the source, and the grammar takes it as well.
fn of_layout(source: &Source, parsed: &Parsed, after: &str) -> Verdict {
    if after == source.text {
        return Verdict::Refused;
    }
    let Some(now) = Parsed::of(&source.language, after) else { return Verdict::Refused };
    if now.errors() > parsed.errors() {
        return Verdict::Wrong("the grammar does not take the result".to_owned());
    }
    let [before, now] = [parsed.tokens(), now.tokens()].map(|tokens| without_layout(&tokens));
    // Strings that were put together are fewer tokens, with the same characters but for their quotes.
    let characters = |tokens: &[String]| {
        let all: String = tokens.concat();
        all.chars().filter(|c| !c.is_whitespace() && !"\"'`+.,\\".contains(*c)).collect::<String>()
    };
    match before == now || characters(&before) == characters(&now) {
        true => Verdict::Right,
        false => Verdict::Wrong("the tokens are others".to_owned()),
    }
}
