//! Finding: hits in a text, looked for on a thread of their own, so that no key waits.
//!
//! Hits come in as they are found, in the order of the text; what each stands in (code, string, comment) comes after all
//! of them are found. Dropping a finding stops it.

use crate::panels::sift::index_of;
use crate::wake::Waker;
use snarvel_core::languages::Language;
use snarvel_core::languages::lexical::Lexical;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::search::pattern::{Pattern, kinds_of};
use snarvel_core::text::Text;
use snarvel_core::units::Span;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{Receiver, Sender, channel};
use std::thread;
use std::time::Duration;

/// How long a key waits for what it looks for: a small text is searched by then, so that nothing flickers.
const PATIENCE: Duration = Duration::from_millis(8);

/// Hits whose kinds are told in one go.
const KINDS_AT_ONCE: usize = 1 << 20;

/// The most hits that are kept: more than anybody would make cursors of.
const MOST_HITS: usize = 5_000_000;

enum Found {
    Hits(Vec<Span>),
    Kinds(Vec<Kind>),
    Done { is_cut: bool },
}

/// Hits in a text.
#[derive(Debug)]
pub struct Finding {
    receiver: Receiver<Found>,
    stop: Arc<AtomicBool>,
    /// The hits so far, in order.
    pub hits: Vec<Span>,
    /// What they stand in, for the first so many.
    pub kinds: Vec<Kind>,
    /// How many of those stand in code, strings and comments.
    pub by_kind: [usize; 3],
    /// Whether nothing more comes.
    pub is_done: bool,
    /// Whether there are more than are kept.
    pub is_cut: bool,
}

impl Finding {
    /// Looks for `pattern` in `spans` of `text`, which is in `language`.
    pub fn start(
        pattern: Arc<Pattern>,
        text: Text,
        spans: Vec<Span>,
        language: Arc<Language>,
        waker: Waker,
    ) -> Finding {
        let (sender, receiver) = channel();
        let stop = Arc::new(AtomicBool::new(false));
        let search = Search { pattern, text, language, sender, stop: stop.clone(), waker };
        thread::spawn(move || search.run(&spans));
        let mut finding = Finding {
            receiver,
            stop,
            hits: Vec::new(),
            kinds: Vec::new(),
            by_kind: [0; 3],
            is_done: false,
            is_cut: false,
        };
        finding.wait(PATIENCE);
        finding
    }

    /// Takes in what was found meanwhile.
    pub fn gather(&mut self) {
        while let Ok(found) = self.receiver.try_recv() {
            self.take(found);
        }
    }

    /// Takes in all that is found.
    pub fn settle(&mut self) {
        while !self.is_done {
            match self.receiver.recv() {
                Ok(found) => self.take(found),
                Err(_) => self.is_done = true,
            }
        }
    }

    fn wait(&mut self, patience: Duration) {
        let until = std::time::Instant::now() + patience;
        while let Some(left) = until.checked_duration_since(std::time::Instant::now()) {
            match self.receiver.recv_timeout(left) {
                Ok(found) => self.take(found),
                Err(_) => return,
            }
            if self.is_done {
                return;
            }
        }
    }

    fn take(&mut self, found: Found) {
        match found {
            Found::Hits(hits) => self.hits.extend(hits),
            Found::Kinds(kinds) => {
                kinds.iter().for_each(|kind| self.by_kind[index_of(*kind)] += 1);
                self.kinds.extend(kinds);
            }
            Found::Done { is_cut } => (self.is_done, self.is_cut) = (true, is_cut),
        }
    }
}

impl Drop for Finding {
    fn drop(&mut self) {
        self.stop.store(true, Ordering::Relaxed);
    }
}

struct Search {
    pattern: Arc<Pattern>,
    text: Text,
    language: Arc<Language>,
    sender: Sender<Found>,
    stop: Arc<AtomicBool>,
    waker: Waker,
}

impl Search {
    fn run(&self, spans: &[Span]) {
        let rule = self.language.word_rule();
        let mut all: Vec<Span> = Vec::new();
        for &span in spans {
            let mut from = span.start;
            loop {
                let stretch = self.pattern.stretch(&self.text, from, span);
                let hits = self.pattern.hits(&self.text, stretch, span, rule);
                all.extend_from_slice(&hits);
                from = Pattern::behind(stretch, &hits);
                if self.tell(Found::Hits(hits)) || all.len() > MOST_HITS {
                    break;
                }
                if from >= span.end {
                    break;
                }
            }
        }
        let lexical = Lexical::new(self.language.clone());
        let syntax = lexical.of(&self.text);
        for hits in all.chunks(KINDS_AT_ONCE) {
            let kinds = kinds_of(&self.text, &syntax, hits);
            if self.tell(Found::Kinds(kinds)) {
                return;
            }
        }
        self.tell(Found::Done { is_cut: all.len() > MOST_HITS });
    }

    /// Hands something on; whether nobody wants any more.
    fn tell(&self, found: Found) -> bool {
        let is_over = self.stop.load(Ordering::Relaxed) || self.sender.send(found).is_err();
        if !is_over {
            self.waker.wake();
        }
        is_over
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_core::languages::by_name;
    use snarvel_core::search::pattern::Wish;

    #[test]
    fn hits_come_with_what_they_stand_in() {
        let text = Text::from("let tide = \"tide\"; // tide\n");
        let pattern = Pattern::new(Wish { what: "tide".to_owned(), ..Wish::default() }).unwrap();
        let span = text.span();
        let rust = by_name("rust").unwrap();
        let mut finding = Finding::start(Arc::new(pattern), text, vec![span], rust, Waker::default());
        finding.settle();
        assert_eq!(finding.hits.len(), 3);
        assert_eq!(finding.kinds, [Kind::Code, Kind::String, Kind::Comment]);
        assert!(finding.is_done && !finding.is_cut && finding.by_kind == [1, 1, 1]);
    }
}
