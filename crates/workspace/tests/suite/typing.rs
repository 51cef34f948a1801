//! Rules of typing, the clipboard and the history, one row each.

use crate::support::{Bench, check};

#[test]
fn typing_and_line_ends() {
    check(
        "rust",
        &[
            ("replaces_every_selection", "[a|]b[c|]", "type-text(x)", "x|bx|"),
            ("at_every_caret", "a|b|", "type-text(x)", "ax|bx|"),
            ("enter_keeps_the_indentation", "  a|b", "line-break", "  a⏎  |b"),
            ("enter_after_an_opener", "fn a() {|", "line-break", "fn a() {⏎    |"),
            ("closer_on_its_own_line", "f {|}", "line-break", "f {⏎    |⏎}"),
            ("white_space_at_the_caret_goes", "a |  b", "line-break", "a⏎|b"),
            ("opener_in_a_string_is_none", "\"{|\"", "line-break", "\"{⏎|\""),
            ("enter_on_a_blank_line_keeps_its_depth", "    |", "line-break", "⏎    |"),
            ("crlf_is_kept", "a↵b|", "line-break", "a↵b↵|"),
            ("backspace_takes_a_cluster", "e\u{301}|", "delete-back", "|"),
            ("backspace_takes_crlf", "a↵|b", "delete-back", "a|b"),
            ("backspace_one_stop", "a⏎    b⏎      |c", "delete-back", "a⏎    b⏎    |c"),
            ("delete_at_the_end", "a|", "delete-forward", "a|"),
            ("delete_joins", "a|⏎b", "delete-forward", "a|b"),
            ("mark_typed_behind_a_letter", "e|x", "type-text(\u{301})", "e\u{301}|x"),
            ("tab_to_the_next_stop", "a|b", "tab-stop", "a   |b"),
            ("tab_over_lines_indents", "[a⏎b|]", "tab-stop", "[    a⏎    b|]"),
            ("two_tabs_in_one_line", "a|bc|", "tab-stop", "a   |bc  |"),
        ],
    );
    check("go", &[("tabs_where_the_language_has_them", "a|", "tab-stop", "a→|")]);
    check(
        "lua",
        &[
            ("opener_word", "if a then|", "line-break", "if a then⏎    |"),
            ("a_block_left_open", "local function f(a)|", "line-break", "local function f(a)⏎    |"),
            ("a_block_closed_again", "if a then b() end|", "line-break", "if a then b() end⏎|"),
            ("a_word_in_a_string", "print(\"then\")|", "line-break", "print(\"then\")⏎|"),
        ],
    );
    check(
        "ruby",
        &[
            ("a_definition", "  def f|", "line-break", "  def f⏎    |"),
            ("a_modifier", "x if y|", "line-break", "x if y⏎|"),
        ],
    );
    check("shell", &[("a_loop", "for a in b; do|", "line-break", "for a in b; do⏎    |")]);
    check("c", &[("opener_before_a_comment", "if (a) { /* b */|", "line-break", "if (a) { /* b */⏎    |")]);
}

#[test]
fn clipboard() {
    check(
        "text",
        &[
            ("line_goes_above", "a|b⏎c⏎", "copy line-down paste", "ab⏎ab⏎c|⏎"),
            ("pieces_one_each", "[a|]⏎[b|]⏎", "copy line-end type-text(:) paste", "a:a|⏎b:b|⏎"),
            ("piece_at_each", "[a|] b⏎", "copy char-right cursor-below paste", "aa| b⏎a|"),
            ("cut_lines_of_carets", "a|⏎b⏎c|⏎", "cut", "b|⏎|"),
            ("cut_selection", "a[b|]c", "cut paste paste", "abb|c"),
            ("lines_cut_and_put_back_elsewhere", "a|⏎b⏎c", "cut-lines line-down paste", "b⏎a⏎c|"),
            ("unterminated_last_line", "a⏎b|", "copy paste", "a⏎b⏎b|"),
            ("line_ends_are_converted", "[a⏎b|]↵c↵", "copy paste-as-is", "a⏎b|↵c↵"),
        ],
    );
    check(
        "rust",
        &[(
            "paste_takes_the_depth_of_the_place",
            "    [if a {⏎        b⏎    }|]⏎fn c() {⏎        |⏎}",
            "drop-newest copy",
            "    [if a {⏎        b⏎    }|]⏎fn c() {⏎        |⏎}",
        )],
    );
    check(
        "rust",
        &[
            (
                "whole_lines_at_a_lines_start_stand_as_deep_as_it",
                "[a {⏎    b⏎}⏎|]{⏎    {⏎        c⏎",
                "copy line-down line-down paste",
                "a {⏎    b⏎}⏎{⏎    {⏎        a {⏎            b⏎        }⏎|        c⏎",
            ),
            (
                "lines_in_place_of_lines",
                "[a⏎    b⏎|]{⏎    {⏎        c⏎        d⏎}",
                "copy line-down line-down select-line select-line paste",
                "a⏎    b⏎{⏎    {⏎        a⏎            b⏎|}",
            ),
            (
                "as_it_is_there_too",
                "[a⏎    b⏎|]{⏎    {⏎        c⏎",
                "copy line-down line-down paste-as-is",
                "a⏎    b⏎{⏎    {⏎a⏎    b⏎|        c⏎",
            ),
        ],
    );
    let mut bench = Bench::new("rust", "[    if a {⏎        b⏎    }|]⏎");
    bench.run("copy").run("file-end").run("paste");
    assert_eq!(bench.text(), "    if a {\n        b\n    }\nif a {\n    b\n}");
}

