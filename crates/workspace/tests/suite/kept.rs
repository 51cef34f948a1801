//! What is kept between starts: sessions, bookmarks, journals of files that have another name.

use snarvel_core::bookmarks::Bookmarks;
use snarvel_core::cursors::CursorSet;
use snarvel_core::folds::Folds;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line};
use snarvel_files::save::{Disk, FileLayer};
use snarvel_workspace::ask::{Ask, Choice, PendingExit};
use snarvel_workspace::command::Command;
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::kept::Store;
use snarvel_workspace::operations::FileOperation;
use snarvel_workspace::project::Project;
use snarvel_workspace::state::searches::PastSearch;
use snarvel_workspace::workspace::Workspace;
use std::path::Path;
use std::time::Duration;

/// Takes in everything that is awaited.
fn settle(workspace: &mut Workspace) {
    while let Some(event) = workspace.tasks.receive_awaited() {
        workspace.take(event);
    }
    workspace.settle();
}

/// A workspace in `folder` that keeps what is to be kept in `state`.
fn in_folder(folder: &Path, state: &Path) -> Workspace {
    let mut workspace = Workspace::new(Project::in_folder(folder));
    workspace.keep_in(Store::at(state.to_owned()));
    settle(&mut workspace);
    workspace
}

fn open(workspace: &mut Workspace, name: &str) -> BufferId {
    let id = workspace.open(Path::new(name));
    settle(workspace);
    id
}

/// Takes in what has happened, and what comes of that.
fn take_all(workspace: &mut Workspace) {
    while let Some(event) = workspace.tasks.poll().or_else(|| workspace.tasks.receive_awaited()) {
        workspace.take(event);
    }
}

#[test]
fn what_was_open_comes_back_with_the_folder() {
    let [folder, state] = [tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap()];
    for (name, content) in [("a.rs", "fn a() {\n    1\n}\n"), ("b.rs", "ebb\nflow\nslack\n")] {
        std::fs::write(folder.path().join(name), content).unwrap();
    }
    let mut first = in_folder(folder.path(), state.path());
    open(&mut first, "a.rs");
    let (buffer, view) = first.active_pair_mut();
    let hidden = Folds::hiding(buffer.text(), Line(0), Line(2));
    view.set_folds(buffer, &Folds::of(vec![hidden]));
    open(&mut first, "b.rs");
    let (buffer, view) = first.active_pair_mut();
    view.set_cursors(buffer, CursorSet::caret(Byte(5)));
    let bookmarks = Bookmarks::on(buffer.text(), [Line(2)]);
    buffer.set_bookmarks(&bookmarks);
    let tide = PastSearch { pattern: "tide".to_owned(), ..PastSearch::default() };
    first.searches.past = vec![tide.clone()];
    first.end_keeping().unwrap();
    // The file has grown meanwhile.
    std::fs::write(folder.path().join("b.rs"), "ebb\nflow\nnew\nslack\n").unwrap();
    let mut again = in_folder(folder.path(), state.path());
    let store = again.store().unwrap().clone();
    again.recall(&store);
    again.restore(&store);
    settle(&mut again);
    assert_eq!(again.buffers().len(), 2);
    assert_eq!(again.view().cursors().primary().head, Byte(5));
    let marked = |workspace: &Workspace| -> Vec<Line> {
        workspace.active().bookmarks().lines(workspace.active().text()).collect()
    };
    assert_eq!(marked(&again), [Line(3)], "the bookmark is on its words");
    let a = again.buffers().iter().find(|buffer| buffer.name() == "a.rs").unwrap().id;
    assert_eq!(again.views.iter().find(|view| view.buffer == a).unwrap().folds().list().len(), 1);
    assert_eq!(again.searches.past, [tide]);
    assert!(again.project.recent[0].ends_with("b.rs"));
    // What was taken away, also in a file that is closed, does not come back.
    again.active_mut().set_bookmarks(&Bookmarks::default());
    let b = again.active().id;
    again.leave(PendingExit::Close(b));
    again.end_keeping().unwrap();
    open(&mut again, "b.rs");
    assert!(marked(&again).is_empty());
    assert_eq!(std::fs::read_dir(folder.path()).unwrap().count(), 2, "nothing of it is in the folder");
}

