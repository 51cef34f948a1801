//! Back and on again.

use super::action::Action;
use super::verb::{Does, Group, Keys, Verb};

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "keep-past",
        label: "keep past",
        sentence: "Keeps the history of this file from one start to the next, whatever the settings say.",
        words: &["remember history", "history of file", "undo after restart"],
        group: Group::History,
        does: Does::OfWorkspace(|workspace, _| workspace.keep_this_past()),
        ..Verb::PLAIN
    },
    Verb {
        name: "forget-past",
        label: "forget past",
        sentence: "Forgets what is kept of the history of this file from one start to the next.",
        words: &["delete history", "clear history", "forget history"],
        group: Group::History,
        does: Does::OfWorkspace(|workspace, _| workspace.forget_this_past()),
        ..Verb::PLAIN
    },
    Verb {
        name: "undo",
        label: "undo",
        sentence: "Takes the last step back, text and cursors.",
        words: &["take back", "revert", "mistake"],
        group: Group::History,
        keys: Keys { both: &["ctrl+z"], ..Keys::NONE },
        does: Does::Undo,
        ..Verb::PLAIN
    },
    Verb {
        name: "redo",
        label: "redo",
        sentence: "Makes the step again that was taken back.",
        words: &["again", "repeat undone", "forward in history"],
        group: Group::History,
        keys: Keys { both: &["ctrl+y"], ..Keys::NONE },
        does: Does::Redo,
        ..Verb::PLAIN
    },
    Verb {
        name: "cursors-undo",
        label: "cursors back",
        sentence: "Goes back to the cursors and places that stood before, the text as it is.",
        words: &["where was I", "previous cursors", "undo selection"],
        group: Group::History,
        keys: Keys { both: &["ctrl+u"], ..Keys::NONE },
        does: Does::CursorsUndo,
        ..Verb::PLAIN
    },
    Verb {
        name: "trail",
        label: "trail",
        sentence: "Shows every step of the history with its branches, and the text as it was.",
        words: &["undo history", "earlier version", "history tree"],
        group: Group::History,
        keys: Keys { both: &["ctrl+t"], ..Keys::NONE },
        does: Does::Ask(Action::Trail),
        ..Verb::PLAIN
    },
];
