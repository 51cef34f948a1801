//! A file that its formatter has just written is changed by nothing.

use crate::family::{Edit, Family, Verdict, judged};
use crate::player::Player;
use crate::sources::{Layout, Source};
use fastrand::Rng;

/// Reindents the whole file.
pub struct LaidOut;

impl Family for LaidOut {
    fn name(&self) -> &'static str {
        "laid-out"
    }

    fn takes(&self, source: &Source) -> bool {
        source.layout == Layout::Formatted
    }

    fn is_once(&self) -> bool {
        true
    }

    fn edit(&self, source: &Source, _random: &mut Rng) -> Option<Edit> {
        let mut player = Player::open(source, &source.text);
        let start = player.cursors();
        player.play("ctrl+a !reindent");
        let after = player.text();
        let changed = after.lines().zip(source.text.lines()).filter(|(one, other)| one != other).count();
        let verdict = match after == source.text {
            true => Verdict::Right,
            false => Verdict::Wrong(format!("{changed} of {} lines changed", source.text.lines().count())),
        };
        Some(judged(player, &source.text, &start, verdict))
    }
}
