//! No grammar may end the process: each is given its own words, nested as deep and repeated as often as a hostile text could. The
//! code of a grammar can abort, so every grammar is tried in a process of its own.

use crate::grammars::{Grammar, NAMES};
use crate::layered::Parsers;
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use std::process::Command;
use std::time::Duration;

/// The grammar that a process started by this test is to try.
const WHICH: &str = "SNARVEL_NESTED_GRAMMAR";

/// How often a word comes again.
const TIMES: usize = 300;

/// The words of a grammar: its marks and keywords, and some that its scanner in C may remember.
fn words(name: &str) -> Vec<String> {
    let language = &Grammar::of(name).unwrap().language;
    let count = u16::try_from(language.node_kind_count()).unwrap();
    let own = (0..count).filter(|id| !language.node_kind_is_named(*id) && language.node_kind_is_visible(*id));
    let mut words: Vec<String> = own.filter_map(|id| language.node_kind_for_id(id)).map(str::to_owned).collect();
    let long = "A".repeat(2_000);
    words.extend(
        [
            "- ", "a: ", "? ", "> ", "<<A\n", "<a>", "<a><p>", "R\"", "r#\"", "%w(", "#{", "${", "$(", "\"", "'", "`",
            "{", "[", "(", "1. ", "```\n", "# ",
        ]
        .map(str::to_owned),
    );
    words.extend(["<<X", "<X>", "R\"X(", "[=X[", "$X$", "<<~X\n", "q{X", "~s(X"].map(|form| form.replace('X', &long)));
    words.sort();
    words.dedup();
    words
}

/// Texts in which `word` is nested: on one line, with white space, deeper and deeper on lines of its own, each time another one.
fn nested(word: &str) -> Vec<String> {
    let lines = |line: &dyn Fn(usize) -> String| {
        (0..TIMES).flat_map(|depth| [line(depth), "\n".to_owned()]).collect::<String>()
    };
    vec![
        word.repeat(TIMES),
        format!("{word} ").repeat(TIMES),
        lines(&|depth| " ".repeat(depth) + word),
        lines(&|depth| format!("{0}if x:\n{0} {word}", " ".repeat(depth))),
        lines(&|depth| format!("{word}N{depth}")),
        format!("{word}({{[").repeat(TIMES),
    ]
}

#[test]
fn no_grammar_ends_the_process() {
    if let Ok(name) = std::env::var(WHICH) {
        try_grammar(&name);
        return;
    }
    let (one, other) = NAMES.split_at(NAMES.len() / 2);
    let broken = std::thread::scope(|scope| {
        let halves =
            [one, other].map(|names| scope.spawn(|| names.iter().filter_map(|name| broken_by(name)).collect()));
        halves.map(|half| -> Vec<String> { half.join().unwrap() }).concat()
    });
    assert!(broken.is_empty(), "{}", broken.join("\n\n"));
}

/// How a process that tries a grammar ended, where that was not well, and the text with which it did.
fn broken_by(name: &str) -> Option<String> {
    let test = "nesting::no_grammar_ends_the_process";
    let mut command = Command::new(std::env::current_exe().unwrap());
    let out = command.args([test, "--exact", "--nocapture"]).env(WHICH, name).output().unwrap();
    let said = String::from_utf8_lossy(&out.stderr);
    let from = said.ceil_char_boundary(said.len().saturating_sub(600));
    (!out.status.success()).then(|| format!("{name}: {} …{}", out.status, &said[from..]))
}

fn try_grammar(name: &str) {
    let mut parsers = Parsers::new(by_name(name).unwrap());
    for word in words(name) {
        for (form, text) in nested(&word).into_iter().enumerate() {
            eprintln!("{form} {:?}", &word[..word.floor_char_boundary(30)]);
            let text = Text::from(text.as_str());
            let _ = parsers.parse(&text, text.span(), None, Duration::from_millis(20));
        }
    }
}
