//! The panel of recipes in the application: editing, drafts, names, keys, a run over the project.

use snarvel_ui::app::{App, Event};
use snarvel_ui::keys::Key;
use snarvel_ui::keys::keymap::Meaning;
use snarvel_ui::keys::layer::Layer;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_workspace::kept::Store;
use snarvel_workspace::project::{Project, Trust};
use snarvel_workspace::recipes::book::{From, Known};
use snarvel_workspace::workspace::Workspace;
use std::fs;
use std::path::Path;
use tempfile::TempDir;

/// A project with files, and the person's own folders beside it.
struct Bench {
    folder: TempDir,
    own: TempDir,
}

impl Bench {
    fn with(files: &[(&str, &str)]) -> Bench {
        let bench = Bench { folder: tempfile::tempdir().unwrap(), own: tempfile::tempdir().unwrap() };
        for (name, content) in files {
            let path = bench.folder.path().join(name);
            fs::create_dir_all(path.parent().unwrap()).unwrap();
            fs::write(path, content).unwrap();
        }
        bench
    }

    /// The program as it starts, with `name` open.
    fn app(&self, name: &str) -> App {
        let recipes = Some(self.own.path().join("recipes"));
        let mut workspace = Workspace::new(Project { recipes, ..Project::in_folder(self.folder.path()) });
        workspace.keep_in(Store::at(self.own.path().join("state")));
        workspace.read_recipes();
        let mut app = App::new(workspace, Palette::new(&Theme::night(), Depth::True), Size::REFERENCE);
        app.context.keyboard.file = Some(self.own.path().join("keys.toml"));
        app.context.workspace.open(Path::new(name));
        app.settle_background();
        app
    }

    fn file(&self, name: &str) -> String {
        fs::read_to_string(self.folder.path().join(name)).unwrap()
    }

    fn kept(&self, name: &str) -> Option<String> {
        fs::read_to_string(self.own.path().join("recipes").join(name)).ok()
    }
}

/// Presses keys; what is in quotes is typed.
fn press(app: &mut App, keys: &str) {
    for (index, part) in keys.split('\'').enumerate() {
        match index % 2 {
            0 => part.split_whitespace().for_each(|key| one(app, Key::parse(key).unwrap())),
            _ => part.chars().for_each(|c| one(app, Key::character(c))),
        }
    }
}

fn one(app: &mut App, key: Key) {
    app.handle(Event::Key(key), 0);
    app.settle_background();
}

fn text(app: &App) -> String {
    app.context.workspace.active().text().to_string()
}

/// What is seen of the text above the panel.
fn seen(app: &App) -> String {
    app.context.workspace.shown_here().0.text().to_string()
}

fn drafts(app: &App) -> Vec<Known> {
    app.context.workspace.recipes().unfiled.drafts().to_vec()
}

#[test]
fn what_a_recipe_would_do_is_seen_before_it_is_done() {
    let bench = Bench::with(&[("a.txt", "ebb\nflow\n")]);
    let mut app = bench.app("a.txt");
    press(&mut app, "ctrl+r 'quoted'");
    assert_eq!((seen(&app), text(&app)), ("\"ebb\",\n\"flow\",\n".to_owned(), "ebb\nflow\n".to_owned()));
    press(&mut app, "esc");
    assert_eq!((seen(&app), text(&app)), ("ebb\nflow\n".to_owned(), "ebb\nflow\n".to_owned()));
    press(&mut app, "ctrl+r 'quoted' enter");
    assert!(app.panel().is_none());
    assert_eq!(text(&app), "\"ebb\",\n\"flow\",\n");
    assert_eq!(app.message(), Some("played quoted-list"));
    // It is the last recipe now, and one step of the history.
    press(&mut app, "ctrl+z ctrl+space $");
    assert_eq!(text(&app), "\"ebb\",\n\"flow\",\n");
}

