//! Answers questions for offers in the background: what is asked last counts.

use snarvel_core::offers::local::{self, Question};
use snarvel_core::offers::paths::TypedPath;
use snarvel_core::offers::{Candidate, Nearness, Source};
use snarvel_task::{Context, waits};
use std::fmt;
use std::path::PathBuf;
use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::mpsc::Receiver;
use std::time::Instant;

/// What is looked for.
pub(crate) enum Wanted {
    /// Words and templates.
    Words(Box<Question>),
    /// Files and folders: the path that is typed, and the folders that it may go on in.
    Paths(TypedPath, Vec<PathBuf>),
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

/// What a source gives for the question of that number. Every source answers so, whenever it can: the list takes in what comes late.
#[derive(Debug)]
pub struct Answer {
    /// The number of the question.
    pub number: u64,
    /// What is offered.
    pub candidates: Vec<Candidate>,
    /// Whether it is that of the sources that are asked first, and the list begins anew with it.
    pub is_first: bool,
}

/// Answers the jobs of `inbox`; of several the last one. `newest` is the number of the newest question: an older one is given up.
pub(crate) fn work(inbox: &Receiver<Job>, newest: &Arc<AtomicU64>, context: &Context<Answer>) {
    while let Ok(first) = inbox.recv() {
        let job = inbox.try_iter().last().unwrap_or(first);
        let began = Instant::now();
        let is_over = || {
            let is_late = job.is_hurried && began.elapsed() > waits::OFFERS;
            is_late || newest.load(Ordering::Relaxed) != job.number
        };
        let candidates = match &job.wanted {
            Wanted::Words(question) => local::candidates(question, &is_over),
            Wanted::Paths(path, folders) => paths(path, folders),
        };
        context.send(Answer { number: job.number, candidates, is_first: true });
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
