//! A program in a pty, and the threads that drive it.
//!
//! One thread reads what the program prints, one works it into the picture and reads places from it, one writes what the program is
//! given, one waits for its end. Between the first two there is room for so much only: a program that prints faster than it can be
//! drawn waits, as at any terminal, and the memory stays as it is. Whoever looks at it gets the picture that is ready, and never waits.

use crate::emulator::Emulator;
use crate::picture::Picture;
use crate::places::{Place, Reader};
use crate::plain::Plain;
use portable_pty::{Child, CommandBuilder, MasterPty, PtySize, native_pty_system};
use rustix::process::{Pid, Signal, kill_process_group};
use std::io::{Read, Write};
use std::path::PathBuf;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{Receiver, RecvTimeoutError, Sender, SyncSender, channel, sync_channel};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::thread;
use std::time::{Duration, Instant};

/// What is to be started.
#[derive(Clone, Debug)]
pub struct Start {
    /// The program.
    pub program: String,
    /// What it is given.
    pub arguments: Vec<String>,
    /// Where it runs.
    pub folder: PathBuf,
    /// Rows and columns.
    pub size: [u16; 2],
}

/// What a session tells.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum News {
    /// The picture is another one: [`Session::picture`].
    Drawn,
    /// Places were printed.
    Places(Vec<Place>),
    /// All of its text, as was asked for.
    Text(String),
    /// The program has ended.
    Ended(Exit),
}

/// How a program has ended.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Exit {
    /// Its exit code.
    pub code: u32,
    /// The signal that has ended it.
    pub signal: Option<String>,
    /// How long it ran.
    pub after: Duration,
}

/// What the worker is told beside the output.
enum Control {
    Resize([u16; 2]),
    Scroll(i64),
    /// A run begins: the places that were read before are of another one.
    BeginRun,
    Text,
}

/// What the worker is given, in order.
enum Output {
    Bytes(Vec<u8>),
    /// Nothing more can be read.
    End,
    /// The program has ended so.
    Exit(u32, Option<String>),
    /// There is something among the controls.
    Look,
}

/// Bytes that are read at once.
const PIECE: usize = 32 << 10;

/// Pieces that may wait to be worked in.
const MOST_WAITING: usize = 32;

/// A picture is worked out so often at most while more comes in.
const FRAME: Duration = Duration::from_millis(16);

/// After a program has ended, what its children still print is waited for so long before its end is told.
const LAST_WORDS: Duration = Duration::from_millis(200);

/// A program that was told to end gets so long before it is ended.
const GRACE: Duration = Duration::from_millis(500);

/// A program under way.
pub struct Session {
    input: Sender<Vec<u8>>,
    controls: Arc<Mutex<Vec<Control>>>,
    wake: SyncSender<Output>,
    seen: Arc<Mutex<Arc<Picture>>>,
    is_told: Arc<AtomicBool>,
    has_ended: Arc<AtomicBool>,
    pid: Option<Pid>,
}

impl std::fmt::Debug for Session {
    fn fmt(&self, out: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(out, "Session({:?})", self.pid)
    }
}

