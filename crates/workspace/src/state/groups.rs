//! Transactions that were carried out, and their work on the disk.

use crate::buffer::Buffer;
use crate::ids::BufferId;
use crate::tasks::TaskHandle;
use snarvel_core::history::{GroupId, StepId};
use snarvel_core::verbs::scene::counted;
use snarvel_files::replacing::{Kept, ReplaceOutcome, Replaced};
use std::fmt::Write;

/// A transaction that was carried out.
#[derive(Debug)]
pub(crate) struct Group {
    pub(crate) id: GroupId,
    pub(crate) verb: &'static str,
    /// The texts that have a step of it.
    pub(crate) members: Vec<BufferId>,
    /// The names of the files that it has changed.
    pub(crate) names: Vec<String>,
    /// Files on the disk, as they became.
    pub(crate) disk: Vec<Replaced>,
    /// Where it was asked for, if that text has no step of it: there it is taken back, too, as long as nothing else was done.
    pub(crate) anchor: Option<Anchor>,
    pub(crate) is_undone: bool,
}

/// A state of a text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Anchor {
    pub(crate) buffer: BufferId,
    pub(crate) step: StepId,
    /// Steps are numbered anew when old ones are forgotten.
    pub(crate) forgotten: usize,
}

impl Anchor {
    pub(crate) fn of(buffer: &Buffer) -> Anchor {
        let history = buffer.history();
        Anchor { buffer: buffer.id, step: history.here(), forgotten: history.forgotten() }
    }
}

/// The transactions that were carried out, the newest last.
#[derive(Debug, Default)]
pub(crate) struct Groups {
    pub(crate) list: Vec<Group>,
    pub(crate) next: u64,
}

impl Groups {
    pub(crate) fn get_mut(&mut self, id: GroupId) -> Option<&mut Group> {
        self.list.iter_mut().find(|group| group.id == id)
    }
}

/// Files of the project that are replaced in, or put back, in the background.
#[derive(Debug)]
pub(crate) struct FileWork {
    pub(crate) task: TaskHandle,
    pub(crate) group: GroupId,
    /// How many files.
    pub(crate) files: usize,
    pub(crate) tally: Tally,
    pub(crate) way: Way,
    /// Whether the program ends after it.
    pub(crate) then_quit: bool,
}

/// Which way a transaction is gone.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Way {
    Done,
    Back,
    Again,
}

/// What a transaction over files has done, as it is said.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) enum Deed {
    /// Hits were replaced.
    #[default]
    Replaced,
    /// A recipe has changed places.
    Changed,
}

/// What has come of it so far.
#[derive(Debug, Default)]
pub(crate) struct Tally {
    /// How many files were told of.
    pub(crate) seen: usize,
    /// What is done.
    pub(crate) deed: Deed,
    /// Hits that were replaced, or places that were changed.
    pub(crate) hits: usize,
    /// How many texts under edit have a step of it.
    pub(crate) open: usize,
    /// Files that are not open and not written.
    pub(crate) only_played: usize,
    /// Files on the disk, as they are now.
    pub(crate) replaced: Vec<Replaced>,
    /// Those that could not be put back: that may be tried again.
    pub(crate) not_back: Vec<Replaced>,
    /// Why others are as they were.
    pub(crate) kept: Vec<String>,
}

impl Tally {
    pub(crate) fn take(&mut self, outcome: ReplaceOutcome) {
        self.seen += 1;
        match outcome {
            Ok(replaced) if replaced.places == 0 => {}
            Ok(replaced) => {
                self.hits += replaced.places;
                self.replaced.push(replaced);
            }
            Err(why) => {
                self.kept.push(why.to_string());
                if let Kept::NotBack(_, replaced) = why {
                    self.not_back.push(*replaced);
                }
            }
        }
    }

    pub(crate) fn told(&self, way: Way) -> String {
        let files = counted(self.replaced.len() + self.open, "file");
        let mut said = match way {
            Way::Done | Way::Again => match self.deed {
                Deed::Replaced => format!("replaced {} in {files}", counted(self.hits, "hit")),
                Deed::Changed => format!("changed {} in {files}", counted(self.hits, "place")),
            },
            Way::Back => format!("{files} as before"),
        };
        if self.open > 0 && way != Way::Back {
            let _ = write!(said, ", {} of them open and not saved yet", self.open);
        }
        if let Some(first) = self.kept.first() {
            let _ = match way {
                Way::Back => write!(said, "; left alone: {}", self.kept.join(", ")),
                _ => write!(said, "; {} not changed: {first}", counted(self.kept.len(), "file")),
            };
        }
        if self.only_played > 0 {
            said += "; files that are not open are not written: only played";
        }
        if way != Way::Back {
            said += "; Ctrl+Z takes it back";
        } else if !self.not_back.is_empty() {
            said += "; Ctrl+Z tries again";
        }
        said
    }
}
