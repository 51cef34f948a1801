//! Waking the screen: whoever works behind it says so when there is something new to see.

use std::fmt;
use std::sync::{Arc, OnceLock};

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
