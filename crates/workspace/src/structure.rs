//! The structure of a text around its cursors, for verbs that ask for it: waited for a moment.

use crate::buffer::Buffer;
use crate::buffer::parsing::Taken;
use crate::event::{Event, Payload};
use crate::tasks::Tasks;
use crate::view::View;
use snarvel_core::units::Span;
use snarvel_syntax::background::{Need, Requested};
use std::time::{Duration, Instant};

/// The structure of `buffer` around the cursors of `view`, waiting for `longest` at most.
pub(crate) fn structure(tasks: &mut Tasks, buffer: &mut Buffer, view: &View, longest: Duration) -> Taken {
    let around = cursors_span(buffer, view);
    let until = Instant::now() + longest;
    while buffer.request(around, Need::Structure) == Requested::Pending {
        let id = buffer.id;
        let is_it = |event: &Event| {
            event.source.buffer == Some(id) && matches!(event.payload, Payload::Parsed(_) | Payload::Panicked(_))
        };
        match tasks.receive_only(until.saturating_duration_since(Instant::now()), is_it) {
            Some(Event { payload: Payload::Parsed(parsed), .. }) => buffer.take_parsed(parsed),
            Some(_) => buffer.parsing.fail(),
            None => break,
        }
    }
    buffer.parsing.structure(around, buffer.revision())
}

/// The lines of all cursors, where they are near enough to each other for one window of a large text, else those of the primary
/// one.
fn cursors_span(buffer: &Buffer, view: &View) -> Span {
    let list = view.cursors().list();
    let (first, last) = (list[0].start(), list[list.len() - 1].end());
    let primary = view.cursors().primary();
    let (first, last) = if last - first <= NEAR { (first, last) } else { (primary.start(), primary.end()) };
    Span::new(buffer.line_around(first).start, buffer.line_around(last).end)
}

/// Cursors within so many bytes are asked about together.
const NEAR: usize = 256 << 10;
