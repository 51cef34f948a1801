//! Verbs for what is done every day and had none: one row for each rule.

use crate::support::{Bench, check};

#[test]
fn lines_are_kept_and_dropped_by_what_they_hold() {
    check(
        "text",
        &[
            ("keep", "[ebb⏎flow⏎slack|]⏎", "lines-keep(l)", "[flow⏎slack|]⏎"),
            ("drop", "[ebb⏎flow⏎slack|]⏎", "lines-drop(l)", "[ebb⏎|]"),
            ("the_whole_text_without_a_selection", "e|bb⏎flow⏎slack⏎", "lines-drop(^fl)", "e|bb⏎slack⏎"),
            ("only_the_touched_lines", "ebb⏎[ebb⏎fl|]ow⏎ebb⏎", "lines-drop(bb)", "ebb⏎[fl|]ow⏎ebb⏎"),
            ("the_last_line_without_an_end", "|a⏎b", "lines-drop(b)", "|a"),
            ("crlf", "|a↵b↵c↵", "lines-keep([ac])", "|a↵c↵"),
            ("all_of_them", "|a⏎b⏎", "lines-drop(.)", "|"),
        ],
    );
    let mut bench = Bench::new("text", "|a⏎b⏎");
    assert_eq!(bench.run("lines-drop(x)").message, "nothing to delete: all 2 lines stay");
    assert!(!bench.editor.history().can_undo());
    assert_eq!(bench.run("lines-keep(a)").message, "deleted 1 line, 1 stay");
}

#[test]
fn the_bracket_that_answers() {
    check(
        "rust",
        &[
            ("at_it", "f|(a, {1});", "bracket", "f(a, {1}|);"),
            ("and_back", "f|(a, {1});", "bracket bracket", "f|(a, {1});"),
            ("behind_it", "f(|a);", "bracket", "f(a)|;"),
            ("to_the_end_of_what_encloses", "f(a, {1, 2|3});", "bracket", "f(a, {1, 23|});"),
            ("a_string_has_none", "f|(\")\", a);", "bracket", "f(\")\", a|);"),
            ("each_caret", "f|(a);⏎g|(b);", "bracket", "f(a|);⏎g(b|);"),
            ("select_it", "f|(a, {1});", "extend-bracket", "f[(a, {1})|];"),
            ("select_back", "f(a|);", "extend-bracket", "f[|(a)];"),
            ("select_what_encloses", "f(a|b);", "extend-bracket", "f[(ab)|];"),
        ],
    );
    assert_eq!(Bench::new("rust", "a|b").run("bracket").message, "no bracket here, and none around");
}

#[test]
fn paragraphs() {
    check(
        "rust",
        &[
            ("around", "a⏎⏎// b⏎c|⏎d⏎⏎e⏎", "select-paragraph", "a⏎⏎[// b⏎c⏎d⏎|]⏎e⏎"),
            ("all_that_are_touched", "a⏎[b⏎⏎c|]⏎d⏎", "select-paragraph", "[a⏎b⏎⏎c⏎d⏎|]"),
            ("none_on_a_blank_line", "a⏎|⏎b⏎", "select-paragraph", "a⏎|⏎b⏎"),
        ],
    );
}

#[test]
fn what_was_changed_since_the_save_is_gone_to() {
    check(
        "rust",
        &[
            (
                "round_the_text",
                "|a⏎b⏎c⏎d⏎e⏎",
                "line-down type-text(x) line-down line-down type-text(y) file-start next-change next-change next-change",
                "a⏎|xb⏎c⏎dy⏎e⏎",
            ),
            (
                "and_back",
                "|a⏎b⏎c⏎d⏎e⏎",
                "line-down type-text(x) line-down line-down type-text(y) previous-change",
                "a⏎|xb⏎c⏎dy⏎e⏎",
            ),
        ],
    );
    assert_eq!(Bench::new("rust", "a|b").run("next-change").message, "nothing has changed since the last save");
}

#[test]
fn elements_change_places_and_lines_are_wrapped() {
    check(
        "rust",
        &[
            ("arguments", "f(a|, g(b, c), d)", "swap-next", "f(g(b, c), a|, d)"),
            ("nested", "f(a, g(b|, c), d)", "swap-next", "f(a, g(c, b|), d)"),
            ("back", "f(a, [\"x, y\"|], d)", "swap-previous", "f([\"x, y\"|], a, d)"),
            ("over_lines", "f(⏎    a|, // one⏎    b, // two⏎)", "swap-next", "f(⏎    b, // one⏎    a|, // two⏎)"),
            ("at_the_edge", "f(a, b|)", "swap-next", "f(a, b|)"),
            ("no_list", "f(a|)", "swap-next", "f(a|)"),
            ("wrapped", "  [a();⏎  b();|]⏎c", "wrap-lines", "  {⏎    [a();⏎    b();|]⏎  }⏎c"),
            ("wrapped_at_the_end", "a|", "wrap-lines((", "(⏎    a|⏎)"),
        ],
    );
    check("text", &[("columns", "a, b|, c⏎d, e|, f⏎", "swap-previous", "b|, a, c⏎e|, d, f⏎")]);
}

#[test]
fn what_stands_in_brackets_is_put_in_order_as_one() {
    check(
        "python",
        &[
            (
                "imports",
                "[import c⏎from b import (⏎    x,⏎)⏎import a|]⏎",
                "sort-lines",
                "[from b import (⏎    x,⏎)⏎import a⏎import c|]⏎",
            ),
            ("turned_round", "[a(⏎    1,⏎)⏎b|]⏎", "reverse-lines", "[b⏎a(⏎    1,⏎)|]⏎"),
            ("inside_the_brackets", "x = (⏎[    b,⏎    a,⏎|])⏎", "sort-lines", "x = (⏎[    a,⏎    b,⏎|])⏎"),
            ("not_closed", "[b(⏎a,|]⏎", "sort-lines", "[a,⏎b(|]⏎"),
        ],
    );
}
