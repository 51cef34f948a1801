//! Counts that are numbers of lines, clips of whole lines, and verbs that change nothing: one row for each rule.

use crate::support::{Bench, act, check};

#[test]
fn a_count_is_a_number_of_lines_where_again_would_be_in_vain() {
    check(
        "rust",
        &[
            ("comment", "|a⏎b⏎c⏎d⏎", "3*comment-toggle", "// |a⏎// b⏎// c⏎d⏎"),
            ("comment_on", "a⏎|b⏎c⏎", "2*comment-on", "a⏎// |b⏎// c⏎"),
            ("never_fewer_than_touched", "[a⏎b⏎c|]⏎d⏎", "2*comment-on", "// [a⏎// b⏎// c|]⏎d⏎"),
            ("as_far_as_there_are_lines", "a⏎|b⏎", "9*comment-on", "a⏎// |b⏎"),
            ("one_block_comment_round_them", "|a⏎b⏎c⏎d⏎", "3*block-comment-toggle", "/* |a⏎b⏎c */⏎d⏎"),
            ("and_off_again", "  |a⏎b⏎c⏎d⏎", "3*block-comment-toggle 3*block-comment-toggle", "  |a⏎b⏎c⏎d⏎"),
            ("cut_as_one_clip", "|a⏎b⏎c⏎d⏎", "3*cut paste", "a⏎b⏎c⏎|d⏎"),
            ("cut_lines", "|a⏎b⏎c⏎d⏎", "2*cut-lines file-end paste", "c⏎d⏎a⏎b⏎|"),
            ("copy", "|a⏎b⏎c⏎", "2*copy line-down line-down paste", "a⏎b⏎a⏎b⏎|c⏎"),
            ("select_line", "|a⏎b⏎c⏎", "2*select-line", "[a⏎b⏎|]c⏎"),
            ("each_run_from_its_first_line", "|a⏎b⏎c⏎d⏎|e⏎f⏎", "2*comment-on", "// |a⏎// b⏎c⏎d⏎// |e⏎// f⏎"),
            ("runs_that_meet", "|a⏎b⏎|c⏎d⏎e⏎", "2*cut paste", "a⏎b⏎c⏎d⏎|e⏎"),
            ("what_is_selected_is_what_goes", "[a⏎|]b⏎c⏎", "2*cut", "|b⏎c⏎"),
            ("carry_repeats", "|a⏎b⏎c⏎", "2*carry-down", "b⏎c⏎|a⏎"),
            ("delete_repeats", "|a⏎b⏎c⏎", "2*delete-lines", "|c⏎"),
            ("paste_repeats", "|a⏎b⏎", "copy 2*paste", "a⏎a⏎|a⏎b⏎"),
            ("flip", "|// a⏎b⏎c⏎", "2*comment-flip", "|a⏎// b⏎c⏎"),
        ],
    );
    check("python", &[("reindent", "if a:⏎|b⏎c⏎", "2*reindent", "if a:⏎|b⏎c⏎")]);
    check("lua", &[("three_lines", "|a()⏎b()⏎c()⏎", "3*comment-toggle", "-- |a()⏎-- b()⏎-- c()⏎")]);
    check("html", &[("one_comment_round_two", "|<a>⏎<b>⏎<c>⏎", "2*block-comment-toggle", "<!-- |<a>⏎<b> -->⏎<c>⏎")]);
}

