//! Getting about.

use super::action::Action;
use super::arguments::{Argument, Arguments, Form, Values};
use super::enabled;
use super::verb::{Does, Group, Keys, Reads, Sample, StructureNeed, Verb};
use snarvel_core::units::Direction::{Back, Forward};
use snarvel_core::verbs::moves::{
    self, Motion,
    Reach::{Extend, Move},
    occurrences,
};
use snarvel_core::verbs::scene::Outcome;

/// A place of the text.
const PLACE: Argument = Argument { name: "place", form: Form::Place, shown: "12:7", default: "" };

/// What is done where an argument that a verb needs is not there: a test of the registry finds that.
fn missing() -> Outcome {
    Outcome::nothing("an argument is missing")
}

/// Which start of a line a verb goes to.
const LINE_START: Arguments = Arguments::One(Argument {
    name: "which start",
    form: Form::Choice(&["text", "margin"]),
    shown: "text or margin",
    default: "text, then margin",
});

fn line_start(values: &Values) -> Motion {
    match values.choice(0) {
        Some("text") => Motion::LineText,
        Some(_) => Motion::LineMargin,
        None => Motion::LineEdge,
    }
}

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "char-left",
        label: "char ←",
        sentence: "Moves one character to the left; with a selection, to its left edge.",
        words: &["back a character", "left", "step back"],
        group: Group::Moves,
        keys: Keys { deck: &["u"], both: &["left"], ..Keys::NONE },
        example: Some(Sample { text: "let le|vel = 3;", argument: "" }),
        enabled: enabled::not_at_start,
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Char, Back, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "char-right",
        label: "char →",
        sentence: "Moves one character to the right; with a selection, to its right edge.",
        words: &["forward a character", "right", "step forward"],
        group: Group::Moves,
        keys: Keys { deck: &["j"], both: &["right"], ..Keys::NONE },
        example: Some(Sample { text: "let le|vel = 3;", argument: "" }),
        enabled: enabled::not_at_end,
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Char, Forward, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "line-up",
        label: "line ↑",
        sentence: "Moves one line up, keeping the column.",
        words: &["up", "previous line", "go up"],
        group: Group::Moves,
        keys: Keys { deck: &["i"], both: &["up"], ..Keys::NONE },
        example: Some(Sample { text: "ebb⏎fl|ow", argument: "" }),
        enabled: enabled::not_at_top,
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Line, Back, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "line-down",
        label: "line ↓",
        sentence: "Moves one line down, keeping the column.",
        words: &["down", "next line", "go down"],
        group: Group::Moves,
        keys: Keys { deck: &["k"], both: &["down"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b⏎flow", argument: "" }),
        enabled: enabled::not_on_last_line,
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Line, Forward, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "word-back",
        label: "word ←",
        sentence: "Moves to the start of the word, or of the one before.",
        words: &["previous word", "word left", "jump back a word"],
        group: Group::Moves,
        keys: Keys { deck: &["o"], both: &["ctrl+left"], ..Keys::NONE },
        example: Some(Sample { text: "read the |tide here", argument: "" }),
        enabled: enabled::not_at_start,
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Word, Back, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "word-forward",
        label: "word →",
        sentence: "Moves to the end of the word, or of the next one.",
        words: &["next word", "word right", "jump a word"],
        group: Group::Moves,
        keys: Keys { deck: &["l"], both: &["ctrl+right"], ..Keys::NONE },
        example: Some(Sample { text: "read the |tide here", argument: "" }),
        enabled: enabled::not_at_end,
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Word, Forward, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "line-start",
        label: "start",
        sentence: "Moves to the first character of the line that is not blank, then to column 1.",
        words: &["beginning of line", "home", "line begin"],
        group: Group::Moves,
        keys: Keys { deck: &["p"], both: &["home"], ..Keys::NONE },
        example: Some(Sample { text: "    let le|vel = 3;", argument: "" }),
        arguments: LINE_START,
        does: Does::Edit(|scene, values| moves::go(scene, line_start(values), Back, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "line-end",
        label: "end",
        sentence: "Moves to the end of the line.",
        words: &["end of line", "last character", "line end"],
        group: Group::Moves,
        keys: Keys { deck: &[";"], both: &["end"], ..Keys::NONE },
        example: Some(Sample { text: "    let le|vel = 3;", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::LineEdge, Forward, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "block-back",
        label: "block ↑",
        sentence: "Moves to the first line of the block, or of the one before.",
        words: &["previous paragraph", "block start", "paragraph up"],
        group: Group::Moves,
        keys: Keys { deck: &["y"], ..Keys::NONE },
        example: Some(Sample { text: "ebb⏎⏎flow⏎sl|ack⏎⏎tide", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Block, Back, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "block-forward",
        label: "block ↓",
        sentence: "Moves to the first line of the next block.",
        words: &["next paragraph", "block end", "paragraph down"],
        group: Group::Moves,
        keys: Keys { deck: &["h"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b⏎low⏎⏎flow⏎slack", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Block, Forward, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "page-up",
        label: "page ↑",
        sentence: "Moves up by a view less two lines.",
        words: &["screen up", "previous page", "back a screen"],
        group: Group::Moves,
        keys: Keys { both: &["pgup"], ..Keys::NONE },
        example: Some(Sample { text: "ebb⏎flow⏎sl|ack", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Page, Back, Move)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "page-down",
        label: "page ↓",
        sentence: "Moves down by a view less two lines.",
        words: &["screen down", "next page", "forward a screen"],
        group: Group::Moves,
        keys: Keys { both: &["pgdn"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b⏎flow⏎slack", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Page, Forward, Move)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "file-start",
        label: "top",
        sentence: "Moves to the start of the file.",
        words: &["beginning of file", "top", "first line"],
        group: Group::Moves,
        keys: Keys { both: &["ctrl+home"], ..Keys::NONE },
        example: Some(Sample { text: "ebb⏎flow⏎sl|ack", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::FileEdge, Back, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "file-end",
        label: "bottom",
        sentence: "Moves to the end of the file.",
        words: &["end of file", "bottom", "last line"],
        group: Group::Moves,
        keys: Keys { both: &["ctrl+end"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b⏎flow⏎slack", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::FileEdge, Forward, Move)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-char-left",
        label: "select ←",
        sentence: "Extends the selection by one character to the left.",
        words: &["select left", "grow left", "mark character back"],
        group: Group::Moves,
        keys: Keys { deck: &["U"], both: &["shift+left"], ..Keys::NONE },
        example: Some(Sample { text: "let le|vel = 3;", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Char, Back, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-char-right",
        label: "select →",
        sentence: "Extends the selection by one character to the right.",
        words: &["select right", "grow right", "mark character"],
        group: Group::Moves,
        keys: Keys { deck: &["J"], both: &["shift+right"], ..Keys::NONE },
        example: Some(Sample { text: "let le|vel = 3;", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Char, Forward, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-line-up",
        label: "select ↑",
        sentence: "Extends the selection one line up.",
        words: &["select up", "grow up", "mark line above"],
        group: Group::Moves,
        keys: Keys { deck: &["I"], both: &["shift+up"], ..Keys::NONE },
        example: Some(Sample { text: "ebb⏎fl|ow", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Line, Back, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-line-down",
        label: "select ↓",
        sentence: "Extends the selection one line down.",
        words: &["select down", "grow down", "mark line below"],
        group: Group::Moves,
        keys: Keys { deck: &["K"], both: &["shift+down"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b⏎flow", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Line, Forward, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-word-back",
        label: "select word ←",
        sentence: "Extends the selection to the start of the word.",
        words: &["select word back", "mark previous word", "select to word start"],
        group: Group::Moves,
        keys: Keys { deck: &["O"], both: &["ctrl+shift+left"], ..Keys::NONE },
        example: Some(Sample { text: "read the |tide here", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Word, Back, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-word-forward",
        label: "select word →",
        sentence: "Extends the selection to the end of the word.",
        words: &["select word forward", "mark next word", "select to word end"],
        group: Group::Moves,
        keys: Keys { deck: &["L"], both: &["ctrl+shift+right"], ..Keys::NONE },
        example: Some(Sample { text: "read the |tide here", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Word, Forward, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-line-start",
        label: "select to start",
        sentence: "Extends the selection to the start of the line.",
        words: &["select to line start", "mark to beginning", "select home"],
        group: Group::Moves,
        keys: Keys { deck: &["P"], both: &["shift+home"], ..Keys::NONE },
        example: Some(Sample { text: "    let le|vel = 3;", argument: "" }),
        arguments: LINE_START,
        does: Does::Edit(|scene, values| moves::go(scene, line_start(values), Back, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-line-end",
        label: "select to end",
        sentence: "Extends the selection to the end of the line.",
        words: &["select to line end", "mark rest of line", "select end"],
        group: Group::Moves,
        keys: Keys { deck: &[":"], both: &["shift+end"], ..Keys::NONE },
        example: Some(Sample { text: "    let le|vel = 3;", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::LineEdge, Forward, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-block-back",
        label: "select block ↑",
        sentence: "Extends the selection to the first line of the block.",
        words: &["select paragraph up", "mark block back", "select to block start"],
        group: Group::Moves,
        keys: Keys { deck: &["Y"], ..Keys::NONE },
        example: Some(Sample { text: "ebb⏎⏎flow⏎sl|ack⏎⏎tide", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Block, Back, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-block-forward",
        label: "select block ↓",
        sentence: "Extends the selection to the first line of the next block.",
        words: &["select paragraph down", "mark block forward", "select to next block"],
        group: Group::Moves,
        keys: Keys { deck: &["H"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b⏎low⏎⏎flow⏎slack", argument: "" }),
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Block, Forward, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-page-up",
        label: "select page ↑",
        sentence: "Extends the selection up by a view less two lines.",
        words: &["select page up", "mark screen up", "grow by a page up"],
        group: Group::Moves,
        keys: Keys { both: &["shift+pgup"], ..Keys::NONE },
        example: Some(Sample { text: "ebb⏎flow⏎sl|ack", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Page, Back, Extend)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-page-down",
        label: "select page ↓",
        sentence: "Extends the selection down by a view less two lines.",
        words: &["select page down", "mark screen down", "grow by a page down"],
        group: Group::Moves,
        keys: Keys { both: &["shift+pgdn"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b⏎flow⏎slack", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::Page, Forward, Extend)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-file-start",
        label: "select to top",
        sentence: "Extends the selection to the start of the file.",
        words: &["select to top", "mark to beginning of file", "select everything above"],
        group: Group::Moves,
        keys: Keys { both: &["ctrl+shift+home"], ..Keys::NONE },
        example: Some(Sample { text: "ebb⏎flow⏎sl|ack", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::FileEdge, Back, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "extend-file-end",
        label: "select to bottom",
        sentence: "Extends the selection to the end of the file.",
        words: &["select to bottom", "mark to end of file", "select everything below"],
        group: Group::Moves,
        keys: Keys { both: &["ctrl+shift+end"], ..Keys::NONE },
        example: Some(Sample { text: "eb|b⏎flow⏎slack", argument: "" }),
        does: Does::Edit(|scene, _| moves::go(scene, Motion::FileEdge, Forward, Extend)),
        ..Verb::PLAIN
    },
    Verb {
        name: "scroll-up",
        label: "scroll ↑",
        sentence: "Scrolls one line up; the caret stays.",
        words: &["view up", "wheel up", "look higher"],
        group: Group::Moves,
        keys: Keys { both: &["ctrl+up"], ..Keys::NONE },
        does: Does::Ask(Action::Scroll(-1)),
        ..Verb::PLAIN
    },
    Verb {
        name: "scroll-down",
        label: "scroll ↓",
        sentence: "Scrolls one line down; the caret stays.",
        words: &["view down", "wheel down", "look lower"],
        group: Group::Moves,
        keys: Keys { both: &["ctrl+down"], ..Keys::NONE },
        does: Does::Ask(Action::Scroll(1)),
        ..Verb::PLAIN
    },
    Verb {
        name: "go-to-line",
        label: "go to",
        sentence: "Goes to a line, a place, so many lines on or back, or a share of the file.",
        words: &["jump to line", "line number", "percent of file"],
        group: Group::Moves,
        arguments: Arguments::One(Argument {
            name: "place",
            form: Form::Place,
            shown: "123, 123:7, +20, -5, 50%",
            default: "",
        }),
        asks: true,
        example: Some(Sample { text: "|ebb⏎flow⏎slack", argument: "3" }),
        does: Does::Jump(|scene, values| match values.place(0) {
            Some(place) => moves::go_to_line(scene, place),
            None => missing(),
        }),
        ..Verb::PLAIN
    },
    Verb {
        name: "go",
        label: "go",
        sentence: "Goes to a line, a name or a bookmark: type a number or some letters.",
        words: &["jump to function", "find symbol", "go to definition"],
        group: Group::Moves,
        keys: Keys { both: &["ctrl+g"], ..Keys::NONE },
        does: Does::Ask(Action::Go),
        ..Verb::PLAIN
    },
    Verb {
        name: "previous-use",
        label: "use ←",
        sentence: "Goes to the previous use of the word at the caret, or of what is selected.",
        words: &["previous occurrence", "find word before", "same word above"],
        group: Group::Moves,
        keys: Keys { both: &["shift+f3", "f4"], ..Keys::NONE },
        example: Some(Sample { text: "level = 1; low = |level", argument: "" }),
        does: Does::Edit(|scene, _| occurrences::use_of_word(scene, Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "next-use",
        label: "use →",
        sentence: "Goes to the next use of the word at the caret, or of what is selected.",
        words: &["next occurrence", "find word again", "same word below"],
        group: Group::Moves,
        keys: Keys { both: &["f3"], ..Keys::NONE },
        example: Some(Sample { text: "|level = 1; low = level", argument: "" }),
        does: Does::Edit(|scene, _| occurrences::use_of_word(scene, Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "place-back",
        label: "place ←",
        sentence: "Goes back to where the caret was before it jumped, in whatever file.",
        words: &["where was I", "previous place", "jump back"],
        group: Group::Moves,
        keys: Keys { both: &["alt+left"], ..Keys::NONE },
        does: Does::Ask(Action::Place(Back)),
        ..Verb::PLAIN
    },
    Verb {
        name: "place-forward",
        label: "place →",
        sentence: "Goes on to the place that was gone back from.",
        words: &["next place", "jump forward", "forward again"],
        group: Group::Moves,
        keys: Keys { both: &["alt+right"], ..Keys::NONE },
        does: Does::Ask(Action::Place(Forward)),
        ..Verb::PLAIN
    },
    Verb {
        name: "caret-at",
        label: "caret at",
        sentence: "Puts a single caret at a place of the text.",
        words: &["place the caret", "click there", "put cursor here"],
        group: Group::Moves,
        arguments: Arguments::One(PLACE),
        asks: true,
        does: Does::Edit(|scene, values| values.place(0).map_or_else(missing, |at| moves::caret_at(scene, at))),
        ..Verb::PLAIN
    },
];
