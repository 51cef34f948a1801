//! Pairs round a selection, put on and taken off.
//!
//! The pair that is there already, just inside or just outside the selection, is taken off. A caret means
//! the word at it.

use crate::changes::{Bias, ChangeBuilder};
use crate::cursors::Selection;
use crate::units::{Byte, Span};
use crate::verbs::scene::{Outcome, Scene, counted};

const BRACKETS: [(char, char); 4] = [('(', ')'), ('[', ']'), ('{', '}'), ('<', '>')];

/// The pair that a character picks: a bracket with its other side, anything else on both sides.
fn pair_of(c: char) -> (char, char) {
    BRACKETS.into_iter().find(|(open, close)| c == *open || c == *close).unwrap_or((c, c))
}

/// Puts the pair that `c` picks round every selection, or takes it off where it is.
pub fn surround(scene: &Scene, c: char) -> Outcome {
    let pair = pair_of(c);
    act(scene, |scene, span| PairAction::of(scene, span, &[pair]).unwrap_or(PairAction::PutOn(pair)))
}

/// Takes the pair round every selection off, whichever it is.
pub fn surround_off(scene: &Scene) -> Outcome {
    let quotes = ['"', '\'', '`', '*', '_'].map(|c| (c, c));
    let known: Vec<(char, char)> = BRACKETS.into_iter().chain(quotes).collect();
    act(scene, |scene, span| PairAction::of(scene, span, &known).unwrap_or(PairAction::Nothing))
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum PairAction {
    PutOn((char, char)),
    TakeOffInside((char, char)),
    TakeOffOutside((char, char)),
    Nothing,
}

impl PairAction {
    /// The one of `pairs` that is just inside or just outside `span`.
    fn of(scene: &Scene, span: Span, pairs: &[(char, char)]) -> Option<PairAction> {
        let text = scene.text;
        let outside = text.char_before(span.start).zip(text.char_at(span.end));
        let content = text.slice(span);
        let inside = content.chars().next().zip(content.chars().next_back()).filter(|_| content.chars().count() > 1);
        let find = |ends: Option<(char, char)>| ends.filter(|ends| pairs.contains(ends));
        find(inside).map(PairAction::TakeOffInside).or_else(|| find(outside).map(PairAction::TakeOffOutside))
    }

    /// What it touches round `span`.
    fn reach(self, span: Span) -> Span {
        match self {
            PairAction::TakeOffOutside((open, close)) => {
                Span::new(span.start - open.len_utf8(), span.end + close.len_utf8())
            }
            PairAction::PutOn(_) | PairAction::TakeOffInside(_) | PairAction::Nothing => span,
        }
    }
}

fn act(scene: &Scene, deed_for: impl Fn(&Scene, Span) -> PairAction) -> Outcome {
    let mut builder = ChangeBuilder::new(scene.text);
    let (mut on, mut off, mut reach) = (0, 0, Byte(0));
    for each in scene.cursors.iter() {
        let span = if each.is_caret() { scene.text.word_at(each.head, scene.words()) } else { Some(each.span()) };
        let Some(span) = span else { continue };
        let deed = deed_for(scene, span);
        // Two carets in one word, or two selections that share a quote, do it once.
        let whole = deed.reach(span);
        if whole.start < reach || (whole.start == reach && on + off > 0 && whole.is_empty()) {
            continue;
        }
        match deed {
            PairAction::Nothing => continue,
            PairAction::PutOn((open, close)) => {
                builder.insert(span.start, open.encode_utf8(&mut [0; 4]));
                builder.insert(span.end, close.encode_utf8(&mut [0; 4]));
                on += 1;
            }
            PairAction::TakeOffInside((open, close)) | PairAction::TakeOffOutside((open, close)) => {
                builder.remove(Span::new(whole.start, whole.start + open.len_utf8()));
                builder.remove(Span::new(whole.end - close.len_utf8(), whole.end));
                off += 1;
            }
        }
        reach = whole.end;
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::nothing("no pair here to take off");
    }
    let cursors = scene.remap(&change, |index| {
        let each: Selection = scene.cursors.list()[index];
        // A caret at the end of a word stays inside the pair.
        let at_end =
            each.is_caret() && scene.text.word_at(each.head, scene.words()).is_some_and(|word| word.end == each.head);
        [if at_end { Bias::Before } else { Bias::After }, Bias::Before]
    });
    let message = match (on, off) {
        (on, 0) => format!("surrounded {}", counted(on, "text")),
        (0, off) => format!("took {} off", counted(off, "pair")),
        (on, off) => format!("surrounded {}, took {off} off", counted(on, "text")),
    };
    Outcome::edit(change, cursors).saying(message)
}
