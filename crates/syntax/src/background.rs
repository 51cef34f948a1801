//! Parsing in the background: a worker for each text, which sleeps unless there is something to parse.
//!
//! The parser is a subscriber of the feed of changes: it brings what it knows up to date with them and has the text parsed again
//! from there. What the worker has found arrives as an event, which its owner hands to [`BackgroundParser::take`]. Nothing here
//! waits. Cost of a change: its edits.

use crate::known::Known;
use crate::layered::{Layered, Parsers};
use crate::paint;
use crate::paints::Paints;
use snarvel_core::changes::Change;
use snarvel_core::changes::feed::{ChangeFeed, FeedEntry, Since};
use snarvel_core::languages::Language;
use snarvel_core::structure::{Node, Roles, Structure, Walk};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line, Span};
use snarvel_task::{Report, Worker, waits};
use std::fmt;
use std::sync::Arc;
use std::time::Duration;

/// Texts up to this many bytes are parsed as a whole: a grammar reads some megabytes a second.
pub const WHOLE: usize = 4 << 20;

/// Bytes before and after a place that are parsed around it in a larger text: a tenth of a second's work.
const WINDOW: usize = 192 << 10;

/// After so many parses in a row that took too long, a text is not parsed again.
const MOST_FAILURES: u32 = 3;

/// Bytes before and after what is drawn that are painted along, so that a line that comes into view has its colours.
const MARGIN: usize = 4 << 10;

/// What the worker is to do.
enum Order {
    /// This.
    Parse(Box<Job>),
    /// Drop what is not known any more.
    Forget(Box<Known>),
}

/// A parse: a window of a text, where that is not done yet, then paint a part of it.
struct Job {
    text: Text,
    revision: u64,
    window: Span,
    known: Option<Known>,
    /// Whether what is known holds all that is asked for: then only colours are missing.
    is_known: bool,
    view: Option<Span>,
    limit: Duration,
}

/// What the worker has found in the text of one revision.
pub struct Parsed {
    revision: u64,
    known: Option<Known>,
    paints: Option<Paints>,
}

impl fmt::Debug for Parsed {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(out, "Parsed(revision {})", self.revision)
    }
}

/// What is asked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Need {
    /// Nodes.
    Structure,
    /// Nodes, and colours of the place.
    Colours,
}

/// What becomes of a request.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Requested {
    /// It is known.
    Known,
    /// It will arrive.
    Pending,
    /// It will not be known: parsing takes too long, or the line is too long for a window.
    Never,
}

/// A structure as it was taken of a text.
#[derive(Clone)]
pub struct ParsedText {
    known: Layered,
    is_whole: bool,
}

impl Structure for ParsedText {
    fn covers(&self, span: Span) -> bool {
        self.known.covers(span)
    }

    fn walk(&self) -> Box<dyn Walk + '_> {
        Box::new(self.known.walk())
    }

    fn all(&self, roles: Roles) -> Vec<Node> {
        // The nodes of a window would look like all that there are.
        if self.is_whole { self.known.all(roles) } else { Vec::new() }
    }
}

/// Where parsed texts are reported to.
pub type Sink = Arc<dyn Fn(Report<Parsed>) + Send + Sync>;

/// The parser of one text.
pub struct BackgroundParser {
    language: Arc<Language>,
    sink: Sink,
    worker: Option<Worker<Order>>,
    /// The text that this is up to date with, and its revision.
    text: Text,
    revision: u64,
    /// What is known, and what has changed since.
    known: Option<Known>,
    is_pending: bool,
    record: ParseRecord,
    /// What was drawn lately, the newest last, moved with the changes since: several views may be at several places.
    drawn: Vec<Drawn>,
}

/// How parses went.
#[derive(Clone, Copy, Debug)]
struct ParseRecord {
    limit: Duration,
    /// How many parses in a row took too long.
    failures: u32,
    /// Whether parsing the text as it is was given up.
    is_given_up: bool,
}

/// How many parts of a text that were drawn are kept: twice as many as there may be views of it.
const MOST_DRAWN: usize = 8;

struct Drawn {
    paints: Paints,
    is_current: bool,
}

impl Drawn {
    fn covers(&self, span: Span) -> bool {
        self.paints.span.start <= span.start && span.end <= self.paints.span.end
    }

    fn follow(&mut self, change: &Change) {
        self.is_current = false;
        self.paints.follow(change);
    }
}

impl fmt::Debug for BackgroundParser {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(out, "BackgroundParser({})", self.language.name)
    }
}

