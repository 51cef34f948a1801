//! Rules of the line verbs, one row each.

use crate::support::check;

#[test]
fn carrying() {
    check(
        "text",
        &[
            ("last_line_without_end_carried_up", "a⏎b|", "carry-up", "b|⏎a"),
            ("down_to_a_last_line_without_end", "a|⏎b", "carry-down", "b⏎a|"),
            ("middle", "a⏎x|y⏎c⏎", "carry-up", "x|y⏎a⏎c⏎"),
            ("at_the_top_stays", "a|⏎b⏎", "carry-up", "a|⏎b⏎"),
            ("at_the_end_stays_above_the_empty_last_line", "a⏎b|⏎", "carry-down", "a⏎b|⏎"),
            ("empty_last_line_is_not_carried", "a⏎b⏎|", "carry-up", "a⏎b⏎|"),
            ("caret_on_the_empty_last_line_stays_there", "a⏎b|⏎|", "carry-up", "b|⏎a⏎|"),
            ("two_runs", "a⏎b|⏎c⏎d|⏎", "carry-up", "b|⏎a⏎d|⏎c⏎"),
            ("two_runs_down", "a|⏎b⏎c|⏎d⏎", "carry-down", "b⏎a|⏎d⏎c|⏎"),
            ("runs_stop_behind_a_run_at_the_edge", "a|⏎b⏎c|⏎", "carry-up carry-up carry-up", "a|⏎c|⏎b⏎"),
            ("selection_to_column_0", "a⏎[b⏎|]c⏎", "carry-up", "[b⏎|]a⏎c⏎"),
            ("selection_to_column_0_down", "[a⏎|]b⏎c", "carry-down", "b⏎[a⏎|]c"),
            ("selection_to_column_0_becomes_last", "a⏎[b⏎|]c", "carry-down", "a⏎c⏎[b|]"),
            ("half_selected_lines_count_whole", "a⏎b[b⏎c|]c⏎d", "carry-down", "a⏎d⏎b[b⏎c|]c"),
            ("line_ends_stay_in_place", "a↵b⏎c|", "carry-up", "a↵c|⏎b"),
            ("line_ends_stay_in_place_for_a_run", "a↵[|b⏎c]↵d", "carry-up", "[|b↵c]⏎a↵d"),
            ("line_ends_stay_in_place_down", "[a↵b|]⏎c↵d", "carry-down", "c↵[a⏎b|]↵d"),
            ("crlf", "a↵b|↵", "carry-up", "b|↵a↵"),
        ],
    );
}

#[test]
fn duplicating() {
    check(
        "text",
        &[
            ("last_line_without_end", "a⏎b|", "duplicate-down", "a⏎b⏎b|"),
            ("last_line_without_end_up", "a⏎b|", "duplicate-up", "a⏎b|⏎b"),
            ("cursor_on_the_lower_copy", "x|y⏎z⏎", "duplicate-down", "xy⏎x|y⏎z⏎"),
            ("cursor_on_the_upper_copy", "x|y⏎z⏎", "duplicate-up", "x|y⏎xy⏎z⏎"),
            ("run_of_two", "a[b⏎c|]d⏎", "duplicate-down", "ab⏎cd⏎a[b⏎c|]d⏎"),
            ("mixed_ends_original_keeps_its_own", "a↵b|⏎c⏎", "duplicate-down", "a↵b⏎b|⏎c⏎"),
            ("mixed_ends_copy_gets_the_frequent_kind", "a|↵b⏎c⏎", "duplicate-down", "a↵a|⏎b⏎c⏎"),
            ("mixed_ends_copy_above", "a|↵b⏎c⏎", "duplicate-up", "a|⏎a↵b⏎c⏎"),
            ("mixed_ends_cursors_in_the_copy", "[|a↵b↵]c⏎c⏎c⏎", "duplicate-up", "[|a⏎b⏎]a↵b↵c⏎c⏎c⏎"),
            ("empty_last_line_has_nothing", "a⏎|", "duplicate-down", "a⏎|"),
            ("empty_file_is_a_line", "|", "duplicate-down", "⏎|"),
            ("two_cursors_in_one_line_once", "a|b|⏎", "duplicate-down", "ab⏎a|b|⏎"),
            ("text_after", "a[bc|]d", "duplicate-text-after", "abc[bc|]d"),
            ("text_before", "a[|bc]d", "duplicate-text-before", "a[|bc]bcd"),
            ("text_of_a_caret_is_its_line", "a|b⏎", "duplicate-text-after", "ab⏎a|b⏎"),
        ],
    );
}

