//! Programs in a pty: what they draw, what they read, their size and their end.

use snarvel_shell::picture::Picture;
use snarvel_shell::session::{Exit, News, Session, Start};
use std::sync::Arc;
use std::sync::mpsc::{Receiver, channel};
use std::time::{Duration, Instant};

const LONGEST: Duration = Duration::from_mins(1);

fn start(command: &str, size: [u16; 2]) -> (Session, Receiver<News>) {
    let (send, news) = channel();
    let start = Start {
        program: "/bin/sh".to_owned(),
        arguments: vec!["-c".to_owned(), command.to_owned()],
        folder: std::env::temp_dir(),
        size,
    };
    (Session::start(&start, move |news| drop(send.send(news))).unwrap(), news)
}

/// Waits until the picture is as wanted.
fn until(session: &Session, news: &Receiver<News>, wanted: impl Fn(&Picture) -> bool) -> Arc<Picture> {
    let began = Instant::now();
    loop {
        let picture = session.picture();
        if wanted(&picture) {
            return picture;
        }
        assert!(began.elapsed() < LONGEST, "it shows:\n{}", picture.text());
        let _ = news.recv_timeout(Duration::from_millis(200));
    }
}

fn exit(news: &Receiver<News>) -> Exit {
    loop {
        if let News::Ended(exit) = news.recv_timeout(LONGEST).unwrap() {
            return exit;
        }
    }
}

#[test]
fn it_is_given_keys_has_a_size_and_an_exit_code() {
    let (session, news) = start("stty size; read -r line; echo \"got $line\"; stty size; exit 3", [7, 33]);
    until(&session, &news, |picture| picture.text().starts_with("7 33"));
    session.resize([9, 44]);
    session.give(b"ebb\r".to_vec());
    let picture = until(&session, &news, |picture| picture.text().contains("9 44"));
    assert!(picture.text().contains("got ebb"), "{}", picture.text());
    assert_eq!(picture.rows.len(), 9);
    assert_eq!(exit(&news).code, 3);
    assert!(session.has_ended());
    // What has ended can still be looked at.
    session.ask_text();
    let text = loop {
        if let News::Text(text) = news.recv_timeout(LONGEST).unwrap() {
            break text;
        }
    };
    assert!(text.starts_with("7 33") && text.ends_with("9 44"), "{text}");
}

#[test]
fn a_question_is_answered_to_the_program_and_to_nobody_else() {
    let (session, news) =
        start("stty raw -echo; printf '\\033[6n'; dd bs=1 count=6 2>/dev/null | tr '\\033' E", [5, 20]);
    until(&session, &news, |picture| picture.text().contains("E[1;1R"));
    assert_eq!(exit(&news).code, 0);
}

#[test]
fn much_output_takes_no_memory_and_its_end_is_seen() {
    // Megabytes, an endless line among them, binary as well: more than may wait.
    let command = "head -c 3000000 /dev/zero | tr '\\0' x; head -c 1000000 /dev/urandom; yes tide | head -c 3000000; printf '\\033c\\033[?1049l'; echo over";
    let (session, news) = start(command, [24, 80]);
    until(&session, &news, |picture| picture.text().lines().any(|line| line == "over"));
    assert_eq!(exit(&news).code, 0);
}

#[test]
fn what_does_not_want_to_end_is_ended() {
    let (session, news) = start("trap '' HUP INT TERM; echo ready; while :; do sleep 1; done", [5, 20]);
    until(&session, &news, |picture| picture.text().contains("ready"));
    session.end();
    assert!(exit(&news).signal.is_some());
    // What leaves a child with its terminal is over when it is over itself.
    let (_session, news) = start("(trap '' HUP; sleep 3) & echo over", [5, 20]);
    let began = Instant::now();
    exit(&news);
    assert!(began.elapsed() < Duration::from_secs(3));
}

#[test]
fn what_is_not_there_is_said() {
    let start = Start {
        program: "no-such-program".to_owned(),
        arguments: Vec::new(),
        folder: std::env::temp_dir(),
        size: [5, 20],
    };
    let error = Session::start(&start, |_| ()).unwrap_err();
    assert!(error.starts_with("no-such-program cannot be started"), "{error}");
}

#[test]
fn places_are_read_while_it_runs() {
    let folder = tempfile::tempdir().unwrap();
    std::fs::write(folder.path().join("tide.c"), "").unwrap();
    let command = format!(
        "cd {}; printf '{}/tide.c:3:5: error: dry\\n'; exit 1",
        folder.path().display(),
        folder.path().display()
    );
    let (_session, news) = start(&command, [5, 20]);
    let places = loop {
        if let News::Places(places) = news.recv_timeout(LONGEST).unwrap() {
            break places;
        }
    };
    assert_eq!((places[0].line, places[0].message.as_str()), (3, "dry"));
}
