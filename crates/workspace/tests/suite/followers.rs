//! What follows the text through its changes: the lines that differ, the history, the set of cursors.

use crate::support::Bench;
use proptest::prelude::*;
use snarvel_core::changes::saved_diff::{Differs, SavedDiff};
use snarvel_core::changes::{Bias, Change, ChangeBuilder};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::history::{Extent, StepId};
use snarvel_core::spans::{Owner, Policy};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line, Span};

/// A change of `text` that replaces the given stretches, cut to what is there and kept apart.
fn change_of(text: &Text, stretches: &[(usize, usize, String)]) -> Change {
    let mut sorted = stretches.to_vec();
    sorted.sort();
    let mut builder = ChangeBuilder::new(text);
    let mut reach = 0;
    for (start, len, with) in sorted {
        let start = (start % (text.len() + 1)).max(reach);
        let end = (start + len).min(text.len());
        builder.replace(Span::new(Byte(start), Byte(end)), &with);
        reach = end;
    }
    builder.finish()
}

fn lines(text: &Text) -> Vec<String> {
    (0..text.real_line_count()).map(|line| text.slice(text.line_span(Line(line))).into_owned()).collect()
}

fn is_subsequence(part: &[String], whole: &[String]) -> bool {
    let mut rest = whole.iter();
    part.iter().all(|line| rest.any(|other| other == line))
}

fn stretches() -> impl Strategy<Value = Vec<(usize, usize, String)>> {
    proptest::collection::vec((0usize..80, 0usize..6, "[ab\\n]{0,4}"), 1..5)
}

proptest! {
    #[test]
    fn lines_that_are_not_marked_stand_in_the_saved_text(
        first in "[ab\\n]{0,60}", edits in proptest::collection::vec(stretches(), 1..6),
    ) {
        let saved = Text::from(first.as_str());
        let (mut text, mut since) = (saved.clone(), SavedDiff::new(saved.clone()));
        for edit in edits {
            let change = change_of(&text, &edit);
            since.follow(&change);
            text.apply(&change);
        }
        let marked = since.lines(&text, Line(0), text.last_line());
        let is_marked = |line: usize| marked.iter().any(|(at, how)| at.0 == line && *how != Differs::DeletedBefore);
        let all = lines(&text);
        let kept: Vec<String> = all.iter().enumerate().filter(|(at, _)| !is_marked(*at) && !all[*at].is_empty()).map(|(_, line)| line.clone()).collect();
        prop_assert!(is_subsequence(&kept, &lines(&saved)), "{:?} of {:?}, marked {:?}", all, lines(&saved), marked);
        if text == saved {
            prop_assert!(marked.is_empty(), "the same text again: {:?}", marked);
        }
    }

    #[test]
    fn a_view_of_some_lines_shows_what_the_whole_shows(
        first in "[ab\\n]{0,60}", edit in stretches(), top in 0usize..10, rows in 1usize..6,
    ) {
        let saved = Text::from(first.as_str());
        let (mut text, mut since) = (saved.clone(), SavedDiff::new(saved));
        let change = change_of(&text, &edit);
        since.follow(&change);
        text.apply(&change);
        let top = Line(top.min(text.last_line().0));
        let last = Line((top.0 + rows).min(text.last_line().0));
        let inside = |(line, _): &(Line, Differs)| top <= *line && *line <= last;
        let whole: Vec<_> = since.lines(&text, Line(0), text.last_line()).into_iter().filter(inside).collect();
        prop_assert_eq!(since.lines(&text, top, last), whole.clone());
        prop_assert_eq!(since.clone().lines(&text, top, last), whole.clone());
        // What reads otherwise read otherwise; what was put in has nothing that it was.
        let saved: Vec<&str> = first.split('\n').collect();
        for line in (top.0..=last.0).map(Line) {
            let was = since.was(&text, line);
            prop_assert_eq!(&was, &since.clone().was(&text, line), "what was looked at before changes nothing");
            let is_changed = whole.contains(&(line, Differs::Changed));
            prop_assert!(was.is_none() || is_changed, "line {}", line.0);
            prop_assert!(was.is_none_or(|was| saved.contains(&was.as_str()) && *was != *text.content(line)));
        }
    }

    #[test]
    fn any_list_of_selections_becomes_a_set_that_covers_the_same(
        ends in proptest::collection::vec((0usize..40, 0usize..40), 1..12), primary in 0usize..12,
    ) {
        let text = Text::from("x".repeat(40).as_str());
        let list: Vec<Selection> = ends.iter().map(|(a, h)| Selection::new(Byte(*a), Byte(*h))).collect();
        let primary = primary % list.len();
        let wanted = list[primary];
        let set = CursorSet::of(list.clone(), primary);
        set.assert_invariants(&text);
        let covers = |list: &[Selection], at: usize| list.iter().any(|each| each.start().0 <= at && at < each.end().0);
        for at in 0..40 {
            prop_assert_eq!(covers(&list, at), covers(set.list(), at), "byte {}", at);
        }
        let kept = set.primary();
        prop_assert!(kept.start() <= wanted.start() && wanted.end() <= kept.end(), "the primary survives");
    }

    #[test]
    fn what_a_change_leaves_alone_stays_selected_or_not(
        ends in proptest::collection::vec((0usize..40, 0usize..40), 1..6), edit in stretches(),
    ) {
        let text = Text::from("x".repeat(40).as_str());
        let list: Vec<Selection> = ends.iter().map(|(a, h)| Selection::new(Byte(*a), Byte(*h))).collect();
        let set = CursorSet::of(list, 0);
        let change = change_of(&text, &edit);
        let mut changed = text.clone();
        changed.apply(&change);
        let mapped = set.mapped(&change, Bias::After);
        mapped.assert_invariants(&changed);
        let covers = |set: &CursorSet, at: Byte| set.iter().any(|each| each.start() <= at && at < each.end());
        let is_removed = |at: Byte| change.edits().iter().any(|edit| edit.start() <= at && at < edit.end());
        for at in (0..40).map(Byte).filter(|at| !is_removed(*at)) {
            prop_assert_eq!(covers(&set, at), covers(&mapped, change.map(at, Bias::After)), "byte {}", at.0);
        }
    }
}

