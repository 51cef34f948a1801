//! No grammar may end the process: each is given its own words, nested as deep and repeated as often as a hostile text could, beside
//! characters of all sizes and mixed at random. The code of a grammar can abort, so every grammar is tried in a process of its own.

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

/// Characters of one to four bytes, the first and the last of each size among them.
const ODD: [&str; 14] = [
    "\0",
    "\u{7f}",
    "\u{80}",
    "é",
    "ÿ",
    "Ā",
    "\u{7ff}",
    "\u{800}",
    "漢",
    "\u{2028}",
    "\u{ffff}",
    "👩",
    "\u{e0041}",
    "\u{10ffff}",
];

/// Texts in which `word` is beside odd characters.
fn beside_odd(word: &str) -> Vec<String> {
    let each = ODD.map(|odd| format!("{word}{odd}{word}1{odd} {odd}{word}\n"));
    each.iter().cloned().chain([each.concat()]).collect()
}

/// So many texts are mixed at random of the words of a grammar.
const MIXED: usize = 400;

/// Texts of words and odd characters in any order, the same in each run.
fn mixed(words: &[String]) -> impl Iterator<Item = String> {
    // A linear congruential generator (Knuth, The Art of Computer Programming, volume 2, section 3.3.4).
    let mut state = 1u64;
    let mut below = move |count: usize| {
        state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (state >> 33) as usize % count
    };
    let others = ["\n", " ", "\t", "\r\n", "x", "1"];
    (0..MIXED).map(move |_| {
        let mut piece = |_| match below(4) {
            0 => ODD[below(ODD.len())],
            1 => others[below(others.len())],
            _ => words[below(words.len())].as_str(),
        };
        (0..60).map(&mut piece).collect::<String>()
    })
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
    let mut parse = |text: &str| {
        let text = Text::from(text);
        let _ = parsers.parse(&text, text.span(), None, Duration::from_millis(20));
    };
    let words = words(name);
    for word in &words {
        for (form, text) in nested(word).into_iter().chain(beside_odd(word)).enumerate() {
            eprintln!("{form} {:?}", &word[..word.floor_char_boundary(30)]);
            parse(&text);
        }
    }
    for text in mixed(&words) {
        eprintln!("{text:?}");
        parse(&text);
    }
}
