//! Two views looked at together: they scroll together, and what differs between them is marked, gone through and taken over.
//!
//! Comparing goes on in the background, and again after each change of one of the texts.

use crate::differences;
use crate::editing::Effects;
use crate::event::Payload;
use crate::ids::ViewId;
use crate::tasks::About;
use crate::transaction::{Part, Transaction};
use crate::views_compared::ViewsCompared;
use crate::workspace::Workspace;
use snarvel_core::changes::ChangeBuilder;
use snarvel_core::cursors::CursorSet;
use snarvel_core::units::{Direction, Line, Span};
use snarvel_core::verbs::scene::counted;
use snarvel_task::waits;

/// What is said where there is one view only.
const ONE_VIEW: &str = "there is one view only: Shift+F9 shows one more beside it";

/// What is said where nothing is compared.
const NOT_COMPARED: &str = "no views are compared: compare-views does it";

fn refused(why: &str) -> Effects {
    Effects { is_refused: true, ..Effects::saying(why) }
}

impl Workspace {
    /// The shown views scroll together from now on, or do not any more.
    pub(crate) fn toggle_together(&mut self) -> Effects {
        if self.views.shown().len() < 2 {
            return refused(ONE_VIEW);
        }
        let here = (self.views.focus(), self.view().scroll.top);
        let together = &mut self.past.side_by_side.together;
        *together = if together.is_some() { None } else { Some(here) };
        Effects::saying(if together.is_some() { "the views scroll together" } else { "each view scrolls by itself" })
    }

    /// Lets the other views scroll as the one with the keys has: to be called once that is where it is to be.
    pub fn scroll_together(&mut self) {
        let Some((view, before)) = self.past.side_by_side.together else { return };
        let (focus, now) = (self.views.focus(), self.view().scroll.top);
        self.past.side_by_side.together = Some((focus, now));
        if view != focus || before == now {
            return;
        }
        for other in self.views.shown().into_iter().filter(|other| *other != focus) {
            let (buffer, other) = self.pair_mut(other);
            let (direction, lines) = match now > before {
                true => (Direction::Forward, now.0 - before.0),
                false => (Direction::Back, before.0 - now.0),
            };
            let top = other.scroll.top.min(buffer.text().last_line());
            other.scroll.top = other.folds().step(buffer.text(), top, direction, lines);
        }
    }

    /// The view with the keys and the next one are compared from now on, or are not any more.
    pub(crate) fn toggle_compared(&mut self) -> Effects {
        if self.past.side_by_side.wanted.take().is_some() {
            (self.past.side_by_side.found, self.past.side_by_side.comparing) = (None, None);
            return Effects::saying("the views are not compared any more");
        }
        let (here, next) = (self.views.focus(), self.views.next());
        if here == next {
            return refused(ONE_VIEW);
        }
        self.past.side_by_side.wanted = Some([here, next]);
        self.past.side_by_side.is_told = true;
        self.compare_views();
        Effects::default()
    }

    /// Compares the views again where one of their texts has changed, and ends it where one is not shown any more.
    pub(crate) fn keep_compared(&mut self) {
        let Some(views) = self.past.side_by_side.wanted else { return };
        if views.iter().any(|view| !self.views.is_shown(*view)) {
            let side_by_side = &mut self.past.side_by_side;
            (side_by_side.wanted, side_by_side.found, side_by_side.comparing) = (None, None, None);
            return;
        }
        let revisions = views.map(|view| self.pair(view).0.revision());
        let is_known = self.past.side_by_side.found.as_ref().is_some_and(|found| found.revisions == revisions);
        if !is_known && self.past.side_by_side.comparing.is_none() {
            self.compare_views();
        }
    }

    /// The view with the keys and the next one are compared from now on; nothing is said of it.
    pub fn compare_with_next(&mut self) {
        if self.past.side_by_side.wanted.is_none() {
            self.toggle_compared();
            self.past.side_by_side.is_told = false;
        }
    }

    fn compare_views(&mut self) {
        let Some(views) = self.past.side_by_side.wanted else { return };
        let [(one, first), (other, second)] = views.map(|view| {
            let (buffer, _) = self.pair(view);
            (buffer.revision(), buffer.text().clone())
        });
        let about = About::new("comparing two views").awaited(waits::OPEN);
        let task = self.tasks.run(about, Payload::ViewsCompared, move || {
            let change = differences::change(&first, &second);
            Box::new(ViewsCompared::of(views, [one, other], (&change, [&first, &second])))
        });
        self.past.side_by_side.comparing = Some(task);
    }

    /// Takes in what differs.
    pub(crate) fn take_views_compared(&mut self, compared: ViewsCompared) {
        self.past.side_by_side.comparing = None;
        if self.past.side_by_side.wanted != Some(compared.views) {
            return;
        }
        let is_told = std::mem::take(&mut self.past.side_by_side.is_told);
        let count = compared.places.len();
        self.past.side_by_side.found = Some(compared);
        if is_told {
            self.say(match count {
                0 => "the two texts are the same".to_owned(),
                count => format!(
                    "{}: next-difference goes through them, take-difference takes one over",
                    counted(count, "difference")
                ),
            });
        }
        self.keep_compared();
    }