#[test]
fn deleting() {
    check(
        "text",
        &[
            ("middle_keeps_the_column", "abc⏎de|f⏎ghi⏎", "delete-lines", "abc⏎gh|i⏎"),
            ("unterminated_last", "a⏎b|", "delete-lines", "a|"),
            ("before_the_empty_last_line", "a⏎b|⏎", "delete-lines", "a⏎|"),
            ("everything", "[a⏎b|]", "delete-lines", "|"),
            ("everything_with_final_end", "[a⏎b⏎|]", "delete-lines", "|"),
            ("wanted_column_past_short_lines", "abcdef|⏎x⏎abcdef⏎", "delete-lines delete-lines", "abcdef|⏎"),
            ("two_runs_with_the_unterminated_last", "a|⏎b⏎c|", "delete-lines", "b|"),
            ("crlf", "a↵b|↵c", "delete-lines", "a↵c|"),
            ("head_gives_the_column", "ab[cd⏎e|]f⏎ghi", "delete-lines", "g|hi"),
        ],
    );
}

#[test]
fn opening_and_blank_lines() {
    check(
        "rust",
        &[
            ("below_at_the_same_depth", "  a|b;⏎  c;⏎", "open-below", "  ab;⏎  |⏎  c;⏎"),
            ("below_an_opener", "fn a() {|⏎    b⏎}", "open-below", "fn a() {⏎    |⏎    b⏎}"),
            ("below_an_opener_with_comment", "fn a() { // x|⏎    b⏎}", "open-below", "fn a() { // x⏎    |⏎    b⏎}"),
            ("above_after_an_opener", "fn a() {⏎    b|⏎}", "open-above", "fn a() {⏎    |⏎    b⏎}"),
            ("above_a_closer", "fn a() {⏎    b⏎}|", "open-above", "fn a() {⏎    b⏎    |⏎}"),
            ("above_the_first", "a|⏎", "open-above", "|⏎a⏎"),
            ("below_an_unterminated_last", "a|", "open-below", "a⏎|"),
            ("below_the_empty_last_line", "a⏎|", "open-below", "a⏎⏎|"),
            ("one_for_each_run", "[a⏎b|]⏎c⏎d|⏎", "open-below", "a⏎b⏎|⏎c⏎d⏎|⏎"),
            ("blank_above_keeps_the_caret", "a⏎b|⏎", "blank-above", "a⏎⏎b|⏎"),
            ("blank_below_keeps_the_caret", "a|⏎b⏎", "blank-below", "a|⏎⏎b⏎"),
            ("blank_below_an_unterminated_last", "a|", "blank-below", "a|⏎"),
            ("blank_above_at_column_0", "a⏎|b", "blank-above", "a⏎⏎|b"),
        ],
    );
    check("python", &[("below_a_colon", "if a:|⏎    b⏎", "open-below", "if a:⏎    |⏎    b⏎")]);
}

