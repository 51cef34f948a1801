//! Recipes: what is wrong in them, and what each form does to a text.

use snarvel_core::languages;
use snarvel_core::text::Text;
use snarvel_files::layout::FileLayout;
use snarvel_files::load::{Encoding, Loaded};
use snarvel_files::loading::Opened;
use snarvel_workspace::recipes::applying::{Applied, apply};
use snarvel_workspace::recipes::unified::{replaced, unified};
use snarvel_workspace::recipes::{Ended, read};
use std::path::Path;

fn applied(recipe: &str, name: &str, text: &str) -> Result<Applied, Ended> {
    let program = read(recipe).unwrap_or_else(|mistakes| panic!("{recipe}: {mistakes:?}"));
    let loaded = Loaded { text: Text::from(text), encoding: Encoding::default(), read_only: false };
    let opened = Opened { loaded: Some(loaded), stamp: None, layout: (FileLayout::default(), None) };
    apply(&program, Path::new(name), opened, None)
}

fn text_after(recipe: &str, name: &str, text: &str) -> String {
    match applied(recipe, name, text) {
        Ok(applied) => applied.now().text().to_string(),
        Err(ended) => format!("ended: {ended}"),
    }
}

/// Checks rows of a case's name, a recipe, a text and what the text is then.
fn each_gives(rows: &[(&str, &str, &str, &str)]) {
    for (case, recipe, text, expected) in rows {
        assert_eq!(text_after(recipe, "tide.txt", text), *expected, "{case}");
    }
}

#[test]
fn places_and_filters_are_what_they_say() {
    const MATCHES: &str = "each match /(\\w+)=(\\d+)/\n    type \"$2:$1\"\n";
    each_gives(&[
        ("nothing", "", "tide\n", "tide\n"),
        ("only_notes", "\u{FEFF}// a note\r\n\r\n", "tide\n", "tide\n"),
        ("a_step", "carry-down", "a\nb\n", "b\na\n"),
        ("a_count", "2 carry-down", "a\nb\nc\n", "b\nc\na\n"),
        ("each_line_that_is_not_blank", "each line\n  type \"> \"", "a\n\n  b\n", "> a\n\n  > b\n"),
        ("each_line_of_a_text_without_a_final_end", "each line\n  type \"> \"", "a\nb", "> a\n> b"),
        ("a_blank_line_that_is_found_at_its_end", "each line /^\\s*$/\n  type \"x\"", "a\n  \n\nb\n", "a\n  x\nx\nb\n"),
        ("never_the_empty_last_line", "each line /^/\n  type \"x\"", "a\n", "xa\n"),
        ("nothing_in_an_empty_text", "each line /^/\n  type \"x\"", "", ""),
        ("lines_over_a_line_end", "each line /a\\nb/\n  type \"x\"", "a\nb\na\n", "xa\nb\na\n"),
        ("white_space_belongs_to_its_own_line", "each line /\\s*b/\n  type \"x\"", "a\n\nb\n", "a\n\nxb\n"),
        ("lines_in_crlf", "each line /a$/\n  line-end\n  type \";\\n\"", "a\r\nb\r\n", "a;\r\n\r\nb\r\n"),
        ("groups_of_matches", MATCHES, "a=1 b=22\n", "1:a 22:b\n"),
        ("case_counts", "each match /tide/\n  type \"x\"", "tide Tide\n", "x Tide\n"),
        ("an_empty_match_is_a_caret", "each match /$/\n  type \";\"", "a\nb", "a;\nb;"),
        ("a_slash", "each match /a\\/b/\n  type \"$0$$\"", "a/b\n", "a/b$\n"),
        ("case_turns", "each match /(\\w+)_(\\w+)/\n  type \"\\\\u$1\\\\U$2\\\\E!\"", "low_tide\n", "LowTIDE!\n"),
        ("a_dollar_elsewhere", "each line\n  type \"$1\"", "a\n", "$1a\n"),
        ("groups_after_moves", "each match /(\\w)=(\\d)/\n  line-end\n  type \" $2\"", "a=1\nb=2\n", "a=1 1\nb=2 2\n"),
        (
            "groups_for_one",
            "each match /(\\w)=(\\d)/\n  each cursor\n    line-start\n    type \"$2 \"",
            "a=1\nb=2\n",
            "1 a=1\n2 b=2\n",
        ),
        (
            "groups_through_a_filter",
            "each match /(\\w)=(\\d)/\n  if /b/\n    type \"$2\"",
            "a=1 b=2 c=3\n",
            "a=1 2 c=3\n",
        ),
        ("the_nearest_match", "each match /(a)(b)/\n  each match /b/\n    type \"$0$0\"", "ab\n", "abb\n"),
        (
            "matches_in_selections",
            "each line /x/\n  extend-line-end\n  each match /a/\n    type \"A\"",
            "a\nxa a\na\n",
            "a\nxA A\na\n",
        ),
        ("lines_in_selections", "each match /b\\nc/\n  each line\n    type \"> \"", "a\nb\nc\nd\n", "a\n> b\n> c\nd\n"),
        ("if", "each line\n  if /a/\n    type \"x\"", "a\nb\n", "xa\nb\n"),
        ("unless", "each line\n  unless /a/\n    type \"x\"", "a\nb\n", "a\nxb\n"),
        ("nothing_left", "each line\n  if /z/\n    type \"x\"", "a\n", "a\n"),
        ("cursors_are_back", "each line /b/\n  type \"x\"\ntype \"y\"", "a\nb\n", "ya\nxb\n"),
    ]);
}

