//! For an audience: the last keys with the verbs that they ran, and the block that is lit.
//!
//! Typed text is one run, pasted text is its length. What goes into a shell is not shown: it may be a password.

use snarvel_core::units::Span;
use snarvel_workspace::ids::{BufferId, ViewId};
use std::collections::VecDeque;

/// So many presses are remembered: more than a screen has room for.
const MOST: usize = 24;

/// Of a run of typed text so many characters at its end are shown.
const TYPED: usize = 32;

/// What a press was.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Press {
    /// A key that ran a verb.
    Verb {
        /// The key.
        key: String,
        /// What it did.
        label: String,
        /// How many times in a row.
        times: u32,
    },
    /// Text was typed.
    Typed(String),
    /// Text was pasted: so many characters.
    Pasted(usize),
}

/// What of the text is lit, as of a place.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Lit {
    /// The view, the text, its revision and the caret that it was found for.
    pub of: (ViewId, BufferId, u64, usize),
    /// The block.
    pub span: Span,
}

/// What is shown to an audience.
#[derive(Debug, Default)]
pub struct Presenting {
    /// The last presses, the oldest first; none where they are not shown.
    pub shown: Option<VecDeque<Press>>,
    /// Whether only the block at the caret is lit.
    pub is_spotlit: bool,
    /// That block.
    pub lit: Option<Lit>,
}

impl Presenting {
    /// Notes a press, where presses are shown.
    pub fn note(&mut self, press: Press) {
        let Some(shown) = &mut self.shown else { return };
        match (shown.back_mut(), press) {
            (Some(Press::Typed(before)), Press::Typed(more)) => {
                before.push_str(&more);
                let skipped = before.chars().count().saturating_sub(TYPED);
                *before = before.chars().skip(skipped).collect();
            }
            (Some(Press::Verb { key, label, times }), Press::Verb { key: next, label: same, times: more })
                if *key == next && *label == same =>
            {
                *times += more;
            }
            (_, press) => shown.push_back(press),
        }
        if shown.len() > MOST {
            shown.pop_front();
        }
    }
}

impl Press {
    /// The key as it is shown, and what it did.
    #[must_use]
    pub fn told(&self) -> (String, String) {
        match self {
            Press::Verb { key, label, times: 1 } => (key.clone(), label.clone()),
            Press::Verb { key, label, times } => (format!("{key} ×{times}"), label.clone()),
            Press::Typed(text) => (format!("“{text}”"), "typed".to_owned()),
            Press::Pasted(characters) => ("paste".to_owned(), format!("{characters} characters")),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn presses_of_one_kind_are_one_and_nothing_is_noted_unless_it_is_shown() {
        let verb = |key: &str| Press::Verb { key: key.to_owned(), label: "carry ↓".to_owned(), times: 1 };
        let mut presenting = Presenting::default();
        presenting.note(verb("Alt+s"));
        assert!(presenting.shown.is_none());
        presenting.shown = Some(VecDeque::new());
        for press in
            [verb("Alt+s"), verb("Alt+s"), verb("s"), Press::Typed("eb".to_owned()), Press::Typed("b".to_owned())]
        {
            presenting.note(press);
        }
        presenting.note(Press::Pasted(120));
        let told: Vec<String> =
            presenting.shown.iter().flatten().map(Press::told).map(|(key, what)| format!("{key}: {what}")).collect();
        assert_eq!(told, ["Alt+s ×2: carry ↓", "s: carry ↓", "“ebb”: typed", "paste: 120 characters"]);
        (0..100).for_each(|_| presenting.note(Press::Typed("tide ".to_owned())));
        (0..100).for_each(|index| presenting.note(Press::Pasted(index)));
        assert_eq!(presenting.shown.unwrap().len(), MOST);
    }
}