    /// The places that touch `span` where the text of `view` differs from the one that it is compared with, in order. Places of a text
    /// that has changed since are left out until they are looked for again. Cost: what is found, and a binary search.
    #[must_use]
    pub fn differences_in(&self, view: ViewId, span: Span) -> Vec<Span> {
        let Some((found, side)) = self.compared_side(view) else { return Vec::new() };
        touching(&found.places, |place| place[side], span).map(|place| place[side]).collect()
    }

    /// Within these places the parts that differ, in order, and whether each is a part of one line.
    #[must_use]
    pub fn differing_parts_in(&self, view: ViewId, span: Span) -> Vec<(Span, bool)> {
        let Some((found, side)) = self.compared_side(view) else { return Vec::new() };
        let parts = touching(&found.parts, |part| part.spans[side], span);
        parts.map(|part| (part.spans[side], part.is_of_line)).collect()
    }

    fn compared_side(&self, view: ViewId) -> Option<(&ViewsCompared, usize)> {
        let found = self.past.side_by_side.found.as_ref()?;
        let side = found.views.iter().position(|each| *each == view)?;
        let is_current = self.views.get(view).is_some_and(|_| self.pair(view).0.revision() == found.revisions[side]);
        is_current.then_some((found, side))
    }

    /// Goes to the next place that differs, or to the one before, round the text; the other view shows what answers it.
    pub(crate) fn go_to_difference(&mut self, direction: Direction) -> Effects {
        let focus = self.views.focus();
        let Some((found, side)) = self.compared_side(focus) else { return refused(NOT_COMPARED) };
        let (count, other) = (found.places.len(), found.views[1 - side]);
        if count == 0 {
            return Effects::saying("the two texts are the same");
        }
        let head = self.view().cursors().primary().head;
        let index = match direction {
            Direction::Forward => found.places.iter().position(|place| place[side].start > head).unwrap_or(0),
            Direction::Back => found.places.iter().rposition(|place| place[side].start < head).unwrap_or(count - 1),
        };
        let place = found.places[index];
        self.go_to_span(place[side]);
        self.show_answer(other, place[1 - side]);
        Effects::saying(format!("difference {} of {count}", index + 1))
    }

    /// Shows `span` in a view that has no keys: as far down as it is in the one that has them.
    fn show_answer(&mut self, other: ViewId, span: Span) {
        let (buffer, view) = self.active_pair_mut();
        let line = buffer.text().line_of(view.cursors().primary().head);
        let below = line.0.saturating_sub(view.scroll.top.0).min(view.layout.rows / 2);
        let (buffer, view) = self.pair_mut(other);
        view.set_cursors(buffer, CursorSet::caret(span.start.min(buffer.text().end())));
        let line = buffer.text().line_of(span.start.min(buffer.text().end()));
        view.scroll.top = view.folds().step(buffer.text(), line, Direction::Back, below);
    }

    /// The place that differs at the caret becomes what it is in the other view, as one step.
    pub(crate) fn take_difference(&mut self) -> Effects {
        let focus = self.views.focus();
        let Some((found, side)) = self.compared_side(focus) else { return refused(NOT_COMPARED) };
        let (buffer, view) = self.pair(focus);
        let text = buffer.text();
        let line = |at| text.line_of(text.snap_back(std::cmp::min(at, text.end())));
        let here: Line = line(view.cursors().primary().head);
        let is_here = |place: &&[Span; 2]| line(place[side].start) <= here && here <= line(place[side].end);
        let Some(place) = found.places.iter().find(is_here).copied() else {
            return refused("nothing differs on this line: next-difference goes to what does");
        };
        let Some((other, _)) = self.compared_side(found.views[1 - side]).map(|_| self.pair(found.views[1 - side]))
        else {
            return refused("the other text is still being compared");
        };
        let with = other.text().slice(place[1 - side]).into_owned();
        let mut change = ChangeBuilder::new(text);
        change.replace(place[side], &buffer.settings().line_end.convert(&with.replace("\r\n", "\n")));
        let part = Part { buffer: buffer.id, revision: buffer.revision(), change: change.finish() };
        match self.commit(Transaction { verb: "take-difference", parts: vec![part] }) {
            Ok(_) => Effects::saying(format!("taken over: {} left", counted(self.differences_left(), "difference"))),
            Err(refusal) => refused(&refusal.to_string()),
        }
    }

    fn differences_left(&self) -> usize {
        self.past.side_by_side.found.as_ref().map_or(0, |found| found.places.len().saturating_sub(1))
    }
}

/// Those of `all`, which are in order by `place`, that touch `span`.
fn touching<T>(all: &[T], place: impl Fn(&T) -> Span, span: Span) -> impl Iterator<Item = &T> {
    let first = all.partition_point(|each| place(each).end < span.start);
    all[first..].iter().take_while(move |each| place(each).start <= span.end)
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_core::units::Byte;

    #[test]
    fn what_touches_a_span_is_found_with_what_ends_and_begins_at_its_edges() {
        let span = |start, end| Span::new(Byte(start), Byte(end));
        let all = [span(0, 4), span(4, 4), span(9, 12), span(20, 20), span(30, 40)];
        let found = |start, end| touching(&all, |each| *each, span(start, end)).copied().collect::<Vec<_>>();
        assert_eq!(found(4, 9), [span(0, 4), span(4, 4), span(9, 12)]);
        assert_eq!(found(13, 19), []);
        assert_eq!(found(20, 35), [span(20, 20), span(30, 40)]);
        assert_eq!(found(0, 99), all);
    }
}
