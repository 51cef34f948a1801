//! Rules of the comment verbs, one row each.

mod support;
use proptest::prelude::*;
use support::{Bench, act, check};

#[test]
fn line_marks() {
    check(
        "rust",
        &[
            ("on", "a|b", "comment-toggle", "// a|b"),
            ("off", "// a|b", "comment-toggle", "a|b"),
            ("off_without_a_space", "//a|b", "comment-toggle", "a|b"),
            ("caret_in_column_0_stays_with_its_character", "|ab", "comment-toggle", "// |ab"),
            ("marks_in_one_column", "[  a⏎    b|]", "comment-toggle", "[  // a⏎  //   b|]"),
            ("blank_lines_do_not_count", "[a⏎⏎b|]", "comment-toggle", "// [a⏎⏎// b|]"),
            ("mixed_is_put_on_everywhere", "[// a⏎b|]", "comment-toggle", "// [// a⏎// b|]"),
            ("one_lacks_the_space", "[//a⏎// b|]", "comment-toggle", "[a⏎ b|]"),
            ("mark_alone_ends_there", "[//⏎// b|]", "comment-toggle", "[⏎b|]"),
            ("doc_comments_are_comments", "/// a|", "comment-toggle", "a|"),
            ("inner_doc_comments_are_comments", "//! a|", "comment-toggle", "a|"),
            ("doc_comment_among_code_gets_the_first_mark", "[/// a⏎b|]", "comment-toggle", "// [/// a⏎// b|]"),
            ("column_inside_a_tab_goes_before_it", "[→a⏎  b|]", "comment-toggle", "// [→a⏎  // b|]"),
            ("all_blank_gets_a_mark_behind_its_white_space", "    |", "comment-toggle", "    // |"),
            ("all_blank_and_off_again", "    |", "comment-toggle comment-toggle", "    |"),
            ("all_blank_caret_goes_behind_the_mark", "|    ", "comment-toggle", "    // |"),
            ("empty_last_line_counts_as_blank", "a⏎|", "comment-toggle", "a⏎// |"),
            ("two_runs_decide_by_themselves", "// a|⏎⏎b|", "comment-toggle", "a|⏎⏎// b|"),
            ("two_carets_in_a_line_count_once", "a|b|", "comment-toggle", "// a|b|"),
            ("crlf", "[a↵b|]↵", "comment-toggle", "// [a↵// b|]↵"),
            ("selection_to_column_0", "[a⏎|]b", "comment-toggle", "// [a⏎|]b"),
            ("shebang_counts", "|#!/x", "comment-toggle", "// |#!/x"),
            ("on_leaves_comments", "[// a⏎b|]", "comment-on", "[// a⏎// b|]"),
            ("off_leaves_code", "[// a⏎b|]", "comment-off", "[a⏎b|]"),
            ("flip", "[// a⏎b|]", "comment-flip", "[a⏎// b|]"),
            (
                "flip_column_of_those_switched_on",
                "[// a⏎    b⏎        c|]",
                "comment-flip",
                "[a⏎    // b⏎    //     c|]",
            ),
        ],
    );
    check("python", &[("python", "  a|", "comment-toggle", "  # a|")]);
    check("sql", &[("sql", "a|", "comment-toggle", "-- a|")]);
    check("lua", &[("lua", "a|", "comment-toggle", "-- a|")]);
}

