//! Hits in a text, looked for in the background.
//!
//! Hits are reported as they are found, in the order of the text; what each is in (code, string, comment) is reported after all
//! of them are found. Cost: one pass over the text.

use snarvel_core::languages::Language;
use snarvel_core::languages::lexical::Lexical;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::search::pattern::{Pattern, kinds_of};
use snarvel_core::text::Text;
use snarvel_core::units::Span;
use snarvel_task::{Context, Report, Task};
use std::sync::Arc;

/// What is reported.
#[derive(Debug)]
pub enum Found {
    /// More hits, in order.
    Hits(Vec<Span>),
    /// What the first of the hits that are not told of yet are in.
    Kinds(Vec<Kind>),
    /// All is found; whether there are more hits than are kept.
    All {
        /// Whether there are.
        is_cut: bool,
    },
}

/// What is looked for, and where.
#[derive(Clone, Debug)]
pub struct Search {
    /// What.
    pub pattern: Arc<Pattern>,
    /// In which text.
    pub text: Text,
    /// In which of its spans.
    pub spans: Vec<Span>,
    /// The language of the text.
    pub language: Arc<Language>,
}

/// Hits whose kinds are told in one go.
const KINDS_AT_ONCE: usize = 1 << 20;

/// The most hits that are kept: more than anybody would make cursors of.
const MOST_HITS: usize = 5_000_000;

/// Begins to look for hits.
pub fn find_in_background(search: Search, sink: impl Fn(Report<Found>) + Send + 'static) -> Task {
    snarvel_task::spawn(sink, move |context| search.run(context))
}

impl Search {
    fn run(&self, context: &Context<Found>) {
        let rule = self.language.word_rule();
        let mut all: Vec<Span> = Vec::new();
        for &span in &self.spans {
            let mut from = span.start;
            while !context.is_cancelled() && all.len() <= MOST_HITS {
                let stretch = self.pattern.stretch(&self.text, from, span);
                let hits = self.pattern.hits(&self.text, stretch, span, rule);
                all.extend_from_slice(&hits);
                from = Pattern::behind(stretch, &hits);
                context.send(Found::Hits(hits));
                if from >= span.end {
                    break;
                }
            }
        }
        let lexical = Lexical::new(&self.language);
        let syntax = lexical.of(&self.text);
        for hits in all.chunks(KINDS_AT_ONCE) {
            if context.is_cancelled() {
                return;
            }
            context.send(Found::Kinds(kinds_of(&self.text, &syntax, hits)));
        }
        context.send(Found::All { is_cut: all.len() > MOST_HITS });
    }
}

/// The place of a kind among code, strings and comments.
#[must_use]
pub fn index_of(kind: Kind) -> usize {
    match kind {
        Kind::Code => 0,
        Kind::String => 1,
        Kind::Comment => 2,
    }
}

/// Hits as they come in.
#[derive(Debug, Default)]
pub struct Hits {
    /// The hits so far, in order.
    pub spans: Vec<Span>,
    /// What they are in, for the first so many.
    pub kinds: Vec<Kind>,
    /// How many of those are in code, strings and comments.
    pub by_kind: [usize; 3],
    /// Whether nothing more comes.
    pub is_complete: bool,
    /// Whether there are more than are kept.
    pub is_cut: bool,
}

impl Hits {
    /// Takes in what was found.
    pub fn take(&mut self, found: Found) {
        match found {
            Found::Hits(hits) => self.spans.extend(hits),
            Found::Kinds(kinds) => {
                kinds.iter().for_each(|kind| self.by_kind[index_of(*kind)] += 1);
                self.kinds.extend(kinds);
            }
            Found::All { is_cut } => (self.is_complete, self.is_cut) = (true, is_cut),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_core::languages::by_name;
    use snarvel_core::search::pattern::Query;
    use std::sync::mpsc::channel;

    #[test]
    fn hits_come_with_what_they_are_in() {
        let text = Text::from("let tide = \"tide\"; // tide\n");
        let pattern = Arc::new(Pattern::new(Query { what: "tide".to_owned(), ..Query::default() }).unwrap());
        let spans = vec![text.span()];
        let (sender, told) = channel();
        let search = Search { pattern, text, spans, language: by_name("rust").unwrap() };
        let _task = find_in_background(search, move |report| drop(sender.send(report)));
        let mut hits = Hits::default();
        told.iter().for_each(|report| {
            if let Report::News(found) = report {
                hits.take(found);
            }
        });
        assert_eq!(hits.spans.len(), 3);
        assert_eq!(hits.kinds, [Kind::Code, Kind::String, Kind::Comment]);
        assert!(hits.is_complete && !hits.is_cut && hits.by_kind == [1, 1, 1]);
    }
}
