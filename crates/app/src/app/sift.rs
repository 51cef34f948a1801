//! Sift in the application: looking while somebody types, showing hits, replacing them in a file or in all.

use super::App;
use super::replacing_in_files::{FileWork, ReplacedLast};
use crate::document::{Document, Home};
use crate::finding::Finding;
use crate::panels::sift::{Focus, Project, Scope, SiftPanel, Wanted};
use crate::panels::{Answer, Line as InputLine, Panel};
use crate::screen::layout::Frame;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::search::pattern::{Case, Edges, Form, Pattern};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Direction, Line, Span};
use snarvel_core::verbs::scene::counted;
use snarvel_files::search::{FolderSearch, Ground};
use std::collections::HashMap;
use std::path::PathBuf;
use std::sync::Arc;
use std::time::Duration;

/// What was looked for before, and how it was taken back.
#[derive(Debug, Default)]
pub struct Sifted {
    /// Patterns, the newest last.
    pub patterns: Vec<String>,
    /// The switches as they were left.
    switches: (Form, Case, Edges),
    /// What the last replacement in the project changed.
    pub(super) replaced: ReplacedLast,
    /// What is being written for it.
    pub(super) work: Option<FileWork>,
}

/// How many patterns are remembered.
const MOST_PATTERNS: usize = 100;

/// How long a key waits for the file that it shows: most are there by then, and nothing flickers.
const PATIENCE: Duration = Duration::from_millis(30);

/// A selection this long is searched in, a shorter one is looked for: unless it lies over lines.
const LONGEST_WANTED: usize = 200;

impl App {
    /// Opens sift; what is selected is looked for, or searched in.
    pub(super) fn show_sift(&mut self) {
        let document = self.document();
        let (editor, cursors) = (&document.editor, document.editor.cursors());
        let text = editor.text();
        let primary = cursors.primary();
        let is_over_lines = |each: Selection| text.line_of(each.start()) != text.line_of(each.end());
        let searched: Vec<Span> = cursors.iter().filter(|each| is_over_lines(*each)).map(Selection::span).collect();
        let is_wanted = !primary.is_caret() && !is_over_lines(primary) && primary.span().len() <= LONGEST_WANTED;
        let find = match is_wanted {
            true => InputLine::holding(text.slice(primary.span())),
            false => InputLine::holding(self.sifted.patterns.last().cloned().unwrap_or_default()),
        };
        let (form, case, edges) = self.sifted.switches;
        let panel = SiftPanel {
            find,
            put: InputLine::default(),
            focus: Focus::Find,
            is_replacing: false,
            // What is selected is looked for as it stands.
            form: if is_wanted { Form::Literal } else { form },
            case,
            edges,
            kinds: [true; 3],
            scope: if searched.is_empty() { Scope::File } else { Scope::Selections },
            selections: searched,
            pattern: None,
            problem: None,
            finding: None,
            project: None,
            filtered: None,
            chosen: 0,
            then: None,
            report: None,
            before: (self.current, document.view, cursors.clone()),
            in_history: None,
        };
        self.panel = Some(Panel::Sift(Box::new(panel)));
        self.search();
    }

    pub(super) fn sift(&mut self) -> Option<&mut SiftPanel> {
        match &mut self.panel {
            Some(Panel::Sift(sift)) => Some(sift),
            _ => None,
        }
    }

    /// Does what sift wants.
    pub(super) fn carry_out_sift(&mut self, wanted: Wanted) {
        if let Some(project) = self.sift().and_then(|sift| sift.project.as_mut()) {
            // What was to be done once all is found is not wanted any more where something else is.
            project.is_to_be_replaced &= wanted == Wanted::Show;
        }
        match wanted {
            Wanted::Search => self.search(),
            Wanted::Show => self.show_hit(),
            Wanted::Preview => self.preview_replacement(),
            Wanted::Go => self.go_to_hit(),
            Wanted::Take => self.take_hits(),
            Wanted::Pin => self.pin_hits(),
            Wanted::ReplaceOne => self.replace_one(),
            Wanted::ReplaceAll => self.replace_all(),
            Wanted::TakeBack => self.take_back(),
            Wanted::History(by) => self.older_pattern(by),
        }
    }

