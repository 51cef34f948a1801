//! Showing hits in their texts, and what a replacement would make of them.

use super::SiftPanel;
use super::found::Found;
use crate::context::Context;
use snarvel_core::cursors::CursorSet;
use snarvel_core::search::pattern::Pattern;
use snarvel_core::search::replacement::Replacement;
use snarvel_core::units::{Direction, Line, Span};
use snarvel_task::waits;
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::tasks::About;
use snarvel_workspace::view::scrolling::{lines_in_view, top_to_show};
use snarvel_workspace::view::{Overlay, Preview, View};
use snarvel_workspace::workspace::Workspace;

/// Lines around the view that a preview covers: enough that none of it is without one.
const LINES_BEYOND: usize = 4;

/// Hits that a preview shows at most.
const MOST_SHOWN: usize = 5_000;

impl SiftPanel {
    /// Brings the chosen hit into view.
    pub(super) fn show(&mut self, context: &mut Context) {
        let rows = usize::from(context.look.rooms.seen.rows);
        if self.found.project().is_some() {
            self.show_in_project(rows, context);
        } else {
            let (buffer, view) = context.workspace.active_pair_mut();
            match self.found.hit(self.choice.index).filter(|hit| hit.end <= buffer.text().end()) {
                Some(hit) => show_if_unseen((buffer, view), (hit, rows)),
                None if buffer.id == self.before.buffer => view.scroll = self.before.scroll,
                None => {}
            }
        }
        self.preview(context);
    }

    /// Shows the file of the chosen row above: as it is under edit, or as it is on the disk, once that is read.
    fn show_in_project(&mut self, rows: usize, context: &mut Context) {
        self.choice.index = self.found.stop(self.choice.index, Direction::Forward);
        let workspace = &mut context.workspace;
        let Found::InProject(project) = &mut self.found else { return };
        let Some(row) = project.rows.get(self.choice.index).copied() else { return };
        let file = &project.files[row.file];
        let path = workspace.project.folder.join(&file.path);
        let hit = &file.hits[row.hit.unwrap_or(0)];
        let (line, span) = (Line(hit.line), hit.span);
        let open = workspace.buffers().iter().find(|buffer| buffer.is_of(&path)).map(|buffer| buffer.id);
        if let Some(open) = open {
            project.shown = None;
            workspace.active_pair_mut().1.preview = None;
            workspace.show(open);
        } else if project.shown.as_ref().is_none_or(|(shown, _)| *shown != path) {
            let about = About::new("reading a file").awaited(waits::HIT_PREVIEW);
            let (buffer, load) = workspace.begin_load(&path, Vec::new(), about);
            workspace.active_pair_mut().1.preview = Some(Box::new(Preview::of(buffer)));
            project.shown = Some((path, load));
        }
        let is_file = project.shown.is_some();
        let (buffer, view) = base(workspace, is_file);
        let text = buffer.text();
        if line <= text.last_line() {
            let at = text.snap_back(span.start.min(text.end()));
            view.scroll.top = top_to_show(view, buffer, (line, rows));
            if is_file {
                view.set_cursors(buffer, CursorSet::caret(at));
            }
        }
    }

    /// Shows what the replacement would make of the text in view.
    pub(super) fn preview(&mut self, context: &mut Context) {
        let rows = usize::from(context.look.rooms.seen.rows);
        let is_file = self.found.project().is_some_and(|project| project.shown.is_some());
        base(&mut context.workspace, is_file).1.preview = None;
        if !self.lines.is_replacing {
            return;
        }
        let Some((pattern, replacement)) = self.replacement() else { return };
        let (buffer, view) = base(&mut context.workspace, is_file);
        let text = buffer.text();
        let top = view.scroll.top.0.saturating_sub(LINES_BEYOND);
        let from = text.line_start(Line(top.min(text.last_line().0)));
        let last = Line((top + rows + 2 * LINES_BEYOND).min(text.last_line().0));
        let to = text.line_span(last).end;
        let mut hits = self.hits_in(Span::new(from, to));
        // Of a file that has changed since it was searched what is no hit any more is left out.
        hits.retain(|hit| text.snap_back(hit.start) == hit.start && text.snap_back(hit.end) == hit.end);
        if hits.len() > MOST_SHOWN {
            // A very long line: what is shown of it is around the chosen hit.
            let chosen = self.found.span(self.choice.index).unwrap_or(Span::at(from));
            let first = hits.partition_point(|hit| *hit < chosen).saturating_sub(MOST_SHOWN / 2);
            hits = hits.into_iter().skip(first).take(MOST_SHOWN).collect();
        }
        let preview = would_be((buffer, view), (&pattern, &replacement), &hits);
        view.preview = Some(Box::new(preview));
    }

    /// The line of the chosen hit in the text that is drawn.
    pub(super) fn lit_line(&self, context: &Context) -> Option<Line> {
        let hit = self.found.span(self.choice.index)?.start;
        // What comes before it moves it on in the text as it would be.
        let overlay = context.workspace.overlay(context.workspace.views.focus());
        let grown = overlay.into_iter().flat_map(|overlay| overlay.come.iter().zip(&overlay.gone));
        let at = grown.fold(hit, |at, (come, gone)| if gone.start < at { at + come.len() } else { at });
        let text = context.workspace.shown_here().0.text();
        (at <= text.end()).then(|| text.line_of(at))
    }
}

/// The text whose hits are shown, without what a replacement would make of it; `is_file` where it is one that is not open.
fn base(workspace: &mut Workspace, is_file: bool) -> (&mut Buffer, &mut View) {
    let has_file = is_file && workspace.view().preview.is_some();
    let (buffer, view) = workspace.active_pair_mut();
    if !has_file {
        return (buffer, view);
    }
    let preview = view.preview.get_or_insert_with(|| Box::new(Preview::of(buffer.copy_to_look_at())));
    (&mut preview.buffer, &mut preview.view)
}

/// Brings the line of `hit` into view, where it is not.
fn show_if_unseen((buffer, view): (&Buffer, &mut View), (hit, rows): (Span, usize)) {
    let line = buffer.text().line_of(hit.start);
    let margin = usize::from(rows > 6);
    let lines: Vec<Line> = lines_in_view(view, buffer, rows);
    let is_seen = lines.iter().rev().skip(margin).any(|each| *each == line);
    if !is_seen {
        view.scroll.top = top_to_show(view, buffer, (line, rows));
    }
}

/// The text with what would come after what would go, for `hits`.
fn would_be(
    (buffer, view): (&Buffer, &View),
    (pattern, replacement): (&Pattern, &Replacement),
    hits: &[Span],
) -> Preview {
    let text = buffer.text();
    let change = replacement.change(text, pattern, hits, buffer.settings().line_end);
    let (shown, overlay) = Overlay::of_both(text, &change);
    Preview { overlay, ..Preview::like(view, buffer.preview_of(shown)) }
}
