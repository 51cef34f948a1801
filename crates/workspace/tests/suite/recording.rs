//! Recording: what is done becomes steps that do the same again.

use crate::support::editor::Editor;
use crate::support::show;
use snarvel_core::cursors::CursorSet;
use snarvel_core::languages;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_core::verbs::clipboard::clip::{Clip, Piece};
use snarvel_workspace::command::{Command, Done};
use snarvel_workspace::editing::Effects;
use snarvel_workspace::recipes::book::Known;
use snarvel_workspace::registry::verb::{Count, Does};
use snarvel_workspace::registry::{VERBS, by_name};

fn run(editor: &mut Editor, verb: &str, argument: &str, count: Option<u32>) -> Effects {
    let verb = by_name(verb).unwrap_or_else(|| panic!("no verb {verb}"));
    let command = Command { count, ..Command::read(verb, argument).unwrap() };
    let done = editor.workspace.run(&command);
    editor.workspace.settle();
    match done {
        // The interface puts what was copied on the shelf.
        Done::Edited(effects) => {
            effects.clip.iter().for_each(|clip| editor.workspace.shelf.put(clip.clone()));
            effects
        }
        Done::Asked(action, _) => panic!("{} asks for {action:?}", verb.name),
    }
}

fn editor(text: &str) -> Editor {
    Editor::new(Text::from(text), languages::by_name("rust").unwrap())
}

/// What is recorded of a session, a line of which is `[count] verb [argument]`, or `"typed"`.
fn recorded(text: &str, session: &str) -> (Editor, String) {
    let mut editor = editor(text);
    run(&mut editor, "record", "", None);
    for line in session.lines().map(str::trim).filter(|line| !line.is_empty()) {
        if let Some(typed) = line.strip_prefix('"') {
            for c in typed.chars() {
                run(&mut editor, "type-text", &c.to_string(), None);
            }
            continue;
        }
        let (first, rest) = line.split_once(' ').unwrap_or((line, ""));
        match first.parse::<u32>() {
            Ok(count) => {
                let (verb, argument) = rest.split_once(' ').unwrap_or((rest, ""));
                run(&mut editor, verb, argument, Some(count));
            }
            Err(_) => drop(run(&mut editor, first, rest, None)),
        }
    }
    let recipe = editor.workspace.recipes().recording.as_ref().unwrap().recipe();
    (editor, recipe)
}

#[test]
fn verbs_and_text_are_recorded_and_what_was_undone_is_left_out() {
    for (case, text, session, expected) in [
        ("verbs", "a\nb\n", "carry-down\n2 duplicate-down", "carry-down\n2 duplicate-down\n"),
        ("typing_is_one_text", "", "\"let tide", "type \"let tide\"\n"),
        ("a_pair_is_a_verb", "", "\"f(x)", "type \"f\"\ntype-text (\ntype \"x\"\ntype-text )\n"),
        ("a_line_break", "", "\"a\nline-break\n\"b", "type \"a\"\nline-break\ntype \"b\"\n"),
        ("arguments", "a\nb\n", "select-all\nsort-lines desc, by /a b/", "select-all\nsort-lines desc by /a b/\n"),
        ("home_is_where_it_went", "  ab\n", "line-end\nline-start", "line-end\nline-start text\n"),
        ("home_again", "  ab\n", "line-end\n2 line-start", "line-end\nline-start margin\n"),
        ("home_with_a_selection", "\tab\n", "line-end\nextend-line-start", "line-end\nextend-line-start text\n"),
        (
            "home_at_different_starts",
            "  a\n b\n",
            "char-right\ncursor-below\nline-start",
            "char-right\ncursor-below\nline-start\n",
        ),
        ("undone", "a\nb\n", "carry-down\nduplicate-down\nundo", "carry-down\n"),
        ("undone_with_the_moves_after_it", "a\nb\n", "line-down\ncarry-up\nline-end\nundo", "line-down\n"),
        ("undone_typing", "", "\"abc\nundo\n\"x", "type \"x\"\n"),
        ("redone", "a\nb\n", "carry-down\nduplicate-down\n2 undo\nredo", "carry-down\n"),
        (
            "redone_twice",
            "a\nb\n",
            "carry-down\nduplicate-down\nundo\nundo\nredo\nredo",
            "carry-down\nduplicate-down\n",
        ),
        ("moves_undone", "a b c\n", "word-forward\nword-forward\ncursors-undo", ""),
        (
            "what_was_copied_in_it",
            "a b\n",
            "select-word\ncopy\nline-end\npaste",
            "select-word\ncopy\nline-end\npaste\n",
        ),
        ("nothing_that_is_no_step", "a\n", "fold\nscroll-nothing", ""),
    ] {
        let session = session.replace("\nscroll-nothing", "");
        let (editor, recipe) = recorded(text, &session);
        assert_eq!(recipe, expected, "{case}");
        assert_eq!(editor.workspace.recipes().recording.as_ref().unwrap().flaw(), None, "{case}");
    }
}

