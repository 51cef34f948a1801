//! Learning by use, practising, presenting, drawing what was done.

use super::action::Action;
use super::verb::{Does, Group, Verb};

/// What the rows of this file have in common.
const PLAIN: Verb = Verb { group: Group::Learning, ..Verb::PLAIN };

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "ledger",
        label: "ledger",
        sentence: "Shows what you used: verbs, keys for each changed line, costly habits, what you have learned.",
        words: &["statistics", "how many keys", "am I getting faster", "usage"],
        does: Does::Ask(Action::Ledger),
        ..PLAIN
    },
    Verb {
        name: "drill",
        label: "drill",
        sentence: "Shows exercises, each a text as it is and as it should be, to be done with as few keys as you can.",
        words: &["practise", "training", "exercise", "learn the keys"],
        does: Does::Ask(Action::Drill),
        ..PLAIN
    },
    Verb {
        name: "drill-leave",
        label: "leave drill",
        sentence: "Leaves the drill and goes back to where you were.",
        words: &["stop practising", "end exercise", "give up drill"],
        does: Does::Ask(Action::DrillLeave),
        ..PLAIN
    },
    Verb {
        name: "coach-quiet",
        label: "quiet",
        sentence: "Lets the coach never speak again of what it has said last.",
        words: &["silence hint", "stop telling me", "no more tips"],
        does: Does::Ask(Action::CoachQuiet),
        ..PLAIN
    },
    Verb {
        name: "show-keys",
        label: "show keys",
        sentence: "Shows the last keys and the verbs that they ran in large words, for an audience, or hides them again.",
        words: &["presentation", "screencast", "display pressed keys", "teaching"],
        does: Does::Ask(Action::ShowKeys),
        ..PLAIN
    },
    Verb {
        name: "spotlight",
        label: "spotlight",
        sentence: "Dims everything but the block in which the caret is, or lights all of it again.",
        words: &["focus on block", "dim the rest", "presentation", "highlight function"],
        does: Does::Ask(Action::Spotlight),
        ..PLAIN
    },
    Verb {
        name: "edit-sheet",
        label: "edit sheet",
        sentence: "Draws what the last step did, before and after, as an SVG or PDF file; a count takes so many steps.",
        words: &["picture of an edit", "before and after", "draw last change", "illustrate"],
        does: Does::Ask(Action::EditSheet),
        ..PLAIN
    },
    Verb {
        name: "listing",
        label: "listing",
        sentence: "Draws the file, or what is selected, as pages with colours and line numbers, or prints them.",
        words: &["print", "source to pdf", "paper", "hard copy"],
        does: Does::Ask(Action::Listing),
        ..PLAIN
    },
];
