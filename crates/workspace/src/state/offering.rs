//! What is offered at the caret, and what was asked for it.

use crate::ids::BufferId;
use crate::offering::answering::Job;
use snarvel_core::offers::Candidate;
use snarvel_core::offers::matching::Letters;
use snarvel_core::templates::Template;
use snarvel_core::units::Byte;
use snarvel_task::Worker;
use std::collections::HashMap;
use std::sync::Arc;
use std::sync::atomic::AtomicU64;

/// What is offered.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum About {
    /// What can be put in place of the letters of a word.
    Word,
    /// What can be put in place of the letters of a file's name.
    Path,
    /// The words of a choice in a template.
    Choice,
    /// What can be put around the lines.
    Around,
    /// What mends what is wrong.
    Fixes,
}

/// How a list came about, and how far a person has gone into it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Called {
    /// By typing.
    ByTyping,
    /// By its key.
    ByKey,
    /// A row was chosen.
    Chosen,
}

/// A list of offers that is shown.
#[derive(Clone, Debug)]
pub struct Offers {
    /// The offers, the best first.
    pub list: Vec<Candidate>,
    /// The row of the one that is taken next.
    pub chosen: usize,
    /// How it came about.
    pub called: Called,
    /// What is offered.
    pub about: About,
    /// The letters that they fit.
    pub letters: Letters,
}

/// A question that was asked last.
#[derive(Debug)]
pub(crate) struct Asked {
    /// Its number: an answer of another one is stale.
    pub number: u64,
    /// The text and its revision.
    pub of: (BufferId, u64),
    /// How it came about.
    pub called: Called,
    /// What is offered.
    pub about: About,
    /// The letters.
    pub letters: Letters,
    /// Whether the sources have not answered yet.
    pub is_pending: bool,
    /// Whether the structure of the text was not known.
    pub lacks_structure: bool,
    /// What was told by those that come later, as long as the first ones have not answered: it joins what these have.
    pub early: Vec<Candidate>,
}

/// Offers.
#[derive(Debug, Default)]
pub(crate) struct Offering {
    /// What is shown.
    pub shown: Option<Offers>,
    /// What was asked last.
    pub asked: Option<Asked>,
    /// The word in which offers were put away: its text and where it begins.
    pub put_away: Option<(BufferId, Byte)>,
    /// A question that is to be asked once the frame is drawn: what answers it takes a processor that the frame may need.
    pub queued: Option<Job>,
    /// Looks for what is asked.
    pub worker: Option<Worker<Job>>,
    /// The number of the newest question.
    pub newest: Arc<AtomicU64>,
    /// Texts by their last use, the last used first.
    pub used: Vec<BufferId>,
    /// The templates of languages that were asked for.
    pub templates: HashMap<String, Arc<[Arc<Template>]>>,
    /// The person's own, by language.
    pub own: HashMap<String, Vec<Template>>,
}

impl Offers {
    /// The one that is taken next.
    #[must_use]
    pub fn chosen(&self) -> Option<&Candidate> {
        self.list.get(self.chosen)
    }
}