#[test]
fn what_cannot_be_played_again_says_why() {
    for (session, why) in [
        (&["line-end", "page-down"][..], "page-down goes by more than the text and the cursors"),
        (&["line-end", "paste"], "it pasted what was copied before it"),
        (&["carry-down", "undo", "undo"], "what was done before the recording was undone in it"),
    ] {
        let mut editor = editor(&"level\n".repeat(200));
        run(&mut editor, "line-down", "", None);
        run(&mut editor, "bookmark", "", None);
        run(&mut editor, "line-up", "", None);
        run(&mut editor, "duplicate-down", "", None);
        run(&mut editor, "select-line", "", None);
        run(&mut editor, "unselect", "", None);
        let lines = Piece { text: "one\n  two".to_owned(), depth: None };
        editor.workspace.shelf.put(Clip { pieces: vec![lines], lines: true });
        run(&mut editor, "record", "", None);
        session.iter().for_each(|verb| drop(run(&mut editor, verb, "", None)));
        let said = run(&mut editor, "record", "", None).message.unwrap();
        assert!(said.ends_with(&format!("cannot be played again: {why}")), "{session:?}: {said}");
        assert_eq!(editor.workspace.recipes().unfiled.last(), None, "{session:?}");
    }
}

#[test]
fn playing_is_one_step_and_a_count_plays_it_as_often() {
    let (mut editor, _) = recorded("a\nb\nc\n", "\"x\nline-down\nline-start");
    let said = run(&mut editor, "record", "", None).message.unwrap();
    assert_eq!(said, "recorded 3 steps: $ plays them, Ctrl+R shows and keeps them");
    assert_eq!(editor.text().to_string(), "xa\nb\nc\n");
    let depth = editor.history().steps().len();
    assert_eq!(run(&mut editor, "play-recipe", "", Some(2)).message.unwrap(), "played last recording");
    assert_eq!(editor.text().to_string(), "xa\nxb\nxc\n");
    assert_eq!(editor.history().steps().len(), depth + 1);
    run(&mut editor, "undo", "", None);
    assert_eq!(editor.text().to_string(), "xa\nb\nc\n");
}

#[test]
fn again_does_the_last_change_that_stands() {
    let mut editor = editor("a\nb\nc\nd\n");
    assert_eq!(
        run(&mut editor, "again", "", None).message.unwrap(),
        "nothing was changed yet that could be done again"
    );
    for c in "let ".chars() {
        run(&mut editor, "type-text", &c.to_string(), None);
    }
    run(&mut editor, "line-down", "", None);
    run(&mut editor, "line-start", "", None);
    run(&mut editor, "again", "", None);
    assert_eq!(editor.text().to_string(), "let a\nlet b\nc\nd\n");
    run(&mut editor, "line-down", "", None);
    run(&mut editor, "duplicate-down", "", Some(2));
    run(&mut editor, "undo", "", None);
    run(&mut editor, "line-start", "", None);
    // What was undone is no longer in the history.
    run(&mut editor, "again", "", None);
    assert_eq!(editor.text().to_string(), "let a\nlet b\nlet c\nd\n");
    run(&mut editor, "undo", "", None);
    assert_eq!(editor.text().to_string(), "let a\nlet b\nc\nd\n");
}

