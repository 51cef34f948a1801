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
