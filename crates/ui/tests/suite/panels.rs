//! Panels: what keys do in them, by themselves and in the application.

use snarvel_ui::app::{App, Event};
use snarvel_ui::keys::Key;
use snarvel_ui::keys::keymap::Meaning;
use snarvel_ui::keys::layer::Layer;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::panels::files::FilesPanel;
use snarvel_ui::panels::lookup::{KeyQuestion, LookupPanel};
use snarvel_ui::panels::open::OpenPanel;
use snarvel_ui::panels::outline::OutlinePanel;
use snarvel_ui::panels::signs::SignsPanel;
use snarvel_ui::size::Size;
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::registry::VERBS;
use snarvel_workspace::workspace::Workspace;
use std::any::Any;
use std::path::Path;

/// The application in `folder`, with `names` open; the last one is active.
fn app(folder: &Path, names: &[&str]) -> App {
    let workspace = Workspace::new(Project::in_folder(folder));
    let mut app = App::new(workspace, Palette::new(&Theme::night(), Depth::True), Size::REFERENCE);
    for name in names {
        app.context.workspace.open(Path::new(name));
        app.pump();
    }
    app
}

fn press(app: &mut App, keys: &str) {
    keys.split(' ').for_each(|key| app.handle(Event::Key(Key::parse(key).unwrap()), 0));
}

fn panel<P: Any>(app: &App) -> &P {
    let panel: &dyn Any = app.panel().expect("a panel is open");
    panel.downcast_ref().expect("it is that one")
}

fn write(folder: &Path, files: &[&str]) {
    files.iter().for_each(|name| std::fs::write(folder.join(name), "tide\n").unwrap());
}

fn active(app: &App) -> String {
    app.context.workspace.active().name()
}

#[test]
fn words_and_keys_find_verbs() {
    let folder = tempfile::tempdir().unwrap();
    let mut app = app(folder.path(), &[]);
    press(&mut app, "ctrl+l");
    let name = |app: &App| panel::<LookupPanel>(app).verb().map(|verb| verb.name);
    assert_eq!(panel::<LookupPanel>(&app).chooser.shown.len(), VERBS.len());
    press(&mut app, "r e m o v e space r o w");
    assert_eq!(name(&app), Some("delete-lines"));
    press(&mut app, "alt+d");
    assert_eq!(name(&app), Some("duplicate-down"));
    press(&mut app, "alt+shift+up");
    assert_eq!(name(&app), Some("cursor-above"));
    press(&mut app, "ctrl+k esc ctrl+f12");
    assert_eq!(
        (name(&app), panel::<LookupPanel>(&app).pressed),
        (None, Some((Key::parse("ctrl+f12").unwrap(), false)))
    );
}

#[test]
fn a_clash_is_named_before_a_key_is_bound_and_some_keys_are_refused() {
    let folder = tempfile::tempdir().unwrap();
    let mut app = app(folder.path(), &[]);
    app.context.workspace.project.writing = Writing::Nothing;
    press(&mut app, "ctrl+l s o r t ctrl+k alt+v");
    let clash = KeyQuestion::TakeOver(Key::character('v'), "caret-per-line".to_owned());
    assert_eq!(panel::<LookupPanel>(&app).asking, clash);
    press(&mut app, "n");
    assert_eq!(panel::<LookupPanel>(&app).asking, KeyQuestion::Nothing);
    press(&mut app, "ctrl+k alt+v y");
    assert_eq!(app.message(), Some("v runs sort-lines until the end"));
    let means = |app: &App| match app.context.keyboard.keymap.meaning(Key::character('v'), Layer::Shape) {
        Some(Meaning::Verb(verb)) => verb.name,
        _ => "",
    };
    assert_eq!(means(&app), "sort-lines");
    press(&mut app, "ctrl+k ctrl+i");
    assert!(matches!(&panel::<LookupPanel>(&app).asking, KeyQuestion::Which(Some(why)) if why.contains("Tab")));
    press(&mut app, "esc ctrl+r y");
    assert_eq!(means(&app), "caret-per-line", "as shipped");
}

#[test]
fn keys_are_kept_in_their_file_off_the_way_of_the_key() {
    let folder = tempfile::tempdir().unwrap();
    let mut app = app(folder.path(), &[]);
    let file = folder.path().join("keys.toml");
    app.context.keyboard.file = Some(file.clone());
    press(&mut app, "ctrl+l s o r t ctrl+k ctrl+f12");
    assert_eq!(app.message(), Some("Ctrl+F12 runs sort-lines now"));
    assert!(std::fs::read_to_string(file).unwrap().contains("sort-lines"));
}

#[test]
fn letters_find_files_and_a_new_name_is_taken_as_it_is() {
    let folder = tempfile::tempdir().unwrap();
    write(folder.path(), &["berths.ts", "board.html", "gauges.rs", "tides.py"]);
    let mut app = app(folder.path(), &[]);
    press(&mut app, "ctrl+o g s enter");
    assert_eq!(active(&app), "gauges.rs");
    press(&mut app, "ctrl+o z z . t x t enter");
    assert_eq!(active(&app), "zz.txt");
    press(&mut app, "ctrl+o esc");
    assert!(app.panel().is_none());
}

