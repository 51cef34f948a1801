//! What comes in the place of hits: in a file, or in all of them; and taking it back.

use super::found::{Found, InProject};
use super::search::REPLACED_ONE;
use super::{SiftPanel, Wanted};
use crate::context::Context;
use crate::panels::panel::PanelAction;
use snarvel_core::changes::{Bias, Change, Mapper};
use snarvel_core::search::pattern::Pattern;
use snarvel_core::search::replacement::Replacement;
use snarvel_core::units::Span;
use snarvel_core::verbs::scene::counted;
use snarvel_files::replacing::Rule;
use snarvel_workspace::buffer::STILL_LOADING;
use snarvel_workspace::command::Command;
use std::path::PathBuf;
use std::sync::Arc;

impl SiftPanel {
    /// What is put in the place of what, as far as both are right; says what is wrong otherwise.
    pub(super) fn replacement(&mut self) -> Option<(Arc<Pattern>, Replacement)> {
        let pattern = self.pattern.clone()?;
        match Replacement::new(&self.lines.put.text, &pattern, self.switches.shape) {
            Ok(replacement) => {
                self.said.problem = None;
                Some((pattern, replacement))
            }
            Err(why) => {
                self.said.problem = Some(why);
                None
            }
        }
    }

    fn change_for(&mut self, hits: &[Span], context: &mut Context) -> Option<Change> {
        if context.workspace.active().is_partial() {
            context.say(STILL_LOADING);
            return None;
        }
        let (pattern, replacement) = self.replacement()?;
        let buffer = context.workspace.active();
        Some(replacement.change(buffer.text(), &pattern, hits, buffer.settings().line_end))
    }

    fn commit(change: Change, context: &mut Context) {
        let (id, now_ms) = (context.workspace.active().id, context.workspace.now_ms);
        context.workspace.commit_step(id, "replace", change, now_ms);
    }

    /// Replaces the chosen hit and goes on to the next one.
    pub(super) fn replace_one(&mut self, context: &mut Context) {
        self.remember(context);
        let Some(hit) = self.found.hit(self.choice.index) else {
            context.say("one by one is for the hits of a file: Alt+Enter replaces all of them");
            return;
        };
        let Some(change) = self.change_for(&[hit], context) else { return };
        let after = Mapper::new(&change).map(hit.end, Bias::After);
        SiftPanel::close(context);
        SiftPanel::commit(change, context);
        // What is searched in moves with what was replaced.
        self.follow_changes(context);
        self.search_from(after, context);
        self.said.report = Some(REPLACED_ONE.to_owned());
    }

    /// Replaces all hits; all are found.
    pub(super) fn replace_all(&mut self, context: &mut Context) -> PanelAction {
        if self.found.project().is_some() {
            self.replace_in_project(context);
            return PanelAction::Stay;
        }
        let hits = self.found.hits().to_vec();
        let Some(change) = self.change_for(&hits, context) else { return PanelAction::Stay };
        let replaced = change.edits().len();
        SiftPanel::close(context);
        SiftPanel::commit(change, context);
        let same = hits.len().saturating_sub(replaced);
        let rest = if same > 0 { format!(", {same} were so already") } else { String::new() };
        context.say(format!("replaced {}{rest}; Ctrl+Z takes it back", counted(replaced, "hit")));
        PanelAction::Close
    }

    fn replace_in_project(&mut self, context: &mut Context) {
        let Some((pattern, replacement)) = self.replacement() else { return };
        let Found::InProject(project) = &mut self.found else { return };
        let folder = &context.workspace.project.folder;
        // A row that names a file is followed by those of its hits.
        let mut files: Vec<(PathBuf, Vec<Span>)> = Vec::new();
        for row in &project.rows {
            let file = &project.files[row.file];
            match (row.hit, files.last_mut()) {
                (Some(hit), Some((_, hits))) => hits.push(file.hits[hit].span),
                _ => files.push((folder.join(&file.path), Vec::new())),
            }
        }
        match context.workspace.replace_in_files(&Rule { pattern, replacement }, files) {
            // What would come has come.
            Ok(()) => {
                *project = InProject::default();
                SiftPanel::close(context);
            }
            Err(why) => context.say(why.to_string()),
        }
    }

    /// Takes back what was replaced: the last step of the file, or the newest replacement in the project.
    pub(super) fn take_back(&mut self, context: &mut Context) {
        self.then = None::<Wanted>;
        SiftPanel::close(context);
        if self.found.project().is_none() {
            context.run(&Command::named("undo"));
            self.follow_changes(context);
            return;
        }
        match context.workspace.undo_replacement() {
            Ok(true) => {}
            Ok(false) => context.say("nothing was replaced in the project that could be taken back"),
            Err(why) => context.say(why.to_string()),
        }
    }
}
