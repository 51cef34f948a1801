//! The stops of templates that are being filled in: where they are, and which of them the cursors are at.
//!
//! A template that is put in at a stop of another one comes first; after its last stop the other one goes on. Cost of a step: linear
//! in the places of the stops.

use crate::buffer::Buffer;
use crate::ids::ViewId;
use snarvel_core::changes::Bias;
use snarvel_core::cursors::CursorSet;
use snarvel_core::spans::{Owner, Policy};
use snarvel_core::templates::session::{Edges, Session, Stops};
use snarvel_core::units::{Byte, Direction, Span};
use snarvel_core::verbs::text::putting::selected;

const STOPS: &str = "stops";
const TEMPLATE: &str = "template";

/// The ways in which places take in what is put in at their edges, with the sets of spans that have them.
const EDGES: [(Edges, Bias, Bias); 4] = [
    (Edges::Holds, Bias::Before, Bias::After),
    (Edges::Keeps, Bias::After, Bias::Before),
    (Edges::StaysBefore, Bias::Before, Bias::Before),
    (Edges::GoesAfter, Bias::After, Bias::After),
];

/// Templates may be in each other so deep; the outermost is let go of then.
const DEEPEST: usize = 8;

/// A template that is being filled in.
#[derive(Clone, Debug)]
struct Open {
    session: Session,
    /// Its number among those of the view.
    item: u64,
    /// How many steps of the history there were before it was put in: when that is undone, it is gone.
    depth: usize,
    /// The places by how their edges are, as they are in the store of spans.
    order: [Vec<usize>; EDGES.len()],
}

/// The templates that are being filled in, the innermost last.
#[derive(Clone, Debug, Default)]
pub struct TemplateStops {
    open: Vec<Open>,
    next_item: u64,
}

impl Open {
    fn places_owner(&self, view: ViewId, edges: usize) -> Owner {
        Owner::of_view(STOPS, view.number()).item(self.item * EDGES.len() as u64 + edges as u64)
    }

    fn whole_owner(&self, view: ViewId) -> Owner {
        Owner::of_view(TEMPLATE, view.number()).item(self.item)
    }

    /// Where its places are now.
    fn spans(&self, view: ViewId, buffer: &Buffer) -> Vec<Span> {
        let mut spans = vec![Span::default(); self.order.iter().map(Vec::len).sum()];
        for (edges, order) in self.order.iter().enumerate() {
            for (place, span) in order.iter().zip(buffer.spans.get(self.places_owner(view, edges))) {
                spans[*place] = *span;
            }
        }
        spans
    }

    /// Keeps its places as they are to behave at the stop that it is at.
    fn keep(&mut self, view: ViewId, buffer: &mut Buffer, spans: &[Span]) {
        let edges_of = self.session.edges(spans);
        for (index, (edges, start, end)) in EDGES.iter().enumerate() {
            self.order[index] = (0..spans.len()).filter(|place| edges_of[*place] == *edges).collect();
            let places = self.order[index].iter().map(|place| spans[*place]).collect();
            let policy = Policy { start: *start, end: *end, ..Policy::PLACES };
            buffer.spans.set(self.places_owner(view, index), policy, places);
        }
    }

    fn drop(&self, view: ViewId, buffer: &mut Buffer) {
        (0..EDGES.len()).for_each(|edges| buffer.spans.remove(self.places_owner(view, edges)));
        buffer.spans.remove(self.whole_owner(view));
    }

    /// The cursors at the stop that it is at; the primary one in the copy that `primary` is in.
    fn cursors(&self, (view, buffer): (ViewId, &Buffer), primary: Byte) -> CursorSet {
        let spans = self.spans(view, buffer);
        let wholes = buffer.spans.get(self.whole_owner(view));
        let copy = wholes.iter().position(|whole| whole.start <= primary && primary <= whole.end);
        let here: Vec<(Span, usize)> = self.session.here().map(|(place, copy)| (spans[place], copy)).collect();
        let first = here.iter().position(|(_, of)| Some(*of) == copy).unwrap_or(0);
        let places: Vec<Span> = here.into_iter().map(|(span, _)| span).collect();
        CursorSet::of(selected(&places), first).snapped(buffer.text())
    }
}

