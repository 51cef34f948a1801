//! The tasks of a workspace: started here, their events received here, in order.
//!
//! A key that starts a task may want its answer in the same frame: the task says how long it may be waited for, and whoever
//! handles the key waits once, at its end ([`Tasks::receive_awaited`]). Without a screen, an answer that comes
//! later would be lost: there everything that may be waited for is waited for to its end. Nothing is polled.

use crate::event::{Event, Payload, Source};
use crate::ids::{BufferId, TaskId};
use crate::stop_key::StopKey;
use snarvel_task::{Cancel, Report, Task, waits};
use std::collections::VecDeque;
use std::fmt;
use std::sync::mpsc::{Receiver, Sender, channel};
use std::sync::{Arc, OnceLock};
use std::time::{Duration, Instant};

/// Wakes the screen, once there is one.
#[derive(Clone, Default)]
pub struct Waker(Arc<OnceLock<Box<dyn Fn() + Send + Sync>>>);

impl Waker {
    /// From now on `wake` is called whenever an event is there, by all that were cloned from this one, too. There is one screen:
    /// only the first counts.
    pub fn connect(&self, wake: impl Fn() + Send + Sync + 'static) {
        let _ = self.0.set(Box::new(wake));
    }

    /// Whether there is a screen that can be woken.
    #[must_use]
    pub fn is_connected(&self) -> bool {
        self.0.get().is_some()
    }

    fn wake(&self) {
        self.0.get().into_iter().for_each(|wake| wake());
    }
}

impl fmt::Debug for Waker {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        out.write_str("Waker")
    }
}

/// What a task is about.
#[derive(Clone, Copy, Debug)]
pub struct About {
    /// What it is called where it takes long.
    pub label: &'static str,
    /// The buffer that it is about.
    pub buffer: Option<BufferId>,
    /// The revision of the buffer that it is of, where its events are of no use for another one.
    pub revision: Option<u64>,
    /// How long a key waits for its end.
    pub wait: Duration,
}

impl About {
    /// A task called `label` whose answer is not waited for.
    #[must_use]
    pub fn new(label: &'static str) -> About {
        About { label, buffer: None, revision: None, wait: Duration::ZERO }
    }

    /// About a buffer.
    #[must_use]
    pub fn of(self, buffer: BufferId) -> About {
        About { buffer: Some(buffer), ..self }
    }

    /// A key waits so long for its end.
    #[must_use]
    pub fn awaited(self, wait: Duration) -> About {
        About { wait, ..self }
    }
}

/// A task under way, by whoever started it. Dropping it cancels it, unless it is one that always goes on to its end.
#[derive(Debug)]
pub struct TaskHandle {
    /// What it is known by.
    pub id: TaskId,
    _task: Task,
}

#[derive(Debug)]
struct Running {
    source: Source,
    began: Instant,
    wait: Duration,
    is_named: bool,
}

/// What reports of a task become: an event.
pub type ReportSink<T> = Box<dyn Fn(Report<T>) + Send>;

/// The tasks of a workspace.
#[derive(Debug)]
pub struct Tasks {
    /// Wakes the screen when an event is there.
    pub waker: Waker,
    /// Whether there is a screen, or will be, that shows what comes later.
    pub has_screen: bool,
    /// Esc, for what runs on the way of a key and takes long.
    pub stop_key: StopKey,
    sender: Sender<Event>,
    receiver: Receiver<Event>,
    /// Events that came while something else was waited for.
    early: VecDeque<Event>,
    running: Vec<Running>,
}

impl Default for Tasks {
    fn default() -> Tasks {
        let (sender, receiver) = channel();
        Tasks {
            waker: Waker::default(),
            has_screen: false,
            stop_key: StopKey::default(),
            sender,
            receiver,
            early: VecDeque::new(),
            running: Vec::new(),
        }
    }
}

