//! What a server tells, in terms of our texts: places in bytes, of the revision that is told along.

use serde_json::Value;
use snarvel_core::text::Text;
use snarvel_core::units::Span;
use snarvel_files::search::FileHits;
use std::ops::Range;
use std::path::PathBuf;

/// How a server is.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum State {
    /// It is being started.
    Starting,
    /// It answers.
    Ready,
    /// A question was not answered in time, and nothing came since.
    Silent,
    /// It cannot be started, or ended too often; why.
    Failed(String),
    /// It has ended.
    Ended,
}

impl State {
    /// How it is, in plain words.
    #[must_use]
    pub fn told(&self) -> String {
        match self {
            State::Starting => "is starting".to_owned(),
            State::Ready => "runs".to_owned(),
            State::Silent => "does not answer".to_owned(),
            State::Failed(why) => format!("does not run: {why}"),
            State::Ended => "has ended".to_owned(),
        }
    }

    /// Its name in what is told to other programs.
    #[must_use]
    pub fn name(&self) -> &'static str {
        match self {
            State::Starting => "starting",
            State::Ready => "ready",
            State::Silent => "silent",
            State::Failed(_) => "failed",
            State::Ended => "ended",
        }
    }
}

/// How bad something is. The worst is first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum FaultKind {
    /// It is wrong.
    Error,
    /// It may be wrong.
    Warning,
    /// It is worth knowing.
    Note,
}

impl FaultKind {
    /// Its name.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            FaultKind::Error => "error",
            FaultKind::Warning => "warning",
            FaultKind::Note => "note",
        }
    }
}

/// Something that is wrong in a text.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Fault {
    /// Where.
    pub span: Span,
    /// How bad.
    pub kind: FaultKind,
    /// What.
    pub message: String,
    /// What says so.
    pub source: String,
}

/// What is wrong in a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FileFaults {
    /// The file.
    pub path: PathBuf,
    /// The revision of the text that the places are of; none where the file is not open.
    pub revision: Option<u64>,
    /// The list, in order; no more than [`MOST_FAULTS`].
    pub list: Vec<Fault>,
    /// How many there are of each kind, those that are left out of the list too.
    pub counts: [usize; 3],
    /// The line of each, and what is in it, where the file is not open.
    pub lines: Vec<(usize, String)>,
    /// Whether the server says of which version of the text they are: then there is no doubt that they are of this one.
    pub certainty: Certainty,
}

/// Whether what is wrong is surely of the text as it is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Certainty {
    /// The server has told the version.
    Sure,
    /// It may be of a version before; then what is right comes after it.
    Unsure,
}

/// So many faults of a file are kept: no person looks through more.
pub const MOST_FAULTS: usize = 5_000;

/// A text that an edit is of.
#[derive(Clone, Debug)]
pub enum Base {
    /// An open text of that revision.
    Open(u64),
    /// A file as it is on the disk.
    Disk(Text),
}

/// Edits of one file.
#[derive(Clone, Debug)]
pub struct FileEdit {
    /// The file.
    pub path: PathBuf,
    /// What the spans are of.
    pub base: Base,
    /// What comes in the place of what, in order, without overlaps.
    pub edits: Vec<(Span, String)>,
}

/// Something that is to be done to a file as a whole.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum FileStep {
    /// Make an empty file.
    Create(PathBuf),
    /// Give the first another name.
    Rename(PathBuf, PathBuf),
    /// Take it away.
    Delete(PathBuf),
}

/// Edits of several files.
#[derive(Clone, Debug, Default)]
pub struct Edits {
    /// Those of texts.
    pub files: Vec<FileEdit>,
    /// Those of files, in order.
    pub steps: Vec<FileStep>,
}

/// What can be put in at a caret.
#[derive(Clone, Debug)]
pub struct Offer {
    /// What is shown.
    pub label: String,
    /// The word that letters are matched with.
    pub word: String,
    /// What is put in.
    pub text: String,
    /// Whether that is in the syntax of snippets.
    pub form: OfferForm,
    /// What it takes the place of; none: the letters before the caret.
    pub place: Option<Span>,
    /// What it is: `function`, `variable` …
    pub kind: &'static str,
    /// Its signature or the like.
    pub detail: String,
    /// What there is to read about it.
    pub documentation: String,
    /// What is changed elsewhere along with it.
    pub extra: Vec<(Span, String)>,
    /// What the server is given to tell more of it; none where it has told all.
    pub ticket: Option<Value>,
}

