//! Servers that misbehave: whatever they do, questions end, nothing panics, and it is told once in plain words.

use snarvel_core::changes::ChangeBuilder;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_servers::ask::{Ask, At, Find, Indent};
use snarvel_servers::exchange::{Input, Profile};
use snarvel_servers::life::{Launch, Server};
use snarvel_servers::news::{Answer, FileFaults, News, State};
use snarvel_task::Report;
use std::path::PathBuf;
use std::sync::Arc;
use std::sync::mpsc::{Receiver, channel};
use std::time::{Duration, Instant};

const DEADLINE: Duration = Duration::from_mins(1);

/// The scripted server, which cargo builds beside the tests.
fn scripted() -> PathBuf {
    let mut path = std::env::current_exe().unwrap();
    path.pop();
    path.pop();
    let path = path.join("examples/scripted_server");
    assert!(path.exists(), "{} is built by cargo test --workspace", path.display());
    path
}

struct Talk {
    folder: tempfile::TempDir,
    server: Server,
    news: Receiver<Report<News>>,
    told: Vec<String>,
    states: Vec<State>,
}

const TEXT: &str = "int wrong = 1; 🌊\nint level = 2;\n";

impl Talk {
    fn with(how: &str) -> Talk {
        let folder = tempfile::tempdir().unwrap();
        std::fs::write(folder.path().join("a.c"), TEXT).unwrap();
        let (sender, news) = channel();
        let root = folder.path().to_owned();
        let launch = Launch {
            profile: Profile { name: "scripted".to_owned(), root, settings: serde_json::Value::Null },
            command: scripted(),
            args: vec![how.to_owned()],
            env: Vec::new(),
        };
        let server = Server::start(launch, Box::new(move |report| drop(sender.send(report))));
        let talk = Talk { folder, server, news, told: Vec::new(), states: Vec::new() };
        talk.server.give(Input::Open {
            path: talk.path(),
            language: "c".to_owned(),
            text: Text::from(TEXT),
            revision: 0,
        });
        talk
    }

    fn path(&self) -> PathBuf {
        self.folder.path().join("a.c")
    }

    fn at(&self, byte: usize) -> At {
        At { path: self.path(), byte: Byte(byte) }
    }

    /// The first news that `want` takes.
    fn until<T>(&mut self, mut want: impl FnMut(&mut Talk, News) -> Option<T>) -> T {
        let until = Instant::now() + DEADLINE;
        loop {
            let left = until.saturating_duration_since(Instant::now());
            let news = match self.news.recv_timeout(left) {
                Ok(Report::News(news)) => news,
                other => panic!("{other:?} after {:?} {:?}", self.states, self.told),
            };
            match &news {
                News::Told(said) => self.told.push(said.clone()),
                News::State(state) => self.states.push(state.clone()),
                _ => {}
            }
            if let Some(found) = want(self, news) {
                return found;
            }
        }
    }

    fn ask(&mut self, number: u64, ask: Ask) -> Answer {
        self.server.give(Input::Ask(number, ask));
        self.until(|_, news| match news {
            News::Answer(other, answer) if other == number => Some(answer),
            _ => None,
        })
    }

    fn hover(&mut self) -> Answer {
        let at = self.at(4);
        self.ask(1, Ask::Describe(at))
    }

    fn faults(&mut self) -> Vec<FileFaults> {
        self.until(|talk, news| matches!(news, News::Faults).then(|| talk.server.mailbox.take_faults()))
    }
}

fn described(answer: Answer) -> String {
    match answer {
        Answer::Text(text) => text,
        Answer::Refused(why) => format!("refused: {why}"),
        other => format!("{other:?}"),
    }
}

#[test]
fn a_good_server_answers_in_terms_of_our_texts() {
    for how in ["good", "utf-8", "full-sync", "slow"] {
        let mut talk = Talk::with(how);
        let faults = talk.faults();
        assert_eq!((faults[0].list[0].span.start, faults[0].counts), (Byte(4), [1, 0, 0]), "{how}");
        assert_eq!(described(talk.hover()), "**wrong** is a word", "{how}");
        let text = Text::from(TEXT);
        let mut builder = ChangeBuilder::new(&text);
        builder.insert(Byte(0), "é ");
        builder.insert(Byte(20), "x");
        let change = Arc::new(builder.finish());
        talk.server.give(Input::Change(talk.path(), vec![change], 1));
        let faults = talk.faults();
        assert_eq!((faults[0].list[0].span.start, faults[0].revision), (Byte(7), Some(1)), "{how}");
        let at = talk.at(7);
        let Answer::Places(places) = talk.ask(2, Ask::Find(Find::Uses, at)) else { panic!("{how}") };
        assert_eq!(places[0].hits[0].span.start, Byte(7), "{how}");
        let at = talk.at(7);
        let Answer::Edits(edits) = talk.ask(3, Ask::Rename(at, "right".to_owned())) else { panic!("{how}") };
        assert_eq!(edits.files[0].edits[0].1, "right", "{how}");
        let path = talk.path();
        assert!(matches!(talk.ask(4, Ask::Format(path, None, Indent::Spaces(4))), Answer::Edits(_)), "{how}");
        let at = talk.at(0);
        assert!(matches!(talk.ask(5, Ask::Highlights(at)), Answer::Refused(_)), "{how}");
    }
}

