//! Each drill's par, played: it gives the text that is wanted, key for key. Drills as a person does them, and what becomes of the rest.

use crate::support::press;
use snarvel_core::text::Text;
use snarvel_core::text::place::{LineColumn, Place};
use snarvel_files::load::{Encoding, Loaded};
use snarvel_ui::app::App;
use snarvel_ui::drilling::Stage;
use snarvel_ui::drills::{DRILLS, Drill, named};
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::panels::panel::Panel;
use snarvel_ui::size::Size;
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::project::{Project, Trust, Writing};
use snarvel_workspace::workspace::Workspace;
use std::path::{Path, PathBuf};

fn app() -> App {
    let project =
        Project { writing: Writing::Nothing, trust: Trust::Nothing, ..Project::in_folder(Path::new("/skerry")) };
    let mut app = App::new(Workspace::new(project), Palette::new(&Theme::night(), Depth::True), Size::REFERENCE);
    app.pump();
    app
}

/// What the par of a drill makes of its text, without a drill.
fn played(drill: &Drill) -> String {
    let mut app = app();
    let loaded = Loaded { text: Text::from(drill.before.as_str()), encoding: Encoding::default(), read_only: false };
    let workspace = &mut app.context.workspace;
    let buffer = workspace.make_buffer(loaded, Origin::File(PathBuf::from("/skerry").join(&drill.file)));
    workspace.show_buffer(buffer);
    workspace.go_to_place(Place::At(LineColumn::parse(&drill.at).unwrap()));
    press(&mut app, &drill.par);
    app.context.workspace.active().text().to_string()
}

#[test]
fn each_par_gives_the_wanted_text() {
    let wrong: Vec<&str> =
        DRILLS.iter().filter(|drill| played(drill) != drill.after).map(|drill| drill.name.as_str()).collect();
    assert!(wrong.is_empty(), "{wrong:?}");
}

#[test]
fn each_drill_is_done_by_its_par_and_no_key_earlier() {
    for drill in DRILLS.iter() {
        let mut app = app();
        app.begin_drills([drill]);
        app.settle_background();
        let steps = drill.steps();
        for (index, step) in steps.iter().enumerate() {
            let stage = app.context.drill.as_ref().unwrap().stage;
            assert_eq!(stage, Stage::Doing, "{} is done after {index} of {} keys", drill.name, steps.len());
            app.prepare(step);
            app.act(step);
            app.settle_background();
        }
        let running = app.context.drill.as_ref().unwrap();
        assert_eq!((running.stage, running.keys), (Stage::Done, drill.par_keys), "{}", drill.name);
    }
}

#[test]
fn a_drill_leaves_everything_else_as_it_is() {
    let mut app = app();
    press(&mut app, "\"ebb and flow\"");
    app.begin_drills([named("two-lines-down").unwrap()]);
    press(&mut app, "ctrl+s");
    assert_eq!(app.message(), Some("a drill is not saved"));
    press(&mut app, "alt+s \"half done\" ctrl+q");
    assert!(app.context.drill.is_none() && !app.is_done());
    assert_eq!(app.context.workspace.active().text().to_string(), "ebb and flow");
    press(&mut app, "ctrl+l \"drill-leave\" enter");
    assert_eq!(app.message(), Some("no drill is being done"));
}

#[test]
fn a_series_goes_on_and_the_shortest_way_is_played_key_by_key() {
    let mut app = app();
    app.begin_drills(["two-lines-down", "line-end"].map(|name| named(name).unwrap()));
    press(&mut app, "alt+s alt+s");
    assert!(app.panel().is_some_and(Panel::is_of_drill));
    press(&mut app, "s right right");
    let running = app.context.drill.as_ref().unwrap();
    assert_eq!((running.stage, running.next_step().is_none()), (Stage::Replaying(2), true));
    assert_eq!(app.context.workspace.active().text().to_string(), running.drill.after);
    press(&mut app, "esc alt+2 alt+s");
    assert!(app.context.learning.bests["two-lines-down"].times == 2, "{:?}", app.context.learning.bests);
    press(&mut app, "enter");
    assert_eq!(app.context.drill.as_ref().map(|running| running.drill.name.as_str()), Some("line-end"));
    press(&mut app, "end \",\" enter");
    assert!(app.context.drill.is_none());
}

#[test]
fn the_panel_of_drills_begins_the_chosen_one() {
    let mut app = app();
    press(&mut app, "ctrl+l \"drill\" enter \"variants\" enter");
    assert_eq!(app.context.drill.as_ref().map(|running| running.drill.name.as_str()), Some("variants"));
    press(&mut app, "ctrl+q ctrl+l \"drill\" enter enter");
    assert_eq!(app.context.drill.as_ref().map(|running| running.of), Some([8, 1]));
}
