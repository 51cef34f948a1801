//! Writing help: offers, templates, statements that are finished.

use super::action::Action;
use super::arguments::{Argument, Arguments, Form};
use super::verb::{Does, Group, Keys, Reads, Sample, StructureNeed, Verb};
use snarvel_core::verbs::lines::{finish, unwrapping};

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "offers",
        label: "offers",
        sentence: "Shows everything that can be put here; a second time, all of it in a panel.",
        words: &["complete", "suggest", "templates", "what can I write"],
        group: Group::Writing,
        keys: Keys { both: &["ctrl+k"], ..Keys::NONE },
        reads: Reads::More,
        does: Does::Ask(Action::Offers),
        ..Verb::PLAIN
    },
    Verb {
        name: "finish",
        label: "finish",
        sentence: "Completes the statement at every cursor and goes on: closes what is open, ends it, puts its block in.",
        words: &["complete statement", "semicolon at end", "close brackets", "add block"],
        group: Group::Writing,
        example: Some(Sample { text: "fn main() {\n    let level = read(1, (2|\n}", argument: "" }),
        does: Does::Edit(|scene, _| finish::finish(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "surround-with",
        label: "around",
        sentence: "Puts a template around the lines, one step deeper: a condition, a loop, error handling.",
        words: &["wrap lines in if", "put try around", "enclose in a loop", "template around lines"],
        group: Group::Writing,
        arguments: Arguments::One(Argument {
            name: "template",
            form: Form::Text,
            shown: "the name of a template",
            default: "",
        }),
        reads: Reads::More,
        does: Does::OfWorkspace(|workspace, values| match values.text(0).filter(|name| !name.is_empty()) {
            Some(name) => workspace.surround_with(name),
            None => workspace.offer_around(),
        }),
        ..Verb::PLAIN
    },
    Verb {
        name: "unwrap",
        label: "unwrap",
        sentence: "Takes the construct or element around each caret away, and keeps what is in it.",
        words: &["remove surrounding if", "take tag away", "dissolve block", "unindent body"],
        group: Group::Writing,
        example: Some(Sample { text: "if low {\n    eb|b();\n}", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| unwrapping::unwrap(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "echo",
        label: "echo",
        sentence: "Shows where else you would do what you did by hand at the last two places, and does it there.",
        words: &["repeat edit", "same change everywhere", "learn from edits", "by example", "do the rest"],
        group: Group::Writing,
        keys: Keys { both: &["ctrl+6"], ..Keys::NONE },
        reads: Reads::More,
        does: Does::Ask(Action::Echo),
        ..Verb::PLAIN
    },
];