#[test]
fn a_session_that_cannot_be_read_is_none() {
    let [folder, state] = [tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap()];
    in_folder(folder.path(), state.path()).end_keeping().unwrap();
    let sessions: Vec<_> = std::fs::read_dir(state.path().join("sessions")).unwrap().flatten().collect();
    for bytes in ["", "{", "[]", "{\"folder\":1}"] {
        sessions.iter().for_each(|session| std::fs::write(session.path(), bytes).unwrap());
        std::fs::write(state.path().join("bookmarks.json"), bytes).unwrap();
        let mut workspace = in_folder(folder.path(), state.path());
        let store = workspace.store().unwrap().clone();
        workspace.recall(&store);
        workspace.restore(&store);
        assert_eq!(workspace.buffers().len(), 1);
    }
}

#[test]
fn bookmarks_that_are_not_read_yet_are_not_written_over() {
    let [folder, state] = [tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap()];
    std::fs::write(folder.path().join("b.rs"), "ebb\nflow\n").unwrap();
    let mut first = in_folder(folder.path(), state.path());
    open(&mut first, "b.rs");
    let buffer = first.active_mut();
    let bookmarks = Bookmarks::on(buffer.text(), [Line(1)]);
    buffer.set_bookmarks(&bookmarks);
    first.end_keeping().unwrap();
    // The file is there before what was kept has come; then everything is written.
    let mut hasty = Workspace::new(Project::in_folder(folder.path()));
    hasty.open(Path::new("b.rs"));
    settle(&mut hasty);
    hasty.keep_in(Store::at(state.path().to_owned()));
    hasty.end_keeping().unwrap();
    let mut again = in_folder(folder.path(), state.path());
    open(&mut again, "b.rs");
    assert_eq!(again.active().bookmarks().len(), 1);
}

#[test]
fn what_was_edited_of_a_file_that_has_another_name_now_is_left_under_that() {
    let folder = tempfile::tempdir().unwrap();
    let [work, state, killed] = ["work", "state", "killed"].map(|name| folder.path().join(name));
    std::fs::create_dir(&work).unwrap();
    std::fs::write(work.join("a.py"), "ebb = 1\n").unwrap();
    let started = |state: &Path, name: &str| {
        let mut workspace = Workspace::new(Project::in_folder(&work));
        workspace.keep_safe(state);
        open(&mut workspace, name);
        assert!(workspace.journals().unwrap().settle(Duration::from_secs(20)));
        take_all(&mut workspace);
        workspace
    };
    let mut workspace = started(&state, "a.py");
    workspace.run(&Command::typing("x"));
    workspace.settle();
    workspace.operate(FileOperation::Rename(work.join("a.py"), work.join("b.py")));
    settle(&mut workspace);
    assert_eq!(workspace.active().path(), Some(work.join("b.py").as_path()));
    workspace.journals().unwrap().flush();
    // As if it was killed: its journal stays, and its lock is free.
    std::fs::create_dir(&killed).unwrap();
    for entry in std::fs::read_dir(&state).unwrap().flatten() {
        std::fs::copy(entry.path(), killed.join(entry.file_name())).unwrap();
    }
    assert_eq!(started(&killed, "b.py").told.asks.len(), 1);
}