#[test]
fn history() {
    check(
        "text",
        &[
            ("typing_is_one_step", "|", "type-text(a) type-text(b) undo", "|"),
            ("a_move_ends_it", "|", "type-text(a) type-text(b) char-left type-text(c) undo", "a|b"),
            ("a_line_end_closes_it", "|", "type-text(a) line-break type-text(b) undo", "a⏎|"),
            ("line_end_belongs_to_the_step", "|", "type-text(a) line-break undo", "|"),
            ("backspaces_are_their_own", "abc|", "type-text(d) delete-back delete-back undo", "abcd|"),
            ("line_end_after_backspaces", "abc|", "delete-back line-break undo", "ab|"),
            ("undo_gives_back_cursors", "a|⏎b|⏎c", "delete-lines undo", "a|⏎b|⏎c"),
            ("redo_takes_the_newest_branch", "|", "type-text(a) undo type-text(b) undo redo", "b|"),
            ("typing_over_the_same_is_a_step", "[a|]", "type-text(a) undo", "[a|]"),
        ],
    );
    let mut bench = Bench::new("text", "|");
    bench.run("type-text(a)");
    bench.now_ms = 701;
    bench.run("type-text(b)").run("undo");
    assert_eq!(bench.text(), "a", "a pause of more than 700 ms");
    bench.editor.mark_saved();
    assert!(!bench.editor.is_modified());
    bench.run("redo");
    assert!(bench.editor.is_modified());
    bench.run("undo");
    assert!(!bench.editor.is_modified());
    bench.run("delete-back").run("type-text(a)");
    assert!(bench.editor.is_modified(), "the same text typed again is not the saved state");
}

#[test]
fn pairs_close_themselves() {
    check(
        "rust",
        &[
            ("bracket_before_the_end", "f|", "type-text({)", "f{|}"),
            ("bracket_before_a_closer", "f(|)", "type-text({)", "f({|})"),
            ("not_before_a_letter", "|a", "type-text({)", "{|a"),
            ("closer_is_stepped_over", "f|", "type-text({) type-text(})", "f{}|"),
            ("not_once_the_caret_has_left", "f|", "type-text({) char-right char-left type-text(})", "f{}|}"),
            ("a_closer_of_ones_own_is_not", "f{|}", "type-text(})", "f{}|}"),
            ("backspace_takes_an_empty_pair", "f|", "type-text({) delete-back", "f|"),
            ("quotes", "|", "type-text(\") type-text(a) type-text(\")", "\"a\"|"),
            ("no_lifetime_quote", "&|", "type-text(')", "&'|"),
            ("not_in_a_string", "\"a| \"", "type-text({)", "\"a{| \""),
            ("not_in_a_comment", "// a|", "type-text({)", "// a{|"),
            ("surrounds_a_selection", "x [ab|] y", "type-text({)", "x {[ab|]} y"),
            ("surrounds_backward", "[|ab]", "type-text({)", "{[|ab]}"),
            ("at_every_cursor", "a|⏎b|", "type-text({) type-text(x) type-text(})", "a{x}|⏎b{x}|"),
            ("one_step", "f|", "type-text({) type-text(a) type-text(}) type-text(;) undo", "f|"),
        ],
    );
    check("text", &[("none_in_plain_text", "a|", "type-text({)", "a{|")]);
    check("python", &[("both_quotes", "|", "type-text(')", "'|'")]);
}

#[test]
fn line_ends_in_comments_and_strings() {
    check(
        "rust",
        &[
            ("comment_goes_on", "  // a|", "line-break", "  // a⏎  // |"),
            ("with_its_spacing", "///   a|b", "line-break", "///   a⏎///   |b"),
            ("empty_mark_goes", "  // a⏎  // |", "line-break", "  // a⏎|"),
            ("behind_code_at_the_end", "a; // b|", "line-break", "a; // b⏎|"),
            ("behind_code_in_the_middle", "a; // b| c", "line-break", "a; // b⏎// |c"),
            ("before_the_mark", "|// a", "line-break", "⏎|// a"),
            ("star", "/**⏎ * a|⏎ */", "line-break", "/**⏎ * a⏎ * |⏎ */"),
            ("star_behind_the_first_line", "/** a|⏎ */", "line-break", "/** a⏎ * |⏎ */"),
            ("no_star_where_none_are_used", "/* a|⏎b */", "line-break", "/* a⏎|⏎b */"),
            ("string_that_may_span_lines", "\"ab|c\"", "line-break", "\"ab\\⏎    |c\""),
            ("split_keeps_the_caret", "// a|b", "split-line", "// a|⏎// b"),
        ],
    );
    check("java", &[("operator_at_the_end", "x = \"ab| cd\";", "line-break", "x = \"ab \" +⏎    \"|cd\";")]);
    check(
        "python",
        &[
            ("side_by_side_with_prefix", "x = f\"a|b\"", "line-break", "x = (f\"a\"⏎    f\"|b\")"),
            ("triple_quotes_span_lines", "x = '''a|b'''", "line-break", "x = '''a⏎|b'''"),
        ],
    );
    check("c", &[("c_strings", "s(\"a|b\")", "split-line", "s(\"a|\"⏎    \"b\")")]);
}