    fn older_pattern(&mut self, by: i8) {
        let patterns = self.sifted.patterns.clone();
        let Some(sift) = self.sift() else { return };
        let now = sift.in_history.map_or(-1, |at| at as i64);
        let at = (now + i64::from(by)).clamp(-1, patterns.len() as i64 - 1);
        sift.in_history = usize::try_from(at).ok();
        match sift.in_history {
            Some(at) => sift.find.set(patterns[patterns.len() - 1 - at].clone()),
            None => sift.find.set(""),
        }
        self.search();
    }

    /// Looks anew. An expression that is none leaves what was found, and says where it is wrong.
    pub(super) fn search(&mut self) {
        let waker = self.waker.clone();
        let ground = Ground { folder: self.folder.clone(), open: self.open_texts() };
        let index = self.current;
        let Some(Panel::Sift(sift)) = &mut self.panel else { return };
        sift.report = None;
        if sift.find.text.is_empty() {
            (sift.pattern, sift.problem, sift.finding) = (None, None, None);
            sift.project = None;
            self.take_in_hits();
            return;
        }
        let pattern = match Pattern::new(sift.wish()) {
            Ok(pattern) => Arc::new(pattern),
            Err(wrong) => {
                sift.problem = Some(wrong.to_string());
                return;
            }
        };
        (sift.pattern, sift.problem) = (Some(pattern.clone()), None);
        if sift.scope == Scope::Project {
            let search = FolderSearch::start(&pattern, ground, move || waker.wake());
            let project = Project::searching(search);
            (sift.project, sift.chosen) = (Some(project), 0);
        } else {
            let editor = &self.documents[index].editor;
            let text = editor.text().clone();
            let spans = match sift.scope {
                Scope::Selections => sift.selections.clone(),
                _ => vec![text.span()],
            };
            sift.project = None;
            sift.finding = Some(Finding::start(pattern, text, spans, editor.language().clone(), waker));
        }
        self.take_in_hits();
        let here = self.sift().map_or(Byte(0), |sift| sift.before.2.primary().start());
        if let Some(sift) = self.sift().filter(|sift| sift.project.is_none()) {
            let next = sift.hits().partition_point(|hit| hit.start < here);
            sift.chosen = if next < sift.hits().len() { next } else { 0 };
        }
        self.show_hit();
    }

    /// The files under edit whose texts are not what their files hold.
    fn open_texts(&self) -> HashMap<PathBuf, Text> {
        let changed = self.documents.iter().filter(|document| document.is_unsaved());
        let with_path = changed.filter_map(|document| match &document.home {
            Home::File(path) => Some((path.clone(), document.editor.text().clone())),
            Home::Pipe | Home::None => None,
        });
        with_path.collect()
    }

    /// Takes in what was found meanwhile, by whoever works behind the screen.
    pub fn gather(&mut self) {
        self.gather_files();
        self.gather_loading();
        self.end_saves(Duration::ZERO);
        self.gather_work(Duration::ZERO);
        self.gather_news();
        self.note_changes();
        if matches!(self.panel, Some(Panel::Sift(_))) {
            let was = self.sift().map_or(0, |sift| sift.hits().len());
            let had_rows = self.sift().is_some_and(|sift| sift.row().is_some());
            self.take_in_hits();
            if !had_rows && self.sift().is_some_and(|sift| sift.row().is_some()) {
                self.show_hit();
            }
            if self.sift().is_some_and(|sift| sift.hits().len() != was) {
                self.preview_replacement();
            }
            self.gather_shown();
            if self.sift().and_then(|sift| sift.project.as_ref()).is_some_and(Project::may_be_replaced) {
                self.replace_in_project();
            }
            self.settle();
        }
    }

    /// Waits for all that is looked for.
    pub fn settle_search(&mut self) {
        self.settle_files();
        if let Some(sift) = self.sift() {
            sift.finding.iter_mut().for_each(Finding::settle);
            if let Some(project) = &mut sift.project
                && let Some(mut search) = project.search.take()
            {
                let files = search.settle();
                project.searched = search.searched();
                project.take(files, sift.kinds);
            }
        }
        self.gather();
    }

    fn take_in_hits(&mut self) {
        let Some(sift) = self.sift() else { return };
        if let Some(project) = &mut sift.project {
            if let Some(search) = &mut project.search {
                let (files, is_over) = search.gather();
                project.searched = search.searched();
                project.take(files, sift.kinds);
                if is_over {
                    project.search = None;
                }
            }
            return;
        }
        sift.filter();
    }

