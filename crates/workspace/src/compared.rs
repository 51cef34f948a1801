//! What is compared of a text and another form of it, and what that finds.

use crate::ask::PendingExit;
use crate::differences::{self, Row};
use crate::ids::BufferId;
use snarvel_core::changes::Change;
use snarvel_core::text::Text;
use snarvel_files::journal::{OrphanedJournal, Recovered};
use snarvel_files::load::Loaded;
use snarvel_files::stamp::Stamp;
use std::path::PathBuf;

/// Work left by a crash for a buffer, which waits for an answer.
#[derive(Debug)]
pub(crate) struct LeftWork {
    pub(crate) buffer: BufferId,
    pub(crate) journal: OrphanedJournal,
    /// What the file held when that was found, and how it looked.
    pub(crate) on_disk: Text,
    pub(crate) stamp: Option<Stamp>,
}

/// The other form of a text.
#[derive(Debug)]
pub(crate) enum Other {
    /// What another program has written to its file, which looks so now.
    Disk(Box<Loaded>, Stamp),
    /// What a save has found at its path, which it does not write over unasked.
    InTheWay { path: PathBuf, there: Box<Loaded>, stamp: Stamp, then: Option<PendingExit> },
    /// Work left by a crash.
    Left(LeftWork),
    /// None: what is said instead.
    Unreadable(String),
}

/// What a comparison is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Purpose {
    /// A person decides, where there is something to decide.
    Decide,
    /// The other form becomes the text.
    Take,
    /// A person looks at both.
    Show,
}

/// What a comparison depends on: where that has changed meanwhile, it is made again.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Moment {
    pub(crate) revision: u64,
    pub(crate) stamp: Option<Stamp>,
    pub(crate) is_being_saved: bool,
}

/// A buffer's text in all forms that are known here.
#[derive(Debug)]
pub(crate) struct Own {
    pub(crate) text: Text,
    pub(crate) on_disk: Text,
    /// What is being written to its file.
    pub(crate) written: Option<Text>,
}

/// Two forms of a text, compared.
#[derive(Debug)]
pub struct Compared {
    pub(crate) other: Other,
    pub(crate) purpose: Purpose,
    pub(crate) moment: Moment,
    pub(crate) found: Found,
}

/// What another form is the same as, as far as that matters: the first of these.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) enum Sameness {
    /// What the file was known to hold.
    OnDisk,
    /// The text as it is, while nothing is being written.
    Text,
    /// What is being written.
    Written,
    /// Nothing that is known here.
    #[default]
    None,
}

/// What a comparison has found.
#[derive(Debug, Default)]
pub(crate) struct Found {
    /// The other form; none where it cannot be made.
    pub(crate) other: Option<Text>,
    pub(crate) sameness: Sameness,
    /// Whether work left by a crash was made from something else than the file held.
    pub(crate) is_stale: bool,
    /// What makes the other form of the text.
    pub(crate) change: Change,
    /// What differs, where a person is to see that.
    pub(crate) rows: Vec<Row>,
}

impl Own {
    fn sameness(&self, other: &Text, on_disk: &Text) -> Sameness {
        match &self.written {
            _ if other == on_disk => Sameness::OnDisk,
            None if *other == self.text => Sameness::Text,
            Some(written) if written == other => Sameness::Written,
            _ => Sameness::None,
        }
    }
}

impl Other {
    /// Compares it with what is known here. Time linear in the bytes, at the speed of memory, and what comparing line by line
    /// takes.
    pub(crate) fn compared(&self, own: &Own, purpose: Purpose) -> Found {
        let (other, is_stale, on_disk) = match self {
            Other::Disk(loaded, _) | Other::InTheWay { there: loaded, .. } => {
                (loaded.text.clone(), false, &own.on_disk)
            }
            Other::Left(left) => match left.journal.recovered(&left.on_disk, left.stamp) {
                Some(Recovered { text, is_stale }) => (text, is_stale, &left.on_disk),
                None => return Found::default(),
            },
            Other::Unreadable(_) => return Found::default(),
        };
        let sameness = own.sameness(&other, on_disk);
        let is_shown = purpose == Purpose::Show || (purpose == Purpose::Decide && !matches!(self, Other::Disk(..)));
        // What is known here already is neither shown nor taken.
        let differs = sameness == Sameness::None || purpose == Purpose::Take || !matches!(self, Other::Disk(..));
        Found {
            sameness,
            is_stale,
            change: if differs && !is_shown { differences::change(&own.text, &other) } else { Change::default() },
            rows: if is_shown { differences::rows(&own.text, &other) } else { Vec::new() },
            other: Some(other),
        }
    }
}