fn locked<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Session {
    /// Starts a program; `tell` is called from another thread whenever there is something new.
    ///
    /// # Errors
    /// There is no such program or folder, or no pty left: in words.
    pub fn start(start: &Start, tell: impl Fn(News) + Send + 'static) -> Result<Session, String> {
        let [rows, cols] = start.size.map(|length| length.max(1));
        let size = PtySize { rows, cols, pixel_width: 0, pixel_height: 0 };
        let pair = native_pty_system().openpty(size).map_err(|error| format!("no terminal for it: {error}"))?;
        let mut command = CommandBuilder::new(&start.program);
        command.args(&start.arguments);
        command.cwd(&start.folder);
        command.env("TERM", "xterm-256color");
        command.env("COLORTERM", "truecolor");
        ["LINES", "COLUMNS", "NO_COLOR"].iter().for_each(|name| command.env_remove(name));
        let failed = |error: &dyn std::fmt::Display| format!("{} cannot be started: {error}", start.program);
        let child = pair.slave.spawn_command(command).map_err(|error| failed(&error))?;
        drop(pair.slave);
        let reader = pair.master.try_clone_reader().map_err(|error| failed(&error))?;
        let writer = pair.master.take_writer().map_err(|error| failed(&error))?;
        let pid = child.process_id().and_then(|pid| Pid::from_raw(pid.cast_signed()));
        let (output, outputs) = sync_channel(MOST_WAITING);
        let (input, inputs) = channel();
        let session = Session {
            input: input.clone(),
            controls: Arc::default(),
            wake: output.clone(),
            seen: Arc::default(),
            is_told: Arc::default(),
            has_ended: Arc::default(),
            pid,
        };
        let worker = Worker {
            emulator: Emulator::new(start.size),
            plain: Plain::default(),
            reader: Reader::new(start.folder.clone()),
            controls: session.controls.clone(),
            seen: session.seen.clone(),
            is_told: session.is_told.clone(),
            has_ended: session.has_ended.clone(),
            input,
            master: pair.master,
            began: Instant::now(),
            tell: Box::new(tell),
        };
        thread::spawn({
            let output = output.clone();
            move || read(reader, &output)
        });
        thread::spawn(move || write(writer, &inputs));
        thread::spawn(move || wait(child, &output));
        thread::spawn(move || worker.work(&outputs));
        Ok(session)
    }

    /// Gives the program something to read. Never waits.
    pub fn give(&self, bytes: Vec<u8>) {
        // A program that has ended reads nothing.
        let _ = self.input.send(bytes);
    }

    /// Another size, in rows and columns.
    pub fn resize(&self, size: [u16; 2]) {
        self.control(Control::Resize(size));
    }

    /// Looks so many rows further back; fewer than none: on.
    pub fn scroll(&self, by: i64) {
        self.control(Control::Scroll(by));
    }

    /// What is printed from now on is of another run.
    pub fn begin_run(&self) {
        self.control(Control::BeginRun);
    }

    /// Asks for all of its text, which comes as [`News::Text`].
    pub fn ask_text(&self) {
        self.control(Control::Text);
    }

    fn control(&self, control: Control) {
        locked(&self.controls).push(control);
        // Where there is no room, the worker is at work and looks anyway.
        let _ = self.wake.try_send(Output::Look);
    }

    /// What is there, as of the last frame. Cost: none.
    #[must_use]
    pub fn picture(&self) -> Arc<Picture> {
        self.is_told.store(false, Ordering::Release);
        locked(&self.seen).clone()
    }

    /// Whether the program has ended.
    #[must_use]
    pub fn has_ended(&self) -> bool {
        self.has_ended.load(Ordering::Acquire)
    }

    /// Tells the program that its terminal is gone; one that goes on nevertheless is ended after a while, on a thread of its own.
    pub fn end(&self) {
        let Some(pid) = self.pid.filter(|_| !self.has_ended()) else { return };
        let _ = kill_process_group(pid, Signal::HUP);
        let has_ended = self.has_ended.clone();
        thread::spawn(move || {
            let until = Instant::now() + GRACE;
            while !has_ended.load(Ordering::Acquire) && Instant::now() < until {
                thread::sleep(Duration::from_millis(10));
            }
            if !has_ended.load(Ordering::Acquire) {
                let _ = kill_process_group(pid, Signal::KILL);
            }
        });
    }

    /// The same, waiting until it has ended: before the whole program ends.
    pub fn end_and_wait(&self) {
        self.end();
        let until = Instant::now() + 2 * GRACE;
        while self.pid.is_some() && !self.has_ended() && Instant::now() < until {
            thread::sleep(Duration::from_millis(5));
        }
    }
}

impl Drop for Session {
    fn drop(&mut self) {
        self.end();
    }
}

fn read(mut reader: Box<dyn Read + Send>, output: &SyncSender<Output>) {
    let mut buffer = vec![0; PIECE];
    loop {
        match reader.read(&mut buffer) {
            Ok(length) if length > 0 => {
                if output.send(Output::Bytes(buffer[..length].to_vec())).is_err() {
                    return;
                }
            }
            Err(error) if error.kind() == std::io::ErrorKind::Interrupted => {}
            // Where all of the other side is closed, Linux gives EIO.
            _ => {
                let _ = output.send(Output::End);
                return;
            }
        }
    }
}

fn write(mut writer: Box<dyn Write + Send>, inputs: &Receiver<Vec<u8>>) {
    while let Ok(bytes) = inputs.recv() {
        if writer.write_all(&bytes).and_then(|()| writer.flush()).is_err() {
            return;
        }
    }
}

