//! Widening goes out step by step to the whole file, and narrowing back the same way.

use crate::family::{Edit, Family, Verdict};
use crate::player::Player;
use crate::sources::Source;
use fastrand::Rng;
use snarvel_core::units::{Byte, Span};

/// Widens from a random caret to the whole file, then narrows.
pub struct Widened;

/// More steps than a person would go: a step that stays where it is would go on for ever.
const MOST_STEPS: usize = 200;

impl Family for Widened {
    fn name(&self) -> &'static str {
        "widened"
    }

    fn edit(&self, source: &Source, random: &mut Rng) -> Option<Edit> {
        let parsed = crate::family::parsed(source)?;
        // Brackets in comments and strings have no partner.
        let counts = is_balanced(&source.text)
            && parsed.comments().iter().all(|span| is_balanced(&source.text[span.start.0..span.end.0]));
        let at = random.usize(0..source.text.len());
        let at = (0..=at).rev().find(|at| source.text.is_char_boundary(*at))?;
        let mut player = Player::open(source, &source.text);
        player.select(Span::at(Byte(at)));
        let mut steps = vec![player.selected()];
        let verdict = loop {
            let last = steps[steps.len() - 1];
            player.play("alt+/");
            let now = player.selected();
            if now == last {
                break (last.len() < source.text.trim().len()).then(|| "it ends before the whole file".to_owned());
            }
            if now.start > last.start || now.end < last.end {
                break Some("a step is not around the one before".to_owned());
            }
            let inner = &source.text[now.start.0..now.end.0];
            if counts && !is_balanced(inner) {
                break Some("a step takes one bracket of a pair".to_owned());
            }
            steps.push(now);
            if steps.len() > MOST_STEPS {
                break Some("it does not end".to_owned());
            }
        };
        let verdict = verdict.or_else(|| {
            for expected in steps.iter().rev().skip(1) {
                player.play("alt+?");
                if player.selected() != *expected {
                    return Some("narrowing comes back another way".to_owned());
                }
            }
            None
        });
        let verdict = verdict.map_or(Verdict::Right, Verdict::Wrong);
        Some(Edit {
            before: source.text.clone(),
            script: player.script().to_owned(),
            after: player.text(),
            message: player.message().to_owned(),
            verdict,
        })
    }
}

/// Whether no bracket of any kind is without its partner, as far as characters tell.
fn is_balanced(text: &str) -> bool {
    [('(', ')'), ('[', ']'), ('{', '}')]
        .iter()
        .all(|(open, close)| text.matches(*open).count() == text.matches(*close).count())
}
