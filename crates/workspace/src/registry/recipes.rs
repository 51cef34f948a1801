//! Recipes: recording, playing, doing again.

use super::action::Action;
use super::arguments::{Argument, Arguments, Form};
use super::verb::{Does, Group, Keys, Reads, Replay, Verb};

/// The rows.
pub(super) const VERBS: &[Verb] = &[
    Verb {
        name: "record",
        label: "record",
        sentence: "Starts or ends a recording: what you do becomes the steps of a recipe.",
        words: &["macro", "record macro", "capture", "recording"],
        group: Group::Recipes,
        keys: Keys { deck: &["\""], ..Keys::NONE },
        does: Does::OfWorkspace(|workspace, _| workspace.record()),
        ..Verb::PLAIN
    },
    Verb {
        name: "again",
        label: "again",
        sentence: "Does the last change again at the cursors: the last verb that changed text, or what was typed.",
        words: &["repeat change", "dot", "redo at cursor", "last change"],
        group: Group::Recipes,
        keys: Keys { deck: &["!"], ..Keys::NONE },
        does: Does::Replay(Replay::Change),
        ..Verb::PLAIN
    },
    Verb {
        name: "play-recipe",
        label: "play",
        sentence: "Plays the recipe of that name, or the one that was recorded or played last; a count plays it as often.",
        words: &["macro", "run macro", "replay", "play macro"],
        group: Group::Recipes,
        keys: Keys { deck: &["$"], ..Keys::NONE },
        arguments: Arguments::One(Argument {
            name: "recipe",
            form: Form::Text,
            shown: "the name of a recipe",
            default: "the last one",
        }),
        does: Does::Replay(Replay::Recipe),
        ..Verb::PLAIN
    },
    Verb {
        name: "rehearse",
        label: "rehearse",
        sentence: "Shows what the next verb would do before it is done: what goes struck through, what comes marked.",
        words: &["preview", "what would happen", "try", "dry run", "before doing"],
        group: Group::Recipes,
        keys: Keys { deck: &["%"], ..Keys::NONE },
        reads: Reads::More,
        does: Does::Ask(Action::Rehearse),
        ..Verb::PLAIN
    },
    Verb {
        name: "recipes",
        label: "recipes",
        sentence: "Shows all recipes, what each would do here, and plays, changes, names them or runs them over the project.",
        words: &["macro", "macros", "snippets of steps", "batch edit"],
        group: Group::Recipes,
        keys: Keys { both: &["ctrl+r"], ..Keys::NONE },
        does: Does::Ask(Action::Recipes),
        ..Verb::PLAIN
    },
    Verb {
        name: "filter-through",
        label: "filter",
        sentence: "Gives each selection, or the whole text, to a command, and puts what it writes in its place.",
        words: &["pipe", "shell command", "run command on text", "sort by program", "format with", "external command"],
        group: Group::Recipes,
        arguments: Arguments::One(Argument {
            name: "command",
            form: Form::Text,
            shown: "a command for the shell, such as sort -u",
            default: "",
        }),
        asks: true,
        does: Does::Filter,
        ..Verb::PLAIN
    },
];
