//! Rules of moves, selections and the cursor set, one row each.

use crate::support::{Bench, check};

#[test]
fn moves() {
    check(
        "rust",
        &[
            ("char_left_goes_to_the_edge", "a[bc|]d", "char-left", "a|bcd"),
            ("char_right_goes_to_the_edge", "a[|bc]d", "char-right", "abc|d"),
            ("other_moves_start_at_the_head", "ab [cd|] ef", "word-back", "ab |cd ef"),
            ("crlf_is_one", "a|↵b", "char-right", "a↵|b"),
            ("line_start_toggles", "  ab|", "line-start", "  |ab"),
            ("line_start_twice", "  ab|", "line-start line-start", "|  ab"),
            ("line_start_three_times", "  ab|", "line-start line-start line-start", "  |ab"),
            ("wanted_column", "abcd|⏎x⏎abcd", "line-down line-down", "abcd⏎x⏎abcd|"),
            ("line_end_gives_the_column", "ab|⏎x⏎abcd", "line-end line-down line-down", "ab⏎x⏎ab|cd"),
            ("first_line_stays", "ab|c", "line-up", "ab|c"),
            ("wanted_survives_the_edge", "a⏎bcd|", "line-up line-up line-down", "a⏎bcd|"),
            ("before_a_tab", "  |x⏎→y", "line-down", "  x⏎|→y"),
            ("before_a_wide_cell", "a|x⏎漢", "line-down", "ax⏎|漢"),
            ("file_edges", "ab⏎c|d", "file-start", "|ab⏎cd"),
            ("extend", "a|bc", "extend-char-right extend-char-right", "a[bc|]"),
            ("extend_down_keeps_the_column", "abc|⏎x⏎abcd", "extend-line-down extend-line-down", "abc[⏎x⏎abc|]d"),
            ("extend_back", "ab cd|", "extend-word-back", "ab [|cd]"),
            ("carets_that_meet_are_one", "|a|b", "line-start", "|ab"),
        ],
    );
}

#[test]
fn selecting() {
    check(
        "rust",
        &[
            ("word", "let lev|el = 1", "select-word", "let [level|] = 1"),
            ("word_that_ends_here_wins", "ab| cd", "select-word", "[ab|] cd"),
            ("on_a_space_the_next", "ab  |  cd", "select-word", "ab    [cd|]"),
            ("line_with_its_end", "a|b⏎cd⏎", "select-line", "[ab⏎|]cd⏎"),
            ("again_the_next", "a|b⏎cd⏎ef", "select-line select-line", "[ab⏎cd⏎|]ef"),
            ("completes_both_ends_first", "a[b⏎c|]d⏎ef", "select-line", "[ab⏎cd⏎|]ef"),
            ("all", "a|b⏎c", "select-all", "[ab⏎c|]"),
            ("per_line", "a[b⏎⏎cd|]e", "per-line", "a[b|]⏎|⏎[cd|]e"),
            ("per_line_leaves_ends_out", "[ab⏎cd⏎|]", "per-line", "[ab|]⏎[cd|]⏎"),
            ("per_line_from_a_line_end", "ab[⏎cd|]", "per-line", "ab⏎[cd|]"),
        ],
    );
}

#[test]
fn cursors_above_and_below() {
    check(
        "text",
        &[
            ("same_column", "ab|c⏎def", "cursor-below", "ab|c⏎de|f"),
            ("short_line_gets_a_caret_at_its_end", "abc|⏎d⏎efg", "cursor-below cursor-below", "abc|⏎d|⏎efg|"),
            ("selection", "a[bc|]⏎def", "cursor-below", "a[bc|]⏎d[ef|]"),
            ("selection_on_a_short_line", "a[bcd|]⏎ef⏎ghij", "cursor-below cursor-below", "a[bcd|]⏎ef|⏎g[hij|]"),
            ("skip_short_lines", "abc|⏎d⏎efg", "cursor-below-skip", "abc|⏎d⏎efg|"),
            ("each_on_the_last_line", "a|b|⏎cd", "cursor-below", "a|b|⏎c|d|"),
            ("above", "abc⏎de|f", "cursor-above", "ab|c⏎de|f"),
            ("drop_newest_drops_the_addition", "a|b|⏎cd", "cursor-below drop-newest", "a|b|⏎cd"),
            ("keep_primary", "a|⏎b⏎c", "cursor-below cursor-below keep-primary", "a⏎b⏎c|"),
            ("recall", "a|⏎b⏎c", "cursor-below cursor-below keep-primary recall", "a|⏎b|⏎c|"),
            ("recall_through_an_edit", "a|⏎b", "cursor-below keep-primary type-text(x) recall", "a|⏎bx|"),
        ],
    );
}

