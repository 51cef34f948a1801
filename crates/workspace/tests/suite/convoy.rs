//! Convoys: a verb over several texts gives what it gives in each alone, as one step.

use proptest::prelude::*;
use snarvel_core::cursors::CursorSet;
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use snarvel_files::load::{Encoding, Loaded};
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::command::{Command, Done};
use snarvel_workspace::convoy::gathering::Places;
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::recipes::book::Known;
use snarvel_workspace::registry::VERBS;
use snarvel_workspace::registry::verb::Does;
use snarvel_workspace::workspace::Workspace;
use std::path::{Path, PathBuf};

fn path_of(index: usize) -> PathBuf {
    PathBuf::from(format!("/sound/gauge{index}.rs"))
}

/// A workspace with these texts, the last one active.
fn workspace(texts: &[&str]) -> Workspace {
    let project = Project { writing: Writing::Nothing, ..Project::in_folder(Path::new("/sound")) };
    let mut workspace = Workspace::new(project);
    for (index, text) in texts.iter().enumerate() {
        let loaded = Loaded { text: Text::from(*text), encoding: Encoding::default(), read_only: false };
        let mut buffer = workspace.make_buffer(loaded, Origin::File(path_of(index)));
        buffer.set_language(&by_name("rust").unwrap(), None);
        workspace.show_buffer(buffer);
    }
    workspace
}

/// A convoy over the texts with selections at these places of each.
fn convoy(texts: &[&str], places: &[Vec<(usize, usize)>]) -> Workspace {
    let mut workspace = workspace(texts);
    let span = |text: &str, (one, other): (usize, usize)| {
        let text = Text::from(text);
        let mut ends = [one, other].map(|at| text.snap_back(Byte(at % (text.len() + 1))));
        ends.sort();
        Span::new(ends[0], ends[1])
    };
    let of = |index: usize| -> Vec<Span> {
        let mut spans: Vec<Span> = places[index].iter().map(|place| span(texts[index], *place)).collect();
        spans.sort();
        spans.dedup();
        spans
    };
    let files: Vec<(PathBuf, Vec<Span>)> = (0..texts.len()).map(|index| (path_of(index), of(index))).collect();
    let first = files[0].1[0];
    workspace.begin_convoy(Places { files, chosen: (path_of(0), first) });
    workspace
}

fn texts_of(workspace: &Workspace) -> Vec<(String, CursorSet)> {
    let view = |id| workspace.views.iter().find(|view| view.buffer == id).unwrap();
    let named = workspace.buffers().iter().filter(|buffer| buffer.path().is_some());
    let mut all: Vec<(PathBuf, String, CursorSet)> = named
        .map(|buffer| (buffer.path().unwrap().to_owned(), buffer.text().to_string(), view(buffer.id).cursors().clone()))
        .collect();
    all.sort_by(|one, other| one.0.cmp(&other.0));
    all.into_iter().map(|(_, text, set)| (text, set)).collect()
}

/// Verbs whose result in a text depends on that text alone.
fn commands() -> Vec<Command> {
    let together = ["number", "rotate-forward", "rotate-back", "every-nth", "filter-keep", "filter-drop"];
    let leads = ["next-cursor", "previous-cursor", "recall", "drop-newest"];
    let is_alone = |name: &str| !together.contains(&name) && !leads.contains(&name) && !name.starts_with("paste");
    let verbs = VERBS.iter().filter(|verb| matches!(verb.does, Does::Edit(_)) && is_alone(verb.name));
    verbs.filter_map(|verb| Command::read(verb, verb.example.map_or("", |sample| sample.argument)).ok()).collect()
}

proptest! {
    #[test]
    fn a_verb_gives_in_each_text_what_it_gives_there_alone(
        texts in prop::collection::vec("[a-c(){};, é\\n\\t]{1,30}", 2..4),
        places in prop::collection::vec(prop::collection::vec((0_usize..40, 0_usize..40), 1..3), 4),
        which in prop::collection::vec(any::<prop::sample::Index>(), 1..4),
    ) {
        let commands = commands();
        let texts: Vec<&str> = texts.iter().map(String::as_str).collect();
        let mut together = convoy(&texts, &places);
        let first = texts_of(&together);
        let mut alone: Vec<Workspace> = (0..texts.len())
            .map(|index| {
                let mut one = workspace(&texts[index..=index]);
                let (buffer, view) = one.active_pair_mut();
                view.set_cursors(buffer, first[index].1.clone());
                one
            })
            .collect();
        for index in &which {
            let command = &commands[index.index(commands.len())];
            together.run(command);
            together.settle();
            alone.iter_mut().for_each(|one| {
                one.run(command);
            });
            let expected: Vec<String> = alone.iter().map(|one| one.active().text().to_string()).collect();
            let found: Vec<String> = texts_of(&together).into_iter().map(|(text, _)| text).collect();
            prop_assert_eq!(&found, &expected, "{:?} after {:?}", command.verb, which.iter().map(|index| commands[index.index(commands.len())].verb.name).collect::<Vec<_>>());
        }
        // Taken back, everything is as it was.
        for _ in 0..which.len() * texts.len() {
            together.run(&Command::named("undo"));
        }
        let after: Vec<String> = texts_of(&together).into_iter().map(|(text, _)| text).collect();
        let before: Vec<String> = first.into_iter().map(|(text, _)| text).collect();
        prop_assert_eq!(after, before, "{:?}", which.iter().map(|index| commands[index.index(commands.len())].verb.name).collect::<Vec<_>>());
    }
}

