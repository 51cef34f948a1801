//! Several texts, several views, transactions over them, and events: what holds whatever happens.

use proptest::prelude::*;
use snarvel_core::changes::feed::Since;
use snarvel_core::changes::{Change, ChangeBuilder};
use snarvel_core::cursors::CursorSet;
use snarvel_core::folds::Folds;
use snarvel_core::text::Text;
use snarvel_core::text::place::{LineColumn, Place};
use snarvel_core::units::{Byte, Line, Span};
use snarvel_files::load::{Encoding, Loaded};
use snarvel_workspace::buffer::{Buffer, Completeness, Origin};
use snarvel_workspace::command::Command;
use snarvel_workspace::event::{Event, Payload, Source};
use snarvel_workspace::ids::{BufferId, ViewId};
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::registry::by_name;
use snarvel_workspace::tasks::About;
use snarvel_workspace::transaction::{Part, Refusal, Transaction};
use snarvel_workspace::views::split::Side;
use snarvel_workspace::workspace::Workspace;
use std::path::Path;
use std::time::Duration;

/// A workspace in `folder` with texts called a.rs, b.rs and so on; the last one is active.
fn with_texts(folder: &Path, texts: &[&str]) -> (Workspace, Vec<BufferId>) {
    let mut workspace = Workspace::new(Project { writing: Writing::Nothing, ..Project::in_folder(folder) });
    let mut ids = Vec::new();
    for (index, text) in texts.iter().enumerate() {
        let name = format!("{}.rs", char::from(b'a' + index as u8));
        let loaded = Loaded { text: Text::from(*text), encoding: Encoding::default(), read_only: false };
        let buffer = Buffer::new(loaded, Origin::File(folder.join(name)), workspace.project.defaults, None);
        ids.push(workspace.show_buffer(buffer));
    }
    (workspace, ids)
}

/// Takes in what is under way until all of that has come.
fn wait(workspace: &mut Workspace) {
    while let Some(event) = workspace.tasks.receive_awaited() {
        workspace.take(event);
    }
}

fn sound() -> &'static Path {
    Path::new("/sound")
}

fn text(workspace: &Workspace, id: BufferId) -> String {
    workspace.buffer(id).unwrap().text().to_string()
}

fn texts(workspace: &Workspace, ids: &[BufferId]) -> Vec<String> {
    ids.iter().map(|id| text(workspace, *id)).collect()
}

fn run(workspace: &mut Workspace, name: &str) {
    workspace.run(&Command::named(name));
    workspace.settle();
}

fn type_text(workspace: &mut Workspace, typed: &str) {
    workspace.run(&Command::typing(typed));
    workspace.settle();
}

fn caret_at(workspace: &mut Workspace, at: usize) {
    let (buffer, view) = workspace.active_pair_mut();
    view.set_cursors(buffer, CursorSet::caret(Byte(at)));
}

/// Where the primary caret of a view is.
fn head(workspace: &Workspace, view: ViewId) -> usize {
    workspace.pair(view).1.cursors().primary().head.0
}

/// Puts `with` in the place of the first `len` bytes of each text.
fn replacing(workspace: &Workspace, ids: &[BufferId], len: usize, with: &str) -> Transaction {
    let part = |id: &BufferId| {
        let buffer = workspace.buffer(*id).unwrap();
        let mut builder = ChangeBuilder::new(buffer.text());
        builder.replace(Span::new(Byte(0), Byte(len)), with);
        Part { buffer: *id, revision: buffer.revision(), change: builder.finish() }
    };
    Transaction { verb: "replace", parts: ids.iter().map(part).collect() }
}

#[test]
fn two_views_of_a_text_each_keep_their_cursors_folds_and_place() {
    let (mut workspace, ids) = with_texts(sound(), &["fog\nhorn\nebb {\n    flow\n}\ntide\n"]);
    let first = workspace.views.focus();
    caret_at(&mut workspace, 4);
    workspace.split_view(Side::Beside);
    let second = workspace.views.focus();
    assert_ne!(first, second);
    // In the second one a block is folded and text is put in above: the first one has no fold, and its caret stays at "horn".
    let (buffer, view) = workspace.active_pair_mut();
    let hidden = Folds::hiding(buffer.text(), Line(2), Line(4));
    view.set_folds(buffer, &Folds::of(vec![hidden]));
    caret_at(&mut workspace, 0);
    type_text(&mut workspace, "dense ");
    assert_eq!(text(&workspace, ids[0]), "dense fog\nhorn\nebb {\n    flow\n}\ntide\n");
    assert_eq!((head(&workspace, first), head(&workspace, second)), (10, 6));
    assert!(workspace.pair(first).1.folds().is_empty());
    assert_eq!(workspace.pair(second).1.folds().list().len(), 1);
    // What is undone in the first one was done in the second one: one text has one history.
    workspace.next_view();
    assert_eq!(workspace.views.focus(), first);
    run(&mut workspace, "undo");
    assert!(text(&workspace, ids[0]).starts_with("fog\nhorn"));
    assert_eq!(workspace.pair(second).1.folds().list().len(), 1, "folds of the other view stay");
    assert!(head(&workspace, second) <= 4);
    // Closing one view leaves the text and the other view.
    workspace.close_view();
    assert_eq!(workspace.views.shown(), [second]);
    workspace.close_view();
    assert_eq!(workspace.views.shown(), [second], "one view stays");
}

