//! Rules of pins, columns, filters and of handing texts on, one row each.

use crate::support::{Bench, check};

#[test]
fn columns_and_splitting() {
    check(
        "text",
        &[
            (
                "extended_past_a_short_line",
                "ab[cd⏎x⏎abcd|]e",
                "column(ragged) extend-char-right",
                "ab[cd|]⏎x|⏎ab[cde|]",
            ),
            (
                "extended_as_a_column",
                "a|bcd⏎x⏎abcd",
                "cursor-below cursor-below extend-char-right extend-char-right",
                "a[bc|]d⏎x[⏎a|][bc|]d",
            ),
            (
                "and_back_again",
                "a|bcd⏎x⏎abcd",
                "cursor-below cursor-below extend-char-right extend-char-right extend-char-left",
                "a[b|]cd⏎x[⏎|]a[b|]cd",
            ),
            ("past_its_start", "ab|cd⏎abcd", "cursor-below extend-char-left", "a[|b]cd⏎a[|b]cd"),
            ("through_a_tab", "|abcdef⏎→x", "cursor-below extend-char-right", "[a|]bcdef⏎[→|]x"),
            ("by_words", "|ab cd⏎abcde", "cursor-below extend-word-forward", "[ab|] cd⏎[abcde|]"),
            (
                "past_the_end_of_the_primary",
                "a|bcd⏎ab",
                "cursor-below extend-char-right extend-char-right extend-char-right",
                "a[bcd|]⏎a[b|]",
            ),
            ("box_between_the_corners", "a[bc⏎def⏎gh|]i", "column", "a[b|]c⏎d[e|]f⏎g[h|]i"),
            ("lines_that_end_before_get_none", "ab[c⏎d⏎efg|]h", "column", "ab[c|]⏎d⏎ef[g|]h"),
            ("ragged_gives_them_a_caret", "ab[c⏎d⏎efg|]h", "column(ragged)", "ab[c|]⏎d|⏎ef[g|]h"),
            ("a_line_that_ends_at_the_left_edge", "ab[c⏎de⏎fgh|]", "column", "ab[c|]⏎de|⏎fg[h|]"),
            ("no_width", "a[b⏎c|]d", "column", "a|b⏎c|d"),
            ("a_tab_belongs_by_its_first_cell", "[abc⏎→d⏎ef|]g", "column", "[ab|]c⏎[→|]d⏎[ef|]g"),
            ("split_at", "[a, b, c|]", "split-at(/, /)", "[a|], [b|], [c|]"),
            ("split_drops_empty_pieces", "[,a,,b|]", "split-at(,)", ",[a|],,[b|]"),
            ("split_with_nothing_left_stays", "[,,|]", "split-at(,)", "[,,|]"),
        ],
    );
}

#[test]
fn thinning() {
    check(
        "rust",
        &[
            ("keep_by_text", "[a1|] [b|] [a2|]", "filter-keep(/a/)", "[a1|] b [a2|]"),
            ("drop_by_text", "[a1|] [b|] [a2|]", "filter-drop(a)", "a1 [b|] a2"),
            ("carets_by_their_line", "a|⏎b|", "filter-keep(a)", "a|⏎b"),
            ("by_syntax", "[a|] \"[a|]\" // [a|]", "filter-keep(code)", "[a|] \"a\" // a"),
            ("by_strings", "[a|] \"[a|]\" // [a|]", "filter-keep(string)", "a \"[a|]\" // a"),
            ("nothing_left_stays", "a|", "filter-keep(z)", "a|"),
            ("every_second", "[a|] [b|] [c|] [d|]", "every-nth(2)", "[a|] b [c|] d"),
            ("every_second_from_the_second", "[a|] [b|] [c|] [d|]", "every-nth(2,2)", "a [b|] c [d|]"),
        ],
    );
    let says = |call: &str, wanted: &str| {
        let mut bench = Bench::new("rust", "[a|] [b|]");
        bench.run(call);
        assert!(bench.message.contains(wanted), "{call}: {}", bench.message);
    };
    says("filter-keep(()", "the pattern (");
    says("every-nth(0)", "N is a number from 1");
    says("split-at(//)", "a pattern is needed");
}

#[test]
fn pins() {
    check(
        "text",
        &[
            ("pins_become_the_cursors", "a| b c", "pin word-forward pin pins-take", "a| b| c"),
            ("again_unpins", "a| b", "pin pin word-forward pins-take", "a b|"),
            ("add", "a| b", "pin word-forward pins-add", "a| b|"),
            ("subtract", "[a|] [b|]", "pin keep-primary pins-add pins-subtract", "[a|] [b|]"),
            ("common", "[a b|] c", "pin select-all pins-add keep-primary", "[a b c|]"),
            ("they_move_with_edits", "ab|", "pin line-start type-text(x) pins-take", "xab|"),
            (
                "typed_at_an_edge_stays_outside",
                "[ab|]",
                "pin line-end type-text(x) line-start type-text(y) pins-take",
                "y[ab|]x",
            ),
        ],
    );
    check(
        "text",
        &[
            ("only_covered_ones_stay", "[a a|] a", "pin select-all char-left take-all pins-common", "[a|] [a|] a"),
            ("covered_ones_go", "[a a|] a", "pin select-all char-left take-all pins-subtract", "a a [a|]"),
        ],
    );
}

#[test]
fn texts_as_a_row() {
    check(
        "text",
        &[
            ("rotate", "[a|] [b|] [c|]", "rotate-forward", "[c|] [a|] [b|]"),
            ("rotate_back", "[a|] [bb|] [c|]", "rotate-back", "[bb|] [c|] [a|]"),
            ("number", "[x|] [x|] [x|]", "number", "[1|] [2|] [3|]"),
            ("number_from_by_width", "x| x|", "number(8,2,3)", "x[008|] x[010|]"),
            ("letters_after_z", "[x|] [x|]", "number(z)", "[z|] [aa|]"),
            ("upper_letters", "[x|] [x|]", "number(A)", "[A|] [B|]"),
            ("hex", "[x|] [x|]", "number(0x0f)", "[0x0f|] [0x10|]"),
            ("padded", "[x|] [x|]", "number(009)", "[009|] [010|]"),
            ("align", "a |= 1⏎bcd |= 2", "align", "a   |= 1⏎bcd |= 2"),
            ("align_second_ones_too", "a |b |c⏎dd |e |f", "align", "a  |b |c⏎dd |e |f"),
        ],
    );
}

#[test]
fn back_through_earlier_cursors() {
    check(
        "text",
        &[
            ("an_addition", "a|⏎b", "cursor-below cursors-undo", "a|⏎b"),
            ("moves_in_a_row_are_one", "a|bc", "char-right char-right cursors-undo", "a|bc"),
            ("a_selection", "ab| cd", "select-word word-forward cursors-undo", "[ab|] cd"),
            ("twice", "ab| cd", "select-word word-forward cursors-undo cursors-undo", "ab| cd"),
            ("through_an_edit", "ab| cd", "select-word line-start type-text(x) cursors-undo", "x[ab|] cd"),
            ("the_primary_comes_back", "a|⏎b⏎c", "cursor-below cursor-below keep-primary cursors-undo", "a|⏎b|⏎c|"),
            ("nothing_before", "a|", "cursors-undo", "|a"),
        ],
    );
    let mut bench = Bench::new("text", "a|");
    bench.run("cursors-undo").run("cursors-undo");
    assert_eq!(bench.message, "no cursors stood before");
}
