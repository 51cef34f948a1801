//! What is wrong in texts, as servers tell it and as programs print it: kept by file, moved with edits where the file is open, gone through one after the other.

use crate::buffer::Buffer;
use crate::editing::Effects;
use crate::ids::BufferId;
pub use crate::state::faults::FaultSource;
use crate::workspace::Workspace;
use snarvel_core::spans::{Owner, Policy};
use snarvel_core::units::{Direction, Span};
use snarvel_servers::news::{Fault, FaultKind, FileFaults};
use std::path::{Path, PathBuf};

/// The spans of faults: of each source a set.
fn owner(source: FaultSource) -> Owner {
    match source {
        FaultSource::Server(server) => Owner::of_text("faults").item(server.number()),
        FaultSource::Run(shell) => Owner::of_text("printed").item(shell.number()),
    }
}

/// Something that is wrong, where it is now.
#[derive(Clone, Copy, Debug)]
pub struct FaultHere<'a> {
    /// Where.
    pub span: Span,
    /// What.
    pub fault: &'a Fault,
    /// What says so.
    pub source: FaultSource,
}

/// A row of all that is wrong.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FaultRow {
    /// The file.
    pub path: PathBuf,
    /// The text, where it is open.
    pub buffer: Option<BufferId>,
    /// Where.
    pub span: Span,
    /// The line, from 0.
    pub line: usize,
    /// What is on the line.
    pub excerpt: String,
    /// What is wrong.
    pub fault: Fault,
    /// What says so.
    pub source: FaultSource,
}

impl Workspace {
    /// Takes in what is said of a file.
    pub(crate) fn take_faults(&mut self, source: FaultSource, faults: FileFaults) {
        let open = self.buffers.iter_mut().find(|buffer| buffer.is_of(&faults.path));
        let book = &mut self.past.meaning.faults;
        if let Some(buffer) = open {
            // What is of another revision comes again.
            let is_current = faults.revision.is_none_or(|revision| revision == buffer.revision());
            if !is_current && !faults.list.is_empty() {
                return;
            }
            let spans = faults.list.iter().map(|fault| fault.span).collect();
            buffer.spans.set(owner(source), Policy::SELECTIONS, spans);
        }
        let list = book.files.entry(faults.path.clone()).or_default();
        list.retain(|(other, _)| *other != source);
        let path = faults.path.clone();
        if faults.list.is_empty() {
            if list.is_empty() {
                book.files.remove(&path);
            }
        } else {
            list.push((source, faults));
        }
    }

    /// What `source` has said counts no more.
    pub(crate) fn forget_faults(&mut self, source: FaultSource) {
        for buffer in self.buffers.iter_mut() {
            buffer.spans.remove(owner(source));
        }
        self.past.meaning.faults.files.retain(|_, list| {
            list.retain(|(other, _)| *other != source);
            !list.is_empty()
        });
    }

    /// What is wrong in `buffer`, in the order of the text. Cost: linear in it.
    #[must_use]
    pub fn faults_in<'a>(&'a self, buffer: &'a Buffer) -> Vec<FaultHere<'a>> {
        self.faults_within(buffer, buffer.text().span())
    }

    /// What is wrong in a part of `buffer`, or touches it, in the order of the text. Cost: a glance at each in the whole text.
    #[must_use]
    pub fn faults_within<'a>(&'a self, buffer: &'a Buffer, within: Span) -> Vec<FaultHere<'a>> {
        let mut found: Vec<FaultHere> = self
            .each_fault(buffer)
            .filter(|here| here.span.start <= within.end && here.span.end >= within.start)
            .collect();
        found.sort_by_key(|here| (here.span.start, here.fault.kind, here.span.end));
        found
    }

    /// What is wrong in `buffer`, in no order.
    pub fn each_fault<'a>(&'a self, buffer: &'a Buffer) -> impl Iterator<Item = FaultHere<'a>> {
        let sources = buffer.path().map_or(&[][..], |path| self.past.meaning.faults.of(path));
        sources.iter().flat_map(|(source, faults)| {
            let spans = buffer.spans.get(owner(*source));
            spans.iter().zip(&faults.list).map(|(span, fault)| FaultHere { span: *span, fault, source: *source })
        })
    }

    /// How many errors, warnings and notes there are in `buffer`, also those that are not kept.
    #[must_use]
    pub fn fault_counts(&self, buffer: &Buffer) -> [usize; 3] {
        let list = buffer.path().map_or(&[][..], |path| self.past.meaning.faults.of(path));
        list.iter().fold([0; 3], |sum, (_, faults)| std::array::from_fn(|kind| sum[kind] + faults.counts[kind]))
    }