#[test]
fn views_of_several_texts_are_split_swapped_and_closed() {
    let (mut workspace, ids) = with_texts(sound(), &["ebb\n", "flow\n"]);
    workspace.split_view(Side::Below);
    workspace.show(ids[0]);
    let shown = |workspace: &Workspace| -> Vec<BufferId> {
        workspace.views.shown().iter().map(|view| workspace.pair(*view).1.buffer).collect()
    };
    assert_eq!(shown(&workspace), [ids[1], ids[0]]);
    workspace.swap_views();
    assert_eq!(shown(&workspace), [ids[0], ids[1]]);
    assert_eq!(workspace.active().id, ids[0], "the keys go along");
    // The place of a text that is closed is taken by another one.
    workspace.leave(snarvel_workspace::ask::PendingExit::Close(ids[0]));
    assert_eq!(shown(&workspace), [ids[1], ids[1]]);
    workspace.close_view();
    for _ in 0..5 {
        workspace.split_view(Side::Beside);
    }
    assert_eq!(workspace.views.shown().len(), snarvel_workspace::views::MOST_SHOWN);
    workspace.settle();
}

#[test]
fn a_transaction_over_three_texts_is_one_step_wherever_it_is_taken_back() {
    let (mut workspace, ids) = with_texts(sound(), &["ebb one\n", "ebb two\n", "ebb three\n"]);
    let before = texts(&workspace, &ids);
    let transaction = replacing(&workspace, &ids, 3, "flow");
    let group = workspace.commit(transaction).unwrap();
    workspace.settle();
    let after = ["flow one\n", "flow two\n", "flow three\n"];
    assert_eq!(texts(&workspace, &ids), after);
    assert_eq!(workspace.files_of(group), ["a.rs", "b.rs", "c.rs"]);
    for id in &ids {
        workspace.show(*id);
        run(&mut workspace, "undo");
        assert_eq!(texts(&workspace, &ids), before, "taken back in all of them");
        run(&mut workspace, "redo");
        assert_eq!(texts(&workspace, &ids), after, "made again in all of them");
        let depths: Vec<usize> = ids.iter().map(|id| workspace.buffer(*id).unwrap().history().depth()).collect();
        assert_eq!(depths, [1, 1, 1], "one step of each history");
    }
    // One of them was edited since: then nothing is taken back anywhere, and it is said why.
    workspace.show(ids[0]);
    type_text(&mut workspace, "x");
    let edited = texts(&workspace, &ids);
    workspace.show(ids[1]);
    assert_eq!(workspace.undo(1), Err(Refusal::Changed("a.rs".to_owned())));
    assert_eq!(texts(&workspace, &ids), edited);
}

#[test]
fn a_transaction_that_one_text_refuses_changes_nothing_anywhere() {
    let (mut workspace, ids) = with_texts(sound(), &["ebb one\n", "ebb two\n", "ebb three\n"]);
    let before = texts(&workspace, &ids);
    let refused = |workspace: &mut Workspace, spoil: &dyn Fn(&mut Workspace)| {
        let transaction = replacing(workspace, &ids, 3, "flow");
        spoil(workspace);
        let refusal = workspace.commit(transaction).unwrap_err();
        assert_eq!(texts(workspace, &ids[..1]), before[..1], "{refusal}");
        refusal
    };
    let set_read_only = |workspace: &mut Workspace, is: bool| {
        workspace.buffer_mut(ids[1]).unwrap().saved.read_only = is;
    };
    assert_eq!(
        refused(&mut workspace, &|workspace| set_read_only(workspace, true)),
        Refusal::ReadOnly("b.rs".to_owned())
    );
    set_read_only(&mut workspace, false);
    let edited = refused(&mut workspace, &|workspace| {
        workspace.show(ids[1]);
        type_text(workspace, "x");
    });
    assert_eq!(edited, Refusal::Changed("b.rs".to_owned()));
    run(&mut workspace, "undo");
    let loading = refused(&mut workspace, &|workspace| {
        let text = workspace.buffer(ids[2]).unwrap().text().clone();
        workspace.buffer_mut(ids[2]).unwrap().extend_loaded(text, Completeness::Partial);
    });
    assert_eq!(loading, Refusal::Loading("c.rs".to_owned()));
    let gone = refused(&mut workspace, &|workspace| {
        workspace.leave(snarvel_workspace::ask::PendingExit::Close(ids[2]));
    });
    assert_eq!(gone, Refusal::Gone);
}

