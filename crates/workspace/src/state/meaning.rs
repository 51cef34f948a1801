//! What is known of the meaning of texts: the servers that run, what was asked, what is wrong, the names of the project.

use crate::ids::{BufferId, ServerId};
use crate::meaning::candidate::Candidate;
use crate::meaning::finding::{By, Finding, Topic};
use crate::meaning::formatted::AfterFormat;
use crate::state::faults::FaultBook;
use crate::tasks::TaskHandle;
use snarvel_core::history::StepId;
use snarvel_core::units::{Byte, Span};
use snarvel_files::search::FileHits;
use snarvel_index::store::Entry;
use snarvel_index::worker::{Index, Question};
use snarvel_servers::ask::Calls;
use snarvel_servers::life::Server;
use snarvel_servers::news::{Able, Fix, Offer, Signature, State};
use snarvel_servers::table::Table;
use snarvel_syntax::paints::Paints;
use std::collections::HashMap;
use std::path::PathBuf;
use std::time::Instant;

/// The servers of a text.
#[derive(Debug)]
pub(crate) struct Seat {
    /// What they were looked for by: where one of these changes, they are looked for again.
    pub(crate) path: PathBuf,
    pub(crate) language: String,
    pub(crate) state: SeatState,
}

/// What is known of the servers of a text.
#[derive(Debug)]
pub(crate) enum SeatState {
    /// They are being looked for.
    Looking { _task: TaskHandle },
    /// These are its.
    Known(Vec<Candidate>),
}

/// What a server was told of a text.
#[derive(Clone, Debug)]
pub(crate) struct Told {
    pub(crate) path: PathBuf,
    pub(crate) revision: u64,
}

/// A server that was started.
#[derive(Debug)]
pub(crate) struct Link {
    pub(crate) id: ServerId,
    pub(crate) name: String,
    pub(crate) root: PathBuf,
    pub(crate) language: String,
    pub(crate) server: Server,
    pub(crate) state: State,
    pub(crate) able: Able,
    pub(crate) progress: Option<String>,
    pub(crate) told: HashMap<BufferId, Told>,
    /// The revisions of texts of which it was asked what is wrong.
    pub(crate) pulled: HashMap<BufferId, u64>,
    pub(crate) pace: Pace,
}

/// How far a server is with what it was told: scripts wait for it.
#[derive(Debug)]
pub(crate) struct Pace {
    /// When it was told something last.
    pub(crate) told: Option<Instant>,
    /// When it told something last.
    pub(crate) heard: Option<Instant>,
    /// Texts of which it has not told what is wrong, since they were told to it.
    pub(crate) owes: Vec<BufferId>,
    /// Whether what it told last of what is wrong may be of a version before.
    pub(crate) is_unsure: bool,
    /// Whether it once let a wait run out, and has told nothing since.
    pub(crate) is_slow: bool,
}

/// What is done with what is found.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) enum Goal {
    /// A panel shows it.
    Show,
    /// The caret goes there.
    Jump,
}

/// Where an inquiry is with its answer.
#[derive(Debug)]
pub(crate) enum Stage {
    /// A server is asked.
    Server(ServerId),
    /// The names of the project are asked.
    Index,
    /// The files are looked through; what was found so far.
    Search(TaskHandle, Vec<FileHits>),
}

/// Something that was asked about a place.
#[derive(Debug)]
pub(crate) struct Inquiry {
    pub(crate) number: u64,
    pub(crate) topic: Topic,
    pub(crate) buffer: BufferId,
    pub(crate) revision: u64,
    pub(crate) word: Span,
    pub(crate) name: String,
    pub(crate) goal: Goal,
    pub(crate) stage: Stage,
}

impl Inquiry {
    /// A finding of it without anything in it.
    pub(crate) fn nothing(&self, by: By) -> Finding {
        Finding {
            number: self.number,
            topic: self.topic,
            name: self.name.clone(),
            by,
            files: Vec::new(),
            text: String::new(),
            relations: Vec::new(),
            accesses: Vec::new(),
        }
    }
}

/// An offer that was put in before all of it was known.
#[derive(Clone, Copy, Debug)]
pub(crate) struct OfferPut {
    pub(crate) buffer: BufferId,
    /// The revision of the text before it was put in.
    pub(crate) before: u64,
    /// The step that put it in.
    pub(crate) step: StepId,
}

