//! Echo over a corpus of pairs of edits: what is offered after them, and what is not.

use proptest::prelude::*;
use snarvel_core::changes::ChangeBuilder;
use snarvel_core::echo::edit::Edit;
use snarvel_core::echo::lexemes::Row;
use snarvel_core::echo::made::Made;
use snarvel_core::echo::{Change, Scope, look};
use snarvel_core::languages::Language;
use snarvel_core::languages::by_name;
use snarvel_core::languages::lexical::{Block, Lexical, Syntax};
use snarvel_core::text::Text;
use snarvel_core::units::Line;
use snarvel_core::units::{Byte, Span};
use std::ops::Range;
use std::sync::Arc;

const CORPUS: &str = include_str!("../data/echo.txt");

/// A case of the corpus.
#[derive(Default)]
struct Case {
    name: String,
    language: String,
    /// The text with both edits made, in lines.
    lines: Vec<String>,
    edits: Vec<ByHand>,
    /// The lines to offer, and what they become.
    wanted: Vec<(usize, String)>,
}

/// An edit: the line before, and the lines that it became.
struct ByHand {
    before: String,
    after: Range<usize>,
}

fn corpus() -> Vec<Case> {
    let mut cases: Vec<Case> = Vec::new();
    for line in CORPUS.lines() {
        if let Some((name, language)) = line.strip_prefix("== ").and_then(|head| head.split_once('|')) {
            cases.push(Case { name: name.to_owned(), language: language.to_owned(), ..Case::default() });
            continue;
        }
        let Some(case) = cases.last_mut().filter(|_| !line.is_empty() && !line.starts_with('#')) else { continue };
        let content = line.get(2..).unwrap_or_default().to_owned();
        let at = case.lines.len();
        match &line[..1] {
            "<" => case.edits.push(ByHand { before: content, after: at..at }),
            "+" => case.wanted.push((at - 1, content.replace('¶', "\n").replace('∅', ""))),
            ">" => {
                let after: Vec<String> = content.split('¶').filter(|line| *line != "∅").map(str::to_owned).collect();
                case.lines.extend(after);
                case.edits.last_mut().unwrap().after.end = case.lines.len();
            }
            _ => case.lines.push(content),
        }
    }
    cases
}

fn row(text: &Text, language: &Arc<Language>, lines: Range<usize>) -> Row {
    let lexical = Lexical::new(language);
    let blocks: Vec<Block> = lines.map(|line| Block::of(Line(line), text.line_start(Line(line)))).collect();
    let scanned = lexical.of(text).scanned(&blocks);
    let contents: Vec<String> = scanned.iter().map(|scanned| text.content(scanned.line).into_owned()).collect();
    Row::of(scanned.iter().zip(contents.iter().map(String::as_str))).unwrap()
}

/// What was touched, where nothing that is equal at both ends was.
fn touched(before: &str, after: &str) -> [Range<usize>; 2] {
    let start: usize = before.chars().zip(after.chars()).take_while(|(a, b)| a == b).map(|(a, _)| a.len_utf8()).sum();
    let rest = [&before[start..], &after[start..]];
    let tail: usize =
        rest[0].chars().rev().zip(rest[1].chars().rev()).take_while(|(a, b)| a == b).map(|(a, _)| a.len_utf8()).sum();
    [start..before.len() - tail, start..after.len() - tail]
}

fn edits_of(case: &Case) -> Vec<Edit> {
    let language = by_name(&case.language).unwrap_or_else(|| panic!("{}: {}", case.name, case.language));
    let text = Text::from(case.lines.join("\n").as_str());
    let edit = |made: &ByHand| {
        let mut lines = case.lines.clone();
        lines.splice(made.after.clone(), [made.before.clone()]);
        let old = Text::from(lines.join("\n").as_str());
        let first = made.after.start;
        let rows = [row(&old, &language, first..first + 1), row(&text, &language, made.after.clone())];
        let touched = touched(&rows[0].text, &rows[1].text);
        let edit = Edit::of(rows, &touched, (language.word_rule(), Line(first)));
        edit.unwrap_or_else(|| panic!("{}: no edit", case.name))
    };
    case.edits.iter().map(edit).collect()
}

fn offered(case: &Case) -> Vec<Change> {
    let edits = edits_of(case);
    let language = by_name(&case.language).unwrap();
    let text = Text::from(case.lines.join("\n").as_str());
    let edited: Vec<Line> = case.edits.iter().flat_map(|made| made.after.clone()).map(Line).collect();
    let echo = look(&edits, Scope { text: &text, language: &language, edited: &edited }, &|| false);
    echo.map_or_else(Vec::new, |echo| echo.at(echo.levels[0]))
}

