//! What becomes of an offer: it is looked at, narrowed and widened, carried out, or made into cursors.

use super::looking::MOST_OFFERED;
use super::over_project::change_of;
use crate::editing::Effects;
use crate::state::echo::EchoOffer;
use crate::transaction::{Part, Transaction};
use crate::workspace::Workspace;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::echo::Change;
use snarvel_core::units::Span;
use snarvel_core::verbs::scene::counted;

impl Workspace {
    /// What is offered for the active text as it is, however many places there are.
    #[must_use]
    pub fn echo(&self) -> Option<&EchoOffer> {
        let buffer = self.active();
        let is_of_now = |offer: &&EchoOffer| offer.buffer == buffer.id && offer.revision == buffer.revision();
        self.past.echo.offer.as_ref().filter(is_of_now)
    }

    /// What is offered by itself: not more than a thousand places.
    #[must_use]
    pub fn echo_offered(&self) -> Option<&EchoOffer> {
        self.echo().filter(|offer| offer.changes.len() <= MOST_OFFERED)
    }

    /// The next place after the caret that is offered, the first one where there is none after it.
    #[must_use]
    pub fn next_echo(&self) -> Option<&Change> {
        let head = self.view().cursors().primary().head;
        let offer = self.echo_offered()?;
        offer.chosen().find(|change| change.span.start >= head).or_else(|| offer.chosen().next())
    }

    /// Widens or narrows the rule of the offer: by `by` levels.
    pub fn widen_echo(&mut self, by: isize) {
        let Some(offer) = &mut self.past.echo.offer else { return };
        let at = offer.at.saturating_add_signed(by).min(offer.echo.levels.len().saturating_sub(1));
        if at != offer.at {
            offer.at = at;
            offer.changes = offer.echo.at(offer.echo.levels[at]);
            offer.left_out.clear();
        }
    }

    /// Leaves a place out, or takes it in again.
    pub fn leave_out_of_echo(&mut self, index: usize) {
        let Some(offer) = &mut self.past.echo.offer else { return };
        if !offer.left_out.remove(&index) {
            offer.left_out.insert(index);
        }
    }

    /// Does at all places what was done by hand, as one step.
    pub fn do_echo(&mut self) -> Effects {
        let Some(offer) = self.echo() else { return Effects::saying(NOTHING) };
        let (id, revision) = (offer.buffer, offer.revision);
        let places: Vec<&Change> = offer.chosen().collect();
        if places.is_empty() {
            return Effects::saying("every place is left out");
        }
        let count = places.len();
        let part = Part { buffer: id, revision, change: change_of(self.active().text(), &places) };
        match self.commit(Transaction { verb: "echo", parts: vec![part] }) {
            Ok(_) => {
                self.rest_echo();
                Effects::saying(format!("echo: done at {}", counted(count, "more place")))
            }
            Err(refusal) => Effects { is_refused: true, ..Effects::saying(refusal.to_string()) },
        }
    }

    /// An offer was carried out: nothing is offered until the next edit by hand.
    pub(super) fn rest_echo(&mut self) {
        let echo = &mut self.past.echo;
        echo.offer = None;
        echo.keys[1] = echo.keys[0];
    }

    /// Puts a cursor at each place, with what would go selected.
    pub fn cursors_at_echo(&mut self) -> Effects {
        let Some(offer) = self.echo() else { return Effects::saying(NOTHING) };
        let spans: Vec<Span> = offer.chosen().map(|change| change.span).collect();
        let text = self.active().text();
        let selections: Vec<Selection> =
            spans.iter().map(|span| Selection::new(text.snap_back(span.start), text.snap_back(span.end))).collect();
        if selections.is_empty() {
            return Effects::saying("every place is left out");
        }
        let said = counted(selections.len(), "cursor");
        let (buffer, view) = self.active_pair_mut();
        view.set_cursors(buffer, CursorSet::of(selections, 0));
        self.drop_echo();
        Effects::saying(said)
    }
}

/// What is said where there is no offer.
pub const NOTHING: &str = "echo: no two edits that are alike, or no further place";
