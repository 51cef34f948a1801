//! Searching while the user types; going to hits, making cursors and pins of them.

use super::found::{Found, InFile, InProject};
use super::query::{Scope, Switches};
use super::steps::FoundSteps;
use super::{Choice, SiftPanel};
use crate::context::Context;
use crate::panels::panel::{PanelAction, SeenText};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::search::pattern::{Pattern, Query};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use snarvel_core::verbs::scene::counted;
use snarvel_files::search::{FileHits, SearchScope, search_in_background};
use snarvel_task::waits;
use snarvel_workspace::convoy::gathering::Places;
use snarvel_workspace::event::Payload;
use snarvel_workspace::finding::{Search, find_in_background};
use snarvel_workspace::state::searches::PastSearch;
use snarvel_workspace::tasks::About;
use snarvel_workspace::workspace::Workspace;
use std::collections::HashMap;
use std::path::PathBuf;
use std::sync::Arc;

const NO_HITS: &str = "no hit to pin here: hits of a file become pins, those of a project become cursors";

impl SiftPanel {
    /// Looks anew; the first hit from the selection on is chosen. An expression that is none leaves what was found, and says
    /// where it is wrong.
    pub(super) fn search(&mut self, context: &mut Context) {
        let from = self.before.at;
        self.search_from(from, context);
    }

    /// Looks anew; the first hit from `from` on is chosen.
    pub(super) fn search_from(&mut self, from: Byte, context: &mut Context) {
        self.said.report = None;
        self.catch_up(Span::at(from), &context.workspace);
        if self.lines.find.text.is_empty() {
            (self.pattern, self.said.problem, self.found) = (None, None, Found::Nothing);
            self.show(context);
            return;
        }
        let (form, case, edges) = (self.switches.form, self.switches.case, self.switches.edges);
        match Pattern::new(Query { what: self.lines.find.text.clone(), form, case, edges }) {
            Ok(pattern) => {
                let pattern = Arc::new(pattern);
                (self.pattern, self.said.problem) = (Some(pattern.clone()), None);
                self.choice = Choice { index: 0, first_from: Some(from) };
                self.found = match self.switches.scope {
                    Scope::Project => Found::InProject(in_project(&pattern, &mut context.workspace)),
                    Scope::File | Scope::Selections => Found::InFile(self.in_file(pattern, &mut context.workspace)),
                };
                self.show(context);
            }
            Err(wrong) => self.said.problem = Some(wrong.to_string()),
        }
    }

    /// Follows changes of the text: hits are looked for again, from where the chosen one is now.
    pub(super) fn follow_changes(&mut self, context: &mut Context) {
        let chosen = self.found.hit(self.choice.index).unwrap_or(Span::at(self.before.at));
        let Some(from) = self.catch_up(chosen, &context.workspace) else { return };
        if self.switches.scope != Scope::Project {
            let report = self.said.report.take();
            self.search_from(from.start, context);
            self.said.report = report;
        }
    }

    /// Moves what is remembered of the text to where it is now, and `place` too; none where the text is the same as before.
    fn catch_up(&mut self, place: Span, workspace: &Workspace) -> Option<Span> {
        if self.seen.is_active(workspace) {
            return None;
        }
        let places: Vec<Span> = [place, Span::at(self.before.at)].iter().chain(&self.selections).copied().collect();
        let is_same_text = self.before.buffer == workspace.active().id;
        let moved = self.seen.moved(&places, workspace).filter(|_| is_same_text);
        self.seen = SeenText::active(workspace);
        match moved {
            Some(moved) => {
                self.before.at = moved[1].start;
                self.selections = moved[2..].to_vec();
                Some(moved[0])
            }
            None => {
                self.selections.clear();
                if self.switches.scope == Scope::Selections {
                    self.switches.scope = Scope::File;
                }
                Some(Span::at(Byte(0)))
            }
        }
    }

    fn in_file(&self, pattern: Arc<Pattern>, workspace: &mut Workspace) -> InFile {
        let buffer = workspace.active();
        let text = buffer.text().clone();
        let spans = match self.switches.scope {
            Scope::Selections => self.selections.clone(),
            Scope::File | Scope::Project => vec![text.span()],
        };
        let about = About { revision: Some(buffer.revision()), ..About::new("looking for hits").of(buffer.id) };
        let search = Search { pattern, text, spans, language: buffer.language().clone() };
        let about = about.awaited(waits::SEARCH);
        let search = workspace.tasks.start(about, Payload::Found, |sink| find_in_background(search, sink));
        InFile { search: Some(search), ..InFile::default() }
    }

    /// Of the hits that are there so far the first from the place on is chosen, until a key chooses another one.
    pub(super) fn choose_first(&mut self) {
        let hits = self.found.hits();
        if let Some(from) = self.choice.first_from {
            let next = hits.partition_point(|hit| hit.start < from);
            self.choice.index = if next < hits.len() { next } else { 0 };
        }
        self.choice.index = self.choice.index.min(hits.len().saturating_sub(1));
    }

    /// All is found: what waited for that is done.
    pub(super) fn all_is_found(&mut self, context: &mut Context) -> PanelAction {
        if self.found.hits().is_empty() && self.found.project().is_none() {
            self.show(context);
        }
        if self.said.report.as_deref() == Some(REPLACED_ONE) {
            self.said.report = Some(format!("{REPLACED_ONE}, {} left", self.found.hits().len()));
        }
        self.go_on(context)
    }