#[test]
fn how_lines_differ() {
    type Marks<'a> = &'a [(usize, Differs)];
    let rows: &[(&str, &str, &str, Marks)] = &[
        ("changed", "a⏎b|⏎c", "type-text(x)", &[(1, Differs::Changed)]),
        ("added", "a|⏎b", "duplicate-down", &[(1, Differs::Added)]),
        ("added_below", "a|⏎b", "blank-below", &[(1, Differs::Added)]),
        ("deleted", "a⏎b|⏎c⏎", "delete-lines", &[(1, Differs::DeletedBefore)]),
        ("carried", "a⏎b|⏎c⏎", "carry-up", &[(0, Differs::Changed), (1, Differs::Changed)]),
        ("undone", "a⏎b|⏎c⏎", "type-text(x) undo", &[]),
        ("typed_back_again", "a⏎b|⏎c⏎", "type-text(x) delete-back", &[]),
    ];
    for (name, text, verbs, marks) in rows {
        let mut bench = Bench::new("text", text);
        verbs.split(' ').for_each(|verb| {
            bench.run(verb);
        });
        let text = bench.editor.text().clone();
        let found: Vec<(usize, Differs)> = bench
            .editor
            .since_saved()
            .lines(&text, Line(0), text.last_line())
            .iter()
            .map(|(line, how)| (line.0, *how))
            .collect();
        let expected: Vec<(usize, Differs)> = marks.to_vec();
        assert_eq!(found, expected, "{name}");
    }
}

