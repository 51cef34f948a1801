//! The engine against a slow model on plain strings: random verbs on random texts with random cursors.
//!
//! After every step the cursor set's invariants are checked and, for verbs that the model knows, the text is
//! compared. At the end everything is undone to the first text and redone to the last. The normal run is
//! short; `SNARVEL_STEPS=1000000 cargo test -p snarvel-core --test model --release` is the long one.

mod support;

use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::editor::{Call, Editor};
use snarvel_core::languages;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_core::verbs::clip::Clip;
use snarvel_core::verbs::table::VERBS;
use snarvel_core::verbs::{Run, by_name};

/// Steps of the normal run, spread over texts.
const STEPS: usize = 6_000;

/// Steps on one text before another is begun.
const STEPS_A_TEXT: usize = 60;

/// A small generator with a fixed seed (`SplitMix64`), so that every run is the same.
struct Random(u64);

impl Random {
    fn next(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let mut mixed = self.0;
        mixed = (mixed ^ (mixed >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        mixed = (mixed ^ (mixed >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        mixed ^ (mixed >> 31)
    }

    fn below(&mut self, limit: usize) -> usize {
        (self.next() % limit.max(1) as u64) as usize
    }

    fn pick<'a, T>(&mut self, from: &'a [T]) -> &'a T {
        &from[self.below(from.len())]
    }
}

const PIECES: &[&str] = &[
    "a",
    "b",
    "ab",
    " ",
    "  ",
    "    ",
    "\t",
    "\n",
    "\n",
    "\n",
    "\r\n",
    "{",
    "}",
    "(",
    ")",
    "\"",
    "'",
    "//",
    "/*",
    "*/",
    "# ",
    "é",
    "e\u{301}",
    "漢字",
    "🇳🇴",
    "👩‍👧",
    "\\",
    ";",
    ",",
    "\u{f7a0}",
    "\u{200b}",
    "level_mm",
    "\r",
];

const LANGUAGES: &[&str] = &["text", "rust", "python", "css", "go", "sql", "lua", "html"];

fn random_text(random: &mut Random) -> String {
    let count = random.below(40);
    (0..count).map(|_| *random.pick(PIECES)).collect()
}

fn random_cursors(random: &mut Random, text: &Text) -> CursorSet {
    let place = |random: &mut Random| text.snap_forward(Byte(random.below(text.len() + 1)));
    let count = 1 + random.below(4);
    let list: Vec<Selection> = (0..count)
        .map(|_| {
            let at = place(random);
            if random.below(2) == 0 { Selection::caret(at) } else { Selection::new(at, place(random)) }
        })
        .collect();
    CursorSet::of(list, random.below(count))
}

/// A line of the model: content and line end.
type Row = (String, String);

fn rows(text: &str) -> Vec<Row> {
    let mut rows: Vec<Row> = Vec::new();
    for line in text.split_inclusive('\n') {
        let content = line.strip_suffix('\n').map_or(line, |rest| rest.strip_suffix('\r').unwrap_or(rest));
        rows.push((content.to_owned(), line[content.len()..].to_owned()));
    }
    if rows.is_empty() {
        rows.push(Row::default());
    }
    rows
}

fn unrows(rows: &[Row]) -> String {
    rows.iter().flat_map(|(content, end)| [content.as_str(), end.as_str()]).collect()
}

/// Which rows are touched: by walking every one of them.
fn touched(rows: &[Row], cursors: &CursorSet) -> Vec<bool> {
    let mut start = 0;
    let mut found = Vec::new();
    for (index, (content, end)) in rows.iter().enumerate() {
        let behind = start + content.len() + end.len();
        let is_last = index + 1 == rows.len() && end.is_empty();
        let holds = |at: usize| start <= at && (at < behind || (is_last && at == behind));
        found.push(cursors.iter().any(|each| {
            let (from, to) = (each.start().0, each.end().0);
            if from == to { holds(from) } else { holds(from) || (from < behind && to > start) }
        }));
        start = behind;
    }
    found
}

fn runs(touched: &[bool]) -> Vec<(usize, usize)> {
    let mut runs: Vec<(usize, usize)> = Vec::new();
    for (index, _) in touched.iter().enumerate().filter(|(_, touched)| **touched) {
        match runs.last_mut() {
            Some((_, last)) if *last + 1 == index => *last = index,
            _ => runs.push((index, index)),
        }
    }
    runs
}

fn with_contents(rows: &[Row], contents: &[String]) -> String {
    let ends = rows.iter().map(|(_, end)| end.clone());
    unrows(&contents.iter().cloned().zip(ends).collect::<Vec<_>>())
}

#[derive(Clone, Copy, PartialEq, Eq)]
enum Copies {
    Above,
    Below,
}

fn duplicated(rows: &[Row], runs: &[(usize, usize)], end: &str, copies: Copies) -> String {
    let mut out: Vec<Row> = Vec::new();
    let mut next = 0;
    for &(first, last) in runs {
        out.extend_from_slice(&rows[next..first]);
        let own = &rows[first..=last];
        let copy: Vec<Row> = own.iter().map(|(content, _)| (content.clone(), end.to_owned())).collect();
        let (upper, lower) = if copies == Copies::Above { (&copy[..], own) } else { (own, &copy[..]) };
        out.extend_from_slice(upper);
        let joint = out.len() - 1;
        out.extend_from_slice(lower);
        if copies == Copies::Below && out[joint].1.is_empty() {
            end.clone_into(&mut out[joint].1);
            let count = out.len();
            out[count - 1].1.clear();
        }
        next = last + 1;
    }
    out.extend_from_slice(&rows[next..]);
    unrows(&out)
}

/// What the model makes of a verb; none where it does not know it.
fn model(verb: &str, editor: &Editor) -> Option<String> {
    let text = editor.text().to_string();
    let rows = rows(&text);
    let touched = touched(&rows, editor.cursors());
    let runs = runs(&touched);
    let mut contents: Vec<String> = rows.iter().map(|(content, _)| content.clone()).collect();
    let end = editor.layout().line_end.as_str();
    match verb {
        "carry-up" => {
            for (first, last) in runs.into_iter().filter(|(first, _)| *first > 0) {
                contents[first - 1..=last].rotate_left(1);
            }
            Some(with_contents(&rows, &contents))
        }
        "carry-down" => {
            for (first, last) in runs.into_iter().filter(|(_, last)| *last + 1 < rows.len()) {
                contents[first..=last + 1].rotate_right(1);
            }
            Some(with_contents(&rows, &contents))
        }
        "delete-lines" => {
            let mut kept: Vec<Row> = Vec::new();
            for (row, touched) in rows.iter().zip(&touched) {
                if !touched {
                    kept.push(row.clone());
                }
            }
            let last_was_deleted_unended = touched[rows.len() - 1] && rows[rows.len() - 1].1.is_empty();
            if let Some(last) = kept.last_mut().filter(|_| last_was_deleted_unended) {
                last.1.clear();
            }
            Some(unrows(&kept))
        }
        "duplicate-up" => Some(duplicated(&rows, &runs, end, Copies::Above)),
        "duplicate-down" => Some(duplicated(&rows, &runs, end, Copies::Below)),
        "indent" => {
            let unit = editor.layout().unit.text();
            for (content, _) in contents
                .iter_mut()
                .zip(&touched)
                .filter(|(content, touched)| **touched && !content.trim_start().is_empty())
            {
                content.insert_str(0, &unit);
            }
            Some(with_contents(&rows, &contents))
        }
        "type-text" => {
            let mut out = text;
            for each in editor.cursors().iter().rev() {
                out.replace_range(each.start().0..each.end().0, "x");
            }
            Some(out)
        }
        "delete-selected" => {
            let mut out = text;
            for each in editor.cursors().iter().rev() {
                out.replace_range(each.start().0..each.end().0, "");
            }
            Some(out)
        }
        _ if is_still(verb) => Some(text),
        _ => None,
    }
}

/// Verbs that never change the text.
fn is_still(verb: &str) -> bool {
    let edits = ["rotate-forward", "rotate-back", "align", "number"];
    !edits.contains(&verb)
        && by_name(verb).is_some_and(|verb| matches!(verb.group.name(), "moves" | "selects" | "cursors"))
        || verb == "copy"
}

#[test]
fn random_verbs_agree_with_the_model() {
    let steps = std::env::var("SNARVEL_STEPS").ok().and_then(|text| text.parse().ok()).unwrap_or(STEPS);
    let seed = std::env::var("SNARVEL_SEED").ok().and_then(|text| text.parse().ok()).unwrap_or(20_261_123);
    let mut random = Random(seed);
    let verbs: Vec<_> = VERBS.iter().filter(|verb| !matches!(verb.run, Run::Ask(_))).collect();
    let mut done = 0;
    while done < steps {
        let first = random_text(&mut random);
        let language = languages::by_name(random.pick::<&str>(LANGUAGES)).unwrap();
        let mut editor = Editor::new(Text::from(first.as_str()), language);
        let mut clip = Clip::default();
        for _ in 0..STEPS_A_TEXT {
            if random.below(4) == 0 {
                let cursors = random_cursors(&mut random, editor.text());
                editor.set_cursors(cursors);
            }
            let verb = random.pick(&verbs);
            let expected = model(verb.name, &editor);
            let before = support::show(&editor.text().to_string(), editor.cursors());
            let argument = if verb.argument.is_empty() { "" } else { "x" };
            let effects = editor.run(Call { verb, argument, times: 1, clip: &clip, now_ms: 0 });
            editor.assert_invariants();
            if let Some(expected) = expected {
                assert_eq!(editor.text().to_string(), expected, "seed {seed}, step {done}: {} on {before}", verb.name);
            }
            clip = effects.clip.unwrap_or(clip);
            done += 1;
            if editor.text().len() > 4_000 {
                break;
            }
        }
        to_both_ends(&mut editor, &first, &clip);
    }
}

fn to_both_ends(editor: &mut Editor, first: &str, clip: &Clip) {
    let run = |editor: &mut Editor, name: &str| {
        let verb = by_name(name).unwrap();
        editor.run(Call { verb, argument: "", times: 1, clip, now_ms: 0 });
        editor.assert_invariants();
    };
    while editor.history().can_redo() {
        run(editor, "redo");
    }
    let last = editor.text().to_string();
    while editor.history().can_undo() {
        run(editor, "undo");
    }
    assert_eq!(editor.text().to_string(), first);
    while editor.history().can_redo() {
        run(editor, "redo");
    }
    assert_eq!(editor.text().to_string(), last);
}
