//! Work on several threads whose results are taken in the order of what is worked on.

use std::sync::{Condvar, Mutex, PoisonError};

/// Results that may wait for their turn, for each thread.
const AHEAD: usize = 16;

struct State<R> {
    /// The next item to be begun.
    next: usize,
    /// The next result to be taken.
    taken: usize,
    /// Results that wait, by their place after `taken`.
    waiting: std::collections::HashMap<usize, R>,
    is_stopped: bool,
}

/// Does `work` for each of `items` on `jobs` threads; `take` gets the results in the order of the items, on this thread, and says
/// whether to go on.
pub fn in_order<T: Sync, R: Send>(
    items: &[T],
    jobs: usize,
    work: impl Fn(&T) -> R + Sync,
    mut take: impl FnMut(&T, R) -> bool,
) {
    let state = Mutex::new(State { next: 0, taken: 0, waiting: std::collections::HashMap::new(), is_stopped: false });
    let changed = Condvar::new();
    let most_ahead = AHEAD * jobs;
    let lock = || state.lock().unwrap_or_else(PoisonError::into_inner);
    std::thread::scope(|threads| {
        for _ in 0..jobs.min(items.len()) {
            threads.spawn(|| {
                loop {
                    let mut now = lock();
                    while !now.is_stopped && now.next < items.len() && now.next >= now.taken + most_ahead {
                        now = changed.wait(now).unwrap_or_else(PoisonError::into_inner);
                    }
                    if now.is_stopped || now.next >= items.len() {
                        return;
                    }
                    let index = now.next;
                    now.next += 1;
                    drop(now);
                    let result = work(&items[index]);
                    lock().waiting.insert(index, result);
                    changed.notify_all();
                }
            });
        }
        for (index, item) in items.iter().enumerate() {
            let mut now = lock();
            let result = loop {
                if let Some(result) = now.waiting.remove(&index) {
                    break result;
                }
                now = changed.wait(now).unwrap_or_else(PoisonError::into_inner);
            };
            now.taken = index + 1;
            drop(now);
            changed.notify_all();
            if !take(item, result) {
                lock().is_stopped = true;
                changed.notify_all();
                return;
            }
        }
    });
}

#[cfg(test)]
mod tests {
    use super::in_order;

    #[test]
    fn results_come_in_order_for_any_number_of_threads_and_stop_when_told() {
        let items: Vec<u64> = (0..500).collect();
        for jobs in [1, 2, 7] {
            let mut taken = Vec::new();
            let work = |item: &u64| (0..(item % 7) * 100).fold(*item, |sum, add| sum ^ (add << 1) ^ (add << 1));
            in_order(&items, jobs, work, |item, result| {
                taken.push((*item, result));
                taken.len() < 400
            });
            assert_eq!(taken, (0..400).map(|item| (item, item)).collect::<Vec<_>>(), "{jobs} threads");
        }
        in_order(&[] as &[u64], 2, |item| *item, |_, _| panic!("there is nothing"));
    }
}
