//! Getting to marked places: bookmarks, brackets, lines that were changed.

use super::action::Action;
use super::verb::{Does, Group, Keys, Reads, Sample, StructureNeed, Verb};
use snarvel_core::units::Direction::{Back, Forward};
use snarvel_core::verbs::moves::{
    Reach::{Extend, Move},
    bookmarks, changes,
};
use snarvel_core::verbs::selects::brackets;

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "bookmark",
        label: "bookmark",
        sentence: "Marks the line at each cursor, or takes its mark away.",
        words: &["mark this line", "remember line", "flag a place"],
        group: Group::Moves,
        keys: Keys { both: &["f5"], ..Keys::NONE },
        does: Does::Edit(|scene, _| bookmarks::bookmark(scene)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "previous-bookmark",
        label: "mark ←",
        sentence: "Goes to the previous bookmark, in other files after the last of this one.",
        words: &["bookmark above", "last mark", "back to mark"],
        group: Group::Moves,
        keys: Keys { both: &["f6"], ..Keys::NONE },
        does: Does::Ask(Action::NextBookmark(Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "next-bookmark",
        label: "mark →",
        sentence: "Goes to the next bookmark, in other files after the last of this one.",
        words: &["bookmark below", "following mark", "on to mark"],
        group: Group::Moves,
        keys: Keys { both: &["f7"], ..Keys::NONE },
        does: Does::Ask(Action::NextBookmark(Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "bracket",
        label: "bracket",
        sentence: "Goes to the bracket or tag that answers the one at the caret, else to the end of what brackets enclose.",
        words: &["matching bracket", "other bracket", "closing brace", "opening brace", "matching paren"],
        group: Group::Moves,
        example: Some(Sample { text: "flow|(ebb, [1, 2]);", argument: "" }),
        structure: StructureNeed::BetweenTags,
        does: Does::Edit(|scene, _| brackets::go_to_bracket(scene, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-bracket",
        label: "to bracket",
        sentence: "Selects from the bracket at the caret to the one that answers it, else what brackets enclose.",
        words: &["select to matching bracket", "select between brackets", "select braces"],
        group: Group::Moves,
        example: Some(Sample { text: "flow|(ebb, [1, 2]);", argument: "" }),
        structure: StructureNeed::BetweenTags,
        does: Does::Edit(|scene, _| brackets::go_to_bracket(scene, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "next-change",
        label: "change →",
        sentence: "Goes to the next lines that differ from what was saved, round the file.",
        words: &["next modified line", "next difference", "where did I edit"],
        group: Group::Moves,
        does: Does::Edit(|scene, _| changes::next_change(scene, Forward)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "previous-change",
        label: "← change",
        sentence: "Goes to the lines before this one that differ from what was saved, round the file.",
        words: &["previous modified line", "previous difference", "last edited lines"],
        group: Group::Moves,
        does: Does::Edit(|scene, _| changes::next_change(scene, Back)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "drop-bookmarks",
        label: "no marks",
        sentence: "Clears the bookmarks of this file.",
        words: &["clear bookmarks", "remove all marks", "forget marked lines"],
        group: Group::Moves,
        does: Does::Edit(|scene, _| bookmarks::drop_bookmarks(scene)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "bookmarks",
        label: "all marks",
        sentence: "Lists the bookmarks of all files, to go to one or clear it.",
        words: &["list of bookmarks", "show bookmarks", "marked lines", "bookmarks in project"],
        group: Group::Moves,
        does: Does::Ask(Action::Bookmarks),
        ..Verb::PLAIN
    },
    Verb {
        name: "drop-all-bookmarks",
        label: "no marks",
        sentence: "Clears the bookmarks of all files.",
        words: &["clear all bookmarks", "remove bookmarks everywhere", "forget marks of the project"],
        group: Group::Moves,
        does: Does::OfWorkspace(|workspace, _| workspace.clear_all_bookmarks()),
        ..Verb::PLAIN
    },
];