/// What the text of an offer is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum OfferForm {
    /// It is put in as it is.
    Plain,
    /// It is a snippet.
    Snippet,
}

/// What is called at the caret.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Signature {
    /// The whole of it.
    pub label: String,
    /// The argument that the caret is in, in bytes of the label.
    pub here: Range<usize>,
    /// Which of several.
    pub of: (usize, usize),
}

/// Something that mends what is wrong, or changes the code otherwise.
#[derive(Clone, Debug)]
pub struct Fix {
    /// What it does.
    pub title: String,
    /// Its kind, as the protocol names it.
    pub kind: String,
    /// What it changes, where that is known; otherwise the ticket is to be asked for it.
    pub edits: Option<Edits>,
    /// A command that the server runs after that.
    pub command: Option<Value>,
    /// What the server is given to tell more of it.
    pub ticket: Option<Value>,
}

/// Something with a name.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Symbol {
    /// Its name.
    pub name: String,
    /// What it is.
    pub kind: &'static str,
    /// What it is in.
    pub container: String,
    /// Where its name is.
    pub place: FileHits,
    /// How many others of the list it is in.
    pub depth: usize,
}

/// Something that calls or is called.
#[derive(Clone, Debug)]
pub struct Call {
    /// Its name.
    pub name: String,
    /// What it is.
    pub kind: &'static str,
    /// Where its name is.
    pub place: FileHits,
    /// What the server is given to tell what it calls and what calls it.
    pub ticket: Value,
}

/// How a use touches what it is of.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Access {
    /// It reads it.
    Read,
    /// It writes it.
    Write,
    /// The server does not say.
    Unknown,
}

/// The answer to a question.
#[derive(Clone, Debug)]
pub enum Answer {
    /// Places, file by file, in the order of the server.
    Places(Vec<FileHits>),
    /// What there is to read, in Markdown; empty where there is nothing.
    Text(String),
    /// What can be put in, and whether more letters bring others.
    Offers(Vec<Offer>, Completeness),
    /// All that is known of an offer.
    Offer(Box<Offer>),
    /// What is called.
    Signature(Option<Signature>),
    /// The word that can be given another name; none where it cannot.
    Renamable(Option<Span>),
    /// Edits.
    Edits(Edits),
    /// What can be done.
    Fixes(Vec<Fix>),
    /// All that is known of a fix.
    Fix(Box<Fix>),
    /// What has a name.
    Symbols(Vec<Symbol>),
    /// What calls or is called.
    Calls(Vec<Call>),
    /// The uses of a name in a text.
    Highlights(Vec<(Span, Access)>),
    /// The kinds of the words of a text.
    Tokens(Vec<(Span, String)>),
    /// What was asked was done.
    Done,
    /// There is no answer; why, in plain words.
    Refused(String),
    /// The text has changed since: the answer is of no use.
    Stale,
}

/// Whether a list is all that there is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Completeness {
    /// More letters leave out some of it.
    Whole,
    /// More letters may bring others.
    Part,
}

/// What a server tells.
#[derive(Clone, Debug)]
pub enum News {
    /// How it is.
    State(State),
    /// What it can do, once it is ready.
    Able(Able),
    /// What is wrong in files is to be taken from its [`crate::life::Mailbox`].
    Faults,
    /// The answer to the question of that number.
    Answer(u64, Answer),
    /// It asks for changes; the number answers it.
    WantsEdits(u64, Edits),
    /// It asks something; the number answers it.
    Question {
        /// The number.
        number: u64,
        /// What it asks.
        message: String,
        /// What can be answered.
        choices: Vec<String>,
    },
    /// Something to be said in the status line.
    Told(String),
    /// What it is doing; none where it does nothing that it tells of.
    Progress(Option<String>),
}

/// What a server can do, as far as callers need to know.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Able {
    /// The names of its providers, as the protocol names them without `Provider`.
    pub features: Vec<String>,
    /// Characters after which it may have offers.
    pub offer_triggers: Vec<char>,
    /// Characters after which it may tell what is called.
    pub signature_triggers: Vec<char>,
}

impl Able {
    /// Whether it has the provider of that name.
    #[must_use]
    pub fn has(&self, feature: &str) -> bool {
        self.features.iter().any(|each| each == feature)
    }
}