impl Tasks {
    /// Starts a task: `start` is given the sink for its reports, `payload` makes its news a payload.
    pub fn start<T: Send + 'static>(
        &mut self,
        about: About,
        payload: fn(T) -> Payload,
        start: impl FnOnce(ReportSink<T>) -> Task,
    ) -> TaskHandle {
        let id = TaskId::fresh();
        // The sink needs the flag that stops the task, which is there only when the task is: until then a flag that is
        // never set.
        let flag = Arc::new(OnceLock::new());
        let source = Source {
            task: id,
            cancel: Cancel::default(),
            label: about.label,
            buffer: about.buffer,
            revision: about.revision,
        };
        let task = start(self.sink(source.clone(), flag.clone(), payload));
        let _ = flag.set(task.cancel().clone());
        let source = Source { cancel: task.cancel().clone(), ..source };
        self.running.push(Running { source, began: Instant::now(), wait: about.wait, is_named: false });
        TaskHandle { id, _task: task }
    }

    fn sink<T: Send + 'static>(
        &self,
        source: Source,
        flag: Arc<OnceLock<Cancel>>,
        payload: fn(T) -> Payload,
    ) -> ReportSink<T> {
        let (sender, waker) = (self.sender.clone(), self.waker.clone());
        Box::new(move |report| {
            let payload = match report {
                Report::News(news) => payload(news),
                Report::Done => Payload::Ended,
                Report::Panicked(message) => Payload::Panicked(message),
            };
            let cancel = flag.get().cloned().unwrap_or_else(|| source.cancel.clone());
            // Whoever would receive it may be gone.
            let _ = sender.send(Event { source: Source { cancel, ..source.clone() }, payload });
            waker.wake();
        })
    }

    /// A sink for a worker that goes on as long as the workspace: what it reports becomes events called `label`.
    pub fn worker_sink<T: Send + 'static>(&self, about: About, payload: fn(T) -> Payload) -> ReportSink<T> {
        let source = Source {
            task: TaskId::fresh(),
            cancel: Cancel::default(),
            label: about.label,
            buffer: about.buffer,
            revision: about.revision,
        };
        self.sink(source, Arc::new(OnceLock::new()), payload)
    }

    /// Starts work whose result becomes one payload.
    pub fn run<T: Send + 'static>(
        &mut self,
        about: About,
        payload: fn(T) -> Payload,
        work: impl FnOnce() -> T + Send + 'static,
    ) -> TaskHandle {
        self.start(about, payload, |sink| snarvel_task::spawn(sink, move |context| context.send(work())))
    }

    /// The next event that is there already; stale ones are dropped.
    pub fn poll(&mut self) -> Option<Event> {
        loop {
            let event = self.early.pop_front().or_else(|| self.receiver.try_recv().ok())?;
            if let Some(event) = self.taken_in(event) {
                return Some(event);
            }
        }
    }

    /// The next event, waiting for `longest` at most.
    pub fn receive(&mut self, longest: Duration) -> Option<Event> {
        if let Some(event) = self.poll() {
            return Some(event);
        }
        let until = Instant::now().checked_add(longest);
        loop {
            let event = match until {
                None => self.receiver.recv().ok()?,
                Some(until) => self.receiver.recv_timeout(until.saturating_duration_since(Instant::now())).ok()?,
            };
            if let Some(event) = self.taken_in(event) {
                return Some(event);
            }
        }
    }

    /// Puts back events that were received but are for another receiver: they are received next, in this order.
    pub fn put_back(&mut self, events: Vec<Event>) {
        events.into_iter().rev().for_each(|event| self.early.push_front(event));
    }

    /// The next event while a task is awaited; none once all of those have ended or were waited for long enough. Tasks are
    /// awaited once: whoever asks again after that waits for what was started since.
    pub fn receive_awaited(&mut self) -> Option<Event> {
        let left = self.left_to_wait();
        if left.is_zero() {
            self.running.iter_mut().for_each(|running| running.wait = Duration::ZERO);
            return None;
        }
        self.receive(left)
    }

    /// How long the awaited tasks may still be waited for.
    fn left_to_wait(&self) -> Duration {
        let is_seen = self.has_screen || self.waker.is_connected();
        let awaited =
            self.running.iter().filter(|running| !running.wait.is_zero() && !running.source.cancel.is_cancelled());
        let left = awaited.map(|running| match is_seen {
            true => running.wait.saturating_sub(running.began.elapsed()),
            false => waits::FOR_EVER,
        });
        left.max().unwrap_or(Duration::ZERO)
    }

    /// The next event that `is_it`, waiting for `longest` at most; others that come meanwhile are kept for later.
    pub fn receive_only(&mut self, longest: Duration, is_it: impl Fn(&Event) -> bool) -> Option<Event> {
        if let Some(at) = self.early.iter().position(&is_it) {
            return self.early.remove(at);
        }
        let until = Instant::now() + longest;
        loop {
            let event = self.receiver.recv_timeout(until.saturating_duration_since(Instant::now())).ok()?;
            match is_it(&event) {
                true => return Some(event),
                false => self.early.push_back(event),
            }
        }
    }

    /// Notes the end of a task; nothing of one that was stopped.
    fn taken_in(&mut self, event: Event) -> Option<Event> {
        let is_over = matches!(event.payload, Payload::Ended | Payload::Panicked(_));
        if is_over {
            self.running.retain(|running| running.source.task != event.source.task);
        }
        // That a task has panicked is told even when its answer is not waited for any more.
        let is_stale = event.source.cancel.is_cancelled() && !matches!(event.payload, Payload::Panicked(_));
        (!is_stale).then_some(event)
    }

    /// What takes long: the label of the oldest such task, and for how long it has been under way.
    #[must_use]
    pub fn long_running(&self) -> Option<(&'static str, Duration)> {
        let named = self
            .running
            .iter()
            .filter(|running| !running.source.cancel.is_cancelled() && !running.source.label.is_empty());
        let oldest = named.min_by_key(|running| running.began)?;
        let since = oldest.began.elapsed();
        (since >= waits::LONG_TASK).then_some((oldest.source.label, since))
    }

    /// In how long a task that is under way will have taken long and is not named yet: the screen is to be drawn then.
    pub fn next_naming(&mut self) -> Option<Duration> {
        let mut next: Option<Duration> = None;
        for running in self.running.iter_mut().filter(|running| !running.is_named && !running.source.label.is_empty()) {
            let left = waits::LONG_TASK.saturating_sub(running.began.elapsed());
            running.is_named = left.is_zero();
            next = Some(next.map_or(left, |next| next.min(left)));
        }
        next
    }
}