#[test]
fn the_journals_of_a_transaction_agree_after_a_kill() {
    let (folder, state) = (tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap());
    let names = ["a.rs", "b.rs", "c.rs"];
    names.iter().for_each(|name| std::fs::write(folder.path().join(name), "ebb\n").unwrap());
    let opened = |state: &Path| {
        let mut workspace = Workspace::new(Project::in_folder(folder.path()));
        workspace.keep_safe(state);
        let ids: Vec<BufferId> = names.iter().map(|name| workspace.open(Path::new(name))).collect();
        let wait = Duration::from_secs(20);
        while ids.iter().any(|id| workspace.buffer(*id).unwrap().is_partial()) {
            let event = workspace.tasks.receive(wait).expect("the files are read");
            workspace.take(event);
        }
        assert!(workspace.journals().unwrap().settle(wait));
        while let Some(event) = workspace.tasks.poll().or_else(|| workspace.tasks.receive_awaited()) {
            workspace.take(event);
        }
        (workspace, ids)
    };
    let (mut workspace, ids) = opened(state.path());
    let transaction = replacing(&workspace, &ids, 3, "flow");
    workspace.commit(transaction).unwrap();
    workspace.settle();
    assert!(workspace.journals().unwrap().settle(Duration::from_secs(20)));
    // What a kill leaves now: the files as they are, and no program that holds them.
    let left = tempfile::tempdir().unwrap();
    for entry in std::fs::read_dir(state.path()).unwrap().flatten() {
        std::fs::copy(entry.path(), left.path().join(entry.file_name())).unwrap();
    }
    let (after, _) = opened(left.path());
    assert_eq!(after.told.asks.len(), 3, "each text is offered what was left of it");
}

#[test]
fn an_event_of_another_revision_never_reaches_a_text() {
    let (mut workspace, ids) = with_texts(sound(), &["ebb\n"]);
    let revision = workspace.active().revision();
    let about = About { revision: Some(revision), ..About::new("test").of(ids[0]) };
    let _task = workspace.tasks.run(about, Payload::Walked, Vec::new);
    type_text(&mut workspace, "x");
    let mut told = Vec::new();
    while let Some(event) = workspace.tasks.receive(Duration::from_secs(20)) {
        let is_end = matches!(event.payload, Payload::Ended);
        told.extend(workspace.take(event));
        if is_end {
            break;
        }
    }
    assert!(told.is_empty(), "{told:?}");
    // Of a task that was stopped nothing is told either.
    let task = workspace.tasks.run(About::new("test"), Payload::Walked, Vec::new);
    drop(task);
    assert!(workspace.tasks.receive(Duration::from_millis(300)).is_none());
}

#[test]
fn a_task_that_panics_is_told_and_takes_nothing_with_it() {
    let (mut workspace, ids) = with_texts(sound(), &["ebb\n"]);
    let about = About::new("counting gauges").of(ids[0]);
    let task = workspace.tasks.run(about, Payload::Walked, || panic!("the gauge is gone"));
    let event: Event = workspace.tasks.receive(Duration::from_secs(20)).unwrap();
    let Source { task: told, .. } = event.source;
    assert_eq!(told, task.id);
    workspace.take(event);
    let said = workspace.told.message.clone().unwrap();
    assert!(said.contains("counting gauges broke off: the gauge is gone"), "{said}");
    type_text(&mut workspace, "x");
    assert_eq!(text(&workspace, ids[0]), "xebb\n", "work goes on");
}

#[test]
fn bookmarks_and_folds_go_with_a_line_that_is_carried() {
    let (mut workspace, _) = with_texts(sound(), &["a {\n    b\n}\nsame\nsame\n"]);
    let (buffer, view) = workspace.active_pair_mut();
    let hidden = Folds::hiding(buffer.text(), Line(0), Line(2));
    view.set_folds(buffer, &Folds::of(vec![hidden]));
    caret_at(&mut workspace, 0);
    run(&mut workspace, "bookmark");
    run(&mut workspace, "carry-down");
    assert_eq!(workspace.active().text().to_string(), "same\na {\n    b\n}\nsame\n");
    let lines: Vec<Line> = workspace.active().bookmarks().lines(workspace.active().text()).collect();
    assert_eq!(lines, [Line(1)], "the bookmark is on its line");
    let folds = workspace.view().folds();
    assert_eq!(
        folds.under(workspace.active().text(), Line(1)).map(|span| span.start),
        Some(Byte(8)),
        "and so is the fold"
    );
    // Of two lines that say the same the bookmark knows its own.
    let (buffer, view) = workspace.active_pair_mut();
    let at = buffer.text().byte_of_place(Place::At(LineColumn { line: 5, column: 1 }), Line(0));
    view.set_cursors(buffer, CursorSet::caret(at));
    run(&mut workspace, "bookmark");
    run(&mut workspace, "line-start");
    run(&mut workspace, "carry-up");
    let lines: Vec<Line> = workspace.active().bookmarks().lines(workspace.active().text()).collect();
    assert_eq!(lines.len(), 2, "{lines:?}");
}