#[test]
fn a_strict_recipe_that_cannot_be_done_changes_nothing() {
    let mut editor = editor("a\nb\n");
    let known = |source: &str| Known { name: "carry".to_owned(), source: source.to_owned() };
    let said = editor.workspace.play_source(&known("strict\ntype \"x\"\ncarry-up"), "play-recipe", 1).message.unwrap();
    assert_eq!(said, "carry was not played: line 3: already at the top of the file; nothing has changed");
    assert_eq!((editor.text().to_string().as_str(), editor.history().steps().len()), ("a\nb\n", 0));
    let said = editor.workspace.play_source(&known("carry-up\ntype \"x\""), "play-recipe", 1).message.unwrap();
    assert_eq!(said, "played carry; 1 step could not be done: already at the top of the file");
    let said = editor.workspace.play_source(&known("cary-up"), "play-recipe", 1).message.unwrap();
    assert_eq!(said, "carry is not played: line 1:1: no verb \"cary-up\"; is it carry-up?");
}

/// A small generator with a fixed seed (`SplitMix64`), so that every run is the same.
struct Random(u64);

impl Random {
    fn below(&mut self, limit: usize) -> usize {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let mut mixed = self.0;
        mixed = (mixed ^ (mixed >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        mixed = (mixed ^ (mixed >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        ((mixed ^ (mixed >> 31)) % limit.max(1) as u64) as usize
    }
}

#[test]
fn a_random_session_that_is_played_on_its_first_text_gives_its_last() {
    const PIECES: &[&str] =
        &["let level = 1;\n", "    gauge(a, b);\n", "\n", "// tide\n", "\"ebb\"", "{\n", "}\n", "é ", "a, b"];
    const TYPED: &[&str] = &["a", " ", "(", ")", "\"", "{", "x", ";", "/"];
    let sessions = std::env::var("SNARVEL_SESSIONS").ok().and_then(|text| text.parse().ok()).unwrap_or(300);
    let usable = |verb: &&snarvel_workspace::registry::Verb| {
        let is_edit = matches!(verb.does, Does::Edit(_) | Does::Undo | Does::Redo | Does::CursorsUndo);
        (verb.is_step() || !matches!(verb.does, Does::Edit(_))) && is_edit && verb.name != "insert-date"
    };
    let verbs: Vec<_> = VERBS.iter().filter(usable).collect();
    let mut random = Random(20_261_128);
    let mut played = 0;
    for session in 0..sessions {
        let text: String = (0..random.below(12)).map(|_| PIECES[random.below(PIECES.len())]).collect();
        let mut editor = editor(&text);
        run(&mut editor, "record", "", None);
        let mut done = Vec::new();
        for _ in 0..random.below(25) {
            let is_typing = random.below(3) == 0;
            let verb = if is_typing { by_name("type-text").unwrap() } else { verbs[random.below(verbs.len())] };
            let argument = if is_typing { TYPED[random.below(TYPED.len())] } else { "" };
            let argument = match (verb.arguments.is_none(), is_typing) {
                (false, false) if verb.name == "surround" => "(",
                (false, false) if verb.name.starts_with("filter") || verb.name.contains("split-at") => "/a/",
                (false, false) if verb.name == "every-nth" => "2",
                (false, false) if Command::read(verb, "").is_err() => "1:1",
                _ => argument,
            };
            if Command::read(verb, argument).is_err() {
                continue;
            }
            let count = (random.below(6) == 0 && verb.count == Count::Times).then(|| 1 + random.below(3) as u32);
            done.push(format!("{} {argument} {count:?}", verb.name));
            run(&mut editor, verb.name, argument, count);
            if editor.text().len() > 3_000 {
                break;
            }
        }
        let now = show(&editor.text().to_string(), editor.cursors());
        let recording = editor.workspace.recipes().recording.as_ref().unwrap();
        let (recipe, flaw) = (recording.recipe(), recording.flaw().map(str::to_owned));
        let last = run(&mut editor, "record", "", None).message.unwrap();
        if flaw.is_some() || last.contains("cannot be played") {
            continue;
        }
        played += 1;
        let mut fresh = self::editor(&text);
        fresh.set_cursors(CursorSet::caret(Byte(0)));
        let known = Known { name: "it".to_owned(), source: recipe.clone() };
        let said = fresh.workspace.play_source(&known, "play-recipe", 1).message;
        let after = show(&fresh.text().to_string(), fresh.cursors());
        assert_eq!(after, now, "session {session} on {text:?}: {done:#?}\nrecorded:\n{recipe}\n{said:?}");
    }
    assert!(played * 2 > sessions, "only {played} of {sessions} sessions could be played");
}
