//! What a family of edits is, and what is made of each.

use crate::oracle::{Parsed, Piece};
use crate::player::Player;
use crate::sources::Source;
use fastrand::Rng;

/// What the oracle says of an edit.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Verdict {
    /// It is as it should be.
    Right,
    /// The program said why it does not do it, and changed nothing.
    Refused,
    /// It is not, for this reason.
    Wrong(String),
}

/// An edit that was made.
#[derive(Clone, Debug)]
pub struct Edit {
    /// The text before it.
    pub before: String,
    /// The keys.
    pub script: String,
    /// The text after it.
    pub after: String,
    /// What was said.
    pub message: String,
    /// Whether it is right.
    pub verdict: Verdict,
}

/// A kind of edits with its oracle.
pub trait Family: Sync {
    /// Its name in tables and on the command line.
    fn name(&self) -> &'static str;

    /// Whether it makes edits on `source`.
    fn takes(&self, source: &Source) -> bool {
        let _ = source;
        true
    }

    /// Whether every edit of a source is the same, so that one is enough.
    fn is_once(&self) -> bool {
        false
    }

    /// Makes one edit. None where no place was found for one, or the oracle itself errs on this source.
    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit>;
}

/// What `player` made of `before`, by an oracle's `verdict`. What is right is taken back, and must come out as it was.
pub fn judged(mut player: Player, before: &str, start: &snarvel_core::cursors::CursorSet, verdict: Verdict) -> Edit {
    let (after, message, script) = (player.text(), player.message().to_owned(), player.script().to_owned());
    let verdict = match verdict {
        // What moved the cursors alone is no step.
        Verdict::Right if after != before => {
            player.take_back(before, start).err().map_or(Verdict::Right, Verdict::Wrong)
        }
        other => other,
    };
    Edit { before: before.to_owned(), script, after, message, verdict }
}

/// A random piece of the text that `fits`.
pub fn piece(parsed: &Parsed, random: &mut Rng, fits: impl Fn(&Piece) -> bool) -> Option<Piece> {
    let pieces: Vec<Piece> = parsed.pieces().into_iter().filter(fits).collect();
    random.choice(pieces)
}

/// The source's tree, where its grammar takes all of it.
pub fn parsed(source: &Source) -> Option<Parsed> {
    Parsed::of(&source.language, &source.text).filter(|parsed| parsed.errors() == 0)
}
