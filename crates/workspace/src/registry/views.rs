//! Several views of texts.

use super::action::Action;
use super::verb::{Does, Group, Keys, Verb};
use snarvel_core::units::Direction;

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "view-both",
        label: "both views",
        sentence: "Lets the views scroll together, or each by itself again.",
        words: &["scroll together", "synchronise scrolling", "lock scrolling"],
        group: Group::Views,
        does: Does::OfWorkspace(|workspace, _| workspace.toggle_together()),
        ..Verb::PLAIN
    },
    Verb {
        name: "compare-views",
        label: "compare",
        sentence: "Marks what differs between this view and the next one, or ends that.",
        words: &["diff two files", "compare files", "side by side diff"],
        group: Group::Views,
        does: Does::OfWorkspace(|workspace, _| workspace.toggle_compared()),
        ..Verb::PLAIN
    },
    Verb {
        name: "next-difference",
        label: "differs →",
        sentence: "Goes to the next place at which the compared views differ.",
        words: &["next diff", "next hunk", "difference between views"],
        group: Group::Views,
        does: Does::OfWorkspace(|workspace, _| workspace.go_to_difference(Direction::Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "previous-difference",
        label: "← differs",
        sentence: "Goes to the place before at which the compared views differ.",
        words: &["previous diff", "previous hunk", "difference between views"],
        group: Group::Views,
        does: Does::OfWorkspace(|workspace, _| workspace.go_to_difference(Direction::Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "take-difference",
        label: "take other",
        sentence: "Makes the place that differs at the caret what it is in the compared view.",
        words: &["merge difference", "take from other file", "apply hunk"],
        group: Group::Views,
        does: Does::OfWorkspace(|workspace, _| workspace.take_difference()),
        ..Verb::PLAIN
    },
    Verb {
        name: "wrap",
        label: "wrap",
        sentence: "Wraps long lines at the edge of this view, or lets them go on beyond it again.",
        words: &["word wrap", "soft wrap", "long lines", "line wrap"],
        group: Group::Views,
        does: Does::OfWorkspace(|workspace, _| workspace.toggle_wrap()),
        ..Verb::PLAIN
    },
    Verb {
        name: "view-beside",
        label: "view →",
        sentence: "Shows the text in one more view beside this one, or below it where the screen is narrow.",
        words: &["split screen", "two windows", "side by side", "second view"],
        group: Group::Views,
        keys: Keys { both: &["shift+f9"], ..Keys::NONE },
        does: Does::Ask(Action::ViewBeside),
        ..Verb::PLAIN
    },
    Verb {
        name: "view-below",
        label: "view ↓",
        sentence: "Shows the text in one more view below this one.",
        words: &["split below", "one above the other", "horizontal split"],
        group: Group::Views,
        keys: Keys { both: &["shift+f8"], ..Keys::NONE },
        does: Does::Ask(Action::ViewBelow),
        ..Verb::PLAIN
    },
    Verb {
        name: "next-view",
        label: "next view",
        sentence: "Lets the next view take the keys.",
        words: &["other window", "switch view", "go to other split"],
        group: Group::Views,
        keys: Keys { both: &["alt+pgdn"], ..Keys::NONE },
        does: Does::Ask(Action::NextView),
        ..Verb::PLAIN
    },
    Verb {
        name: "swap-views",
        label: "swap views",
        sentence: "Lets this view and the next one change places.",
        words: &["exchange windows", "swap splits", "other side"],
        group: Group::Views,
        keys: Keys { both: &["alt+pgup"], ..Keys::NONE },
        does: Does::Ask(Action::SwapViews),
        ..Verb::PLAIN
    },
    Verb {
        name: "close-view",
        label: "close view",
        sentence: "Closes this view; its text stays open.",
        words: &["one window", "unsplit", "remove split", "only this view"],
        group: Group::Views,
        keys: Keys { both: &["shift+f11"], ..Keys::NONE },
        does: Does::Ask(Action::CloseView),
        ..Verb::PLAIN
    },
];
