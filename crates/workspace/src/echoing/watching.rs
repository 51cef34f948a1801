//! One edit is all that happens in one line until the caret leaves it, with one cursor.

use crate::ids::BufferId;
use crate::state::echo::ByHand;
use crate::workspace::Workspace;
use snarvel_core::changes::feed::Since;
use snarvel_core::changes::{Bias, Change};
use snarvel_core::echo::made::Made;
use snarvel_core::spans::{Owner, Policy};
use snarvel_core::text::Text;
use snarvel_core::units::{Line, Span};
use std::sync::Arc;

/// So many edits are kept: three that are alike tell as much as more would.
const MOST_EDITS: usize = 4;

/// A verb that runs more often than this is no edit by hand.
const MOST_TIMES: usize = 100;

/// Texts with more bytes than this are not watched.
const LARGEST: usize = 32 << 20;

/// The place of an edit among the spans of its text.
fn owner(number: u64) -> Owner {
    Owner::of_text("echo").item(number)
}

/// How a text was before a command.
pub(crate) struct Watched {
    buffer: BufferId,
    revision: u64,
    text: Text,
    has_one_cursor: bool,
}

/// Where `span` is after a change.
fn span_after(change: &Change, span: Span) -> Span {
    let start = change.map(span.start, Bias::Before);
    Span::new(start, change.map(span.end, Bias::After).max(start))
}

impl Workspace {
    /// Remembers the active text before a command that may be an edit by hand; none where nothing is watched.
    pub(crate) fn watch(&mut self) -> Option<Watched> {
        if self.past.echo.is_off || self.active().text().len() > LARGEST {
            return None;
        }
        self.end_left_edit();
        let buffer = self.active();
        let has_one_cursor = self.view().cursors().len() == 1 && self.convoy().is_none();
        Some(Watched { buffer: buffer.id, revision: buffer.revision(), text: buffer.text().clone(), has_one_cursor })
    }

    /// Takes in what the command has done.
    pub(crate) fn note_by_hand(&mut self, before: Option<Watched>) {
        let Some(before) = before else { return };
        let Some(buffer) = self.buffer(before.buffer).filter(|buffer| buffer.revision() != before.revision) else {
            return;
        };
        let revision = buffer.revision();
        let mut changes: Vec<Arc<Change>> = match buffer.feed().since(before.revision) {
            Since::Changes(entries) => entries.iter().map(|entry| entry.change.clone()).collect(),
            Since::Lost => Vec::new(),
        };
        let is_one = before.has_one_cursor && self.view().cursors().len() == 1;
        if !is_one || changes.is_empty() || changes.len() > MOST_TIMES {
            self.past.echo.run = None;
            return;
        }
        self.past.echo.count += 1;
        self.past.echo.keys[0] += 1;
        let run = self.past.echo.run.take();
        // A verb with a count is one edit: its changes come one after the other.
        let first = changes.remove(0);
        let mut text = before.text.clone();
        text.apply(&first);
        let goes_on =
            |run: &ByHand| run.buffer == before.buffer && run.revision == before.revision && run.made.goes_on(&first);
        let begun = match run {
            Some(run) if goes_on(&run) => run.made.and(&first, text.clone()),
            other => {
                other.into_iter().for_each(|run| self.keep_edit(run));
                Made::of([before.text, text.clone()], &first)
            }
        };
        let made = changes.iter().try_fold(begun, |made, change| {
            text.apply(change);
            Some(made?.and(change, text.clone()))
        });
        let made = made.flatten();
        let number = self.past.echo.count;
        self.past.echo.run = made.map(|made| ByHand { buffer: before.buffer, revision, made, number });
        self.end_left_edit();
    }

    /// The edit under way has come to its end where the caret has left its lines, or another text is shown.
    pub(crate) fn end_left_edit(&mut self) {
        let Some(run) = &self.past.echo.run else { return };
        let (buffer, view) = (self.active(), self.view());
        let head = Span::at(view.cursors().primary().head.min(buffer.text().end()));
        if run.buffer == buffer.id && run.revision == buffer.revision() && run.made.reaches(head) {
            return;
        }
        let run = self.past.echo.run.take();
        run.into_iter().for_each(|run| self.keep_edit(run));
    }

    /// An edit has come to its end.
    fn keep_edit(&mut self, run: ByHand) {
        let Some(buffer) = self.buffer_mut(run.buffer) else { return };
        // It was changed by others since: where it is now is not known.
        let is_changed = buffer.revision() != run.revision;
        let entries = match buffer.feed().since(run.revision) {
            Since::Changes(entries) => entries.iter().map(|entry| entry.change.clone()).collect(),
            Since::Lost if is_changed => return,
            Since::Lost => Vec::new(),
        };
        let mut spans = vec![run.made.touched_now()];
        for change in &entries {
            for span in &mut spans {
                *span = span_after(change, *span);
            }
        }
        buffer.spans.set(owner(run.number), Policy::SELECTIONS, spans);
        self.past.echo.count += 1;
        self.past.echo.done.push(run);
        if self.past.echo.done.len() > MOST_EDITS {
            let oldest = self.past.echo.done.remove(0);
            self.forget_place(&oldest);
        }
    }

    /// The place of an edit is not followed any more.
    fn forget_place(&mut self, edit: &ByHand) {
        self.buffer_mut(edit.buffer).into_iter().for_each(|buffer| buffer.spans.remove(owner(edit.number)));
    }

    /// The line on which an edit that has come to its end is now; none where its text is gone.
    pub(crate) fn line_of_edit(&self, edit: &ByHand) -> Option<Line> {
        let buffer = self.buffer(edit.buffer)?;
        let span = buffer.spans.get(owner(edit.number)).first()?;
        Some(buffer.text().line_of(span.start))
    }

    /// A step was taken back: the last edit does not count.
    pub(crate) fn forget_last_edit(&mut self) {
        self.past.echo.count += 1;
        if self.past.echo.run.take().is_none() {
            self.past.echo.done.pop().into_iter().for_each(|edit| self.forget_place(&edit));
        }
    }

    /// Nothing is offered any more, and the edits so far do not count.
    pub fn drop_echo(&mut self) {
        let echo = &mut self.past.echo;
        echo.count += 1;
        (echo.run, echo.offer, echo.looking, echo.looked) = (None, None, None, None);
        std::mem::take(&mut echo.done).iter().for_each(|edit| self.forget_place(edit));
    }
}
