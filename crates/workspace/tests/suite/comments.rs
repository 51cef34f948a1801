//! Rules of the comment verbs, one row each.

use crate::support::{Bench, act, check};
use proptest::prelude::*;

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
fn marks_in_a_fixed_column_and_marks_of_words() {
    check(
        "fortran-fixed",
        &[
            ("in_the_first_column", "      X = 1|", "comment-toggle", "C       X = 1|"),
            ("off", "C       X = 1|", "comment-toggle", "      X = 1|"),
            ("any_of_its_marks_comes_off", "*     X = 1|", "comment-toggle", "    X = 1|"),
            ("glued_to_a_word", "Comment|", "comment-toggle", "omment|"),
            ("one_that_floats_comes_off", "      ! X|", "comment-toggle", "      X|"),
        ],
    );
    check(
        "cobol",
        &[
            ("in_the_seventh_column", "       MOVE A TO B|.", "comment-toggle", "      *  MOVE A TO B|."),
            ("off", "      *  MOVE A TO B|.", "comment-toggle", "       MOVE A TO B|."),
            ("behind_a_number", "000100 MOVE A|.", "comment-toggle", "000100*  MOVE A|."),
            ("a_line_that_does_not_reach_it", "   A|", "comment-toggle", "   *> A|"),
        ],
    );
    check(
        "batch",
        &[
            ("on", "echo a|", "comment-toggle", "REM echo a|"),
            ("off_in_lower_case", "rem echo a|", "comment-toggle", "echo a|"),
            ("the_other_mark", ":: echo a|", "comment-toggle", "echo a|"),
            ("a_longer_word_is_none", "remark|", "comment-toggle", "REM remark|"),
        ],
    );
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
            prop_assert_eq!(bench.shown(), crate::support::show(&crate::support::read(&marked).0, &crate::support::read(&marked).1), "{}", once);
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
            ("stars_that_are_text", "  /* *a = 1;|⏎  *b = 2; */", "block-comment-toggle", "  *a = 1;|⏎  *b = 2;"),
            ("stars_with_text_on_the_first_line", "/* a|⏎ * b */⏎c", "block-comment-toggle", "a|⏎b⏎c"),
            ("blank_line", "|", "block-comment-toggle", "/* | */"),
            ("two_carets_in_a_line", "a|b|", "block-comment-toggle", "/* a|b| */"),
            ("each_by_itself", "[a|] /* b| */", "block-comment-toggle", "/* [a|] */ b|"),
            ("blanks_that_go_with_a_mark", "|/*⏎a⏎*/ [   |]⏎b", "block-comment-toggle", "|a|⏎b"),
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

#[test]
fn each_line_in_its_own_language() {
    check(
        "html",
        &[
            ("style", "<style>⏎  a { b|: c }⏎</style>", "comment-toggle", "<style>⏎  /* a { b|: c } */⏎</style>"),
            ("script", "<script>⏎  f|();⏎</script>", "comment-toggle", "<script>⏎  // f|();⏎</script>"),
            ("markup", "<script>⏎f();⏎</script>⏎<p|>", "comment-toggle", "<script>⏎f();⏎</script>⏎<!-- <p|> -->"),
            (
                "all_three_at_once",
                "<p|>⏎<style>⏎a|{}⏎</style>⏎<script>⏎f|()⏎</script>",
                "comment-toggle",
                "<!-- <p|> -->⏎<style>⏎/* a|{} */⏎</style>⏎<script>⏎// f|()⏎</script>",
            ),
            (
                "off_again",
                "<style>⏎/* a|{} */⏎</style>⏎<script>⏎// f|()⏎</script>",
                "comment-toggle",
                "<style>⏎a|{}⏎</style>⏎<script>⏎f|()⏎</script>",
            ),
            (
                "with_its_tags_it_is_markup",
                "[<style>⏎a{}⏎</style>|]",
                "comment-toggle",
                "<!-- [<style> -->⏎<!-- a{} -->⏎<!-- </style>|] -->",
            ),
            (
                "with_its_tags_and_back",
                "[<style>⏎a{}⏎</style>|]",
                "comment-toggle comment-toggle",
                "[<style>⏎a{}⏎</style>|]",
            ),
            (
                "from_the_tag_on",
                "[<style>⏎a{}|]⏎b{}⏎</style>",
                "comment-toggle comment-toggle",
                "[<style>⏎a{}|]⏎b{}⏎</style>",
            ),
            ("up_to_the_tag", "<script>⏎[f()⏎</script>⏎<p>|]", "comment-toggle", "<script>⏎[f()⏎</script>⏎<p>|]"),
            (
                "up_to_the_tag_and_back",
                "<script>⏎[f()⏎</script>⏎<p>|]",
                "comment-toggle comment-toggle",
                "<script>⏎[f()⏎</script>⏎<p>|]",
            ),
            (
                "block_in_style",
                "<style>⏎a { [b: c|] }⏎</style>",
                "block-comment-toggle",
                "<style>⏎a { /* [b: c|] */ }⏎</style>",
            ),
            (
                "block_in_script_and_back",
                "<script>⏎f([a|])⏎</script>",
                "block-comment-toggle block-comment-toggle",
                "<script>⏎f([a|])⏎</script>",
            ),
            (
                "block_in_each",
                "<b>[x|]</b><style>a{[b|]}</style>",
                "block-comment-toggle",
                "<b><!-- [x|] --></b><style>a{/* [b|] */}</style>",
            ),
            ("pairs_of_the_script", "<script>⏎f|⏎</script>", "type-text(()", "<script>⏎f(|)⏎</script>"),
            (
                "enter_in_a_comment_of_the_script",
                "<script>⏎// a|b⏎</script>",
                "line-break",
                "<script>⏎// a⏎// |b⏎</script>",
            ),
        ],
    );
}

#[test]
fn each_fence_in_its_own_language() {
    check(
        "markdown",
        &[
            ("fence", "a⏎```python⏎x|⏎```⏎", "comment-toggle", "a⏎```python⏎# x|⏎```⏎"),
            ("list_items_keep_their_stars", "<!-- * a|⏎* b -->", "block-comment-toggle", "* a|⏎* b"),
            ("not_inside_a_fence", "```⏎x⏎`[``|]⏎", "block-comment-toggle", "```⏎x⏎`[``|]⏎"),
            ("fence_by_its_ending", "~~~rs⏎x|⏎~~~⏎", "comment-toggle", "~~~rs⏎// x|⏎~~~⏎"),
            ("prose", "a|⏎```rust⏎x⏎```⏎", "comment-toggle", "<!-- a| -->⏎```rust⏎x⏎```⏎"),
            ("behind_the_fence", "```rust⏎x⏎```⏎a|", "comment-toggle", "```rust⏎x⏎```⏎<!-- a| -->"),
            ("two_fences", "```rust⏎x|⏎```⏎```sql⏎y|⏎```", "comment-toggle", "```rust⏎// x|⏎```⏎```sql⏎-- y|⏎```"),
            ("with_its_fences_and_back", "[```rust⏎x⏎```|]⏎", "comment-toggle comment-toggle", "[```rust⏎x⏎```|]⏎"),
            ("with_its_fences", "[```rust⏎x⏎```|]⏎", "comment-toggle", "<!-- [```rust -->⏎<!-- x -->⏎<!-- ```|] -->⏎"),
        ],
    );
    check(
        "php",
        &[
            ("code", "<p>⏎<?php⏎f|();⏎?>⏎", "comment-toggle", "<p>⏎<?php⏎// f|();⏎?>⏎"),
            ("markup", "<p|>⏎<?php⏎f();⏎?>⏎", "comment-toggle", "<!-- <p|> -->⏎<?php⏎f();⏎?>⏎"),
            ("both_and_back", "[<p>⏎<?php⏎f();⏎?>⏎<b>|]", "comment-toggle comment-toggle", "[<p>⏎<?php⏎f();⏎?>⏎<b>|]"),
            ("without_markup", "f|();", "comment-toggle", "// f|();"),
        ],
    );
    check(
        "typescript",
        &[
            ("in_a_template", "a = html`⏎  <p>|⏎`;⏎", "comment-toggle", "a = html`⏎  <!-- <p>| -->⏎`;⏎"),
            (
                "each_by_its_tag",
                "a = css`⏎b|⏎`;⏎c = sql`⏎d|⏎`;",
                "comment-toggle",
                "a = css`⏎/* b| */⏎`;⏎c = sql`⏎-- d|⏎`;",
            ),
            ("behind_a_template", "a = html`<p>`;⏎f|();", "comment-toggle", "a = html`<p>`;⏎// f|();"),
            ("with_all_of_it", "[a = html`⏎<p>⏎`;⏎f();|]", "comment-toggle", "// [a = html`⏎// <p>⏎// `;⏎// f();|]"),
            ("and_back", "[a = html`⏎<p>⏎`;⏎f();|]", "comment-toggle comment-toggle", "[a = html`⏎<p>⏎`;⏎f();|]"),
        ],
    );
    let mut bench = Bench::new("markdown", "```⏎x|⏎```");
    bench.run("comment-toggle");
    assert_eq!((bench.text().as_str(), bench.message.as_str()), ("```\nx\n```", "Plain text has no comments"));
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 2_000, ..ProptestConfig::default() })]

    /// Pages and prose with other languages inside, well formed or not, any range of lines.
    #[test]
    fn toggling_twice_across_languages_gives_back_the_text(
        lines in proptest::collection::vec(proptest::sample::select(vec![
            "<p>a</p>", "<style>", "</style>", "  a {}", "<script>", "</script>", "  f();", "// x", "", "  <!-- x -->",
            "<i>--</i>", "<style>b {}</style>", "```rust", "```", "~~~", "# x", "/* y */", "<?php", "?>", "a = html`",
            "`;", "b = css`c {}`;", "`", "f(sql`select 1", "$a; // b ?> <p>",
        ]), 1..9),
        range in (0usize..9, 0usize..9),
        language in proptest::sample::select(vec!["html", "markdown", "php", "typescript"]),
    ) {
        let (first, last) = (range.0.min(range.1).min(lines.len() - 1), range.0.max(range.1).min(lines.len() - 1));
        let mut marked: Vec<String> = lines.iter().map(|line| (*line).to_owned()).collect();
        marked[first].insert(0, '[');
        marked[last].push_str("|]");
        let marked = marked.join("⏎");
        let mut bench = Bench::new(language, &marked);
        let before = bench.text();
        bench.run("comment-toggle");
        if bench.message.starts_with("commented") && !bench.message.contains("uncommented") {
            let once = bench.text();
            bench.run("comment-toggle");
            prop_assert_eq!(bench.text(), before, "{} in {}, once {}", marked, language, once);
        }
    }
}

