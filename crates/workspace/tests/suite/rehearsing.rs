//! A rehearsal shows what doing gives, and does nothing.

use proptest::prelude::*;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_files::load::{Encoding, Loaded};
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::command::{Command, Done};
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::registry::VERBS;
use snarvel_workspace::registry::verb::Does;
use snarvel_workspace::workspace::Workspace;
use std::path::Path;

fn workspace(text: &str, list: &[(usize, usize)]) -> Workspace {
    let project = Project { writing: Writing::Nothing, ..Project::in_folder(Path::new("/sound")) };
    let mut workspace = Workspace::new(project);
    let loaded = Loaded { text: Text::from(text), encoding: Encoding::default(), read_only: false };
    let mut buffer = workspace.make_buffer(loaded, Origin::File("/sound/gauges.rs".into()));
    buffer.set_language(&by_name("rust").unwrap(), None);
    workspace.show_buffer(buffer);
    let (buffer, view) = workspace.active_pair_mut();
    let place = |at: usize| buffer.text().snap_back(snarvel_core::units::Byte(at % (buffer.text().len() + 1)));
    let list = list.iter().map(|(anchor, head)| Selection::new(place(*anchor), place(*head))).collect();
    view.set_cursors(buffer, CursorSet::of(list, 0));
    workspace
}

/// The verbs that can be rehearsed, each with the argument of its example.
fn commands() -> Vec<Command> {
    let does = |does: &Does| {
        matches!(does, Does::Edit(_) | Does::Jump(_) | Does::Undo | Does::Redo | Does::CursorsUndo | Does::Replay(_))
    };
    let verbs = VERBS.iter().filter(|verb| does(&verb.does));
    verbs.filter_map(|verb| Command::read(verb, verb.example.map_or("", |sample| sample.argument)).ok()).collect()
}

proptest! {
    #[test]
    fn a_rehearsal_equals_doing(
        text in "[a-c(){}\", é\\n\\t/]{0,60}",
        places in prop::collection::vec((0_usize..80, 0_usize..80), 1..4),
        before in prop::collection::vec(any::<prop::sample::Index>(), 0..3),
        which in any::<prop::sample::Index>(),
        count in prop::option::of(1_u32..4),
    ) {
        let commands = commands();
        let mut workspace = workspace(&text, &places);
        for index in before {
            workspace.run(&commands[index.index(commands.len())]);
        }
        let command = Command { count, ..commands[which.index(commands.len())].clone() };
        let state = |workspace: &Workspace| {
            let (buffer, view) = (workspace.active(), workspace.view());
            (buffer.text().to_string(), view.cursors().clone(), buffer.history().depth(), buffer.revision())
        };
        let old = state(&workspace);
        let rehearsal = workspace.rehearse(&command);
        prop_assert!(rehearsal.is_some(), "{command:?}");
        prop_assert_eq!(workspace.rehearsed().map(ToString::to_string), rehearsal.map(|each| each.text.to_string()));
        let would_be = workspace.rehearsed().map(ToString::to_string);
        workspace.end_rehearsal();
        prop_assert_eq!(&state(&workspace), &old, "{:?}", command);
        let is_done = matches!(workspace.run(&command), Done::Edited(_));
        prop_assert!(is_done);
        prop_assert_eq!(would_be.unwrap(), workspace.active().text().to_string(), "{:?}", command);
    }
}

#[test]
fn what_goes_and_what_comes_are_shown_together() {
    let mut workspace = workspace("ebb();\nflow();\n", &[(0, 0)]);
    workspace.rehearse(&Command::named("carry-down"));
    let view = workspace.views.focus();
    let (shown, overlay) = (workspace.shown(view).0.text().to_string(), workspace.overlay(view).unwrap());
    let of = |spans: &[snarvel_core::units::Span]| {
        spans.iter().map(|span| &shown[span.start.0..span.end.0]).collect::<String>()
    };
    assert!(of(&overlay.gone).contains("flow();"), "{shown:?}");
    assert!(of(&overlay.come).contains("flow();"), "{shown:?}");
    assert_eq!(workspace.rehearsed().unwrap().to_string(), "flow();\nebb();\n");
    assert_eq!(workspace.active().text().to_string(), "ebb();\nflow();\n");
}

#[test]
fn what_is_no_verb_of_the_text_is_not_rehearsed() {
    let mut workspace = workspace("ebb();\n", &[(0, 0)]);
    for name in ["save", "open", "filter-through", "echo", "record"] {
        assert!(workspace.rehearse(&Command::named(name)).is_none(), "{name}");
        assert!(workspace.rehearsed().is_none() && workspace.view().preview.is_none(), "{name}");
    }
}