#[test]
fn whole_lines_that_were_selected_are_lines() {
    check(
        "rust",
        &[
            ("above_the_caret_wherever_it_is", "[a⏎|]bc⏎", "copy char-right paste", "a⏎a⏎|bc⏎"),
            ("at_the_depth_of_the_place", "[a⏎b⏎|]{⏎    c⏎}⏎", "copy line-down paste", "a⏎b⏎{⏎    a⏎    b⏎|    c⏎}⏎"),
            ("deeper_above_a_closer", "[a⏎|]{⏎}⏎", "copy line-down paste", "a⏎{⏎    a⏎|}⏎"),
            ("over_whole_lines", "[a⏎|]b⏎c⏎", "copy line-down select-line paste", "a⏎b⏎a⏎|"),
            ("over_the_unterminated_last_line", "[a⏎|]b", "copy file-end select-line paste", "a⏎a|"),
            ("the_last_line_over_another", "a⏎[b|]", "copy file-start select-line paste", "b⏎|b"),
            ("no_line_is_glued", "a⏎[b|]", "copy file-start paste", "b⏎|a⏎b"),
            ("cut_of_the_last_line", "a⏎[b|]", "cut", "a|"),
            ("on_white_space_only", "[a⏎|]    ⏎b⏎", "copy char-right paste", "a⏎    a|⏎b⏎"),
            ("not_on_an_empty_line", "[a⏎|]⏎b⏎", "copy char-right paste", "a⏎a⏎|⏎b⏎"),
            ("several_of_them_one_each", "[a⏎|]b⏎[c⏎|]d⏎", "copy paste", "a⏎|b⏎c⏎|d⏎"),
            (
                "as_deep_as_the_first_replaced",
                "[a⏎|]{⏎    b⏎    c⏎}⏎",
                "copy line-down select-line paste",
                "a⏎{⏎    a⏎|    c⏎}⏎",
            ),
            ("crlf", "[a↵|]b↵", "copy char-right paste", "a↵a↵|b↵"),
            ("parts_of_lines_stay_parts", "[a⏎b|]c⏎", "copy line-end paste", "a⏎bca⏎b|⏎"),
            ("a_part_from_the_middle_on", "a[b⏎|]c⏎", "copy line-end paste", "ab⏎cb⏎|⏎"),
        ],
    );
    let mut bench = Bench::new("rust", "[a⏎b⏎|]c");
    assert_eq!(bench.run("copy").message, "copied 2 lines");
    assert_eq!(bench.run("3*cut").message, "cut 2 lines");
}

#[test]
fn lines_that_are_pasted_in_the_terminal() {
    check(
        "rust",
        &[
            ("at_the_first_column", "{⏎|    b⏎}⏎", "terminal(a⏎)", "{⏎    a⏎|    b⏎}⏎"),
            ("in_the_white_space", "{⏎  |  b⏎}⏎", "terminal(a⏎)", "{⏎    a⏎  |  b⏎}⏎"),
            ("at_its_end", "{⏎    |b⏎}⏎", "terminal(a⏎  c⏎)", "{⏎    a⏎      c⏎    |b⏎}⏎"),
            ("in_code_it_is_text", "ab|c⏎", "terminal(x⏎)", "abx⏎|c⏎"),
            ("without_a_line_end_it_is_text", "{⏎    |b⏎}⏎", "terminal(a)", "{⏎    a|b⏎}⏎"),
            ("on_white_space_only", "{⏎    |⏎}⏎", "terminal(a⏎)", "{⏎    a|⏎}⏎"),
        ],
    );
}

#[test]
fn what_changes_nothing_is_no_step() {
    let steps = |language: &str, before: &str, verb: &str| {
        let mut bench = Bench::new(language, before);
        bench.run(verb);
        (bench.editor.history().can_undo(), bench.shown())
    };
    for (language, before, verb, after) in [
        ("rust", "|a⏎a⏎", "carry-down", "a⏎|a⏎"),
        ("rust", "a⏎|a⏎", "carry-up", "|a⏎a⏎"),
        ("rust", "[a⏎b|]⏎", "sort-lines", "[a⏎b|]⏎"),
        ("rust", "[AB|]", "upper-case", "[AB|]"),
        ("rust", "|a⏎b⏎", "reindent", "|a⏎b⏎"),
        ("rust", "[a|] [a|]", "rotate-forward", "[a|] [a|]"),
    ] {
        assert_eq!(steps(language, before, verb), (false, after.to_owned()), "{verb} on {before}");
    }
    // Typing the same over it is one.
    assert_eq!(steps("rust", "[a|]", "type-text(a)"), (true, "a|".to_owned()));
    assert_eq!(act("rust", "|a⏎b⏎", "carry-down"), "b⏎|a⏎");
}
