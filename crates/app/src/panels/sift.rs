//! Sift: what is looked for, with its switches; what was found; what is to come in its place.
//!
//! It keeps what a person types and chooses. Searching, showing and replacing are the application's.

use super::{Answer, Line as InputLine};
use crate::document::{Document, View};
use crate::finding::Finding;
use crate::keys::Key;
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_core::cursors::CursorSet;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::search::pattern::{Case, Edges, Form, Pattern, Wish};
use snarvel_core::search::replacement::Replacement;
use snarvel_core::text::{LineEnd, Text};
use snarvel_core::units::{Byte, Span};
use snarvel_files::search::{FileHit, FileHits, FolderSearch};
use std::path::PathBuf;
use std::sync::Arc;

/// Where is looked.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Scope {
    /// In what was selected.
    Selections,
    /// In the file.
    #[default]
    File,
    /// In all files of the folder.
    Project,
}

impl Scope {
    /// Its name.
    pub fn name(self) -> &'static str {
        match self {
            Scope::Selections => "selections",
            Scope::File => "file",
            Scope::Project => "project",
        }
    }
}

/// Which line takes keys.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Focus {
    /// What is looked for.
    Find,
    /// What comes in its place.
    Put,
}

/// What the application is to do about it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Wanted {
    /// Look anew.
    Search,
    /// Show the chosen hit.
    Show,
    /// Show what the replacement makes of the text.
    Preview,
    /// Go to the chosen hit.
    Go,
    /// Make all hits cursors.
    Take,
    /// Make all hits pins.
    Pin,
    /// Replace the chosen hit and go on to the next one.
    ReplaceOne,
    /// Replace all hits.
    ReplaceAll,
    /// Take back what was replaced in the project.
    TakeBack,
    /// An older or a newer pattern.
    History(i8),
}

/// Hits in the files of the folder.
#[derive(Debug)]
pub struct Project {
    /// The search, while it goes on.
    pub search: Option<FolderSearch>,
    /// The files with hits so far.
    pub files: Vec<FileHits>,
    /// How many files were looked at.
    pub searched: usize,
    /// What is listed: a file, or a hit in it.
    pub rows: Vec<Row>,
    /// How many files are listed.
    pub listed: usize,
    /// How many hits stand in code, strings and comments, those that are not listed too.
    pub by_kind: [usize; 3],
    /// The file that is shown above, when it is not one that is open.
    pub shown: Option<(PathBuf, Box<Document>)>,
    /// Whether all hits are to be replaced as soon as they are found.
    pub is_to_be_replaced: bool,
}

impl Project {
    /// With nothing found yet.
    pub fn searching(search: FolderSearch) -> Project {
        Project { search: Some(search), ..Project::empty() }
    }

    /// With nothing to be found.
    pub fn empty() -> Project {
        Project {
            search: None,
            files: Vec::new(),
            searched: 0,
            rows: Vec::new(),
            listed: 0,
            by_kind: [0; 3],
            shown: None,
            is_to_be_replaced: false,
        }
    }

    /// Whether all hits that are to be replaced are found.
    pub fn may_be_replaced(&self) -> bool {
        self.is_to_be_replaced && self.search.is_none()
    }

    /// Takes in files with hits that were found since; those of `kinds` are listed.
    pub fn take(&mut self, found: Vec<FileHits>, kinds: [bool; 3]) {
        for hits in found {
            let file = self.files.len();
            hits.hits.iter().for_each(|hit| self.by_kind[index_of(hit.kind)] += 1);
            let mut rows = (0..hits.hits.len()).filter(|hit| kinds[index_of(hits.hits[*hit].kind)]).peekable();
            if rows.peek().is_some() {
                self.listed += 1;
                self.rows.push(Row { file, hit: None });
                self.rows.extend(rows.map(|hit| Row { file, hit: Some(hit) }));
            }
            self.files.push(hits);
        }
    }
}

/// A row of the project's hits.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Row {
    /// Which file.
    pub file: usize,
    /// Which of its hits; none for the file itself.
    pub hit: Option<usize>,
}