/// Other questions to servers, by the number that their answer bears.
#[derive(Clone, Copy, Debug)]
pub(crate) enum Errand {
    /// Edits that are to be carried out, as a step called so.
    Edits { verb: &'static str, buffer: BufferId, revision: u64 },
    /// What puts imports in order.
    Imports { buffer: BufferId, revision: u64, server: ServerId },
    /// The layout of a text; what is to be done then.
    Format { buffer: BufferId, revision: u64, then: AfterFormat },
    /// What mends what is wrong at a place.
    Fixes { question: u64, server: ServerId },
    /// The rest of a fix, which is carried out.
    Fix { server: ServerId },
    /// What can be put in.
    Offers { question: u64, server: ServerId },
    /// The rest of an offer.
    Offer { ticket: u64 },
    /// The rest of an offer that was put in.
    Late { ticket: u64, of: OfferPut },
    /// What is called.
    Signature { buffer: BufferId, revision: u64, at: Byte },
    /// The kinds of words.
    Tokens { buffer: BufferId },
    /// What calls what is at a place, or is called by it.
    Calls { inquiry: u64, way: Calls },
    /// The names of a text: parts of what the inquiry is about.
    Parts { inquiry: u64, server: ServerId },
    /// Names of the project, for a panel that has asked the index, too, by this number.
    Names { number: u64 },
    /// Which uses in the text read and which write.
    Highlights { inquiry: u64 },
    /// A command that the server runs.
    Command,
    /// What is wrong in a text.
    Faults,
}

/// What was asked and is not answered yet.
#[derive(Debug, Default)]
pub(crate) struct Asked {
    pub(crate) next: u64,
    pub(crate) inquiries: Vec<Inquiry>,
    /// What was found so far of inquiries that go on.
    pub(crate) findings: HashMap<u64, Finding>,
    pub(crate) errands: HashMap<u64, (ServerId, Errand)>,
}

/// The names of the project.
#[derive(Debug, Default)]
pub(crate) struct Names {
    /// Where they are kept; none where they are not.
    pub(crate) kept: Option<PathBuf>,
    pub(crate) index: Option<Index>,
    /// The revisions of texts that it was told of.
    pub(crate) told: HashMap<BufferId, (PathBuf, u64)>,
    /// When it was begun.
    pub(crate) began: Option<Instant>,
    /// How many files it has looked at; none once it has seen all.
    pub(crate) growing: Option<usize>,
    /// Questions that wait until it has: without a screen an answer is the last one.
    pub(crate) waiting: Vec<(u64, Question)>,
    /// Questions of panels for names that letters fit: only the newest counts.
    pub(crate) like: Option<u64>,
    /// What was found for the newest of those questions, by the index and a server.
    pub(crate) of_server: (u64, Vec<Entry>),
    /// The question for offers, and the number of that for names.
    pub(crate) offers: Option<(u64, u64)>,
    /// How many files and names there are.
    pub(crate) counts: [usize; 2],
}

/// The kinds of the words of a text.
#[derive(Debug, Default)]
pub(crate) struct Kinds {
    pub(crate) paints: Paints,
    /// The revision that they are of.
    pub(crate) revision: u64,
    /// The revision that they were asked for last.
    pub(crate) asked: u64,
}

/// What is called at the caret.
#[derive(Clone, Debug)]
pub struct Call {
    /// The text.
    pub(crate) buffer: BufferId,
    /// What is called.
    pub signature: Signature,
}

/// A fix that is offered, and the server that offers it.
#[derive(Clone, Debug)]
pub struct OfferedFix {
    pub(crate) server: ServerId,
    pub(crate) fix: Fix,
}

/// What is known of an offer beside what is shown of it.
#[derive(Debug)]
pub(crate) enum Given {
    /// It mends what is wrong.
    Fix(Box<OfferedFix>),
    /// A server offers it.
    Offer {
        server: ServerId,
        offer: Box<Offer>,
        /// How many bytes before the letters it takes the place of, and how many after the caret.
        around: [usize; 2],
        /// Whether the server has told, or was asked for, all of it.
        is_asked: bool,
    },
}

/// What is being worked out in the background.
#[derive(Debug, Default)]
pub(crate) struct Jobs {
    /// Edits.
    pub(crate) working: Vec<Working>,
    /// A command that lays a text out.
    pub(crate) formatting: Option<TaskHandle>,
    /// Uses by name that are being given another name.
    pub(crate) renaming: Option<Renaming>,
}

/// What is known of the meaning of texts.
#[derive(Debug, Default)]
pub(crate) struct Meaning {
    /// The servers that there are; none where none is started.
    pub(crate) table: Option<Table>,
    pub(crate) links: Vec<Link>,
    pub(crate) seats: HashMap<BufferId, Seat>,
    pub(crate) consents: Consents,
    pub(crate) asked: Asked,
    pub(crate) faults: FaultBook,
    pub(crate) names: Names,
    pub(crate) call: Option<Call>,
    /// The kinds of the words of texts.
    pub(crate) kinds: HashMap<BufferId, Kinds>,
    /// What is known of what is offered, by its ticket.
    pub(crate) given: HashMap<u64, Given>,
    /// What is being worked out in the background.
    pub(crate) jobs: Jobs,
}

/// Edits that are being worked out.
#[derive(Debug)]
pub(crate) struct Working {
    pub(crate) task: TaskHandle,
    pub(crate) verb: &'static str,
    /// What is said when it is done.
    pub(crate) said: String,
    /// Who is told whether it was done: a server, and by what number.
    pub(crate) answer: Option<(ServerId, u64)>,
    pub(crate) then: AfterFormat,
    pub(crate) buffer: Option<BufferId>,
}

/// Uses that are being looked for to give them another name.
#[derive(Debug)]
pub(crate) struct Renaming {
    pub(crate) task: TaskHandle,
    pub(crate) name: String,
    pub(crate) of: (BufferId, u64),
}

/// What a person has said of servers.
#[derive(Debug, Default)]
pub(crate) struct Consents {
    /// What was said of this folder: the name of a server, and whether it may be started.
    pub(crate) said: Vec<(String, bool)>,
    /// Servers that are asked about, or were put off until the next start.
    pub(crate) asked: Vec<String>,
    /// Whether no server is asked about by itself.
    pub(crate) is_quiet: bool,
    /// What is being written of them.
    pub(crate) keeping: Option<TaskHandle>,
}

/// What is told of a server to other programs.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ServerTold {
    /// Its name.
    pub name: String,
    /// How it is.
    pub state: State,
    /// The language that it was started for.
    pub language: String,
    /// What it is doing.
    pub progress: Option<String>,
}
