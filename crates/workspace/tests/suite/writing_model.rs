//! Writing help against plain models of it: offers at many cursors, stops of templates, statements that are finished.

use crate::support::editor::{Call, Editor};

use proptest::prelude::*;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::by_name;
use snarvel_core::offers::matching::Letters;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Direction};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::command::Command;
use snarvel_workspace::registry::by_name as verb;

fn editor(language: &str, text: &str, carets: &[usize]) -> Editor {
    let mut editor = Editor::new(Text::from(text), by_name(language).unwrap());
    let list: Vec<Selection> =
        carets.iter().map(|at| Selection::caret(editor.text().snap_back(Byte(at % (text.len() + 1))))).collect();
    let last = list.len() - 1;
    editor.set_cursors(CursorSet::of(list, last));
    editor
}

fn typed(editor: &mut Editor, text: &str) {
    for c in text.chars() {
        editor.workspace.run(&Command::typing(&c.to_string()));
        editor.workspace.settle();
    }
}

/// `text` with `word` in place of the letters before each of `carets`, where it fits them. Letters that two carets are in are the first's.
fn with_word(text: &str, carets: &[usize], word: &str) -> String {
    let (mut out, mut upto) = (String::new(), 0);
    for &caret in carets {
        let before = &text[..caret];
        let is_letter = |c: char| c.is_alphanumeric() || c == '_';
        let letters = before.trim_end_matches(is_letter).len();
        let fits = letters == caret || Letters::of(&text[letters..caret]).score(word).is_some();
        if fits && letters >= upto {
            out.push_str(&text[upto..letters]);
            out.push_str(word);
            // The rest of a word that the offer ends with is there already.
            let tail = &text[caret..][..text[caret..].find(|c| !is_letter(c)).unwrap_or(text.len() - caret)];
            upto = caret + if tail.len() < word.len() && word.ends_with(tail) { tail.len() } else { 0 };
        }
    }
    out + &text[upto..]
}

/// A piece of a body without stops in stops, and what it is when `z` was typed at each stop.
fn piece() -> impl Strategy<Value = (String, String)> {
    let same = |text: &str| (text.to_owned(), text.to_owned());
    prop_oneof![
        Just(same("a(")),
        Just(same(") ")),
        Just(("\n\t".to_owned(), "\n    ".to_owned())),
        Just(("\\$".to_owned(), "$".to_owned())),
        (1..4u32).prop_map(|number| (format!("${number}"), "z".to_owned())),
        (1..4u32).prop_map(|number| (format!("${{{number}:low}}"), "z".to_owned())),
        (1..4u32).prop_map(|number| (format!("${{{number}|ebb,flow|}}"), "z".to_owned())),
    ]
}

