//! Whole lines.

use super::arguments::{Argument, Arguments, Form, Values};
use super::enabled;
use super::verb::{Count, Does, Group, Keys, Sample, StructureNeed, Verb};
use snarvel_core::units::Direction::{Back, Forward};
use snarvel_core::verbs::lines::filtering::{Stay, filter_lines};
use snarvel_core::verbs::lines::join::{self, Between};
use snarvel_core::verbs::lines::mending::{LineEdit, mended};
use snarvel_core::verbs::lines::sorting::{self, SortRule};
use snarvel_core::verbs::lines::{self, breaks, cut, elements, indent, reindent, spread, statements, trim, wrapping};
use snarvel_core::verbs::scene::{Outcome, Scene};

const PATTERN: Argument = Argument { name: "pattern", form: Form::Pattern, shown: "/pattern/", default: "" };

fn filtered(scene: &Scene, stay: Stay, values: &Values) -> Outcome {
    match values.pattern(0) {
        Some(pattern) => filter_lines(scene, stay, pattern),
        None => Outcome::nothing("an argument is missing"),
    }
}

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "open-above",
        label: "new line ↑",
        sentence: "Opens an empty line above, at the right depth, and begins to write.",
        words: &["new line above", "insert line before", "start line over"],
        group: Group::Lines,
        keys: Keys { deck: &["q"], ..Keys::NONE },
        example: Some(Sample { text: "    eb|b();⏎    flow();", argument: "" }),
        does: Does::Edit(|scene, _| lines::open(scene, Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "open-below",
        label: "new line ↓",
        sentence: "Opens an empty line below, at the right depth, and begins to write.",
        words: &["new line below", "insert line after", "start line under"],
        group: Group::Lines,
        keys: Keys { deck: &["a"], write: &["shift+enter"], ..Keys::NONE },
        example: Some(Sample { text: "    eb|b();⏎    flow();", argument: "" }),
        does: Does::Edit(|scene, _| mended(scene, LineEdit::Opened, lines::open(scene, Forward))),
        ..Verb::PLAIN
    },
    Verb {
        name: "blank-above",
        label: "blank ↑",
        sentence: "Puts an empty line above; the cursors stay.",
        words: &["empty line above", "space before", "gap above"],
        group: Group::Lines,
        keys: Keys { deck: &["Q"], ..Keys::NONE },
        example: Some(Sample { text: "    eb|b();⏎    flow();", argument: "" }),
        does: Does::Edit(|scene, _| lines::blank(scene, Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "blank-below",
        label: "blank ↓",
        sentence: "Puts an empty line below; the cursors stay.",
        words: &["empty line below", "space after", "gap below"],
        group: Group::Lines,
        keys: Keys { deck: &["A"], ..Keys::NONE },
        example: Some(Sample { text: "    eb|b();⏎    flow();", argument: "" }),
        does: Does::Edit(|scene, _| lines::blank(scene, Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "carry-up",
        label: "carry ↑",
        sentence: "Carries the touched lines up by one.",
        words: &["move line up", "swap lines", "push line up"],
        group: Group::Lines,
        keys: Keys { deck: &["w"], both: &["alt+up"], ..Keys::NONE },
        example: Some(Sample { text: "ebb();⏎fl|ow();", argument: "" }),
        enabled: enabled::not_at_top,
        does: Does::Edit(|scene, _| mended(scene, LineEdit::Rearranged, lines::carry(scene, Back))),
        ..Verb::PLAIN
    },
    Verb {
        name: "carry-down",
        label: "carry ↓",
        sentence: "Carries the touched lines down by one.",
        words: &["move line down", "swap lines", "push line down"],
        group: Group::Lines,
        keys: Keys { deck: &["s"], both: &["alt+down"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b();⏎flow();", argument: "" }),
        enabled: enabled::not_at_bottom,
        does: Does::Edit(|scene, _| mended(scene, LineEdit::Rearranged, lines::carry(scene, Forward))),
        ..Verb::PLAIN
    },
    Verb {
        name: "carry-statement-up",
        label: "statement↑",
        sentence: "Carries the statement, item or element up past the one before it, within its block.",
        words: &["move function up", "swap arguments", "move element left"],
        group: Group::Lines,
        keys: Keys { deck: &["W"], ..Keys::NONE },
        example: Some(Sample { text: "ebb();⏎fl|ow();", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| statements::carry_statement(scene, Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "carry-statement-down",
        label: "statement↓",
        sentence: "Carries the statement, item or element down past the one behind it, within its block.",
        words: &["move function down", "swap arguments", "move element right"],
        group: Group::Lines,
        keys: Keys { deck: &["S"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b();⏎flow();", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| statements::carry_statement(scene, Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "duplicate-up",
        label: "duplicate↑",
        sentence: "Duplicates the touched lines; the cursors are on the upper copy.",
        words: &["copy line up", "repeat line above", "clone line"],
        group: Group::Lines,
        keys: Keys { deck: &["e"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b();⏎flow();", argument: "" }),
        enabled: enabled::is_on_a_line,
        does: Does::Edit(|scene, _| mended(scene, LineEdit::CopiedAbove, lines::duplicate(scene, Back))),
        ..Verb::PLAIN
    },
    Verb {
        name: "duplicate-down",
        label: "duplicate↓",
        sentence: "Duplicates the touched lines; the cursors are on the lower copy.",
        words: &["copy line down", "repeat line below", "clone line"],
        group: Group::Lines,
        keys: Keys { deck: &["d"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b();⏎flow();", argument: "" }),
        enabled: enabled::is_on_a_line,
        does: Does::Edit(|scene, _| mended(scene, LineEdit::CopiedBelow, lines::duplicate(scene, Forward))),
        ..Verb::PLAIN
    },
    Verb {
        name: "duplicate-text-before",
        label: "copy text←",
        sentence: "Duplicates the selected text before itself.",
        words: &["copy selection before", "repeat text", "clone selection"],
        group: Group::Lines,
        keys: Keys { deck: &["E"], ..Keys::NONE },
        example: Some(Sample { text: "read([tide, |]ebb)", argument: "" }),
        does: Does::Edit(|scene, _| lines::duplicate_text(scene, Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "duplicate-text-after",
        label: "copy text→",
        sentence: "Duplicates the selected text after itself.",
        words: &["copy selection after", "repeat text", "clone selection"],
        group: Group::Lines,
        keys: Keys { deck: &["D"], ..Keys::NONE },
        example: Some(Sample { text: "read([tide, |]ebb)", argument: "" }),
        does: Does::Edit(|scene, _| lines::duplicate_text(scene, Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "delete-lines",
        label: "delete",
        sentence: "Deletes the touched lines.",
        words: &["remove row", "remove line", "kill line"],
        group: Group::Lines,
        keys: Keys { deck: &["x"], ..Keys::NONE },
        example: Some(Sample { text: "ebb();⏎fl|ow();⏎slack();", argument: "" }),
        enabled: enabled::is_on_a_line,
        does: Does::Edit(|scene, _| mended(scene, LineEdit::Deleted, lines::delete(scene))),
        ..Verb::PLAIN
    },
    Verb {
        name: "cut-lines",
        label: "cut lines",
        sentence: "Cuts the touched lines to the clipboard.",
        words: &["cut row", "take line away", "move line elsewhere"],
        group: Group::Lines,
        count: Count::Lines,
        keys: Keys { deck: &["X"], ..Keys::NONE },
        example: Some(Sample { text: "ebb();⏎fl|ow();⏎slack();", argument: "" }),
        does: Does::Edit(|scene, _| mended(scene, LineEdit::Deleted, cut::cut_lines(scene))),
        ..Verb::PLAIN
    },
    Verb {
        name: "join-lines",
        label: "join",
        sentence: "Joins the touched lines into one, or the line with the next.",
        words: &["merge lines", "one line", "pull line up"],
        group: Group::Lines,
        keys: Keys { deck: &["m"], ..Keys::NONE },
        example: Some(Sample { text: "read(|ebb,⏎    flow)", argument: "" }),
        enabled: enabled::not_at_bottom,
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| join::join(scene, Between::Space)),
        ..Verb::PLAIN
    },
    Verb {
        name: "join-tight",
        label: "join tight",
        sentence: "Joins lines with nothing in between.",
        words: &["merge without space", "glue lines", "concatenate lines"],
        group: Group::Lines,
        keys: Keys { deck: &["M"], ..Keys::NONE },
        example: Some(Sample { text: "read(|ebb,⏎    flow)", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| join::join(scene, Between::Nothing)),
        ..Verb::PLAIN
    },
    Verb {
        name: "split-line",
        label: "split",
        sentence: "Splits the line at each caret, which stays before the line end.",
        words: &["break line", "cut line in two", "new line here"],
        group: Group::Lines,
        keys: Keys { deck: &["z"], ..Keys::NONE },
        example: Some(Sample { text: "    ebb();| flow();", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| breaks::split_line(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "indent",
        label: "indent",
        sentence: "Indents the touched lines by one unit.",
        words: &["shift right", "deeper", "move in"],
        group: Group::Lines,
        keys: Keys { deck: &[">", "tab"], ..Keys::NONE },
        example: Some(Sample { text: "if ebb {⏎fl|ow();⏎}", argument: "" }),
        does: Does::Edit(|scene, _| indent::indent(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "outdent",
        label: "outdent",
        sentence: "Takes one unit of indentation off the touched lines.",
        words: &["shift left", "shallower", "unindent"],
        group: Group::Lines,
        keys: Keys { deck: &["<"], both: &["shift+tab"], ..Keys::NONE },
        example: Some(Sample { text: "    fl|ow();", argument: "" }),
        does: Does::Edit(|scene, _| indent::outdent(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "reindent",
        label: "reindent",
        sentence: "Puts the depth of the touched lines right.",
        words: &["fix indentation", "correct depth", "tidy up indentation", "format code"],
        group: Group::Lines,
        count: Count::Lines,
        example: Some(Sample { text: "[if ebb {⏎flow();⏎}|]", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| reindent::reindent(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "delete-element",
        label: "drop element",
        sentence: "Deletes the element of a list at each cursor, with its comma or operator.",
        words: &["remove argument", "delete parameter", "remove item from list", "delete attribute"],
        group: Group::Lines,
        example: Some(Sample { text: "mix(ebb, fl|ow, slack);", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| elements::delete(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "duplicate-element",
        label: "copy element",
        sentence: "Puts a copy of the element of a list at each cursor after it.",
        words: &["duplicate argument", "copy parameter", "clone item of list", "repeat element"],
        group: Group::Lines,
        example: Some(Sample { text: "mix(ebb, fl|ow);", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| elements::duplicate(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "spread",
        label: "spread list",
        sentence: "Puts a list over several lines, one element a line, or back on one line.",
        words: &["one per line", "break call", "join call", "arguments on lines", "expand list", "collapse list"],
        group: Group::Lines,
        keys: Keys { deck: &["^"], ..Keys::NONE },
        example: Some(Sample { text: "mix(eb|b, flow);", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| spread::spread(scene)),
        ..Verb::PLAIN
    },
    Verb {
        name: "swap-next",
        label: "swap →",
        sentence: "Lets each cursor's element of a list, as an argument or a column, change places with the next one.",
        words: &["exchange arguments", "move parameter right", "swap columns", "next element"],
        group: Group::Lines,
        example: Some(Sample { text: "read(e|bb, flow)", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| elements::swap(scene, Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "swap-previous",
        label: "swap ←",
        sentence: "Lets each cursor's element of a list, as an argument or a column, change places with the one before.",
        words: &["exchange arguments back", "move parameter left", "swap columns back", "previous element"],
        group: Group::Lines,
        example: Some(Sample { text: "read(ebb, f|low)", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| elements::swap(scene, Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "wrap-lines",
        label: "wrap lines",
        sentence: "Puts the touched lines into a pair of brackets on lines of their own, one step further in.",
        words: &["wrap in braces", "put a block around", "enclose lines", "brackets around lines"],
        group: Group::Lines,
        arguments: Arguments::One(Argument { name: "bracket", form: Form::Character, shown: "{ ( or [", default: "{" }),
        example: Some(Sample { text: "[flow();|]", argument: "{" }),
        does: Does::Edit(|scene, values| wrapping::wrap_lines(scene, values.character(0).unwrap_or('{'))),
        ..Verb::PLAIN
    },
    Verb {
        name: "lines-keep",
        label: "keep lines",
        sentence: "Deletes the touched lines without a pattern; without a selection, of the whole file.",
        words: &["delete lines without", "only matching lines", "grep lines", "remove other lines"],
        group: Group::Lines,
        arguments: Arguments::One(PATTERN),
        asks: true,
        example: Some(Sample { text: "[ebb⏎flow⏎slack|]", argument: "l" }),
        does: Does::Edit(|scene, values| mended(scene, LineEdit::Rearranged, filtered(scene, Stay::With, values))),
        ..Verb::PLAIN
    },
    Verb {
        name: "lines-drop",
        label: "drop lines",
        sentence: "Deletes the touched lines with a pattern; without a selection, of the whole file.",
        words: &["delete matching lines", "remove lines with", "lines without a word"],
        group: Group::Lines,
        arguments: Arguments::One(PATTERN),
        asks: true,
        example: Some(Sample { text: "[ebb⏎flow⏎slack|]", argument: "l" }),
        does: Does::Edit(|scene, values| mended(scene, LineEdit::Rearranged, filtered(scene, Stay::Without, values))),
        ..Verb::PLAIN
    },
    Verb {
        name: "sort-lines",
        label: "sort",
        sentence: "Sorts the touched lines by natural order.",
        words: &["order lines", "alphabetical", "arrange"],
        group: Group::Lines,
        arguments: Arguments::Words(&[
            Argument { name: "order", form: Form::Choice(&["desc"]), shown: "desc", default: "the first comes first" },
            Argument { name: "comparison", form: Form::Choice(&["case"]), shown: "case", default: "natural order" },
            Argument { name: "by", form: Form::Pattern, shown: "by /pattern/", default: "the whole line" },
        ]),
        example: Some(Sample { text: "[pier 10⏎pier 9⏎pier 1|]", argument: "" }),
        does: Does::Edit(|scene, values| {
            let key = values.pattern(2).cloned();
            let rule = SortRule { descending: values.has(0), by_code_points: values.has(1), key };
            mended(scene, LineEdit::Rearranged, sorting::sort(scene, &rule))
        }),
        ..Verb::PLAIN
    },
    Verb {
        name: "unique-lines",
        label: "unique",
        sentence: "Drops touched lines that stand there already.",
        words: &["remove duplicates", "same lines once", "dedupe"],
        group: Group::Lines,
        example: Some(Sample { text: "[ebb⏎flow⏎ebb|]", argument: "" }),
        does: Does::Edit(|scene, _| mended(scene, LineEdit::Rearranged, sorting::unique(scene))),
        ..Verb::PLAIN
    },
    Verb {
        name: "reverse-lines",
        label: "reverse",
        sentence: "Turns the touched lines round.",
        words: &["upside down", "turn lines around", "backward order"],
        group: Group::Lines,
        example: Some(Sample { text: "[ebb⏎flow⏎slack|]", argument: "" }),
        does: Does::Edit(|scene, _| mended(scene, LineEdit::Rearranged, sorting::reverse(scene))),
        ..Verb::PLAIN
    },
    Verb {
        name: "trim-trailing",
        label: "trim",
        sentence: "Takes the white space off the ends of the touched lines, of all lines with one caret.",
        words: &["strip spaces", "trailing blanks", "clean line ends"],
        group: Group::Lines,
        example: Some(Sample { text: "eb|b   ⏎flow", argument: "" }),
        does: Does::Edit(|scene, _| trim::trim_trailing(scene)),
        ..Verb::PLAIN
    },
];