/// What is looked for and what was found.
#[derive(Debug)]
pub struct SiftPanel {
    /// What is looked for.
    pub find: InputLine,
    /// What comes in its place.
    pub put: InputLine,
    /// Which of the two takes keys.
    pub focus: Focus,
    /// Whether what comes in its place was asked for.
    pub is_replacing: bool,
    /// How the pattern is read.
    pub form: Form,
    /// Upper and lower case.
    pub case: Case,
    /// Whole words.
    pub edges: Edges,
    /// Whether hits in code, strings and comments count.
    pub kinds: [bool; 3],
    /// Where is looked.
    pub scope: Scope,
    /// The selections that there were, where they hold enough to be looked through.
    pub selections: Vec<Span>,
    /// The pattern, as far as it is one.
    pub pattern: Option<Arc<Pattern>>,
    /// What is wrong with the pattern or the replacement.
    pub problem: Option<String>,
    /// Hits in the file.
    pub finding: Option<Finding>,
    /// Hits in the project.
    pub project: Option<Project>,
    /// Those of the hits in the file that count, where not all do.
    pub filtered: Option<Vec<Span>>,
    /// Which of them, or of the project's rows, is chosen.
    pub chosen: usize,
    /// The text as the replacement would make it, where it is in view.
    pub then: Option<Box<Trial>>,
    /// What was replaced last.
    pub report: Option<String>,
    /// What was in view, and the cursors, when it was opened.
    pub before: (usize, View, CursorSet),
    /// How far back in the history of patterns.
    pub in_history: Option<usize>,
}

/// A text as a replacement would make it.
#[derive(Debug)]
pub struct Trial {
    /// The text: what goes and what comes stand beside each other.
    pub document: Document,
    /// What would go, in order.
    pub gone: Vec<Span>,
    /// What would come, in order.
    pub come: Vec<Span>,
}

impl SiftPanel {
    /// What is looked for, as the search takes it.
    pub fn wish(&self) -> Wish {
        Wish { what: self.find.text.clone(), form: self.form, case: self.case, edges: self.edges }
    }

    /// Whether a hit of that kind counts.
    pub fn counts(&self, kind: Kind) -> bool {
        self.kinds[index_of(kind)]
    }

    /// Whether hits of all kinds count.
    pub fn counts_all(&self) -> bool {
        self.kinds == [true; 3]
    }

    /// How many hits stand in code, strings and comments.
    pub fn by_kind(&self) -> [usize; 3] {
        match (&self.project, &self.finding) {
            (Some(project), _) => project.by_kind,
            (None, Some(finding)) => finding.by_kind,
            (None, None) => [0; 3],
        }
    }

    /// The hits in the file that count, in order.
    pub fn hits(&self) -> &[Span] {
        match (&self.filtered, &self.finding) {
            (Some(hits), _) => hits,
            (None, Some(finding)) => &finding.hits,
            (None, None) => &[],
        }
    }

    /// Takes in what was found in the file, and leaves out what does not count.
    pub fn filter(&mut self) {
        let kinds = self.kinds;
        self.filtered = None;
        if let Some(finding) = &mut self.finding {
            finding.gather();
            if kinds != [true; 3] {
                let known = finding.hits.iter().zip(&finding.kinds);
                self.filtered = Some(known.filter(|(_, kind)| kinds[index_of(**kind)]).map(|(hit, _)| *hit).collect());
            }
        }
        self.chosen = self.chosen.min(self.hits().len().saturating_sub(1));
    }

    /// The hit that is chosen, in the file.
    pub fn hit(&self) -> Option<Span> {
        match self.project {
            None => self.hits().get(self.chosen).copied(),
            Some(_) => None,
        }
    }

    /// What would come in the place of a hit in the project.
    pub fn comes_for(&self, hit: &FileHit) -> Option<String> {
        let pattern = self.pattern.as_ref().filter(|_| self.is_replacing)?;
        let replacement = Replacement::new(&self.put.text, pattern).ok()?;
        let text = Text::from(hit.excerpt.as_str());
        let span = Span::new(Byte(hit.within.start), Byte(hit.within.end));
        let change = replacement.change(&text, pattern, &[span], LineEnd::Lf);
        change.edits().first().map(|edit| change.inserted(edit).to_owned())
    }

    /// The hit that is chosen, in whatever file.
    pub fn chosen_span(&self) -> Option<Span> {
        match (&self.project, self.row()) {
            (Some(project), Some(row)) => Some(project.files[row.file].hits[row.hit.unwrap_or(0)].span),
            _ => self.hit(),
        }
    }

    /// The row that is chosen, in the project.
    pub fn row(&self) -> Option<Row> {
        self.project.as_ref()?.rows.get(self.chosen).copied()
    }

