//! Selections that are set aside, to be gone to and put together with the cursors.

use super::verb::{Does, Group, Keys, Reads, Verb};
use snarvel_core::units::Direction::{Back, Forward};
use snarvel_core::verbs::cursors::pins::{self, Covered};

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "pin",
        label: "pin",
        sentence: "Sets the selections aside as pins, or takes the pins away that are there.",
        words: &["set aside", "mark place", "remember selection"],
        group: Group::Cursors,
        keys: Keys { deck: &["space"], ..Keys::NONE },
        does: Does::Edit(|scene, _| pins::pin(scene)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "next-pin",
        label: "pin →",
        sentence: "Goes to the next pin.",
        words: &["go to next pin", "jump to pin", "following pin"],
        group: Group::Cursors,
        reads: Reads::More,
        does: Does::Edit(|scene, _| pins::go(scene, Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "previous-pin",
        label: "pin ←",
        sentence: "Goes to the previous pin.",
        words: &["go to previous pin", "jump back to pin", "pin before"],
        group: Group::Cursors,
        reads: Reads::More,
        does: Does::Edit(|scene, _| pins::go(scene, Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "pins-clear",
        label: "no pins",
        sentence: "Drops all pins; recall brings them back.",
        words: &["remove all pins", "unpin all", "clear pins"],
        group: Group::Cursors,
        reads: Reads::More,
        does: Does::Edit(|scene, _| pins::clear(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "pins-take",
        label: "take pins",
        sentence: "Makes the pins the cursors and goes to Write.",
        words: &["use pins", "pins to cursors", "start typing"],
        group: Group::Cursors,
        keys: Keys { deck: &["enter"], ..Keys::NONE },
        does: Does::Edit(|scene, _| pins::take(scene)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "pins-add",
        label: "add pins",
        sentence: "Adds the pins to the cursors.",
        words: &["pins and cursors", "join pins", "include pins"],
        group: Group::Cursors,
        keys: Keys { deck: &["+"], ..Keys::NONE },
        does: Does::Edit(|scene, _| pins::add(scene)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "pins-subtract",
        label: "less pins",
        sentence: "Drops the cursors that the pins cover.",
        words: &["without pins", "exclude pins", "remove pinned"],
        group: Group::Cursors,
        keys: Keys { deck: &["-"], ..Keys::NONE },
        does: Does::Edit(|scene, _| pins::thin(scene, Covered::Dropped)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "pins-common",
        label: "only in pins",
        sentence: "Keeps only the cursors that the pins cover.",
        words: &["intersect pins", "inside pins", "common with pins"],
        group: Group::Cursors,
        keys: Keys { deck: &["&"], ..Keys::NONE },
        does: Does::Edit(|scene, _| pins::thin(scene, Covered::Kept)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
];
