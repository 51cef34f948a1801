//! Answers questions for offers in the background: what is asked last counts.

use crate::ids::BufferId;
use snarvel_core::languages::Language;
use snarvel_core::offers::local::{self, Other, Question, Vocabulary};
use snarvel_core::offers::matching::Letters;
use snarvel_core::offers::paths::TypedPath;
use snarvel_core::offers::{Candidate, Nearness, Source, ranked};
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_task::{Context, waits};
use std::collections::HashMap;
use std::fmt;
use std::path::PathBuf;
use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::mpsc::Receiver;
use std::time::Instant;

/// What is looked for.
pub(crate) enum Wanted {
    /// Words and templates, and the other texts in which words are looked for.
    Words(Box<Question>, Vec<OtherText>),
    /// Files and folders: the path that is typed, and the folders that it may go on in.
    Paths(TypedPath, Vec<PathBuf>),
}

/// Another open text.
pub(crate) struct OtherText {
    pub id: BufferId,
    pub revision: u64,
    pub name: String,
    pub text: Text,
    /// Where it was looked at last.
    pub at: Byte,
    pub language: Arc<Language>,
}

/// The words of other texts, kept as long as those do not change.
#[derive(Default)]
struct Vocabularies(HashMap<BufferId, (u64, Arc<Vocabulary>)>);

impl Vocabularies {
    /// The words of `others`, until `is_over`.
    fn of(&mut self, others: &[OtherText], is_over: &dyn Fn() -> bool) -> Vec<Other> {
        self.0.retain(|id, _| others.iter().any(|other| other.id == *id));
        let mut found = Vec::with_capacity(others.len());
        for other in others {
            let known = self.0.get(&other.id).filter(|(revision, _)| *revision == other.revision);
            let words = match known {
                Some((_, words)) => words.clone(),
                None if is_over() => continue,
                None => {
                    let words = Arc::new(Vocabulary::of(&other.text, other.at, &other.language));
                    self.0.insert(other.id, (other.revision, words.clone()));
                    words
                }
            };
            found.push((other.name.clone(), words));
        }
        found
    }
}

/// A question and its number.
pub(crate) struct Job {
    pub number: u64,
    pub wanted: Wanted,
    /// Whether there is a person at a screen: then it may take so long only.
    pub is_hurried: bool,
}

impl fmt::Debug for Job {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(out, "Job({})", self.number)
    }
}

/// Which sources answer.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Turn {
    /// Those that are asked first: the list begins anew with their answer.
    First,
    /// One that answers later: what it has joins the list.
    Later,
}

/// What a source gives for the question of that number. Every source answers so, whenever it can: the list takes in what comes late.
#[derive(Debug)]
pub struct Answer {
    /// The number of the question.
    pub(super) number: u64,
    /// What is offered, in order.
    pub(super) candidates: Vec<Candidate>,
    pub(super) turn: Turn,
}

/// A list has so many rows at most, and a source gives no more.
pub(super) const MOST_ROWS: usize = 500;

impl Answer {
    /// Of what a source has for `letters`: as many of the best as a list shows. To be made where the source runs, for it goes through all
    /// that it has.
    #[must_use]
    pub fn of(number: u64, candidates: Vec<Candidate>, (letters, turn): (&Letters, Turn)) -> Answer {
        let mut candidates = ranked(candidates, letters);
        candidates.truncate(MOST_ROWS);
        Answer { number, candidates, turn }
    }
}

/// Answers the jobs of `inbox`; of several the last one. `newest` is the number of the newest question: an older one is given up.
pub(crate) fn work(inbox: &Receiver<Job>, newest: &Arc<AtomicU64>, context: &Context<Answer>) {
    let mut vocabularies = Vocabularies::default();
    while let Ok(first) = inbox.recv() {
        let job = inbox.try_iter().last().unwrap_or(first);
        let began = Instant::now();
        let is_over = || {
            let is_late = job.is_hurried && began.elapsed() > waits::OFFERS;
            is_late || newest.load(Ordering::Relaxed) != job.number
        };
        let (candidates, letters) = match &job.wanted {
            Wanted::Words(question, others) => {
                let candidates = local::candidates(question, &vocabularies.of(others, &is_over));
                (candidates, question.letters.clone())
            }
            Wanted::Paths(path, folders) => (paths(path, folders), Letters::of(&path.name)),
        };
        context.send(Answer::of(job.number, candidates, (&letters, Turn::First)));
    }
}

/// So many names of a folder are looked at.
const MOST_NAMES: usize = 5_000;

/// The files and folders that a path may go on with.
fn paths(path: &TypedPath, folders: &[PathBuf]) -> Vec<Candidate> {
    let shows_hidden = path.name.starts_with('.');
    for folder in folders {
        let Ok(entries) = std::fs::read_dir(folder) else { continue };
        let candidate = |entry: std::fs::DirEntry| {
            let name = entry.file_name().into_string().ok()?;
            let is_shown = (shows_hidden || !name.starts_with('.')) && !name.chars().any(char::is_control);
            let is_folder = entry.path().is_dir();
            let text = if is_folder { name + "/" } else { name };
            let kind = if is_folder { "folder" } else { "file" };
            is_shown.then(|| Candidate { kind, ..Candidate::of(Source::Path, text, Nearness::Elsewhere) })
        };
        return entries.take(MOST_NAMES).filter_map(Result::ok).filter_map(candidate).collect();
    }
    Vec::new()
}
