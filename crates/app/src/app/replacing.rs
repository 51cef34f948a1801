//! What sift puts in the place of hits: shown first, then done, in a file or in all; and taken back.

use super::App;
use super::sift::Replaced;
use crate::document::{Document, Home, name_of};
use crate::panels::Panel;
use crate::panels::sift::{Trial, index_of};
use crate::screen::layout::Frame;
use snarvel_core::changes::{Bias, Change, ChangeBuilder, Mapper};
use snarvel_core::editor::Call;
use snarvel_core::search::pattern::Pattern;
use snarvel_core::search::replacement::Replacement;
use snarvel_core::units::{Byte, Line, Span};
use snarvel_core::verbs::by_name;
use snarvel_core::verbs::clip::Clip;
use snarvel_core::verbs::scene::counted;
use snarvel_files::save;
use snarvel_files::search::{FileHit, FileHits};
use std::fmt::Write;
use std::sync::Arc;

/// Lines around the view that a preview covers: enough that none of it is without one.
const LINES_BEYOND: usize = 4;

/// Hits that a preview shows at most.
const MOST_SHOWN: usize = 5_000;

impl App {
    fn replacement(&mut self) -> Option<(Arc<Pattern>, Replacement)> {
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
        self.settle_search();
        if self.sift().is_some_and(|sift| sift.project.is_some()) {
            self.replace_in_project();
            return;
        }
        let hits = self.hits_shown();
        let Some(change) = self.change_for(&hits) else { return };
        let now_ms = self.now_ms;
        let replaced = change.edits().len();
        self.document_mut().editor.carry("replace", change.clone(), now_ms);
        self.panel = None;
        let same = hits.len() - replaced;
        let rest = if same > 0 { format!(", {same} were so already") } else { String::new() };
        self.say(format!("replaced {}{rest}; Ctrl+Z takes it back", counted(replaced, "hit")));
    }

    /// Replaces in all files that have hits: those under edit as a step of theirs, the others on the disk, each whole or
    /// not at all.
    fn replace_in_project(&mut self) {
        let Some((pattern, replacement)) = self.replacement() else { return };
        let Some(Panel::Sift(sift)) = &mut self.panel else { return };
        let Some(project) = &mut sift.project else { return };
        let files = std::mem::take(&mut project.files);
        let kinds = sift.kinds;
        self.sifted.replaced.clear();
        let (mut replaced, mut written, mut open, mut failed) = (0, 0, 0, Vec::new());
        for file in &files {
            let counts = |hit: &&FileHit| kinds[index_of(hit.kind)];
            let hits: Vec<Span> = file.hits.iter().filter(counts).map(|hit| hit.span).collect();
            if hits.is_empty() {
                continue;
            }
            match self.replace_in_file(file, &hits, &pattern, &replacement) {
                Ok((count, is_open)) => {
                    replaced += count;
                    written += usize::from(!is_open && count > 0);
                    open += usize::from(is_open && count > 0);
                }
                Err(why) => failed.push(format!("{}: {why}", file.path.display())),
            }
        }
        self.search();
        self.settle_search();
        let mut said = format!("replaced {} in {}", counted(replaced, "hit"), counted(written + open, "file"));
        if open > 0 {
            let _ = write!(said, ", {open} of them open and not saved yet");
        }
        if let Some(first) = failed.first() {
            let _ = write!(said, "; {} not changed: {first}", counted(failed.len(), "file"));
        }
        if !self.writes {
            said += "; files that are not open are not written: only played";
        }
        if let Some(sift) = self.sift() {
            sift.report = Some(format!("{said}; Ctrl+Z takes it back"));
        }
    }

    /// How many hits were replaced in `file`, and whether it is under edit.
    fn replace_in_file(
        &mut self,
        file: &FileHits,
        hits: &[Span],
        pattern: &Pattern,
        replacement: &Replacement,
    ) -> Result<(usize, bool), String> {
        let path = self.folder.join(&file.path);
        let now_ms = self.now_ms;
        if let Some(document) = self.documents.iter_mut().find(|document| document.home == Home::File(path.clone())) {
            let editor = &mut document.editor;
            let change = replacement.change(editor.text(), pattern, hits, editor.layout().line_end);
            let count = change.edits().len();
            editor.carry("replace", change, now_ms);
            return Ok((count, true));
        }
        if !self.writes {
            return Ok((0, false));
        }
        let mut document = Document::open(&path, self.settings.manner).map_err(|error| error.to_string())?;
        if document.read_only {
            return Err("it is read-only".to_owned());
        }
        let text = document.editor.text();
        let now = pattern.all(text, text.span(), document.editor.language().word_rule());
        if !hits.iter().all(|hit| now.binary_search_by_key(&hit.start, |each| each.start).is_ok()) {
            return Err("it has changed since it was searched".to_owned());
        }
        let before = document.bytes();
        let change = replacement.change(document.editor.text(), pattern, hits, document.editor.layout().line_end);
        let count = change.edits().len();
        document.editor.carry("replace", change, now_ms);
        let after = document.bytes();
        save::save(&path, &after).map_err(|error| error.to_string())?;
        self.sifted.replaced.push(Replaced { path, before, after });
        Ok((count, false))
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
        let (mut back, mut others) = (0, Vec::new());
        for Replaced { path, before, after } in std::mem::take(&mut self.sifted.replaced) {
            match std::fs::read(&path) {
                Ok(now) if now == after && save::save(&path, &before).is_ok() => back += 1,
                _ => others.push(name_of(&path)),
            }
        }
        for document in &mut self.documents {
            let history = document.editor.history();
            let is_replaced = history.steps().any(|(id, step)| id == history.here() && step.verb() == "replace");
            if is_replaced {
                let call = by_name("undo");
                let clip = Clip::default();
                if let Some(verb) = call {
                    let now_ms = self.now_ms;
                    document.editor.run(Call { verb, argument: "", times: 1, clip: &clip, now_ms });
                    back += 1;
                }
            }
        }
        self.search();
        let mut said = format!("{} as before", counted(back, "file"));
        if !others.is_empty() {
            let _ = write!(said, "; changed since, so left alone: {}", others.join(", "));
        }
        if let Some(sift) = self.sift() {
            sift.report = Some(said);
        }
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
