//! Much work in two halves, on two threads: below a certain amount it is done before a second thread has begun.

use std::ops::Range;

/// From so many pieces of work on there are two threads.
pub const FOR_TWO: usize = 4_096;

/// What `work` makes of all of `0..len`: of the whole, or of its two halves, in order.
///
/// # Panics
/// If `work` does.
pub fn in_halves<T: Send>(len: usize, work: impl Fn(Range<usize>) -> T + Sync) -> Vec<T> {
    if len < FOR_TWO {
        return vec![work(0..len)];
    }
    let middle = len / 2;
    std::thread::scope(|scope| {
        let second = scope.spawn(|| work(middle..len));
        let first = work(0..middle);
        vec![first, second.join().unwrap_or_else(|panic| std::panic::resume_unwind(panic))]
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_halves_are_the_whole_in_its_order() {
        for len in [0, 1, FOR_TWO - 1, FOR_TWO, FOR_TWO + 1] {
            let all: Vec<usize> = in_halves(len, Iterator::collect::<Vec<usize>>).concat();
            assert_eq!(all, (0..len).collect::<Vec<_>>());
        }
        assert_eq!(in_halves(FOR_TWO, |range| range.len()).len(), 2);
    }
}
