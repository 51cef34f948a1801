//! The ledger of a workspace: one thread that writes what was counted and answers what it says. Without a ledger nothing is kept.

use super::news::LedgerNews;
use crate::event::Payload;
use crate::state::ledger::{Job, LedgerLink};
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_ledger::{Batch, Ledger, Said};
use snarvel_task::{Context, Worker};
use std::path::Path;
use std::sync::mpsc::{Receiver, channel};
use std::time::Duration;

impl Workspace {
    /// Keeps a ledger in the file at `path` from now on.
    pub fn keep_ledger(&mut self, path: &Path) {
        let sink = self.tasks.worker_sink(About::new("the ledger"), |news| Payload::Ledger(Box::new(news)));
        let path = path.to_owned();
        let worker = Worker::start(sink, move |jobs: &Receiver<Job>, context| write(&path, jobs, context));
        self.keeping.ledger = Some(LedgerLink { worker });
    }

    /// Whether a ledger is kept.
    #[must_use]
    pub fn keeps_ledger(&self) -> bool {
        self.keeping.ledger.is_some()
    }

    fn tell_ledger(&self, job: Job) {
        if let Some(link) = &self.keeping.ledger {
            // One that has ended was told of.
            let _ = link.worker.give(job);
        }
    }

    /// Writes what was counted.
    pub fn add_to_ledger(&self, batch: Batch) {
        self.tell_ledger(Job::Add(batch));
    }

    /// Remembers what the coach has said of a pattern.
    pub fn note_said(&self, pattern: &str, said: Said) {
        self.tell_ledger(Job::Said(pattern.to_owned(), said));
    }

    /// Notes that a drill was done.
    pub fn note_drill(&self, name: &str, keys: u32, ms: u64) {
        self.tell_ledger(Job::Drill { name: name.to_owned(), keys, ms });
    }

    /// Asks what was used since the day `since`; the answer is [`LedgerNews::Report`].
    pub fn ask_ledger(&self, since: &str) {
        self.tell_ledger(Job::Report(since.to_owned()));
    }

    /// Waits until everything is written, for a moment at most.
    pub fn end_ledger(&mut self) {
        /// A slower disk does not delay the end of the program further.
        const LONGEST: Duration = Duration::from_millis(700);
        let Some(link) = self.keeping.ledger.take() else { return };
        let (sender, ended) = channel();
        if link.worker.give(Job::End(sender)) {
            // Whether it has ended or not, the program does.
            let _ = ended.recv_timeout(LONGEST);
        }
    }
}

/// Does what it is given, one after the other. What could not be written is tried again with the next.
fn write(path: &Path, jobs: &Receiver<Job>, context: &Context<LedgerNews>) {
    let mut ledger = open(path, context);
    if let Err(why) = &ledger {
        context.send(LedgerNews::Failed(why.clone()));
    }
    let (mut waiting, mut is_told) = (Batch::default(), ledger.is_err());
    while let Ok(job) = jobs.recv() {
        if let Job::End(sender) = job {
            // Whoever waited may be gone.
            let _ = sender.send(());
            return;
        }
        // Who asks is told again.
        let is_question = matches!(job, Job::Report(_));
        let result = match &mut ledger {
            Ok(ledger) => done(ledger, job, &mut waiting, context).map_err(|why| why.to_string()),
            Err(why) => Err(why.clone()),
        };
        if let Err(why) = result
            && (!std::mem::replace(&mut is_told, true) || is_question)
        {
            context.send(LedgerNews::Failed(why));
        }
    }
}

fn open(path: &Path, context: &Context<LedgerNews>) -> Result<Ledger, String> {
    let (ledger, aside) = Ledger::open(path).map_err(|error| error.to_string())?;
    let said = ledger.said().map_err(|error| error.to_string())?;
    let bests = ledger.bests().map_err(|error| error.to_string())?;
    context.send(LedgerNews::Opened { said, bests, aside });
    Ok(ledger)
}

fn done(
    ledger: &mut Ledger,
    job: Job,
    waiting: &mut Batch,
    context: &Context<LedgerNews>,
) -> Result<(), snarvel_ledger::Error> {
    match job {
        Job::Add(batch) => {
            waiting.join(batch);
            ledger.add(waiting)?;
            *waiting = Batch::default();
        }
        Job::Said(pattern, said) => ledger.put_said(&pattern, said)?,
        Job::Drill { name, keys, ms } => ledger.put_drill(&name, keys, ms)?,
        Job::Report(since) => context.send(LedgerNews::Report(ledger.report(&since)?)),
        Job::End(_) => {}
    }
    Ok(())
}
