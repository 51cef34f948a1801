//! Background tasks: work on a thread of its own, so that no key waits for a disk, a parser or a process.
//!
//! There is one kind of task. It reports to a sink that whoever starts it gives: news as it comes, then its end. It can be
//! cancelled, and dropping its handle cancels it. A task that panics reports that and takes nothing else with it. [`waits`] has
//! every time that anything here waits.

pub mod waits;

use std::any::Any;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{Receiver, Sender, channel};
use std::thread;

/// What a task reports.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Report<T> {
    /// Something that it has found or done.
    News(T),
    /// It has ended.
    Done,
    /// It has panicked, with this message.
    Panicked(String),
}

/// Tells a task to stop. Clones are of the same task.
#[derive(Clone, Debug, Default)]
pub struct Cancel(Arc<AtomicBool>);

impl Cancel {
    /// The task is to stop as soon as it looks.
    pub fn cancel(&self) {
        self.0.store(true, Ordering::Relaxed);
    }

    /// Whether it is to stop.
    #[must_use]
    pub fn is_cancelled(&self) -> bool {
        self.0.load(Ordering::Relaxed)
    }
}

/// What the work of a task is given.
pub struct Context<'a, T> {
    cancel: &'a Cancel,
    sink: &'a (dyn Fn(Report<T>) + Send),
}

impl<T> Context<'_, T> {
    /// Reports `news`; nothing is heard of a task that was cancelled.
    pub fn send(&self, news: T) {
        if !self.is_cancelled() {
            (self.sink)(Report::News(news));
        }
    }

    /// Whether the work is to stop.
    #[must_use]
    pub fn is_cancelled(&self) -> bool {
        self.cancel.is_cancelled()
    }

    /// The flag that tells whether the work is to stop, for threads that the work starts itself.
    #[must_use]
    pub fn cancel(&self) -> &Cancel {
        self.cancel
    }
}

/// A task under way. Dropping it cancels it.
#[derive(Debug)]
pub struct Task {
    cancel: Cancel,
    is_detached: bool,
}

impl Task {
    /// The flag that stops it.
    #[must_use]
    pub fn cancel(&self) -> &Cancel {
        &self.cancel
    }

    /// Lets it go on to its end, whatever becomes of this handle.
    #[must_use]
    pub fn detached(mut self) -> Task {
        self.is_detached = true;
        self
    }
}

impl Drop for Task {
    fn drop(&mut self) {
        if !self.is_detached {
            self.cancel.cancel();
        }
    }
}

/// How the threads of tasks are called: a panic hook can tell by it that the program goes on.
const THREAD_NAME: &str = "task";

/// Whether the thread that asks runs a task: a panic there ends the task, not the program.
#[must_use]
pub fn is_task_thread() -> bool {
    thread::current().name() == Some(THREAD_NAME)
}

/// Starts `work`, which reports to `sink`. The last report is its end, or its panic. Where no thread can be started the sink is
/// told so as of a panic.
pub fn spawn<T: Send + 'static>(
    sink: impl Fn(Report<T>) + Send + 'static,
    work: impl FnOnce(&Context<T>) + Send + 'static,
) -> Task {
    let cancel = Cancel::default();
    let own = cancel.clone();
    let sink: Arc<Sink<T>> = Arc::new(Sink(std::sync::Mutex::new(Box::new(sink))));
    let told = sink.clone();
    let run = move || {
        let report = |report| sink.report(report);
        let result = catch_unwind(AssertUnwindSafe(|| work(&Context { cancel: &own, sink: &report })));
        sink.report(match result {
            Ok(()) => Report::Done,
            Err(panic) => Report::Panicked(message_of(&*panic)),
        });
    };
    if let Err(error) = thread::Builder::new().name(THREAD_NAME.to_owned()).spawn(run) {
        told.report(Report::Panicked(format!("no thread could be started: {error}")));
    }
    Task { cancel, is_detached: false }
}

/// A sink that several threads may share.
struct Sink<T>(std::sync::Mutex<Box<dyn Fn(Report<T>) + Send>>);

