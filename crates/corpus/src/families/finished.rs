//! What was cut off the end of a statement is put in again by finishing it, and nothing is where nothing was cut.

use crate::family::{Edit, Family, Verdict, judged, parsed};
use crate::player::Player;
use crate::sources::Source;
use fastrand::Rng;
use snarvel_core::units::{Byte, Span};

/// Cuts the closing brackets and the terminator of a random line, then finishes it.
pub struct Finished;

impl Family for Finished {
    fn name(&self) -> &'static str {
        "finished"
    }

    fn takes(&self, source: &Source) -> bool {
        !source.language.prose && !source.language.data
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let parsed = parsed(source)?;
        // A whole statement on one line that ends with what closes its brackets.
        let is_whole = |piece: &crate::oracle::Piece| {
            let own = &source.text[piece.span.start.0..piece.span.end.0];
            piece.lines[0] == piece.lines[1] && own.trim_end_matches(';').ends_with(')') && !own.ends_with('}')
        };
        let terminated = |end: usize| if source.text[end..].starts_with(';') { end + 1 } else { end };
        let chosen = crate::family::piece(&parsed, random, is_whole)?;
        let end = terminated(chosen.span.end.0);
        // What goes on in the next line is no whole statement.
        if !matches!(source.text[end..].chars().next(), Some('\n')) {
            return None;
        }
        let own = &source.text[chosen.span.start.0..end];
        let kept = own.trim_end_matches([')', ']', ';']);
        let cut = if random.u8(..) < 64 { own } else { kept };
        let mut before = source.text.clone();
        before.replace_range(chosen.span.start.0..end, cut);
        let caret = chosen.span.start.0 + cut.len();
        let mut player = Player::open(source, &before);
        player.select(Span::at(Byte(caret)));
        let start = player.cursors();
        player.play("alt+enter");
        let after = player.text();
        let line =
            |text: &str| text[chosen.span.start.0..].split('\n').next().unwrap_or_default().trim_end().to_owned();
        // Whether a call at the end of a block is its value only its author knows.
        let expected = line(&source.text);
        let made = line(&after);
        let is_right = made == expected || made == format!("{expected};");
        let verdict = match is_right {
            true => Verdict::Right,
            false => Verdict::Wrong(format!("{:?} in place of {:?}", line(&after), line(&source.text))),
        };
        Some(judged(player, &before, &start, verdict))
    }
}