impl TemplateStops {
    /// A template was put in: gives the cursors at its first stop.
    pub fn begin(&mut self, (view, buffer): (ViewId, &mut Buffer), stops: Stops, primary: Byte) -> CursorSet {
        let wholes: Vec<Span> = stops.copies.iter().map(|copy| copy.span).collect();
        let (session, spans) = Session::begin(stops, buffer.text());
        let mut open =
            Open { session, item: self.next_item, depth: buffer.history().depth(), order: Default::default() };
        self.next_item += 1;
        let inside = Policy { start: Bias::Before, end: Bias::After, ..Policy::PLACES };
        buffer.spans.set(open.whole_owner(view), inside, wholes);
        open.keep(view, buffer, &spans);
        let cursors = open.cursors((view, buffer), primary);
        if open.session.is_over() {
            open.drop(view, buffer);
        } else {
            self.open.push(open);
        }
        if self.open.len() > DEEPEST {
            self.open.remove(0).drop(view, buffer);
        }
        cursors
    }

    /// Whether a template is being filled in.
    #[must_use]
    pub fn is_open(&self) -> bool {
        !self.open.is_empty()
    }

    /// Goes to the next stop or the one before: gives the cursors there; none where no template is being filled in.
    pub fn step(
        &mut self,
        (view, buffer): (ViewId, &mut Buffer),
        direction: Direction,
        primary: Byte,
    ) -> Option<CursorSet> {
        let open = self.open.last_mut()?;
        let spans = open.spans(view, buffer);
        open.session.step(direction, (&spans, buffer.text()));
        open.keep(view, buffer, &spans);
        let cursors = open.cursors((view, buffer), primary);
        if open.session.is_over() {
            open.drop(view, buffer);
            self.open.pop();
        }
        Some(cursors)
    }

    /// How many stops are still to come.
    #[must_use]
    pub fn left(&self, view: ViewId, buffer: &Buffer) -> usize {
        let left = |open: &Open| open.session.left(&open.spans(view, buffer), buffer.text());
        self.open.iter().map(left).sum()
    }

    /// The words of the stop that the cursors are at, where it is a choice.
    #[must_use]
    pub fn choice(&self) -> Option<&[String]> {
        self.open.last()?.session.choice()
    }

    /// Where the places of the stop are that the cursors are at.
    #[must_use]
    pub fn here(&self, view: ViewId, buffer: &Buffer) -> Vec<Span> {
        let Some(open) = self.open.last() else { return Vec::new() };
        let spans = open.spans(view, buffer);
        open.session.here().map(|(place, _)| spans[place]).collect()
    }

    /// Where the places of all other stops are that touch `within`, in the order of the text. Cost: linear in the places.
    #[must_use]
    pub fn elsewhere(&self, view: ViewId, buffer: &Buffer, within: Span) -> Vec<Span> {
        let mut all = Vec::new();
        for open in &self.open {
            let mut is_here = vec![false; open.order.iter().map(Vec::len).sum()];
            open.session.here().for_each(|(place, _)| is_here[place] = true);
            for (edges, order) in open.order.iter().enumerate() {
                let spans = order.iter().zip(buffer.spans.get(open.places_owner(view, edges)));
                let touching = spans
                    .filter(|(place, span)| !is_here[**place] && span.start <= within.end && within.start <= span.end);
                all.extend(touching.map(|(_, span)| *span));
            }
        }
        all.sort_unstable();
        all
    }

    /// Ends the templates whose lines the primary cursor has left, or whose text is gone.
    pub fn end_where_left(&mut self, (view, buffer): (ViewId, &mut Buffer), primary: Byte) {
        while let Some(open) = self.open.last() {
            let text = buffer.text();
            let line = text.line_of(primary.min(text.end()));
            let holds = |whole: &Span| {
                let lines = [whole.start, whole.end].map(|at| text.line_of(at.min(text.end())));
                lines[0] <= line && line <= lines[1]
            };
            let is_undone = buffer.history().depth() <= open.depth;
            if !is_undone && buffer.spans.get(open.whole_owner(view)).iter().any(holds) {
                return;
            }
            open.drop(view, buffer);
            self.open.pop();
        }
    }
}
