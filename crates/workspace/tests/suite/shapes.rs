//! Rules of widening, of lines in another order, and of names in another shape, one row each.

use crate::support::{Bench, check};

#[test]
fn widening_and_narrowing() {
    check(
        "rust",
        &[
            ("word", "f(a, bc|d)", "widen", "f(a, [bcd|])"),
            ("inside_brackets", "f(a, bc|d)", "widen widen", "f([a, bcd|])"),
            ("with_brackets", "f(a, bc|d)", "widen widen widen", "f[(a, bcd)|]"),
            ("paragraph", "f(a)|;⏎⏎b", "widen", "[f(a);⏎|]⏎b"),
            ("file", "f(a)|;⏎⏎b", "widen widen", "[f(a);⏎⏎b|]"),
            ("inside_quotes", "\"ab c|d\"", "widen widen", "\"[ab cd|]\""),
            ("with_quotes", "\"ab c|d\"", "widen widen widen", "[\"ab cd\"|]"),
            ("brackets_in_strings_do_not_count", "(a, \")\", b|c)", "widen widen", "([a, \")\", bc|])"),
            ("over_lines", "f {⏎  g(x|)⏎}⏎⏎z", "widen widen widen", "f {[⏎  g(x)⏎|]}⏎⏎z"),
            ("narrow_goes_back_the_same_way", "f(a, bc|d)", "widen widen widen narrow narrow narrow", "f(a, bc|d)"),
            ("every_cursor", "(a|) (b|)", "widen widen", "[(a)|] [(b)|]"),
        ],
    );
    let mut bench = Bench::new("rust", "(a|)");
    bench.run("widen").run("char-right").run("narrow");
    assert_eq!(bench.message, "nothing was widened");
}

#[test]
fn sorting_dropping_turning() {
    check(
        "text",
        &[
            ("natural", "[item10⏎item2⏎Item1|]", "sort-lines", "[Item1⏎item2⏎item10|]"),
            ("lower_case_first_on_a_tie", "[A⏎a|]", "sort-lines", "[a⏎A|]"),
            ("fewer_zeros_first", "[a01⏎a1|]", "sort-lines", "[a1⏎a01|]"),
            ("descending", "[a⏎b⏎c|]", "sort-lines(desc)", "[c⏎b⏎a|]"),
            ("by_code_points", "[b⏎B⏎a|]", "sort-lines(case)", "[B⏎a⏎b|]"),
            ("by_a_pattern", "[a 3⏎b 1|]", "sort-lines(by /\\d+/)", "[b 1⏎a 3|]"),
            ("line_ends_stay", "[b↵a|]", "sort-lines", "[a↵b|]"),
            ("leading_white_space_counts", "[b⏎ c|]", "sort-lines", "[ c⏎b|]"),
            ("carets_go_with_their_lines", "b|⏎a|", "sort-lines", "a|⏎b|"),
            ("unique_over_a_distance", "[a⏎b⏎a|]", "unique-lines", "[a⏎b|]"),
            ("unique_drops_a_line_with_its_own_end", "[a↵b⏎a⏎c↵d|]⏎", "unique-lines", "[a↵b⏎c↵d|]⏎"),
            ("unique_drops_the_unterminated_last", "[a↵b↵a|]", "unique-lines", "[a↵b|]"),
            ("unique_drops_the_last_of_two_kinds", "[a↵b↵a⏎|]c", "unique-lines", "[a↵b↵|]c"),
            ("unique_keeps_the_final_end", "[a⏎a⏎|]", "unique-lines", "[a⏎|]"),
            ("unique_caret_to_the_kept_one", "ab|⏎c|⏎ab|", "unique-lines", "ab|⏎c|"),
            ("reverse", "[a⏎b⏎c|]⏎d", "reverse-lines", "[c⏎b⏎a|]⏎d"),
            ("two_runs", "[b⏎a|]⏎x⏎[d⏎c|]", "sort-lines", "[a⏎b|]⏎x⏎[c⏎d|]"),
            ("trim_the_whole_file_with_one_caret", "a  |⏎b →⏎", "trim-trailing", "a|⏎b⏎"),
            ("trim_touched_lines", "[a  ⏎b |]⏎c ", "trim-trailing", "[a⏎b|]⏎c "),
        ],
    );
    let mut bench = Bench::new("text", "[b⏎a|]");
    bench.run("sort-lines(upward)");
    assert!(bench.message.contains("knows no \"upward\""), "{}", bench.message);
    bench.run("sort-lines(by /(/)");
    assert!(bench.message.contains("the pattern ("), "{}", bench.message);
}