#[test]
fn indenting() {
    check(
        "rust",
        &[
            ("caret_moves_along", "a|b⏎    c⏎", "indent", "    a|b⏎    c⏎"),
            ("caret_in_column_0_moves_with_its_character", "|ab", "indent", "    |ab"),
            ("selection_from_column_0_stays_there", "[ab⏎|]", "indent", "[    ab⏎|]"),
            ("blank_lines_stay", "[a⏎  ⏎b|]⏎", "indent", "[    a⏎  ⏎    b|]⏎"),
            ("outdent_one_unit", "      a|⏎    b⏎", "outdent", "  a|⏎    b⏎"),
            ("outdent_less_than_a_unit", "a⏎    b⏎  c|", "outdent", "a⏎    b⏎c|"),
            ("outdent_a_tab_among_spaces", "x⏎    y⏎  →a|", "outdent", "x⏎    y⏎a|"),
            ("outdent_keeps_the_caret_in_white_space", "a⏎    b⏎  |  c", "outdent", "a⏎    b⏎|c"),
            ("tabs_by_the_files_use", "a⏎→b⏎c|", "indent", "a⏎→b⏎→c|"),
        ],
    );
}

#[test]
fn joining() {
    check(
        "rust",
        &[
            ("with_the_next", "a|⏎    b⏎", "join-lines", "a| b⏎"),
            ("a_run", "[a⏎  b⏎ c|]⏎d", "join-lines", "[a b c|]⏎d"),
            ("none_before_a_closer", "f(|⏎    a,⏎)", "join-lines join-lines", "f(|a)"),
            ("none_before_a_dot", "a|⏎    .b()", "join-lines", "a|.b()"),
            ("empty_lines_drop_out", "[a⏎⏎b|]", "join-lines", "[a b|]"),
            ("next_is_empty", "a|⏎⏎b", "join-lines", "a|⏎b"),
            ("first_is_empty", "|⏎  a", "join-lines", "|  a"),
            ("first_full_line_keeps_its_indentation", "[⏎  a⏎b|]", "join-lines", "[  a b|]"),
            ("last_line_stays", "a⏎b|", "join-lines", "a⏎b|"),
            ("last_real_line_stays", "a⏎b|⏎", "join-lines", "a⏎b|⏎"),
            ("end_of_the_last_part", "a|↵b⏎c⏎", "join-lines", "a| b⏎c⏎"),
            ("comment_lines_lose_a_mark", "// a|⏎// b⏎c", "join-lines", "// a| b⏎c"),
            ("doc_comment_lines", "/// a|⏎///  b", "join-lines", "/// a| b"),
            ("comment_before_code_becomes_a_block", "a // x|⏎b", "join-lines", "a /* x| */ b"),
            ("comments_then_code", "[a // x⏎// y⏎b|]", "join-lines", "[a /* x y */ b|]"),
            ("starred_lines", "/*⏎ * a|⏎ * b⏎ */", "join-lines", "/*⏎ * a| b⏎ */"),
            ("tight", "a|⏎    b", "join-tight", "a|b"),
            ("carets_stay_on_their_characters", "a|⏎  b|c⏎", "join-lines", "a| b|c⏎"),
        ],
    );
    check(
        "python",
        &[
            (
                "a_comment_farther_out",
                "[class A:⏎    def a():⏎        b⏎#  def c():⏎#      d⏎    def e():⏎        f|]",
                "reindent",
                "[class A:⏎    def a():⏎        b⏎#  def c():⏎#      d⏎    def e():⏎        f|]",
            ),
            ("refused_where_there_are_no_block_comments", "a # x|⏎b", "join-lines", "a # x|⏎b"),
            ("backslash_goes", "a = 1 + \\|⏎    2", "join-lines", "a = 1 +| 2"),
            ("literals_side_by_side", "f(\"a\"|⏎  \"b\")", "join-lines", "f(\"a|b\")"),
            ("literals_with_other_quotes", "f(\"a\"|⏎  'b')", "join-lines", "f(\"a\"| 'b')"),
            ("literals_of_two_statements", "\"a\"|⏎\"b\"", "join-lines", "\"a\"| \"b\""),
        ],
    );
    check(
        "java",
        &[
            ("operator_at_the_end", "x = \"a\" +|⏎  \"b\";", "join-lines", "x = \"a|b\";"),
            ("operator_at_the_start", "x = \"a\"|⏎  + \"b\";", "join-lines", "x = \"a|b\";"),
        ],
    );
}

