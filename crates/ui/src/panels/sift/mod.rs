//! Sift: what is looked for, with its switches; what was found; what is to come in its place.

mod draw;
pub mod found;
mod keys;
pub mod query;
mod replace;
mod search;
mod show;
pub mod steps;

use super::line::InputLine;
use super::painter::Painter;
use super::panel::{Panel, PanelAction, SeenText, list_rows};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::marks::TextMarks;
use found::Found;
use query::{Focus, Lines, Scope, Switches};
use ratatui::buffer::Buffer as Grid;
use snarvel_core::cursors::Selection;
use snarvel_core::search::pattern::{Form, Pattern};
use snarvel_core::search::replacement::HitShape;
use snarvel_core::units::{Byte, Span};
use snarvel_files::loading::LoadStep;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::notice::Notice;
use snarvel_workspace::state::searches::PastSearch;
use snarvel_workspace::view::Scroll;
use snarvel_workspace::workspace::Workspace;
use std::sync::Arc;

/// What a key asks for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Wanted {
    /// Look anew.
    Search,
    /// Show the chosen hit.
    Show,
    /// Show what the replacement makes of the text.
    Preview,
    /// Go to the chosen hit.
    Go,
    /// Make all hits cursors.
    Cursors,
    /// Make all hits pins.
    Pins,
    /// Replace the chosen hit and go on to the next one.
    ReplaceOne,
    /// Replace all hits.
    ReplaceAll,
    /// Take the chosen hit off the list: nothing is done at it.
    LeaveOut,
    /// Take back what was replaced.
    TakeBack,
    /// An older or a newer pattern.
    History(i8),
}

/// What was on the screen before.
#[derive(Clone, Copy, Debug)]
struct Before {
    buffer: BufferId,
    scroll: Scroll,
    /// Where the primary selection begins.
    at: Byte,
}

/// Which of the hits is chosen.
#[derive(Clone, Copy, Debug, Default)]
struct Choice {
    /// Which of them, or of the rows of the list.
    index: usize,
    /// Until a key chooses another one: the first from here on, as they are found.
    first_from: Option<Byte>,
}

/// What is said of the pattern, and of what was replaced.
#[derive(Debug, Default)]
struct Said {
    /// What is wrong with the pattern or the replacement.
    problem: Option<String>,
    /// What was replaced last.
    report: Option<String>,
}

/// What is looked for and what was found.
#[derive(Debug)]
pub struct SiftPanel {
    /// The lines that are typed.
    pub lines: Lines,
    /// How is looked.
    pub switches: Switches,
    /// The selections that there were, where they hold enough to be looked through.
    selections: Vec<Span>,
    /// The pattern, as far as it is one.
    pattern: Option<Arc<Pattern>>,
    said: Said,
    /// What was found.
    pub found: Found,
    choice: Choice,
    /// What is to be done once all is found.
    then: Option<Wanted>,
    before: Before,
    /// The text in which the hits were found.
    seen: SeenText,
    /// How far back in the history of patterns.
    in_history: Option<usize>,
}

/// A selection this long is searched in, a shorter one is looked for: unless it is over lines.
const LONGEST_WANTED: usize = 200;

impl SiftPanel {
    /// For the active text; what is selected is looked for, or searched in.
    #[must_use]
    pub fn of(workspace: &Workspace) -> SiftPanel {
        let (buffer, view) = (workspace.active(), workspace.view());
        let (text, cursors) = (buffer.text(), view.cursors());
        let primary = cursors.primary();
        let is_over_lines = |each: Selection| text.line_of(each.start()) != text.line_of(each.end());
        let searched: Vec<Span> = cursors.iter().filter(|each| is_over_lines(*each)).map(Selection::span).collect();
        let is_wanted = !primary.is_caret() && !is_over_lines(primary) && primary.span().len() <= LONGEST_WANTED;
        let last = workspace.searches.past.last().cloned().unwrap_or_default();
        let find = match is_wanted {
            true => InputLine::selected(text.slice(primary.span())),
            false => InputLine::selected(last.pattern.clone()),
        };
        let PastSearch { form, case, edges, .. } = last;
        SiftPanel {
            lines: Lines { find, put: InputLine::default(), focus: Focus::Find, is_replacing: false },
            switches: Switches {
                // What is selected is looked for as it is.
                form: if is_wanted { Form::Literal } else { form },
                case,
                edges,
                kinds: [true; 3],
                scope: match (searched.is_empty(), workspace.searches.is_in_project) {
                    (false, _) => Scope::Selections,
                    (true, true) => Scope::Project,
                    (true, false) => Scope::File,
                },
                shape: HitShape::Given,
            },
            selections: searched,
            pattern: None,
            said: Said::default(),
            found: Found::Nothing,
            choice: Choice::default(),
            then: None,
            before: Before { buffer: buffer.id, scroll: view.scroll, at: primary.start() },
            seen: SeenText::active(workspace),
            in_history: None,
        }
    }

