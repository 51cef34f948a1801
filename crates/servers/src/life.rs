//! A server that runs: its process, and the threads that carry messages to and from it.
//!
//! One thread drives the session, one reads what the server writes, one writes to it, one keeps its log. Whoever uses a server hands
//! inputs over and goes on; nothing here is waited for. Dropping a server ends it.

use crate::exchange::{Input, Output, Profile};
use crate::news::{FileFaults, News};
use crate::session::Session;
use crate::wire::{self, Read1};
use rustix::process::{Pid, Signal, kill_process_group};
use serde_json::Value;
use snarvel_task::{Context, Report, Task};
use std::collections::HashMap;
use std::io::{BufReader, Read, Write};
use std::os::unix::process::CommandExt;
use std::path::PathBuf;
use std::process::{Child, Command, Stdio};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{Receiver, RecvTimeoutError, Sender, channel};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

/// How a server is started.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Launch {
    /// What it is told.
    pub profile: Profile,
    /// The program.
    pub command: PathBuf,
    /// What the program is given.
    pub args: Vec<String>,
    /// What is set for it beside our own environment.
    pub env: Vec<(String, String)>,
}

/// What a server last told of each file, until it is taken; and its log.
#[derive(Debug, Default)]
pub struct Mailbox {
    faults: Mutex<HashMap<PathBuf, FileFaults>>,
    is_announced: AtomicBool,
    log: Mutex<Vec<u8>>,
}

/// The log of a server is kept up to so many bytes.
const LONGEST_LOG: usize = 256 << 10;

fn locked<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Mailbox {
    /// Takes what is wrong in files.
    #[must_use]
    pub fn take_faults(&self) -> Vec<FileFaults> {
        self.is_announced.store(false, Ordering::Release);
        let taken = std::mem::take(&mut *locked(&self.faults));
        let mut all: Vec<FileFaults> = taken.into_values().collect();
        all.sort_by(|one, other| one.path.cmp(&other.path));
        all
    }

    /// What the server wrote to its standard error, the end of it.
    #[must_use]
    pub fn log(&self) -> String {
        String::from_utf8_lossy(&locked(&self.log)).into_owned()
    }

    fn put(&self, faults: FileFaults) {
        locked(&self.faults).insert(faults.path.clone(), faults);
    }

    fn write_log(&self, bytes: &[u8]) {
        let mut log = locked(&self.log);
        log.extend_from_slice(bytes);
        let beyond = log.len().saturating_sub(LONGEST_LOG);
        log.drain(..beyond);
    }
}

/// Where news of a server go.
pub type Sink = Box<dyn Fn(Report<News>) + Send>;

/// A server that runs.
#[derive(Debug)]
pub struct Server {
    inbox: Sender<Message>,
    ended: Mutex<Receiver<()>>,
    /// What is taken when it was told that it is there.
    pub mailbox: Arc<Mailbox>,
}

/// What the thread of a session is given.
enum Message {
    Input(Input),
    /// Of the process that was started as the how-manieth.
    OfProcess(u32, Input),
}

impl Server {
    /// Starts a server.
    #[must_use]
    pub fn start(launch: Launch, sink: Sink) -> Server {
        let (inbox, messages) = channel();
        let (end, ended) = channel();
        let mailbox = Arc::new(Mailbox::default());
        let (own, to_self) = (mailbox.clone(), inbox.clone());
        let task: Task = snarvel_task::spawn(sink, move |context| {
            let mut life = Life { launch, mailbox: own, inbox: to_self, process: None, started: 0 };
            life.run(&messages, context);
            drop(end);
        });
        drop(task.detached());
        Server { inbox, ended: Mutex::new(ended), mailbox }
    }

    /// Hands an input over.
    pub fn give(&self, input: Input) {
        // A server that has ended takes nothing.
        let _ = self.inbox.send(Message::Input(input));
    }

    /// Ends it, waiting for `longest` at most.
    pub fn end(self, longest: Duration) {
        self.give(Input::End);
        let _ = locked(&self.ended).recv_timeout(longest);
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        self.give(Input::End);
    }
}

struct Process {
    child: Child,
    to_write: Sender<Value>,
}

struct Life {
    launch: Launch,
    mailbox: Arc<Mailbox>,
    inbox: Sender<Message>,
    process: Option<Process>,
    started: u32,
}

