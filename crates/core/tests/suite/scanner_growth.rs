//! What a scan costs grows with the text and not faster, whatever the text: every delimiter of every language, alone and in
//! pairs, again and again on one line and on many.

use snarvel_core::languages::layers::{Layer, Layers};
use snarvel_core::languages::{Language, all};
use std::collections::HashSet;
use std::sync::Arc;
use std::time::{Duration, Instant};

/// Bytes of a text. A cost that grows with their square is far more than what is allowed.
const BYTES: usize = 4 << 10;

/// What a text may take: linear costs are a part of it on a slow machine without optimisation.
const MOST: Duration = Duration::from_millis(250);

/// Everything with which something begins or ends in a language.
fn delimiters(language: &Language) -> Vec<String> {
    let mut all: Vec<String> = language.line.clone();
    for pair in language.block.iter().chain(&language.documents) {
        all.extend([pair.open.clone(), pair.close.clone()]);
    }
    for form in &language.strings {
        let run = form.counted.map_or(String::new(), String::from);
        all.extend([form.open.replace('*', &run), form.close.replace('*', &run)]);
        // What a counted delimiter begins with, without its end.
        all.extend(form.open.split('*').filter(|_| form.counted.is_some()).map(|part| format!("{part}{run}")));
        for hole in &form.interpolations {
            all.extend([hole.open.clone(), format!("{}{}", form.open, hole.open), hole.close.clone()]);
        }
    }
    for embed in &language.embeds {
        all.extend([embed.open.clone(), embed.close.clone(), format!("{}>{}", embed.open, embed.close)]);
    }
    let general = ["/[", "/a", "<<A", "\\", "'\\", "- ", "[", ", ", "&a ", "!a ", " ", "a", "```"];
    all.extend(general.map(str::to_owned));
    let mut seen = HashSet::new();
    all.retain(|text| !text.is_empty() && seen.insert(text.clone()));
    all
}

fn time_of(layers: &Layers, text: &str) -> Duration {
    let start = Instant::now();
    let mut layer = Layer::default();
    for line in text.split_inclusive('\n') {
        layer = layers.scan(line, &layer, &mut |_| {});
    }
    start.elapsed()
}

#[test]
fn a_scan_costs_no_more_than_the_text_is_long() {
    // Languages of the same delimiters cost the same.
    let mut seen = HashSet::new();
    let different: Vec<(Arc<Language>, Vec<String>)> = all()
        .iter()
        .map(|language| (language.clone(), delimiters(language)))
        .filter(|(_, delimiters)| seen.insert(delimiters.clone()))
        .collect();
    assert!(different.len() > 60, "{} languages", different.len());
    let mut slow = Vec::new();
    for (language, delimiters) in &different {
        let layers = Layers::new(language);
        for one in delimiters {
            for other in delimiters {
                let unit = format!("{one}{other}");
                let line = unit.repeat(BYTES / unit.len());
                let lines = format!("{unit}\n").repeat(BYTES / (unit.len() + 1));
                let texts = if one == other { vec![line, lines] } else { vec![line] };
                for text in texts {
                    // What else the machine does may disturb one run, hardly three.
                    let fastest = (0..3).map(|_| time_of(&layers, &text)).find(|time| *time < MOST);
                    if fastest.is_none() {
                        slow.push(format!("{}: {unit:?}", language.name));
                    }
                }
            }
        }
    }
    assert!(slow.is_empty(), "{} are slow again and again: {slow:#?}", slow.len());
}
