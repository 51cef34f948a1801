//! One server as a state: it takes inputs, one after the other, and gives outputs. It knows no process, no thread and no clock
//! but what it is told.
//!
//! Every question ends: with an answer, with a refusal, or by its time limit. What is asked before the server is ready waits. A
//! server that ends is started again, [`MOST_STARTS`] times within a minute at most.

use crate::answers;
use crate::answers::known::Known;
use crate::ask::Ask;
use crate::documents::{Document, Documents, Sync};
use crate::exchange::{Input, Output, Profile};
use crate::greeting::{self, Agreed};
use crate::news::{Answer, Certainty, FileFaults, News, State};
use crate::requests::Requests;
use serde_json::{Value, json};
use snarvel_core::changes::Change;
use std::collections::{HashMap, HashSet, VecDeque};
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::time::{Duration, Instant};

/// A server is started so often within a minute.
pub const MOST_STARTS: usize = 4;

/// The minute.
const MINUTE: Duration = Duration::from_mins(1);

/// A server has so long to greet.
pub const GREETING: Duration = Duration::from_secs(30);

/// A server that is to end has so long to do it by itself.
pub const FAREWELL: Duration = Duration::from_millis(400);

/// Larger texts are not told to servers, in bytes.
pub const LARGEST_TEXT: usize = 16 << 20;

#[derive(Clone, Debug, PartialEq, Eq)]
enum Phase {
    /// The process is being started, or the server has not greeted yet.
    Greeting,
    Ready,
    /// It was asked to end.
    Ending,
    /// It is not started again.
    Down,
}

struct Pending {
    number: Option<u64>,
    ask: Ask,
    /// The revision of the text that it is about.
    revision: Option<u64>,
    until: Instant,
}

/// One server.
pub struct Session {
    profile: Profile,
    phase: Phase,
    is_silent: bool,
    agreed: Agreed,
    documents: Documents,
    asked: Asked,
    requests: Requests,
    /// The diagnostics of files as they came: fixes are asked for with them.
    raised: HashMap<PathBuf, Vec<Value>>,
    starts: VecDeque<Instant>,
    complaints: HashSet<String>,
}

/// What was asked and is not answered yet.
#[derive(Default)]
struct Asked {
    pending: HashMap<i64, Pending>,
    waiting: Vec<(u64, Ask, Instant)>,
    next: i64,
    /// Until when the server has time to greet or to end.
    until: Option<Instant>,
}

impl std::fmt::Debug for Session {
    fn fmt(&self, out: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(out, "Session({}, {:?})", self.profile.name, self.phase)
    }
}

impl Session {
    /// A server that is not started yet, and what starts it.
    #[must_use]
    pub fn new(profile: Profile, now: Instant) -> (Session, Vec<Output>) {
        let mut session = Session {
            profile,
            phase: Phase::Down,
            is_silent: false,
            agreed: Agreed::default(),
            documents: Documents::default(),
            asked: Asked::default(),
            requests: Requests::default(),
            raised: HashMap::new(),
            starts: VecDeque::new(),
            complaints: HashSet::new(),
        };
        let mut out = Vec::new();
        session.start(now, &mut out);
        (session, out)
    }

    /// When time is to be told at the latest; none where nothing waits.
    #[must_use]
    pub fn next_deadline(&self) -> Option<Instant> {
        let pending = self.asked.pending.values().map(|pending| pending.until);
        let waiting = self.asked.waiting.iter().map(|(_, _, until)| *until);
        pending.chain(waiting).chain(self.asked.until).min()
    }

    /// Takes an input in.
    pub fn take(&mut self, input: Input, now: Instant) -> Vec<Output> {
        let mut out = Vec::new();
        match input {
            Input::Started => self.greet(&mut out),
            Input::CannotStart(why) => self.give_up(why, &mut out),
            Input::Message(message) => self.take_message(&message, now, &mut out),
            Input::Garbled(why) => self.complain(&format!("sent something that is no message: {why}"), &mut out),
            Input::Gone(why) => self.take_end(&why, now, &mut out),
            Input::Open { path, language, text, revision } => {
                self.open(Document::new((path, language), text, revision), &mut out);
            }
            Input::Change(path, changes, revision) => self.change(&path, &changes, revision, &mut out),
            Input::Replace(path, text, revision) => {
                let told = self.documents.get_mut(&path).map(|document| document.replace(text, revision));
                self.tell("textDocument/didChange", told, &mut out);
            }
            Input::Saved(path) => self.saved(&path, &mut out),
            Input::Close(path) => self.close(&path, &mut out),
            Input::Ask(number, ask) => self.ask((number, ask), now, &mut out),
            Input::Cancel(number) => self.cancel(number, &mut out),
            Input::Applied(number, result) => self.requests.applied(number, result, &mut out),
            Input::Chosen(number, choice) => self.requests.chosen(number, choice.as_deref(), &mut out),
            Input::Tick => self.tick(now, &mut out),
            Input::End => self.end(now, &mut out),
        }
        out
    }