    /// Brings the chosen hit into view.
    pub(super) fn show_hit(&mut self) {
        let Some(sift) = self.sift() else { return };
        if sift.project.is_some() {
            self.show_file_hit();
        } else if let Some(hit) = sift.hit() {
            let line = self.document().editor.text().line_of(hit.start);
            self.show_line_if_unseen(line);
        } else {
            let view = sift.before.1;
            self.document_mut().view = view;
        }
        self.preview_replacement();
    }

    /// Brings `line` into view, where it is not.
    fn show_line_if_unseen(&mut self, line: Line) {
        let frame = Frame::of(self);
        let document = self.document();
        let shown = crate::screen::layout::lines_in_view(document, usize::from(frame.seen.rows));
        let margin = usize::from(frame.seen.rows > 6);
        let lines: Vec<Line> = shown.collect();
        let is_seen = lines.iter().rev().skip(margin).any(|each| *each == line);
        if !is_seen {
            self.show_line(line);
        }
    }

    /// Shows the file of the chosen row above: as it is under edit, or as it is on the disk, once that is read.
    fn show_file_hit(&mut self) {
        let folder = self.folder.clone();
        let rows = usize::from(Frame::of(self).seen.rows);
        let (waker, manner) = (self.waker.clone(), self.settings.manner);
        let Some(Panel::Sift(sift)) = &mut self.panel else { return };
        let Some(row) = sift.row() else { return };
        let Some(project) = &mut sift.project else { return };
        let file = &project.files[row.file];
        let path = folder.join(&file.path);
        let hit = &file.hits[row.hit.unwrap_or(0)];
        let (line, span) = (Line(hit.line), hit.span);
        let open = self.documents.iter().position(|document| document.home == Home::File(path.clone()));
        if let Some(index) = open {
            self.current = index;
            project.shown = None;
        } else if project.shown.as_ref().is_none_or(|(shown, _)| *shown != path) {
            let (patience, is_seen) = (waker.patience(PATIENCE), waker.is_connected());
            let begun = Document::begin(&path, manner, patience, move || waker.wake());
            project.shown = begun.ok().map(|mut document| {
                if !is_seen {
                    // What cannot be read is shown as far as it came.
                    let _ = document.settle();
                }
                (path, Box::new(document))
            });
        }
        let document = match &mut project.shown {
            Some((_, document)) => document,
            None => &mut self.documents[self.current],
        };
        let text = document.editor.text();
        if line <= text.last_line() {
            let top = document.editor.folds().step(text, line, Direction::Back, rows / 3);
            let at = text.snap_back(span.start.min(text.end()));
            document.view.top = top;
            if project.shown.is_some() {
                document_caret(project, at);
            }
        }
    }

    /// Takes in what has come of the file that is shown.
    fn gather_shown(&mut self) {
        let shown = self.sift().and_then(|sift| sift.project.as_mut()).and_then(|project| project.shown.as_mut());
        let Some((_, document)) = shown.filter(|(_, document)| document.loading.is_some()) else { return };
        // What cannot be read is shown as far as it came.
        if document.gather().unwrap_or(true) {
            self.show_hit();
        }
    }

    /// Goes to the chosen hit, which is selected, and leaves sift.
    fn go_to_hit(&mut self) {
        self.remember_pattern();
        let Some(sift) = self.sift() else { return };
        let target = match (&sift.project, sift.row()) {
            (Some(project), Some(row)) => {
                let file = &project.files[row.file];
                Some((Some(file.path.clone()), file.hits[row.hit.unwrap_or(0)].span))
            }
            (Some(_), None) => None,
            (None, _) => sift.hit().map(|hit| (None, hit)),
        };
        let Some((file, hit)) = target else {
            self.say("there is no hit to go to");
            return;
        };
        self.panel = None;
        if let Some(file) = file {
            self.open(&file);
        }
        let editor = &mut self.document_mut().editor;
        let text = editor.text();
        if hit.end <= text.end() {
            let [start, end] = [text.snap_back(hit.start), text.snap_forward(hit.end)];
            editor.set_cursors(CursorSet::one(Selection::new(start, end)));
        }
        self.message = None;
    }

