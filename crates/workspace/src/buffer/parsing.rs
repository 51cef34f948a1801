//! What a buffer knows of its language: kinds by the scanner, structure and colours by the parser.

use snarvel_core::changes::Change;
use snarvel_core::changes::feed::ChangeFeed;
use snarvel_core::languages::Language;
use snarvel_core::languages::lexical::{Lexical, LexicalView};
use snarvel_core::structure::Known;
use snarvel_core::text::Text;
use snarvel_core::units::Span;
use snarvel_syntax::background::{BackgroundParser, Need, Parsed, ParsedText, Requested, Sink};
use snarvel_syntax::has_grammar;
use snarvel_syntax::paints::Paints;
use snarvel_task::waits;
use std::sync::Arc;

/// The language side of a buffer.
#[derive(Debug)]
pub struct Parsing {
    lexical: Lexical,
    parser: Option<BackgroundParser>,
}

/// What is known of the structure around some places of a text: taken before a verb runs.
pub enum Taken {
    /// There is no grammar.
    NoGrammar,
    /// It is not known, or not yet.
    NotYet,
    /// It is known.
    Parsed(Box<ParsedText>),
}

impl Taken {
    /// As verbs get it.
    #[must_use]
    pub fn known(&self) -> Known<'_> {
        match self {
            Taken::NoGrammar => Known::NoGrammar,
            Taken::NotYet => Known::NotYet,
            Taken::Parsed(parsed) => Known::Parsed(&**parsed),
        }
    }
}

impl Parsing {
    /// By the scanner alone.
    #[must_use]
    pub fn without_parser(language: &Arc<Language>) -> Parsing {
        Parsing { lexical: Lexical::new(language), parser: None }
    }

    /// With a parser for `text`, if there is a grammar, that reports to `sink`.
    #[must_use]
    pub fn new(language: &Arc<Language>, text: &Text, revision: u64, sink: Sink) -> Parsing {
        let parser =
            has_grammar(language).then(|| BackgroundParser::new(language.clone(), text.clone(), revision, sink));
        Parsing { lexical: Lexical::new(language), parser }
    }

    /// Parsing may take as long as it takes from now on: where no person waits at a screen.
    pub fn take_as_long_as_it_takes(&mut self) {
        self.parser = self.parser.take().map(|parser| parser.with_limit(waits::UNHURRIED_PARSE));
    }

    /// The same by the scanner alone: to be looked at.
    #[must_use]
    pub fn copy_to_look_at(&self) -> Parsing {
        Parsing { lexical: self.lexical.clone(), parser: None }
    }

    /// The language.
    #[must_use]
    pub fn language(&self) -> &Arc<Language> {
        self.lexical.language()
    }

    /// What is code, string and comment.
    #[must_use]
    pub fn kinds<'a>(&'a self, text: &'a Text) -> LexicalView<'a> {
        self.lexical.of(text)
    }

    /// Takes in `change` for the scanner; the parser reads the feed.
    pub(super) fn follow(&mut self, change: &Change) {
        self.lexical.follow(change);
    }

    /// Asks for what is needed around `span`.
    pub fn request(&mut self, (text, feed): (&Text, &ChangeFeed), span: Span, need: Need) -> Requested {
        let Some(parser) = &mut self.parser else { return Requested::Never };
        parser.catch_up(text, feed);
        parser.request(span, need)
    }

    /// Takes in what the parser has found.
    pub fn take(&mut self, (text, feed): (&Text, &ChangeFeed), parsed: Parsed) {
        self.parser.iter_mut().for_each(|parser| parser.catch_up(text, feed));
        if let Some(parser) = &mut self.parser {
            parser.take(parsed, text, feed);
        }
    }

    /// The parser has panicked.
    pub fn fail(&mut self) {
        self.parser.iter_mut().for_each(BackgroundParser::fail);
    }

    /// Whether something is being parsed.
    #[must_use]
    pub fn is_pending(&self) -> bool {
        self.parser.as_ref().is_some_and(BackgroundParser::is_pending)
    }

    /// The structure around `span`, as far as it is known of the text as it is.
    #[must_use]
    pub fn structure(&self, span: Span, revision: u64) -> Taken {
        match &self.parser {
            None => Taken::NoGrammar,
            Some(parser) => {
                parser.structure(span, revision).map_or(Taken::NotYet, |parsed| Taken::Parsed(Box::new(parsed)))
            }
        }
    }

    /// How `span` is drawn, as far as that is known.
    #[must_use]
    pub fn painted(&self, span: Span, revision: u64) -> Option<Paints> {
        self.parser.as_ref()?.painted(span, revision)
    }
}