/// Somebody who follows a text by its feed alone.
struct Follower {
    text: Text,
    revision: u64,
    seen: Vec<u64>,
}

impl Follower {
    fn read(&mut self, buffer: &Buffer) {
        match buffer.feed().since(self.revision) {
            Since::Changes(entries) => {
                for entry in entries {
                    let change: &Change = &entry.change;
                    self.text.apply(change);
                    self.seen.push(entry.revision);
                }
            }
            Since::Lost => panic!("lost at revision {}", self.revision),
        }
        self.revision = buffer.revision();
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 60, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn who_follows_the_feed_sees_each_change_once_and_can_rebuild_the_text(
        steps in prop::collection::vec((0usize..14, 0usize..60), 1..80),
        pace in 1usize..6,
    ) {
        let (mut workspace, _) = with_texts(sound(), &["fog (horn) ebb\n    flow; tide\nslack\n"]);
        workspace.split_view(Side::Beside);
        let mut follower = Follower { text: workspace.active().text().clone(), revision: workspace.active().revision(), seen: Vec::new() };
        let first = follower.revision;
        let verbs = [
            "duplicate-down", "delete-lines", "carry-up", "carry-down", "join-lines", "undo", "redo", "comment-toggle", "take-next",
            "indent", "next-cursor",
        ];
        for (index, (what, at)) in steps.into_iter().enumerate() {
            match verbs.get(what) {
                Some(verb) => run(&mut workspace, by_name(verb).unwrap().name),
                None if what == 11 => workspace.next_view(),
                None => {
                    let end = workspace.active().text().len();
                    let at = workspace.active().text().snap_back(Byte(at % (end + 1))).0;
                    caret_at(&mut workspace, at);
                    type_text(&mut workspace, "é x");
                }
            }
            if index % pace == 0 {
                follower.read(workspace.active());
            }
            for view in workspace.views.shown() {
                let (buffer, view) = workspace.pair(view);
                view.assert_invariants(buffer);
            }
        }
        follower.read(workspace.active());
        prop_assert_eq!(&follower.text, workspace.active().text());
        let each_once: Vec<u64> = (first + 1..=workspace.active().revision()).collect();
        prop_assert_eq!(follower.seen, each_once);
    }
}

#[test]
fn two_names_of_one_file_are_one_text() {
    let folder = tempfile::tempdir().unwrap();
    let path = |name: &str| folder.path().join(name);
    std::fs::write(path("tides.txt"), "ebb\nflow\nslack\n").unwrap();
    std::os::unix::fs::symlink("tides.txt", path("soft.txt")).unwrap();
    std::fs::hard_link(path("tides.txt"), path("hard.txt")).unwrap();
    std::fs::create_dir(path("in")).unwrap();
    let mut workspace = Workspace::new(Project::in_folder(folder.path()));
    let first = workspace.open(Path::new("tides.txt"));
    wait(&mut workspace);
    for name in ["soft.txt", "hard.txt", "in/../tides.txt"] {
        workspace.open(Path::new(name));
        workspace.go_to_place(Place::At(LineColumn { line: 2, column: 2 }));
        wait(&mut workspace);
        let of_files = workspace.buffers().iter().filter(|buffer| buffer.path().is_some()).count();
        assert_eq!((of_files, workspace.active().id), (1, first), "{name}");
        assert_eq!(workspace.active_pair_mut().1.cursors().primary().head, Byte(5), "{name}");
        assert!(workspace.told.message.as_ref().unwrap().contains("another name of tides.txt"), "{name}");
        let (buffer, view) = workspace.active_pair_mut();
        view.set_cursors(buffer, CursorSet::caret(Byte(0)));
    }
    // Both at once, before anything is read.
    let mut workspace = Workspace::new(Project::in_folder(folder.path()));
    for name in ["hard.txt", "soft.txt"] {
        workspace.open(Path::new(name));
    }
    wait(&mut workspace);
    assert_eq!(workspace.buffers().iter().filter(|buffer| buffer.path().is_some()).count(), 1);
    assert_eq!(workspace.active().text().to_string(), "ebb\nflow\nslack\n");
}
