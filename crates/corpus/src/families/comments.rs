//! What is switched off as a comment is one, and comes back as it was.

use crate::family::{Edit, Family, Verdict, judged, parsed, piece};
use crate::oracle::Parsed;
use crate::player::Player;
use crate::sources::Source;
use fastrand::Rng;
use snarvel_core::units::{Byte, Span};

/// Toggles the lines of a random selection.
pub struct Comments;

/// Toggles a block comment around a random piece.
pub struct BlockComments;

impl Family for Comments {
    fn name(&self) -> &'static str {
        "comments"
    }

    fn takes(&self, source: &Source) -> bool {
        source.language.name != "json"
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let parsed = parsed(source)?;
        if random.bool() {
            let chosen = piece(&parsed, random, |piece| piece.lines[1] - piece.lines[0] < 60)?;
            return toggled(source, &parsed, (chosen.span, "alt+c"), true);
        }
        // Any lines: what they are is not known, so that only the way back can be judged.
        let size = source.text.len();
        let mut place = |most: usize| {
            let at = random.usize(0..=most);
            (0..=at).rev().find(|at| source.text.is_char_boundary(*at)).unwrap_or(0)
        };
        let start = place(size);
        let end = (start + place(600)).min(size);
        let end = (start..=end).rev().find(|at| source.text.is_char_boundary(*at))?;
        toggled(source, &parsed, (Span::new(Byte(start), Byte(end)), "alt+c"), false)
    }
}

impl Family for BlockComments {
    fn name(&self) -> &'static str {
        "block-comments"
    }

    fn takes(&self, source: &Source) -> bool {
        !source.language.block.is_empty()
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let parsed = parsed(source)?;
        let chosen = piece(&parsed, random, |piece| piece.lines[1] - piece.lines[0] < 60)?;
        toggled(source, &parsed, (chosen.span, "alt+C"), true)
    }
}

/// Toggles at `span` twice. With `is_piece` the text in between is asked about, too.
fn toggled(source: &Source, parsed: &Parsed, (span, key): (Span, &str), is_piece: bool) -> Option<Edit> {
    let text = &source.text;
    let mut player = Player::open(source, text);
    player.select(span);
    let start = player.cursors();
    player.play(key);
    let on = player.text();
    if on == *text {
        return Some(judged(player, text, &start, Verdict::Refused));
    }
    // What was a comment of another mark comes back with the usual one.
    if player.message().starts_with("uncommented") || player.message().contains("off") {
        return None;
    }
    let while_on =
        (is_piece && !is_in_comment(parsed, span)).then(|| wrong_while_on(source, parsed, span, &on)).flatten();
    if let Some(why) = while_on {
        return Some(judged(player, text, &start, Verdict::Wrong(why)));
    }
    player.play(key);
    let verdict = match player.text() == *text {
        true => Verdict::Right,
        false => Verdict::Wrong("on and off again is another text".to_owned()),
    };
    Some(judged(player, text, &start, verdict))
}

fn is_in_comment(parsed: &Parsed, span: Span) -> bool {
    parsed.comments().iter().any(|comment| comment.start <= span.start && span.start < comment.end)
}

/// What is wrong while the piece at `span` is a comment.
fn wrong_while_on(source: &Source, parsed: &Parsed, span: Span, on: &str) -> Option<String> {
    let now = Parsed::of(&source.language, on)?;
    if now.errors() > parsed.errors() && parsed.can_lose(&source.language, span) {
        return Some("the grammar does not take what is left".to_owned());
    }
    // Where what is left is broken the grammar does not tell comments either, and the grammars of some texts never do.
    if now.errors() > 0 || source.language.prose {
        return None;
    }
    let gone = parsed.tokens().len().checked_sub(now.tokens().len());
    (gone == Some(0) || gone.is_none()).then(|| "what was selected is no comment".to_owned())
}
