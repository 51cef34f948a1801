//! Parsing behind the back of whoever edits: a thread for each text, which sleeps unless there is something to parse.
//!
//! The thread gets a snapshot of the rope (no copy of the text) and what was known before; what it finds is brought up
//! to date with the changes that came in meanwhile, and parsed again from there. Costs of a change here: its edits.

use crate::WHEN_PARSED;
use crate::layered::{Layered, MOST_EDITS, Parsers};
use crate::paint;
use snarvel_core::changes::Change;
use snarvel_core::languages::Language;
use snarvel_core::structure::{Node, Paints, Tree};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line, Span};
use std::cell::RefCell;
use std::sync::Arc;
use std::sync::mpsc::{Receiver, Sender, channel};
use std::thread;
use std::time::{Duration, Instant};

/// Texts up to this many bytes are parsed as a whole: a grammar reads some megabytes a second.
const WHOLE: usize = 4 << 20;

/// Bytes before and after a place that are parsed around it in a larger text: a tenth of a second's work.
const WINDOW: usize = 192 << 10;

/// How long a parse may take at most.
const LIMIT: Duration = Duration::from_secs(4);

/// What the thread is to do: parse a window of a text, where that is not done yet, then paint a part of it.
struct Job {
    text: Text,
    window: Span,
    known: Option<Layered>,
    is_fresh: bool,
    view: Option<Span>,
}

/// What the thread has found.
struct Found {
    known: Option<Layered>,
    paints: Option<Paints>,
}

/// What somebody asks for.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Need {
    Nodes,
    Colours,
}

/// The tree of one text.
pub struct Behind {
    patience: Duration,
    state: RefCell<State>,
}

struct State {
    language: Arc<Language>,
    limit: Duration,
    thread: Option<(Sender<Job>, Receiver<Found>)>,
    /// What is known, brought up to date with all changes.
    known: Option<Layered>,
    /// Whether what is known is what a parse of the text as it is would find.
    is_fresh: bool,
    /// Changes since the job under way was given out; none where there is no job.
    since: Option<Vec<Later>>,
    /// Whether parsing the text as it is was given up: it took too long, or there is no thread.
    is_given_up: bool,
    /// How many parses in a row took too long.
    failures: u32,
    /// What was drawn last, moved with the changes since, and whether it is of what is known now.
    drawn: Option<Drawn>,
}

/// A change that came in while a parse was under way.
enum Later {
    Told {
        before: Text,
        change: Change,
        after: Text,
    },
    /// One of so many edits that a tree is not told of them: nor are they kept.
    TooMuch,
}

struct Drawn {
    paints: Paints,
    is_current: bool,
}

/// After so many parses in a row that took too long, a text is not parsed again.
const MOST_FAILURES: u32 = 3;

/// Bytes before and after what is drawn that are painted along, so that a line that comes into view has its colours.
const MARGIN: usize = 4 << 10;

impl std::fmt::Debug for Behind {
    fn fmt(&self, out: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(out, "Behind({})", self.state.borrow().language.name)
    }
}

impl Behind {
    /// For a text in `language`.
    pub fn new(language: Arc<Language>, patience: Duration) -> Behind {
        Behind::with_limit(language, patience, LIMIT)
    }

    /// The same, for parses that may take so long at most.
    fn with_limit(language: Arc<Language>, patience: Duration, limit: Duration) -> Behind {
        Behind { patience, state: RefCell::new(State::new(language, limit)) }
    }

    /// What `by` finds in the tree of `text` around `span`, for which it waits as long as its patience lasts.
    fn look<T: Default>(&self, text: &Text, span: Span, by: impl FnOnce(&Layered) -> T) -> T {
        let mut state = self.state.borrow_mut();
        state.wait(text, span, self.patience);
        match &state.known {
            Some(known) if state.is_fresh && known.covers(span) => by(known),
            _ => T::default(),
        }
    }
}

impl State {
    fn new(language: Arc<Language>, limit: Duration) -> State {
        State {
            language,
            limit,
            thread: None,
            known: None,
            is_fresh: false,
            since: None,
            is_given_up: false,
            failures: 0,
            drawn: None,
        }
    }

    /// Waits for a parse of `text` around `span`, at most so long.
    fn wait(&mut self, text: &Text, span: Span, patience: Duration) {
        let end = Instant::now() + patience;
        loop {
            self.take_in(Duration::ZERO);
            if !self.ask(text, span, Need::Nodes) {
                return;
            }
            let left = end.saturating_duration_since(Instant::now());
            if left.is_zero() || !self.take_in(left) {
                return;
            }
        }
    }