#[test]
fn what_was_typed_into_a_large_file_that_has_changed_since_is_given_a_text_of_its_own() {
    let folder = tempfile::tempdir().unwrap();
    let [work, state, killed] = ["work", "state", "killed"].map(|name| folder.path().join(name));
    std::fs::create_dir(&work).unwrap();
    std::fs::create_dir(&killed).unwrap();
    let path = work.join("tides.txt");
    // Of a file of more than 4 MiB the journal has no copy.
    std::fs::write(&path, "the duty pilot reads the gauge\n".repeat(150_000)).unwrap();
    let started = |state: &Path| {
        let mut workspace = Workspace::new(Project::in_folder(&work));
        workspace.keep_safe(state);
        open(&mut workspace, "tides.txt");
        while workspace.active().is_partial() {
            let event = workspace.tasks.receive(Duration::from_secs(20)).unwrap();
            workspace.take(event);
        }
        assert!(workspace.journals().unwrap().settle(Duration::from_secs(20)));
        take_all(&mut workspace);
        workspace
    };
    let mut workspace = started(&state);
    for letter in ["l", "o", "w"] {
        workspace.run(&Command::typing(letter));
        workspace.settle();
    }
    workspace.journals().unwrap().flush();
    for entry in std::fs::read_dir(&state).unwrap().flatten() {
        std::fs::copy(entry.path(), killed.join(entry.file_name())).unwrap();
    }
    std::fs::write(&path, "other\n".repeat(900_000)).unwrap();
    let again = started(&killed);
    assert!(again.active().path().is_none() && again.active().text() == &Text::from("low\n"));
    assert!(again.told.message.as_deref().unwrap_or_default().contains("tides.txt has changed since"));
}

#[test]
fn a_save_in_place_that_was_cut_off_is_offered_back() {
    let folder = tempfile::tempdir().unwrap();
    let [work, state] = ["work", "state"].map(|name| folder.path().join(name));
    std::fs::create_dir(&work).unwrap();
    let path = work.join("a.py");
    std::fs::write(&path, "ebb = 1\nflow = 2\n").unwrap();
    // The copy is made, half of the new bytes are written, then the program is killed.
    let copy = Disk::with_journals_in(state.clone()).back_up(&path, &std::fs::read(&path).unwrap()).unwrap();
    std::fs::write(&path, "ebb = 10\nfl").unwrap();
    drop(copy);
    let mut workspace = Workspace::new(Project::in_folder(&work));
    workspace.keep_safe(&state);
    open(&mut workspace, "a.py");
    assert!(workspace.journals().unwrap().settle(Duration::from_secs(20)));
    take_all(&mut workspace);
    let Some(Ask::Compare(asked)) = workspace.told.asks.pop_front() else { panic!("nothing is asked") };
    assert!(asked.title.contains("a save of a.py was cut off"), "{}", asked.title);
    workspace.choose(&asked, Choice::Take);
    take_all(&mut workspace);
    assert_eq!(workspace.active().text().to_string(), "ebb = 1\nflow = 2\n");
}

#[test]
fn making_a_text_utf_8_is_a_step_that_undo_takes_back() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("a.txt");
    // UTF-16, the lower byte first, with its mark.
    let before = b"\xff\xfe\xe9\0\n\0";
    std::fs::write(&path, before).unwrap();
    let mut workspace = Workspace::new(Project::in_folder(folder.path()));
    open(&mut workspace, "a.txt");
    let save = |workspace: &mut Workspace| {
        let id = workspace.active().id;
        workspace.save(id, None);
        take_all(workspace);
        std::fs::read(&path).unwrap()
    };
    let is_unsaved = |workspace: &Workspace| workspace.active().is_unsaved();
    workspace.make_utf8();
    assert!(is_unsaved(&workspace));
    workspace.run(&Command::named("undo"));
    assert!(!is_unsaved(&workspace));
    workspace.run(&Command::named("redo"));
    assert!(is_unsaved(&workspace));
    assert_eq!(save(&mut workspace), "é\n".as_bytes());
    assert!(!is_unsaved(&workspace));
    // Behind a save, too.
    workspace.run(&Command::typing("x"));
    workspace.run(&Command::named("undo"));
    assert!(!is_unsaved(&workspace));
    workspace.run(&Command::named("undo"));
    assert!(is_unsaved(&workspace));
    assert_eq!(save(&mut workspace), before);
    assert!(!is_unsaved(&workspace));
}
