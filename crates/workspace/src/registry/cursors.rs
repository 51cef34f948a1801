//! Which cursors there are.

use super::arguments::{Argument, Arguments, Form, Values};
use super::enabled;
use super::over_files::OverFiles;
use super::verb::{Does, Group, Keys, Reads, Sample, StructureNeed, Verb};
use snarvel_core::languages::scanner::Kind;
use snarvel_core::units::Direction::{Back, Forward};
use snarvel_core::verbs::cursors::filters::{self, Criterion, Filter};
use snarvel_core::verbs::cursors::transforms::{self, Numbers};
use snarvel_core::verbs::cursors::{self, Fit, rename};
use snarvel_core::verbs::scene::{Outcome, Scene};
use snarvel_core::verbs::selects::pointed;

/// A place of the text.
const PLACE: Argument = Argument { name: "place", form: Form::Place, shown: "12:7", default: "" };

/// The largest number of cursors to count by.
const MOST: i64 = u32::MAX as i64;

const CRITERION: Argument = Argument {
    name: "criterion",
    form: Form::ChoiceOrPattern(&["code", "string", "comment"]),
    shown: "/pattern/, code, string, comment",
    default: "",
};

fn criterion(values: &Values) -> Option<Criterion> {
    let kind = values.choice(0).map(|word| match word {
        "string" => Kind::String,
        "comment" => Kind::Comment,
        _ => Kind::Code,
    });
    kind.map(Criterion::Kind).or_else(|| values.pattern(0).cloned().map(Criterion::Text))
}

fn numbered(scene: &Scene, values: &Values) -> Outcome {
    let (start, step) = (values.text(0).unwrap_or("1"), values.number(1).unwrap_or(1));
    let width = values.number(2).and_then(|width| usize::try_from(width).ok());
    match Numbers::new(start, step, width) {
        Some(numbers) => transforms::number(scene, &numbers),
        None => Outcome::nothing(format!("{start:?} is no number to start with")),
    }
}

