//! Waking the screen: whoever works behind it says so when there is something new to see.

use snarvel_files::errand::Errand;
use std::fmt;
use std::sync::{Arc, OnceLock};
use std::time::Duration;

/// Wakes the screen, once there is one.
#[derive(Clone, Default)]
pub struct Waker(Arc<OnceLock<Box<dyn Fn() + Send + Sync>>>);

impl Waker {
    /// From now on `wake` is called each time, by all that were cloned from this one, too.
    pub fn connect(&self, wake: impl Fn() + Send + Sync + 'static) {
        // There is one screen: the first is the only one.
        let _ = self.0.set(Box::new(wake));
    }

    /// Whether there is a screen that can be woken.
    pub fn is_connected(&self) -> bool {
        self.0.get().is_some()
    }

    /// How long somebody waits for what is done behind the screen, who usually waits for `usual`: without a screen nobody
    /// would see the rest come.
    pub fn patience(&self, usual: Duration) -> Duration {
        if self.is_connected() { usual } else { Duration::MAX }
    }

    /// Does `work` behind the screen, which is woken at its end.
    pub fn errand<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Errand<T> {
        let waker = self.clone();
        Errand::once(work, move || waker.wake())
    }

    /// There is something new to see.
    pub fn wake(&self) {
        self.0.get().into_iter().for_each(|wake| wake());
    }
}

impl fmt::Debug for Waker {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        out.write_str("Waker")
    }
}