    /// Has the text parsed and painted around `span` where that has to be; whether there is something to wait for.
    fn ask(&mut self, text: &Text, span: Span, need: Need) -> bool {
        let is_known = self.is_fresh && self.known.as_ref().is_some_and(|known| known.covers(span));
        let is_drawn = || self.drawn.as_ref().is_some_and(|drawn| drawn.is_current && drawn.covers(span));
        if (is_known && (need == Need::Nodes || is_drawn())) || self.is_given_up {
            return false;
        }
        if self.since.is_some() {
            return true;
        }
        let holds = |window: &Span| {
            let covers = window.start <= span.start && span.end <= window.end;
            covers && (text.len() <= WHOLE) == (*window == text.span())
        };
        let known = self.known.as_ref().map(|known| known.window).filter(holds);
        let Some(window) = known.or_else(|| window(text, span)) else { return false };
        let view = (need == Need::Colours).then(|| {
            let start = Byte(span.start.0.saturating_sub(MARGIN)).max(window.start);
            Span::new(start, (span.end + MARGIN).min(window.end))
        });
        let job = Job { text: text.clone(), window, known: self.known.clone(), is_fresh: is_known, view };
        self.give(job);
        self.since.is_some()
    }

    fn give(&mut self, job: Job) {
        if self.thread.is_none() {
            self.thread = start(self.language.clone(), self.limit);
        }
        let is_given = self.thread.as_ref().is_some_and(|(jobs, _)| jobs.send(job).is_ok());
        self.since = is_given.then(Vec::new);
        self.is_given_up = !is_given;
    }

    /// Takes in what the thread has found, waiting so long for it; whether there was something.
    fn take_in(&mut self, patience: Duration) -> bool {
        let Some((_, results)) = self.thread.as_ref().filter(|_| self.since.is_some()) else { return false };
        let found = if patience.is_zero() { results.try_recv().ok() } else { results.recv_timeout(patience).ok() };
        let Some(Found { known, paints }) = found else { return false };
        let since = self.since.take().unwrap_or_default();
        self.failures = if known.is_none() { self.failures + 1 } else { 0 };
        self.is_given_up = known.is_none();
        self.is_fresh = since.is_empty() && known.is_some();
        self.known = known;
        if since.iter().any(|later| matches!(later, Later::TooMuch)) {
            // What is drawn has followed by itself.
            self.known = None;
            return true;
        }
        self.drawn = paints.map(|paints| Drawn { paints, is_current: true }).or(self.drawn.take());
        for later in &since {
            let Later::Told { before, change, after } = later else { continue };
            self.known = self.known.take().and_then(|known| known.follow(before, change, after));
            self.drawn.iter_mut().for_each(|drawn| drawn.follow(change));
        }
        true
    }
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

/// What is parsed of `text` for somebody who asks about `span`: the whole, or lines around; none where even those are
/// too long.
fn window(text: &Text, span: Span) -> Option<Span> {
    if text.len() <= WHOLE {
        return Some(text.span());
    }
    let from = text.line_of(Byte(span.start.0.saturating_sub(WINDOW)));
    // A line that stands at the left with a word is most often the start of something whole.
    let begins = |line: &Line| text.char_at(text.line_start(*line)).is_some_and(char::is_alphabetic);
    let here = text.line_of(span.start);
    let first = (from.0..=here.0).map(Line).find(begins).unwrap_or(from);
    let last = text.line_of(Byte((span.end.0 + WINDOW).min(text.len())));
    let window = Span::new(text.line_start(first), text.line_span(last).end);
    (window.len() <= WHOLE).then_some(window)
}

/// A thread that parses what it is given until nobody is left to give it something.
fn start(language: Arc<Language>, limit: Duration) -> Option<(Sender<Job>, Receiver<Found>)> {
    let (jobs, todo) = channel::<Job>();
    let (done, results) = channel();
    let work = move || {
        let mut parsers = Parsers::new(language);
        while let Ok(job) = todo.recv() {
            let known = match job.known {
                Some(known) if job.is_fresh => Some(known),
                old => parsers.parse(&job.text, job.window, old.as_ref(), limit),
            };
            let paints = known.as_ref().zip(job.view).map(|(known, view)| paint::paint(known, &job.text, view));
            if done.send(Found { known, paints }).is_err() {
                return;
            }
            WHEN_PARSED.get().iter().for_each(|call| call());
        }
    };
    thread::Builder::new().name("parser".to_owned()).spawn(work).ok()?;
    Some((jobs, results))
}

impl Tree for Behind {
    fn is_known(&self, text: &Text, span: Span) -> bool {
        self.look(text, span, |_| true)
    }

    fn around(&self, text: &Text, span: Span) -> Vec<Node> {
        self.look(text, span, |known| known.around(span))
    }

    fn children(&self, text: &Text, node: Node) -> Vec<Node> {
        self.look(text, node.span, |known| known.children(node))
    }

