//! Getting to marked places: bookmarks, brackets, lines that were changed.

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
        sentence: "Goes to the bookmark before this line, round the file.",
        words: &["bookmark above", "last mark", "back to mark"],
        group: Group::Moves,
        keys: Keys { both: &["f6"], ..Keys::NONE },
        does: Does::Edit(|scene, _| bookmarks::next_bookmark(scene, Back)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "next-bookmark",
        label: "mark →",
        sentence: "Goes to the bookmark behind this line, round the file.",
        words: &["bookmark below", "following mark", "on to mark"],
        group: Group::Moves,
        keys: Keys { both: &["f7"], ..Keys::NONE },
        does: Does::Edit(|scene, _| bookmarks::next_bookmark(scene, Forward)),
        reads: Reads::More,
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
        sentence: "Takes all bookmarks of the file away.",
        words: &["clear bookmarks", "remove all marks", "forget marked lines"],
        group: Group::Moves,
        does: Does::Edit(|scene, _| bookmarks::drop_bookmarks(scene)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
];