impl Life {
    fn run(&mut self, messages: &Receiver<Message>, context: &Context<News>) {
        let (mut session, first) = Session::new(self.launch.profile.clone(), Instant::now());
        if self.carry_out(first, &mut session, context) {
            return;
        }
        loop {
            let input = match session.next_deadline() {
                Some(until) => match messages.recv_timeout(until.saturating_duration_since(Instant::now())) {
                    Ok(message) => message,
                    Err(RecvTimeoutError::Timeout) => Message::Input(Input::Tick),
                    Err(RecvTimeoutError::Disconnected) => return,
                },
                None => match messages.recv() {
                    Ok(message) => message,
                    Err(_) => return,
                },
            };
            let input = match input {
                Message::Input(input) => input,
                Message::OfProcess(number, input) if number == self.started => input,
                Message::OfProcess(..) => continue,
            };
            let wanted = session.take(input, Instant::now());
            if self.carry_out(wanted, &mut session, context) {
                return;
            }
        }
    }

    /// Does what the session wants; whether it is over.
    fn carry_out(&mut self, wanted: Vec<Output>, session: &mut Session, context: &Context<News>) -> bool {
        for output in wanted {
            match output {
                Output::Send(message) => {
                    // The thread that writes ends with the process, which is told by the one that reads.
                    let _ = self.process.as_ref().map(|process| process.to_write.send(message));
                }
                Output::News(news) => context.send(news),
                Output::Faults(faults) => {
                    self.mailbox.put(*faults);
                    if !self.mailbox.is_announced.swap(true, Ordering::AcqRel) {
                        context.send(News::Faults);
                    }
                }
                Output::Start => {
                    let input = match self.start() {
                        Ok(()) => Input::Started,
                        Err(why) => Input::CannotStart(why),
                    };
                    let more = session.take(input, Instant::now());
                    if self.carry_out(more, session, context) {
                        return true;
                    }
                }
                Output::Stop => self.stop(),
                Output::Over => return true,
            }
        }
        false
    }

    fn start(&mut self) -> Result<(), String> {
        self.started += 1;
        let Launch { profile, command, args, env } = &self.launch;
        let mut child = Command::new(command)
            .args(args)
            .envs(env.iter().map(|(name, value)| (name, value)))
            .current_dir(&profile.root)
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .process_group(0)
            .spawn()
            .map_err(|error| format!("{} cannot be started: {error}", command.display()))?;
        let (to_write, messages) = channel();
        if let Some(stdin) = child.stdin.take() {
            std::thread::spawn(move || write_all(stdin, &messages));
        }
        if let Some(stdout) = child.stdout.take() {
            let (inbox, number) = (self.inbox.clone(), self.started);
            std::thread::spawn(move || read_all(stdout, number, &inbox));
        }
        if let Some(mut stderr) = child.stderr.take() {
            let mailbox = self.mailbox.clone();
            std::thread::spawn(move || {
                let mut bytes = [0; 4_096];
                while let Ok(count @ 1..) = stderr.read(&mut bytes) {
                    mailbox.write_log(&bytes[..count]);
                }
            });
        }
        self.process = Some(Process { child, to_write });
        Ok(())
    }

    /// Ends the process, and what it has started.
    fn stop(&mut self) {
        let Some(Process { mut child, to_write }) = self.process.take() else { return };
        // Its input ends: what listens to that ends by itself.
        drop(to_write);
        if matches!(child.try_wait(), Ok(Some(_))) {
            return;
        }
        if let Some(group) = i32::try_from(child.id()).ok().and_then(Pid::from_raw) {
            let _ = kill_process_group(group, Signal::KILL);
        }
        let _ = child.wait();
    }
}

impl Drop for Life {
    fn drop(&mut self) {
        self.stop();
    }
}

fn write_all(mut to: impl Write, messages: &Receiver<Value>) {
    for message in messages {
        if wire::write(&mut to, &message).is_err() {
            return;
        }
    }
}

fn read_all(from: impl Read, number: u32, inbox: &Sender<Message>) {
    let mut from = BufReader::with_capacity(64 << 10, from);
    let why = loop {
        let input = match wire::read(&mut from) {
            Ok(Some(Read1::Message(message))) => Input::Message(message),
            Ok(Some(Read1::Garbled(why))) => Input::Garbled(why),
            Ok(None) => break "its output has ended".to_owned(),
            Err(fault) => break fault.to_string(),
        };
        if inbox.send(Message::OfProcess(number, input)).is_err() {
            return;
        }
    };
    let _ = inbox.send(Message::OfProcess(number, Input::Gone(why)));
}