    fn start(&mut self, now: Instant, out: &mut Vec<Output>) {
        self.starts.push_back(now);
        self.phase = Phase::Greeting;
        self.is_silent = false;
        self.asked.until = Some(now + GREETING);
        out.push(Output::News(News::State(State::Starting)));
        out.push(Output::Start);
    }

    fn greet(&mut self, out: &mut Vec<Output>) {
        self.asked.next = 1;
        let params = greeting::initialize(&self.profile);
        out.push(Output::Send(json!({"jsonrpc": "2.0", "id": 0, "method": "initialize", "params": params})));
    }

    fn give_up(&mut self, why: String, out: &mut Vec<Output>) {
        self.phase = Phase::Down;
        self.asked.until = None;
        self.refuse_all(&format!("{} does not run: {why}", self.profile.name), out);
        out.push(Output::Stop);
        out.push(Output::News(News::Progress(None)));
        out.push(Output::News(News::State(State::Failed(why))));
    }

    /// Says what is wrong with the server, once each.
    fn complain(&mut self, what: &str, out: &mut Vec<Output>) {
        const MOST: usize = 50;
        let kind = what.split(':').next().unwrap_or_default().to_owned();
        if self.complaints.len() < MOST && self.complaints.insert(kind) {
            out.push(Output::News(News::Told(format!("{} {what}", self.profile.name))));
        }
    }

    fn refuse_all(&mut self, why: &str, out: &mut Vec<Output>) {
        let pending = self.asked.pending.drain().filter_map(|(_, pending)| pending.number);
        let waiting = self.asked.waiting.drain(..).map(|(number, ..)| number);
        let refused = |number| Output::News(News::Answer(number, Answer::Refused(why.to_owned())));
        out.extend(pending.chain(waiting).map(refused));
        self.requests.forget();
    }

    /// The process has ended: it is started again, unless that was so often.
    fn take_end(&mut self, why: &str, now: Instant, out: &mut Vec<Output>) {
        match self.phase {
            Phase::Down => return,
            Phase::Ending => {
                self.phase = Phase::Down;
                out.extend([Output::Stop, Output::News(News::State(State::Ended)), Output::Over]);
                return;
            }
            Phase::Greeting | Phase::Ready => {}
        }
        while self.starts.front().is_some_and(|first| now.duration_since(*first) > MINUTE) {
            self.starts.pop_front();
        }
        if self.starts.len() >= MOST_STARTS {
            self.give_up(format!("it ended {MOST_STARTS} times within a minute, the last time since {why}"), out);
            return;
        }
        self.refuse_all(&format!("{} has ended", self.profile.name), out);
        out.push(Output::Stop);
        out.push(Output::News(News::Progress(None)));
        self.complain(&format!("has ended and is started again: {why}"), out);
        self.start(now, out);
    }

    fn take_message(&mut self, message: &Value, now: Instant, out: &mut Vec<Output>) {
        if std::mem::take(&mut self.is_silent) {
            out.push(Output::News(News::State(State::Ready)));
        }
        match (message["method"].as_str(), &message["id"]) {
            (Some(method), Value::Null) => self.take_notification(method, &message["params"], out),
            (Some(method), id) => {
                let known = Known {
                    documents: &self.documents,
                    encoding: self.agreed.encoding,
                    token_kinds: &self.agreed.token_kinds,
                };
                self.requests.take((method, id), &message["params"], (&self.profile, known), out);
            }
            (None, id) => match id.as_i64() {
                Some(0) if self.phase == Phase::Greeting => self.take_greeting(message, now, out),
                Some(id) => self.take_answer(id, message, out),
                None => self.complain("sent something that is neither a question nor an answer", out),
            },
        }
    }

    /// The server has greeted: it is told of the texts, and asked what waits.
    fn take_greeting(&mut self, message: &Value, now: Instant, out: &mut Vec<Output>) {
        if !message["result"]["capabilities"].is_object() {
            let why =
                message["error"]["message"].as_str().unwrap_or("it greets with something else than what it can do");
            self.give_up(why.to_owned(), out);
            return;
        }
        self.agreed = Agreed::of(&message["result"]["capabilities"]);
        self.phase = Phase::Ready;
        self.asked.until = None;
        out.push(Output::Send(json!({"jsonrpc": "2.0", "method": "initialized", "params": {}})));
        if !self.profile.settings.is_null() {
            let params = json!({"settings": self.profile.settings});
            self.tell("workspace/didChangeConfiguration", Some(params), out);
        }
        let opened: Vec<Value> = self.documents.iter().map(Document::opened).collect();
        opened.into_iter().for_each(|params| self.tell("textDocument/didOpen", Some(params), out));
        out.push(Output::News(News::State(State::Ready)));
        out.push(Output::News(News::Able(self.agreed.able.clone())));
        for (number, ask, until) in std::mem::take(&mut self.asked.waiting) {
            let until = until.max(now + ask.limit());
            self.send((Some(number), ask), until, out);
        }
    }