#[test]
fn repetitions_clips_and_ends_are_what_they_say() {
    each_gives(&[
        ("repeat", "repeat 3\n  type \"a\"", "", "aaa"),
        ("repeat_leaves_the_cursors", "repeat 2\n  line-down\ntype \"x\"", "a\nb\nc\n", "a\nb\nxc\n"),
        (
            "while_it_changes",
            "repeat while it changes\n  each match /aa/\n    type \"a\"",
            "aaaaaaa b aaa\n",
            "a b a\n",
        ),
        ("while_only_cursors_change", "repeat while it changes\n  line-down\ntype \"x\"", "a\nb\nc", "a\nb\nxc"),
        ("each_cursor", "each line\n  each cursor\n    duplicate-down\n    type \"x\"", "a\nb\n", "a\nxa\nb\nxb\n"),
        (
            "keep_and_use",
            "take-matches /a/\ncopy\nkeep one\nselect-all\ntake-matches /b/\ncopy\nuse one\npaste",
            "a b\n",
            "a a\n",
        ),
        ("an_empty_clip_at_first", "paste", "a\n", "a\n"),
        ("type_is_literal", "type \"({\\n\\t\"", "", "({\n\t"),
        ("take_matches_stay", "take-matches /a/\ntype \"x\"\ntype \"y\"", "a b a\n", "xy b xy\n"),
        ("a_step_that_cannot_be_done", "carry-up\ntype \"x\"", "a\nb\n", "xa\nb\n"),
        ("strict", "strict\ntype \"x\"\ncarry-up", "a\nb\n", "ended: line 3: already at the top of the file"),
        ("strict_after_notes", "\n// a note\nstrict\ntype \"x\"", "a\n", "xa\n"),
        ("as_asked_for_already", "strict\nselect-all\nsort-lines\ntrim-trailing", "a\nb\n", "a\nb\n"),
        (
            "never_ending",
            "repeat while it changes\n  type \"a\"",
            "",
            "ended: line 1: still changing after 10000 passes",
        ),
        (
            "too_large",
            "repeat 60\n  select-all\n  duplicate-text-after",
            "0123456789",
            "ended: line 3: the text would become too large",
        ),
        ("tabs", "each line\n\teach cursor\n\t\ttype \"x\"", "a\n", "xa\n"),
    ]);
}

#[test]
fn filters_go_by_what_the_text_is() {
    let rust = "let a = \"tide\"; // tide\nlet tide = 1;\n";
    let typed = |header: &str, text: &str, name: &str| {
        text_after(&format!("each match /tide/\n  {header}\n    type \"x\""), name, text)
    };
    assert_eq!(typed("in code", rust, "a.rs"), "let a = \"tide\"; // tide\nlet x = 1;\n");
    assert_eq!(typed("in strings", rust, "a.rs"), "let a = \"x\"; // tide\nlet tide = 1;\n");
    assert_eq!(typed("in comments", rust, "a.rs"), "let a = \"tide\"; // x\nlet tide = 1;\n");
    assert_eq!(typed("in language python, rust", "tide", "a.rs"), "x");
    assert_eq!(typed("in language python", "tide", "a.rs"), "tide");
    let page = "<p>tide</p>\n<script>\nlet tide = 1;\n</script>\n";
    assert_eq!(typed("in language javascript", page, "a.html"), "<p>tide</p>\n<script>\nlet x = 1;\n</script>\n");
    // Documentation is a string; a caret asks for the character after it, at the end of a line for the one before it.
    let python = "def a():\n    \"\"\"The tide.\"\"\"\n    tide()  # tide\n";
    assert_eq!(typed("in strings", python, "a.py"), python.replace("The tide", "The x"));
    let at_edges = |pattern: &str, header: &str| {
        text_after(&format!("each match /{pattern}/\n  {header}\n    type \"|\""), "a.rs", "a(\"b\") // c\n")
    };
    assert_eq!(at_edges("(?:)", "in strings"), "a(|\"|b|\") // c\n");
    assert_eq!(at_edges("(?:)", "in comments"), "a(\"b\") |/|/| |c|\n");
}

