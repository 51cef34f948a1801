//! Lookup: which verb is meant by everyday words.
//!
//! Each word that is asked for counts by where a verb has it: in its name, its label, its everyday words, its sentence;
//! as a whole word, as a beginning, or as a word that means the same. Verbs that answer to more of the words come first.

use super::{VERBS, Verb};
use std::cmp::Reverse;
use std::collections::HashMap;
use std::sync::LazyLock;

/// Words that mean the same when people speak of editing.
const ALIKE: &[&[&str]] = &[
    &["delete", "remove", "erase", "kill", "drop", "clear", "rid"],
    &["line", "row"],
    &["duplicate", "copy", "clone", "repeat", "double"],
    &["carry", "move", "shift", "swap", "push", "exchange", "transpose", "switch"],
    &["up", "above", "before", "over", "previous", "back", "backward", "top"],
    &["down", "below", "after", "under", "next", "forward", "bottom"],
    &["select", "mark", "highlight", "pick"],
    &["find", "search", "look", "seek", "locate", "grep"],
    &["replace", "substitute", "exchange"],
    &["comment", "disable", "off", "hash", "slash"],
    &["uncomment", "enable"],
    &["join", "merge", "combine", "concatenate", "glue", "fuse"],
    &["split", "break", "cut", "separate", "divide"],
    &["indent", "deeper", "tabulate", "in"],
    &["outdent", "unindent", "dedent", "shallower", "out"],
    &["cursor", "caret", "insertion"],
    &["many", "multiple", "multi", "several", "more"],
    &["all", "every", "everything", "each", "whole"],
    &["match", "occurrence", "instance", "hit", "use"],
    &["undo", "revert", "mistake", "oops"],
    &["redo", "again"],
    &["save", "write", "store"],
    &["open", "load"],
    &["close", "shut"],
    &["quit", "exit", "leave", "end"],
    &["column", "rectangle", "box", "vertical", "rectangular"],
    &["block", "paragraph", "function", "section"],
    &["fold", "collapse", "hide"],
    &["unfold", "expand", "show"],
    &["surround", "wrap", "enclose", "bracket", "parenthesis", "quote", "parenthesise"],
    &["sort", "order", "arrange", "alphabetical"],
    &["unique", "dedupe", "distinct"],
    &["reverse", "invert", "flip"],
    &["upper", "uppercase", "capital", "capitals"],
    &["lower", "lowercase", "small"],
    &["rename", "refactor"],
    &["outline", "symbol", "structure", "contents"],
    &["go", "jump", "goto"],
    &["bookmark", "mark", "flag"],
    &["key", "shortcut", "keyboard", "binding", "hotkey"],
    &["new", "create", "insert", "add"],
    &["blank", "empty"],
    &["clipboard", "clip"],
    &["history", "trail", "past", "earlier"],
    &["begin", "start", "beginning", "home"],
    &["number", "count", "enumerate", "numbers"],
    &["align", "pad", "tabulate"],
    &["wrap", "reflow", "fill"],
    &["trim", "strip"],
    &["widen", "grow", "enlarge", "expand", "more"],
    &["narrow", "shrink", "less"],
];

/// How much a word counts where a verb has it.
const IN_NAME: u32 = 12;
const IN_WORDS: u32 = 10;
const IN_SENTENCE: u32 = 4;

/// What a word counts as, of what it would as it is: with the start alone, or as a word like it.
const BEGINNING: [u32; 2] = [3, 4];
const LIKENESS: [u32; 2] = [2, 3];

/// Something that can be looked up.
#[derive(Clone, Copy, Debug)]
pub struct Described<'a> {
    /// Its name.
    pub name: &'a str,
    /// What else it is called.
    pub label: &'a str,
    /// Everyday words that find it.
    pub phrases: &'a [&'a str],
    /// What is said of it.
    pub sentence: &'a str,
}

/// The verbs that `asked` may mean, the likeliest first; all of them, in the table's order, where nothing is asked.
#[must_use]
pub fn look_up(asked: &str) -> Vec<&'static Verb> {
    if words(asked).is_empty() {
        return VERBS.iter().collect();
    }
    let mut found: Vec<(u32, &'static Verb)> =
        VERBS.iter().map(|verb| (likelihood(verb.described(), asked), verb)).filter(|(score, _)| *score > 0).collect();
    found.sort_by_key(|(score, _)| Reverse(*score));
    found.into_iter().map(|(_, verb)| verb).collect()
}

impl Verb {
    /// It as something that can be looked up.
    #[must_use]
    pub fn described(&self) -> Described<'static> {
        Described { name: self.name, label: self.label, phrases: self.words, sentence: self.sentence }
    }
}

/// How likely `asked` means this; 0 where it does not. Whoever is meant by name comes first.
#[must_use]
pub fn likelihood(described: Described, asked: &str) -> u32 {
    let typed = asked.to_lowercase();
    let asked: Vec<String> = words(asked);
    if asked.is_empty() {
        return 0;
    }
    let phrases: Vec<Vec<String>> = described.phrases.iter().map(|phrase| words(phrase)).collect();
    let name = words(&format!("{} {}", described.name, described.label));
    let sentence = words(described.sentence);
    let mut answered = 0;
    let mut score = 0;
    for word in &asked {
        let in_words = phrases.iter().map(|phrase| weight(word, phrase)).max().unwrap_or(0);
        let best = (weight(word, &name) * IN_NAME).max(in_words * IN_WORDS).max(weight(word, &sentence) * IN_SENTENCE);
        answered += u32::from(best > 0);
        score += best;
    }
    // A phrase that matches every word is what was meant.
    let whole = |phrase: &Vec<String>| asked.iter().all(|word| weight(word, phrase) > 0);
    let fitting = phrases.iter().chain([&name]).filter(|phrase| whole(phrase));
    let closest = fitting.map(|phrase| WHOLE * asked.len() as u32 / phrase.len().max(1) as u32).max().unwrap_or(0);
    let by_name = match () {
        // Words that say nothing are left out of both names of `surround` and `surround-with`.
        () if typed.trim() == described.name => 2 * NAMED,
        () if words(described.name) == asked => NAMED,
        () => by_parts(described.name, &typed),
    };
    // Words that nothing answers make it unlikely, but people say more than they need.
    let share = answered * answered / asked.len() as u32;
    by_name + (score + closest * 12) * share / asked.len() as u32
}