#[test]
fn the_history_is_a_tree() {
    let mut bench = Bench::new("text", "|");
    bench.run("type-text(a)").run("line-start").run("type-text(b)");
    assert_eq!(bench.editor.history().depth(), 2);
    bench.run("undo").run("undo").run("type-text(c)");
    assert_eq!((bench.text().as_str(), bench.editor.history().depth()), ("c", 1));
    assert_eq!(bench.editor.history().steps().len(), 3, "the old branch stays");
    assert!(!bench.editor.history().can_redo());
    bench.run("redo");
    assert_eq!(bench.message, "nothing to redo");
    bench.run("undo").run("undo");
    assert_eq!(bench.message, "nothing to undo");
    bench.run("redo");
    assert_eq!(bench.text(), "c", "redo takes the newest branch");
    let (_, step) = bench.editor.history().steps().next().unwrap();
    let extent = Extent { places: 1, added: 1, removed: 0 };
    assert_eq!((step.verb(), step.extent(), step.at_ms()), ("type-text", extent, 0));
}

#[test]
fn any_state_of_the_tree_can_be_looked_at_and_gone_to() {
    let mut bench = Bench::new("text", "|");
    bench.run("type-text(a)").run("line-start").run("type-text(b)").run("undo").run("line-end").run("type-text(c)");
    bench.editor.mark_saved();
    let ids: Vec<StepId> = bench.editor.history().steps().map(|(id, _)| id).collect();
    let states = [(StepId::START, ""), (ids[0], "a"), (ids[1], "ba"), (ids[2], "ac")];
    let was = |bench: &Bench, id| bench.editor.workspace.active().at_step(id).0.text().to_string();
    for (from, text) in states {
        bench.editor.go_to_step(from);
        assert_eq!(bench.text(), text);
        assert_eq!(bench.editor.is_modified(), from != ids[2], "the saved state is known by its step");
        for (id, then) in states {
            assert_eq!(was(&bench, id), then, "seen from {text:?}");
        }
        assert_eq!(bench.text(), text, "looking changes nothing");
    }
    assert!(!bench.editor.go_to_step(ids[2]), "no way to go to where one is");
    bench.editor.go_to_step(ids[1]);
    bench.run("undo").run("redo");
    assert_eq!(bench.text(), "ba", "redo takes the branch that was gone to");
    assert_eq!(bench.shown(), "b|a");
}

#[test]
fn places_of_any_owner_go_with_what_is_at_them() {
    let mut bench = Bench::new("text", "fog⏎ho|rn⏎");
    let owner = Owner::of_text("places of this test");
    let spans = |bench: &mut Bench| bench.editor.workspace.active_mut().spans.get(owner).to_vec();
    bench.editor.workspace.active_mut().spans.set(owner, Policy::PLACES, vec![Span::at(Byte(6))]);
    bench.run("carry-up");
    assert_eq!(spans(&mut bench), [Span::at(Byte(2))], "it is carried along");
    bench.run("undo");
    bench.run("file-start").run("type-text(xx)");
    assert_eq!(spans(&mut bench), [Span::at(Byte(8))]);
    bench.editor.workspace.active_mut().spans.remove(owner);
    assert_eq!(spans(&mut bench), []);
}

#[test]
fn a_verb_that_changes_nothing_makes_no_step() {
    for (text, verb) in
        [("a|", "carry-up"), ("a|", "outdent"), ("|", "delete-back"), ("a|", "join-lines"), ("a|", "copy")]
    {
        let mut bench = Bench::new("text", text);
        bench.run(verb);
        assert_eq!(bench.editor.history().depth(), 0, "{verb}");
        assert!(!bench.editor.is_modified() && !bench.message.is_empty(), "{verb} says why");
    }
}

#[test]
fn what_is_saved_is_told_by_steps() {
    let mut bench = Bench::new("text", "a|");
    bench.run("type-text(b)");
    bench.editor.mark_saved();
    bench.run("type-text(c)");
    assert!(bench.editor.is_modified(), "typing goes on in a new step behind a save");
    bench.run("undo");
    assert_eq!((bench.text().as_str(), bench.editor.is_modified()), ("ab", false));
    bench.run("undo");
    assert!(bench.editor.is_modified());
}