/// Precision: of all that is offered, so much is right. Recall: of all that is to be offered, so much is. A line is right when it becomes
/// what the corpus says.
#[test]
fn the_corpus_is_offered_with_care() {
    let cases = corpus();
    let (mut right, mut offers, mut wanted) = (0, 0, 0);
    for case in &cases {
        let offered = offered(case);
        let is_wanted = |change: &Change| case.wanted.contains(&(change.line.0, change.after.clone()));
        let good = offered.iter().filter(|change| is_wanted(change)).count();
        (right, offers, wanted) = (right + good, offers + offered.len(), wanted + case.wanted.len());
        for change in offered.iter().filter(|change| !is_wanted(change)) {
            println!("wrong in {}: {:?} -> {:?}", case.name, change.before, change.after);
        }
        for (line, after) in &case.wanted {
            if !offered.iter().any(|change| change.line.0 == *line && change.after == *after) {
                println!("missed in {}: {:?} -> {after:?}", case.name, case.lines[*line]);
            }
        }
    }
    let percent = |part: usize, whole: usize| part as f64 * 100.0 / whole as f64;
    let [precision, recall] = [percent(right, offers), percent(right, wanted)];
    println!("{} cases: precision {precision:.1} % of {offers}, recall {recall:.1} % of {wanted}", cases.len());
    assert!(cases.len() >= 120, "{} cases", cases.len());
    assert!(precision >= 98.0 && recall >= 85.0, "precision {precision:.1}, recall {recall:.1}");
}

/// What is done by hand to a line, written a second time as a plain function.
type Deed = fn(&str, &str) -> [String; 2];

/// A call of a name with an argument, before and after: each is an edit that one rule makes.
const DEEDS: &[Deed] = &[
    |name, other| [format!("let {name} = read({other});"), format!("let {name} = sample({other});")],
    |name, other| [format!("let {name} = read({other});"), format!("let {name} = read({other}, 3);")],
    |name, other| [format!("place({name}, {other});"), format!("place({other}, {name});")],
    |name, other| [format!("tide.{name} = {other};"), format!("tide.set_{name}({other});")],
    |name, other| [format!("say({name}); // {other}"), format!("say({name} + 1); // {other}")],
    |name, other| [format!("open(\"{name}\", {other});"), format!("open({other});")],
];

fn name() -> impl Strategy<Value = String> {
    "[a-z][a-z_]{0,6}[a-z]".prop_filter("no word of the lines or of the language", |name| {
        let taken = ["let", "read", "sample", "place", "tide", "say", "open", "set", "if", "in", "fn", "as", "do"];
        !taken.contains(&name.as_str())
    })
}

proptest! {
    /// An offer carried out is the same edit made by hand at each place, and no place of the same kind is left out.
    #[test]
    fn an_offer_is_the_same_edit_by_hand(
        deed in 0..DEEDS.len(),
        names in prop::collection::vec((name(), name()), 3..8),
        spaces in prop::collection::vec(0_usize..3, 8),
    ) {
        let lines: Vec<[String; 2]> = names.iter().map(|(one, other)| DEEDS[deed](one, other)).collect();
        let is_distinct = |[one, other]: [usize; 2]| names[one].0 != names[other].0 && names[one].1 != names[other].1
            && names[one].0 != names[other].1 && names[one].0 != names[one].1 && names[other].0 != names[other].1;
        prop_assume!(is_distinct([0, 1]));
        let indented = |(index, line): (usize, &String)| format!("{}{line}", "    ".repeat(spaces[index]));
        let (mut case, mut wanted) = (Case { name: "property".into(), language: "rust".into(), ..Case::default() }, Vec::new());
        for (index, [before, after]) in lines.iter().enumerate() {
            if index < 2 {
                case.edits.push(ByHand { before: indented((index, before)), after: index..index + 1 });
                case.lines.push(indented((index, after)));
            } else {
                case.lines.push(indented((index, before)));
                wanted.push(indented((index, after)));
            }
        }
        let after: Vec<String> = offered(&case).into_iter().map(|change| change.after).collect();
        prop_assert_eq!(after, wanted);
    }

    /// Whatever is edited, places are in order, within the text, and what they become is what carrying them out gives.
    #[test]
    fn any_two_edits_give_places_that_can_be_carried_out(
        lines in prop::collection::vec("[a-c ,.(){}\"'/0-2é\u{3000}\t]{0,14}", 3..9),
        edits in prop::collection::vec((any::<prop::sample::Index>(), any::<prop::sample::Index>(), any::<prop::sample::Index>(), "[a-c (),é\u{3000}\n]{0,4}"), 2),
    ) {
        let language = by_name("javascript").unwrap();
        let mut text = Text::from(lines.join("\n").as_str());
        let mut made = Vec::new();
        for (line, from, to, with) in &edits {
            let content = text.content_span(Line(line.index(text.line_count())));
            let mut ends = [from, to].map(|at| text.snap_back(content.start + at.index(content.len() + 1)));
            ends.sort();
            let mut builder = ChangeBuilder::new(&text);
            builder.replace(Span::new(ends[0], ends[1]), with);
            let change = builder.finish();
            let before = text.clone();
            text.apply(&change);
            made.extend(Made::of([before, text.clone()], &change));
        }
        let edits: Vec<Edit> = made.iter().filter_map(|made| made.edit(&language, made.first_line())).collect();
        let edited: Vec<Line> = edits.iter().map(|edit| edit.line).collect();
        let Some(echo) = look(&edits, Scope { text: &text, language: &language, edited: &edited }, &|| false) else { return Ok(()) };
        for level in echo.levels.clone() {
            let mut end = Byte(0);
            for change in echo.at(level) {
                prop_assert!(change.span.start >= end && change.span.end <= text.end());
                end = change.span.end;
                let mut builder = ChangeBuilder::new(&text);
                builder.replace(change.span, &change.comes);
                let mut alone = text.clone();
                alone.apply(&builder.finish());
                prop_assert_eq!(alone.content(change.line).into_owned(), change.after.lines().next().unwrap_or_default());
            }
        }
    }
}