#[test]
fn blocks_are_the_outermost_functions_types_and_paragraphs() {
    let rust = "use a;\n\n/// One.\nfn one() {\n    x();\n}\n\nimpl Two {\n    fn a() {}\n\n    fn b() {}\n}\n";
    let marked = |recipe: &str, name: &str, text: &str| text_after(recipe, name, text);
    let one = "each block\n  each cursor\n    line-start\n    type \"# \"";
    // A selection's head is at its end: the start of the line below.
    assert_eq!(
        marked(one, "a.rs", rust),
        "use a;\n\n/// One.\nfn one() {\n    x();\n}\n# \nimpl Two {\n    fn a() {}\n\n    fn b() {}\n}\n# "
    );
    let inner = "each block\n  each block\n    comment-toggle";
    assert_eq!(
        marked(inner, "a.rs", rust),
        "use a;\n\n/// One.\nfn one() {\n    x();\n}\n\nimpl Two {\n    // fn a() {}\n\n    // fn b() {}\n}\n"
    );
    let paragraphs = "a\nb\n\nc\n";
    assert_eq!(marked("each block\n  sort-lines desc", "a.txt", paragraphs), "b\na\n\nc\n");
}

#[test]
fn a_diff_is_of_the_lines_that_differ() {
    let diff = |recipe: &str, text: &str| {
        let applied = applied(recipe, "tide.txt", text).unwrap();
        let runs = replaced(&applied);
        (runs.len(), String::from_utf8(unified(&applied, "tide.txt", &runs)).unwrap())
    };
    let ten = "1\n2\n3\n4\n5\n6\n7\n8\n9\n10\n";
    assert_eq!(
        diff("each line /^(1|10)$/\n  type \"x\"", ten),
        (2, "--- a/tide.txt\n+++ b/tide.txt\n@@ -1,4 +1,4 @@\n-1\n+x1\n 2\n 3\n 4\n@@ -7,4 +7,4 @@\n 7\n 8\n 9\n-10\n+x10\n".to_owned())
    );
    assert_eq!(
        diff("select-line\ncopy\ndelete-lines", "a"),
        (1, "--- a/tide.txt\n+++ b/tide.txt\n@@ -1 +0,0 @@\n-a\n\\ No newline at end of file\n".to_owned())
    );
    assert_eq!(diff("type \"a\\n\"", ""), (1, "--- a/tide.txt\n+++ b/tide.txt\n@@ -0,0 +1 @@\n+a\n".to_owned()));
    assert_eq!(
        diff("file-end\ntype \"\\n\"", "a"),
        (1, "--- a/tide.txt\n+++ b/tide.txt\n@@ -1 +1 @@\n-a\n\\ No newline at end of file\n+a\n".to_owned())
    );
}