#[test]
fn taking() {
    check(
        "rust",
        &[
            ("first_the_word", "a|b ab", "take-next", "[ab|] ab"),
            ("then_the_next", "a|b ab", "take-next take-next", "[ab|] [ab|]"),
            ("whole_words_after_a_caret", "a|b abc ab", "take-next take-next", "[ab|] abc [ab|]"),
            ("any_text_after_a_selection", "[ab|] abc", "take-next", "[ab|] [ab|]c"),
            ("case_counts", "[ab|] AB ab", "take-next", "[ab|] AB [ab|]"),
            ("round_the_file", "ab [ab|]", "take-next", "[ab|] [ab|]"),
            ("all_taken", "ab [ab|]", "take-next take-next", "[ab|] [ab|]"),
            ("backward_direction_is_kept", "[|ab] ab", "take-next", "[|ab] [|ab]"),
            ("previous", "ab ab [ab|]", "take-previous", "ab [ab|] [ab|]"),
            ("matches_do_not_overlap", "[aa|]aaa", "take-next take-next", "[aa|][aa|]a"),
            ("skip", "a|b ab ab", "take-next skip-next", "ab [ab|] ab"),
            ("skip_then_take", "a|b ab ab", "take-next skip-next take-next", "ab [ab|] [ab|]"),
            ("all_at_a_caret", "x a|b ab abc ab", "take-all", "x [ab|] [ab|] abc [ab|]"),
            ("several_carets_take_their_words", "a|b c|d", "take-next", "[ab|] [cd|]"),
            ("drop_newest", "a|b ab ab", "take-next take-next take-next drop-newest", "[ab|] [ab|] ab"),
            ("type_over_all", "a|b ab", "take-all type-text(x)", "x| x|"),
        ],
    );
    let mut bench = Bench::new("text", "x a|b ab");
    bench.run("take-all");
    assert_eq!(bench.editor.cursors().primary_index(), 0, "the primary stays where it is");
    bench.run("take-next");
    assert_eq!(bench.message, "every match is taken");
}

#[test]
fn outer_blocks() {
    check(
        "rust",
        &[
            (
                "braces_are_not_cut_at_a_blank_line",
                "a {⏎    b {⏎        c|⏎⏎        d⏎    }⏎}⏎x⏎",
                "select-outer-block",
                "a {⏎[    b {⏎        c⏎⏎        d⏎    }⏎|]}⏎x⏎",
            ),
            (
                "then_what_encloses_it",
                "a {⏎⏎    b {⏎        c|⏎    }⏎⏎    d⏎}⏎⏎x⏎",
                "select-outer-block select-outer-block",
                "[a {⏎⏎    b {⏎        c⏎    }⏎⏎    d⏎}⏎|]⏎x⏎",
            ),
            ("at_last_everything", "a {⏎    b|⏎}⏎⏎x⏎", "select-outer-block select-outer-block", "[a {⏎    b⏎}⏎⏎x⏎|]"),
            ("no_final_end", "if a:⏎⏎    b|⏎⏎    c", "select-outer-block select-outer-block", "[if a:⏎⏎    b⏎⏎    c|]"),
            ("from_a_blank_line", "a⏎⏎|⏎b⏎", "select-outer-block", "[a⏎⏎⏎b⏎|]"),
        ],
    );
}
