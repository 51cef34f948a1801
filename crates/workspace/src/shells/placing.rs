//! The places that programs print, among what is wrong: where the file is open at once, else read in the background.

use crate::buffer::Buffer;
use crate::event::Payload;
use crate::ids::{BufferId, ShellId};
use crate::meaning::faults::FaultSource;
use crate::notice::Notice;
use crate::shells::placed::Placed;
use crate::state::shells::Shell;
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_core::text::Text;
use snarvel_core::units::{Line, Span};
use snarvel_files::load::decode;
use snarvel_files::reading;
use snarvel_servers::news::{Certainty, Fault, FaultKind, FileFaults};
use snarvel_shell::places::{Kind, Place};
use std::path::{Path, PathBuf};

/// Larger files are not read for the places in them, in bytes.
const LARGEST_READ: u64 = 16 << 20;

/// What is on a line is told up to so many characters.
const LONGEST_EXCERPT: usize = 200;

impl Workspace {
    /// Takes in places that a program has printed.
    pub(super) fn take_places(&mut self, id: ShellId, places: Vec<Place>) {
        let Some(shell) = self.past.shells.at_mut(id) else { return };
        shell.places.extend(places);
        let name = shell.name.clone();
        let mut paths: Vec<PathBuf> = Vec::new();
        for place in &shell.places {
            if !paths.contains(&place.file) {
                paths.push(place.file.clone());
            }
        }
        let of_file =
            |path: &Path| -> Vec<Place> { shell.places.iter().filter(|place| place.file == path).cloned().collect() };
        let groups: Vec<(PathBuf, Vec<Place>)> = paths.into_iter().map(|path| (path.clone(), of_file(&path))).collect();
        let mut closed = Vec::new();
        for (path, places) in groups {
            match self.buffers.iter().find(|buffer| buffer.is_of(&path) && !buffer.is_partial()) {
                Some(buffer) => {
                    let faults = FileFaults {
                        revision: Some(buffer.revision()),
                        ..faults_of(&path, (&places, &name), buffer.text())
                    };
                    self.take_faults(FaultSource::Run(id), faults);
                }
                None => closed.push((path, places)),
            }
        }
        self.told.notices.push(Notice::Faults);
        if closed.is_empty() {
            return;
        }
        let placing = self.tasks.run(About::new("reading places"), Payload::Placed, move || {
            let files = closed.iter().filter_map(|(path, places)| {
                let bytes = reading::read(path, LARGEST_READ).ok()?;
                Some(faults_of(path, (places, &name), &decode(&bytes).0))
            });
            Box::new(Placed { shell: id, files: files.collect() })
        });
        if let Some(shell) = self.past.shells.at_mut(id) {
            shell.placing = Some(placing);
        }
    }

    /// Takes in where places are in files that were read.
    pub(crate) fn take_placed(&mut self, placed: Placed) {
        self.past.shells.at_mut(placed.shell).into_iter().for_each(|shell| shell.placing = None);
        for faults in placed.files {
            // One that was opened meanwhile is looked at anew.
            let open = self.buffers.iter().find(|buffer| buffer.is_of(&faults.path)).map(|buffer| buffer.id);
            self.take_faults(FaultSource::Run(placed.shell), faults);
            open.into_iter().for_each(|id| self.place_runs_in(id));
        }
        self.told.notices.push(Notice::Faults);
    }

    /// What a run has printed counts no more.
    pub(super) fn forget_run(&mut self, id: ShellId) {
        self.forget_faults(FaultSource::Run(id));
        self.past.meaning.faults.last_printed = None;
        self.told.notices.push(Notice::Faults);
    }

    /// A text is all there: places that were printed for its file are put on it.
    pub(crate) fn place_runs_in(&mut self, id: BufferId) {
        let Some(path) = self.buffer(id).and_then(Buffer::path).map(Path::to_owned) else { return };
        let with_places = |shell: &&Shell| shell.places.iter().any(|place| place.file == path);
        let of_file =
            |shell: &Shell| -> Vec<Place> { shell.places.iter().filter(|place| place.file == path).cloned().collect() };
        let shells: Vec<(ShellId, String, Vec<Place>)> = self
            .past
            .shells
            .list
            .iter()
            .filter(with_places)
            .map(|shell| (shell.id, shell.name.clone(), of_file(shell)))
            .collect();
        for (shell, name, places) in shells {
            let Some(buffer) = self.buffer(id) else { return };
            let faults =
                FileFaults { revision: Some(buffer.revision()), ..faults_of(&path, (&places, &name), buffer.text()) };
            self.take_faults(FaultSource::Run(shell), faults);
        }
    }
}

/// Places of a file as what is wrong in its text.
fn faults_of(path: &Path, (places, source): (&[Place], &str), text: &Text) -> FileFaults {
    let mut counts = [0; 3];
    let mut list = Vec::with_capacity(places.len());
    let mut lines = Vec::with_capacity(places.len());
    for place in places {
        let kind = match place.kind {
            Kind::Error => FaultKind::Error,
            Kind::Warning => FaultKind::Warning,
            Kind::Note => FaultKind::Note,
        };
        counts[kind as usize] += 1;
        let line = Line((place.line - 1).min(text.line_count().saturating_sub(1)));
        let excerpt = text.content(line).trim().chars().take(LONGEST_EXCERPT).collect();
        lines.push((line.0, excerpt));
        list.push(Fault {
            span: span_of(text, line, place.column),
            kind,
            message: place.message.clone(),
            source: source.to_owned(),
        });
    }
    FileFaults { path: path.to_owned(), revision: None, list, counts, lines, certainty: Certainty::Sure }
}

/// The word at a column, which is counted in characters; without one, what is on the line.
fn span_of(text: &Text, line: Line, column: Option<usize>) -> Span {
    let start = text.line_start(line);
    let content = text.content(line);
    let Some(column) = column else {
        let indent = content.len() - content.trim_start().len();
        let end = content.trim_end().len().max(indent);
        return Span::new(start + indent, start + end);
    };
    let from = content.char_indices().nth(column - 1).map_or(content.len(), |(at, _)| at);
    let is_word = |c: char| c.is_alphanumeric() || c == '_';
    let word: usize = content[from..].chars().take_while(|c| is_word(*c)).map(char::len_utf8).sum();
    let first = content[from..].chars().next().map_or(0, char::len_utf8);
    Span::new(start + from, start + from + word.max(first))
}