    /// What is said of what was replaced.
    #[must_use]
    pub fn report(&self) -> Option<&str> {
        self.said.report.as_deref()
    }

    /// Does what a key asks for.
    fn carry_out(&mut self, wanted: Wanted, context: &mut Context) -> PanelAction {
        // What was to be done once all is found is not wanted any more where something else is.
        if wanted != Wanted::Show {
            self.then = None;
        }
        match wanted {
            Wanted::Search => self.search(context),
            Wanted::Show => self.show(context),
            Wanted::Preview => self.preview(context),
            Wanted::Go => return self.go(context),
            Wanted::Cursors | Wanted::Pins | Wanted::ReplaceAll => {
                self.remember(context);
                self.then = Some(wanted);
                return self.go_on(context);
            }
            Wanted::ReplaceOne => self.replace_one(context),
            Wanted::LeaveOut => self.leave_out(context),
            Wanted::TakeBack => self.take_back(context),
            Wanted::History(by) => self.older_pattern(by, context),
        }
        PanelAction::Stay
    }

    fn leave_out(&mut self, context: &mut Context) {
        if self.found.search().is_some() {
            context.say("hits can be left out once all are found");
            return;
        }
        self.found.leave_out(self.choice.index);
        self.choice.index = self.choice.index.min(self.found.count().saturating_sub(1));
        self.show(context);
    }

    /// Does what was to be done once all is found, if it is.
    fn go_on(&mut self, context: &mut Context) -> PanelAction {
        if self.found.search().is_some() {
            if self.then == Some(Wanted::ReplaceAll) && self.found.project().is_some() {
                self.said.report = Some("replaces as soon as all files are looked through; Esc leaves it".to_owned());
            }
            return PanelAction::Stay;
        }
        match self.then.take() {
            Some(Wanted::Cursors) => self.take_cursors(context),
            Some(Wanted::Pins) => self.take_pins(context),
            Some(Wanted::ReplaceAll) => self.replace_all(context),
            _ => PanelAction::Stay,
        }
    }

    /// Remembers the pattern and the switches.
    fn remember(&self, context: &mut Context) {
        let searches = &mut context.workspace.searches;
        searches.is_in_project = self.switches.scope == Scope::Project;
        let Switches { form, case, edges, .. } = self.switches;
        searches.note(PastSearch { pattern: self.lines.find.text.clone(), form, case, edges });
    }

    /// Leaves everything as it was before.
    fn leave(&self, context: &mut Context) -> PanelAction {
        self.remember(context);
        SiftPanel::close(context);
        if context.workspace.buffer(self.before.buffer).is_some() {
            context.workspace.show(self.before.buffer);
            context.workspace.active_pair_mut().1.scroll = self.before.scroll;
        }
        PanelAction::Close
    }

    /// Shows the text itself again.
    fn close(context: &mut Context) {
        context.workspace.active_pair_mut().1.preview = None;
    }
}

impl Panel for SiftPanel {
    fn rows(&self, context: &Context) -> u16 {
        if self.found.project().is_some() { (context.look.size.rows / 2).max(10) } else { 4.min(list_rows(context)) }
    }

    fn begin(&mut self, context: &mut Context) {
        self.search(context);
    }

