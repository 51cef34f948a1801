//! A text with all its colours, for drawings: what a screen asks for part by part is waited for as a whole.

use crate::buffer::Buffer;
use crate::recipes::applying::Patient;
use snarvel_task::waits;
use std::time::Instant;

/// The text of `buffer` once its colours are known, or after [`waits::UNHURRIED_PARSE`]. A text that is too large to be parsed as a whole
/// has none by structure. To be called away from keys.
#[must_use]
pub fn coloured(mut buffer: Buffer) -> Buffer {
    let mut host = Patient::new(true);
    if let Some(sink) = host.sink() {
        let language = buffer.language().clone();
        buffer.set_language(&language, Some(sink));
        buffer.parsing.take_as_long_as_it_takes();
    }
    let whole = buffer.text().span();
    if whole.len() <= snarvel_syntax::background::WHOLE {
        host.colour(&mut buffer, whole, Instant::now() + waits::UNHURRIED_PARSE);
    }
    buffer
}