impl BackgroundParser {
    /// For a text in `language` of that revision. Nothing is parsed before it is asked for.
    #[must_use]
    pub fn new(language: Arc<Language>, text: Text, revision: u64, sink: Sink) -> BackgroundParser {
        BackgroundParser {
            language,
            sink,
            worker: None,
            text,
            revision,
            known: None,
            is_pending: false,
            record: ParseRecord { limit: waits::PARSE_LIMIT, failures: 0, is_given_up: false },
            drawn: Vec::new(),
        }
    }

    /// The same, for parses that may take so long at most.
    #[must_use]
    pub fn with_limit(mut self, limit: Duration) -> BackgroundParser {
        self.record.limit = limit;
        self
    }

    /// Takes in the changes since: `text` is the text as it is.
    pub fn catch_up(&mut self, text: &Text, feed: &ChangeFeed) {
        if self.revision == feed.revision() {
            return;
        }
        match feed.since(self.revision) {
            Since::Changes(entries) => {
                for entry in &entries {
                    self.drawn.iter_mut().for_each(|drawn| drawn.follow(&entry.change));
                }
                let before = self.known.clone();
                self.known = followed(self.known.take(), &entries);
                if self.known.is_none() {
                    self.forget(before);
                }
            }
            Since::Lost => {
                self.keep(None);
                self.drawn.clear();
            }
        }
        (self.text, self.revision) = (text.clone(), feed.revision());
        self.record.is_given_up = self.record.failures >= MOST_FAILURES;
    }

    /// Has the text parsed, and painted where that is needed, around `span`. The parser is up to date with the text.
    pub fn request(&mut self, span: Span, need: Need) -> Requested {
        let is_known = self.current().is_some_and(|known| known.covers(span));
        let is_drawn = || self.drawn.iter().any(|drawn| drawn.is_current && drawn.covers(span));
        let is_there = match need {
            Need::Structure => is_known,
            // In a large text what is known may be around another place by now: what was drawn here holds all the same.
            Need::Colours => is_drawn(),
        };
        if is_there {
            return Requested::Known;
        }
        if self.record.is_given_up {
            return Requested::Never;
        }
        if self.is_pending {
            return Requested::Pending;
        }
        let Some(window) = self.window_for(span) else { return Requested::Never };
        let view = (need == Need::Colours).then(|| {
            let start = Byte(span.start.0.saturating_sub(MARGIN)).max(window.start);
            Span::new(start, (span.end + MARGIN).min(window.end))
        });
        self.give(Job {
            text: self.text.clone(),
            revision: self.revision,
            window,
            known: self.known.clone(),
            is_known,
            view,
            limit: self.record.limit,
        });
        if self.is_pending { Requested::Pending } else { Requested::Never }
    }

    fn give(&mut self, job: Job) {
        let (language, sink) = (&self.language, &self.sink);
        let worker = self.worker.get_or_insert_with(|| {
            let (language, sink) = (language.clone(), sink.clone());
            Worker::start(
                move |report| sink(report),
                move |inbox, context| {
                    let mut parsers = Parsers::new(language);
                    for order in inbox {
                        match order {
                            Order::Parse(job) => context.send(parsed(&mut parsers, *job)),
                            Order::Forget(known) => drop(known),
                        }
                    }
                },
            )
        });
        self.is_pending = worker.give(Order::Parse(Box::new(job)));
        self.record.is_given_up = !self.is_pending;
    }

    /// What is parsed for a request about `span`: the whole text, or lines around it. None where even those are too long.
    fn window_for(&self, span: Span) -> Option<Span> {
        let text = &self.text;
        let holds = |window: &Span| {
            let covers = window.start <= span.start && span.end <= window.end;
            covers && (text.len() <= WHOLE) == (*window == text.span())
        };
        let known = self.known.as_ref().map(Known::window).filter(holds);
        known.or_else(|| window(text, span))
    }

    /// Takes in what the worker has found; `text` and `feed` are those of the text as it is.
    pub fn take(&mut self, parsed: Parsed, text: &Text, feed: &ChangeFeed) {
        self.catch_up(text, feed);
        self.is_pending = false;
        self.record.failures = if parsed.known.is_none() { self.record.failures + 1 } else { 0 };
        self.record.is_given_up = parsed.known.is_none();
        let since = match feed.since(parsed.revision) {
            Since::Changes(entries) => entries,
            Since::Lost => {
                self.keep(None);
                return;
            }
        };
        if let Some(paints) = parsed.paints {
            let mut drawn = Drawn { paints, is_current: true };
            since.iter().for_each(|entry| drawn.follow(&entry.change));
            self.add_drawn(drawn);
        }
        self.keep(followed(parsed.known, &since));
    }