    fn follow(&mut self, context: &mut Context) {
        self.follow_changes(context);
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        if key.code == crossterm::event::KeyCode::Esc {
            return self.leave(context);
        }
        match self.wanted(key) {
            Some(wanted) => self.carry_out(wanted, context),
            None => PanelAction::Stay,
        }
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        self.lines.line().insert(typed);
        let wanted = self.typed();
        self.carry_out(wanted, context)
    }

    fn take(&mut self, event: Event, context: &mut Context) -> PanelAction {
        let is_of_search = self.found.search() == Some(event.source.task);
        match (event.payload, &mut self.found) {
            (Payload::Found(news), Found::InFile(file)) if is_of_search => {
                file.take(news, &self.switches);
                self.choose_first();
                self.show(context);
            }
            (Payload::FolderFound(news), Found::InProject(project)) if is_of_search => {
                let had_rows = !project.rows.is_empty();
                project.take(news, &self.switches);
                if !had_rows {
                    self.show(context);
                }
            }
            (Payload::Ended, _) if is_of_search => {
                self.found.end();
                return self.all_is_found(context);
            }
            (Payload::Loading(step), _) => self.take_file(event.source.buffer, step, context),
            (Payload::Parsed(parsed), _) => {
                let preview = context.workspace.active_pair_mut().1.preview.as_mut();
                let preview = preview.filter(|preview| Some(preview.buffer.id) == event.source.buffer);
                if let Some(preview) = preview {
                    preview.buffer.take_parsed(parsed);
                }
            }
            _ => {}
        }
        PanelAction::Stay
    }

    fn notice(&mut self, notice: Notice, context: &mut Context) -> (Option<Notice>, PanelAction) {
        match notice {
            Notice::Replaced(said) if self.found.project().is_some() => {
                self.search(context);
                self.said.report = Some(said);
                (None, PanelAction::Stay)
            }
            other => (Some(other), PanelAction::Stay),
        }
    }

    fn settle(&mut self, context: &mut Context) {
        if let Some((done, of)) = context.workspace.replacing()
            && self.found.project().is_some()
        {
            self.said.report = Some(format!("{done} of {} written …", snarvel_core::verbs::scene::counted(of, "file")));
        }
    }

    fn marks(&self, context: &Context, span: Span) -> TextMarks {
        let here = context.workspace.views.focus();
        let overlay = context.workspace.overlay(here).filter(|overlay| !overlay.gone.is_empty());
        if let Some(overlay) = overlay {
            let gone = overlay.gone.iter().map(|span| (*span, Role::Gone));
            let mut overlays: Vec<_> = gone.chain(overlay.come.iter().map(|span| (*span, Role::Come))).collect();
            overlays.sort_by_key(|(span, _)| *span);
            return TextMarks { lit: self.lit_line(context), overlays, ..TextMarks::default() };
        }
        let chosen = self.found.span(self.choice.index);
        let role = |hit: &Span| if Some(*hit) == chosen { Role::HitHere } else { Role::Hit };
        let overlays = self.hits_in(span).into_iter().map(|hit| (hit, role(&hit))).collect();
        TextMarks { lit: self.lit_line(context), overlays, ..TextMarks::default() }
    }

    fn ruler(&self) -> &[Span] {
        self.found.hits()
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        self.draw_all(painter, grid);
    }
}

impl SiftPanel {
    /// Takes in more of the file that is shown.
    fn take_file(&mut self, buffer: Option<BufferId>, step: LoadStep, context: &mut Context) {
        let Some(id) = buffer else { return };
        let sink = context.workspace.parse_sink(id);
        let preview = context.workspace.active_pair_mut().1.preview.as_mut();
        let Some(preview) = preview.filter(|preview| preview.buffer.id == id) else { return };
        match step {
            LoadStep::More(text) => {
                preview.buffer.extend_loaded(text, snarvel_workspace::buffer::Completeness::Partial);
            }
            LoadStep::All(opened) => preview.buffer.take_opened(*opened, Some(sink)),
            // What cannot be read is shown as far as it came.
            LoadStep::Size(_) | LoadStep::Same(_) | LoadStep::Failed(_) => return,
        }
        preview.view.catch_up(&mut preview.buffer);
        self.show(context);
    }
}