#[test]
fn splitting() {
    check(
        "rust",
        &[
            ("rest_keeps_the_indentation", "  a |b", "split-line", "  a|⏎  b"),
            ("nothing_left", "  a|⏎", "split-line", "  a|⏎⏎"),
            ("in_the_indentation", "    |a", "split-line", "|⏎    a"),
        ],
    );
}

#[test]
fn reindenting_by_brackets() {
    check(
        "rust",
        &[
            (
                "a_flat_function",
                "[fn f() {⏎let a = 1;⏎if a {⏎b();⏎}⏎}⏎|]",
                "reindent",
                "[fn f() {⏎    let a = 1;⏎    if a {⏎        b();⏎    }⏎}⏎|]",
            ),
            ("one_line_by_those_above", "fn f() {⏎b();⏎ c|();⏎}", "reindent", "fn f() {⏎b();⏎    c|();⏎}"),
            ("two_brackets_of_one_line_are_one_step", "f((x, {⏎a|⏎}));⏎", "reindent", "f((x, {⏎    a|⏎}));⏎"),
            (
                "closers_stand_with_their_opener",
                "fn f(⏎    a: u8,⏎    [) {⏎b();⏎    }|]",
                "reindent",
                "fn f(⏎    a: u8,⏎[) {⏎    b();⏎}|]",
            ),
            (
                "a_chain_is_one_deeper",
                "{⏎    a⏎[.b()⏎.c();⏎d();|]⏎}",
                "reindent",
                "{⏎    a⏎[        .b()⏎        .c();⏎    d();|]⏎}",
            ),
            ("what_an_operator_leaves_open", "{⏎    let a =⏎b|;⏎c;⏎}", "reindent", "{⏎    let a =⏎        b|;⏎c;⏎}"),
            ("inside_a_string_nothing_moves", "{⏎[a(\"x⏎ y⏎\");⏎b;|]⏎}", "reindent", "{⏎[    a(\"x⏎ y⏎\");⏎    b;|]⏎}"),
            (
                "a_comment_moves_as_a_whole",
                "{⏎[/* x⏎ * y⏎ */⏎b;|]⏎}",
                "reindent",
                "{⏎[    /* x⏎     * y⏎     */⏎    b;|]⏎}",
            ),
            (
                "brackets_in_strings_and_comments_count_not",
                "{⏎    a('{'); // {⏎[\"{\";⏎b;|]⏎}",
                "reindent",
                "{⏎    a('{'); // {⏎[    \"{\";⏎    b;|]⏎}",
            ),
            ("blank_lines_stay", "{⏎[a⏎  ⏎b|]⏎}", "reindent", "{⏎[    a⏎  ⏎    b|]⏎}"),
            ("right_already", "{⏎    a|⏎}", "reindent", "{⏎    a|⏎}"),
            ("too_deep_at_the_top", "    |a;⏎", "reindent", "|a;⏎"),
            ("with_tabs", "{⏎→a⏎→c⏎    b|⏎}", "reindent", "{⏎→a⏎→c⏎→b|⏎}"),
            ("crlf_and_no_final_end", "{↵[a↵b|]", "reindent", "{↵[    a↵    b|]"),
        ],
    );
    check(
        "c",
        &[
            (
                "labels",
                "[switch (a) {⏎case 1:⏎f();⏎break;⏎default:⏎g();⏎}|]",
                "reindent",
                "[switch (a) {⏎    case 1:⏎        f();⏎        break;⏎    default:⏎        g();⏎}|]",
            ),
            (
                "a_body_without_braces",
                "{⏎[if (a)⏎b();⏎else⏎c();⏎d();|]⏎}",
                "reindent",
                "{⏎[    if (a)⏎        b();⏎    else⏎        c();⏎    d();|]⏎}",
            ),
            ("a_brace_on_its_own_line", "[if (a)⏎{⏎b();⏎}|]", "reindent", "[if (a)⏎{⏎    b();⏎}|]"),
            ("directives_stay", "{⏎[#if A⏎b();⏎#endif|]⏎}", "reindent", "{⏎[#if A⏎    b();⏎#endif|]⏎}"),
        ],
    );
    check(
        "javascript",
        &[("a_key_is_no_label", "[a = {⏎default: 1,⏎b: 2⏎}|]", "reindent", "[a = {⏎    default: 1,⏎    b: 2⏎}|]")],
    );
    check("go", &[("labels_of_go", "[switch a {⏎case 1:⏎f()⏎}|]", "reindent", "[switch a {⏎case 1:⏎→f()⏎}|]")]);
}