#[test]
fn names() {
    check(
        "rust",
        &[
            ("snake", "tideLev|el x", "snake-case", "tide_le|vel x"),
            ("camel", "[tide_level|]", "camel-case", "[tideLevel|]"),
            ("pascal", "[tide_level|] [other-name|]", "pascal-case", "[TideLevel|] [OtherName|]"),
            ("pascal_of_several_changes_nothing", "[tide_level other|]", "pascal-case", "[tide_level other|]"),
            (
                "snake_leaves_camel_case_only",
                "[let lowTide = HighTide(MAX_TIDE, a_b); // lowTide|]",
                "snake-case",
                "[let low_tide = HighTide(MAX_TIDE, a_b); // lowTide|]",
            ),
            (
                "camel_leaves_snake_case_only",
                "[low_tide(LowTide, __init__, \"a_b\")|]",
                "camel-case",
                "[lowTide(LowTide, __init__, \"a_b\")|]",
            ),
            ("kebab_leaves_both", "[low_tide + highTide|]", "kebab-case", "[low-tide + high-tide|]"),
            ("kebab", "tide_level|", "kebab-case", "tide-level|"),
            ("upper_snake", "tideLevel|", "upper-snake-case", "TIDE_LEVEL|"),
            ("edges_stay", "_tideLevel|", "snake-case", "_tide_level|"),
            ("upper", "[grüß|]", "upper-case", "[GRÜSS|]"),
            ("at_every_cursor", "a|b cd|", "upper-case", "A|B CD|"),
            ("title", "[the duty pilot|]", "title-case", "[The Duty Pilot|]"),
        ],
    );
}

#[test]
fn surrounding_and_cycling() {
    check(
        "rust",
        &[
            ("puts_on", "[ab|] c", "surround({)", "{[ab|]} c"),
            ("takes_off_outside", "{[ab|]} c", "surround({)", "[ab|] c"),
            ("takes_off_inside", "[{ab}|] c", "surround({)", "[ab|] c"),
            ("closer_picks_the_pair", "[ab|]", "surround(])", "[[ab|]]"),
            ("a_caret_is_its_word", "x ab|", "surround(\")", "x \"ab|\""),
            ("every_cursor", "[a|] [b|]", "surround(\")", "\"[a|]\" \"[b|]\""),
            ("off_whichever_it_is", "([a|]) `[b|]`", "surround-off", "[a|] [b|]"),
            ("off_round_the_word", "f(ab|)", "surround-off", "fab|"),
            ("off_the_innermost_brackets", "f(a, {b, | - c}, d)", "surround-off", "f(a, b, | - c, d)"),
            ("off_the_string_around", "f(\"low |tide now\")", "surround-off", "f(low |tide now)"),
            ("off_a_call_and_not_the_string_beside", "f(\"low\", | 2)", "surround-off", "f\"low\", | 2"),
            ("off_nested_ones", "(a| {b|, 1})", "surround-off", "a| b|, 1"),
            ("off_once_for_two_carets", "(a, |b - |c)", "surround-off", "a, |b - |c"),
            ("nothing_around", "a | - b", "surround-off", "a | - b"),
            ("a_selected_pair_changes", "x [(ab)|]", "surround({)", "x {[(ab)|]}"),
            ("a_selected_string_changes", "x [\"ab\"|]", "surround(')", "x '[\"ab\"|]'"),
            ("not_two_pairs_that_are_no_pair", "[(a)(b)|]", "surround({)", "{[(a)(b)|]}"),
            ("at_the_mark_before_it", "f|(ab)", "surround({)", "f|{ab}"),
            ("at_the_mark_behind_it", "f(ab)|", "surround({)", "f{ab}|"),
            ("at_a_quote", "x = |\"low tide\"", "surround(`)", "x = |`low tide`"),
            ("at_the_mark_the_same_goes", "f|(ab)", "surround(()", "f|ab"),
            ("inside_a_pair_it_surrounds", "f(ab|)", "surround(\")", "f(\"ab|\")"),
            ("right_behind_the_opening_mark", "f(|ab)", "surround(\")", "f(\"|ab\")"),
            ("every_caret_changes_its_own", "|(a) |(b)", "surround({)", "|{a} |{b}"),
            ("case_cycle", "[aB|]", "case-cycle", "[AB|]"),
            ("case_cycle_twice", "[aB|]", "case-cycle case-cycle", "[ab|]"),
            ("case_cycle_back", "[aB|]", "case-cycle case-cycle case-cycle", "[aB|]"),
            ("case_cycle_passes_over_what_stands", "[AB|]", "case-cycle", "[ab|]"),
            ("go_to_line", "a|⏎bcd⏎e", "go-to-line(2:3)", "a⏎bc|d⏎e"),
            ("go_past_the_end", "a|⏎b", "go-to-line(99)", "a⏎|b"),
            ("go_on", "a|⏎b⏎c", "go-to-line(+2)", "a⏎b⏎|c"),
            ("go_back", "a⏎b⏎c|", "go-to-line(-1)", "a⏎|b⏎c"),
            ("go_half_way", "a|⏎b⏎c", "go-to-line(50%)", "a⏎|b⏎c"),
            ("go_nowhere", "a|⏎b", "go-to-line(x)", "a|⏎b"),
        ],
    );
}
