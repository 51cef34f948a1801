//! Copying and pasting.

use super::action::Action;
use super::verb::{Count, Does, Group, Keys, Sample, Verb};
use snarvel_core::verbs::clipboard::{self, Depth};
use snarvel_core::verbs::lines::mending::{LineEdit, mended};
use snarvel_core::verbs::scene::{Outcome, Scene};

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "copy",
        label: "copy",
        sentence: "Copies the selected texts, or the lines where nothing is selected.",
        words: &["copy text", "to clipboard", "remember text"],
        group: Group::Clipboard,
        count: Count::Lines,
        keys: Keys { both: &["ctrl+c"], ..Keys::NONE },
        does: Does::Edit(|scene, _| clipboard::copy(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "cut",
        label: "cut",
        sentence: "Cuts the selected texts, or the lines where nothing is selected.",
        words: &["cut text", "move to clipboard", "take away"],
        group: Group::Clipboard,
        count: Count::Lines,
        keys: Keys { both: &["ctrl+x"], ..Keys::NONE },
        example: Some(Sample { text: "read [the |]tide", argument: "" }),
        does: Does::Edit(|scene, _| mended_cut(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "paste",
        label: "paste",
        sentence: "Pastes what was copied, at the depth of the place.",
        words: &["insert clipboard", "put back", "paste text"],
        group: Group::Clipboard,
        keys: Keys { both: &["ctrl+v"], ..Keys::NONE },
        example: Some(Sample { text: "low |here", argument: "" }),
        does: Does::Edit(|scene, _| {
            mended(scene, LineEdit::PutIn, clipboard::paste(scene, scene.clip, Depth::OfPlace))
        }),
        ..Verb::PLAIN
    },
    Verb {
        name: "paste-as-is",
        label: "paste raw",
        sentence: "Pastes what was copied without changing its indentation or line ends.",
        words: &["paste unchanged", "paste raw", "paste exactly"],
        group: Group::Clipboard,
        example: Some(Sample { text: "low |here", argument: "" }),
        does: Does::Edit(|scene, _| clipboard::paste(scene, scene.clip, Depth::AsItIs)),
        ..Verb::PLAIN
    },
    Verb {
        name: "shelf",
        label: "clip shelf",
        sentence: "Shows what was copied of late, to paste it or a part of it.",
        words: &["clipboard history", "old copies", "paste something older"],
        group: Group::Clipboard,
        keys: Keys { both: &["ctrl+p"], ..Keys::NONE },
        does: Does::Ask(Action::Shelf),
        ..Verb::PLAIN
    },
];

/// Cuts; where whole lines go, what is left of their list stays right.
fn mended_cut(scene: &Scene) -> Outcome {
    let outcome = clipboard::cut(scene);
    let is_of_lines = outcome.clip.as_ref().is_some_and(|clip| clip.lines);
    if is_of_lines { mended(scene, LineEdit::Deleted, outcome) } else { outcome }
}
