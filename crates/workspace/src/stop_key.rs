//! Esc while something runs that takes long. The thread that reads keys notes it at once; what runs looks for it.

use snarvel_task::waits;
use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::Instant;

/// Counts Esc: as it is read, and as it is taken in.
#[derive(Clone, Debug, Default)]
pub struct StopKey(Arc<[AtomicU64; 2]>);

impl StopKey {
    /// It was read.
    pub fn read(&self) {
        self.0[0].fetch_add(1, Ordering::Relaxed);
    }

    /// It was taken in like any other key.
    pub fn taken(&self) {
        self.0[1].fetch_add(1, Ordering::Relaxed);
    }

    /// Whether what begins now is to stop: it has taken longer than a second, and Esc waits to be taken in.
    pub fn watched(&self) -> impl Fn() -> bool + use<> {
        let (began, counts) = (Instant::now(), self.0.clone());
        move || {
            let [read, taken] = [0, 1].map(|count| counts[count].load(Ordering::Relaxed));
            read > taken && began.elapsed() >= waits::LONG_TASK
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_a_key_that_is_not_taken_in_stops_and_only_what_takes_long() {
        let key = StopKey::default();
        key.read();
        key.taken();
        let is_stopped = key.watched();
        assert!(!is_stopped());
        key.read();
        assert!(!is_stopped(), "nothing takes long yet");
    }
}