    /// What is known of the text as it is.
    fn current(&self) -> Option<&Layered> {
        self.known.as_ref().and_then(Known::current)
    }

    /// Puts `known` in the place of what was known.
    fn keep(&mut self, known: Option<Known>) {
        let old = std::mem::replace(&mut self.known, known);
        self.forget(old);
    }

    /// Lets the worker drop what was known: trees are large.
    fn forget(&self, old: Option<Known>) {
        if let (Some(old), Some(worker)) = (old, &self.worker) {
            let _ = worker.give(Order::Forget(Box::new(old)));
        }
    }

    /// Adds what was just drawn, in the place of what it covers.
    fn add_drawn(&mut self, drawn: Drawn) {
        self.drawn.retain(|older| !drawn.covers(older.paints.span));
        self.drawn.push(drawn);
        let dropped = self.drawn.len().saturating_sub(MOST_DRAWN);
        self.drawn.drain(..dropped);
    }

    /// The worker has panicked: another one is started when the text has changed.
    pub fn fail(&mut self) {
        self.worker = None;
        self.is_pending = false;
        self.record.failures += 1;
        self.record.is_given_up = true;
    }

    /// Whether something is being parsed.
    #[must_use]
    pub fn is_pending(&self) -> bool {
        self.is_pending
    }

    /// The structure around `span` of the text of that revision, where it is known.
    #[must_use]
    pub fn structure(&self, span: Span, revision: u64) -> Option<ParsedText> {
        let known = self.current().filter(|_| self.revision == revision).filter(|known| known.covers(span))?;
        Some(ParsedText { known: known.clone(), is_whole: self.text.len() <= WHOLE })
    }

    /// How the text of `span`, of that revision, is drawn, as far as that is known. Cost: linear in what is known of `span`.
    #[must_use]
    pub fn painted(&self, span: Span, revision: u64) -> Option<Paints> {
        if self.revision != revision {
            return None;
        }
        let newest_first = || self.drawn.iter().rev();
        let current = newest_first().filter(|drawn| drawn.is_current).find_map(|drawn| drawn.paints.within(span));
        current.or_else(|| newest_first().find_map(|drawn| drawn.paints.within(span)))
    }
}

/// The structure of `text`, parsed by the thread that asks; none where there is no grammar, or it takes longer than `limit`.
#[must_use]
pub fn parsed_now(language: &Arc<Language>, text: &Text, limit: Duration) -> Option<ParsedText> {
    if !crate::has_grammar(language) || text.len() > WHOLE {
        return None;
    }
    let known = Parsers::new(language.clone()).parse(text, text.span(), None, limit)?;
    Some(ParsedText { known, is_whole: true })
}

fn parsed(parsers: &mut Parsers, job: Job) -> Parsed {
    let known = match job.known {
        Some(known) if job.is_known => Some(known),
        old => {
            let old = old.and_then(Known::brought_up_to_date);
            let layered = parsers.parse(&job.text, job.window, old.as_ref(), job.limit);
            layered.map(|layered| Known::new(layered, job.text.clone()))
        }
    };
    let layered = known.as_ref().and_then(Known::current);
    let paints = layered.zip(job.view).map(|(layered, view)| paint::paint(layered, &job.text, view));
    Parsed { revision: job.revision, known, paints }
}

/// `known` after the changes of `entries`; none where too much changes for that.
fn followed(known: Option<Known>, entries: &[&FeedEntry]) -> Option<Known> {
    entries.iter().try_fold(known?, |known, entry| known.follow(&entry.change))
}

/// What is parsed of `text` for a request about `span`: the whole, or lines around; none where even those are too long.
fn window(text: &Text, span: Span) -> Option<Span> {
    if text.len() <= WHOLE {
        return Some(text.span());
    }
    let from = text.line_of(Byte(span.start.0.saturating_sub(WINDOW)));
    // A line that begins at the left with a word is most often the start of something whole.
    let begins = |line: &Line| text.char_at(text.line_start(*line)).is_some_and(char::is_alphabetic);
    let here = text.line_of(span.start);
    let first = (from.0..=here.0).map(Line).find(begins).unwrap_or(from);
    let last = text.line_of(Byte((span.end.0 + WINDOW).min(text.len())));
    let window = Span::new(text.line_start(first), text.line_span(last).end);
    (window.len() <= WHOLE).then_some(window)
}
