//! Work behind one's back: a disk may take its time, and no key waits for it.

use crate::load::Go;
use std::sync::mpsc::{Receiver, RecvTimeoutError, TryRecvError, channel};
use std::thread;
use std::time::{Duration, Instant};

/// Work on a thread of its own, which tells what it has come to. Dropping this does not end it: only what it tells next
/// says that nobody listens.
#[derive(Debug)]
pub struct Errand<T> {
    receiver: Receiver<T>,
}

impl<T: Send + 'static> Errand<T> {
    /// Begins `work`, which tells what there is as often as it likes. `wake` is called each time, and at the end.
    #[must_use]
    pub fn start(
        work: impl FnOnce(&mut dyn FnMut(T) -> Go) + Send + 'static,
        wake: impl Fn() + Send + 'static,
    ) -> Errand<T> {
        let (sender, receiver) = channel();
        thread::spawn(move || {
            work(&mut |told| {
                let is_heard = sender.send(told).is_ok();
                wake();
                if is_heard { Go::On } else { Go::Stop }
            });
            drop(sender);
            wake();
        });
        Errand { receiver }
    }

    /// Begins `work`, which tells what it comes to.
    #[must_use]
    pub fn once(work: impl FnOnce() -> T + Send + 'static, wake: impl Fn() + Send + 'static) -> Errand<T> {
        let telling = move |tell: &mut dyn FnMut(T) -> Go| {
            tell(work());
        };
        Errand::start(telling, wake)
    }

    /// What the work in `slot`, which comes to one thing, has come to; then the slot is empty. Waits for that for `longest`, no
    /// longer. Nothing where it broke off.
    #[must_use]
    pub fn taken(slot: &mut Option<Errand<T>>, longest: Duration) -> Option<T> {
        let (mut told, is_over) = slot.as_ref()?.gather(longest);
        // It may have told that and not have ended yet.
        if is_over || !told.is_empty() {
            *slot = None;
        }
        told.pop()
    }

    /// What it has told since, and whether that was all. Waits for all of it for `longest`, no longer.
    #[must_use]
    pub fn gather(&self, longest: Duration) -> (Vec<T>, bool) {
        let until = Instant::now().checked_add(longest);
        let mut told = Vec::new();
        loop {
            let left = until.map(|until| until.saturating_duration_since(Instant::now()));
            let next = match left {
                None => self.receiver.recv().map_err(|_| TryRecvError::Disconnected),
                Some(Duration::ZERO) => self.receiver.try_recv(),
                Some(left) => self.receiver.recv_timeout(left).map_err(|error| match error {
                    RecvTimeoutError::Timeout => TryRecvError::Empty,
                    RecvTimeoutError::Disconnected => TryRecvError::Disconnected,
                }),
            };
            match next {
                Ok(next) => told.push(next),
                Err(error) => return (told, error == TryRecvError::Disconnected),
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_told_comes_in_order_and_its_end_is_known() {
        let (go, may_go) = channel();
        let (wake, woken) = channel();
        let work = move |tell: &mut dyn FnMut(usize) -> Go| {
            for number in 0..3 {
                may_go.recv().unwrap();
                assert_eq!(tell(number), Go::On);
            }
        };
        let errand = Errand::start(work, move || wake.send(()).unwrap_or(()));
        assert_eq!(errand.gather(Duration::ZERO), (Vec::new(), false), "nothing may go yet");
        go.send(()).unwrap();
        woken.recv_timeout(Duration::from_secs(20)).unwrap();
        assert_eq!(errand.gather(Duration::ZERO), (vec![0], false));
        go.send(()).unwrap();
        go.send(()).unwrap();
        assert_eq!(errand.gather(Duration::MAX), (vec![1, 2], true));
    }

    #[test]
    fn what_work_has_come_to_is_taken_once() {
        let mut slot = Some(Errand::once(|| 7, || ()));
        assert_eq!(Errand::taken(&mut slot, Duration::MAX), Some(7));
        assert!(slot.is_none() && Errand::taken(&mut slot, Duration::MAX).is_none());
        // One that has told it and still goes on is not asked again.
        let (go, may_go) = channel::<()>();
        let (wake, woken) = channel();
        let work = move |tell: &mut dyn FnMut(usize) -> Go| {
            tell(7);
            let _ = may_go.recv();
        };
        let mut slot = Some(Errand::start(work, move || wake.send(()).unwrap_or(())));
        woken.recv_timeout(Duration::from_secs(20)).unwrap();
        assert_eq!(Errand::taken(&mut slot, Duration::ZERO), Some(7));
        assert!(slot.is_none());
        drop(go);
    }

    #[test]
    fn work_that_nobody_listens_to_is_told_so() {
        let (went, has_gone) = channel();
        let (go, may_go) = channel::<()>();
        let work = move |tell: &mut dyn FnMut(()) -> Go| {
            may_go.recv().unwrap();
            went.send(tell(())).unwrap();
        };
        drop(Errand::start(work, || ()));
        go.send(()).unwrap();
        assert_eq!(has_gone.recv_timeout(Duration::from_secs(20)), Ok(Go::Stop));
    }

    #[test]
    fn work_that_panics_is_over() {
        let errand = Errand::<()>::start(|_| panic!("on purpose: this is a test"), || ());
        assert_eq!(errand.gather(Duration::MAX), (Vec::new(), true));
    }
}