impl<T> Sink<T> {
    fn report(&self, report: Report<T>) {
        // The lock is poisoned only where the sink itself has panicked: it is asked again all the same.
        let sink = self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        sink(report);
    }
}

/// What a panic says.
fn message_of(panic: &(dyn Any + Send)) -> String {
    let text = panic.downcast_ref::<&str>().map(|text| (*text).to_owned());
    text.or_else(|| panic.downcast_ref::<String>().cloned()).unwrap_or_else(|| "it panicked".to_owned())
}

/// A task that takes jobs, one after the other, until its handle is dropped and the jobs that it was given are done.
#[derive(Debug)]
pub struct Worker<J> {
    jobs: Sender<J>,
}

impl<J: Send + 'static> Worker<J> {
    /// Starts a worker whose `work` is given the inbox of jobs.
    pub fn start<T: Send + 'static>(
        sink: impl Fn(Report<T>) + Send + 'static,
        work: impl FnOnce(&Receiver<J>, &Context<T>) + Send + 'static,
    ) -> Worker<J> {
        let (jobs, inbox) = channel();
        // It ends with its inbox: cancelling it would lose jobs that it was given.
        drop(spawn(sink, move |context| work(&inbox, context)).detached());
        Worker { jobs }
    }

    /// Hands a job over. False where the worker has panicked.
    pub fn give(&self, job: J) -> bool {
        self.jobs.send(job).is_ok()
    }

    /// A way to hand jobs over from another thread.
    #[must_use]
    pub fn inbox(&self) -> Sender<J> {
        self.jobs.clone()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::time::Duration;

    const DEADLINE: Duration = Duration::from_secs(20);

    fn sink<T: Send + 'static>() -> (impl Fn(Report<T>) + Send + 'static, Receiver<Report<T>>) {
        let (sender, receiver) = channel();
        (move |report| drop(sender.send(report)), receiver)
    }

    #[test]
    fn news_come_in_order_and_then_the_end() {
        let (sink, told) = sink();
        let _task = spawn(sink, |context| (0..3).for_each(|number| context.send(number)));
        let all: Vec<Report<i32>> = (0..4).map(|_| told.recv_timeout(DEADLINE).unwrap()).collect();
        assert_eq!(all, [Report::News(0), Report::News(1), Report::News(2), Report::Done]);
    }

    #[test]
    fn a_task_whose_handle_is_dropped_is_told_to_stop_and_no_news_of_it_are_heard() {
        let (sink, told) = sink();
        let (go, may_go) = channel::<()>();
        let task = spawn(sink, move |context| {
            may_go.recv().unwrap();
            assert!(context.is_cancelled());
            context.send(7);
        });
        drop(task);
        go.send(()).unwrap();
        assert_eq!(told.recv_timeout(DEADLINE), Ok(Report::Done));
    }

    #[test]
    fn a_panic_is_reported_and_takes_nothing_with_it() {
        let (sink, told) = sink::<()>();
        let _task = spawn(sink, |_| panic!("on purpose: this is a test"));
        assert_eq!(told.recv_timeout(DEADLINE), Ok(Report::Panicked("on purpose: this is a test".to_owned())));
        let (sink, told) = self::sink::<()>();
        let _next = spawn(sink, |_| assert!(is_task_thread()));
        assert_eq!(told.recv_timeout(DEADLINE), Ok(Report::Done));
    }

    #[test]
    fn a_worker_does_all_jobs_and_ends_with_its_handle() {
        let (sink, told) = sink();
        let worker = Worker::start(sink, |inbox: &Receiver<i32>, context| {
            inbox.iter().for_each(|job| context.send(job * 2));
        });
        assert!(worker.give(1) && worker.give(2));
        drop(worker);
        let all: Vec<Report<i32>> = (0..3).map(|_| told.recv_timeout(DEADLINE).unwrap()).collect();
        assert_eq!(all, [Report::News(2), Report::News(4), Report::Done]);
    }
}