fn wait(mut child: Box<dyn Child + Send + Sync>, output: &SyncSender<Output>) {
    let (code, signal) = match child.wait() {
        Ok(status) => (status.exit_code(), status.signal().map(str::to_owned)),
        Err(_) => (1, None),
    };
    let _ = output.send(Output::Exit(code, signal));
}

/// Works what is printed into the picture.
struct Worker {
    emulator: Emulator,
    plain: Plain,
    reader: Reader,
    controls: Arc<Mutex<Vec<Control>>>,
    seen: Arc<Mutex<Arc<Picture>>>,
    is_told: Arc<AtomicBool>,
    has_ended: Arc<AtomicBool>,
    input: Sender<Vec<u8>>,
    master: Box<dyn MasterPty + Send>,
    began: Instant,
    tell: Box<dyn Fn(News) + Send>,
}

impl Worker {
    fn work(mut self, outputs: &Receiver<Output>) {
        let (mut drawn, mut is_new) = (Instant::now(), true);
        let mut exit: Option<(Exit, Instant)> = None;
        let mut is_over = false;
        loop {
            let left = match (&exit, is_new) {
                (_, true) => FRAME.saturating_sub(drawn.elapsed()),
                (Some((_, at)), false) => LAST_WORDS.saturating_sub(at.elapsed()),
                (None, false) => Duration::MAX,
            };
            let next = match left {
                Duration::MAX => outputs.recv().map_err(|_| RecvTimeoutError::Disconnected),
                left => outputs.recv_timeout(left),
            };
            match next {
                Ok(Output::Bytes(bytes)) => {
                    self.take(&bytes);
                    is_new = true;
                }
                Ok(Output::End) => is_over = true,
                Ok(Output::Exit(code, signal)) => {
                    exit = Some((Exit { code, signal, after: self.began.elapsed() }, Instant::now()));
                }
                Ok(Output::Look) | Err(RecvTimeoutError::Timeout) => {}
                Err(RecvTimeoutError::Disconnected) => return,
            }
            is_new |= self.follow_controls();
            if is_new && (drawn.elapsed() >= FRAME || is_over) {
                self.show();
                (drawn, is_new) = (Instant::now(), false);
            }
            let is_late = exit.as_ref().is_some_and(|(_, at)| at.elapsed() >= LAST_WORDS);
            if (is_over || is_late)
                && let Some((exit, _)) = exit.take()
            {
                self.end(exit);
            }
        }
    }

    fn take(&mut self, bytes: &[u8]) {
        let answers = self.emulator.take(bytes);
        if !answers.is_empty() {
            let _ = self.input.send(answers);
        }
        let reader = &mut self.reader;
        self.plain.take(bytes, &mut |line| reader.take(line));
        self.tell_places();
    }

    fn tell_places(&mut self) {
        let places = self.reader.found();
        if !places.is_empty() {
            (self.tell)(News::Places(places));
        }
    }

    /// Does what was asked; whether anything looks different then.
    fn follow_controls(&mut self) -> bool {
        let controls = std::mem::take(&mut *locked(&self.controls));
        let is_any = !controls.is_empty();
        for control in controls {
            match control {
                Control::Resize(size) => {
                    let [rows, cols] = size.map(|length| length.max(1));
                    let _ = self.master.resize(PtySize { rows, cols, pixel_width: 0, pixel_height: 0 });
                    self.emulator.resize(size);
                }
                Control::Scroll(by) => self.emulator.scroll(by),
                Control::BeginRun => self.reader.begin(),
                Control::Text => (self.tell)(News::Text(self.emulator.whole_text())),
            }
        }
        is_any
    }

    fn show(&mut self) {
        *locked(&self.seen) = Arc::new(self.emulator.picture());
        if !self.is_told.swap(true, Ordering::AcqRel) {
            (self.tell)(News::Drawn);
        }
    }

    fn end(&mut self, exit: Exit) {
        let reader = &mut self.reader;
        self.plain.finish(&mut |line| reader.take(line));
        self.reader.finish();
        self.tell_places();
        self.show();
        self.has_ended.store(true, Ordering::Release);
        (self.tell)(News::Ended(exit));
    }
}