    fn all(&self, text: &Text, wanted: fn(Node) -> bool) -> Vec<Node> {
        // A window's nodes would look like all there are.
        if text.len() > WHOLE {
            return Vec::new();
        }
        self.look(text, text.span(), |known| known.all(wanted))
    }

    fn painted(&self, text: &Text, span: Span) -> Option<Paints> {
        let mut state = self.state.borrow_mut();
        state.take_in(Duration::ZERO);
        state.ask(text, span, Need::Colours);
        state.drawn.as_ref().and_then(|drawn| drawn.paints.within(span))
    }

    fn follow(&mut self, before: &Text, change: &Change, after: &Text) {
        let state = self.state.get_mut();
        state.take_in(Duration::ZERO);
        state.is_fresh = false;
        state.is_given_up = state.failures >= MOST_FAILURES;
        state.known = state.known.take().and_then(|known| known.follow(before, change, after));
        if let Some(since) = &mut state.since {
            since.push(match change.edits().len() > MOST_EDITS {
                true => Later::TooMuch,
                false => Later::Told { before: before.clone(), change: change.clone(), after: after.clone() },
            });
        }
        state.drawn.iter_mut().for_each(|drawn| drawn.follow(change));
    }

    fn settle(&self, text: &Text) {
        let mut state = self.state.borrow_mut();
        let here = state.known.as_ref().map_or(Byte(0), |known| known.window.start);
        state.wait(text, Span::at(here), 2 * LIMIT);
        if state.since.is_some() {
            state.take_in(2 * LIMIT);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_core::changes::ChangeBuilder;
    use snarvel_core::languages::by_name;

    /// Longer than any of the parses here takes on the slowest machine.
    const PATIENCE: Duration = Duration::from_mins(1);

    fn source() -> Text {
        Text::from("fn sound(level: i32) -> i32 { level * 2 }\n".repeat(5_000).as_str())
    }

    fn edited(tree: &mut Behind, text: &mut Text) {
        let mut builder = ChangeBuilder::new(text);
        builder.insert(Byte(0), "x");
        let change = builder.finish();
        let before = text.clone();
        text.apply(&change);
        tree.follow(&before, &change, text);
    }

    #[test]
    fn a_grammar_that_takes_too_long_is_tried_again_a_few_times_and_then_given_up() {
        let mut tree = Behind::with_limit(by_name("rust").unwrap(), PATIENCE, Duration::ZERO);
        let mut text = source();
        for _ in 0..MOST_FAILURES + 2 {
            assert!(!tree.is_known(&text, Span::at(Byte(0))));
            assert!(tree.around(&text, Span::at(Byte(3))).is_empty());
            edited(&mut tree, &mut text);
        }
        assert_eq!(tree.state.borrow().failures, MOST_FAILURES);
        assert_eq!(tree.painted(&text, Span::new(Byte(0), Byte(100))), None);
    }

    #[test]
    fn nobody_waits_who_does_not_ask_for_nodes() {
        let mut tree = Behind::new(by_name("rust").unwrap(), PATIENCE);
        let mut text = source();
        let view = Span::new(Byte(0), Byte(100));
        assert_eq!(tree.painted(&text, view), None, "asked for, not waited for");
        tree.settle(&text);
        let painted = tree.painted(&text, view).unwrap();
        edited(&mut tree, &mut text);
        let moved = tree.painted(&text, view).unwrap();
        assert_eq!(moved.list[0].span.start, painted.list[0].span.start + 1, "the colours of before, moved along");
        tree.settle(&text);
        assert!(tree.painted(&text, view).is_some());
    }

    #[test]
    fn many_edits_while_a_parse_is_under_way_lead_to_the_tree_of_the_text() {
        let mut tree = Behind::new(by_name("rust").unwrap(), PATIENCE);
        let mut text = source();
        tree.painted(&text, Span::new(Byte(0), Byte(100)));
        let mut builder = ChangeBuilder::new(&text);
        (0..=MOST_EDITS).for_each(|line| builder.insert(text.line_start(Line(line)), "pub "));
        let change = builder.finish();
        let before = text.clone();
        text.apply(&change);
        tree.follow(&before, &change, &text);
        let kinds: Vec<&str> = tree.around(&text, Span::at(Byte(1))).iter().map(|node| node.kind).collect();
        assert!(kinds.contains(&"visibility_modifier"), "{kinds:?}");
    }

    #[test]
    fn a_line_too_long_for_a_window_has_no_nodes() {
        let tree = Behind::new(by_name("json").unwrap(), PATIENCE);
        let text = Text::from(format!("[{}]", "1, ".repeat(WHOLE)).as_str());
        assert!(!tree.is_known(&text, Span::at(Byte(1000))));
        assert_eq!(tree.painted(&text, Span::new(Byte(0), Byte(100))), None);
    }
}