#[test]
fn what_is_no_answer_is_refused_or_empty() {
    for (how, expected) in [
        ("errors", "refused: scripted: the tide is out"),
        ("wrong-types", ""),
        ("answers-twice", ""),
        ("unknown-methods", "**wrong** is a word"),
        ("invalid-utf8", "**wrong** is a word"),
        ("no-json", "**wrong** is a word"),
        ("request-storm", "**wrong** is a word"),
        ("message-storm", "**wrong** is a word"),
        ("question-storm", "**wrong** is a word"),
        ("endless-progress", "**wrong** is a word"),
        ("edits-overlapping", "**wrong** is a word"),
        ("edits-old-version", "**wrong** is a word"),
        ("edits-nowhere", "**wrong** is a word"),
        ("edit-storm", "**wrong** is a word"),
        ("stale-diagnostics", "**wrong** is a word"),
        ("wrong-diagnostics", "**wrong** is a word"),
        ("diagnostics-storm", "**wrong** is a word"),
        ("never-ends", "**wrong** is a word"),
    ] {
        let mut talk = Talk::with(how);
        assert_eq!(described(talk.hover()), expected, "{how}");
        assert!(talk.told.len() <= 2, "{how} is told too often: {:?}", talk.told);
        let began = Instant::now();
        talk.server.end(Duration::from_secs(10));
        assert!(began.elapsed() < Duration::from_secs(5), "{how} does not end");
    }
}

#[test]
fn a_server_that_cannot_be_read_any_more_is_started_again_some_times() {
    for how in
        ["garbage", "wrong-length", "no-length", "huge-length", "crash-mid-message", "crash-at-start", "greets-wrongly"]
    {
        let mut talk = Talk::with(how);
        let why = talk.until(|talk, _| match talk.states.last() {
            Some(State::Failed(why)) => Some(why.clone()),
            _ => None,
        });
        let starts = talk.states.iter().filter(|state| **state == State::Starting).count();
        let most = if how == "greets-wrongly" { 1 } else { 4 };
        assert_eq!(starts, most, "{how}: {why}");
        // Each kind of trouble is told once.
        let mut kinds: Vec<&str> = talk.told.iter().filter_map(|said| said.split(':').next()).collect();
        kinds.sort_unstable();
        kinds.dedup();
        assert!(talk.told.len() <= 2 && kinds.len() == talk.told.len(), "{how}: {:?}", talk.told);
        assert!(described(talk.hover()).contains("does not run"), "{how}");
    }
}

#[test]
fn a_crash_in_the_middle_refuses_what_was_asked_and_the_texts_are_told_again() {
    let mut talk = Talk::with("crash-when-asked");
    assert_eq!(talk.faults()[0].list.len(), 1);
    assert_eq!(described(talk.hover()), "refused: scripted has ended");
    assert_eq!(talk.faults()[0].list.len(), 1, "after the restart");
    assert_eq!(talk.told.len(), 1, "{:?}", talk.told);
}

#[test]
fn silence_is_told_and_refused_after_a_while() {
    let mut talk = Talk::with("silent");
    let began = Instant::now();
    assert_eq!(described(talk.hover()), "refused: scripted does not answer");
    assert!(began.elapsed() >= Duration::from_secs(4));
    if !talk.states.contains(&State::Silent) {
        talk.until(|talk, _| talk.states.contains(&State::Silent).then_some(()));
    }
    assert_eq!(talk.states.iter().filter(|state| **state == State::Silent).count(), 1);
}

#[test]
fn large_answers_are_taken_and_no_more_faults_kept_than_help() {
    let mut talk = Talk::with("huge-answer");
    let Answer::Text(text) = talk.hover() else { panic!("no text") };
    assert_eq!(text.len(), 50 << 20);
    let mut talk = Talk::with("many-diagnostics");
    let faults = talk.faults().remove(0);
    assert_eq!((faults.list.len(), faults.counts), (5_000, [25_000, 25_000, 50_000]));
}

#[test]
fn what_is_wrong_in_a_list_of_diagnostics_is_left_out() {
    let mut talk = Talk::with("wrong-diagnostics");
    let faults = talk.faults();
    let messages: Vec<&str> = faults[0].list.iter().map(|fault| fault.message.as_str()).collect();
    assert_eq!(messages, ["", "right"]);
}

#[test]
fn edits_that_a_server_wants_are_checked_and_answered() {
    let mut talk = Talk::with("edits-beyond");
    let (number, edits) = talk.until(|_, news| match news {
        News::WantsEdits(number, edits) => Some((number, edits)),
        _ => None,
    });
    assert_eq!(edits.files[0].edits[0].0.start, Byte(TEXT.len()));
    talk.server.give(Input::Applied(number, Err("not now".to_owned())));
    assert_eq!(described(talk.hover()), "**wrong** is a word");
}

#[test]
fn a_question_of_a_server_is_answered_or_left() {
    let mut talk = Talk::with("asks");
    let (number, choices) = talk.until(|_, news| match news {
        News::Question { number, choices, .. } => Some((number, choices)),
        _ => None,
    });
    assert_eq!(choices, ["Yes", "No"]);
    talk.server.give(Input::Chosen(number, Some("Yes".to_owned())));
    talk.server.give(Input::Chosen(number, None));
    assert_eq!(described(talk.hover()), "**wrong** is a word");
}

#[test]
fn an_answer_for_a_text_that_has_changed_since_is_stale() {
    let mut talk = Talk::with("slow");
    let _ = talk.faults();
    let at = talk.at(4);
    talk.server.give(Input::Ask(9, Ask::Describe(at)));
    let text = Text::from(TEXT);
    let mut builder = ChangeBuilder::new(&text);
    builder.insert(Byte(0), " ");
    talk.server.give(Input::Change(talk.path(), vec![Arc::new(builder.finish())], 1));
    let answer = talk.until(|_, news| match news {
        News::Answer(9, answer) => Some(answer),
        _ => None,
    });
    assert!(matches!(answer, Answer::Stale), "{answer:?}");
}