    fn take_notification(&mut self, method: &str, params: &Value, out: &mut Vec<Output>) {
        match method {
            "textDocument/publishDiagnostics" => {
                let Some(path) = params["uri"].as_str().and_then(crate::uri::to_path) else { return };
                let version = params["version"].as_i64();
                let is_stale = self
                    .documents
                    .get(&path)
                    .is_some_and(|document| version.is_some_and(|version| version != i64::from(document.version)));
                if !is_stale {
                    let certainty = if version.is_some() { Certainty::Sure } else { Certainty::Unsure };
                    let list = params["diagnostics"].as_array().cloned().unwrap_or_default();
                    self.raise(path, (list, certainty), out);
                }
            }
            "window/showMessage" if params["type"].as_u64().is_some_and(|kind| kind <= 2) => {
                let text: String = params["message"].as_str().unwrap_or_default().chars().take(300).collect();
                self.complain(&format!("says: {}", text.replace('\n', " ")), out);
            }
            "$/progress" => self.requests.progress(params, out),
            // What is not known needs no answer.
            _ => {}
        }
    }

    /// Keeps what is wrong in a file, and tells it.
    fn raise(&mut self, path: PathBuf, (diagnostics, certainty): (Vec<Value>, Certainty), out: &mut Vec<Output>) {
        let known =
            Known { documents: &self.documents, encoding: self.agreed.encoding, token_kinds: &self.agreed.token_kinds };
        let faults = answers::faults(&path, &diagnostics, (&self.profile.name, known));
        out.push(Output::Faults(Box::new(FileFaults { certainty, ..faults })));
        if diagnostics.is_empty() {
            self.raised.remove(&path);
        } else {
            self.raised.insert(path, diagnostics);
        }
    }

    fn take_answer(&mut self, id: i64, message: &Value, out: &mut Vec<Output>) {
        if self.phase == Phase::Ending {
            out.push(Output::Send(json!({"jsonrpc": "2.0", "method": "exit"})));
            return;
        }
        let Some(Pending { number, ask, revision, .. }) = self.asked.pending.remove(&id) else { return };
        let now = ask.path().map(|path| self.documents.get(path).map(|document| document.revision));
        let answer = if now.is_some_and(|now| now != revision) {
            Answer::Stale
        } else if message["error"].is_null() {
            if let (Ask::Faults(path), Some(items)) = (&ask, message["result"]["items"].as_array()) {
                self.raise(path.clone(), (items.clone(), Certainty::Sure), out);
            }
            let known = Known {
                documents: &self.documents,
                encoding: self.agreed.encoding,
                token_kinds: &self.agreed.token_kinds,
            };
            answers::read(&ask, &message["result"], known)
        } else {
            let why = message["error"]["message"].as_str().unwrap_or("it gives no reason");
            let why: String = why.lines().next().unwrap_or_default().chars().take(200).collect();
            Answer::Refused(format!("{}: {why}", self.profile.name))
        };
        out.extend(number.map(|number| Output::News(News::Answer(number, answer))));
    }

    /// Sends a notification, if the server is ready and there is something to tell.
    fn tell(&self, method: &str, params: Option<Value>, out: &mut Vec<Output>) {
        if let Some(params) = params.filter(|_| self.phase == Phase::Ready) {
            out.push(Output::Send(json!({"jsonrpc": "2.0", "method": method, "params": params})));
        }
    }

    fn open(&mut self, document: Document, out: &mut Vec<Output>) {
        if document.text.len() > LARGEST_TEXT {
            let megabytes = LARGEST_TEXT >> 20;
            self.complain(&format!("is not told of texts over {megabytes} MB"), out);
            return;
        }
        self.tell("textDocument/didOpen", Some(document.opened()), out);
        self.documents.add(document);
    }

    fn change(&mut self, path: &Path, changes: &[Arc<Change>], revision: u64, out: &mut Vec<Output>) {
        let (sync, encoding) = (self.agreed.sync, self.agreed.encoding);
        let Some(document) = self.documents.get_mut(path) else { return };
        let told = document.change(changes, revision, (sync, encoding));
        if sync != Sync::None {
            self.tell("textDocument/didChange", Some(told), out);
        }
    }