const TEXTS: [&str; 3] = ["let ebb = 1;\nlow(ebb);\n", "fn ebb() {}\r\n", "\tebb"];

fn at_ebb() -> Workspace {
    convoy(&TEXTS, &[vec![(4, 7), (17, 20)], vec![(3, 6)], vec![(1, 4)]])
}

fn ran(workspace: &mut Workspace, verb: &str, argument: &str) -> String {
    let command = Command::read(snarvel_workspace::registry::by_name(verb).unwrap(), argument).unwrap();
    let Done::Edited(effects) = workspace.run(&command) else { panic!("{verb} asks for an interface") };
    if let Some(clip) = effects.clip {
        workspace.shelf.put(clip);
    }
    workspace.settle();
    effects.message.unwrap_or_default()
}

#[test]
fn what_runs_on_from_file_to_file() {
    for (verb, argument, said, expected) in [
        ("number", "1", "numbered 4 places in 3 files", ["let 1 = 1;\nlow(2);\n", "fn 3() {}\r\n", "\t4"]),
        ("every-nth", "2", "2 cursors left in 2 files", ["let x = 1;\nlow(ebb);\n", "fn x() {}\r\n", "\tebb"]),
        ("type-text", "x", "", ["let x = 1;\nlow(x);\n", "fn x() {}\r\n", "\tx"]),
    ] {
        let mut workspace = at_ebb();
        let told = ran(&mut workspace, verb, argument);
        assert_eq!(told, said, "{verb}");
        if verb == "every-nth" {
            ran(&mut workspace, "type-text", "x");
        }
        let texts: Vec<String> = texts_of(&workspace).into_iter().map(|(text, _)| text).collect();
        assert_eq!(texts, expected, "{verb}");
    }
    let mut workspace = at_ebb();
    ran(&mut workspace, "number", "1");
    ran(&mut workspace, "rotate-forward", "");
    let texts: Vec<String> = texts_of(&workspace).into_iter().map(|(text, _)| text).collect();
    assert_eq!(texts, ["let 4 = 1;\nlow(1);\n", "fn 2() {}\r\n", "\t3"]);
    ran(&mut workspace, "cut", "");
    ran(&mut workspace, "paste", "");
    let texts: Vec<String> = texts_of(&workspace).into_iter().map(|(text, _)| text).collect();
    assert_eq!(texts, ["let 4 = 1;\nlow(1);\n", "fn 2() {}\r\n", "\t3"], "each cursor gets its own piece");
}

#[test]
fn a_later_step_of_its_own_holds_a_file_up_once() {
    let mut workspace = at_ebb();
    ran(&mut workspace, "type-text", "tide");
    // The last text was changed by itself since.
    let last = workspace.buffers().iter().find(|buffer| buffer.is_of(&path_of(2))).unwrap().id;
    let (revision, text) = {
        let buffer = workspace.buffer(last).unwrap();
        (buffer.revision(), buffer.text().clone())
    };
    let mut builder = snarvel_core::changes::ChangeBuilder::new(&text);
    builder.insert(Byte(0), "own ");
    let part = snarvel_workspace::transaction::Part { buffer: last, revision, change: builder.finish() };
    let first = workspace.active().id;
    workspace.show(last);
    workspace.commit(snarvel_workspace::transaction::Transaction { verb: "echo", parts: vec![part] }).unwrap();
    workspace.show(first);
    let told = ran(&mut workspace, "undo", "");
    assert!(told.contains("gauge2.rs has a later step of its own"), "{told}");
    let texts =
        |workspace: &Workspace| -> Vec<String> { texts_of(workspace).into_iter().map(|(text, _)| text).collect() };
    assert_eq!(texts(&workspace), ["let tide = 1;\nlow(tide);\n", "fn tide() {}\r\n", "own \ttide"]);
    ran(&mut workspace, "undo", "");
    assert_eq!(texts(&workspace), [TEXTS[0], TEXTS[1], "own \ttide"]);
}

