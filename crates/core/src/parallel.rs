//! Much work in two halves, on two threads: below a certain amount it is done before a second thread has begun.

use crate::units::Span;
use std::ops::Range;

/// From so many pieces of work on there are two threads.
pub const PARALLEL_THRESHOLD: usize = 4_096;

/// What `work` makes of all of `0..len`: of the whole, or of its two halves, in order.
///
/// # Panics
/// If `work` does.
pub fn split_in_two<T: Send>(len: usize, work: impl Fn(Range<usize>) -> T + Sync) -> Vec<T> {
    if len < PARALLEL_THRESHOLD {
        return vec![work(0..len)];
    }
    let middle = len / 2;
    std::thread::scope(|scope| {
        let second = scope.spawn(|| work(middle..len));
        let first = work(0..middle);
        vec![first, second.join().unwrap_or_else(|panic| std::panic::resume_unwind(panic))]
    })
}

/// Bytes that are a piece of work where text is read fast: so there are two threads from a megabyte on.
const BYTES: usize = 256;

/// What `work` makes of all bytes of `span`, or of its two halves, in order. They may part inside a character.
///
/// # Panics
/// If `work` does.
pub fn span_in_halves<T: Send>(span: Span, work: impl Fn(Span) -> T + Sync) -> Vec<T> {
    let pieces = span.len() / BYTES;
    split_in_two(pieces, |part| {
        let end = if part.end == pieces { span.end } else { span.start + part.end * BYTES };
        work(Span::new(span.start + part.start * BYTES, end))
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::Byte;

    #[test]
    fn the_halves_are_the_whole_in_its_order() {
        for len in [0, 1, PARALLEL_THRESHOLD - 1, PARALLEL_THRESHOLD, PARALLEL_THRESHOLD + 1] {
            let all: Vec<usize> = split_in_two(len, Iterator::collect::<Vec<usize>>).concat();
            assert_eq!(all, (0..len).collect::<Vec<_>>());
        }
        assert_eq!(split_in_two(PARALLEL_THRESHOLD, |range| range.len()).len(), 2);
    }

    #[test]
    fn the_halves_of_a_span_meet() {
        let span = |start, end| Span::new(Byte(start), Byte(end));
        assert_eq!(span_in_halves(span(3, 3), |part| part), [span(3, 3)]);
        assert_eq!(span_in_halves(span(3, 300), |part| part), [span(3, 300)]);
        let end = 3 + PARALLEL_THRESHOLD * BYTES + 7;
        let middle = 3 + PARALLEL_THRESHOLD / 2 * BYTES;
        assert_eq!(span_in_halves(span(3, end), |part| part), [span(3, middle), span(middle, end)]);
    }
}
