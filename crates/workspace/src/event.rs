//! Events: everything that happens off the way of a key arrives as one, in order, at one dispatcher.

use crate::compared::Compared;
use crate::echoing::news::{EchoFile, Echoed};
use crate::finding::Found;
use crate::ids::{BufferId, ServerId, ShellId, TaskId};
use crate::kept::Marked;
use crate::learning::news::LedgerNews;
use crate::meaning::candidate::Candidate;
use crate::meaning::formatted::Formatted;
use crate::meaning::ready::Ready;
use crate::offering::answering::Answer;
use crate::past_news::PastNews;
use crate::recipes::book::Book;
use crate::recipes::news::{Ended, ProjectNews, WouldDo};
use crate::shells::placed::Placed;
use crate::views_compared::ViewsCompared;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_files::commands::Failure;
use snarvel_files::folder::Entry;
use snarvel_files::journal::JournalNews;
use snarvel_files::load::Loaded;
use snarvel_files::loading::LoadStep;
use snarvel_files::outside::DiskNews;
use snarvel_files::replacing::ReplaceOutcome;
use snarvel_files::saving::Saved;
use snarvel_files::search::FolderNews;
use snarvel_index::worker::News as NamesNews;
use snarvel_servers::news::{Edits, News as ServerNews};
use snarvel_shell::session::News as ShellNews;
use snarvel_syntax::background::Parsed;
use snarvel_task::Cancel;
use std::path::PathBuf;

/// What has happened.
#[derive(Debug)]
pub enum Payload {
    /// More of a file is loaded.
    Loading(LoadStep),
    /// A text was parsed.
    Parsed(Parsed),
    /// A save has come to its end.
    Saved(Saved),
    /// Another program has done something to a file.
    Disk(DiskNews),
    /// What was kept of a file between starts: its bookmarks.
    Bookmarks(Vec<Marked>),
    /// Journals that were there already for a file.
    Journals(JournalNews),
    /// Two forms of a text were compared.
    Compared(Box<Compared>),
    /// Hits were found in a text.
    Found(Found),
    /// Hits were found in files of the project.
    FolderFound(FolderNews),
    /// A file was replaced in, or put back.
    Replaced(ReplaceOutcome),
    /// Files of a folder were found.
    Walked(Vec<PathBuf>),
    /// What is directly in a folder.
    Listed(Vec<Entry>),
    /// Files that were offered are gone.
    Missing(Vec<PathBuf>),
    /// The start of a file.
    Start(Option<Loaded>),
    /// The part of a folder's tree that is shown.
    Tree(Vec<TreeEntry>),
    /// Something was done to a file, or why it was not.
    Operated(Result<String, String>),
    /// What commands wrote of what they were given.
    Filtered(Result<Vec<String>, Failure>),
    /// What a source offers at the caret.
    Offered(Answer),
    /// The recipes that there are.
    Recipes(Book),
    /// What a recipe would do to a text.
    WouldDo(Result<Box<WouldDo>, Ended>),
    /// What a recipe makes of a file of the project.
    Applied(ProjectNews),
    /// What a language server tells.
    Server(Box<(ServerId, ServerNews)>),
    /// What differs between two views.
    ViewsCompared(Box<ViewsCompared>),
    /// What became of the past of a file.
    Past(Box<PastNews>),
    /// What a program in a terminal tells.
    Shell(Box<(ShellId, ShellNews)>),
    /// Places that a program has printed, where they are in files that are not open.
    Placed(Box<Placed>),
    /// The language servers that there are for a text.
    ServersFor(Vec<Candidate>),
    /// Where the same would be done as by hand.
    Echoed(Box<Echoed>),
    /// A file of the project in which the same would be done.
    EchoedFile(Box<EchoFile>),
    /// What the names of the project are, or that they are known.
    Names(NamesNews),
    /// Uses of a name in files.
    Used(FolderNews),
    /// Edits of several files that are worked out, or why they cannot be.
    Edits(Result<Ready, String>),
    /// A text that a command has laid out.
    Formatted(Box<Formatted>),
    /// Uses of a name that get another one.
    Renamed(Edits),
    /// Which of several ways gives what was done; none where none does.
    Tried(Option<usize>),
    /// What the ledger tells.
    Ledger(Box<LedgerNews>),
    /// Another program's clipboard.
    Clipboard(Clip),
    /// The task has ended.
    Ended,
    /// The task has panicked, with this message.
    Panicked(String),
}

/// A file or folder of a tree.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TreeEntry {
    /// Its path, from the root.
    pub path: PathBuf,
    /// Whether it is a folder.
    pub is_folder: bool,
    /// Whether it is a folder whose inside is shown.
    pub is_open: bool,
    /// How many folders it is in.
    pub depth: usize,
}

/// Where an event is from and what it is of.
#[derive(Clone, Debug)]
pub struct Source {
    /// The task.
    pub task: TaskId,
    /// Stops the task: an event of a task that was stopped is stale.
    pub cancel: Cancel,
    /// What the task is called where it takes long.
    pub label: &'static str,
    /// The buffer that it is about.
    pub buffer: Option<BufferId>,
    /// The revision of the buffer that it is of, where it is of no use for another one.
    pub revision: Option<u64>,
}

/// Something that has happened.
#[derive(Debug)]
pub struct Event {
    /// Where it is from.
    pub source: Source,
    /// What.
    pub payload: Payload,
}
