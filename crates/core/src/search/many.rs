//! Looking for a pattern in many parts of a text.

use super::pattern::{Case, Edges, Form, Pattern};
use crate::text::Text;
use crate::text::words::WordRule;
use crate::units::Span;
use regex_automata::Input;

impl Pattern {
    /// Gives each hit within each of `parts`, with the number of the part; hits are seen in their lines, with what is around them.
    ///
    /// Cost: linear in the parts, and in the whole text once where a hit may hold a line end.
    pub fn each_within(&self, text: &Text, parts: &[Span], rule: WordRule, take: &mut dyn FnMut(usize, Span)) {
        if self.is_within_lines() || parts.len() == 1 {
            for (index, part) in parts.iter().enumerate() {
                self.all(text, *part, rule).into_iter().for_each(|hit| take(index, hit));
            }
            return;
        }
        let (hay, base) = self.hay(text, text.span());
        for (index, part) in parts.iter().enumerate() {
            let input = Input::new(hay.as_ref()).range(part.start - base..part.end - base);
            for found in self.regex.find_iter(input) {
                let hit = Span::new(base + found.start(), base + found.end());
                if self.wish().edges == Edges::Anywhere || text.is_whole_word(hit, rule) {
                    take(index, hit);
                }
            }
        }
    }

    /// The expression that finds the same with case as written.
    #[must_use]
    pub fn as_expression(&self) -> String {
        let wish = self.wish();
        let source = if wish.form == Form::Literal { regex_syntax::escape(&wish.what) } else { wish.what.clone() };
        let source = if wish.edges == Edges::WholeWords { format!(r"\b(?:{source})\b") } else { source };
        if wish.case == Case::Either || self.is_smart { format!("(?i){source}") } else { source }
    }

    /// Whether each of `parts` has a hit.
    #[must_use]
    pub fn is_in_each(&self, text: &Text, parts: &[Span], rule: WordRule) -> Vec<bool> {
        let mut is_found = vec![false; parts.len()];
        self.each_within(text, parts, rule, &mut |index, _| is_found[index] = true);
        is_found
    }
}