    /// An older or a newer pattern.
    pub(super) fn older_pattern(&mut self, by: i8, context: &mut Context) {
        let past = &context.workspace.searches.past;
        let now = self.in_history.map_or(-1, |at| at as i64);
        let at = (now + i64::from(by)).clamp(-1, past.len() as i64 - 1);
        self.in_history = usize::try_from(at).ok();
        let search = self.in_history.map(|at| past[past.len() - 1 - at].clone()).unwrap_or_default();
        let PastSearch { pattern, form, case, edges } = search;
        self.lines.find.set(pattern);
        self.switches = Switches { form, case, edges, ..self.switches };
        self.search(context);
    }

    /// Goes to the chosen hit, which is selected.
    pub(super) fn go(&mut self, context: &mut Context) -> PanelAction {
        self.remember(context);
        let mut steps = FoundSteps::of(&self.found, self.choice.index);
        if steps.is_empty() {
            context.say("there is no hit to go to");
            return PanelAction::Stay;
        }
        SiftPanel::close(context);
        steps.go(context);
        PanelAction::CloseThen(Box::new(steps))
    }

    /// All hits of the file as cursors.
    fn hits_as_cursors(&self, context: &Context) -> Option<CursorSet> {
        let hits = self.found.hits();
        let list = hits.iter().map(|hit| Selection::new(hit.start, hit.end)).collect();
        let text = context.workspace.active().text();
        (!hits.is_empty()).then(|| CursorSet::of(list, self.choice.index).snapped(text))
    }

    pub(super) fn take_cursors(&mut self, context: &mut Context) -> PanelAction {
        if let Some(places) = self.files_with_hits() {
            SiftPanel::close(context);
            let effects = context.workspace.begin_convoy(places);
            context.follow(effects);
            return PanelAction::Close;
        }
        let Some(set) = self.hits_as_cursors(context) else {
            context.say("no hit to take");
            return PanelAction::Stay;
        };
        SiftPanel::close(context);
        context.say(format!("{} from the hits", counted(set.len(), "cursor")));
        context.workspace.take_hits(set, self.pattern.as_deref());
        PanelAction::Close
    }

    /// The hits of the project file by file, and the chosen one, where they are in more than one file.
    fn files_with_hits(&self) -> Option<Places> {
        let project = self.found.project()?;
        let counts = |kind| self.switches.counts(kind);
        let of = |file: &FileHits| {
            let spans = file.hits.iter().filter(|hit| counts(hit.kind)).map(|hit| hit.span).collect::<Vec<_>>();
            (file.path.clone(), spans)
        };
        let files: Vec<_> = project.files.iter().map(of).filter(|(_, spans)| !spans.is_empty()).collect();
        let row = project.rows.get(self.choice.index)?;
        let chosen = (project.files[row.file].path.clone(), self.found.span(self.choice.index)?);
        (!files.is_empty()).then_some(Places { files, chosen })
    }

    pub(super) fn take_pins(&mut self, context: &mut Context) -> PanelAction {
        let Some(set) = self.hits_as_cursors(context) else {
            context.say(NO_HITS);
            return PanelAction::Stay;
        };
        SiftPanel::close(context);
        context.say(format!("{} from the hits", counted(set.len(), "pin")));
        let (buffer, view) = context.workspace.active_pair_mut();
        view.set_pins(buffer, Some(set));
        PanelAction::Close
    }

    /// The hits in the text that is shown, in order; all of them, those out of view too.
    pub(super) fn hits_shown(&self) -> Vec<Span> {
        let Some(project) = self.found.project() else { return self.found.hits().to_vec() };
        let Some(row) = project.rows.get(self.choice.index) else { return Vec::new() };
        let hits = project.files[row.file].hits.iter();
        hits.filter(|hit| self.switches.counts(hit.kind)).map(|hit| hit.span).collect()
    }

    /// The hits in `span` of the text that is shown, in order.
    pub(super) fn hits_in(&self, span: Span) -> Vec<Span> {
        if self.found.project().is_some() {
            return self
                .hits_shown()
                .into_iter()
                .filter(|hit| hit.start >= span.start && hit.end <= span.end)
                .collect();
        }
        let hits = self.found.hits();
        let first = hits.partition_point(|hit| hit.end < span.start);
        hits[first..].iter().take_while(|hit| hit.end <= span.end).copied().collect()
    }
}

/// What is said of one hit that was replaced, until it is known how many are left.
pub(super) const REPLACED_ONE: &str = "replaced one";

fn in_project(pattern: &Arc<Pattern>, workspace: &mut Workspace) -> InProject {
    let scope = SearchScope { folder: workspace.project.folder.clone(), open: open_texts(workspace) };
    let about = About::new("looking through the files").awaited(waits::SEARCH);
    let start = |sink| search_in_background(pattern, scope, sink);
    InProject { search: Some(workspace.tasks.start(about, Payload::FolderFound, start)), ..InProject::default() }
}

/// The texts under edit that are not what their files hold.
fn open_texts(workspace: &Workspace) -> HashMap<PathBuf, Text> {
    let changed = workspace.buffers().iter().filter(|buffer| buffer.is_unsaved());
    changed.filter_map(|buffer| Some((buffer.path()?.to_owned(), buffer.text().clone()))).collect()
}
