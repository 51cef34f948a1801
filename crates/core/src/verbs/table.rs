//! The table of verbs: names, sentences, everyday words, keys, functions. Everything else draws from it.
//!
//! A row is: name, group, label on the deck, sentence, everyday words; then what is special to it.

use super::case::Shape;
use super::clipboard::Depth;
use super::comments::Wish;
use super::comments::block::Wish as BlockWish;
use super::cursors::Fit;
use super::join::Between;
use super::moves::{Motion, Reach};
use super::pins::Covered;
use super::scene::{Outcome, Scene};
use super::thin::Filter;
use super::{Group, Request, Run, Verb, folding, going};
use super::{
    breaks, case, clipboard, comments, cursors, indent, join, lines, moves, order, pins, reindent, selects, statements,
    surround, texts, thin, typing, widen,
};
use crate::units::Direction::{Back, Forward};
use Reach::{Extend, Move};

type Edit = fn(&Scene, &str) -> Outcome;

const fn row(
    run: Run,
    group: Group,
    [name, label, sentence]: [&'static str; 3],
    words: &'static [&'static str],
) -> Verb {
    Verb { name, sentence, words, group, label, deck: &[], both: &[], write: &[], argument: "", asks: false, run }
}

const fn edit(group: Group, names: [&'static str; 3], words: &'static [&'static str], run: Edit) -> Verb {
    row(Run::Edit(run), group, names, words)
}

const fn ask(request: Request, group: Group, names: [&'static str; 3], words: &'static [&'static str]) -> Verb {
    row(Run::Ask(request), group, names, words)
}

impl Verb {
    /// With keys of the deck.
    const fn deck(self, deck: &'static [&'static str]) -> Verb {
        Verb { deck, ..self }
    }

    /// With keys that mean it in both layers.
    const fn both(self, both: &'static [&'static str]) -> Verb {
        Verb { both, ..self }
    }

    /// With keys that mean it in Write only.
    const fn write(self, write: &'static [&'static str]) -> Verb {
        Verb { write, ..self }
    }

    /// With an argument that may be left out.
    const fn taking(self, argument: &'static str) -> Verb {
        Verb { argument, ..self }
    }

    /// With an argument that is asked for where it is not given.
    const fn asking(self, argument: &'static str) -> Verb {
        Verb { argument, asks: true, ..self }
    }
}

/// All verbs, in the order in which they are listed: a table, one row each.
#[rustfmt::skip]
pub const VERBS: &[Verb] = &[
    edit(Group::Moves, ["char-left", "char ←", "Moves one character to the left; with a selection, to its left edge."], &["back a character", "left", "step back"], |scene, _| moves::go(scene, Motion::Char, Back, Move)).deck(&["u"]).both(&["left"]),
    edit(Group::Moves, ["char-right", "char →", "Moves one character to the right; with a selection, to its right edge."], &["forward a character", "right", "step forward"], |scene, _| moves::go(scene, Motion::Char, Forward, Move)).deck(&["j"]).both(&["right"]),
    edit(Group::Moves, ["line-up", "line ↑", "Moves one line up, keeping the column."], &["up", "previous line", "go up"], |scene, _| moves::go(scene, Motion::Line, Back, Move)).deck(&["i"]).both(&["up"]),
    edit(Group::Moves, ["line-down", "line ↓", "Moves one line down, keeping the column."], &["down", "next line", "go down"], |scene, _| moves::go(scene, Motion::Line, Forward, Move)).deck(&["k"]).both(&["down"]),
    edit(Group::Moves, ["word-back", "word ←", "Moves to the start of the word, or of the one before."], &["previous word", "word left", "jump back a word"], |scene, _| moves::go(scene, Motion::Word, Back, Move)).deck(&["o"]).both(&["ctrl+left"]),
    edit(Group::Moves, ["word-forward", "word →", "Moves to the end of the word, or of the next one."], &["next word", "word right", "jump a word"], |scene, _| moves::go(scene, Motion::Word, Forward, Move)).deck(&["l"]).both(&["ctrl+right"]),
    edit(Group::Moves, ["line-start", "start", "Moves to the first character of the line that is not blank, then to column 1."], &["beginning of line", "home", "line begin"], |scene, _| moves::go(scene, Motion::LineEdge, Back, Move)).deck(&["p"]).both(&["home"]),
    edit(Group::Moves, ["line-end", "end", "Moves to the end of the line."], &["end of line", "last character", "line end"], |scene, _| moves::go(scene, Motion::LineEdge, Forward, Move)).deck(&[";"]).both(&["end"]),
    edit(Group::Moves, ["block-back", "block ↑", "Moves to the first line of the block, or of the one before."], &["previous paragraph", "block start", "paragraph up"], |scene, _| moves::go(scene, Motion::Block, Back, Move)).deck(&["y"]),
    edit(Group::Moves, ["block-forward", "block ↓", "Moves to the first line of the next block."], &["next paragraph", "block end", "paragraph down"], |scene, _| moves::go(scene, Motion::Block, Forward, Move)).deck(&["h"]),
    edit(Group::Moves, ["page-up", "page ↑", "Moves up by a view less two lines."], &["screen up", "previous page", "back a screen"], |scene, _| moves::go(scene, Motion::Page, Back, Move)).both(&["pgup"]),
    edit(Group::Moves, ["page-down", "page ↓", "Moves down by a view less two lines."], &["screen down", "next page", "forward a screen"], |scene, _| moves::go(scene, Motion::Page, Forward, Move)).both(&["pgdn"]),
    edit(Group::Moves, ["file-start", "top", "Moves to the start of the file."], &["beginning of file", "top", "first line"], |scene, _| moves::go(scene, Motion::FileEdge, Back, Move)).both(&["ctrl+home"]),
    edit(Group::Moves, ["file-end", "bottom", "Moves to the end of the file."], &["end of file", "bottom", "last line"], |scene, _| moves::go(scene, Motion::FileEdge, Forward, Move)).both(&["ctrl+end"]),
    edit(Group::Moves, ["extend-char-left", "sel ←", "Extends the selection by one character to the left."], &["select left", "grow left", "mark character back"], |scene, _| moves::go(scene, Motion::Char, Back, Extend)).deck(&["U"]).both(&["shift+left"]),
    edit(Group::Moves, ["extend-char-right", "sel →", "Extends the selection by one character to the right."], &["select right", "grow right", "mark character"], |scene, _| moves::go(scene, Motion::Char, Forward, Extend)).deck(&["J"]).both(&["shift+right"]),
    edit(Group::Moves, ["extend-line-up", "sel ↑", "Extends the selection one line up."], &["select up", "grow up", "mark line above"], |scene, _| moves::go(scene, Motion::Line, Back, Extend)).deck(&["I"]).both(&["shift+up"]),
    edit(Group::Moves, ["extend-line-down", "sel ↓", "Extends the selection one line down."], &["select down", "grow down", "mark line below"], |scene, _| moves::go(scene, Motion::Line, Forward, Extend)).deck(&["K"]).both(&["shift+down"]),
    edit(Group::Moves, ["extend-word-back", "sel word ←", "Extends the selection to the start of the word."], &["select word back", "mark previous word", "select to word start"], |scene, _| moves::go(scene, Motion::Word, Back, Extend)).deck(&["O"]).both(&["ctrl+shift+left"]),
    edit(Group::Moves, ["extend-word-forward", "sel word →", "Extends the selection to the end of the word."], &["select word forward", "mark next word", "select to word end"], |scene, _| moves::go(scene, Motion::Word, Forward, Extend)).deck(&["L"]).both(&["ctrl+shift+right"]),
    edit(Group::Moves, ["extend-line-start", "sel start", "Extends the selection to the start of the line."], &["select to line start", "mark to beginning", "select home"], |scene, _| moves::go(scene, Motion::LineEdge, Back, Extend)).deck(&["P"]).both(&["shift+home"]),
    edit(Group::Moves, ["extend-line-end", "sel end", "Extends the selection to the end of the line."], &["select to line end", "mark rest of line", "select end"], |scene, _| moves::go(scene, Motion::LineEdge, Forward, Extend)).deck(&[":"]).both(&["shift+end"]),
    edit(Group::Moves, ["extend-block-back", "sel block ↑", "Extends the selection to the first line of the block."], &["select paragraph up", "mark block back", "select to block start"], |scene, _| moves::go(scene, Motion::Block, Back, Extend)).deck(&["Y"]),
    edit(Group::Moves, ["extend-block-forward", "sel block ↓", "Extends the selection to the first line of the next block."], &["select paragraph down", "mark block forward", "select to next block"], |scene, _| moves::go(scene, Motion::Block, Forward, Extend)).deck(&["H"]),
    edit(Group::Moves, ["extend-page-up", "sel page ↑", "Extends the selection up by a view less two lines."], &["select page up", "mark screen up", "grow by a page up"], |scene, _| moves::go(scene, Motion::Page, Back, Extend)).both(&["shift+pgup"]),
    edit(Group::Moves, ["extend-page-down", "sel page ↓", "Extends the selection down by a view less two lines."], &["select page down", "mark screen down", "grow by a page down"], |scene, _| moves::go(scene, Motion::Page, Forward, Extend)).both(&["shift+pgdn"]),
    edit(Group::Moves, ["extend-file-start", "sel top", "Extends the selection to the start of the file."], &["select to top", "mark to beginning of file", "select everything above"], |scene, _| moves::go(scene, Motion::FileEdge, Back, Extend)).both(&["ctrl+shift+home"]),
    edit(Group::Moves, ["extend-file-end", "sel bottom", "Extends the selection to the end of the file."], &["select to bottom", "mark to end of file", "select everything below"], |scene, _| moves::go(scene, Motion::FileEdge, Forward, Extend)).both(&["ctrl+shift+end"]),
    ask(Request::Scroll(-1), Group::Moves, ["scroll-up", "scroll ↑", "Scrolls one line up; the caret stays."], &["view up", "wheel up", "look higher"]).both(&["ctrl+up"]),
    ask(Request::Scroll(1), Group::Moves, ["scroll-down", "scroll ↓", "Scrolls one line down; the caret stays."], &["view down", "wheel down", "look lower"]).both(&["ctrl+down"]),
    edit(Group::Moves, ["go-to-line", "go to", "Goes to a line, a place, so many lines on or back, or a share of the file."], &["jump to line", "line number", "percent of file"], moves::go_to_line).asking("123, 123:7, +20, -5, 50%"),
    ask(Request::Go, Group::Moves, ["go", "go", "Goes to a line, a name or a bookmark: type a number or some letters."], &["jump to function", "find symbol", "go to definition"]).both(&["ctrl+g"]),
    edit(Group::Moves, ["previous-use", "use ←", "Goes to the previous use of the word at the caret, or of what is selected."], &["previous occurrence", "find word before", "same word above"], |scene, _| going::use_of_word(scene, Back)).both(&["f3"]),
    edit(Group::Moves, ["next-use", "use →", "Goes to the next use of the word at the caret, or of what is selected."], &["next occurrence", "find word again", "same word below"], |scene, _| going::use_of_word(scene, Forward)).both(&["f4"]),
    edit(Group::Moves, ["bookmark", "bookmark", "Marks the line at each cursor, or takes its mark away."], &["mark this line", "remember line", "flag a place"], |scene, _| going::bookmark(scene)).both(&["f5"]),
    edit(Group::Moves, ["previous-bookmark", "mark ←", "Goes to the bookmark before this line, round the file."], &["bookmark above", "last mark", "back to mark"], |scene, _| going::next_bookmark(scene, Back)).both(&["f6"]),
    edit(Group::Moves, ["next-bookmark", "mark →", "Goes to the bookmark behind this line, round the file."], &["bookmark below", "following mark", "on to mark"], |scene, _| going::next_bookmark(scene, Forward)).both(&["f7"]),
    edit(Group::Moves, ["drop-bookmarks", "no marks", "Takes all bookmarks of the file away."], &["clear bookmarks", "remove all marks", "forget marked lines"], |scene, _| going::drop_bookmarks(scene)),
    ask(Request::Place(Back), Group::Moves, ["place-back", "place ←", "Goes back to where the caret was before it jumped, in whatever file."], &["where was I", "previous place", "jump back"]).both(&["alt+left"]),
    ask(Request::Place(Forward), Group::Moves, ["place-forward", "place →", "Goes on to the place that was gone back from."], &["next place", "jump forward", "forward again"]).both(&["alt+right"]),
    edit(Group::Selects, ["select-word", "word", "Selects the word at each caret."], &["mark word", "pick word", "this word"], |scene, _| selects::word(scene)).deck(&["."]),
    edit(Group::Selects, ["select-line", "line", "Selects the whole line with its line end; again, also the next."], &["mark line", "pick line", "whole line"], |scene, _| selects::line(scene)).deck(&[","]),
    edit(Group::Selects, ["select-block", "block", "Selects the block around each caret."], &["mark paragraph", "pick block", "this block"], |scene, _| selects::block(scene)).deck(&["n"]),
    edit(Group::Selects, ["select-outer-block", "outer block", "Selects the enclosing block, then the next outer one."], &["whole function", "bigger block", "enclosing block"], |scene, _| selects::outer_block(scene)).deck(&["N"]),
    edit(Group::Selects, ["widen", "widen", "Widens each selection to what encloses it: word, string, brackets, paragraph, file."], &["grow selection", "expand", "select more"], |scene, _| widen::widen(scene)).deck(&["/"]),
    edit(Group::Selects, ["narrow", "narrow", "Goes back from what was widened."], &["shrink selection", "undo widen", "select less"], |scene, _| widen::narrow(scene)).deck(&["?"]),
    edit(Group::Selects, ["select-all", "all", "Selects everything."], &["mark all", "whole file", "everything"], |scene, _| selects::all(scene)).both(&["ctrl+a"]),
    edit(Group::Selects, ["per-line", "per line", "Turns every selection over several lines into one for each line."], &["cursor on each line", "split selection into lines", "many cursors from lines"], |scene, _| selects::per_line(scene)).deck(&["v"]),
    edit(Group::Selects, ["column", "column", "Turns every selection into the box between its corners, one selection a line."], &["rectangle", "block selection", "vertical selection"], thin::column).deck(&["V"]).taking("ragged"),
    edit(Group::Cursors, ["cursor-above", "cursor ↑", "Adds a cursor on the line above, in the same columns."], &["add cursor up", "another cursor above", "multiple cursors"], |scene, _| cursors::add_line(scene, Back, Fit::Any)).deck(&["r"]).both(&["alt+shift+up"]),
    edit(Group::Cursors, ["cursor-below", "cursor ↓", "Adds a cursor on the line below, in the same columns."], &["add cursor down", "another cursor below", "multiple cursors"], |scene, _| cursors::add_line(scene, Forward, Fit::Any)).deck(&["f"]).both(&["alt+shift+down"]),
    edit(Group::Cursors, ["cursor-above-skip", "cursor ↑↑", "Adds a cursor on the nearest line above that is long enough."], &["cursor above skipping short lines", "column up", "add cursor over short lines"], |scene, _| cursors::add_line(scene, Back, Fit::Full)).deck(&["R"]),
    edit(Group::Cursors, ["cursor-below-skip", "cursor ↓↓", "Adds a cursor on the nearest line below that is long enough."], &["cursor below skipping short lines", "column down", "add cursor past short lines"], |scene, _| cursors::add_line(scene, Forward, Fit::Full)).deck(&["F"]),
    edit(Group::Cursors, ["take-next", "take ↓", "Takes the word at each caret, then the next match, as one more selection."], &["next occurrence", "same word again", "select next match"], |scene, _| cursors::take(scene, Forward)).deck(&["g"]),
    edit(Group::Cursors, ["take-previous", "take ↑", "Takes the word at each caret, then the previous match, as one more selection."], &["previous occurrence", "same word before", "select previous match"], |scene, _| cursors::take(scene, Back)).deck(&["t"]),
    edit(Group::Cursors, ["take-all", "take ∗", "Takes every match at once."], &["all occurrences", "every same word", "select all matches"], |scene, _| cursors::take_all(scene)).deck(&["b"]),
    edit(Group::Cursors, ["take-all-in-block", "take ∗ here", "Takes every match in the enclosing function or block, from code only those in code."], &["all in function", "every use in this function", "same word in this function"], |scene, _| cursors::take_all_in_block(scene)).deck(&["B"]),
    edit(Group::Cursors, ["rename-here", "rename", "Makes every use of the name at the caret in its function a cursor, code only; again: strings and comments too, then the whole file."], &["rename variable", "change name everywhere", "refactor name"], |scene, _| going::rename_here(scene)).both(&["f2"]),
    edit(Group::Cursors, ["skip-next", "skip ↓", "Gives up the newest match and takes the next one."], &["leave this one out", "not this occurrence", "pass over match"], |scene, _| cursors::skip_next(scene)).deck(&["G"]),
    edit(Group::Cursors, ["drop-newest", "drop newest", "Takes the last addition of cursors back."], &["one cursor too many", "undo cursor", "remove last cursor"], |scene, _| cursors::drop_newest(scene)).deck(&["T"]),
    edit(Group::Cursors, ["drop-primary", "drop this", "Drops the primary cursor."], &["remove this cursor", "without this one", "forget cursor"], |scene, _| cursors::drop_primary(scene)).deck(&["\\"]),
    edit(Group::Cursors, ["keep-primary", "only this", "Keeps only the primary cursor."], &["single cursor", "one cursor again", "forget other cursors"], |scene, _| cursors::keep_primary(scene)).deck(&["|"]),
    edit(Group::Cursors, ["next-cursor", "next cursor", "Makes the next cursor the primary one and shows it."], &["go to next cursor", "following cursor", "show next cursor"], |scene, _| cursors::lead(scene, Forward)).deck(&["]"]),
    edit(Group::Cursors, ["previous-cursor", "prev. cursor", "Makes the previous cursor the primary one and shows it."], &["go to previous cursor", "cursor before", "show previous cursor"], |scene, _| cursors::lead(scene, Back)).deck(&["["]),
    edit(Group::Cursors, ["recall", "recall", "Brings back the last set of cursors that was given up."], &["cursors back", "lost cursors", "restore cursors"], |scene, _| cursors::recall(scene)).deck(&["@"]),
    edit(Group::Cursors, ["fuse", "fuse", "Makes one selection from the first cursor to the last."], &["merge cursors", "one selection", "join selections"], |scene, _| cursors::fuse(scene)).deck(&["_"]),
    edit(Group::Cursors, ["pin", "pin", "Sets the selections aside as pins, or takes the pins away that are there."], &["set aside", "mark place", "remember selection"], |scene, _| pins::pin(scene)).deck(&["space"]),
    edit(Group::Cursors, ["pins-take", "take pins", "Makes the pins the cursors and goes to Write."], &["use pins", "pins to cursors", "start typing"], |scene, _| pins::take(scene)).deck(&["enter"]),
    edit(Group::Cursors, ["pins-add", "add pins", "Adds the pins to the cursors."], &["pins and cursors", "join pins", "include pins"], |scene, _| pins::add(scene)).deck(&["+"]),
    edit(Group::Cursors, ["pins-subtract", "less pins", "Drops the cursors that the pins cover."], &["without pins", "exclude pins", "remove pinned"], |scene, _| pins::thin(scene, Covered::Dropped)).deck(&["-"]),
    edit(Group::Cursors, ["pins-common", "only in pins", "Keeps only the cursors that the pins cover."], &["intersect pins", "inside pins", "common with pins"], |scene, _| pins::thin(scene, Covered::Kept)).deck(&["&"]),
    edit(Group::Cursors, ["split-at", "split at", "Cuts every selection at the matches of a pattern."], &["split selection", "cut at commas", "separate by pattern"], thin::split_at).deck(&["Z"]).asking("/pattern/"),
    edit(Group::Cursors, ["filter-keep", "keep with", "Keeps the cursors whose text or line matches a pattern."], &["only matching", "filter cursors", "keep some"], |scene, argument| thin::filter(scene, Filter::Keep, argument)).asking("/pattern/, code, string, comment"),
    edit(Group::Cursors, ["filter-drop", "drop with", "Drops the cursors whose text or line matches a pattern."], &["without matching", "filter out", "drop some"], |scene, argument| thin::filter(scene, Filter::Drop, argument)).asking("/pattern/, code, string, comment"),
    edit(Group::Cursors, ["every-nth", "every nth", "Keeps every Nth cursor."], &["every second", "each third", "alternate"], thin::every_nth).asking("N or N,K"),
    edit(Group::Cursors, ["rotate-forward", "pass on →", "Passes the selected texts on to the next cursor."], &["swap texts", "exchange selections", "rotate"], |scene, _| texts::rotate(scene, Forward)).deck(&["}"]),
    edit(Group::Cursors, ["rotate-back", "pass on ←", "Passes the selected texts on to the previous cursor."], &["swap texts back", "exchange selections", "rotate back"], |scene, _| texts::rotate(scene, Back)).deck(&["{"]),
    edit(Group::Cursors, ["align", "align", "Brings the cursors into one column by spaces before them."], &["line up", "pad columns", "tabulate"], |scene, _| texts::align(scene)).deck(&["="]),
    edit(Group::Cursors, ["number", "number", "Replaces each selection with a running number."], &["count up", "enumerate", "running numbers"], texts::number).taking("start,step,width"),
    edit(Group::Lines, ["open-above", "open ↑", "Opens an empty line above, at the right depth, and begins to write."], &["new line above", "insert line before", "start line over"], |scene, _| lines::open(scene, Back)).deck(&["q"]),
    edit(Group::Lines, ["open-below", "open ↓", "Opens an empty line below, at the right depth, and begins to write."], &["new line below", "insert line after", "start line under"], |scene, _| lines::open(scene, Forward)).deck(&["a"]),
    edit(Group::Lines, ["blank-above", "blank ↑", "Puts an empty line above; the cursors stay."], &["empty line above", "space before", "gap above"], |scene, _| lines::blank(scene, Back)).deck(&["Q"]),
    edit(Group::Lines, ["blank-below", "blank ↓", "Puts an empty line below; the cursors stay."], &["empty line below", "space after", "gap below"], |scene, _| lines::blank(scene, Forward)).deck(&["A"]),
    edit(Group::Lines, ["carry-up", "carry ↑", "Carries the touched lines up by one."], &["move line up", "swap lines", "push line up"], |scene, _| lines::carry(scene, Back)).deck(&["w"]).both(&["alt+up"]),
    edit(Group::Lines, ["carry-down", "carry ↓", "Carries the touched lines down by one."], &["move line down", "swap lines", "push line down"], |scene, _| lines::carry(scene, Forward)).deck(&["s"]).both(&["alt+down"]),
    edit(Group::Lines, ["carry-statement-up", "carry stmt ↑", "Carries the statement, item or element up past the one before it, within its block."], &["move function up", "swap arguments", "move element left"], |scene, _| statements::carry_statement(scene, Back)).deck(&["W"]),
    edit(Group::Lines, ["carry-statement-down", "carry stmt ↓", "Carries the statement, item or element down past the one behind it, within its block."], &["move function down", "swap arguments", "move element right"], |scene, _| statements::carry_statement(scene, Forward)).deck(&["S"]),
    edit(Group::Lines, ["duplicate-up", "dupl. ↑", "Duplicates the touched lines; the cursors are on the upper copy."], &["copy line up", "repeat line above", "clone line"], |scene, _| lines::duplicate(scene, Back)).deck(&["e"]),
    edit(Group::Lines, ["duplicate-down", "dupl. ↓", "Duplicates the touched lines; the cursors are on the lower copy."], &["copy line down", "repeat line below", "clone line"], |scene, _| lines::duplicate(scene, Forward)).deck(&["d"]),
    edit(Group::Lines, ["duplicate-text-before", "dupl. text ←", "Duplicates the selected text before itself."], &["copy selection before", "repeat text", "clone selection"], |scene, _| lines::duplicate_text(scene, Back)).deck(&["E"]),
    edit(Group::Lines, ["duplicate-text-after", "dupl. text →", "Duplicates the selected text after itself."], &["copy selection after", "repeat text", "clone selection"], |scene, _| lines::duplicate_text(scene, Forward)).deck(&["D"]),
    edit(Group::Lines, ["delete-lines", "delete", "Deletes the touched lines."], &["remove row", "remove line", "kill line"], |scene, _| lines::delete(scene)).deck(&["x"]),
    edit(Group::Lines, ["cut-lines", "cut lines", "Cuts the touched lines to the clipboard."], &["cut row", "take line away", "move line elsewhere"], |scene, _| clipboard::cut_lines(scene)).deck(&["X"]),
    edit(Group::Lines, ["join-lines", "join", "Joins the touched lines into one, or the line with the next."], &["merge lines", "one line", "pull line up"], |scene, _| join::join(scene, Between::Space)).deck(&["m"]),
    edit(Group::Lines, ["join-tight", "join tight", "Joins lines with nothing in between."], &["merge without space", "glue lines", "concatenate lines"], |scene, _| join::join(scene, Between::Nothing)).deck(&["M"]),
    edit(Group::Lines, ["split-line", "split", "Splits the line at each caret, which stays before the line end."], &["break line", "cut line in two", "new line here"], |scene, _| breaks::split_line(scene)).deck(&["z"]),
    edit(Group::Lines, ["indent", "indent", "Indents the touched lines by one unit."], &["shift right", "deeper", "move in"], |scene, _| indent::indent(scene)).deck(&[">", "tab"]),
    edit(Group::Lines, ["outdent", "outdent", "Takes one unit of indentation off the touched lines."], &["shift left", "shallower", "unindent"], |scene, _| indent::outdent(scene)).deck(&["<"]).both(&["shift+tab"]),
    edit(Group::Lines, ["reindent", "reindent", "Puts the depth of the touched lines right."], &["fix indentation", "correct depth", "tidy up indentation"], |scene, _| reindent::reindent(scene)),
    edit(Group::Lines, ["sort-lines", "sort", "Sorts the touched lines by natural order."], &["order lines", "alphabetical", "arrange"], order::sort).taking("desc, case, by /pattern/"),
    edit(Group::Lines, ["unique-lines", "unique", "Drops touched lines that stand there already."], &["remove duplicates", "same lines once", "dedupe"], |scene, _| order::unique(scene)),
    edit(Group::Lines, ["reverse-lines", "reverse", "Turns the touched lines round."], &["upside down", "turn lines around", "backward order"], |scene, _| order::reverse(scene)),
    edit(Group::Lines, ["trim-trailing", "trim", "Takes the white space off the ends of the touched lines, of all lines with one caret."], &["strip spaces", "trailing blanks", "clean line ends"], |scene, _| order::trim_trailing(scene)),
    edit(Group::Comments, ["comment-toggle", "comment", "Switches the touched lines off as comments, or on again."], &["comment out", "switch off code", "uncomment"], |scene, _| comments::lines(scene, Wish::Toggle)).deck(&["c"]).both(&["ctrl+7", "ctrl+/"]),
    edit(Group::Comments, ["comment-on", "com. on", "Makes comments of the touched lines that are none."], &["comment lines", "switch off", "disable code"], |scene, _| comments::lines(scene, Wish::On)),
    edit(Group::Comments, ["comment-off", "com. off", "Takes the comment marks off the touched lines that have them."], &["uncomment lines", "switch on", "enable code"], |scene, _| comments::lines(scene, Wish::Off)),
    edit(Group::Comments, ["comment-flip", "flip", "Turns each touched line over by itself: comments to code, code to comments."], &["swap variants", "invert comments", "other alternative"], |scene, _| comments::lines(scene, Wish::Flip)).deck(&["#"]),
    edit(Group::Comments, ["block-comment-toggle", "block com.", "Wraps the selection or the line in a block comment, or takes the comment around off."], &["comment part of a line", "switch off a part", "unwrap comment"], |scene, _| comments::block::blocks(scene, BlockWish::Toggle)).deck(&["C"]),
    edit(Group::Comments, ["block-comment-on", "block on", "Wraps the selection or the line in a block comment, one more if it is one."], &["nest comment", "wrap in comment", "comment deeper"], |scene, _| comments::block::blocks(scene, BlockWish::On)),
    edit(Group::Comments, ["block-comment-off", "block off", "Takes the block comment around off."], &["unwrap comment", "remove block comment", "uncomment block"], |scene, _| comments::block::blocks(scene, BlockWish::Off)),
    edit(Group::Comments, ["reflow", "reflow", "Lays the words of a comment, or of prose, out anew in the text's width."], &["wrap comment", "fill paragraph", "line length"], |scene, _| comments::reflow::reflow(scene)),
    edit(Group::Text, ["type-text", "type", "Types the text at every cursor."], &["insert text", "write", "put characters"], typing::type_text).taking("text"),
    edit(Group::Text, ["line-break", "line end", "Breaks the line at every cursor and keeps the indentation."], &["enter", "new line", "return"], |scene, _| breaks::line_break(scene)).write(&["enter"]),
    edit(Group::Text, ["tab-stop", "tab", "Goes to the next indentation stop, or indents a selection over lines."], &["tab", "insert tab", "fill with spaces"], |scene, _| typing::tab_stop(scene)).write(&["tab"]),
    edit(Group::Text, ["delete-back", "erase ←", "Deletes the selected text, or the character before each caret."], &["backspace", "erase", "remove character before"], |scene, _| typing::delete(scene, Back)).write(&["backspace"]),
    edit(Group::Text, ["delete-forward", "erase →", "Deletes the selected text, or the character behind each caret."], &["delete key", "erase forward", "remove character behind"], |scene, _| typing::delete(scene, Forward)).write(&["delete"]),
    edit(Group::Text, ["delete-selected", "erase sel", "Deletes the selected text."], &["remove selection", "erase selected", "clear selection"], |scene, _| typing::delete_selected(scene)).deck(&["backspace", "delete"]),
    edit(Group::Text, ["surround", "surround", "Puts a pair round the selections or the words at the carets, or takes it off."], &["wrap in brackets", "put quotes around", "parenthesise"], surround::surround).deck(&["'"]).asking("a character"),
    edit(Group::Text, ["surround-off", "surr. off", "Takes the pair round the selections off."], &["remove brackets", "remove quotes", "unwrap"], |scene, _| surround::surround_off(scene)),
    edit(Group::Text, ["case-cycle", "case", "Changes the case: upper, lower, then as it was."], &["toggle case", "swap case", "upper lower"], |scene, _| case::cycle(scene)).deck(&["~"]),
    edit(Group::Text, ["upper-case", "UPPER", "Makes the selections, or the words at the carets, upper case."], &["capitals", "uppercase", "shout"], |scene, _| case::reshape(scene, Shape::Upper)),
    edit(Group::Text, ["lower-case", "lower", "Makes the selections, or the words at the carets, lower case."], &["small letters", "lowercase", "uncapitalise"], |scene, _| case::reshape(scene, Shape::Lower)),
    edit(Group::Text, ["title-case", "Title", "Begins every word with an upper-case letter."], &["capitalise words", "headline", "first letters"], |scene, _| case::reshape(scene, Shape::Title)),
    edit(Group::Text, ["snake-case", "snake_case", "Writes names as snake_case."], &["underscores", "join words with underscore", "rename style"], |scene, _| case::reshape(scene, Shape::Snake)),
    edit(Group::Text, ["camel-case", "camelCase", "Writes names as camelCase."], &["humps", "lower camel", "rename style"], |scene, _| case::reshape(scene, Shape::Camel)),
    edit(Group::Text, ["pascal-case", "PascalCase", "Writes names as PascalCase."], &["upper camel", "type name style", "rename style"], |scene, _| case::reshape(scene, Shape::Pascal)),
    edit(Group::Text, ["kebab-case", "kebab-case", "Writes names as kebab-case."], &["dashes", "hyphens", "rename style"], |scene, _| case::reshape(scene, Shape::Kebab)),
    edit(Group::Text, ["upper-snake-case", "UPPER_SNAKE", "Writes names as UPPER_SNAKE_CASE."], &["constant style", "capitals with underscores", "rename style"], |scene, _| case::reshape(scene, Shape::UpperSnake)),
    edit(Group::Clipboard, ["copy", "copy", "Copies the selected texts, or the lines where nothing is selected."], &["copy text", "to clipboard", "remember text"], |scene, _| clipboard::copy(scene)).both(&["ctrl+c"]),
    edit(Group::Clipboard, ["cut", "cut", "Cuts the selected texts, or the lines where nothing is selected."], &["cut text", "move to clipboard", "take away"], |scene, _| clipboard::cut(scene)).both(&["ctrl+x"]),
    edit(Group::Clipboard, ["paste", "paste", "Pastes what was copied, at the depth of the place."], &["insert clipboard", "put back", "paste text"], |scene, _| clipboard::paste(scene, scene.clip, Depth::OfPlace)).both(&["ctrl+v"]),
    edit(Group::Clipboard, ["paste-as-is", "paste raw", "Pastes what was copied without changing its indentation or line ends."], &["paste unchanged", "paste raw", "paste exactly"], |scene, _| clipboard::paste(scene, scene.clip, Depth::AsItIs)),
    ask(Request::Shelf, Group::Clipboard, ["shelf", "clip shelf", "Shows what was copied of late, to paste it or a part of it."], &["clipboard history", "old copies", "paste something older"]).both(&["ctrl+p"]),
    row(Run::Undo, Group::History, ["undo", "undo", "Takes the last step back, text and cursors."], &["take back", "revert", "mistake"]).both(&["ctrl+z"]),
    row(Run::Redo, Group::History, ["redo", "redo", "Makes the step again that was taken back."], &["again", "repeat undone", "forward in history"]).both(&["ctrl+y"]),
    row(Run::CursorsUndo, Group::History, ["cursors-undo", "cursors back", "Goes back to the cursors and places that stood before, the text as it is."], &["where was I", "previous cursors", "undo selection"]).both(&["ctrl+u"]),
    ask(Request::Trail, Group::History, ["trail", "trail", "Shows every step of the history with its branches, and the text as it was."], &["undo history", "earlier version", "history tree"]).both(&["ctrl+t"]),
    ask(Request::Save, Group::Files, ["save", "save", "Writes the file."], &["write file", "store", "keep changes"]).both(&["ctrl+s"]),
    ask(Request::SaveAll, Group::Files, ["save-all", "save all", "Writes every changed file."], &["write all files", "store everything", "keep all changes"]),
    ask(Request::SaveAs, Group::Files, ["save-as", "save as", "Writes the text under another name."], &["write copy", "rename file", "save under another name"]),
    ask(Request::ToUtf8, Group::Files, ["to-utf-8", "to UTF-8", "Writes the file as UTF-8 at the next save, whatever encoding it has."], &["change encoding", "convert charset", "unicode file"]),
    ask(Request::Open, Group::Files, ["open", "open", "Opens a file by a few letters of its name."], &["load file", "find file", "go to file"]).both(&["ctrl+o"]),
    ask(Request::New, Group::Files, ["new", "new", "Begins an empty file."], &["create file", "blank file", "start file"]).both(&["ctrl+n"]),
    ask(Request::Close, Group::Files, ["close", "close", "Closes the file."], &["close file", "put away", "done with file"]).both(&["ctrl+w"]),
    ask(Request::Quit, Group::Files, ["quit", "quit", "Ends Snarvel."], &["exit", "leave", "end"]).both(&["ctrl+q"]),
    ask(Request::Turn(1), Group::Files, ["next-file", "next file", "Shows the next open file."], &["following file", "switch file", "other file"]).both(&["ctrl+pgdn"]),
    ask(Request::Turn(-1), Group::Files, ["previous-file", "prev. file", "Shows the previous open file."], &["file before", "switch file back", "last file"]).both(&["ctrl+pgup"]),
    edit(Group::Files, ["fold", "fold", "Puts what begins here, or is around, away under its first line; again: the next outer one."], &["collapse", "hide lines", "put away"], |scene, _| folding::fold(scene)).deck(&["("]),
    edit(Group::Files, ["unfold", "unfold", "Opens what is folded under the touched lines."], &["expand", "show hidden lines", "open fold"], |scene, _| folding::unfold(scene)).deck(&[")"]),
    edit(Group::Files, ["fold-all", "fold all", "Folds every function, type and section, or opens all of them."], &["collapse everything", "overview", "expand everything"], |scene, _| folding::fold_all(scene)).deck(&["*"]),
    ask(Request::Sift, Group::Files, ["sift", "sift", "Finds text while it is typed, shows every hit, replaces what is wanted; in the selections, the file or the project."], &["find and replace", "search text", "substitute everywhere"]).both(&["ctrl+f"]),
    ask(Request::Lookup, Group::Files, ["lookup", "lookup", "Finds a verb by everyday words or by its key, shows what it does, runs it, binds it to a key."], &["command list", "what can I do", "help with keys"]).both(&["ctrl+l"]),
    ask(Request::Folder, Group::Files, ["files", "files", "Shows the folder as a tree: open, create, rename, delete files."], &["folder tree", "file browser", "project files"]).both(&["f8"]),
    ask(Request::FullView, Group::Files, ["full-view", "full view", "Shows nothing but the text and the footline, or everything again."], &["hide everything", "distraction free", "all text"]).both(&["f9"]),
    ask(Request::KeySheet, Group::Files, ["key-sheet", "key sheet", "Draws the keyboard with its verbs as an SVG or PDF file."], &["print keys", "cheat sheet", "picture of the keyboard"]),
    ask(Request::Outline, Group::Files, ["outline", "outline", "Shows the functions, types and sections of the text, to go to one."], &["list of functions", "symbols", "table of contents"]).both(&["ctrl+e"]),
    ask(Request::Roster, Group::Files, ["roster", "roster", "Goes into the list of all cursors, to drop, keep or show them."], &["list of cursors", "all cursors", "cursors off screen"]).deck(&["`"]),
    ask(Request::Deck, Group::Files, ["deck", "deck", "Shows the deck full, small or not at all."], &["show keys", "hide keys", "keyboard help"]).both(&["f1"]),
    ask(Request::ChangeLayer, Group::Files, ["change-layer", "layer", "Goes from Write to Shape and back."], &["switch mode", "shape", "write"]).both(&["ctrl+space", "ctrl+]", "ctrl+5"]),
    ask(Request::StepBack, Group::Files, ["step-back", "step back", "Steps back one thing: a question, many cursors, the selection, Shape."], &["escape", "cancel", "leave"]).both(&["esc"]),
];