#[test]
fn what_is_edited_is_a_draft_from_the_first_letter_on() {
    let bench = Bench::with(&[("a.txt", "ebb\n")]);
    let mut app = bench.app("a.txt");
    press(&mut app, "ctrl+r 'quoted' tab ctrl+end");
    press(&mut app, "'each line' enter");
    // It has a mistake meanwhile: nothing is shown, nothing can be played.
    assert_eq!(seen(&app), "ebb\n");
    press(&mut app, "esc enter");
    assert_eq!(text(&app), "ebb\n");
    press(&mut app, "tab ctrl+end '    type \"- \"'");
    assert_eq!(seen(&app), "- \"ebb\",\n");
    let [draft] = &drafts(&app)[..] else { panic!("one draft") };
    assert!(draft.name == "quoted-list" && draft.source.ends_with("each line\n    type \"- \""), "{draft:?}");
    // Undo in it is its own.
    press(&mut app, "esc tab ctrl+z");
    assert_eq!(text(&app), "ebb\n");
    press(&mut app, "ctrl+y esc enter");
    assert_eq!(text(&app), "- \"ebb\",\n");
    // The next start still has it.
    app.context.workspace.end_keeping().unwrap();
    let again = bench.app("a.txt");
    assert_eq!(drafts(&again).len(), 1);
    let entries: Vec<_> = again.context.workspace.recipes().entries().collect();
    assert_eq!((entries[0].from, entries.len()), (From::Draft, 9));
    // What is as its file again is no draft.
    let mut app = again;
    press(&mut app, "ctrl+r delete y");
    assert_eq!(drafts(&app), []);
    press(&mut app, "tab 'x' backspace esc esc");
    assert_eq!(drafts(&app), []);
}

#[test]
fn a_recording_is_named_kept_bound_and_thrown_away() {
    let bench = Bench::with(&[("a.txt", "ebb\nflow\n")]);
    let mut app = bench.app("a.txt");
    press(&mut app, "ctrl+space ' \"' d '\"' ctrl+r");
    assert_eq!(drafts(&app).len(), 1, "{:?}", app.message());
    press(&mut app, "ctrl+k");
    assert_eq!(app.message(), Some("a key plays a recipe by its name: Ctrl+S names this one first"));
    press(&mut app, "ctrl+s 'a/b' enter");
    assert_eq!(bench.kept("a/b.recipe"), None);
    press(&mut app, "ctrl+u 'twice' enter");
    assert_eq!(bench.kept("twice.recipe").as_deref(), Some("duplicate-down\n"));
    assert_eq!(drafts(&app), []);
    press(&mut app, "ctrl+k ctrl+f12");
    assert_eq!(app.message(), Some("Ctrl+F12 runs play-recipe(twice) now"));
    let meaning = app.context.keyboard.keymap.meaning(Key::parse("ctrl+f12").unwrap(), Layer::Write);
    assert!(matches!(meaning, Some(Meaning::Call(verb, name)) if verb.name == "play-recipe" && name == "twice"));
    press(&mut app, "esc");
    let before = text(&app);
    press(&mut app, "ctrl+f12");
    assert_eq!(text(&app).lines().count(), before.lines().count() + 1);
    // Another one of the same name is asked about.
    press(&mut app, "ctrl+r 'quoted' ctrl+s ctrl+u 'twice' enter");
    assert_eq!(bench.kept("twice.recipe").as_deref(), Some("duplicate-down\n"));
    press(&mut app, "enter");
    assert!(bench.kept("twice.recipe").unwrap().contains("each match"));
    // What comes with the program stays.
    press(&mut app, "esc ctrl+r 'blank' delete");
    assert_eq!(app.message(), Some("it comes with the program, and stays"));
}

