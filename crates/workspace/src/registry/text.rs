//! Characters.

use super::action::Action;
use super::arguments::{Argument, Arguments, Form};
use super::enabled;
use super::verb::{Does, Group, Keys, Sample, Verb};
use snarvel_core::units::Direction::{Back, Forward};
use snarvel_core::verbs::lines::breaks;
use snarvel_core::verbs::scene::Outcome;
use snarvel_core::verbs::text::case::{self, Shape};
use snarvel_core::verbs::text::{surround, typing, values};

/// What is done where an argument that a verb needs is not there: a test of the registry finds that.
fn missing() -> Outcome {
    Outcome::nothing("an argument is missing")
}

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "type-text",
        label: "type",
        sentence: "Types the text at every cursor.",
        words: &["insert text", "write", "put characters"],
        group: Group::Text,
        arguments: Arguments::One(Argument { name: "text", form: Form::Text, shown: "text", default: "" }),
        example: Some(Sample { text: "let | = 3;", argument: "tide" }),
        does: Does::Edit(|scene, values| typing::type_text(scene, values.text(0).unwrap_or_default())),
        ..Verb::PLAIN
    },
    Verb {
        name: "line-break",
        label: "line end",
        sentence: "Breaks the line at every cursor and keeps the indentation.",
        words: &["enter", "new line", "return"],
        group: Group::Text,
        keys: Keys { write: &["enter"], ..Keys::NONE },
        example: Some(Sample { text: "    ebb();| flow();", argument: "" }),
        does: Does::Edit(|scene, _| breaks::line_break(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "tab-stop",
        label: "tab",
        sentence: "Goes to the next indentation stop, or indents the selected lines.",
        words: &["tab", "insert tab", "fill with spaces"],
        group: Group::Text,
        keys: Keys { write: &["tab"], ..Keys::NONE },
        example: Some(Sample { text: "ab|c", argument: "" }),
        does: Does::Edit(|scene, _| typing::tab_stop(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "delete-back",
        label: "erase ←",
        sentence: "Deletes the selected text, or the character before each caret.",
        words: &["backspace", "erase", "remove character before"],
        group: Group::Text,
        keys: Keys { write: &["backspace"], ..Keys::NONE },
        example: Some(Sample { text: "le|vel", argument: "" }),
        does: Does::Edit(|scene, _| typing::delete(scene, Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "delete-forward",
        label: "erase →",
        sentence: "Deletes the selected text, or the character behind each caret.",
        words: &["delete key", "erase forward", "remove character behind"],
        group: Group::Text,
        keys: Keys { write: &["delete"], ..Keys::NONE },
        example: Some(Sample { text: "le|vel", argument: "" }),
        does: Does::Edit(|scene, _| typing::delete(scene, Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "delete-word-back",
        label: "erase word ←",
        sentence: "Deletes the selected text, or from each caret back to the start of its word.",
        words: &["delete previous word", "backspace word", "erase word before"],
        group: Group::Text,
        keys: Keys { both: &["alt+backspace", "ctrl+backspace"], ..Keys::NONE },
        example: Some(Sample { text: "low tide| now", argument: "" }),
        enabled: enabled::not_at_start,
        does: Does::Edit(|scene, _| typing::delete_word(scene, Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "delete-word-forward",
        label: "erase word →",
        sentence: "Deletes the selected text, or from each caret to the end of its word.",
        words: &["delete next word", "delete word ahead", "erase word after"],
        group: Group::Text,
        keys: Keys { both: &["alt+delete", "ctrl+delete"], ..Keys::NONE },
        example: Some(Sample { text: "low |tide now", argument: "" }),
        enabled: enabled::not_at_end,
        does: Does::Edit(|scene, _| typing::delete_word(scene, Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "add-to-numbers",
        label: "add",
        sentence: "Adds to the number at each caret, or to the numbers in each selection; +=n adds one step more at each cursor.",
        words: &["increment", "increase number", "count up", "decrement", "plus one"],
        group: Group::Text,
        arguments: Arguments::One(Argument {
            name: "amount",
            form: Form::Text,
            shown: "1, -5, 0.5 or +=1",
            default: "1",
        }),
        example: Some(Sample { text: "depth = |9;", argument: "1" }),
        does: Does::Edit(|scene, values| {
            match values::Addend::parse(values.text(0).filter(|text| !text.is_empty()).unwrap_or("1")) {
                Some(addend) => values::add_to_numbers(scene, addend),
                None => Outcome::nothing("what is added is a number: 1, -5, 0.5 or +=1"),
            }
        }),
        ..Verb::PLAIN
    },
    Verb {
        name: "flip-value",
        label: "flip value",
        sentence: "Turns true into false, yes into no, on into off, == into != and the like, and back.",
        words: &["toggle boolean", "invert value", "switch true false", "opposite"],
        group: Group::Text,
        example: Some(Sample { text: "let open = |true;", argument: "" }),
        does: Does::Edit(|scene, _| values::flip(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "delete-selected",
        label: "erase",
        sentence: "Deletes the selected text.",
        words: &["remove selection", "erase selected", "clear selection"],
        group: Group::Text,
        keys: Keys { shape: &["backspace", "delete"], ..Keys::NONE },
        example: Some(Sample { text: "read([ebb, |]flow)", argument: "" }),
        does: Does::Edit(|scene, _| typing::delete_selected(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "surround",
        label: "surround",
        sentence: "Puts a pair round the selections or the words at the carets, takes it off, or changes the pair at a caret.",
        words: &[
            "wrap in brackets",
            "put quotes around",
            "parenthesise",
            "quote values",
            "change brackets",
            "change quotes",
        ],
        group: Group::Text,
        keys: Keys { deck: &["'"], ..Keys::NONE },
        arguments: Arguments::One(Argument { name: "pair", form: Form::Character, shown: "a character", default: "" }),
        asks: true,
        example: Some(Sample { text: "read([ebb|])", argument: "\"" }),
        does: Does::Edit(|scene, values| values.character(0).map_or_else(missing, |c| surround::surround(scene, c))),
        ..Verb::PLAIN
    },
    Verb {
        name: "surround-off",
        label: "unsurround",
        sentence: "Takes the pair round the selections off; for a caret the one round its word, or the one that it is in.",
        words: &["remove brackets", "remove quotes", "unwrap", "delete surrounding pair"],
        group: Group::Text,
        example: Some(Sample { text: "read(\"[ebb|]\")", argument: "" }),
        does: Does::Edit(|scene, _| surround::surround_off(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "case-cycle",
        label: "case",
        sentence: "Changes the case: upper, lower, then as it was.",
        words: &["toggle case", "swap case", "upper lower"],
        group: Group::Text,
        keys: Keys { deck: &["~"], ..Keys::NONE },
        example: Some(Sample { text: "low [tide|]", argument: "" }),
        does: Does::Edit(|scene, _| case::cycle(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "upper-case",
        label: "UPPER",
        sentence: "Makes the selections, or the words at the carets, upper case.",
        words: &["capitals", "uppercase", "shout"],
        group: Group::Text,
        example: Some(Sample { text: "low [tide|]", argument: "" }),
        does: Does::Edit(|scene, _| case::reshape(scene, Shape::Upper)),
        ..Verb::PLAIN
    },
    Verb {
        name: "lower-case",
        label: "lower",
        sentence: "Makes the selections, or the words at the carets, lower case.",
        words: &["small letters", "lowercase", "uncapitalise"],
        group: Group::Text,
        example: Some(Sample { text: "low [TIDE|]", argument: "" }),
        does: Does::Edit(|scene, _| case::reshape(scene, Shape::Lower)),
        ..Verb::PLAIN
    },
    Verb {
        name: "title-case",
        label: "Title",
        sentence: "Begins every word with an upper-case letter.",
        words: &["capitalise words", "headline", "first letters"],
        group: Group::Text,
        example: Some(Sample { text: "[low tide|]", argument: "" }),
        does: Does::Edit(|scene, _| case::reshape(scene, Shape::Title)),
        ..Verb::PLAIN
    },
    Verb {
        name: "snake-case",
        label: "snake_case",
        sentence: "Writes names as snake_case.",
        words: &["underscores", "join words with underscore", "rename style"],
        group: Group::Text,
        example: Some(Sample { text: "[lowTide|]", argument: "" }),
        does: Does::Edit(|scene, _| case::reshape(scene, Shape::Snake)),
        ..Verb::PLAIN
    },
    Verb {
        name: "camel-case",
        label: "camelCase",
        sentence: "Writes names as camelCase.",
        words: &["humps", "lower camel", "rename style"],
        group: Group::Text,
        example: Some(Sample { text: "[low_tide|]", argument: "" }),
        does: Does::Edit(|scene, _| case::reshape(scene, Shape::Camel)),
        ..Verb::PLAIN
    },
    Verb {
        name: "pascal-case",
        label: "PascalCase",
        sentence: "Writes names as PascalCase.",
        words: &["upper camel", "type name style", "rename style"],
        group: Group::Text,
        example: Some(Sample { text: "[low_tide|]", argument: "" }),
        does: Does::Edit(|scene, _| case::reshape(scene, Shape::Pascal)),
        ..Verb::PLAIN
    },
    Verb {
        name: "kebab-case",
        label: "kebab-case",
        sentence: "Writes names as kebab-case.",
        words: &["dashes", "hyphens", "rename style"],
        group: Group::Text,
        example: Some(Sample { text: "[low_tide|]", argument: "" }),
        does: Does::Edit(|scene, _| case::reshape(scene, Shape::Kebab)),
        ..Verb::PLAIN
    },
    Verb {
        name: "upper-snake-case",
        label: "UPPER_SNAKE",
        sentence: "Writes names as UPPER_SNAKE_CASE.",
        words: &["constant style", "capitals with underscores", "rename style"],
        group: Group::Text,
        example: Some(Sample { text: "[low_tide|]", argument: "" }),
        does: Does::Edit(|scene, _| case::reshape(scene, Shape::UpperSnake)),
        ..Verb::PLAIN
    },
    Verb {
        name: "signs",
        label: "sign",
        sentence: "Puts in a character that no key types: by a short form such as ->, by its name, or by its code point.",
        words: &["unicode", "special character", "emoji", "symbol", "insert character", "arrow", "greek letter"],
        group: Group::Text,
        does: Does::Ask(Action::Signs),
        ..Verb::PLAIN
    },
];
