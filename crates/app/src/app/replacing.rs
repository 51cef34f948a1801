//! What sift puts in the place of hits: shown first, then done; and taken back.

use super::App;
use crate::document::Document;
use crate::panels::sift::Trial;
use crate::screen::layout::Frame;
use snarvel_core::changes::{Bias, Change, ChangeBuilder, Mapper};
use snarvel_core::editor::STILL_GROWING;
use snarvel_core::search::pattern::Pattern;
use snarvel_core::search::replacement::Replacement;
use snarvel_core::units::{Byte, Line, Span};
use snarvel_core::verbs::by_name;
use snarvel_core::verbs::scene::counted;
use std::sync::Arc;

/// Lines around the view that a preview covers: enough that none of it is without one.
const LINES_BEYOND: usize = 4;

/// Hits that a preview shows at most.
const MOST_SHOWN: usize = 5_000;

impl App {
    pub(super) fn replacement(&mut self) -> Option<(Arc<Pattern>, Replacement)> {
        let sift = self.sift()?;
        let pattern = sift.pattern.clone()?;
        match Replacement::new(&sift.put.text, &pattern) {
            Ok(replacement) => {
                sift.problem = None;
                Some((pattern, replacement))
            }
            Err(why) => {
                sift.problem = Some(why);
                None
            }
        }
    }

    fn change_for(&mut self, hits: &[Span]) -> Option<Change> {
        if self.document().editor.is_growing() {
            self.say(STILL_GROWING);
            return None;
        }
        let (pattern, replacement) = self.replacement()?;
        let editor = &self.document().editor;
        let change = replacement.change(editor.text(), &pattern, hits, editor.layout().line_end);
        Some(change)
    }

    /// Shows what the replacement would make of the text in view.
    pub(super) fn preview_replacement(&mut self) {
        let Some(sift) = self.sift() else { return };
        sift.then = None;
        if !sift.is_replacing || sift.pattern.is_none() {
            return;
        }
        let Some((pattern, replacement)) = self.replacement() else { return };
        let rows = usize::from(Frame::of(self).seen.rows);
        let shown = self.sifted_document();
        let text = shown.editor.text();
        let top = shown.view.top.0.saturating_sub(LINES_BEYOND);
        let from = text.line_start(Line(top.min(text.last_line().0)));
        let last = Line((top + rows + 2 * LINES_BEYOND).min(text.last_line().0));
        let to = text.line_span(last).end;
        let mut hits = self.hits_in(Span::new(from, to));
        // Of a file that has changed since it was searched what is no hit any more is left out.
        hits.retain(|hit| text.snap_back(hit.start) == hit.start && text.snap_back(hit.end) == hit.end);
        if hits.len() > MOST_SHOWN {
            // A very long line: what is shown of it is around the chosen hit.
            let chosen = self.chosen_hit().unwrap_or(Span::at(from));
            let first = hits.partition_point(|hit| *hit < chosen).saturating_sub(MOST_SHOWN / 2);
            hits = hits.into_iter().skip(first).take(MOST_SHOWN).collect();
        }
        let trial = trial(shown, &pattern, &replacement, &hits);
        if let Some(sift) = self.sift() {
            sift.then = Some(Box::new(trial));
        }
    }

    /// Replaces the chosen hit and goes on to the next one.
    pub(super) fn replace_one(&mut self) {
        self.remember_pattern();
        let Some(hit) = self.sift().and_then(|sift| sift.hit()) else {
            self.say("one by one is for the hits of a file: Alt+Enter replaces all of them");
            return;
        };
        let Some(change) = self.change_for(&[hit]) else { return };
        let behind = Mapper::new(&change).map(hit.end, Bias::After);
        let now_ms = self.now_ms;
        self.document_mut().editor.carry("replace", change.clone(), now_ms);
        self.follow_selections(&change);
        self.search_on_from(behind);
    }

    /// What is searched in moves with what was replaced.
    fn follow_selections(&mut self, change: &Change) {
        let Some(sift) = self.sift() else { return };
        let mut mapper = Mapper::new(change);
        for span in &mut sift.selections {
            let start = mapper.map(span.start, Bias::Before);
            *span = Span::new(start, mapper.map(span.end, Bias::After).max(start));
        }
    }

    fn search_on_from(&mut self, at: Byte) {
        self.search();
        self.settle_search();
        let Some(sift) = self.sift() else { return };
        let next = sift.hits().partition_point(|hit| hit.start < at);
        sift.chosen = if next < sift.hits().len() { next } else { 0 };
        sift.report = Some(format!("replaced one, {} left", sift.hits().len()));
        self.show_hit();
    }

    pub(super) fn replace_all(&mut self) {
        self.remember_pattern();
        if self.sift().is_some_and(|sift| sift.project.is_some()) {
            if !self.waker.is_connected() {
                self.settle_search();
            }
            self.replace_in_project();
            return;
        }
        self.settle_search();
        let hits = self.hits_shown();
        let Some(change) = self.change_for(&hits) else { return };
        let now_ms = self.now_ms;
        let replaced = change.edits().len();
        self.document_mut().editor.carry("replace", change.clone(), now_ms);
        self.panel = None;
        let same = hits.len().saturating_sub(replaced);
        let rest = if same > 0 { format!(", {same} were so already") } else { String::new() };
        self.say(format!("replaced {}{rest}; Ctrl+Z takes it back", counted(replaced, "hit")));
    }

    /// Takes back what was replaced: the last step of the file, or the files of the project that still are as they became.
    pub(super) fn take_back(&mut self) {
        if self.sift().is_some_and(|sift| sift.project.is_none()) {
            if let Some(verb) = by_name("undo") {
                self.run(verb, "");
            }
            self.search();
            return;
        }
        self.take_back_in_project();
    }
}

/// `document` with what would come behind what would go, for `hits`.
fn trial(document: &Document, pattern: &Pattern, replacement: &Replacement, hits: &[Span]) -> Trial {
    let editor = &document.editor;
    let text = editor.text();
    let change = replacement.change(text, pattern, hits, editor.layout().line_end);
    let mut builder = ChangeBuilder::new(text);
    let (mut gone, mut come, mut grown) = (Vec::new(), Vec::new(), 0);
    for edit in change.edits() {
        let with = change.inserted(edit);
        builder.insert(edit.end(), with);
        let end = edit.end() + grown;
        gone.push(Span::new(edit.start() + grown, end));
        come.push(Span::new(end, end + with.len()));
        grown += with.len();
    }
    Trial { document: document.trying(&builder.finish()), gone, come }
}