#[test]
fn every_kind_of_mistake_is_told_with_its_place() {
    let deep = (0..80).fold(String::new(), |out, depth| out + &" ".repeat(depth) + "repeat 1\n");
    let told = |recipe: &str| {
        let mistakes = read(recipe).err().unwrap_or_default();
        mistakes.iter().map(ToString::to_string).collect::<Vec<_>>()
    };
    for (recipe, expected) in [
        ("cary-up", "1:1: no verb \"cary-up\"; is it carry-up?"),
        ("// a note\n\n2 cary-up", "3:3: no verb \"cary-up\"; is it carry-up?"),
        ("zzzzzz", "1:1: no verb \"zzzzzz\": snarvel verbs lists them"),
        ("undo", "1:1: undo is no step of a recipe: what it does depends on more than the text and the cursors"),
        (
            "page-down",
            "1:1: page-down is no step of a recipe: what it does depends on more than the text and the cursors",
        ),
        ("0 carry-up", "1:1: a count is a number from 1 to 1000000"),
        ("3", "1:2: a verb follows a count: 3 carry-up"),
        ("2 type \"a\"", "1:1: type takes no count: repeat 2 does it again"),
        ("carry-up x", "1:10: carry-up takes no argument"),
        ("every-nth 0", "1:11: every-nth: N is a number from 1 to 4294967295, not \"0\""),
        ("every-nth", "1:10: every-nth takes N or N,K"),
        ("repeat 0\n  indent", "1:8: repeat takes a number from 1 to 10000, or while it changes"),
        ("repeat\n  indent", "1:7: repeat takes a number from 1 to 10000, or while it changes"),
        ("each line", "1:1: each line needs a block: lines below it that are further in"),
        ("each line\nindent", "1:1: each line needs a block: lines below it that are further in"),
        ("indent\n  indent", "2:3: this line is further in, and no header is above it"),
        ("each line\n    indent\n  indent", "3:3: this line is further in, and no header is above it"),
        (
            "each line\n  indent\n\tindent",
            "3:1: this recipe is indented with spaces, and here is a tab: one kind a file",
        ),
        ("each line\n\t indent", "2:2: this recipe is indented with tabs, and here is a space: one kind a file"),
        ("each word\n  indent", "1:6: each takes line, line /re/, match /re/, block or cursor"),
        ("each match\n  indent", "1:11: a pattern stands here, between slashes: /re/"),
        ("each match /é(/\n  indent", "1:14: the pattern is wrong here: unclosed group"),
        ("each match /\\/(/\n  indent", "1:15: the pattern is wrong here: unclosed group"),
        ("each match /a\n  indent", "1:12: the slash at the end of the pattern is missing"),
        ("each match //\n  indent", "1:13: the pattern is empty"),
        ("if /a/ b\n  indent", "1:7: nothing follows the pattern: a slash in it is written \\/"),
        ("in prose\n  indent", "1:4: in takes code, strings, comments or language NAME"),
        ("in language rust, tidal\n  indent", "1:19: no language is called \"tidal\": see snarvel languages"),
        ("use a", "1:5: nothing is kept as a before this line: keep a does that"),
        ("keep", "1:5: a name stands here: letters, digits, _ and -"),
        ("type a", "1:6: type takes a text between double quotes, as JSON writes it: type \"tide\\n\""),
        ("each match /(a)/\n  type \"$2\"", "2:8: the pattern has no group 2"),
        ("each match /(a)/\n  type \"${b}\"", "2:8: the pattern has no group \"b\""),
        ("indent\nstrict", "2:1: strict stands before the first step, alone in its line"),
    ] {
        assert_eq!(told(recipe).first().map_or("none", String::as_str), expected, "{recipe}");
    }
    assert!(
        told(&deep).iter().any(|mistake| mistake == "65:65: blocks are nested more than 64 deep"),
        "{:?}",
        told(&deep)
    );
    // All of them, in order.
    assert_eq!(told("cary-up\nrepeat 0\n  undoo").len(), 3);
}

#[test]
fn a_recipe_of_ten_thousand_steps_runs() {
    let recipe = "type \"a\"\n".repeat(10_000);
    assert_eq!(text_after(&recipe, "a.txt", "").len(), 10_000);
}

#[test]
fn many_cursors_one_after_the_other_cost_their_own_edits() {
    let text = "tide = 1\n".repeat(5_000);
    let recipe = "each line\n  each cursor\n    line-end\n    type \";\"\n    duplicate-down";
    let expected = "tide = 1;\ntide = 1;\n".repeat(5_000);
    assert!(
        text_after(recipe, "a.txt", &text) == expected,
        "the first lines: {}",
        &text_after(recipe, "a.txt", &text)[..80]
    );
}

#[test]
fn formatting_is_one_way_and_changes_nothing_of_what_it_means() {
    let source = "\u{FEFF}\r\n\r\n//  a note  \r\neach   match  /a  b/  \r\n\r\n\r\n   // inner\r\n   2   carry-up\r\n   type   \"a  b\"\r\nin language   rust,python\r\n  split-at , \r\n\r\n";
    let once = snarvel_core::recipes::format(source);
    assert_eq!(
        once,
        "//  a note\r\neach match /a  b/\r\n\r\n    // inner\r\n    2 carry-up\r\n    type \"a  b\"\r\nin language rust, python\r\n    split-at , \r\n"
    );
    assert_eq!(snarvel_core::recipes::format(&once), once);
    assert!(read(source).is_ok() && read(&once).is_ok());
}

#[test]
fn languages_are_known_by_the_names_that_are_listed() {
    for language in languages::all() {
        assert!(read(&format!("in language {}\n  indent", language.name)).is_ok(), "{}", language.name);
    }
}
