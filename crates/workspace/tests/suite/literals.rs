//! Breaking string literals in two and putting them together again, one row each: what they say stays the same.

use crate::support::check_parsed as check;

#[test]
fn a_broken_literal_says_the_same() {
    check(
        "python",
        &[
            ("brackets", "x = \"low |tide\"⏎", "split-line", "x = (\"low |\"⏎    \"tide\")⏎"),
            ("brackets_by_enter", "x = \"low |tide\"⏎", "line-break", "x = (\"low \"⏎    \"|tide\")⏎"),
            ("in_brackets_already", "f(\"low |tide\")⏎", "split-line", "f(\"low |\"⏎    \"tide\")⏎"),
            ("prefix", "x = f\"low |{tide}\"⏎", "split-line", "x = (f\"low |\"⏎    f\"{tide}\")⏎"),
            ("a_hole_is_code", "x = f\"{low |+ 1}\"⏎", "split-line", "x = f\"{low|⏎+ 1}\"⏎"),
            ("return", "    return \"low |tide\" + x⏎", "split-line", "    return (\"low |\"⏎        \"tide\" + x)⏎"),
            ("condition", "if x == \"low |tide\":⏎", "split-line", "if (x == \"low |\"⏎    \"tide\"):⏎"),
            ("assertion", "assert x, \"low |tide\"⏎", "split-line", "assert x, (\"low |\"⏎    \"tide\")⏎"),
            ("loop", "for a in \"low |tide\".split():⏎", "split-line", "for a in (\"low |\"⏎    \"tide\".split()):⏎"),
            ("a_comment_behind", "x = \"low |tide\"  # a⏎", "split-line", "x = (\"low |\"⏎    \"tide\")  # a⏎"),
            ("continued", "x = \"low |tide\" + \\⏎    y⏎", "split-line", "x = \"low |\" \\⏎    \"tide\" + \\⏎    y⏎"),
            ("two_carets", "x = \"a |b |c\"⏎", "split-line", "x = (\"a |\"⏎    \"b |\"⏎    \"c\")⏎"),
            ("an_escape_stays_whole", "x = \"a\\|nb\"⏎", "split-line", "x = (\"a\\|n\"⏎    \"b\")⏎"),
        ],
    );
    check(
        "shell",
        &[
            ("first_column", "  echo \"low |tide\"⏎", "line-break", "  echo \"low \"\\⏎\"|tide\"⏎"),
            ("a_word_before_it", "a=b\"low |tide\"⏎", "split-line", "a=b\"low |\"\\⏎\"tide\"⏎"),
        ],
    );
    check("rust", &[("inside", "    let a = \"low |tide\";⏎", "split-line", "    let a = \"low |\\⏎        tide\";⏎")]);
    check("ruby", &[("backslash", "a = \"low |tide\"⏎", "split-line", "a = \"low |\" \\⏎    \"tide\"⏎")]);
    check("php", &[("operator", "<?php⏎$a = \"low |tide\";⏎", "split-line", "<?php⏎$a = \"low |\" .⏎    \"tide\";⏎")]);
    check("csharp", &[("dollar", "a = $\"low |{t}\";⏎", "split-line", "a = $\"low |\" +⏎    $\"{t}\";⏎")]);
    check("go", &[("go", "a := \"low| tide\"⏎", "split-line", "a := \"low| \" +⏎→\"tide\"⏎")]);
    check("c", &[("c", "char *a = \"low |tide\";⏎", "split-line", "char *a = \"low |\"⏎    \"tide\";⏎")]);
}

#[test]
fn literals_side_by_side_become_one() {
    check(
        "python",
        &[
            ("brackets_go", "x = (\"low |\"⏎    \"tide\")⏎", "join-lines", "x = \"low |tide\"⏎"),
            ("there_and_back", "x = \"low |tide\"⏎", "split-line join-lines", "x = \"low |tide\"⏎"),
            ("brackets_of_a_call_stay", "f(\"low |\"⏎    \"tide\")⏎", "join-lines", "f(\"low |tide\")⏎"),
            ("brackets_round_more_stay", "x = (\"low |\"⏎    \"tide\" + y)⏎", "join-lines", "x = (\"low |tide\" + y)⏎"),
            ("on_lines_of_their_own", "[x = (⏎    \"low \"⏎    \"tide\"⏎)|]⏎", "join-lines", "[x = \"low tide\"|]⏎"),
            ("return", "return (\"low |\"⏎    \"tide\")⏎", "join-lines", "return \"low |tide\"⏎"),
            ("plus", "x = \"low |\" + \\⏎    \"tide\"⏎", "join-lines", "x = \"low |tide\"⏎"),
            ("plus_before_a_call", "x = (\"a\" +|⏎  \"b\".upper())⏎", "join-lines", "x = (\"a\" +| \"b\".upper())⏎"),
            ("another_prefix", "f(\"a\"|⏎  r\"b\")⏎", "join-lines", "f(\"a\"| r\"b\")⏎"),
        ],
    );
    check("c", &[("at_file_scope", "char *a = \"low |\"⏎    \"tide\";⏎", "join-lines", "char *a = \"low |tide\";⏎")]);
    check("shell", &[("shell", "echo \"low |\"\\⏎\"tide\"⏎", "join-lines", "echo \"low |tide\"⏎")]);
    check("shell", &[("two_commands", "echo \"low|\"⏎\"tide\"⏎", "join-lines", "echo \"low|\"⏎\"tide\"⏎")]);
    check("cmake", &[("two_arguments", "set(a \"low|\"⏎  \"tide\")⏎", "join-lines", "set(a \"low|\" \"tide\")⏎")]);
}

#[test]
fn a_pair_goes_round_what_is_selected_in_strings_and_comments() {
    check(
        "python",
        &[
            ("string", "x = \"[low|] tide\"", "type-text(()", "x = \"([low|]) tide\""),
            ("other_quote", "x = \"[low|] tide\"", "type-text(')", "x = \"'[low|]' tide\""),
            ("its_own_quote", "x = \"[low|] tide\"", "type-text(\")", "x = \"\"| tide\""),
            ("comment", "# [low|] tide", "type-text(\")", "# \"[low|]\" tide"),
            ("a_caret_opens_nothing", "# low|", "type-text(()", "# low(|"),
        ],
    );
}

#[test]
fn a_line_end_behind_a_backslash_in_a_literal_goes_with_it() {
    check(
        "rust",
        &[
            ("and_what_is_before_the_next", "|let a = \"low \\⏎    tide\";⏎", "join-lines", "|let a = \"low tide\";⏎"),
            ("broken_and_joined", "a = \"low |tide\";⏎", "split-line join-lines", "a = \"low |tide\";⏎"),
            ("an_escaped_backslash_is_text", "|a = \"low\\\\⏎    tide\";⏎", "join-lines", "|a = \"low\\\\ tide\";⏎"),
            ("not_in_a_raw_one", "|a = r\"low \\⏎tide\";⏎", "join-lines", "|a = r\"low \\ tide\";⏎"),
        ],
    );
    check(
        "python",
        &[("white_space_is_of_the_value", "|a = \"low \\⏎  tide\"⏎", "join-lines", "|a = \"low   tide\"⏎")],
    );
    check("javascript", &[("the_same", "|a = \"low \\⏎tide\";⏎", "join-lines", "|a = \"low tide\";⏎")]);
}