#[test]
fn wrapped_lines() {
    check(
        "css",
        &[
            ("wrapped", "  a: b;|", "comment-toggle", "  /* a: b;| */"),
            ("unwrapped", "  /* a: b;| */", "comment-toggle", "  a: b;|"),
            ("unspaced", "/*a|*/", "comment-toggle", "a|"),
            ("one_column", "[a⏎  b|]", "comment-toggle", "/* [a */⏎/*   b|] */"),
            ("inner_comment_is_disarmed", "a /* b */|", "comment-toggle", "/* a /* b *\\/| */"),
            ("and_restored", "/* a /* b *\\/| */", "comment-toggle", "a /* b */|"),
            ("two_comments_are_not_one", "/* a */ b /* c */|", "comment-toggle", "/* /* a *\\/ b /* c *\\/| */"),
            ("trailing_white_space_comes_back", "a  |", "comment-toggle comment-toggle", "a  |"),
            ("blank", "|", "comment-toggle", "/* | */"),
            ("blank_and_back", "|", "comment-toggle comment-toggle", "|"),
        ],
    );
    check(
        "html",
        &[
            ("markup", "<p>a|</p>", "comment-toggle", "<!-- <p>a|</p> -->"),
            ("dashes_are_disarmed", "<!-- a --> b|", "comment-toggle", "<!-- <!-\\- a -\\-> b| -->"),
            ("and_restored", "<!-- <!-\\- a -\\-> b| -->", "comment-toggle", "<!-- a --> b|"),
        ],
    );
}

#[test]
fn refusals_say_why() {
    let says = |language: &str, text: &str, verb: &str, wanted: &str| {
        let mut bench = Bench::new(language, text);
        let before = bench.text();
        bench.run(verb);
        assert_eq!(bench.text(), before, "{text}");
        assert!(bench.message.contains(wanted), "{:?} lacks {wanted:?}", bench.message);
    };
    says("json", "{|}", "comment-toggle", "jsonc");
    says("text", "a|", "comment-toggle", "no comments");
    says("python", "a = '''⏎b|⏎'''", "comment-toggle", "line 2 is inside a string");
    says("python", "a = '''|⏎b⏎'''", "comment-toggle", "line 1 is inside a string");
    says("css", "/* a⏎b|⏎*/", "comment-toggle", "line 2 is part of a comment");
    says("python", "a # b|⏎c", "join-lines", "line 1");
}

#[test]
fn a_string_cut_by_the_run_is_done_on_the_second_press() {
    check(
        "python",
        &[
            ("second_press", "a = '''⏎b|⏎'''", "comment-toggle comment-toggle", "a = '''⏎# b|⏎'''"),
            ("another_verb_between", "a = '''⏎b|⏎'''", "comment-toggle char-left comment-toggle", "a = '''⏎|b⏎'''"),
            ("whole_string_inside_is_no_obstacle", "[a = '''⏎b⏎'''|]", "comment-toggle", "# [a = '''⏎# b⏎# '''|]"),
        ],
    );
    check("shell", &[("here_document", "cat <<E⏎b|⏎E", "comment-toggle", "cat <<E⏎b|⏎E")]);
}

#[test]
fn mixed_lines_are_counted_in_the_message() {
    let mut bench = Bench::new("rust", "[// a⏎b⏎c|]");
    bench.run("comment-toggle");
    assert_eq!(bench.message, "commented 3 lines, 1 of 3 were comments already");
}

fn line() -> impl Strategy<Value = String> {
    "( |\t){0,5}(//|/\\*|\\*/|<!--|--|-->|#|a|é|漢|;| ){0,5}"
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 400, ..ProptestConfig::default() })]

    #[test]
    fn toggling_on_and_again_gives_back_the_text(
        lines in proptest::collection::vec(line(), 1..6),
        crlf: bool,
        language in proptest::sample::select(vec!["rust", "python", "c", "sql", "css", "html", "lua", "go", "shell", "toml"]),
    ) {
        let text = lines.join(if crlf { "↵" } else { "⏎" }).replace(['[', ']', '|', '*'], "x");
        let marked = format!("[{text}|]");
        let once = act(language, &marked, "comment-toggle");
        let mut bench = Bench::new(language, &marked);
        bench.run("comment-toggle");
        if bench.message.starts_with("commented") {
            bench.run("comment-toggle");
            prop_assert_eq!(bench.shown(), support::show(&support::read(&marked).0, &support::read(&marked).1), "{}", once);
        }
    }
}

