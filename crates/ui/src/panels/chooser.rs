//! A list to choose from: letters leave out what does not fit, arrows choose among the rest.

use super::line::InputLine;
use crate::keys::Key;
use crossterm::event::KeyCode;
use nucleo_matcher::pattern::{CaseMatching, Normalization, Pattern};
use nucleo_matcher::{Config, Matcher, Utf32Str};
use std::borrow::Cow;

/// In which order the rest is shown.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Order {
    /// What fits best first.
    BestFirst,
    /// As in the whole list.
    AsListed,
}

/// What a key did.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Pressed {
    /// The letters are others: the list is to be filtered anew.
    Typed,
    /// Another one is chosen.
    Moved,
    /// Nothing.
    Nothing,
}

/// The letters so far, and what they leave to choose from.
#[derive(Debug)]
pub struct Chooser {
    /// The letters so far.
    pub line: InputLine,
    /// What is left, as indices of the whole list.
    pub shown: Vec<usize>,
    /// Which of those is chosen.
    pub chosen: usize,
    order: Order,
}

/// How many are shown at most: more than anybody would look through.
const MOST_SHOWN: usize = 20_000;

/// How far a page goes.
const PAGE: usize = 10;

impl Chooser {
    /// Nothing to choose from yet.
    pub fn new(order: Order) -> Chooser {
        Chooser { line: InputLine::default(), shown: Vec::new(), chosen: 0, order }
    }

    /// Leaves those of `items` that the letters fit; the first one is chosen.
    pub fn filter<'a>(&mut self, items: impl ExactSizeIterator<Item = Cow<'a, str>>) {
        let letters = self.line.text.clone();
        self.filter_by(&letters, items);
    }

    /// Leaves those of `items` that `letters` fit; the first one is chosen.
    pub fn filter_by<'a>(&mut self, letters: &str, items: impl ExactSizeIterator<Item = Cow<'a, str>>) {
        self.chosen = 0;
        if letters.is_empty() {
            self.shown = (0..items.len().min(MOST_SHOWN)).collect();
            return;
        }
        let mut matcher = Matcher::new(Config::DEFAULT.match_paths());
        let pattern = Pattern::parse(letters, CaseMatching::Smart, Normalization::Smart);
        let mut buffer = Vec::new();
        let mut score = |(index, item): (usize, Cow<str>)| {
            pattern.score(Utf32Str::new(&item, &mut buffer), &mut matcher).map(|score| (score, index))
        };
        let mut found: Vec<(u32, usize)> = items.enumerate().filter_map(&mut score).collect();
        if self.order == Order::BestFirst {
            found.sort_by_key(|(score, index)| (std::cmp::Reverse(*score), *index));
        }
        self.shown = found.into_iter().take(MOST_SHOWN).map(|(_, index)| index).collect();
    }

    /// Which one of the whole list is chosen; none when nothing fits.
    pub fn index(&self) -> Option<usize> {
        self.shown.get(self.chosen).copied()
    }

    /// Chooses the `index`th of the whole list, if it is shown.
    pub fn choose(&mut self, index: usize) {
        self.chosen = self.shown.iter().position(|&each| each == index).unwrap_or(self.chosen);
    }

    /// Takes a key.
    pub fn press(&mut self, key: Key) -> Pressed {
        let last = self.shown.len().saturating_sub(1);
        let before = self.chosen;
        self.chosen = match key.code {
            KeyCode::Up => before.saturating_sub(1),
            KeyCode::Down => (before + 1).min(last),
            KeyCode::PageUp => before.saturating_sub(PAGE),
            KeyCode::PageDown => (before + PAGE).min(last),
            KeyCode::Home => 0,
            KeyCode::End => last,
            _ if self.line.press(key) => return Pressed::Typed,
            _ => before,
        };
        if self.chosen == before { Pressed::Nothing } else { Pressed::Moved }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn left(letters: &str, order: Order, items: &[&str]) -> Vec<usize> {
        let mut chooser = Chooser::new(order);
        chooser.line.set(letters);
        chooser.filter(items.iter().map(|item| Cow::Borrowed(*item)));
        chooser.shown
    }

    #[test]
    fn what_fits_best_comes_first_and_of_equals_what_was_listed_first() {
        let files = ["src/tests/ides.rs", "docs/time-and-ebb.md", "tides.py", "src/tides.rs", "harbour.css"];
        assert_eq!(left("tides", Order::BestFirst, &files)[..2], [2, 3], "a name beside letters strewn about");
        assert_eq!(left("src tid", Order::BestFirst, &files)[0], 3, "all words have to fit");
        assert_eq!(left("zz", Order::BestFirst, &files), [0; 0]);
        assert_eq!(left("", Order::BestFirst, &files), [0, 1, 2, 3, 4]);
        assert_eq!(left("tides", Order::AsListed, &files), [0, 2, 3]);
        assert_eq!(left("a", Order::BestFirst, &["xa", "xa"]), [0, 1]);
        // Upper case is meant where it is typed.
        assert_eq!(left("TI", Order::BestFirst, &files), [0; 0]);
    }
}