#[test]
fn it_ends_and_comes_back() {
    let mut workspace = at_ebb();
    assert_eq!((workspace.convoy().map(<[_]>::len), workspace.convoy_cursors()), (Some(3), 4));
    for name in ["gauge0.rs", "gauge1.rs", "gauge2.rs", "gauge0.rs"] {
        // From the last cursor of a file to the first of the next.
        assert_eq!(workspace.active().name(), name);
        ran(&mut workspace, "next-cursor", "");
        if name == "gauge0.rs" {
            ran(&mut workspace, "next-cursor", "");
        }
    }
    assert!(workspace.end_convoy() && !workspace.end_convoy());
    assert!(texts_of(&workspace).iter().all(|(_, set)| set.len() == 1));
    assert_eq!(workspace.active().name(), "gauge0.rs");
    ran(&mut workspace, "recall", "");
    assert_eq!((workspace.convoy().map(<[_]>::len), workspace.convoy_cursors()), (Some(3), 4));
    // A file that is closed leaves it.
    let last = workspace.buffers().iter().find(|buffer| buffer.is_of(&path_of(2))).unwrap().id;
    workspace.go_on(snarvel_workspace::ask::PendingExit::Close(last));
    workspace.settle();
    assert_eq!((workspace.convoy().map(<[_]>::len), workspace.convoy_cursors()), (Some(2), 3));
}

#[test]
fn a_read_only_file_is_named_and_left_out() {
    let mut workspace = at_ebb();
    let second = workspace.buffers().iter().find(|buffer| buffer.is_of(&path_of(1))).unwrap().id;
    workspace.buffer_mut(second).unwrap().saved.read_only = true;
    let told = ran(&mut workspace, "upper-case", "");
    assert!(told.contains("left out, read-only: gauge1.rs"), "{told}");
    let texts: Vec<String> = texts_of(&workspace).into_iter().map(|(text, _)| text).collect();
    assert_eq!(texts, ["let EBB = 1;\nlow(EBB);\n", TEXTS[1], "\tEBB"]);
    assert_eq!(workspace.convoy().map(<[_]>::len), Some(2));
}

#[test]
fn a_recipe_plays_in_every_file_as_one_step() {
    let play = |workspace: &mut Workspace, source: &str| {
        let known = Known { name: "bell".to_owned(), source: source.to_owned() };
        workspace.play_source(&known, "play-recipe", 1).message.unwrap_or_default()
    };
    let texts = |workspace: &Workspace| texts_of(workspace).into_iter().map(|(text, _)| text).collect::<Vec<_>>();
    let mut workspace = at_ebb();
    assert_eq!(play(&mut workspace, "copy\ntype \"bell\""), "played bell in 3 files");
    assert_eq!(texts(&workspace), ["let bell = 1;\nlow(bell);\n", "fn bell() {}\r\n", "\tbell"]);
    assert!(ran(&mut workspace, "undo", "").starts_with("undid"));
    assert_eq!(texts(&workspace), TEXTS);
    // A strict recipe that fails in one file changes none.
    let told = play(&mut workspace, "strict\ntype \"bell\"\ndelete-word-back\ndelete-word-back\ndelete-word-back");
    assert!(told.contains("gauge1.rs: bell was not played: line 5"), "{told}");
    assert_eq!(texts(&workspace), TEXTS);
    let second = workspace.buffers().iter().find(|buffer| buffer.is_of(&path_of(1))).unwrap().id;
    workspace.buffer_mut(second).unwrap().saved.read_only = true;
    let told = play(&mut workspace, "type \"bell\"");
    assert_eq!(told, "played bell in 2 files; left out, read-only: gauge1.rs");
    assert_eq!(texts(&workspace), ["let bell = 1;\nlow(bell);\n", TEXTS[1], "\tbell"]);
}

#[test]
fn the_last_addition_is_taken_back_over_all_files() {
    let mut workspace = workspace(&["ebb\n", "x ebb\n", "ebb y ebb\n"]);
    ran(&mut workspace, "take-next", "");
    assert_eq!(ran(&mut workspace, "convoy-add", ""), "2 cursors in 2 files");
    assert_eq!(ran(&mut workspace, "convoy-add", ""), "3 cursors in 3 files");
    // What was added in the texts since goes first, then the files that were taken in, the last one before the others.
    ran(&mut workspace, "take-next", "");
    assert_eq!(workspace.convoy_cursors(), 4);
    ran(&mut workspace, "drop-newest", "");
    assert_eq!((workspace.convoy_cursors(), workspace.convoy_files()), (3, 3));
    assert_eq!(ran(&mut workspace, "drop-newest", ""), "gauge1.rs acts alone again: 2 cursors in 2 files");
    assert_eq!(ran(&mut workspace, "drop-newest", ""), "gauge0.rs acts alone again, and so does this file");
    assert_eq!(workspace.convoy_files(), 0);
    assert_eq!(ran(&mut workspace, "drop-newest", ""), "there is no addition to take back");
}

#[test]
fn a_word_of_another_open_file_is_taken_in() {
    let mut workspace = workspace(&["ebb ebbing\n", "flow\n", "ebb ebb\n"]);
    let told = ran(&mut workspace, "convoy-add", "");
    assert_eq!(told, "2 cursors in 2 files");
    ran(&mut workspace, "delete-back", "");
    let told = ran(&mut workspace, "convoy-add", "");
    assert!(told.starts_with("no "), "{told}");
}