    pub(super) fn remember_pattern(&mut self) {
        let Some(sift) = self.sift() else { return };
        let (pattern, switches) = (sift.find.text.clone(), (sift.form, sift.case, sift.edges));
        self.sifted.switches = switches;
        if pattern.is_empty() {
            return;
        }
        let patterns = &mut self.sifted.patterns;
        patterns.retain(|each| *each != pattern);
        patterns.push(pattern);
        let dropped = patterns.len().saturating_sub(MOST_PATTERNS);
        patterns.drain(..dropped);
    }

    /// All hits of the file, once they are all found.
    fn settled_hits(&mut self) -> Option<CursorSet> {
        self.settle_search();
        let sift = self.sift().filter(|sift| sift.project.is_none() && !sift.hits().is_empty())?;
        let (hits, chosen) = (sift.hits().to_vec(), sift.chosen);
        let list = hits.iter().map(|hit| Selection::new(hit.start, hit.end)).collect();
        Some(CursorSet::of(list, chosen).snapped(self.document().editor.text()))
    }

    /// Makes all hits cursors.
    fn take_hits(&mut self) {
        let Some(set) = self.settled_hits() else {
            self.say(NO_HITS);
            return;
        };
        self.remember_pattern();
        self.panel = None;
        let said = format!("{} from the hits", counted(set.len(), "cursor"));
        self.document_mut().editor.set_cursors(set);
        self.say(said);
    }

    fn pin_hits(&mut self) {
        let Some(set) = self.settled_hits() else {
            self.say(NO_HITS);
            return;
        };
        self.remember_pattern();
        self.panel = None;
        let said = format!("{} from the hits", counted(set.len(), "pin"));
        self.document_mut().editor.set_pins(Some(set));
        self.say(said);
    }

    /// The hit that is chosen, in whatever file.
    pub(super) fn chosen_hit(&self) -> Option<Span> {
        match &self.panel {
            Some(Panel::Sift(sift)) => sift.chosen_span(),
            _ => None,
        }
    }

    /// The document whose hits are shown.
    pub(super) fn sifted_document(&self) -> &Document {
        match &self.panel {
            Some(Panel::Sift(sift)) => {
                sift.project.as_ref().and_then(|project| project.shown.as_ref()).map_or(self.document(), |(_, it)| it)
            }
            _ => self.document(),
        }
    }

    /// The hits that lie within `span` of the document that is shown, in order.
    pub fn hits_in(&self, span: Span) -> Vec<Span> {
        match &self.panel {
            Some(Panel::Sift(sift)) if sift.project.is_none() => {
                let hits = sift.hits();
                let first = hits.partition_point(|hit| hit.end < span.start);
                hits[first..].iter().take_while(|hit| hit.end <= span.end).copied().collect()
            }
            Some(Panel::Sift(_)) => {
                self.hits_shown().into_iter().filter(|hit| hit.start >= span.start && hit.end <= span.end).collect()
            }
            _ => Vec::new(),
        }
    }

    /// The hits in the document that is shown, in order; all of them, those out of view too.
    pub(super) fn hits_shown(&self) -> Vec<Span> {
        let Some(Panel::Sift(sift)) = &self.panel else { return Vec::new() };
        match (&sift.project, sift.row()) {
            (None, _) => sift.hits().to_vec(),
            (Some(project), Some(row)) => {
                let hits = &project.files[row.file].hits;
                hits.iter().filter(|hit| sift.counts(hit.kind)).map(|hit| hit.span).collect()
            }
            (Some(_), None) => Vec::new(),
        }
    }

    /// Goes back to what was in view before sift, unless it is left for a hit.
    pub(super) fn leave_sift(&mut self, answer: &Answer) {
        if !matches!(answer, Answer::Left) {
            return;
        }
        self.remember_pattern();
        let Some(Panel::Sift(sift)) = &self.panel else { return };
        let (index, view, _) = sift.before;
        if let Some(document) = self.documents.get_mut(index) {
            self.current = index;
            document.view = view;
        }
    }
}

const NO_HITS: &str = "no hit to take: hits of a file become cursors, those of a project do not";

fn document_caret(project: &mut Project, at: Byte) {
    if let Some((_, document)) = &mut project.shown {
        document.editor.set_cursors(CursorSet::caret(at));
        document.seen = None;
    }
}