#[test]
fn recent_files_come_first_those_that_are_gone_do_not_and_other_folders_by_their_path() {
    let folder = tempfile::tempdir().unwrap();
    std::fs::create_dir(folder.path().join("sub")).unwrap();
    write(folder.path(), &["a.rs", "b.rs", "sub/buoys.lua"]);
    let mut app = app(folder.path(), &[]);
    app.context.workspace.project.recent = ["gone.rs", "b.rs"].map(|name| folder.path().join(name)).to_vec();
    press(&mut app, "ctrl+o");
    let offered: Vec<&Path> = panel::<OpenPanel>(&app).files.iter().map(|each| each.path.as_path()).collect();
    assert_eq!(offered, ["b.rs", "a.rs", "sub/buoys.lua"].map(Path::new));
    press(&mut app, ". / s u enter");
    assert!(app.panel().is_some(), "a folder is gone into");
    press(&mut app, "enter");
    assert_eq!(active(&app), "buoys.lua");
}

#[test]
fn the_tree_is_walked_and_what_is_done_is_asked_for_first() {
    let folder = tempfile::tempdir().unwrap();
    let root = folder.path();
    std::fs::create_dir(root.join("sub")).unwrap();
    write(root, &["a.rs", "sub/b.rs"]);
    let mut app = app(root, &[]);
    let count = |app: &App| panel::<FilesPanel>(app).entries.len();
    press(&mut app, "f8");
    assert_eq!(count(&app), 2);
    press(&mut app, "right");
    assert_eq!(count(&app), 3);
    press(&mut app, "down f2 ctrl+u c enter");
    assert!(root.join("sub/c").exists() && !root.join("sub/b.rs").exists());
    assert_eq!(panel::<FilesPanel>(&app).said.as_deref(), Some("b.rs is c now"));
    press(&mut app, "delete n");
    assert!(root.join("sub/c").exists(), "nothing goes without a yes");
    press(&mut app, "ctrl+n y / enter");
    assert!(root.join("sub/y").is_dir());
    press(&mut app, "esc f8 ctrl+n n e w enter");
    assert_eq!((active(&app), app.panel().is_none()), ("new".to_owned(), true), "a new file is opened");
}

#[test]
fn an_outline_that_is_open_shows_what_is_known_later() {
    let folder = tempfile::tempdir().unwrap();
    std::fs::write(folder.path().join("a.rs"), "fn ebb() {}\n\nfn flow() {}\n\nfn slack() {}\n").unwrap();
    let mut app = app(folder.path(), &["a.rs"]);
    press(&mut app, "f5 ctrl+g l o w");
    app.settle_background();
    assert_eq!(panel::<OutlinePanel>(&app).chooser.shown.len(), 1);
    press(&mut app, "enter");
    let workspace = &app.context.workspace;
    assert_eq!(workspace.active().text().line_of(workspace.view().cursors().primary().head).0, 2);
}

/// Every key that is shipped is on a face of the deck, in both layers and at every width.
#[test]
fn every_shipped_key_is_on_a_face() {
    use snarvel_ui::keys::layer::Layer;
    use snarvel_ui::screen::faces::faces;
    for cols in [142, 80, 70, 60] {
        for layer in [Layer::Write, Layer::Shape] {
            let folder = tempfile::tempdir().unwrap();
            let mut app = app(folder.path(), &["gauges.rs"]);
            app.context.keyboard.layer = layer;
            let shown: Vec<String> = faces(&app.context, cols)
                .iter()
                .flat_map(|face| face.keys().map(|key| format!("{:?}", key.action)).collect::<Vec<_>>())
                .collect();
            for (key, action) in app.context.keyboard.keymap.bound(layer) {
                assert!(shown.contains(&format!("{action:?}")), "{key} in {layer:?} at {cols}");
            }
        }
    }
}

#[test]
fn signs_are_put_in_at_every_cursor_and_remembered() {
    let folder = tempfile::tempdir().unwrap();
    std::fs::write(folder.path().join("a.txt"), "ebb flow\nebb flow\n").unwrap();
    let mut app = app(folder.path(), &["a.txt"]);
    let text = |app: &App| app.context.workspace.active().text().to_string();
    press(&mut app, "alt+f ctrl+l s i g n s enter");
    let chosen = |app: &App| panel::<SignsPanel>(app).chosen().map(|sign| sign.text.clone());
    press(&mut app, "- >");
    assert_eq!(chosen(&app).as_deref(), Some("→"));
    press(&mut app, "tab");
    assert_eq!(text(&app), "→ebb flow\n→ebb flow\n");
    press(&mut app, "ctrl+u u + 1 f 6 8 0 enter");
    assert_eq!((text(&app).as_str(), app.panel().is_none()), ("→🚀ebb flow\n→🚀ebb flow\n", true));
    // One sign is one step; the latest comes first where nothing is typed.
    press(&mut app, "ctrl+z ctrl+l s i g n s enter");
    assert_eq!((text(&app).as_str(), chosen(&app).as_deref()), ("→ebb flow\n→ebb flow\n", Some("🚀")));
    press(&mut app, "q q q q x enter");
    assert!(app.panel().is_some() && chosen(&app).is_none());
    press(&mut app, "esc");
    assert_eq!(text(&app), "→ebb flow\n→ebb flow\n");
}