    /// Whether something is still looked for.
    pub fn is_looking(&self) -> bool {
        match &self.project {
            Some(project) => project.search.is_some(),
            None => self.finding.as_ref().is_some_and(|finding| !finding.is_done),
        }
    }

    fn len(&self) -> usize {
        self.project.as_ref().map_or(self.hits().len(), |project| project.rows.len())
    }

    /// The line that takes keys.
    pub fn line(&mut self) -> &mut InputLine {
        match self.focus {
            Focus::Find => &mut self.find,
            Focus::Put => &mut self.put,
        }
    }

    /// Takes a key.
    pub(super) fn press(&mut self, key: Key) -> Answer {
        let wanted = match self.switch(key) {
            Some(wanted) => wanted,
            None => match self.step(key) {
                Some(wanted) => wanted,
                None if self.line().press(key) => self.typed(),
                None => return Answer::None,
            },
        };
        Answer::Sift(wanted)
    }

    fn typed(&mut self) -> Wanted {
        self.in_history = None;
        match self.focus {
            Focus::Find => Wanted::Search,
            Focus::Put => Wanted::Preview,
        }
    }

    /// Keys that switch something, or act on all hits.
    fn switch(&mut self, key: Key) -> Option<Wanted> {
        let KeyCode::Char(c) = key.code else { return None };
        if key.mods == KeyModifiers::CONTROL {
            return match c {
                'f' => {
                    self.turn_scope();
                    Some(Wanted::Search)
                }
                'z' => Some(Wanted::TakeBack),
                _ => None,
            };
        }
        if key.mods != KeyModifiers::ALT {
            return None;
        }
        match c {
            'e' => self.form = if self.form == Form::Literal { Form::Expression } else { Form::Literal },
            'w' => self.edges = if self.edges == Edges::Anywhere { Edges::WholeWords } else { Edges::Anywhere },
            'c' => {
                self.case = match self.case {
                    Case::Smart => Case::Exact,
                    Case::Exact => Case::Either,
                    Case::Either => Case::Smart,
                }
            }
            '1'..='3' => {
                let kind = c as usize - '1' as usize;
                self.kinds[kind] = !self.kinds[kind];
            }
            'b' => return Some(Wanted::Take),
            'p' => return Some(Wanted::Pin),
            _ => return None,
        }
        Some(Wanted::Search)
    }

    fn turn_scope(&mut self) {
        self.scope = match self.scope {
            Scope::Selections => Scope::File,
            Scope::File => Scope::Project,
            Scope::Project if self.selections.is_empty() => Scope::File,
            Scope::Project => Scope::Selections,
        };
    }

    /// Keys that go from hit to hit, or from line to line.
    fn step(&mut self, key: Key) -> Option<Wanted> {
        let alt = key.mods == KeyModifiers::ALT;
        let len = self.len();
        match key.code {
            KeyCode::Tab => {
                self.focus = if self.focus == Focus::Find { Focus::Put } else { Focus::Find };
                self.is_replacing = true;
                return Some(Wanted::Preview);
            }
            KeyCode::Up if alt => return Some(Wanted::History(1)),
            KeyCode::Down if alt => return Some(Wanted::History(-1)),
            KeyCode::Enter if alt && self.is_replacing => return Some(Wanted::ReplaceAll),
            KeyCode::Enter if self.focus == Focus::Put => return Some(Wanted::ReplaceOne),
            KeyCode::Enter => return Some(Wanted::Go),
            KeyCode::Up | KeyCode::Down | KeyCode::PageUp | KeyCode::PageDown if len == 0 => return None,
            KeyCode::Up => self.chosen = (self.chosen + len - 1) % len,
            KeyCode::Down => self.chosen = (self.chosen + 1) % len,
            KeyCode::PageUp => self.chosen = self.chosen.saturating_sub(PAGE),
            KeyCode::PageDown => self.chosen = (self.chosen + PAGE).min(len - 1),
            _ => return None,
        }
        Some(Wanted::Show)
    }

    /// Takes pasted text.
    pub(super) fn paste(&mut self, typed: &str) -> Answer {
        self.line().insert(typed);
        Answer::Sift(self.typed())
    }
}

/// How far a page goes.
const PAGE: usize = 10;

/// The place of a kind among code, strings and comments.
pub fn index_of(kind: Kind) -> usize {
    match kind {
        Kind::Code => 0,
        Kind::String => 1,
        Kind::Comment => 2,
    }
}