/// What it is worth that `typed` is the beginnings of words of `name`, in their order (`sort-l`, `trim t`): the more of the name that
/// is, the more.
fn by_parts(name: &str, typed: &str) -> u32 {
    /// Fewer letters begin too many names.
    const LETTERS: usize = 3;
    let split = |text: &str| {
        let parts = text.split(|c: char| !c.is_alphanumeric()).filter(|part| !part.is_empty());
        parts.map(str::to_lowercase).collect::<Vec<String>>()
    };
    let (parts, typed) = (split(name), split(typed));
    let letters: usize = typed.iter().map(String::len).sum();
    let mut rest = parts.iter();
    let is_it = typed.iter().all(|word| rest.any(|part| part.starts_with(word.as_str())));
    let all: usize = parts.iter().map(String::len).sum();
    if is_it && letters >= LETTERS { NAMED / 4 + (NAMED / 4) * letters as u32 / all.max(1) as u32 } else { 0 }
}

/// What a phrase that answers every word is worth, where it says nothing else.
const WHOLE: u32 = 20;

/// What the very name is worth: more than anything else.
const NAMED: u32 = 1 << 20;

/// How well `list` answers `word`, in twelfths.
fn weight(word: &str, list: &[String]) -> u32 {
    let part = |[parts, of]: [u32; 2]| 12 * parts / of;
    list.iter()
        .map(|other| match () {
            () if other == word => 12,
            () if word.chars().count() >= 2 && other.starts_with(word) => part(BEGINNING),
            () if are_alike(word, other) => part(LIKENESS),
            () => 0,
        })
        .max()
        .unwrap_or(0)
}

fn are_alike(one: &str, other: &str) -> bool {
    static GROUPS: LazyLock<HashMap<&str, Vec<usize>>> = LazyLock::new(|| {
        let mut groups: HashMap<&str, Vec<usize>> = HashMap::new();
        for (index, group) in ALIKE.iter().enumerate() {
            group.iter().for_each(|word| groups.entry(word).or_default().push(index));
        }
        groups
    });
    let groups = |word: &str| GROUPS.get(word).map_or(&[][..], Vec::as_slice);
    groups(one).iter().any(|group| groups(other).contains(group))
}

/// The words of a phrase, lower case, without the s of more than one and without what says nothing.
fn words(phrase: &str) -> Vec<String> {
    const EMPTY: &[&str] = &["the", "a", "an", "of", "to", "and", "or", "it", "this", "that", "is", "with", "my", "i"];
    let all = phrase.split(|c: char| !c.is_alphanumeric()).filter(|word| !word.is_empty()).map(str::to_lowercase);
    let plain = |word: String| match word.strip_suffix('s') {
        Some(one) if one.len() > 2 && !one.ends_with('s') => one.to_owned(),
        _ => word,
    };
    all.map(plain).filter(|word| !EMPTY.contains(&word.as_str())).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn people_find_what_they_mean_among_the_first_three() {
        let rows = [
            ("remove row", "delete-lines"),
            ("swap lines", "carry-down"),
            ("swap lines", "carry-up"),
            ("move line up", "carry-up"),
            ("copy line", "duplicate-down"),
            ("comment out", "comment-toggle"),
            ("multiple cursors", "cursor-below"),
            ("select all occurrences", "take-all"),
            ("next occurrence", "take-next"),
            ("find and replace", "sift"),
            ("search", "sift"),
            ("rename variable", "rename-here"),
            ("uppercase", "upper-case"),
            ("wrap in quotes", "surround"),
            ("put quotes around", "surround"),
            ("rectangle", "column"),
            ("merge lines", "join-lines"),
            ("go to function", "go"),
            ("jump to line", "go-to-line"),
            ("clipboard history", "shelf"),
            ("undo", "undo"),
            ("print keys", "key-sheet"),
            ("remove duplicates", "unique-lines"),
            ("sort", "sort-lines"),
            ("enumerate", "number"),
            ("collapse", "fold"),
            ("list of functions", "outline"),
            ("remove trailing spaces", "trim-trailing"),
            ("unindent", "outdent"),
            ("exit", "quit"),
            ("delete the line", "delete-lines"),
            ("empty line below", "blank-below"),
        ];
        for (asked, name) in rows {
            let first: Vec<&str> = look_up(asked).iter().take(3).map(|verb| verb.name).collect();
            assert!(first.contains(&name), "{asked}: {first:?}");
        }
    }

    #[test]
    fn a_name_finds_its_verb_first_and_each_phrase_among_the_first() {
        for verb in VERBS.iter() {
            assert_eq!(look_up(verb.name)[0].name, verb.name);
            for phrase in verb.words {
                let found = look_up(phrase);
                let place = found.iter().position(|each| each.name == verb.name);
                assert!(place.is_some_and(|place| place < 12), "{phrase}: {} at {place:?}", verb.name);
            }
        }
        assert_eq!(look_up(" ").len(), VERBS.len());
        assert!(look_up("quixotic").is_empty());
    }
}