#[test]
fn reflowing() {
    let words = "one two three four five six seven eight nine ten eleven twelve thirteen fourteen";
    let wrapped = |lead: &str, marked: &str| format!("{lead}{marked}");
    let rows: &[(&str, &str, String, String)] = &[
        (
            "a_line_that_is_too_long",
            "rust",
            wrapped("    // ", &format!("{words}|")),
            "    // one two three four five six seven eight nine ten eleven twelve thirteen⏎    // fourteen|"
                .to_owned(),
        ),
        (
            "short_lines_are_filled",
            "rust",
            "// one⏎// tw|o⏎// three⏎code();".to_owned(),
            "// one tw|o three⏎code();".to_owned(),
        ),
        ("a_blank_comment_line_parts", "rust", "// one|⏎//⏎// two".to_owned(), "// one|⏎//⏎// two".to_owned()),
        ("another_mark_parts", "rust", "/// one|⏎// two".to_owned(), "/// one|⏎// two".to_owned()),
        ("all_paragraphs_selected", "rust", "[// a⏎// b⏎//⏎// c⏎// d|]".to_owned(), "[// a b⏎//⏎// c d|]".to_owned()),
        ("stars", "c", "/*⏎ * one|⏎ * two⏎ */".to_owned(), "/*⏎ * one| two⏎ */".to_owned()),
        ("items_stay_items", "python", "# - one|⏎#   two⏎# - three".to_owned(), "# - one| two⏎# - three".to_owned()),
        (
            "items_hang",
            "python",
            wrapped("# - ", &format!("{words}|")),
            "# - one two three four five six seven eight nine ten eleven twelve thirteen⏎#   fourteen|".to_owned(),
        ),
        ("nothing_but_marks", "rust", "[//  //  |]".to_owned(), "[//  //|]".to_owned()),
        ("prose", "markdown", "one|⏎two⏎⏎# head".to_owned(), "one| two⏎⏎# head".to_owned()),
        ("crlf_and_no_final_end", "rust", "// one|↵// two".to_owned(), "// one| two".to_owned()),
        (
            "a_word_longer_than_the_width",
            "rust",
            format!("// a| {}", "x".repeat(90)),
            format!("// a|⏎// {}", "x".repeat(90)),
        ),
    ];
    for (name, language, before, after) in rows {
        assert_eq!(act(language, before, "reflow"), *after, "{name}");
    }
    let mut bench = Bench::new("rust", "code(|);");
    bench.run("reflow");
    assert_eq!(bench.message, "no comment, documentation or prose here");
}