#[test]
fn block_comments() {
    check(
        "c",
        &[
            ("wraps_exactly_the_selection", "x = [a + b|];", "block-comment-toggle", "x = /* [a + b|] */;"),
            ("unwraps_one_whole_comment", "x = [/* a + b */|];", "block-comment-toggle", "x = [a + b|];"),
            ("unwraps_around_a_caret", "x = /* a |+ b */;", "block-comment-toggle", "x = a |+ b;"),
            ("wraps_the_line_of_a_caret", "    a|b;", "block-comment-toggle", "    /* a|b; */"),
            ("edge_counts_as_inside", "|/* a */", "block-comment-toggle", "|a"),
            ("inner_close_is_disarmed", "[a */ b|]", "block-comment-toggle", "/* [a *\\/ b|] */"),
            ("and_restored", "/* [a *\\/ b|] */", "block-comment-toggle", "[a */ b|]"),
            ("a_mark_would_form_before", "a/[b|]", "block-comment-toggle", "a/ /* [b|] */"),
            ("and_out_again", "a/ /* [b|] */", "block-comment-toggle", "a/[b|]"),
            ("whole_lines_by_their_contents", "[  a⏎  b⏎|]c", "block-comment-toggle", "[  /* a⏎  b */⏎|]c"),
            ("over_lines_and_back", "[  a⏎  b⏎|]c", "block-comment-toggle block-comment-toggle", "[  a⏎  b⏎|]c"),
            ("lines_that_hold_only_a_mark_go", "/*⏎a|⏎*/⏎b", "block-comment-toggle", "a|⏎b"),
            ("stars_go", "/*⏎ * a|⏎ * b⏎ */⏎c", "block-comment-toggle", "a|⏎b⏎c"),
            ("stars_with_text_on_the_first_line", "/* a|⏎ * b */⏎c", "block-comment-toggle", "a|⏎b⏎c"),
            ("blank_line", "|", "block-comment-toggle", "/* | */"),
            ("two_carets_in_a_line", "a|b|", "block-comment-toggle", "/* a|b| */"),
            ("each_by_itself", "[a|] /* b| */", "block-comment-toggle", "/* [a|] */ b|"),
            ("off_leaves_code", "a|", "block-comment-off", "a|"),
        ],
    );
    check(
        "rust",
        &[
            ("nests_balanced", "[a /* b */|]", "block-comment-toggle", "/* [a /* b */|] */"),
            ("innermost_first", "/* a /* b| */ */", "block-comment-toggle", "/* a b| */"),
            ("on_gives_more_depth", "[/* a */|]", "block-comment-on", "/* [/* a */|] */"),
            ("unbalanced_open_is_disarmed", "[\"/*\"|]", "block-comment-toggle", "/* [\"/\\*\"|] */"),
        ],
    );
    check("html", &[("markup", "[<b>a--b</b>|]", "block-comment-toggle", "<!-- [<b>a-\\-b</b>|] -->")]);
    check("python", &[("falls_back_to_lines", "a|", "block-comment-toggle", "# a|")]);
    let mut bench = Bench::new("c", "a /* [b */ c|]");
    bench.run("block-comment-toggle");
    assert_eq!(bench.text(), "a /* b */ c");
    assert!(bench.message.contains("left open"), "{}", bench.message);
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 400, ..ProptestConfig::default() })]

    #[test]
    fn wrapping_and_unwrapping_give_back_the_text(
        before in "[a ]{0,2}[a /]?", inner in "[a */\\\\<!>-]{1,12}", behind in "[a /]{0,3}",
        language in proptest::sample::select(vec!["rust", "c", "css", "html"]),
    ) {
        let before = before.replace('*', "x");
        let inner = format!("x{inner}x");
        let marked = format!("{before}[{inner}|]{behind}");
        let mut bench = Bench::new(language, &marked);
        let first = bench.shown();
        bench.run("block-comment-on");
        if bench.message.starts_with("put") {
            bench.run("block-comment-off");
            prop_assert_eq!(bench.shown(), first);
        }
    }
}