#[test]
fn over_the_project_files_are_shown_left_out_changed_and_put_back() {
    let files = [("a.txt", "tide\n"), ("b.txt", "tide tide\n"), ("c.txt", "tide\n"), ("d.txt", "fog\n")];
    let bench = Bench::with(&files);
    let mut app = bench.app("a.txt");
    let known = Known { name: "upper".to_owned(), source: "each match /tide/\n    type \"TIDE\"\n".to_owned() };
    app.context.workspace.recipes_mut().unfiled.put(known);
    press(&mut app, "ctrl+r alt+enter");
    press(&mut app, "down delete");
    press(&mut app, "enter");
    assert!(app.panel().is_none());
    assert_eq!((text(&app).as_str(), bench.file("a.txt").as_str()), ("TIDE\n", "tide\n"), "an open text is not saved");
    assert_eq!((bench.file("b.txt").as_str(), bench.file("c.txt").as_str()), ("tide tide\n", "TIDE\n"));
    assert_eq!(
        app.message(),
        Some("changed 2 places in 2 files, 1 of them open and not saved yet; Ctrl+Z takes it back")
    );
    press(&mut app, "ctrl+z");
    assert_eq!((text(&app).as_str(), bench.file("c.txt").as_str()), ("tide\n", "tide\n"));
    // Nothing to change: Enter says so, Esc goes back, and back again.
    press(&mut app, "ctrl+r 'upper' ctrl+a 'nothing' ctrl+u delete delete delete enter");
    assert_eq!(app.message(), Some("there is nothing to change"));
    press(&mut app, "esc");
    assert!(app.panel().is_some());
    press(&mut app, "esc");
    assert_eq!((app.panel().is_none(), text(&app).as_str()), (true, "tide\n"));
}

#[test]
fn recipes_of_a_folder_count_only_where_it_is_trusted() {
    let files = [
        ("a.txt", "tide\n"),
        (".snarvel/recipes/shared.recipe", "type \"low \"\n"),
        (".snarvel/recipes/sort.recipe", "filter-through sort\n"),
    ];
    let bench = Bench::with(&files);
    let mut app = bench.app("a.txt");
    let names = |app: &App| {
        let entries = app.context.workspace.recipes().entries();
        entries.filter(|entry| entry.from == From::Project).map(|entry| entry.known.name).collect::<Vec<_>>()
    };
    press(&mut app, "ctrl+r");
    assert_eq!(names(&app), [""; 0]);
    press(&mut app, "ctrl+t");
    assert_eq!(names(&app), ["shared", "sort"]);
    press(&mut app, "'shared' enter");
    assert_eq!(text(&app), "low tide\n");
    // The next start knows.
    let mut again = bench.app("a.txt");
    assert_eq!(again.context.workspace.project.trust, Trust::Folder);
    press(&mut again, "ctrl+r 'sort' enter");
    assert_eq!(again.message(), Some("played sort"));
}

#[test]
fn lines_are_pasted_into_a_recipe_and_verbs_of_the_program_are_not_for_it() {
    let bench = Bench::with(&[("a.txt", "ebb\n")]);
    let mut app = bench.app("a.txt");
    press(&mut app, "ctrl+r 'blank' tab ctrl+a");
    app.handle(Event::Paste("each line\n    type \"- \"\n".to_owned()), 0);
    app.settle_background();
    assert_eq!(seen(&app), "- ebb\n");
    press(&mut app, "ctrl+o");
    assert_eq!(app.message(), Some("open is not for the text of a recipe: Esc goes back to the list"));
    press(&mut app, "esc enter");
    assert_eq!(text(&app), "- ebb\n");
}

#[test]
fn a_new_command_is_asked_about_once_in_a_folder() {
    let bench = Bench::with(&[("a.txt", "b\na\n")]);
    let mut app = bench.app("a.txt");
    let filter = "ctrl+l 'filter-through' enter 'sort' enter";
    press(&mut app, filter);
    assert_eq!((text(&app).as_str(), app.panel().is_some()), ("b\na\n", true));
    press(&mut app, "n");
    assert_eq!((text(&app).as_str(), app.message()), ("b\na\n", Some("not run: nothing has changed")));
    press(&mut app, filter);
    press(&mut app, "y");
    assert_eq!((text(&app).as_str(), app.message()), ("a\nb\n", Some("the whole text went through the command")));
    press(&mut app, "ctrl+z");
    press(&mut app, filter);
    assert_eq!(text(&app), "a\nb\n");
    let mut again = bench.app("a.txt");
    press(&mut again, filter);
    assert_eq!(text(&again), "a\nb\n", "the next start knows");
    // What fails says what it said, and changes nothing.
    press(&mut again, "ctrl+l 'filter-through' enter 'echo one >&2; echo two >&2; exit 4' enter y");
    assert_eq!((text(&again).as_str(), again.panel().is_some()), ("a\nb\n", true));
}