/// What is done where an argument that a verb needs is not there: a test of the registry finds that.
fn missing() -> Outcome {
    Outcome::nothing("an argument is missing")
}

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "cursor-above",
        label: "cursor ↑",
        sentence: "Adds a cursor on the line above, in the same columns.",
        words: &["add cursor up", "another cursor above", "multiple cursors"],
        group: Group::Cursors,
        keys: Keys { deck: &["r"], both: &["alt+shift+up"], ..Keys::NONE },
        example: Some(Sample { text: "ebb: 1⏎x⏎flow: |2", argument: "" }),
        enabled: enabled::not_at_top,
        does: Does::Edit(|scene, _| cursors::add_line(scene, Back, Fit::Any)),
        ..Verb::PLAIN
    },
    Verb {
        name: "cursor-below",
        label: "cursor ↓",
        sentence: "Adds a cursor on the line below, in the same columns.",
        words: &["add cursor down", "another cursor below", "multiple cursors"],
        group: Group::Cursors,
        keys: Keys { deck: &["f"], both: &["alt+shift+down"], ..Keys::NONE },
        example: Some(Sample { text: "ebb: |1⏎x⏎flow: 2", argument: "" }),
        enabled: enabled::not_on_last_line,
        does: Does::Edit(|scene, _| cursors::add_line(scene, Forward, Fit::Any)),
        ..Verb::PLAIN
    },
    Verb {
        name: "cursor-above-skip",
        label: "cursor ↑↑",
        sentence: "Adds a cursor on the nearest line above that is long enough.",
        words: &["cursor above skipping short lines", "column up", "add cursor over short lines"],
        group: Group::Cursors,
        keys: Keys { deck: &["R"], ..Keys::NONE },
        example: Some(Sample { text: "ebb: 1⏎x⏎flow: |2", argument: "" }),
        does: Does::Edit(|scene, _| cursors::add_line(scene, Back, Fit::Full)),
        ..Verb::PLAIN
    },
    Verb {
        name: "cursor-below-skip",
        label: "cursor ↓↓",
        sentence: "Adds a cursor on the nearest line below that is long enough.",
        words: &["cursor below skipping short lines", "column down", "add cursor past short lines"],
        group: Group::Cursors,
        keys: Keys { deck: &["F"], ..Keys::NONE },
        example: Some(Sample { text: "ebb: |1⏎x⏎flow: 2", argument: "" }),
        does: Does::Edit(|scene, _| cursors::add_line(scene, Forward, Fit::Full)),
        ..Verb::PLAIN
    },
    Verb {
        name: "take-next",
        label: "add match↓",
        sentence: "Takes the word at each caret, then the next match, as one more selection.",
        words: &["next occurrence", "same word again", "select next match"],
        group: Group::Cursors,
        keys: Keys { deck: &["g"], ..Keys::NONE },
        example: Some(Sample { text: "[level|] = 1; low = level; level += 1", argument: "" }),
        enabled: enabled::has_something_to_take,
        does: Does::Edit(|scene, _| cursors::take(scene, Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "take-previous",
        label: "add match↑",
        sentence: "Takes the word at each caret, then the previous match, as one more selection.",
        words: &["previous occurrence", "same word before", "select previous match"],
        group: Group::Cursors,
        keys: Keys { deck: &["t"], ..Keys::NONE },
        example: Some(Sample { text: "level = 1; low = [level|]", argument: "" }),
        enabled: enabled::has_something_to_take,
        does: Does::Edit(|scene, _| cursors::take(scene, Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "take-all",
        label: "match all",
        sentence: "Takes every match at once.",
        words: &["all occurrences", "every same word", "select all matches"],
        group: Group::Cursors,
        keys: Keys { deck: &["b"], ..Keys::NONE },
        example: Some(Sample { text: "[level|] = 1; low = level; level += 1", argument: "" }),
        enabled: enabled::has_something_to_take,
        does: Does::Edit(|scene, _| cursors::take_all(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "take-all-in-block",
        label: "match here",
        sentence: "Takes every match in the enclosing function or block, from code only those in code.",
        words: &["all in function", "every use in this function", "same word in this function"],
        group: Group::Cursors,
        keys: Keys { deck: &["B"], ..Keys::NONE },
        example: Some(Sample { text: "[level|] = 1; low = level; level += 1", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| cursors::take_all_in_block(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "rename-here",
        label: "rename",
        sentence: "Makes every use that the same declaration binds a cursor; again: the same letters in the code of the file, then in the project.",
        words: &["rename variable", "change name everywhere", "refactor name"],
        group: Group::Cursors,
        keys: Keys { both: &["f2"], ..Keys::NONE },
        example: Some(Sample { text: "[level|] = 1; low = level; level += 1", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| rename::rename_here(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "skip-next",
        label: "skip match",
        sentence: "Gives up the newest match and takes the next one.",
        words: &["leave this one out", "not this occurrence", "pass over match"],
        group: Group::Cursors,
        keys: Keys { deck: &["G"], ..Keys::NONE },
        example: Some(Sample { text: "[level|] = 1; low = level; level += 1", argument: "" }),
        does: Does::Edit(|scene, _| cursors::skip_next(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "drop-newest",
        label: "drop newest",
        sentence: "Takes the last addition of cursors back.",
        words: &["one cursor too many", "undo cursor", "remove last cursor"],
        group: Group::Cursors,
        keys: Keys { deck: &["T"], ..Keys::NONE },
        enabled: enabled::has_several,
        over_files: OverFiles::TakesBack,
        does: Does::Edit(|scene, _| cursors::drop_newest(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "drop-primary",
        label: "drop this",
        sentence: "Drops the primary cursor.",
        words: &["remove this cursor", "without this one", "forget cursor"],
        group: Group::Cursors,
        keys: Keys { deck: &["\\"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b flo|w slac|k", argument: "" }),
        does: Does::Edit(|scene, _| cursors::drop_primary(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "keep-primary",
        label: "only this",
        sentence: "Keeps only the primary cursor.",
        words: &["single cursor", "one cursor again", "forget other cursors"],
        group: Group::Cursors,
        keys: Keys { deck: &["|"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b flo|w slac|k", argument: "" }),
        does: Does::Edit(|scene, _| cursors::keep_primary(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "keep-first",
        label: "first cursor",
        sentence: "Goes back to the cursor that was there first, or that was made the leading one.",
        words: &["one cursor again", "leave the added cursors", "back to the first cursor"],
        group: Group::Cursors,
        example: Some(Sample { text: "eb|b flo|w slac|k", argument: "" }),
        does: Does::Edit(|scene, _| cursors::keep_first(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "unselect",
        label: "unselect",
        sentence: "Makes every selection a caret at its head.",
        words: &["deselect", "clear selection", "collapse selection"],
        group: Group::Cursors,
        example: Some(Sample { text: "[ebb|] flow", argument: "" }),
        does: Does::Edit(|scene, _| cursors::unselect(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "next-cursor",
        label: "cursor →",
        sentence: "Makes the next cursor the primary one and shows it.",
        words: &["go to next cursor", "following cursor", "show next cursor"],
        group: Group::Cursors,
        keys: Keys { deck: &["]"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b flo|w slac|k", argument: "" }),
        over_files: OverFiles::Leads(Forward),
        does: Does::Edit(|scene, _| cursors::lead(scene, Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "previous-cursor",
        label: "cursor ←",
        sentence: "Makes the previous cursor the primary one and shows it.",
        words: &["go to previous cursor", "cursor before", "show previous cursor"],
        group: Group::Cursors,
        keys: Keys { deck: &["["], ..Keys::NONE },
        example: Some(Sample { text: "eb|b flo|w slac|k", argument: "" }),
        over_files: OverFiles::Leads(Back),
        does: Does::Edit(|scene, _| cursors::lead(scene, Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "convoy-add",
        label: "convoy",
        sentence: "Takes in the same word in another open file: the cursors of both act together until Esc.",
        words: &["cursors in several files", "multiple files", "same word elsewhere", "edit files together"],
        group: Group::Cursors,
        arguments: Arguments::One(Argument {
            name: "file",
            form: Form::Text,
            shown: "the name of an open file",
            default: "the next one that has the word",
        }),
        reads: Reads::More,
        does: Does::OfWorkspace(|workspace, values| {
            workspace.add_to_convoy(values.text(0).filter(|name| !name.is_empty()))
        }),
        ..Verb::PLAIN
    },
    Verb {
        name: "recall",
        label: "recall",
        sentence: "Brings back the last set of cursors that was given up.",
        words: &["cursors back", "lost cursors", "restore cursors"],
        group: Group::Cursors,
        keys: Keys { deck: &["@"], ..Keys::NONE },
        over_files: OverFiles::BringsBack,
        does: Does::Edit(|scene, _| cursors::recall(scene)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "fuse",
        label: "fuse",
        sentence: "Makes one selection from the first cursor to the last.",
        words: &["merge cursors", "one selection", "join selections"],
        group: Group::Cursors,
        keys: Keys { deck: &["_"], ..Keys::NONE },
        example: Some(Sample { text: "[ebb|] flow [slack|]", argument: "" }),
        does: Does::Edit(|scene, _| cursors::fuse(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "take-matches",
        label: "take /re/",
        sentence: "Puts a selection on every match of a pattern, in what is selected or in the whole text.",
        words: &["find all", "select matches", "every match", "regular expression"],
        group: Group::Cursors,
        arguments: Arguments::One(Argument { name: "pattern", form: Form::Search, shown: "/pattern/", default: "" }),
        asks: true,
        example: Some(Sample { text: "|level = level", argument: "/level/" }),
        does: Does::Edit(|scene, values| match values.search(0) {
            Some(pattern) => filters::take_matches(scene, pattern),
            None => Outcome::default(),
        }),
        ..Verb::PLAIN
    },
    Verb {
        name: "split-at",
        label: "split at",
        sentence: "Cuts every selection at the matches of a pattern.",
        words: &["split selection", "cut at commas", "separate by pattern"],
        group: Group::Cursors,
        keys: Keys { deck: &["Z"], ..Keys::NONE },
        arguments: Arguments::One(Argument { name: "pattern", form: Form::Pattern, shown: "/pattern/", default: "" }),
        asks: true,
        example: Some(Sample { text: "read([ebb, flow, slack|])", argument: ", " }),
        does: Does::Edit(|scene, values| {
            values.pattern(0).map_or_else(missing, |pattern| filters::split_at(scene, pattern))
        }),
        ..Verb::PLAIN
    },
    Verb {
        name: "filter-keep",
        label: "keep with",
        sentence: "Keeps the cursors whose text or line matches a pattern.",
        words: &["only matching", "filter cursors", "keep some"],
        group: Group::Cursors,
        arguments: Arguments::One(CRITERION),
        asks: true,
        example: Some(Sample { text: "[ebb|] [flow|] [slack|]", argument: "^f" }),
        over_files: OverFiles::Leaves,
        does: Does::Edit(|scene, values| {
            criterion(values).map_or_else(missing, |by| filters::filter(scene, Filter::Keep, &by))
        }),
        ..Verb::PLAIN
    },
    Verb {
        name: "filter-drop",
        label: "drop with",
        sentence: "Drops the cursors whose text or line matches a pattern.",
        words: &["without matching", "filter out", "drop some"],
        group: Group::Cursors,
        arguments: Arguments::One(CRITERION),
        asks: true,
        example: Some(Sample { text: "[ebb|] [flow|] [slack|]", argument: "^f" }),
        over_files: OverFiles::Leaves,
        does: Does::Edit(|scene, values| {
            criterion(values).map_or_else(missing, |by| filters::filter(scene, Filter::Drop, &by))
        }),
        ..Verb::PLAIN
    },
    Verb {
        name: "every-nth",
        label: "every nth",
        sentence: "Keeps every Nth cursor.",
        words: &["every second", "each third", "alternate"],
        group: Group::Cursors,
        arguments: Arguments::List(&[
            Argument { name: "N", form: Form::Number { least: 1, most: MOST }, shown: "N", default: "" },
            Argument { name: "K", form: Form::Number { least: 1, most: MOST }, shown: "K", default: "1" },
        ]),
        asks: true,
        example: Some(Sample { text: "[ebb|] [flow|] [slack|] [tide|]", argument: "2" }),
        over_files: OverFiles::Leaves,
        does: Does::Edit(|scene, values| {
            let first = values.number(1).unwrap_or(1) as usize;
            values.number(0).map_or_else(missing, |nth| filters::every_nth(scene, nth as usize, first))
        }),
        ..Verb::PLAIN
    },
    Verb {
        name: "rotate-forward",
        label: "pass on →",
        sentence: "Passes the selected texts on to the next cursor.",
        words: &["swap texts", "exchange selections", "rotate"],
        group: Group::Cursors,
        keys: Keys { deck: &["}"], ..Keys::NONE },
        example: Some(Sample { text: "[ebb|], [flow|], [slack|]", argument: "" }),
        over_files: OverFiles::PassesOn,
        does: Does::Edit(|scene, _| transforms::rotate(scene, Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "rotate-back",
        label: "pass on ←",
        sentence: "Passes the selected texts on to the previous cursor.",
        words: &["swap texts back", "exchange selections", "rotate back"],
        group: Group::Cursors,
        keys: Keys { deck: &["{"], ..Keys::NONE },
        example: Some(Sample { text: "[ebb|], [flow|], [slack|]", argument: "" }),
        over_files: OverFiles::PassesOn,
        does: Does::Edit(|scene, _| transforms::rotate(scene, Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "align",
        label: "align",
        sentence: "Brings the cursors into one column by spaces before them.",
        words: &["line up", "pad columns", "tabulate"],
        group: Group::Cursors,
        keys: Keys { deck: &["="], ..Keys::NONE },
        example: Some(Sample { text: "ebb |= 1⏎slack |= 2", argument: "" }),
        does: Does::Edit(|scene, _| transforms::align(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "number",
        label: "number",
        sentence: "Replaces each selection with a running number.",
        words: &["count up", "enumerate", "running numbers"],
        group: Group::Cursors,
        arguments: Arguments::List(&[
            Argument { name: "start", form: Form::Text, shown: "start", default: "1" },
            Argument { name: "step", form: Form::Number { least: -MOST, most: MOST }, shown: "step", default: "1" },
            Argument {
                name: "width",
                form: Form::Number { least: 0, most: Numbers::WIDEST as i64 },
                shown: "width",
                default: "that of start",
            },
        ]),
        example: Some(Sample { text: "pier [a|]⏎pier [b|]⏎pier [c|]", argument: "7" }),
        does: Does::Edit(numbered),
        ..Verb::PLAIN
    },
    Verb {
        name: "cursor-at",
        label: "cursor at",
        sentence: "Adds a cursor at a place of the text, or drops the one that is there.",
        words: &["alt click", "another cursor there", "toggle cursor at"],
        group: Group::Cursors,
        arguments: Arguments::One(PLACE),
        asks: true,
        does: Does::Edit(|scene, values| values.place(0).map_or_else(missing, |at| pointed::toggle(scene, at))),
        ..Verb::PLAIN
    },
];
