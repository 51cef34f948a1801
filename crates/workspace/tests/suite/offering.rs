//! The door for sources of offers: what answers late, never, for another question, or with very much.

use crate::support::editor::Editor;

use snarvel_core::cursors::CursorSet;
use snarvel_core::languages::by_name;
use snarvel_core::offers::matching::Letters;
use snarvel_core::offers::{Candidate, Nearness, Source};
use snarvel_core::text::Text;
use snarvel_core::units::Direction;
use snarvel_workspace::command::Command;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::offering::answering::{Answer, Turn};
use std::time::Duration;

/// A text at whose end `letters` were typed, and what is offered for them.
fn offered(text: &str, letters: &str) -> Editor {
    let mut editor = Editor::new(Text::from(text), by_name("rust").unwrap());
    let end = editor.text().end();
    editor.set_cursors(CursorSet::caret(end));
    for c in letters.chars() {
        editor.workspace.run(&Command::typing(&c.to_string()));
        editor.workspace.settle();
    }
    editor.workspace.settle_offers();
    editor
}

fn list(editor: &Editor) -> Vec<&str> {
    editor.workspace.offers().map_or_else(Vec::new, |shown| shown.list.iter().map(|each| each.text.as_str()).collect())
}

fn server(text: &str) -> Candidate {
    Candidate::of(Source::Server, text, Nearness::Function(0))
}

fn answer(editor: &mut Editor, letters: &str, candidates: Vec<Candidate>) {
    let number = editor.workspace.open_question().unwrap();
    editor.workspace.take_answer(Answer::of(number, candidates, (&Letters::of(letters), Turn::Later)));
}

#[test]
fn what_comes_late_joins_and_the_chosen_row_stays() {
    let mut editor = offered("let level = lever;\n", "lev");
    assert_eq!(list(&editor), ["lever", "level"]);
    editor.workspace.choose_offer(Direction::Forward);
    answer(&mut editor, "lev", vec![server("levee"), server("sound")]);
    assert_eq!(list(&editor), ["levee", "level", "lever"]);
    assert_eq!(editor.workspace.offers().unwrap().chosen, 1);
    // A word of two sources is offered once, as the server's.
    answer(&mut editor, "lev", vec![server("level")]);
    let shown = editor.workspace.offers().unwrap();
    assert_eq!((shown.list.len(), shown.list[1].source, shown.chosen), (3, Source::Server, 1));
}

#[test]
fn what_is_for_others_is_not_lost_while_offers_are_waited_for() {
    let mut editor = offered("let level = 1;\n", "le");
    let task = editor.workspace.try_ways(Vec::new());
    let is_answer = |event: &Event| event.source.task == task.id && matches!(event.payload, Payload::Tried(None));
    let deadline = Duration::from_secs(20);
    let answer = editor.workspace.tasks.receive_only(deadline, is_answer).expect("the answer of the other task");
    // It comes before the answer of the offers.
    editor.workspace.tasks.put_back(vec![answer]);
    editor.workspace.run(&Command::typing("v"));
    editor.workspace.settle();
    editor.workspace.settle_offers();
    assert_eq!(list(&editor), ["level"]);
    assert!(editor.workspace.tasks.receive_only(Duration::ZERO, is_answer).is_some(), "it is still there");
}

#[test]
fn the_first_row_stays_too_where_nothing_was_chosen() {
    let mut editor = offered("let level = 1;\n", "lev");
    answer(&mut editor, "lev", vec![server("levee")]);
    assert_eq!(list(&editor), ["level", "levee"]);
}

#[test]
fn it_does_not_matter_which_source_is_quicker() {
    let mut editor = offered("let level = 1;\n", "le");
    editor.workspace.run(&Command::typing("v"));
    // The words were not asked yet.
    answer(&mut editor, "lev", vec![server("levee")]);
    editor.workspace.settle_offers();
    assert_eq!(list(&editor), ["level", "levee"]);
    // Nor where there are no words.
    ["e", "e"].iter().for_each(|letter| drop(editor.workspace.run(&Command::typing(letter))));
    answer(&mut editor, "levee", vec![server("leveed")]);
    editor.workspace.settle_offers();
    assert_eq!(list(&editor), ["leveed"]);
}

#[test]
fn letters_put_the_best_first_before_any_source_has_answered() {
    let mut editor = offered("", "lo");
    answer(&mut editor, "lo", ["fog_loops", "loose", "loop_"].map(server).to_vec());
    for letter in ["o", "p"] {
        editor.workspace.run(&Command::typing(letter));
    }
    // The template that is called so, then what begins so, then templates whose other words begin so, then what has it within.
    assert_eq!(list(&editor), ["loop", "loop_", "for", "while", "fog_loops"]);
}

#[test]
fn an_answer_to_a_question_before_is_stale() {
    let mut editor = offered("let level = 1;\n", "lev");
    let number = editor.workspace.open_question().unwrap();
    editor.workspace.run(&Command::typing("e"));
    editor.workspace.settle_offers();
    let late = Answer::of(number, vec![server("levee")], (&Letters::of("lev"), Turn::Later));
    editor.workspace.take_answer(late);
    assert_eq!(list(&editor), ["level"]);
    editor.workspace.run(&Command::typing(";"));
    assert_eq!(editor.workspace.open_question(), None);
}

#[test]
fn a_source_that_never_answers_holds_nothing() {
    let mut editor = offered("let level = 1;\n", "lev");
    editor.workspace.run(&Command::typing("e"));
    editor.workspace.settle();
    // The sources were not even asked yet: what was offered is narrowed, and can be taken.
    assert_eq!(list(&editor), ["level"]);
    editor.workspace.take_offer(0);
    assert_eq!(editor.text().to_string(), "let level = 1;\nlevel");
}

#[test]
fn a_source_with_a_million_gives_its_best() {
    let mut editor = offered("let level = 1;\n", "lev");
    let many = (0..1_000_000).map(|number| server(&["lev_", &number.to_string()].concat())).collect();
    answer(&mut editor, "lev", many);
    let count = list(&editor).len();
    assert!(count <= 500 && count > 100, "{count}");
    assert_eq!(list(&editor)[0], "level");
}

#[test]
fn words_of_a_large_text_are_looked_for_near_the_caret_only() {
    let line = "let filling = other;\n";
    let far = "let level_far = 1;\n".to_owned() + &line.repeat((4 << 20) / line.len());
    let editor = offered(&(far + "let level_near = 1;\n"), "lev");
    assert_eq!(list(&editor), ["level_near"]);
    // A line without an end to it, and bytes that are no text.
    let one_line = "level_near ".repeat(1 << 20);
    assert_eq!(list(&offered(&one_line, "lev"))[0], "level_near");
    let binary: String = (0..200_000u32).filter_map(|number| char::from_u32(number * 31 % 0xD800)).collect();
    drop(offered(&binary, "lev"));
}
