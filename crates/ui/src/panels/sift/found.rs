//! What was found: in the file, or in the files of the folder.

use super::query::Switches;
use snarvel_core::units::{Direction, Span};
use snarvel_files::search::{FileHits, FolderNews};
use snarvel_workspace::finding::{Found as HitNews, Hits, index_of};
use snarvel_workspace::ids::TaskId;
use snarvel_workspace::tasks::TaskHandle;
use std::path::PathBuf;

/// Hits in the file.
#[derive(Debug, Default)]
pub struct InFile {
    /// The search, while it goes on.
    pub search: Option<TaskHandle>,
    /// All hits.
    pub hits: Hits,
    /// Those of them that count, where not all do.
    pub(super) counted: Option<Vec<Span>>,
}

impl InFile {
    /// The hits that count, in order.
    #[must_use]
    pub fn list(&self) -> &[Span] {
        self.counted.as_deref().unwrap_or(&self.hits.spans)
    }

    /// Takes in what was found.
    pub fn take(&mut self, news: HitNews, switches: &Switches) {
        self.hits.take(news);
        if switches.kinds != [true; 3] {
            let known = self.hits.spans.iter().zip(&self.hits.kinds);
            self.counted = Some(known.filter(|(_, kind)| switches.counts(**kind)).map(|(hit, _)| *hit).collect());
        }
    }
}

/// A row of the project's hits.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct HitRow {
    /// Which file.
    pub file: usize,
    /// Which of its hits; none for the file itself.
    pub hit: Option<usize>,
}

/// Hits in the files of the folder.
#[derive(Debug, Default)]
pub struct InProject {
    /// The search, while it goes on.
    pub search: Option<TaskHandle>,
    /// The files with hits so far.
    pub files: Vec<FileHits>,
    /// How many files were looked at.
    pub searched: usize,
    /// What is listed: a file, or a hit in it.
    pub rows: Vec<HitRow>,
    /// How many files are listed.
    pub listed: usize,
    /// How many hits are in code, strings and comments, those that are not listed too.
    pub by_kind: [usize; 3],
    /// The file that is shown above, when it is not one that is open, and what reads it.
    pub shown: Option<(PathBuf, TaskHandle)>,
}

impl InProject {
    /// Takes in files with hits that were found since; those of the kinds that count are listed.
    pub fn take(&mut self, news: FolderNews, switches: &Switches) {
        self.searched = news.searched;
        for hits in news.files {
            let file = self.files.len();
            hits.hits.iter().for_each(|hit| self.by_kind[index_of(hit.kind)] += 1);
            let mut rows = (0..hits.hits.len()).filter(|hit| switches.counts(hits.hits[*hit].kind)).peekable();
            if rows.peek().is_some() {
                self.listed += 1;
                self.rows.push(HitRow { file, hit: None });
                self.rows.extend(rows.map(|hit| HitRow { file, hit: Some(hit) }));
            }
            self.files.push(hits);
        }
    }

    /// Takes a row off the list; with the last hit of a file its name goes, too.
    fn leave_out(&mut self, row: usize) {
        if self.rows.get(row).is_none_or(|row| row.hit.is_none()) {
            return;
        }
        let file = self.rows.remove(row).file;
        if let [name] = self.rows.iter().enumerate().filter(|(_, row)| row.file == file).collect::<Vec<_>>()[..] {
            let name = name.0;
            self.rows.remove(name);
            self.listed -= 1;
        }
    }
}

/// What was found.
#[derive(Debug)]
pub enum Found {
    /// Nothing is looked for.
    Nothing,
    /// Hits in the file.
    InFile(InFile),
    /// Hits in the files of the folder.
    InProject(InProject),
}

impl Found {
    /// Hits in the project, if that is what is looked through.
    #[must_use]
    pub fn project(&self) -> Option<&InProject> {
        if let Found::InProject(project) = self { Some(project) } else { None }
    }

    /// The hits in the file that count, in order.
    #[must_use]
    pub fn hits(&self) -> &[Span] {
        if let Found::InFile(file) = self { file.list() } else { &[] }
    }

    /// How many hits are in code, strings and comments.
    #[must_use]
    pub fn by_kind(&self) -> [usize; 3] {
        match self {
            Found::Nothing => [0; 3],
            Found::InFile(file) => file.hits.by_kind,
            Found::InProject(project) => project.by_kind,
        }
    }

    /// How many there are to choose from: hits, or rows of the list.
    #[must_use]
    pub fn count(&self) -> usize {
        self.project().map_or(self.hits().len(), |project| project.rows.len())
    }

    /// Where a step to `index` stops: on a hit, never on the name of a file. A name is followed by a hit of its file.
    #[must_use]
    pub fn stop(&self, index: usize, direction: Direction) -> usize {
        let Some(rows) = self.project().map(|project| &project.rows) else { return index };
        match (rows.get(index).is_some_and(|row| row.hit.is_none()), direction) {
            (false, _) => index,
            (true, Direction::Forward) => index + 1,
            (true, Direction::Back) => index.checked_sub(1).unwrap_or(rows.len() - 1),
        }
    }

    /// Takes the hit that the `chosen`th choice is off the list.
    pub fn leave_out(&mut self, chosen: usize) {
        match self {
            Found::Nothing => {}
            Found::InFile(file) => {
                let mut hits = file.list().to_vec();
                if chosen < hits.len() {
                    hits.remove(chosen);
                    file.counted = Some(hits);
                }
            }
            Found::InProject(project) => project.leave_out(chosen),
        }
    }

    /// The search, while it goes on.
    #[must_use]
    pub fn search(&self) -> Option<TaskId> {
        let search = match self {
            Found::Nothing => None,
            Found::InFile(file) => file.search.as_ref(),
            Found::InProject(project) => project.search.as_ref(),
        };
        search.map(|task| task.id)
    }

    /// The search has ended.
    pub fn end(&mut self) {
        match self {
            Found::Nothing => {}
            Found::InFile(file) => file.search = None,
            Found::InProject(project) => project.search = None,
        }
    }

    /// The hit in the file that the `chosen`th choice is.
    #[must_use]
    pub fn hit(&self, chosen: usize) -> Option<Span> {
        self.hits().get(chosen).copied()
    }

    /// The hit that the `chosen`th choice is, in whatever file; of a file its first one.
    #[must_use]
    pub fn span(&self, chosen: usize) -> Option<Span> {
        let in_project = || {
            let project = self.project()?;
            let row = project.rows.get(chosen)?;
            Some(project.files[row.file].hits[row.hit.unwrap_or(0)].span)
        };
        self.hit(chosen).or_else(in_project)
    }
}