/// Whether two places of one stop would be one caret, with nothing between them.
fn has_places_together(pieces: &[(String, String)]) -> bool {
    let number = |(source, typed): &(String, String)| match typed.as_str() {
        "z" => source.chars().find(char::is_ascii_digit),
        _ => None,
    };
    let is_empty = |stop: char| !pieces.iter().any(|piece| number(piece) == Some(stop) && piece.0.len() > 2);
    (0..pieces.len()).any(|first| {
        let Some(stop) = number(&pieces[first]) else { return false };
        let rest = &pieces[first + 1..];
        let between = rest.iter().take_while(|piece| number(piece).is_some_and(is_empty)).count();
        let together = |piece: &(String, String)| number(piece) == Some(stop);
        rest[..between].iter().any(together) || rest.first().is_some_and(together)
    })
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(1_000) })]

    #[test]
    fn a_word_is_put_in_at_every_cursor_that_it_fits(
        text in "(level|lever|le|l|x|é| |\n|\\(|;){0,30}",
        carets in prop::collection::vec(0..200usize, 1..6),
        row in 0..9usize,
    ) {
        let mut editor = editor("rust", &text, &carets);
        let places: Vec<usize> = editor.cursors().iter().map(|each| each.head.0).collect();
        editor.workspace.ask_for_offers();
        editor.workspace.settle_offers();
        let word = editor.workspace.offers().and_then(|shown| shown.list.get(row)).filter(|each| each.template.is_none());
        if let Some(word) = word.map(|each| each.text.clone()) {
            editor.workspace.take_offer(row);
            editor.workspace.settle();
            editor.assert_invariants();
            prop_assert_eq!(editor.text().to_string(), with_word(&text, &places, &word));
            let undo = Call { verb: verb("undo").unwrap(), argument: "", times: 1, clip: &Clip::default(), now_ms: 0 };
            if editor.text().to_string() != text {
                editor.run(undo);
            }
            prop_assert_eq!(editor.text().to_string(), text);
        }
    }

    #[test]
    fn what_is_typed_at_the_stops_is_at_all_of_their_places(
        pieces in prop::collection::vec(piece(), 1..10),
        lines in 1..4usize,
    ) {
        prop_assume!(pieces.len() < 2 || !has_places_together(&pieces));
        let body: String = pieces.iter().map(|(source, _)| source.as_str()).collect();
        let model: String = pieces.iter().map(|(_, typed)| typed.as_str()).collect();
        let folder = tempfile::tempdir().unwrap();
        let file = format!("[[template]]\nname = \"tide\"\nbody = '''\n{body}'''\n");
        std::fs::write(folder.path().join("rust.toml"), file).unwrap();
        // A template on each line, with a sign after it that is not to be touched.
        let text = "tide#\n".repeat(lines);
        let carets: Vec<usize> = (0..lines).map(|line| line * 6 + 4).collect();
        let mut editor = editor("rust", &text, &carets);
        prop_assert_eq!(editor.workspace.read_templates(folder.path()), []);
        editor.workspace.ask_for_offers();
        editor.workspace.settle_offers();
        let row = editor.workspace.offers().unwrap().list.iter().position(|each| each.template.is_some()).unwrap();
        editor.workspace.take_offer(row);
        editor.workspace.settle();
        while editor.workspace.view().stops().is_open() {
            editor.assert_invariants();
            typed(&mut editor, "z");
            editor.workspace.step_stop(Direction::Forward);
            editor.workspace.settle();
        }
        prop_assert_eq!(editor.text().to_string(), format!("{model}#\n").repeat(lines), "{}", body);
    }

    #[test]
    fn finishing_never_takes_anything_and_a_press_always_goes_on(
        language in prop::sample::select(vec!["rust", "c", "python", "javascript", "css", "html", "lua", "shell", "text", "json"]),
        text in "(if|fn a|def b|struct|return|else|x|=|=>| |\n|    |\\(|\\)|\\{|\\}|\\[|\\]|\"|'|;|:|,|//|<p|>|/|é){0,24}",
        carets in prop::collection::vec(0..100usize, 1..4),
    ) {
        let mut editor = editor(language, &text, &carets);
        let finish = Call { verb: verb("finish").unwrap(), argument: "", times: 1, clip: &Clip::default(), now_ms: 0 };
        let mut before = (editor.text().to_string(), editor.cursors().clone());
        for _ in 0..3 {
            editor.run(finish);
            editor.assert_invariants();
            let now = editor.text().to_string();
            // What was there is there still, in its order.
            let mut left = now.chars();
            prop_assert!(before.0.chars().all(|c| left.any(|other| other == c)), "{:?} -> {:?}", before.0, now);
            let after = (now, editor.cursors().clone());
            prop_assert!(after != before, "{} stays at {:?} {:?}", language, before.0, before.1);
            before = after;
        }
        let undo = Call { verb: verb("undo").unwrap(), argument: "", times: 1, clip: &Clip::default(), now_ms: 0 };
        (0..3).for_each(|_| drop(editor.run(undo)));
        prop_assert_eq!(editor.text().to_string(), text);
    }
}
