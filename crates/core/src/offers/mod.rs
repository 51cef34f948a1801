//! Offers: what can be put at a caret. Where offers come from is told by [`Candidate`]s; here they are matched with the letters that
//! were typed, and put in order.
//!
//! Sources know nothing of each other: each gives candidates for a [`Question`], whenever it has them, and [`ranked`] makes one list.
//! A word that several sources give is offered once. Cost: linear in the candidates, and in their letters times those typed.

pub mod local;
pub mod matching;
mod nearby;
pub mod paths;

use crate::templates::Template;
use matching::{Letters, Score};
use std::cmp::Reverse;
use std::collections::HashMap;
use std::sync::Arc;

/// Where an offer is from. A word that several sources have is told as from the first of them here.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Source {
    /// A language server.
    Server,
    /// The names of the project.
    Index,
    /// The words of the text.
    Word,
    /// The words of another open text.
    Open,
    /// The words of the language.
    Keyword,
    /// A template, or a word of a choice in one.
    Template,
    /// A file or folder.
    Path,
    /// Something that mends what is wrong.
    Fix,
}

impl Source {
    /// Its name in what is told to other programs.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Source::Server => "server",
            Source::Index => "index",
            Source::Word => "word",
            Source::Open => "open",
            Source::Keyword => "keyword",
            Source::Template => "template",
            Source::Path => "path",
            Source::Fix => "fix",
        }
    }
}

/// How near something is to the caret: what is nearer is offered first. The distance of bytes counts where all else is alike.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Nearness {
    /// In the same function.
    Function(usize),
    /// In the same text.
    Text(usize),
    /// In another text: how many were used after it.
    Other(usize),
    /// Nowhere.
    Elsewhere,
}

/// Something that a source offers.
#[derive(Clone, Debug)]
pub struct Candidate {
    /// What is put in; the name of a template.
    pub text: String,
    /// Where it is from.
    pub source: Source,
    /// What it is: `word`, `function`, `file` …
    pub kind: &'static str,
    /// What is told of it: a line that it is in, the file that it is from.
    pub detail: String,
    /// How near it is.
    pub nearness: Nearness,
    /// Its place in the order of its source.
    pub order: usize,
    /// The template that is put in place of the text.
    pub template: Option<Arc<Template>>,
    /// The number by which its source knows more of it.
    pub ticket: Option<u64>,
}

impl Candidate {
    /// A text from `source`.
    #[must_use]
    pub fn of(source: Source, text: impl Into<String>, nearness: Nearness) -> Candidate {
        Candidate {
            text: text.into(),
            source,
            kind: source.name(),
            detail: String::new(),
            nearness,
            order: 0,
            template: None,
            ticket: None,
        }
    }

    /// A template.
    #[must_use]
    pub fn of_template(template: Arc<Template>) -> Candidate {
        Candidate {
            text: template.name.clone(),
            detail: template.words.join(" "),
            template: Some(template),
            ..Candidate::of(Source::Template, "", Nearness::Elsewhere)
        }
    }

    /// How well it fits `letters`; none where it does not. A template fits by its other words, too.
    #[must_use]
    pub fn fits(&self, letters: &Letters) -> Option<Score> {
        let own = letters.score(&self.text);
        let Some(template) = &self.template else { return own };
        if letters.is_all_of(&template.name) {
            return Some(Score::WHOLE);
        }
        let others = template.words.iter().filter_map(|word| letters.score(word));
        own.into_iter().chain(others).max()
    }
}

/// The candidates that fit `letters`, the best first, each text once. The word that is being typed is no offer, unless a template is
/// called that.
#[must_use]
pub fn ranked(candidates: Vec<Candidate>, letters: &Letters) -> Vec<Candidate> {
    let mut fitting: Vec<(Score, Candidate)> = Vec::new();
    // Templates may be called like a word.
    let mut at: HashMap<(String, bool), usize> = HashMap::new();
    for candidate in candidates {
        let is_typed = candidate.template.is_none() && letters.is_all_of(&candidate.text);
        let Some(score) = candidate.fits(letters).filter(|_| !is_typed) else { continue };
        let key = (candidate.text.clone(), candidate.template.is_some());
        match at.get(&key).map(|index| &mut fitting[*index].1) {
            None => {
                at.insert(key, fitting.len());
                fitting.push((score, candidate));
            }
            Some(known) => {
                let nearness = known.nearness.min(candidate.nearness);
                if candidate.source < known.source {
                    *known = candidate;
                }
                known.nearness = nearness;
            }
        }
    }
    fitting.sort_by(|(score, one), (other_score, other)| {
        let key = |score: &Score, each: &Candidate| (Reverse(*score), each.nearness, each.order);
        key(score, one).cmp(&key(other_score, other)).then_with(|| one.text.cmp(&other.text))
    });
    // A template comes first only when its whole name is typed: Tab would put in more than the letters say.
    let is_early = |(score, each): &(Score, Candidate)| each.template.is_some() && *score != Score::WHOLE;
    if !letters.as_str().is_empty()
        && fitting.first().is_some_and(is_early)
        && let Some(word) = fitting.iter().position(|(_, each)| each.template.is_none())
    {
        fitting[..=word].rotate_right(1);
    }
    fitting.into_iter().map(|(_, candidate)| candidate).collect()
}

/// Puts `new` candidates into a list in order whose row `chosen` is to stay where it is.
#[must_use]
pub fn joined(shown: Vec<Candidate>, new: Vec<Candidate>, letters: &Letters, chosen: usize) -> Vec<Candidate> {
    let kept = shown.get(chosen).map(|each| (each.text.clone(), each.template.is_some()));
    let mut list = ranked(shown.into_iter().chain(new).collect(), letters);
    let Some(kept) = kept else { return list };
    let now = list.iter().position(|each| (each.text.as_str(), each.template.is_some()) == (&*kept.0, kept.1));
    if let Some(now) = now {
        let row = list.remove(now);
        list.insert(chosen.min(list.len()), row);
    }
    list
}