    /// All that is wrong: in the active text, or in all files; the active one's first.
    #[must_use]
    pub fn all_faults(&self, reach: Reach) -> Vec<FaultRow> {
        let active = self.active();
        let mut rows = self.rows_of(active);
        if reach == Reach::File {
            return rows;
        }
        for (path, list) in &self.past.meaning.faults.files {
            match self.buffers.iter().find(|buffer| buffer.is_of(path)) {
                Some(buffer) if buffer.id == active.id => {}
                Some(buffer) => rows.extend(self.rows_of(buffer)),
                None => rows.extend(list.iter().flat_map(|(source, faults)| closed_rows(path, (*source, faults)))),
            }
        }
        rows
    }

    fn rows_of(&self, buffer: &Buffer) -> Vec<FaultRow> {
        let Some(path) = buffer.path() else { return Vec::new() };
        let text = buffer.text();
        let row = |here: FaultHere| {
            let line = text.line_of(here.span.start.min(text.end()));
            FaultRow {
                path: path.to_owned(),
                buffer: Some(buffer.id),
                span: here.span,
                line: line.0,
                excerpt: text.content(line).trim().chars().take(200).collect(),
                fault: here.fault.clone(),
                source: here.source,
            }
        };
        self.faults_in(buffer).into_iter().map(row).collect()
    }

    /// Goes to the next thing that is wrong, or to the one before: the worst kind first.
    pub fn go_to_fault(&mut self, direction: Direction) -> Effects {
        if let Some(effects) = self.go_to_printed(direction) {
            return effects;
        }
        let buffer = self.active();
        let here = self.view().cursors().primary().head;
        let mut found: Vec<(FaultKind, Span, String)> =
            self.faults_in(buffer).iter().map(|each| (each.fault.kind, each.span, told(each.fault))).collect();
        if found.is_empty() {
            return self.go_to_fault_elsewhere();
        }
        found.sort_by_key(|(kind, span, _)| (*kind, span.start));
        let id = buffer.id;
        // A press after another one goes on from there; the first one begins with the worst kind.
        let is_at = |span: &Span| span.start == here;
        let last = self.past.meaning.faults.last.take().filter(|(of, span)| *of == id && is_at(span));
        let at = last.and_then(|(_, span)| found.iter().position(|(_, other, _)| *other == span));
        let count = found.len();
        let worst = found.iter().filter(|(kind, ..)| *kind == found[0].0).count();
        let index = match (at, direction) {
            (Some(at), Direction::Forward) => (at + 1) % count,
            (Some(at), Direction::Back) => (at + count - 1) % count,
            (None, Direction::Forward) => found[..worst].iter().position(|(_, span, _)| span.start > here).unwrap_or(0),
            (None, Direction::Back) => {
                found[..worst].iter().rposition(|(_, span, _)| span.start < here).unwrap_or(worst - 1)
            }
        };
        let (_, span, said) = found.swap_remove(index);
        self.past.meaning.faults.last = Some((id, span));
        self.go_to_span(span);
        Effects::saying(format!("{} of {count}: {said}", index + 1))
    }

    /// Nothing is wrong here: the first file with something wrong is shown.
    fn go_to_fault_elsewhere(&mut self) -> Effects {
        let mut rows = self.all_faults(Reach::Project);
        rows.sort_by_key(|row| row.fault.kind);
        let Some(row) = rows.into_iter().next() else { return Effects::saying("nothing is known to be wrong") };
        self.go_to_file(&row.path.clone(), row.span);
        let name = crate::buffer::name_of(&row.path);
        Effects::saying(format!("nothing is wrong here; in {name}: {}", told(&row.fault)))
    }

    /// What is wrong at the primary caret: its words in full.
    #[must_use]
    pub fn fault_at_caret(&self) -> Option<&Fault> {
        let head = self.view().cursors().primary().head;
        let holds = |here: &FaultHere| here.span.start <= head && head <= here.span.end;
        self.faults_in(self.active()).into_iter().find(holds).map(|here| here.fault)
    }
}

/// Where faults are looked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Reach {
    /// In the active text.
    File,
    /// In all files.
    Project,
}

/// A fault in words.
#[must_use]
pub fn told(fault: &Fault) -> String {
    let message = fault.message.replace('\n', " ");
    format!("{}: {message} ({})", fault.kind.name(), fault.source)
}

fn closed_rows(path: &Path, (source, faults): (FaultSource, &FileFaults)) -> Vec<FaultRow> {
    let row = |(fault, (line, excerpt)): (&Fault, &(usize, String))| FaultRow {
        path: path.to_owned(),
        buffer: None,
        span: fault.span,
        line: *line,
        excerpt: excerpt.clone(),
        fault: fault.clone(),
        source,
    };
    faults.list.iter().zip(&faults.lines).map(row).collect()
}
