//! Hits looked at again: whether the text still is what was found, and its groups.
//!
//! What was found may be of a text that has changed since, so a replacement uses what is there when it is made.

use super::pattern::Pattern;
use crate::text::Text;
use crate::units::{Byte, Span};
use regex_automata::util::captures::Captures;
use regex_automata::{Anchored, Input};
use std::borrow::Cow;

impl Pattern {
    /// Gives each of `hits`, which are in order, with its groups, the whole one first; without any where it is no hit of
    /// this pattern any more.
    pub fn each_with_groups(&self, text: &Text, hits: &[Span], mut take: impl FnMut(Span, &[Option<&str>])) {
        let mut captures: Captures = self.regex.create_captures();
        // Hits of one line share what is looked at.
        let (mut hay, mut around) = (Cow::Borrowed(""), Span::at(Byte(0)));
        let is_place = |at: Byte| at <= text.end() && text.is_char_edge(at);
        for &hit in hits {
            if !is_place(hit.start) || !is_place(hit.end) {
                take(hit, &[]);
                continue;
            }
            if hit.start < around.start || hit.end >= around.end {
                let (slice, start) = self.hay(text, hit);
                (around, hay) = (Span::new(start, start + slice.len()), slice);
            }
            let range = hit.start - around.start..hit.end - around.start;
            let input = Input::new(hay.as_ref()).range(range.clone()).anchored(Anchored::Yes);
            self.regex.search_captures(&input, &mut captures);
            let is_whole = captures.get_match().is_some_and(|found| found.range() == range);
            let groups: Vec<Option<&str>> = match is_whole {
                true => captures.iter().map(|span| span.map(|span| &hay[span.start..span.end])).collect(),
                false => Vec::new(),
            };
            take(hit, &groups);
        }
    }

    /// Gives each of `hits`, which are in order, that still is a hit of this pattern.
    pub fn each_that_is(&self, text: &Text, hits: &[Span], mut take: impl FnMut(Span)) {
        let Some(needle) = &self.needle else {
            self.each_with_groups(text, hits, |hit, groups| {
                if !groups.is_empty() {
                    take(hit);
                }
            });
            return;
        };
        let is_place = |at: Byte| at <= text.end() && text.is_char_edge(at);
        let is_needle = |hit: &Span| is_place(hit.start) && is_place(hit.end) && text.slice(*hit) == needle.as_str();
        hits.iter().copied().filter(is_needle).for_each(take);
    }
}