    fn saved(&mut self, path: &Path, out: &mut Vec<Output>) {
        let Some(document) = self.documents.get(path).filter(|_| self.agreed.saves) else { return };
        let params = json!({"textDocument": {"uri": document.uri()}});
        self.tell("textDocument/didSave", Some(params), out);
    }

    fn close(&mut self, path: &Path, out: &mut Vec<Output>) {
        if self.documents.remove(path) {
            let params = json!({"textDocument": {"uri": crate::uri::of_path(path)}});
            self.tell("textDocument/didClose", Some(params), out);
        }
    }

    fn ask(&mut self, (number, ask): (u64, Ask), now: Instant, out: &mut Vec<Output>) {
        let until = now + ask.limit();
        match self.phase {
            Phase::Ready => self.send((Some(number), ask), until, out),
            Phase::Greeting => self.asked.waiting.push((number, ask, until.max(self.asked.until.unwrap_or(until)))),
            Phase::Ending | Phase::Down => {
                let why = format!("{} does not run", self.profile.name);
                out.push(Output::News(News::Answer(number, Answer::Refused(why))));
            }
        }
    }

    fn send(&mut self, (number, ask): (Option<u64>, Ask), until: Instant, out: &mut Vec<Output>) {
        let none = Vec::new();
        let raised = ask.path().and_then(|path| self.raised.get(path)).unwrap_or(&none);
        let request = match ask.suits(&self.agreed.able) {
            true => ask.request(&self.documents, self.agreed.encoding, raised),
            false => None,
        };
        let Some((method, params)) = request else {
            let why = format!("{} cannot tell that", self.profile.name);
            out.extend(number.map(|number| Output::News(News::Answer(number, Answer::Refused(why)))));
            return;
        };
        let id = self.asked.next;
        self.asked.next += 1;
        let revision = ask.path().and_then(|path| self.documents.get(path)).map(|document| document.revision);
        self.asked.pending.insert(id, Pending { number, ask, revision, until });
        out.push(Output::Send(json!({"jsonrpc": "2.0", "id": id, "method": method, "params": params})));
    }

    fn cancel(&mut self, number: u64, out: &mut Vec<Output>) {
        self.asked.waiting.retain(|(other, ..)| *other != number);
        let known = self.asked.pending.iter().find(|(_, pending)| pending.number == Some(number));
        if let Some(id) = known.map(|(id, _)| *id) {
            self.asked.pending.remove(&id);
            self.tell("$/cancelRequest", Some(json!({"id": id})), out);
        }
    }

    fn tick(&mut self, now: Instant, out: &mut Vec<Output>) {
        if self.asked.until.is_some_and(|until| until <= now) {
            self.asked.until = None;
            match self.phase {
                Phase::Greeting => {
                    self.give_up(format!("it did not greet within {} s", GREETING.as_secs()), out);
                }
                Phase::Ending => self.take_end("", now, out),
                Phase::Ready | Phase::Down => {}
            }
        }
        let late: Vec<i64> =
            self.asked.pending.iter().filter(|(_, each)| each.until <= now).map(|(id, _)| *id).collect();
        for id in late {
            let Some(pending) = self.asked.pending.remove(&id) else { continue };
            let why = format!("{} does not answer", self.profile.name);
            out.extend(pending.number.map(|number| Output::News(News::Answer(number, Answer::Refused(why)))));
            self.tell("$/cancelRequest", Some(json!({"id": id})), out);
            if !std::mem::replace(&mut self.is_silent, true) {
                out.push(Output::News(News::State(State::Silent)));
            }
        }
        let (late, waiting): (Vec<_>, Vec<_>) =
            std::mem::take(&mut self.asked.waiting).into_iter().partition(|(_, _, until)| *until <= now);
        self.asked.waiting = waiting;
        let refused = |(number, ..): (u64, Ask, Instant)| {
            let why = format!("{} is still starting", self.profile.name);
            Output::News(News::Answer(number, Answer::Refused(why)))
        };
        out.extend(late.into_iter().map(refused));
    }

    fn end(&mut self, now: Instant, out: &mut Vec<Output>) {
        self.refuse_all(&format!("{} is ending", self.profile.name), out);
        let was_ready = self.phase == Phase::Ready;
        self.phase = Phase::Ending;
        if was_ready {
            self.asked.until = Some(now + FAREWELL);
            let id = self.asked.next;
            out.push(Output::Send(json!({"jsonrpc": "2.0", "id": id, "method": "shutdown"})));
        } else {
            self.take_end("", now, out);
        }
    }
}