#[test]
fn reindenting_by_words_and_by_levels() {
    check(
        "lua",
        &[(
            "words",
            "[function f()⏎if a then⏎b()⏎else⏎c()⏎end⏎end|]",
            "reindent",
            "[function f()⏎    if a then⏎        b()⏎    else⏎        c()⏎    end⏎end|]",
        )],
    );
    check(
        "ruby",
        &[(
            "words",
            "[def f⏎x = 1 if y⏎a.each do⏎c⏎end⏎end|]",
            "reindent",
            "[def f⏎    x = 1 if y⏎    a.each do⏎        c⏎    end⏎end|]",
        )],
    );
    check(
        "shell",
        &[(
            "words",
            "[case $1 in⏎a)⏎b⏎;;⏎esac⏎if x; then⏎y⏎fi|]",
            "reindent",
            "[case $1 in⏎    a)⏎    b⏎    ;;⏎esac⏎if x; then⏎    y⏎fi|]",
        )],
    );
    check(
        "python",
        &[
            (
                "the_unit_changes_the_levels_stay",
                "if x:⏎    y⏎if x:⏎    y⏎if x:⏎    y⏎[def g():⏎  if x:⏎    y⏎  z⏎|]",
                "reindent",
                "if x:⏎    y⏎if x:⏎    y⏎if x:⏎    y⏎[def g():⏎    if x:⏎        y⏎    z⏎|]",
            ),
            ("a_line_beside_another_stays", "if x:⏎    y⏎    z|⏎", "reindent", "if x:⏎    y⏎    z|⏎"),
            (
                "one_unit_more_than_its_parent",
                "if x:⏎    y⏎if x:⏎    y⏎if x:⏎    y⏎if w:⏎  z|⏎",
                "reindent",
                "if x:⏎    y⏎if x:⏎    y⏎if x:⏎    y⏎if w:⏎    z|⏎",
            ),
            (
                "what_hangs_in_brackets_moves_along",
                "if x:⏎    y⏎if x:⏎    y⏎if x:⏎    y⏎[if w:⏎  f(a,⏎    b)|]",
                "reindent",
                "if x:⏎    y⏎if x:⏎    y⏎if x:⏎    y⏎[if w:⏎    f(a,⏎      b)|]",
            ),
        ],
    );
}

#[test]
fn duplicating_texts_beside_carets() {
    check(
        "text",
        &[
            ("a_carets_line_is_copied_below", "a[b|]c⏎d|e⏎f", "duplicate-text-after", "ab[b|]c⏎de⏎d|e⏎f"),
            ("and_above", "a[b|]c⏎d|e⏎f", "duplicate-text-before", "a[b|]bc⏎d|e⏎de⏎f"),
            ("in_one_line", "a[b|]c d|⏎", "duplicate-text-after", "ab[b|]c d⏎abc d|⏎"),
            ("an_unterminated_line", "[a|]⏎b|", "duplicate-text-after", "a[a|]⏎b⏎b|"),
            ("at_its_very_end", "|a [b|]", "duplicate-text-after", "a b[b|]⏎|a b"),
            ("the_empty_last_line_has_none", "[a|]⏎|", "duplicate-text-after", "a[a|]⏎|"),
        ],
    );
}
