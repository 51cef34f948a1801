//! Looking for the other places, off the way of a key.

use super::news::Echoed;
use crate::event::Payload;
use crate::state::echo::EchoOffer;
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_core::echo::edit::Edit;
use snarvel_core::echo::made::Made;
use snarvel_core::echo::{Echo, Scope, look, rules_of};
use snarvel_core::languages::Language;
use snarvel_core::text::Text;
use snarvel_core::units::Line;
use std::collections::BTreeSet;
use std::sync::Arc;

/// Where there are more places, nothing is said by itself.
pub const MOST_OFFERED: usize = 1_000;

/// What a look is given.
struct Job {
    text: Text,
    language: Arc<Language>,
    /// Edits that have come to their end, the newest last, each with the line on which it is now.
    done: Vec<(Made, Line)>,
    /// The edit under way.
    run: Option<Made>,
    /// The lines of edits in this text.
    edited: Vec<Line>,
}

impl Workspace {
    /// Offers places from now on.
    pub fn start_echo(&mut self) {
        self.past.echo.is_off = false;
    }

    /// Offers no places from now on.
    pub fn stop_echo(&mut self) {
        self.drop_echo();
        self.past.echo.is_off = true;
    }

    /// Looks for places where the edits so far are others than at the last look: to be called once the frame is drawn.
    pub fn keep_echo(&mut self) {
        if self.past.echo.is_off {
            return;
        }
        self.end_left_edit();
        let (id, revision) = (self.active().id, self.active().revision());
        let state = (id, revision, self.past.echo.count);
        if self.past.echo.looked == Some(state) {
            return;
        }
        self.past.echo.looked = Some(state);
        // What was looked for before is not wanted any more.
        self.past.echo.looking = None;
        let [keys, carried_out] = self.past.echo.keys;
        let Some(job) = self.echo_job().filter(|_| keys > carried_out) else {
            self.past.echo.offer = None;
            return;
        };
        let about = About { revision: Some(revision), ..About::new("looking for more like the last two").of(id) };
        let task = self.tasks.start(about, Payload::Echoed, move |sink| {
            snarvel_task::spawn(sink, move |context| {
                let cancel = context.cancel().clone();
                let found = found(&job, &|| cancel.is_cancelled()).map(|echo| {
                    let first = echo.at(echo.levels[0]);
                    (Arc::new(echo), first)
                });
                context.send(Box::new(Echoed { buffer: id, revision, found }));
            })
        });
        self.past.echo.looking = Some(task);
    }

    /// Whether places are being looked for.
    #[must_use]
    pub fn awaits_echo(&self) -> bool {
        self.past.echo.looking.is_some()
    }

    fn echo_job(&self) -> Option<Job> {
        let buffer = self.active();
        if buffer.is_partial() {
            return None;
        }
        let is_alike = |id| self.buffer(id).is_some_and(|other| other.language().name == buffer.language().name);
        let echo = &self.past.echo;
        let (mut done, mut edited) = (Vec::new(), Vec::new());
        for each in echo.done.iter().filter(|each| is_alike(each.buffer)) {
            let Some(line) = self.line_of_edit(each) else { continue };
            if each.buffer == buffer.id {
                edited.extend((line.0..line.0 + each.made.line_count().max(1)).map(Line));
            }
            done.push((each.made.clone(), line));
        }
        let run = echo.run.as_ref().filter(|run| run.buffer == buffer.id).map(|run| run.made.clone());
        if let Some(run) = &run {
            let first = run.first_line();
            edited.extend((first.0..first.0 + run.line_count().max(1)).map(Line));
        }
        let count = done.len() + usize::from(run.is_some());
        (count > 1).then(|| Job { text: buffer.text().clone(), language: buffer.language().clone(), done, run, edited })
    }

    /// Takes in what a look has found.
    pub(crate) fn take_echoed(&mut self, echoed: Echoed) {
        self.past.echo.looking = None;
        let Echoed { buffer, revision, found } = echoed;
        let offer = found.map(|(echo, changes)| EchoOffer {
            buffer,
            revision,
            echo,
            at: 0,
            changes,
            left_out: BTreeSet::new(),
        });
        self.past.echo.offer = offer;
    }
}

/// What is found for the newest of the edits that are alike: with the one under way, where that is one of them already.
fn found(job: &Job, is_unwanted: &dyn Fn() -> bool) -> Option<Echo> {
    let edit = |(made, line): &(Made, Line)| made.edit(&job.language, *line);
    let mut edits: Vec<Edit> = job.done.iter().filter_map(edit).collect();
    let under_way = job.run.as_ref().and_then(|run| run.edit(&job.language, run.first_line()));
    let scope = Scope { text: &job.text, language: &job.language, edited: &job.edited };
    if let Some(edit) = under_way {
        edits.push(edit);
        let alike = newest_alike(&edits);
        if alike.len() > 1 {
            return look(alike, scope, is_unwanted);
        }
        edits.pop();
    }
    // One that is only begun lets nothing go.
    let alike = newest_alike(&edits);
    (alike.len() > 1).then(|| look(alike, scope, is_unwanted)).flatten()
}

/// As many of the newest edits as one rule makes.
fn newest_alike(edits: &[Edit]) -> &[Edit] {
    let firsts = (0..edits.len().saturating_sub(1)).filter(|first| !rules_of(&edits[*first..]).is_empty());
    &edits[firsts.min().unwrap_or(edits.len().saturating_sub(1))..]
}
