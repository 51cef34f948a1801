//! The engine against a slow model on plain strings: random verbs on random texts with random cursors.
//!
//! After every step the cursor set's invariants are checked and, for verbs that the model knows, the text is
//! compared. At the end everything is undone to the first text and redone to the last. The normal run is
//! short; `SNARVEL_STEPS=1000000 cargo test -p snarvel-workspace --test suite --release model` is the long one.

use crate::support::editor::{Call, Editor};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::registry::VERBS;
use snarvel_workspace::registry::by_name;
use snarvel_workspace::registry::verb::{Count, Does};

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

#[test]
fn random_verbs_agree_with_the_model() {
    let steps = std::env::var("SNARVEL_STEPS").ok().and_then(|text| text.parse().ok()).unwrap_or(STEPS);
    let seed = std::env::var("SNARVEL_SEED").ok().and_then(|text| text.parse().ok()).unwrap_or(20_261_123);
    let mut random = Random(seed);
    let verbs: Vec<_> = VERBS.iter().filter(|verb| !matches!(verb.does, Does::Ask(_))).collect();
    let mut done = 0;
    while done < steps {
        let first = random_text(&mut random);
        let language = languages::by_name(random.pick::<&str>(LANGUAGES)).unwrap();
        let mut editor = Editor::new(Text::from(first.as_str()), language);
        let mut clip = Clip::default();
        let mut after_indent = false;
        for _ in 0..STEPS_A_TEXT {
            if random.below(4) == 0 {
                let cursors = random_cursors(&mut random, editor.text());
                editor.set_cursors(cursors);
            }
            let verb = random.pick(&verbs);
            let argument = if verb.arguments.is_none() || verb.name == "sort-lines" { "" } else { "x" };
            // The model knows no folds, and no lines that moving text in and out keeps for the next verb: with some, only what
            // always holds is checked.
            let is_open = editor.folds().is_empty() && !after_indent;
            after_indent = matches!(verb.name, "indent" | "outdent" | "tab-stop");
            let times = if verb.count == Count::Lines { 1 + random.below(3) } else { 1 };
            let expected = is_open.then(|| crate::plain::model((verb.name, times), argument, &editor, &clip)).flatten();
            let text = editor.text().to_string();
            let before = crate::support::show(&text, editor.cursors());
            let steps_before = editor.history().steps().len();
            let call = Call { verb, argument, times: times as u32, clip: &clip, now_ms: 0 };
            let effects = editor.run(call);
            editor.assert_invariants();
            // What is typed over the same is a step all the same; every other verb that leaves the text as it is makes none.
            let is_typing = matches!(
                verb.name,
                "type-text" | "insert-date" | "line-break" | "tab-stop" | "delete-back" | "delete-forward"
            );
            if !is_typing && editor.text().to_string() == text {
                let steps_now = editor.history().steps().len();
                assert_eq!(steps_now, steps_before, "seed {seed}, step {done}: {} on {before}", verb.name);
            }
            if let Some(expected) = expected {
                assert_eq!(
                    editor.text().to_string(),
                    expected,
                    "seed {seed}, step {done}: {} on {before} with the clip {clip:?}",
                    verb.name
                );
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
