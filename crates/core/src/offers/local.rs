//! Sources that need nothing but texts: the words of this text and of others, the words of the language, templates.

use super::matching::Letters;
use super::nearby;
use super::{Candidate, Nearness, Source};
use crate::cursors::CursorSet;
use crate::languages::Language;
use crate::templates::{Fits, Template};
use crate::text::Text;
use crate::units::{Byte, Span};
use std::collections::HashMap;
use std::sync::Arc;

/// What a source is asked. It is a value of its own: sources answer in the background, of the text as it was.
#[derive(Clone)]
pub struct Question {
    /// The text.
    pub text: Text,
    /// The caret.
    pub at: Byte,
    /// All cursors: words that are being typed are no offers.
    pub cursors: Arc<CursorSet>,
    /// What was typed before the caret.
    pub letters: Letters,
    /// The language at the caret.
    pub language: Arc<Language>,
    /// The function that the caret is in.
    pub function: Option<Span>,
    /// Where the caret is.
    pub place: Place,
    /// The templates of the language.
    pub templates: Arc<[Arc<Template>]>,
}

/// Where a caret is, as far as templates care.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Place {
    /// Whether it is in code.
    pub is_code: bool,
    /// Whether nothing but white space is before the letters on their line.
    pub begins_line: bool,
    /// Whether a type is expected.
    pub is_type: bool,
}

/// The words of another open text, each once, as far as they are near where it was looked at last.
#[derive(Clone, Debug, Default)]
pub struct Vocabulary {
    words: Vec<(String, &'static str)>,
}

impl Vocabulary {
    /// Of `text`, around `at`. Cost: linear in the bytes within reach.
    #[must_use]
    pub fn of(text: &Text, at: Byte, language: &Language) -> Vocabulary {
        let mut known: HashMap<String, &'static str> = HashMap::new();
        nearby::words((text, at), None, language.word_rule(), |word, start| {
            if !known.contains_key(word) {
                known.insert(word.to_owned(), kind_of(text, start + word.len()));
            }
        });
        Vocabulary { words: known.into_iter().collect() }
    }
}

/// Another open text: what it is called, and its words.
pub type Other = (String, Arc<Vocabulary>);

/// What all sources of this file offer; `others` are the other open texts, the one used last first.
#[must_use]
pub fn candidates(question: &Question, others: &[Other]) -> Vec<Candidate> {
    let mut all = words_here(question);
    for (order, other) in others.iter().enumerate() {
        all.extend(words_of(question, other, order));
    }
    if question.place.is_code {
        all.extend(keywords(question));
        all.extend(templates(question));
    }
    all
}

/// The words of the text, each as near as the nearest place that it is at.
fn words_here(question: &Question) -> Vec<Candidate> {
    let nearness = |at: Byte| {
        let distance = at.0.abs_diff(question.at.0);
        let is_in = |function: Span| function.start <= at && at < function.end;
        if question.function.is_some_and(is_in) { Nearness::Function(distance) } else { Nearness::Text(distance) }
    };
    let mut nearest: HashMap<String, (Nearness, Byte)> = HashMap::new();
    let here = (&question.text, question.at);
    nearby::words(here, Some(&question.cursors), question.language.word_rule(), |word, at| {
        if !question.letters.are_in(word) {
            return;
        }
        let here = (nearness(at), at);
        match nearest.get_mut(word) {
            Some(known) => *known = here.min(*known),
            None => drop(nearest.insert(word.to_owned(), here)),
        }
    });
    let candidate = |(text, (nearness, at)): (String, (Nearness, Byte))| {
        let line = question.text.line_of(at);
        let content = question.text.content_span(line);
        let end = question.text.snap_back(content.end.min(content.start + LONGEST_DETAIL));
        let kind = kind_of(&question.text, at + text.len());
        let detail = format!("line {}: {}", line.0 + 1, question.text.slice(Span::new(content.start, end)).trim());
        Candidate { kind, detail, ..Candidate::of(Source::Word, text, nearness) }
    };
    nearest.into_iter().map(candidate).collect()
}

/// So much of a line is told of a word in it.
const LONGEST_DETAIL: usize = 200;

/// What a word that ends at `end` is, as far as its looks tell.
fn kind_of(text: &Text, end: Byte) -> &'static str {
    if text.char_at(end) == Some('(') { "function" } else { "word" }
}

/// The words of another text.
fn words_of<'q>(
    question: &'q Question,
    (name, vocabulary): &'q Other,
    order: usize,
) -> impl Iterator<Item = Candidate> + 'q {
    let fitting = vocabulary.words.iter().filter(|(word, _)| question.letters.are_in(word));
    fitting.map(move |(word, kind)| Candidate {
        detail: name.clone(),
        kind,
        ..Candidate::of(Source::Open, word.clone(), Nearness::Other(order))
    })
}

fn keywords(question: &Question) -> impl Iterator<Item = Candidate> {
    let language = &question.language;
    // Where case does not count the table has them in upper case; most people write what they began in lower case.
    let lowers = language.any_case && !question.letters.as_str().chars().any(char::is_uppercase);
    language.keywords.iter().filter(|word| word.len() > 1).map(move |word| {
        let text = if lowers { word.to_lowercase() } else { word.clone() };
        Candidate::of(Source::Keyword, text, Nearness::Elsewhere)
    })
}

fn templates(question: &Question) -> impl Iterator<Item = Candidate> {
    let fits = |template: &&Arc<Template>| match template.fits {
        Fits::Line => question.place.begins_line,
        Fits::Code => true,
        Fits::Type => question.place.is_type,
    };
    question.templates.iter().filter(fits).cloned().map(Candidate::of_template)
}
