//! Selecting.

use super::arguments::{Argument, Arguments, Form, Values};
use super::enabled;
use super::verb::{Count, Does, Group, Keys, Sample, StructureNeed, Verb};
use snarvel_core::text::place::Place;
use snarvel_core::verbs::scene::Outcome;
use snarvel_core::verbs::selects::{self, blocks, columns, columns::Short, pointed, widen};

/// A place of the text.
const PLACE: Argument = Argument { name: "place", form: Form::Place, shown: "12:7", default: "" };

/// Two places of the text.
const PLACES: &[Argument] = &[
    Argument { name: "from", form: Form::Place, shown: "12:7", default: "" },
    Argument { name: "to", form: Form::Place, shown: "14:2", default: "" },
];

fn between(values: &Values, select: impl FnOnce(Place, Place) -> Outcome) -> Outcome {
    match (values.place(0), values.place(1)) {
        (Some(from), Some(to)) => select(from, to),
        _ => missing(),
    }
}

/// What is done where an argument that a verb needs is not there: a test of the registry finds that.
fn missing() -> Outcome {
    Outcome::nothing("an argument is missing")
}

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "select-word",
        label: "word",
        sentence: "Selects the word at each caret.",
        words: &["mark word", "pick word", "this word"],
        group: Group::Selects,
        keys: Keys { deck: &["."], ..Keys::NONE },
        example: Some(Sample { text: "read the ti|de", argument: "" }),
        does: Does::Edit(|scene, _| selects::word(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "select-line",
        label: "line",
        sentence: "Selects the whole line with its line end; again, also the next.",
        words: &["mark line", "pick line", "whole line"],
        group: Group::Selects,
        count: Count::Lines,
        keys: Keys { deck: &[","], ..Keys::NONE },
        example: Some(Sample { text: "ebb⏎fl|ow⏎slack", argument: "" }),
        does: Does::Edit(|scene, _| selects::line(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "select-paragraph",
        label: "paragraph",
        sentence: "Selects the lines up to the next blank ones.",
        words: &["mark paragraph", "lines around", "this paragraph"],
        group: Group::Selects,
        example: Some(Sample { text: "ebb⏎⏎flow⏎sl|ack⏎⏎tide", argument: "" }),
        does: Does::Edit(|scene, _| selects::paragraphs(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "select-statement",
        label: "statement",
        sentence: "Selects the statement around each caret, from inside its arguments too.",
        words: &["whole statement", "this instruction", "mark statement"],
        group: Group::Selects,
        example: Some(Sample { text: "ebb();⏎flow(sl|ack);", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| selects::statements(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "select-block",
        label: "block",
        sentence: "Selects the block around each caret.",
        words: &["mark paragraph", "pick block", "this block"],
        group: Group::Selects,
        keys: Keys { deck: &["n"], ..Keys::NONE },
        example: Some(Sample { text: "ebb⏎⏎flow⏎sl|ack⏎⏎tide", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| blocks::block(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "select-outer-block",
        label: "outer block",
        sentence: "Selects the enclosing block, then the next outer one.",
        words: &["whole function", "bigger block", "enclosing block"],
        group: Group::Selects,
        keys: Keys { deck: &["N"], ..Keys::NONE },
        example: Some(Sample { text: "ebb⏎⏎flow⏎sl|ack⏎⏎tide", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| blocks::outer_block(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "widen",
        label: "widen",
        sentence: "Widens each selection to what encloses it: word, string, brackets, paragraph, file.",
        words: &["grow selection", "expand", "select more"],
        group: Group::Selects,
        keys: Keys { deck: &["/"], ..Keys::NONE },
        example: Some(Sample { text: "read(\"high ti|de\")", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| widen::widen(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "narrow",
        label: "narrow",
        sentence: "Goes back from what was widened.",
        words: &["shrink selection", "undo widen", "select less"],
        group: Group::Selects,
        keys: Keys { deck: &["?"], ..Keys::NONE },
        does: Does::Edit(|scene, _| widen::narrow(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "select-all",
        label: "all",
        sentence: "Selects everything.",
        words: &["mark all", "whole file", "everything"],
        group: Group::Selects,
        keys: Keys { both: &["ctrl+a"], ..Keys::NONE },
        example: Some(Sample { text: "ebb⏎fl|ow", argument: "" }),
        does: Does::Edit(|scene, _| selects::all(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "caret-per-line",
        label: "line ends",
        sentence: "Puts a caret at the end of every selected line, to type there on all of them.",
        words: &["cursor on each line", "caret per line", "type at the end of lines", "edit many lines"],
        group: Group::Selects,
        keys: Keys { deck: &["v"], ..Keys::NONE },
        example: Some(Sample { text: "[ebb⏎flow|]", argument: "" }),
        does: Does::Edit(|scene, _| selects::line_ends(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "per-line",
        label: "per line",
        sentence: "Turns every selection over several lines into one for each line.",
        words: &["cursor on each line", "split selection into lines", "many cursors from lines"],
        group: Group::Selects,
        example: Some(Sample { text: "[ebb⏎flow⏎slack|]", argument: "" }),
        enabled: enabled::is_over_lines,
        does: Does::Edit(|scene, _| selects::per_line(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "column",
        label: "column",
        sentence: "Turns every selection into the box between its corners, one selection a line.",
        words: &["rectangle", "block selection", "vertical selection"],
        group: Group::Selects,
        keys: Keys { deck: &["V"], ..Keys::NONE },
        arguments: Arguments::One(Argument {
            name: "short lines",
            form: Form::Choice(&["ragged"]),
            shown: "ragged",
            default: "lines that are too short are left out",
        }),
        example: Some(Sample { text: "a[b = 1⏎cd| = 2] ⏎ef = 3", argument: "" }),
        does: Does::Edit(|scene, values| {
            columns::column(scene, if values.has(0) { Short::Ragged } else { Short::Skipped })
        }),
        ..Verb::PLAIN
    },
    Verb {
        name: "select-between",
        label: "select between",
        sentence: "Selects from one place of the text to another.",
        words: &["select a range", "mark from to", "drag over text"],
        group: Group::Selects,
        arguments: Arguments::List(PLACES),
        asks: true,
        does: Does::Edit(|scene, values| between(values, |from, to| pointed::between(scene, from, to))),
        ..Verb::PLAIN
    },
    Verb {
        name: "select-to",
        label: "select to",
        sentence: "Extends the primary selection to a place of the text.",
        words: &["extend to here", "shift click", "select up to"],
        group: Group::Selects,
        arguments: Arguments::One(PLACE),
        asks: true,
        does: Does::Edit(|scene, values| values.place(0).map_or_else(missing, |at| pointed::extend_to(scene, at))),
        ..Verb::PLAIN
    },
    Verb {
        name: "select-word-at",
        label: "word at",
        sentence: "Selects the word at a place of the text.",
        words: &["double click", "word there", "mark word at"],
        group: Group::Selects,
        arguments: Arguments::One(PLACE),
        asks: true,
        does: Does::Edit(|scene, values| values.place(0).map_or_else(missing, |at| pointed::word_at(scene, at))),
        ..Verb::PLAIN
    },
    Verb {
        name: "select-line-at",
        label: "line at",
        sentence: "Selects the line at a place of the text.",
        words: &["triple click", "line there", "mark line at"],
        group: Group::Selects,
        arguments: Arguments::One(PLACE),
        asks: true,
        does: Does::Edit(|scene, values| values.place(0).map_or_else(missing, |at| pointed::line_at(scene, at))),
        ..Verb::PLAIN
    },
    Verb {
        name: "column-between",
        label: "box between",
        sentence: "Selects the box between two places of the text, one selection a line.",
        words: &["drag a rectangle", "box selection", "alt drag"],
        group: Group::Selects,
        arguments: Arguments::List(PLACES),
        asks: true,
        does: Does::Edit(|scene, values| between(values, |from, to| pointed::box_between(scene, from, to))),
        ..Verb::PLAIN
    },
];
